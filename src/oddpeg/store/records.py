"""Small records in `.oddpeg/`, each {"icons": {name: text}} in JSON, or {"font": …}.

shapes.json: what each icon showed in the last build; arrivals.json: the version in which each codepoint was first
released (by codepoint, since icons are renamed); placement.json: the em that was chosen. A missing or damaged record
counts as empty.
"""

from __future__ import annotations

import contextlib
import hashlib
import json
from collections.abc import Iterable, Mapping
from pathlib import Path
from typing import Any, NamedTuple

from oddpeg.merges import holds_conflict, merge_sides
from oddpeg.pegboard.codes import spell
from oddpeg.store.state import read_state

_LARGEST = 64_000_000  # bytes


def read_record(root: Path, name: str, key: str = "icons") -> dict[str, str]:
    """Return the entries of a record, after a merge those of both sides; none where it is missing or damaged. root: of
    the project; key: that the record holds them under."""
    record: dict[str, str] = {}
    for values in json_sides(read_state(root, name, _LARGEST)):
        with contextlib.suppress(KeyError, AttributeError, TypeError):
            record = {**{str(k): str(v) for k, v in values[key].items()}, **record}
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


class Shape(NamedTuple):
    """What an icon shows.

    Attributes:
        digest: hash of its drawing.
        fingerprint: of its outline, as text; empty where there is none.
    """

    digest: str
    fingerprint: str


def read_shapes(root: Path) -> dict[str, Shape]:
    """Return what each icon showed in the last build. root: of the project."""
    digests = read_record(root, "drawings.json")  # of an earlier version
    shapes = {name: Shape(digest, "") for name, digest in digests.items()}
    for name, text in read_record(root, "shapes.json").items():
        digest, _, fingerprint = text.partition(" ")
        shapes[name] = Shape(digest, fingerprint)
    return shapes


def shapes_bytes(shapes: Mapping[str, Shape]) -> bytes:
    """Return the record as its file holds it: one line for each icon, so that version control merges it."""
    icons = {name: " ".join(shape) for name, shape in shapes.items()}
    return (json.dumps({"icons": icons}, sort_keys=True, indent=0) + "\n").encode()


class Choice(NamedTuple):
    """A value that affects every icon, as the last delivery chose it.

    Attributes:
        asked: the word in the config that left the choice to Odd Peg, or "set".
        value: what was chosen.
    """

    asked: str
    value: float


def read_choices(root: Path) -> dict[str, Choice]:
    """Return the choices of the last delivery, by the config's key. root: of the project."""
    choices: dict[str, Choice] = {}
    for key, text in read_record(root, "placement.json", "font").items():
        asked, _, value = text.partition(" ")
        with contextlib.suppress(ValueError):
            choices[key] = Choice(asked, float(value))
    return choices


def choices_bytes(choices: Mapping[str, Choice]) -> bytes:
    """Return the record as its file holds it."""
    texts = {key: f"{asked} {value!r}" for key, (asked, value) in choices.items()}
    return (json.dumps({"font": texts}, indent=2) + "\n").encode()


class FirstReleased:
    """The font version in which each codepoint was first released. An unknown codepoint gets the version of this
    build."""

    def __init__(self, known: dict[str, str], version: str) -> None:
        self._known = known
        self._version = version

    def knows(self, codepoint: int) -> bool:
        """Return whether a codepoint was released."""
        return spell(codepoint) in self._known

    def of(self, codepoint: int) -> str:
        """Return the version in which a codepoint was first released."""
        return self._known.get(spell(codepoint), self._version)

    def record(self, codepoints: Iterable[int]) -> bytes:
        """Return the contents of the record file after these codepoints are delivered."""
        return record_bytes(dict.fromkeys(map(spell, codepoints), self._version) | self._known)
