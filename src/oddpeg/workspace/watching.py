"""Which changes on disk call for a new build."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from pathlib import Path
from threading import Event

from oddpeg.pegboard.board import FILE as PEGBOARD
from oddpeg.workspace.icon_tables import FILE as ICON_TABLE
from oddpeg.workspace.project import Project
from oddpeg.workspace.sources import clean_pattern, fixed_part

_PULSE = 200  # milliseconds between empty batches
_SETTLE = 60  # milliseconds without a further change before a batch of changes is reported


def watched_folders(project: Project) -> list[Path]:
    """Return the folders to watch: the project, and where globs reach outside of it."""
    root = project.root.resolve()
    folders = {root}
    for pattern in project.config.icons.from_:
        base = (root / fixed_part(clean_pattern(pattern))).resolve()
        if not base.is_relative_to(root) and base.is_dir():
            folders.add(base)
    return sorted(folders)


def _templates(project: Project) -> set[Path]:
    """Return the user's own templates that outputs are made from."""
    options = (output.options for bundle in project.config.bundle.values() for output in bundle.outputs)
    return {(project.root / str(o["template"])).resolve() for o in options if o.get("template")}


def matters(path: Path, project: Project) -> bool:
    """Return whether a change of this file can change what is built: drawings, their tables, templates, the config, the
    pegboard."""
    if path.name == ICON_TABLE or path in _templates(project):
        return True
    if path.name in (project.config_path.name, PEGBOARD):
        return path.parent == project.root
    return path.suffix.lower() in (".svg", ".svgz") and not path.name.startswith(".")


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
        yield {Path(path) for _, path in batch}
