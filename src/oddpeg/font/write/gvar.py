"""`gvar`: how the points of glyphs move along the axes of a variable font.

Source: OpenType specification, gvar and the common formats of font variations. Outlines are linear in the width of
their strokes, so that each glyph has one set of deltas for each place at which strokes have another width. Where two
axes change the width together, the place at both ends corrects what their sum leaves.
"""

from __future__ import annotations

import struct
from collections.abc import Sequence

import numpy as np

from oddpeg.font.write.axes import Region
from oddpeg.font.write.glyphset import GlyphSet
from oddpeg.font.write.variations import Variations, f2dot14
from oddpeg.geometry.arrays import Ints
from oddpeg.outline.model import Outline

_ALL_POINTS = b"\0"
_LONG, _SHARED_POINTS = 1, 0x8000
_INTERMEDIATE = 0x4000
_ZEROS, _WORDS, _MOST = 0x80, 0x40, 64  # of packed deltas


def gvar(glyphs: GlyphSet, variations: Variations) -> bytes:
    """Return the table: one tuple of deltas for each place, for all points of each glyph that varies."""
    tents = [variations.tent(region) for region in variations.regions]
    rows = [_glyph(glyphs, number, variations.regions, tents) for number in range(len(glyphs))]
    offsets = np.cumsum([0, *map(len, rows)]).astype(">u4").tobytes()
    shared = b"".join(_coordinates([peak for _, peak, _ in tent]) for tent in tents)
    at, count = 20 + len(offsets), len(variations.axes)
    head = struct.pack(">4HI2HI", 1, 0, count, len(tents), at, len(glyphs), _LONG, at + len(shared))
    return head + offsets + shared + b"".join(rows)


def _coordinates(values: Sequence[float]) -> bytes:
    return b"".join(struct.pack(">h", f2dot14(value)) for value in values)


def _glyph(
    glyphs: GlyphSet, number: int, regions: Sequence[Region], tents: Sequence[Sequence[tuple[float, float, float]]]
) -> bytes:
    """Return the data of one glyph, empty where it does not vary."""
    masters = glyphs.masters[number] if glyphs.masters else ()
    if not masters:
        return b""
    first, count = int(glyphs.first_point[number]), int(glyphs.points[number])
    own = np.stack([glyphs.x[first : first + count], glyphs.y[first : first + count]], axis=1)
    headers, body = b"", b""
    for index, deltas in enumerate(_deltas(own, masters, regions)):
        # the four points after the outline are the metrics, which do not vary
        data = b"".join(packed(np.append(deltas[:, column], [0, 0, 0, 0])) for column in (0, 1))
        is_plain = all((low, high) == (min(peak, 0.0), max(peak, 0.0)) for low, peak, high in tents[index])
        headers += struct.pack(">2H", len(data), index if is_plain else index | _INTERMEDIATE)
        if not is_plain:
            headers += _coordinates([low for low, _, _ in tents[index]])
            headers += _coordinates([high for _, _, high in tents[index]])
        body += data
    start = 4 + len(headers)
    whole = struct.pack(">2H", len(masters) | _SHARED_POINTS, start) + headers + _ALL_POINTS + body
    return whole + bytes(-len(whole) % 4)


def _deltas(own: Ints, masters: Sequence[Outline], regions: Sequence[Region]) -> list[Ints]:
    """Return how far points move at each place (points, 2), besides what places of single axes move them there."""
    moved = {(region.weight, region.px): one.xy - own for region, one in zip(regions, masters, strict=False)}
    alone = {key: deltas for key, deltas in moved.items() if 0 in key or None in key}
    return [
        deltas if key in alone else deltas - alone[key[0], None] - alone[0, key[1]] for key, deltas in moved.items()
    ]


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
