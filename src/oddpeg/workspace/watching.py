"""Which changes on disk call for a new build.

Knows: globs, tables, the config, the pegboard. Does not know: how building is done.
"""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path
from threading import Event

from oddpeg.pegboard.board import FILE as PEGBOARD
from oddpeg.workspace.metadata import FILE as FACTS
from oddpeg.workspace.sources import fixed_part

_PULSE = 200  # milliseconds between empty batches
SETTLE = 60  # milliseconds without a further change before a batch of changes is told


def places(root: Path, patterns: list[str]) -> list[Path]:
    """Return the folders to watch: the project, and where globs reach outside of it."""
    folders = {root.resolve()}
    for pattern in patterns:
        base = (root / fixed_part(pattern.replace("\\", "/"))).resolve()
        if not base.is_relative_to(root.resolve()) and base.is_dir():
            folders.add(base)
    return sorted(folders)


def matters(path: Path, root: Path, config: Path) -> bool:
    """Whether a change of this file can change what is built: drawings, their tables, the config, the pegboard."""
    if path.name == FACTS:
        return True
    if path.name in (config.name, PEGBOARD):
        return path.parent == root
    return path.suffix.lower() in (".svg", ".svgz") and not path.name.startswith(".")


def changes(folders: list[Path], root: Path, config: Path, stop: Event) -> Iterator[set[Path]]:
    """Yield the files of each batch of changes that matter, until `stop` is set; at first, and whenever nothing
    happens for a while, an empty one. Once the first has come, no change is missed any more, however long one takes
    for a batch.
    """
    from watchfiles import watch

    def wanted(_: object, path: str) -> bool:
        return matters(Path(path), root, config)

    for batch in watch(
        *folders,
        watch_filter=wanted,
        debounce=1600,
        step=SETTLE,
        stop_event=stop,
        raise_interrupt=False,
        rust_timeout=_PULSE,
        yield_on_timeout=True,
    ):
        yield {Path(path) for _, path in batch}
