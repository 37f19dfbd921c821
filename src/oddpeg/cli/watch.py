"""`oddpeg watch`: build again whenever something changes, with one line for each build."""

from __future__ import annotations

import contextlib
import gc
import signal
import time
from dataclasses import replace
from functools import partial
from pathlib import Path
from threading import Event
from typing import Annotated, NoReturn

import typer

from oddpeg.building.report import BuildOptions, BuildReport
from oddpeg.building.run import build
from oddpeg.building.watching import file_changes, watched_folders
from oddpeg.cli.options import Bundles, ConfigAt, Force, Quiet
from oddpeg.cli.printing import WAITING, say, show_diagnostics, warn
from oddpeg.cli.projects import opened
from oddpeg.cli.serve import SpecimenServer
from oddpeg.diagnostics import Diagnostic, OddPegError, UsageError, counted
from oddpeg.project.project import Project
from oddpeg.store.delivery import delivered_text

_CALM = 1.0  # seconds without a change, after which drafts are replaced


def watch(
    bundles: Bundles = None,
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
    """Build, then build again whenever a drawing, its table, the config or the pegboard changes; Ctrl+C or SIGTERM ends
    it."""
    gc.enable()  # unlike other commands this one lives on
    project = opened(config)  # a config that is wrong at the start is the user's to correct first
    options = BuildOptions(bundles or None, force)
    server = _server(project, bundles, port) if serve or port is not None else None
    signal.signal(signal.SIGTERM, _interrupt)  # a service manager ends it like this, a shell's background job too
    with contextlib.suppress(KeyboardInterrupt):
        _keep_building(project, options, quiet, server)
    if server:
        server.close()
    say()
    _finish(project.config_path, options)


def _interrupt(number: int, frame: object) -> NoReturn:
    raise KeyboardInterrupt


def _keep_building(project: Project, options: BuildOptions, quiet: bool, server: SpecimenServer | None) -> None:
    """Build, and again for every change, until interrupted."""
    folders = watched_folders(project)
    batches = file_changes(folders, project, Event())
    next(batches)  # from here on nothing is missed: only now the first build
    _rebuild(project.config_path, options, quiet, [])
    say(f"watching {', '.join(str(f) for f in folders)}; Ctrl+C ends")
    if server:
        say(f"the specimen is at {server.address}")
    written = _content(project.board_path)
    seen: dict[Path, tuple[int, ...]] = {}
    drafted = 0.0  # when a draft was written that no finished build followed
    for files in batches:
        if not files and drafted and time.monotonic() - drafted > _CALM:
            drafted = 0.0
            _finish(project.config_path, options)
            written = _content(project.board_path)
        if not files or (files == {project.board_path} and _content(project.board_path) == written):
            continue  # our own writing
        now = {file: _stamp(file) for file in files}
        if now.items() <= seen.items():
            continue  # a second report of a change that was built already
        seen |= now
        touched = sorted(f.stem for f in files if f.suffix.lower() in (".svg", ".svgz"))
        if _rebuild(project.config_path, replace(options, draft=True), quiet, touched):
            drafted = time.monotonic()
            if server:
                server.tell()
        written = _content(project.board_path)


def _server(project: Project, bundles: list[str] | None, port: int | None) -> SpecimenServer:
    """Return the server of the specimens of the bundles being built."""
    from oddpeg.cli.serve import open_server

    specimens = {
        name: partial(delivered_text, project.root, project.relative(project.output_path(bundle, output)))
        for name, bundle in project.config.bundle.items()
        if not bundles or name in bundles
        for output in bundle.outputs
        if output.kind == "specimen"
    }
    if not specimens:
        message, cure = "there is no specimen to serve", 'add "specimen" to the outputs of a bundle'
        raise UsageError(Diagnostic("no-specimen", message, cure, "--serve"))
    return open_server(
        {"/": next(iter(specimens.values())), **{f"/{name}": page for name, page in specimens.items()}}, port
    )


def _stamp(path: Path) -> tuple[int, ...]:
    """Return a value that changes whenever a file does; an empty one for a folder."""
    try:
        status = path.stat()
    except OSError:
        return ()
    return (status.st_ino, status.st_size, status.st_mtime_ns) if path.is_file() else (time.time_ns(),)


def _content(path: Path) -> bytes:
    try:
        return path.read_bytes()
    except OSError:
        return b""


def _rebuild(config: Path, options: BuildOptions, quiet: bool, touched: list[str]) -> bool:
    """Build once; print one line, and faults where there are any. Return whether files changed. Nothing that is wrong
    ends the watch."""
    start = time.perf_counter()
    try:
        report = build(opened(config, remember=True), options, WAITING)
    except OddPegError as found:
        count = len(found.diagnostics)
        warn(f"{time.strftime('%H:%M:%S')}  not built: {counted(count, 'fault')}", "bright_red")
        show_diagnostics(found.diagnostics)
        return False
    if not quiet:
        say(_line(report, time.perf_counter() - start, touched, options.draft))
    show_diagnostics(report.faults)
    return bool(report.delivered.changes())


def _finish(config: Path, options: BuildOptions) -> None:
    """Replace a draft by finished files. Errors were reported with the draft."""
    with contextlib.suppress(OddPegError):
        build(opened(config, remember=True), options, WAITING)


def _line(report: BuildReport, seconds: float, touched: list[str], draft: bool) -> str:
    changes = report.changes
    groups = (("new", changes.added), ("RETIRED", changes.retired), ("back", changes.restored))
    news = [f"{word} {_first(names)}" for word, names in groups if names]
    if touched and not news:
        news = [f"changed {_first(touched)}"]
    count = len(report.delivered.written)
    wrote = counted(count, "file") if count else "nothing to write"
    summary = f"; {'; '.join(news)}" if news else ""
    faults = f"; {len(report.faults)} skipped or conflicting" if report.faults else ""
    form = "draft, " if draft else ""
    told = f"{counted(report.icons, 'icon')}, {form}{wrote}, {seconds:.2f} s{summary}{faults}"
    return f"{time.strftime('%H:%M:%S')}  {told}"


def _first(names: list[str]) -> str:
    return ", ".join(names[:4]) + (" …" if len(names) > 4 else "")
