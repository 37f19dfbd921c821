"""`oddpeg watch`: build again whenever something changes. Knows: the loop and its one line. Does not know: how to build."""

from __future__ import annotations

import contextlib
import gc
import time
from pathlib import Path
from threading import Event
from typing import TYPE_CHECKING, Annotated

import typer

from oddpeg.cli.shared import ConfigAt, Force, Quiet, find_config
from oddpeg.faults import FaultsFound

if TYPE_CHECKING:
    from oddpeg.build import Report, Wishes


def watch(
    bundles: Annotated[list[str] | None, typer.Argument(metavar="BUNDLE", help="Bundles to build; all where none is named.")] = None,
    config: ConfigAt = None,
    force: Force = False,
    quiet: Quiet = False,
) -> None:
    """Build, then build again whenever a drawing, the config or the pegboard changes; ends with Ctrl+C."""
    from oddpeg.build import Wishes
    from oddpeg.cli import show
    from oddpeg.project.config import load_config
    from oddpeg.project.pegboard import FILE as PEGBOARD
    from oddpeg.project.watching import changes, places

    gc.enable()  # unlike other commands this one lives on
    path = find_config(config).resolve()
    root = path.parent
    wishes = Wishes(bundles or None, force, as_new=False)
    folders = places(root, load_config(path).icons.from_)  # a config that is wrong at the start is the user's to mend first
    with contextlib.suppress(KeyboardInterrupt):
        batches = changes(folders, root, path, Event())
        next(batches)  # from here on nothing is missed: only now the first build
        _rebuild(path, wishes, quiet, [])
        written = _text(root / PEGBOARD)
        show.say(f"watching {', '.join(str(f) for f in folders)}; Ctrl+C ends")
        for files in batches:
            if not files or (all(f.name == PEGBOARD for f in files) and _text(root / PEGBOARD) == written):
                continue  # our own writing
            _rebuild(path, wishes, quiet, sorted(f.stem for f in files if f.suffix.lower() in (".svg", ".svgz")))
            written = _text(root / PEGBOARD)
    show.say("")


def _text(path: Path) -> bytes:
    try:
        return path.read_bytes()
    except OSError:
        return b""


def _rebuild(config: Path, wishes: Wishes, quiet: bool, touched: list[str]) -> None:
    """Build once; print one line, and faults where there are any. Nothing that is wrong ends the watch."""
    from oddpeg.build import Listener, build
    from oddpeg.cli import show
    from oddpeg.project.config import load_config

    start = time.perf_counter()
    try:
        report = build(config.parent, load_config(config, remember=True), wishes, Listener(waiting=show.another_is_at_work))
    except FaultsFound as found:
        show.warn(f"{time.strftime('%H:%M:%S')}  not built: {len(found.faults)} {'fault' if len(found.faults) == 1 else 'faults'}", "bright_red")
        show.show_faults(found.faults)
        return
    if not quiet:
        show.say(_line(report, time.perf_counter() - start, touched))
    show.show_faults(report.faults)


def _line(report: Report, seconds: float, touched: list[str]) -> str:
    changes = report.changes
    news = [f"{word} {', '.join(names[:4])}{' …' if len(names) > 4 else ''}"
            for word, names in (("new", changes.added), ("RETIRED", changes.retired), ("back", changes.restored)) if names]  # fmt: skip
    if touched and not news:
        news = [f"changed {', '.join(touched[:4])}{' …' if len(touched) > 4 else ''}"]
    wrote = f"{len(report.delivered.written)} files" if report.delivered.written else "nothing to write"
    told = f"; {'; '.join(news)}" if news else ""
    faults = f"; {len(report.faults)} left out or in the way" if report.faults else ""
    return f"{time.strftime('%H:%M:%S')}  {report.icons} icons, {wrote}, {seconds:.2f} s{told}{faults}"
