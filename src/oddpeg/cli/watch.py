"""`oddpeg watch`: build again whenever something changes. Knows: the loop and its one line. Does not know: how to
build or serve."""

from __future__ import annotations

import contextlib
import gc
import time
from pathlib import Path
from threading import Event
from typing import TYPE_CHECKING, Annotated

import typer

from oddpeg.cli.options import ConfigAt, Force, Quiet, find_config
from oddpeg.diagnostics import Diagnostic, OddPegError, UsageError

if TYPE_CHECKING:
    from oddpeg.cli.serve import Stand
    from oddpeg.tasks.build import Report, Wishes
    from oddpeg.workspace.settings import Config


def watch(
    bundles: Annotated[
        list[str] | None, typer.Argument(metavar="BUNDLE", help="Bundles to build; all where none is named.")
    ] = None,
    config: ConfigAt = None,
    force: Force = False,
    quiet: Quiet = False,
    serve: Annotated[
        bool,
        typer.Option(
            "--serve", help="Show the specimen in a browser on this machine; it loads again after each build."
        ),
    ] = False,
    port: Annotated[
        int | None, typer.Option("--port", min=0, max=65535, help="Where to serve it; else 5327, or any that is free.")
    ] = None,
) -> None:
    """Build, then build again whenever a drawing, its table, the config or the pegboard changes; ends with Ctrl+C."""
    from oddpeg.cli import printing as show
    from oddpeg.pegboard.board import FILE as PEGBOARD
    from oddpeg.tasks.build import Wishes
    from oddpeg.workspace.config import load_config
    from oddpeg.workspace.watching import changes, places

    gc.enable()  # unlike other commands this one lives on
    path = find_config(config).resolve()
    root = path.parent
    wishes = Wishes(bundles or None, force, as_new=False)
    settings = load_config(path)  # a config that is wrong at the start is the user's to mend first
    folders = places(root, settings.icons.from_)
    stand = _stand(root, settings, bundles, port) if serve or port is not None else None
    with contextlib.suppress(KeyboardInterrupt):
        batches = changes(folders, root, path, Event())
        next(batches)  # from here on nothing is missed: only now the first build
        _rebuild(path, wishes, quiet, [])
        written = _text(root / PEGBOARD)
        show.say(f"watching {', '.join(str(f) for f in folders)}; Ctrl+C ends")
        if stand:
            show.say(f"the specimen is at {stand.address}")
        for files in batches:
            if not files or (all(f.name == PEGBOARD for f in files) and _text(root / PEGBOARD) == written):
                continue  # our own writing
            if (
                _rebuild(path, wishes, quiet, sorted(f.stem for f in files if f.suffix.lower() in (".svg", ".svgz")))
                and stand
            ):
                stand.tell()
            written = _text(root / PEGBOARD)
    if stand:
        stand.close()
    show.say("")


def _stand(root: Path, config: Config, bundles: list[str] | None, port: int | None) -> Stand:
    """Return what serves the specimens of the bundles being built."""
    from oddpeg.cli.serve import open_stand
    from oddpeg.font.info import file_stem
    from oddpeg.outputs.registry import KINDS

    usual = KINDS["specimen"].file.format(stem=file_stem(config.font.family))
    found = {
        name: root / bundle.into / (output.to or usual)
        for name, bundle in config.bundle.items()
        if not bundles or name in bundles
        for output in bundle.outputs
        if output.kind == "specimen"
    }
    if not found:
        raise UsageError(
            Diagnostic(
                "no-specimen", "there is no specimen to serve", 'add "specimen" to the outputs of a bundle', "--serve"
            )
        )
    return open_stand({"/": next(iter(found.values())), **{f"/{name}": file for name, file in found.items()}}, port)


def _text(path: Path) -> bytes:
    try:
        return path.read_bytes()
    except OSError:
        return b""


def _rebuild(config: Path, wishes: Wishes, quiet: bool, touched: list[str]) -> bool:
    """Build once; print one line, and faults where there are any. Return whether files changed. Nothing that is wrong
    ends the watch."""
    from oddpeg.cli import printing as show
    from oddpeg.tasks.build import Listener, build
    from oddpeg.workspace.config import load_config

    start = time.perf_counter()
    try:
        report = build(
            config.parent, load_config(config, remember=True), wishes, Listener(waiting=show.another_is_at_work)
        )
    except OddPegError as found:
        show.warn(
            f"{time.strftime('%H:%M:%S')}  not built: {len(found.diagnostics)}"
            f" {'fault' if len(found.diagnostics) == 1 else 'faults'}",
            "bright_red",
        )
        show.show_faults(found.diagnostics)
        return False
    if not quiet:
        show.say(_line(report, time.perf_counter() - start, touched))
    show.show_faults(report.faults)
    return bool(report.delivered.changes())


def _line(report: Report, seconds: float, touched: list[str]) -> str:
    changes = report.changes
    news = [
        f"{word} {', '.join(names[:4])}{' …' if len(names) > 4 else ''}"
        for word, names in (("new", changes.added), ("RETIRED", changes.retired), ("back", changes.restored))
        if names
    ]
    if touched and not news:
        news = [f"changed {', '.join(touched[:4])}{' …' if len(touched) > 4 else ''}"]
    count = len(report.delivered.written)
    wrote = f"{count} file{'s' if count > 1 else ''}" if count else "nothing to write"
    told = f"; {'; '.join(news)}" if news else ""
    faults = f"; {len(report.faults)} left out or in the way" if report.faults else ""
    return f"{time.strftime('%H:%M:%S')}  {report.icons} icons, {wrote}, {seconds:.2f} s{told}{faults}"
