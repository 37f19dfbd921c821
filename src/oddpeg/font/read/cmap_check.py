"""Validation of an existing font's character map. Source: OpenType, cmap, formats 4, 12 and 13."""

from __future__ import annotations

import struct
from collections.abc import Iterator

import numpy as np

from oddpeg.font.read.glyf import glyph_count
from oddpeg.font.write.sfnt import Tables

_SUPPORTED = {(0, 3, 4), (0, 4, 12), (0, 6, 13), (1, 0, 0), (3, 0, 4), (3, 1, 4), (3, 10, 12), (3, 10, 13)}


def check_cmap(tables: Tables) -> Iterator[str]:
    """Yield the faults of a character map."""
    cmap, count = tables.get("cmap", b""), glyph_count(tables)
    version, records = struct.unpack(">2H", cmap[:4])
    if version or not records or 4 + 8 * records > len(cmap):
        yield "its header is damaged"
        return
    keys, known = [], False
    for at in range(4, 4 + 8 * records, 8):
        platform, encoding, offset = struct.unpack(">2HI", cmap[at : at + 8])
        keys.append((platform, encoding))
        if offset < 4 + 8 * records:
            yield "a subtable lies in its header"
            return
        form, sub = struct.unpack(">H", cmap[offset : offset + 2])[0], cmap[offset:]
        known |= (platform, encoding, form) in _SUPPORTED and platform != 1
        yield from _subtable(sub, form, count)
    if keys != sorted(keys):
        yield "its subtables are out of order"
    if not known:
        yield "it has no map for Unicode"


def _subtable(data: bytes, form: int, count: int) -> Iterator[str]:
    length = struct.unpack(">I", data[4:8])[0] if form in (8, 10, 12, 13) else struct.unpack(">H", data[2:4])[0]
    language = data[8:12] if form in (12, 13) else data[4:6] if form == 4 else b""
    if form != 14 and (length > len(data) or any(language)):
        yield "the head of a subtable is damaged"
    elif form == 4:
        yield from _segments(data[:length], count)
    elif form in (12, 13):
        yield from _groups(data[:length], form, count)


def _segments(data: bytes, count: int) -> Iterator[str]:
    (twice,) = struct.unpack(">H", data[6:8])
    segments = twice // 2
    power = 1 << (max(segments, 1).bit_length() - 1)
    search = struct.pack(">3H", 2 * power, power.bit_length() - 1, twice - 2 * power)
    if twice % 2 or not segments or 16 + 8 * segments > len(data) or data[8:14] != search:
        yield "its segments are damaged"
        return
    starts = (14, *(16 + column * twice for column in (1, 2, 3)))
    last, first, delta, offset = (np.frombuffer(data[at : at + twice], ">u2").astype(np.int64) for at in starts)
    if (first > last).any() or (first[1:] <= last[:-1]).any() or last[-1] != 0xFFFF:
        yield "its segments are out of order"
        return
    for number, (low, high) in enumerate(zip(first.tolist(), last.tolist(), strict=True)):
        glyphs = np.arange(low, high + 1)
        if offset[number]:
            at = starts[3] + 2 * number + offset[number]
            glyphs = np.frombuffer(data[at : at + 2 * len(glyphs)], ">u2").astype(np.int64)
            if len(glyphs) <= high - low:
                yield "its glyph numbers end too early"
                return
            glyphs = glyphs[glyphs > 0]
        if (((glyphs + delta[number]) & 0xFFFF) >= count).any():
            yield "it leads to glyphs that are not there"
            return


def _groups(data: bytes, form: int, count: int) -> Iterator[str]:
    (groups,) = struct.unpack(">I", data[12:16])
    if 16 + 12 * groups > len(data):
        yield "its groups end too early"
        return
    rows = np.frombuffer(data[16 : 16 + 12 * groups], ">u4").astype(np.int64).reshape(-1, 3)
    first, last, glyph = rows.T
    highest = glyph + (last - first if form == 12 else 0)
    if (first > last).any() or (first[1:] <= last[:-1]).any() or (last > 0x10FFFF).any():
        yield "its groups are out of order"
    elif (highest >= count).any():
        yield "it leads to glyphs that are not there"
