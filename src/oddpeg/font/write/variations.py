"""A weight axis: one font for every weight between two.

Source: OpenType specification, fvar, avar, gvar, STAT, and the common formats of font variations. Outlines are linear
in the width of their strokes, so that each glyph has one set of deltas for each side of the default weight; where
widths do not grow evenly with weights, avar bends the scale.
"""

from __future__ import annotations

import struct
from collections.abc import Mapping, Sequence
from typing import NamedTuple

import numpy as np

from oddpeg.font.write.axes import BOLD, REGULAR, Axis
from oddpeg.font.write.glyphset import GlyphSet
from oddpeg.font.write.info import postscript_name, postscript_prefix
from oddpeg.geometry.arrays import Ints
from oddpeg.outline.model import Outline

_ALL_POINTS = b"\0"
_LONG, _SHARED_POINTS = 1, 0x8000
_ZEROS, _WORDS, _MOST = 0x80, 0x40, 64  # of packed deltas


class Variations(NamedTuple):
    """The varying part of a font.

    Attributes:
        axis: along which it does.
        styles: the name of the style at each of its stops.
        masters: the outlines of a glyph at `axis.masters`, by its codepoint.
    """

    axis: Axis
    styles: Sequence[str]
    masters: Mapping[int, Sequence[Outline]]


FIRST_NAME = 300  # name IDs of axis, styles and instances; below are those of palettes
_PREFIX = 25  # name ID of the PostScript name of the family


def variation_names(variations: Variations, family: str) -> dict[int, str]:
    """Return the texts that fvar and STAT refer to, by name ID, and the prefix of PostScript names."""
    styles = variations.styles
    names = {_PREFIX: postscript_prefix(family), FIRST_NAME: "Weight"}
    names |= {FIRST_NAME + 1 + number: style for number, style in enumerate(styles)}
    return names | {
        FIRST_NAME + 1 + len(styles) + number: postscript_name(family, style) for number, style in enumerate(styles)
    }


def fvar(axis: Axis) -> bytes:
    """Return the table, with every named weight as an instance."""
    ends = (axis.lightest.weight, axis.default, axis.heaviest.weight)
    record = struct.pack(">4s3i2H", b"wght", *(_fixed(weight) for weight in ends), 0, FIRST_NAME)
    first, count = FIRST_NAME + 1, len(axis.stops)
    instances = b"".join(
        struct.pack(">2HiH", first + number, 0, _fixed(stop.weight), first + count + number)
        for number, stop in enumerate(axis.stops)
    )
    return struct.pack(">8H", 1, 0, 16, 2, 1, 20, count, 10) + record + instances


def avar(axis: Axis) -> bytes | None:
    """Return the table; None where widths grow evenly with weights on each side of the default."""
    pairs = [(_normalized(axis, stop.weight), _share(axis, stop.factor)) for stop in axis.stops]
    if all(abs(a - b) < 1e-4 for a, b in pairs):
        return None
    known = dict(pairs) | {-1.0: -1.0, 0.0: 0.0, 1.0: 1.0}
    body = b"".join(struct.pack(">2h", _f2dot14(a), _f2dot14(known[a])) for a in sorted(known))
    return struct.pack(">4HH", 1, 0, 0, 1, len(known)) + body


def _normalized(axis: Axis, weight: float) -> float:
    """Return where a weight lies, -1 to 1, the default being 0."""
    end = axis.lightest.weight if weight < axis.default else axis.heaviest.weight
    return 0.0 if weight == axis.default else (weight - axis.default) / abs(end - axis.default)


def _share(axis: Axis, factor: float) -> float:
    """Return how much of the way to the end of its side a width is, -1 to 1."""
    base = axis.base
    end = axis.lightest.factor if factor < base else axis.heaviest.factor
    return 0.0 if factor == base else (factor - base) / abs(end - base)


def stat(axis: Axis) -> bytes:
    """Return the table, version 1.1, with a name for every named weight. The name of Regular is optional; it is linked
    with Bold, if both are there, for programs with a button for bold text."""
    design = struct.pack(">4s2H", b"wght", FIRST_NAME, 0)
    values = b""
    offsets = b""
    is_linked = {REGULAR, BOLD} <= {stop.weight for stop in axis.stops}
    for number, stop in enumerate(axis.stops):
        offsets += struct.pack(">H", 2 * len(axis.stops) + len(values))
        fields = 0, 2 * (stop.weight == REGULAR), FIRST_NAME + 1 + number, _fixed(stop.weight)
        if stop.weight == REGULAR and is_linked:
            values += struct.pack(">4H2i", 3, *fields, _fixed(BOLD))
        else:
            values += struct.pack(">4Hi", 1, *fields)
    head = struct.pack(">4HIHIH", 1, 1, 8, 1, 20, len(axis.stops), 20 + len(design), 2)
    return head + design + offsets + values


def gvar(glyphs: GlyphSet, variations: Variations) -> bytes:
    """Return the table: one tuple of deltas for each side, for all points of each glyph that varies."""
    axis = variations.axis
    sides = [sign for sign, stop in ((-1, axis.lightest), (1, axis.heaviest)) if stop.weight != axis.default]
    rows = [_glyph(glyphs, number, variations) for number in range(len(glyphs))]
    offsets = np.cumsum([0, *map(len, rows)]).astype(">u4").tobytes()
    shared = b"".join(struct.pack(">h", _f2dot14(sign)) for sign in sides)
    at = 20 + len(offsets)
    head = struct.pack(">4HI2HI", 1, 0, 1, len(sides), at, len(glyphs), _LONG, at + len(shared))
    return head + offsets + shared + b"".join(rows)


def _glyph(glyphs: GlyphSet, number: int, variations: Variations) -> bytes:
    """Return the data of one glyph, empty where it does not vary."""
    masters = variations.masters.get(int(glyphs.codepoint[number]))
    if not masters:
        return b""
    first, count = int(glyphs.first_point[number]), int(glyphs.points[number])
    x, y = glyphs.x[first : first + count], glyphs.y[first : first + count]
    headers, body = b"", b""
    for index, master in enumerate(masters):
        # the four points after the outline are the metrics, which do not vary
        data = b"".join(
            packed(np.append(to - own, [0, 0, 0, 0])) for to, own in ((master.xy[:, 0], x), (master.xy[:, 1], y))
        )
        headers += struct.pack(">2H", len(data), index)
        body += data
    start = 4 + len(headers)
    whole = struct.pack(">2H", len(masters) | _SHARED_POINTS, start) + headers + _ALL_POINTS + body
    return whole + bytes(-len(whole) % 4)


def packed(deltas: Ints) -> bytes:
    """Return deltas as runs of zeros, of bytes and of words."""
    values = deltas.tolist()
    data = bytearray()
    at, end = 0, len(values)
    while at < end:
        kind = _kind(values[at])
        stop = at
        while stop < end and stop - at < _MOST and (width := _kind(values[stop])) <= kind:
            if width < kind and stop + 1 < end and _kind(values[stop + 1]) < kind:
                break  # two that are shorter are worth a run of their own
            stop += 1
        run = values[at:stop]
        if kind == 0:
            data.append(_ZEROS | len(run) - 1)
        elif kind == 1:
            data += struct.pack(f">B{len(run)}b", len(run) - 1, *run)
        else:
            data += struct.pack(f">B{len(run)}h", _WORDS | len(run) - 1, *run)
        at = stop
    return bytes(data)


def _kind(value: int) -> int:
    """Return 0 for a zero delta, 1 for one that fits a byte, 2 for one that takes a word."""
    return 0 if value == 0 else 1 if -128 <= value <= 127 else 2


def _fixed(value: float) -> int:
    return round(value * 65536)


def _f2dot14(value: float) -> int:
    return round(value * 16384)
