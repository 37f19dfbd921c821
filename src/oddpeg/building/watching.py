"""Which changes on disk call for a new build."""

from __future__ import annotations

import os
import time
from collections.abc import Iterable, Iterator, Sequence
from pathlib import Path
from threading import Event

from oddpeg.pegboard.board import FILE as PEGBOARD
from oddpeg.project.project import Project
from oddpeg.sources.code import may_be_code
from oddpeg.sources.fonts import ENDINGS
from oddpeg.sources.globs import clean_pattern, fixed_part
from oddpeg.sources.tables import FILE as ICON_TABLE
from oddpeg.store.ledger import read_ledger
from oddpeg.store.state import STATE
from oddpeg.store.tree import belongs_to_version_control

_PULSE = 200  # milliseconds between empty batches
_TAIL = 2000  # bytes of a drawing's end, in which the last tag is closed
_PATIENCE = 2.0  # seconds to wait for that
_SETTLE = 60  # milliseconds without a further change before a batch of changes is reported


def watched_folders(project: Project) -> list[Path]:
    """Return the folders to watch: the project, and where globs reach outside of it."""
    root = project.root.resolve()
    folders = {root}
    for pattern in project.config.patterns:
        base = (root / fixed_part(clean_pattern(pattern))).resolve()
        if not base.is_relative_to(root) and base.is_dir():
            folders.add(base)
    return sorted(folders)


def matters(path: Path, project: Project) -> bool:
    """Return whether a change of a file can change the build: drawings, their tables, files that the config names, the
    config, the pegboard, and code where a bundle holds used icons only."""
    if path.name == ICON_TABLE or any(path == (project.root / name).resolve() for name in project.named_inputs):
        return True
    if path.name in (project.config_path.name, PEGBOARD):
        return path.parent == project.root
    where = project.relative(path)
    if where.split("/")[0] == STATE or belongs_to_version_control(where):
        return False
    if _is_code(path, where, project):
        return True
    if path.suffix.lower() in (".svg", ".svgz", *ENDINGS):
        return not path.name.startswith(".") and where not in read_ledger(project.root).paths()
    # a folder that came, went or was renamed says nothing of what is in it; what is gone may have been one
    return not path.suffix and not path.is_file() and _may_hold_drawings(where, project)


def _is_code(path: Path, where: str, project: Project) -> bool:
    """Return whether a file is code that decides which icons a bundle holds."""
    if not project.config.needs_usage:
        return False
    return (
        may_be_code(where, project.config.usage.in_)
        and path.is_file()
        and where not in read_ledger(project.root).paths()
    )


def _may_hold_drawings(where: str, project: Project) -> bool:
    bases = (fixed_part(clean_pattern(pattern)) for pattern in project.config.patterns)
    return any(not base or f"{where}/".startswith(f"{base}/") or base.startswith(f"{where}/") for base in bases)


def file_changes(folders: Sequence[Path], project: Project, stop: Event) -> Iterator[set[Path]]:
    """Yield the files of each batch of changes that matter, until `stop` is set; at first, and whenever nothing
    happens for a while, an empty one. Once the first has come, no change is missed any more, however long one takes
    for a batch."""
    from watchfiles import watch

    def wanted(_: object, path: str) -> bool:
        return matters(Path(path), project)

    for batch in watch(
        *folders,
        watch_filter=wanted,
        debounce=1600,
        step=_SETTLE,
        stop_event=stop,
        raise_interrupt=False,
        rust_timeout=_PULSE,
        yield_on_timeout=True,
    ):
        paths = {Path(path) for _, path in batch}
        _wait_until_whole(paths, stop)
        yield paths


def _wait_until_whole(paths: Iterable[Path], stop: Event) -> None:
    """Wait, for a while, until drawings have their end: programs write large files bit by bit."""
    until = time.monotonic() + _PATIENCE
    while any(_is_half_written(path) for path in paths) and time.monotonic() < until:
        if stop.wait(_SETTLE / 1000):
            return


def _is_half_written(path: Path) -> bool:
    """Return whether an SVG file does not end like one."""
    if path.suffix.lower() != ".svg" or path.is_symlink() or not path.is_file():
        return False
    try:
        with path.open("rb") as file:
            file.seek(-min(path.stat().st_size, _TAIL), os.SEEK_END)
            return b"</svg" not in (end := file.read(_TAIL)) and not end.rstrip().endswith(b"/>")
    except OSError:
        return False
