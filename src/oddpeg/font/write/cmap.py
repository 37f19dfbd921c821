"""`cmap`: codepoints → glyphs.

Source: OpenType specification, cmap table, formats 4 (plane 0) and 12 (all planes).
"""

from __future__ import annotations

import struct

import numpy as np

from oddpeg.font.write.glyphset import GlyphSet
from oddpeg.geometry.arrays import Ints


def _groups(codes: Ints, glyphs: Ints) -> list[tuple[int, int, int]]:
    """Return (first code, last code, first glyph) of runs where both count up together."""
    if not len(codes):
        return []
    breaks = np.flatnonzero((np.diff(codes) != 1) | (np.diff(glyphs) != 1)) + 1
    first = np.concatenate([[0], breaks])
    last = np.append(breaks, len(codes)) - 1
    return [(int(codes[a]), int(codes[b]), int(glyphs[a])) for a, b in zip(first, last, strict=True)]


def _format4(groups: list[tuple[int, int, int]]) -> bytes:
    groups = [*groups, (0xFFFF, 0xFFFF, 0)]
    count = len(groups)
    power = count.bit_length() - 1
    search = 2 * 2**power
    first, last, glyph = (np.array(column, dtype=np.int64) for column in zip(*groups, strict=True))
    delta = (glyph - first) & 0xFFFF
    delta[-1] = 1
    body = struct.pack(">4H", 2 * count, search, power, 2 * count - search)
    body += last.astype(">u2").tobytes() + b"\0\0" + first.astype(">u2").tobytes()
    body += delta.astype(">u2").tobytes() + bytes(2 * count)
    return struct.pack(">3H", 4, 6 + len(body), 0) + body


def _format12(groups: list[tuple[int, int, int]]) -> bytes:
    body = np.array(groups, dtype=">u4").tobytes()
    return struct.pack(">2H3I", 12, 0, 16 + len(body), 0, len(groups)) + body


def cmap(glyphs: GlyphSet) -> bytes:
    """Return the cmap table of a compiled font."""
    return cmap_of(*glyphs.coded)


def cmap_of(codes: Ints, have: Ints) -> bytes:
    """Return the table of codepoints (n,) in rising order and the glyphs that show them. Format 12 is present only
    where a codepoint lies beyond plane 0."""
    plain = codes <= 0xFFFF
    short = _format4(_groups(codes[plain], have[plain]))
    records = [(0, 3, short), (3, 1, short)]
    if not plain.all():
        full = _format12(_groups(codes, have))
        records = [(0, 3, short), (0, 4, full), (3, 1, short), (3, 10, full)]
    subtables = list(dict.fromkeys(data for _, _, data in records))
    at, place = 4 + 8 * len(records), {}
    for data in subtables:
        place[data] = at
        at += len(data)
    head = struct.pack(">2H", 0, len(records))
    head += b"".join(struct.pack(">2HI", platform, encoding, place[data]) for platform, encoding, data in records)
    return head + b"".join(subtables)
