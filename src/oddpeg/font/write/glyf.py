"""`glyf` and `loca`: outlines as TrueType writes them, the whole font at once.

Source: OpenType specification, glyf and loca tables.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from oddpeg.font.write.glyphset import GlyphSet
from oddpeg.font.write.streams import Bytes, big_endian, pick
from oddpeg.geometry.arrays import Bools, Ints
from oddpeg.geometry.ragged import offsets, ragged_index

ON, X_SHORT, Y_SHORT, REPEAT, X_SAME, Y_SAME, OVERLAP = 1, 2, 4, 8, 16, 32, 64


def _axis(delta: Ints, short: int, same: int) -> tuple[Bytes, Bytes, Ints]:
    """Return (flag bits, coordinate bytes, bytes per point) of one axis."""
    distance = np.abs(delta)
    is_long = distance > 255
    size = np.minimum(distance, 1) + is_long
    # by size, and by whether the coordinate grows
    bits = np.array([same, 0, short, short + same, 0, 0], dtype=np.uint8)[2 * size + (delta > 0)]
    return bits, pick([np.where(is_long, delta >> 8, distance), delta], size), size


def _flag_bytes(flags: Bytes, starts: Bools) -> tuple[Bytes, Ints]:
    """Return run-length packed flags and how many bytes each point's flag took (zeros inside a run)."""
    new = starts.copy()
    new[1:] |= flags[1:] != flags[:-1]
    head = np.flatnonzero(new)
    length = np.diff(head, append=len(flags))
    pieces = -(-length // 256)  # a repeat count is one byte: runs of at most 256
    run, k = ragged_index(pieces)
    at = head[run] + 256 * k
    count = np.minimum(length[run] - 256 * k, 256)
    size = np.where(count > 1, 2, 1)
    data = pick([flags[at] | np.where(count > 1, REPEAT, 0), count - 1], size)
    spent = np.zeros(len(flags), dtype=np.int64)
    spent[at] = size
    return data, spent


def _per_glyph(values: Ints, glyphs: GlyphSet) -> Ints:
    total = np.zeros(len(glyphs), dtype=np.int64)
    total[glyphs.drawn] = np.add.reduceat(values, glyphs.first_point[glyphs.drawn])
    return total


def glyf_and_loca(glyphs: GlyphSet) -> tuple[bytes, bytes, int]:
    """Return (glyf, loca, indexToLocFormat). Glyphs start on multiples of four, as WOFF2 decoders lay them
    out: the sizes that a WOFF2 directory states are then those of the decoded font."""
    written = [_written(part) for part in glyphs.parts()]
    glyf = b"".join(part.data for part in written)
    ends = np.cumsum(np.concatenate([[0], *(part.sizes for part in written)]))
    if ends[-1] <= 0x1FFFE:
        return glyf, (ends // 2).astype(">u2").tobytes(), 0
    return glyf, ends.astype(">u4").tobytes(), 1


class _Written(NamedTuple):
    """Glyphs as the table holds them.

    Attributes:
        data: laid end to end.
        sizes: (glyphs,) bytes.
    """

    data: bytes
    sizes: Ints


def _written(glyphs: GlyphSet) -> _Written:
    """Return glyphs, each padded to a multiple of four bytes."""
    dx, dy = glyphs.deltas
    starts = np.zeros(len(glyphs.x), dtype=bool)
    starts[glyphs.first_point[glyphs.drawn]] = True
    x_bits, x_bytes, x_size = _axis(dx, X_SHORT, X_SAME)
    y_bits, y_bytes, y_size = _axis(dy, Y_SHORT, Y_SAME)
    flags = np.where(glyphs.on, ON, 0).astype(np.uint8) | x_bits | y_bits
    flags[glyphs.first_point[glyphs.overlap]] |= OVERLAP  # said on a glyph's first point only
    flag_bytes, flag_size = _flag_bytes(flags, starts)
    sizes = [
        np.where(glyphs.points > 0, 10, 0),
        2 * glyphs.contours,
        np.where(glyphs.points > 0, 2, 0),
        _per_glyph(flag_size, glyphs),
        _per_glyph(x_size, glyphs),
        _per_glyph(y_size, glyphs),
    ]
    total = np.sum(sizes, axis=0)
    padded = total + -total % 4
    start = offsets(padded)
    out = np.zeros(int(padded.sum()), dtype=np.uint8)
    drawn = glyphs.drawn
    head = np.concatenate(
        [big_endian(glyphs.contours[drawn], 2), *(big_endian(glyphs.boxes[drawn, i], 2) for i in range(4))], axis=1
    )
    streams = [head.ravel(), big_endian(glyphs.ends, 2).ravel(), None, flag_bytes, x_bytes, y_bytes]
    for size, data in zip(sizes, streams, strict=True):
        if data is not None:
            out[np.repeat(start - offsets(size), size) + np.arange(len(data))] = data
        start = start + size
    return _Written(out.tobytes(), padded)
