"""The sample project: Saltmarsh Ferries, a harbour and ferry line that does not exist."""

from __future__ import annotations

from collections.abc import Iterator
from importlib.resources import files
from importlib.resources.abc import Traversable
from typing import NamedTuple


class SampleFile(NamedTuple):
    """A file of the sample project.

    Attributes:
        name: its path within it, with slashes.
        data: its bytes.
    """

    name: str
    data: bytes


def _walk(folder: Traversable, path: str) -> Iterator[SampleFile]:
    for entry in sorted(folder.iterdir(), key=lambda e: e.name):
        where = f"{path}/{entry.name}" if path else entry.name
        if entry.is_dir():
            yield from _walk(entry, where)
        else:
            yield SampleFile(where, entry.read_bytes())


def sample_files() -> list[SampleFile]:
    """Return every file of the sample project."""
    return list(_walk(files("oddpeg.demo").joinpath("project"), ""))
