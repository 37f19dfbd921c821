"""Limits on fonts that are small but expand to huge data: checked before the expansion.

Source: OpenType specification, cmap and glyf; WOFF 1.0; WOFF 2.0.
"""

from __future__ import annotations

import struct
from collections.abc import Iterable
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from oddpeg.font.read.unpack import LARGEST_FONT, woff2_tables, woff_tables

if TYPE_CHECKING:
    from fontTools.ttLib import TTFont

MOST_POINTS = 65_535  # of a glyph with all of its components
_MOST_MAPPINGS = 300_000  # of all subtables; Unicode has half as many characters


def refuse_bombs(data: bytes) -> None:
    """Raise ValueError where a font unpacks to more than `LARGEST_FONT` bytes, or is larger itself."""
    if len(data) > LARGEST_FONT:
        raise ValueError(f"it is larger than {LARGEST_FONT:,} bytes")
    if data[4:8] == b"ttcf":
        raise ValueError("it is a collection; give one font")
    try:
        if data[:4] == b"wOFF":
            for _ in woff_tables(data):
                pass
        elif data[:4] == b"wOF2":
            woff2_tables(data)
    except ValueError as problem:
        raise ValueError(f"it is no sound font ({problem})") from None


def refuse_large_maps(cmap: bytes) -> None:
    """Raise ValueError where a character map expands to more than `_MOST_MAPPINGS` entries."""
    (count,) = struct.unpack(">H", cmap[2:4])
    offsets = {struct.unpack(">I", cmap[at : at + 4])[0] for at in range(8, 4 + 8 * count, 8)}
    table = memoryview(cmap)
    if sum(_mappings(table[offset:]) for offset in offsets) > _MOST_MAPPINGS:
        raise ValueError(f"its character map has more than {_MOST_MAPPINGS:,} entries")


def _mappings(subtable: memoryview) -> int:
    """Return the number of entries of a subtable, as its ranges declare them; 0 for unknown formats."""
    (form,) = struct.unpack(">H", subtable[:2])
    if form == 4:
        size = struct.unpack(">H", subtable[6:8])[0]
        last, first = (np.frombuffer(subtable[at : at + size], ">u2") for at in (14, 16 + size))
        return _total(first, last)
    if form in (8, 12, 13):
        head = 16 if form != 8 else 8208
        groups = np.frombuffer(subtable[head : head + 12 * struct.unpack(">I", subtable[head - 4 : head])[0]], ">u4")
        return _total(groups[::3], groups[1::3])
    if form == 14:
        return _variants(subtable)
    if form in (0, 2, 6):  # at most one entry for each byte
        return int(struct.unpack(">H", subtable[2:4])[0])
    return int(struct.unpack(">I", subtable[4:8])[0]) if form == 10 else 0


def _variants(subtable: memoryview) -> int:
    """Return the number of variation sequences of a subtable of format 14."""
    total, (count,) = 0, struct.unpack(">I", subtable[6:10])
    for at in range(10, min(10 + 11 * count, len(subtable) - 10), 11):
        ranges, others = struct.unpack(">2I", subtable[at + 3 : at + 11])
        if ranges:
            (size,) = struct.unpack(">I", subtable[ranges : ranges + 4])
            total += int((np.frombuffer(subtable[ranges + 7 : ranges + 4 + 4 * size : 4], np.uint8) + 1.0).sum())
        if others:
            total += int(struct.unpack(">I", subtable[others : others + 4])[0])
        if total > _MOST_MAPPINGS:
            break
    return total


def _total(first: NDArray[np.unsignedinteger[Any]], last: NDArray[np.unsignedinteger[Any]]) -> int:
    size = min(len(first), len(last))
    return int(np.maximum(last[:size].astype(np.int64) - first[:size] + 1, 0).sum())


def refuse_large_composites(font: TTFont, names: Iterable[str]) -> None:
    """Raise ValueError where a glyph has more than `MOST_POINTS` points with all of its components."""
    sizes: dict[str, int] = {}

    def size(name: str) -> int:
        if name not in sizes:
            sizes[name] = 0  # a glyph within itself counts once
            glyph = font["glyf"][name]
            if glyph.isComposite():
                sizes[name] = sum(size(part.glyphName) for part in glyph.components)
            else:
                sizes[name] = max(1, len(getattr(glyph, "coordinates", ())))  # components cost time without points too
        return sizes[name]

    if "glyf" in font and any(size(name) > MOST_POINTS for name in names):
        raise ValueError(f"a glyph has more than {MOST_POINTS:,} points")
