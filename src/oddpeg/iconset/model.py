"""What outputs are made from: family facts and the list of icons.

Knows: names, codepoints, facts. Does not know: files, how outlines are made, any output's syntax.
"""

from __future__ import annotations

import hashlib
from bisect import bisect_left
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, fields
from operator import attrgetter
from typing import TYPE_CHECKING, NamedTuple

from oddpeg.diagnostics import Diagnostic

if TYPE_CHECKING:
    from oddpeg.svg.clean import Original


class Picture(NamedTuple):
    """An icon as a path. width, height: of its frame; path: SVG path data in the same units, y down, the frame's
    upper left corner at the origin; ink: left, top, right, bottom of what is black."""

    width: int
    height: int
    path: str
    ink: tuple[float, float, float, float]


class Icon(NamedTuple):
    """One icon as users meet it. source: path relative to the project, with slashes; advance: font units; aliases:
    other names that work wherever the name does; older: those of them that the icon had before it was renamed; since:
    the version it came with.
    """

    name: str
    codepoint: int
    source: str
    advance: int
    title: str = ""
    aliases: tuple[str, ...] = ()
    tags: tuple[str, ...] = ()
    older: tuple[str, ...] = ()
    description: str = ""
    licence: str = ""
    credit: str = ""
    since: str = ""

    @property
    def hex(self) -> str:
        """The codepoint in hexadecimal, at least four digits, lower case."""
        return f"{self.codepoint:04x}"

    @property
    def character(self) -> str:
        return chr(self.codepoint)

    @property
    def utf16(self) -> tuple[int, ...]:
        """The codepoint in units of UTF-16: one, or a surrogate pair."""
        data = self.character.encode("utf-16-be")
        return tuple(int.from_bytes(data[i : i + 2], "big") for i in range(0, len(data), 2))


@dataclass(frozen=True, slots=True)
class Catalogue:
    """One font and its icons, ordered by name. drop: share of the em below the baseline; sizes, colours: (name, CSS
    value) pairs that get classes; mirrored: icons that face the other way in text from right to left; synonyms: word
    → words that mean the same here; retired: (name, codepoint) of icons that are gone; what follows is by icon, made
    when asked for: pictures from the finished outlines, the drawings themselves (None where one is not at hand), and
    what checking found."""

    family: str
    version: str
    stem: str
    units_per_em: int
    drop: float
    prefix: str
    base_class: str
    icons: tuple[Icon, ...]
    copyright: str = ""
    licence: str = ""
    licence_url: str = ""
    designer: str = ""
    sizes: tuple[tuple[str, str], ...] = ()
    colours: tuple[tuple[str, str], ...] = ()
    mirrored: tuple[str, ...] = ()
    synonyms: tuple[tuple[str, tuple[str, ...]], ...] = ()
    retired: tuple[tuple[str, int], ...] = ()
    pictures: Mapping[str, Picture] = field(default_factory=dict, repr=False, compare=False)
    original: Callable[[str], Original | None] = field(default=lambda name: None, repr=False, compare=False)
    findings: Mapping[str, tuple[Diagnostic, ...]] = field(default_factory=dict, repr=False, compare=False)

    def named(self, name: str) -> Icon:
        """Return the icon of that name; raise KeyError where there is none. Icons are ordered by name."""
        at = bisect_left(self.icons, name, key=attrgetter("name"))
        if at == len(self.icons) or self.icons[at].name != name:
            raise KeyError(name)
        return self.icons[at]

    def digest(self) -> str:
        """Return what stands for all of it but the pictures."""
        facts = [getattr(self, f.name) for f in fields(self) if f.compare and f.name != "icons"]
        icons = list(map(tuple, self.icons))
        return hashlib.blake2b(repr((facts, icons)).encode(), digest_size=16).hexdigest()


@dataclass(frozen=True, slots=True)
class Surroundings:
    """Where one output lands. urls: font format → path relative to the output, in the order to offer them; sizes:
    font format → bytes; beside: (kind, path relative to the output) of the bundle's other outputs; files: font format
    → font file, for outputs that carry fonts with them; file: the output's own path, relative to the project; draft:
    made in haste; options: the keys that the config gives this output; lines: what to paste for an icon, by name:
    (place, text) for everything that the bundles hold, the output's own first."""

    urls: dict[str, str] = field(default_factory=dict)
    sizes: dict[str, int] = field(default_factory=dict)
    beside: tuple[tuple[str, str], ...] = ()
    files: dict[str, bytes] = field(default_factory=dict)
    file: str = ""
    draft: bool = False
    options: Mapping[str, str | bool] = field(default_factory=dict)
    lines: Callable[[str], list[tuple[str, str]]] = field(default=lambda name: [], repr=False)

    @property
    def embed(self) -> bytes:
        """A WOFF2 file for pages that carry their font with them."""
        return self.files.get("woff2", b"")
