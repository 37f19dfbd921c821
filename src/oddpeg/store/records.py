"""Small records in `.oddpeg/`, each {"icons": {name: text}} in JSON.

drawings.json: the hash of each icon's drawing in the last build, which may be deleted at any time; arrivals.json: the
version in which each codepoint was first released (by codepoint, since icons are renamed). A missing or damaged record
counts as empty.
"""

from __future__ import annotations

import contextlib
import hashlib
import json
from collections.abc import Iterable
from pathlib import Path
from typing import Any

from oddpeg.merges import holds_conflict, merge_sides
from oddpeg.pegboard.codes import spell
from oddpeg.store.state import read_state

_LARGEST = 64_000_000  # bytes


def read_record(root: Path, name: str) -> dict[str, str]:
    """Return the entries of a record, after a merge those of both sides; none where it is missing or damaged. root: of
    the project."""
    record: dict[str, str] = {}
    for values in json_sides(read_state(root, name, _LARGEST)):
        with contextlib.suppress(KeyError, AttributeError, TypeError):
            record = {**{str(k): str(v) for k, v in values["icons"].items()}, **record}
    return record


def json_sides(data: bytes | None) -> list[Any]:
    """Return the values in a JSON file: one, two where a merge left a conflict, none where it is damaged."""
    if data is None:
        return []
    text = data.decode("utf-8", "replace")
    sides = merge_sides(text) if holds_conflict(text) else [text]
    readable = []
    for side in sides:
        with contextlib.suppress(ValueError, RecursionError):
            readable.append(json.loads(side))
    return readable


def record_bytes(icons: dict[str, str]) -> bytes:
    """Return a record as its file holds it."""
    return (json.dumps({"icons": icons}, sort_keys=True) + "\n").encode()


def drawing_digest(drawing: bytes) -> str:
    """Return the hash of a drawing's content; line ends do not count."""
    return hashlib.blake2b(drawing.replace(b"\r\n", b"\n"), digest_size=16).hexdigest()


class FirstReleased:
    """The font version in which each codepoint was first released. An unknown codepoint gets the version of this
    build."""

    def __init__(self, known: dict[str, str], version: str) -> None:
        self._known = known
        self._version = version

    def of(self, codepoint: int) -> str:
        """Return the version in which a codepoint was first released."""
        return self._known.get(spell(codepoint), self._version)

    def record(self, codepoints: Iterable[int]) -> bytes:
        """Return the contents of the record file after these codepoints are delivered."""
        return record_bytes(dict.fromkeys(map(spell, codepoints), self._version) | self._known)
