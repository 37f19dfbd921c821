"""The sample project: Saltmarsh Ferries, a harbour and ferry line that does not exist.

Knows: the files of the project, as package data. Does not know: where they are written.
"""

from __future__ import annotations

from collections.abc import Iterator
from importlib.resources import files
from importlib.resources.abc import Traversable


def _walk(folder: Traversable, path: str) -> Iterator[tuple[str, bytes]]:
    for entry in sorted(folder.iterdir(), key=lambda e: e.name):
        where = f"{path}/{entry.name}" if path else entry.name
        if entry.is_dir():
            yield from _walk(entry, where)
        else:
            yield where, entry.read_bytes()


def sample_files() -> list[tuple[str, bytes]]:
    """Return (path with slashes, content) of every file of the sample project."""
    return list(_walk(files("oddpeg.demo").joinpath("project"), ""))
