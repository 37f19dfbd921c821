"""Glyphs of fonts that exist, as they stand in `glyf`: points, instructions, components.

Source: OpenType specification, glyf and loca.
"""

from __future__ import annotations

import struct
from collections.abc import Iterator, Sequence
from itertools import pairwise
from typing import NamedTuple

import numpy as np

from oddpeg.font.write.sfnt import Tables
from oddpeg.geometry.arrays import Bools, Ints

_ON, _X_SHORT, _Y_SHORT, _REPEAT, _X_SAME, _Y_SAME, _OVERLAP, _RESERVED = 1, 2, 4, 8, 16, 32, 64, 128
_WORDS, _SCALE, _MORE, _TWO_SCALES, _MATRIX, _INSTRUCTIONS = 0x1, 0x8, 0x20, 0x40, 0x80, 0x100
_MOST_POINTS = 65_535
_NONE: Ints = np.zeros(0, dtype=np.int64)


class ForeignOutline(NamedTuple):
    """A glyph of a `glyf` table.

    Attributes:
        contours: number of contours; -1 for a composite glyph.
        box: xMin, yMin, xMax, yMax from its header.
        ends: (contours,) last point of each.
        x, y: (points,) font units.
        on: (points,) on-curve.
        instructions: bytes of its program.
        components: bytes of its components, without the program.
        programmed: the table has a length of instructions (it may be 0); always true for simple glyphs.
        overlap: the overlap flag.
    """

    contours: int = 0
    box: tuple[int, int, int, int] = (0, 0, 0, 0)
    ends: Ints = _NONE
    x: Ints = _NONE
    y: Ints = _NONE
    on: Bools = np.zeros(0, dtype=bool)
    instructions: bytes = b""
    components: bytes = b""
    programmed: bool = False
    overlap: bool = False


EMPTY = ForeignOutline()


def glyph_data(tables: Tables) -> list[bytes]:
    """Return the bytes of every glyph; raise ValueError where the tables do not go together."""
    count, glyf = glyph_count(tables), tables["glyf"]
    long = struct.unpack(">h", tables["head"][50:52])[0] != 0
    need = (count + 1) * (4 if long else 2)
    if len(tables["loca"]) < need:
        raise ValueError("it is no sound font (loca is too short)")
    offsets = np.frombuffer(tables["loca"][:need], ">u4" if long else ">u2").astype(np.int64) * (1 if long else 2)
    if (np.diff(offsets) < 0).any() or offsets[-1] > len(glyf):
        raise ValueError("it is no sound font (loca leads beyond glyf)")
    edges = offsets.tolist()
    return [glyf[low:high] for low, high in pairwise(edges)]


def glyph_count(tables: Tables) -> int:
    """Return how many glyphs a font has."""
    if len(tables.get("maxp", b"")) < 6:
        raise ValueError("it is no sound font (maxp is missing)")
    return int(struct.unpack(">H", tables["maxp"][4:6])[0])


def parse_glyph(data: bytes) -> ForeignOutline:
    """Return a glyph out of its bytes; raise ValueError where they are damaged."""
    if not data:
        return EMPTY
    try:
        contours, *box = struct.unpack(">5h", data[:10])
        if contours < 0:
            components, program = _components(data[10:])
            four = (box[0], box[1], box[2], box[3])
            return ForeignOutline(
                -1, four, components=components, instructions=program or b"", programmed=program is not None
            )
        return _simple(data, contours, (box[0], box[1], box[2], box[3])) if contours else EMPTY
    except (struct.error, IndexError):
        raise ValueError("it is no sound font (a glyph ends too early)") from None


def component_records(components: bytes) -> Iterator[tuple[int, int]]:
    """Yield (glyph number, where its record ends) of each component; raise IndexError or struct.error where they end
    too early."""
    at, flags = 0, _MORE
    while flags & _MORE:
        flags, glyph = struct.unpack(">2H", components[at : at + 4])
        at += 4 + (4 if flags & _WORDS else 2)
        at += 2 if flags & _SCALE else 4 if flags & _TWO_SCALES else 8 if flags & _MATRIX else 0
        if at > len(components):
            raise IndexError
        yield glyph, at


def _components(data: bytes) -> tuple[bytes, bytes | None]:
    """Return the records of components, and the program after them, if one is announced."""
    at, has = 0, False
    start = 0
    for _, end in component_records(data):
        has |= bool(struct.unpack(">H", data[start : start + 2])[0] & _INSTRUCTIONS)
        start = at = end
    if not has:
        return data[:at], None
    (length,) = struct.unpack(">H", data[at : at + 2])
    if at + 2 + length > len(data):
        raise IndexError
    return data[:at], data[at + 2 : at + 2 + length]


def _simple(data: bytes, contours: int, box: tuple[int, int, int, int]) -> ForeignOutline:
    at = 10 + 2 * contours
    if len(data) < at:
        raise IndexError
    ends = np.frombuffer(data[10:at], ">u2").astype(np.int64)
    if (np.diff(ends) < 0).any():
        raise IndexError
    (length,) = struct.unpack(">H", data[at : at + 2])
    instructions = data[at + 2 : at + 2 + length]
    at += 2 + length
    count = int(ends[-1]) + 1
    if count > _MOST_POINTS:
        raise IndexError
    flags: list[int] = []
    while len(flags) < count:
        flag = data[at]
        flags.append(flag)
        at += 1
        if flag & _REPEAT:
            flags += [flag] * data[at]
            at += 1
    mask = np.array(flags, dtype=np.int64)
    if len(mask) > count or (mask & _RESERVED).any() or (mask[1:] & _OVERLAP).any():
        raise IndexError
    x, at = _coordinates(data, at, mask, _X_SHORT, _X_SAME)
    y, at = _coordinates(data, at, mask, _Y_SHORT, _Y_SAME)
    overlap = bool(flags[0] & _OVERLAP)
    return ForeignOutline(contours, box, ends, x, y, (mask & _ON) != 0, instructions, programmed=True, overlap=overlap)


def _coordinates(data: bytes, at: int, mask: Ints, short: int, same: int) -> tuple[Ints, int]:
    """Return one coordinate of every point, and where its bytes end."""
    is_short, is_same = (mask & short) != 0, (mask & same) != 0
    sizes = np.where(is_short, 1, np.where(is_same, 0, 2))
    total = int(sizes.sum())
    raw = np.frombuffer(data[at : at + total], np.uint8).astype(np.int64)
    if len(raw) < total:
        raise IndexError
    place = np.cumsum(sizes) - sizes
    raw = np.append(raw, [0, 0])
    first, second = raw[place], raw[place + 1]
    word = ((first << 8 | second) ^ 0x8000) - 0x8000
    step = np.where(is_short, np.where(is_same, first, -first), np.where(is_same, 0, word))
    return np.cumsum(step), at + total


def canonical_size(glyph: ForeignOutline) -> int:
    """Return the bytes that a glyph takes as unpackers of WOFF2 write it, filled up to four."""
    if glyph.contours == 0:
        return 0
    program = 2 + len(glyph.instructions) if glyph.programmed else 0
    if glyph.contours < 0:
        return -(-(10 + len(glyph.components) + program) // 4) * 4
    flags = np.where(glyph.on, _ON, 0)
    total = 10 + 2 * glyph.contours + program
    for values, short, same in ((glyph.x, _X_SHORT, _X_SAME), (glyph.y, _Y_SHORT, _Y_SAME)):
        step = np.diff(values, prepend=0)
        size = np.where(step == 0, 0, np.where(np.abs(step) < 256, 1, 2))
        total += int(size.sum())
        flags = flags | np.where(size == 0, same, np.where(size == 1, short | np.where(step > 0, same, 0), 0))
    if glyph.overlap:
        flags[0] |= _OVERLAP
    breaks = np.flatnonzero(np.diff(flags)) + 1
    runs = np.diff(np.concatenate([[0], breaks, [len(flags)]]))
    total += int(np.where(runs == 1, 1, 2 * -(-runs // 256)).sum())
    return -(-total // 4) * 4


def flat(glyphs: Sequence[ForeignOutline], attribute: str) -> Ints:
    """Return an attribute of all glyphs as one array."""
    return np.concatenate([_NONE, *(getattr(glyph, attribute) for glyph in glyphs)])
