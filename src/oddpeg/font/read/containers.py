"""Existing font files → their tables, from any container.

fontTools unpacks; EOT, which it does not know, is unwrapped here. Source: OpenType; WOFF 1.0; WOFF 2.0; Embedded
OpenType, W3C member submission.
"""

from __future__ import annotations

import struct
from collections.abc import Iterator
from contextlib import contextmanager
from typing import NamedTuple

from oddpeg.font.read.glyphs import opened
from oddpeg.font.read.limits import refuse_bombs
from oddpeg.font.read.unpack import LARGEST_FONT
from oddpeg.font.write.sfnt import OPENTYPE, TRUETYPE, Tables, checksum, ttf
from oddpeg.isolation import within_budget

_FORMATS = {
    b"\x00\x01\x00\x00": "TTF", b"true": "TTF", b"OTTO": "OTF", b"wOFF": "WOFF", b"wOF2": "WOFF2", b"ttcf": "TTC",
}  # fmt: skip
_EOT_MAGIC = b"LP"
_COMPRESSED, _ENCRYPTED = 0x4, 0x10000000
_MOST_FONTS = 256  # in one collection


class FontTables(NamedTuple):
    """One font out of a file.

    Attributes:
        file_format: of the file: TTF, OTF, TTC, WOFF, WOFF2 or EOT.
        flavour: how a bare font of these tables begins.
        tables: by tag, as a bare font has them.
        number: of the font within a collection, None where it is alone.
        suspect: tables that do not have the checksum that the file says they have.
    """

    file_format: str
    flavour: bytes
    tables: Tables
    number: int | None = None
    suspect: frozenset[str] = frozenset()

    @property
    def sfnt(self) -> bytes:
        """The bare font."""
        return ttf(self.tables, self.flavour)


@contextmanager
def damage() -> Iterator[None]:
    """Raise ValueError for every error that damaged tables cause, and for tables that take too long to read."""
    try:
        with within_budget():
            yield
    except (struct.error, IndexError, KeyError, OverflowError) as problem:
        raise ValueError(f"it is no sound font ({type(problem).__name__}: {problem})") from None


def format_of(data: bytes) -> str:
    """Return the container of a file, empty where it is no known font; SVG fonts are recognised by their text."""
    if data[:4] in _FORMATS:
        return _FORMATS[data[:4]]
    if data[34:36] == _EOT_MAGIC and len(data) > 82:
        return "EOT"
    return "SVG" if b"<font" in data[:100_000] and b"<svg" in data[:10_000] else ""


def read_tables(data: bytes) -> list[FontTables]:
    """Return every font in a file; raise ValueError where it is damaged, encrypted, or unpacks to more than
    `LARGEST_FONT` bytes."""
    kind = format_of(data)
    if kind == "EOT":
        return [one._replace(file_format="EOT") for one in read_tables(_unwrapped(data))]
    if kind in ("", "SVG"):
        raise ValueError("it is no font file")
    if kind == "TTC":
        return [_read(data, kind, number) for number in range(_fonts_in(data))]
    refuse_bombs(data)
    return [_read(data, kind, None)]


def _read(data: bytes, kind: str, number: int | None) -> FontTables:
    with opened(data, lazy=True, number=number or 0) as font:
        tags = [tag for tag in font.reader.keys() if tag != "GlyphOrder"]  # noqa: SIM118
        tables = {str(tag): bytes(font.reader[tag]) for tag in tags}
        sums = {str(tag): int(font.reader.tables[tag].checkSum) for tag in tags} if kind != "WOFF2" else {}
    if sum(map(len, tables.values())) > LARGEST_FONT:
        raise ValueError(f"it unpacks to more than {LARGEST_FONT:,} bytes")
    outlines = OPENTYPE if {"CFF ", "CFF2"} & tables.keys() else TRUETYPE
    suspect = {tag for tag, wanted in sums.items() if checksum(tables[tag]) != wanted and tag != "head"}
    return FontTables(kind, outlines, tables, number, frozenset(suspect))


def _fonts_in(data: bytes) -> int:
    """Return how many fonts a collection holds."""
    if len(data) < 12:
        raise ValueError("it is no sound font (ends too early)")
    count = int(struct.unpack(">I", data[8:12])[0])
    if not 1 <= count <= _MOST_FONTS:
        raise ValueError(f"it says that it holds {count:,} fonts")
    return count


def _unwrapped(data: bytes) -> bytes:
    """Return the font in an EOT file; raise ValueError where it is packed or encrypted."""
    size, flags = struct.unpack("<4xI4xI", data[:16])
    if flags & (_COMPRESSED | _ENCRYPTED):
        raise ValueError("it is an EOT file that is compressed or encrypted, which cannot be read")
    if not 0 < size <= len(data) - 82:
        raise ValueError("it is no sound font (its length is wrong)")
    inner = data[len(data) - size :]
    if format_of(inner) not in ("TTF", "OTF"):
        raise ValueError("it is no sound font (there is none inside)")
    return inner
