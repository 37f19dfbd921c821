"""What outputs are made from: family facts and the list of icons.

Knows: names, codepoints, facts. Does not know: files, outlines, any output's syntax.
"""

from __future__ import annotations

import hashlib
from dataclasses import dataclass, field, fields
from operator import attrgetter


@dataclass(frozen=True, slots=True)
class Icon:
    """One icon as users meet it. source: path relative to the project, with slashes; advance: font units; aliases: other
    names that work wherever the name does; older: those of them that the icon had before it was renamed."""

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

    @property
    def hex(self) -> str:
        """The codepoint in hexadecimal, at least four digits, lower case."""
        return f"{self.codepoint:04x}"

    @property
    def character(self) -> str:
        return chr(self.codepoint)


@dataclass(frozen=True, slots=True)
class Catalogue:
    """One font and its icons, ordered by name. drop: share of the em below the baseline."""

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

    def digest(self) -> str:
        """Return what stands for all of it."""
        facts = [getattr(self, f.name) for f in fields(self) if f.name != "icons"]
        icons = list(map(attrgetter(*(f.name for f in fields(Icon))), self.icons))
        return hashlib.blake2b(repr((facts, icons)).encode(), digest_size=16).hexdigest()


@dataclass(frozen=True, slots=True)
class Surroundings:
    """Where one output lands. urls: font format → path relative to the output, in the order to offer them;
    sizes: font format → bytes; embed: a WOFF2 file for pages that carry their font with them."""

    urls: dict[str, str] = field(default_factory=dict)
    sizes: dict[str, int] = field(default_factory=dict)
    embed: bytes = b""
