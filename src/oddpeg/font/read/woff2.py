"""Fonts that exist → WOFF2, with composites, instructions, overlap flags and explicit boxes. Source: WOFF 2.0 §5.1."""

from __future__ import annotations

import struct

import numpy as np

from oddpeg.font.read.containers import FontTables
from oddpeg.font.read.glyf import ForeignOutline, canonical_size, flat, glyph_data, parse_glyph
from oddpeg.font.write.sfnt import Tables, with_adjustment
from oddpeg.font.write.woff2 import pack, short255, triplets
from oddpeg.geometry.arrays import Ints

_LOSSLESS = 1 << 11  # head.flags: "optimized for lossless compression"


def as_woff2(font: FontTables) -> bytes:
    """Return a font as WOFF2; raise ValueError where its glyphs are damaged."""
    tables = {tag: data for tag, data in font.tables.items() if tag != "DSIG"}  # §5: a signature cannot stay true
    head = tables["head"]
    flags = struct.unpack(">H", head[16:18])[0] | _LOSSLESS
    tables["head"] = head[:16] + struct.pack(">H", flags) + head[18:]
    changed: Tables = {}
    sizes: dict[str, int] = {}
    if "glyf" in tables and "loca" in tables:
        glyphs = [parse_glyph(data) for data in glyph_data(tables)]
        written = [canonical_size(glyph) for glyph in glyphs]
        long = struct.unpack(">h", head[50:52])[0] != 0 or sum(written) >= 2 * 0x10000
        tables["head"] = tables["head"][:50] + struct.pack(">h", long) + tables["head"][52:]
        changed = {"glyf": _transformed(glyphs, int(long)), "loca": b""}
        sizes = {"glyf": sum(written), "loca": (len(glyphs) + 1) * (4 if long else 2)}
    return pack(with_adjustment(tables, font.flavour), changed, sizes, font.flavour)


def _transformed(glyphs: list[ForeignOutline], loca_format: int) -> bytes:
    """Return the transformed glyf table."""
    simple = [glyph for glyph in glyphs if glyph.contours > 0]
    counts = np.array([len(glyph.on) for glyph in simple], dtype=np.int64)
    flags, coordinates, sizes = _points(simple, counts)
    per_glyph = np.add.reduceat(np.append(sizes, 0), np.cumsum(counts) - counts) if len(counts) else sizes
    glyph_stream, at = bytearray(), 0
    wanted = iter(per_glyph.tolist())
    boxes, box_bits = bytearray(), np.zeros(-(-len(glyphs) // 32) * 32, dtype=bool)
    for number, glyph in enumerate(glyphs):
        if glyph.contours > 0:
            end = at + next(wanted)
            glyph_stream += coordinates[at:end]
            at = end
        if glyph.programmed:
            glyph_stream += short255(np.array([len(glyph.instructions)])).tobytes()
        if _has_own_box(glyph):
            box_bits[number] = True
            boxes += struct.pack(">4h", *glyph.box)
    ends = [np.diff(glyph.ends, prepend=-1) for glyph in simple]
    streams = [
        b"".join(struct.pack(">h", glyph.contours) for glyph in glyphs),
        short255(np.concatenate(ends)).tobytes() if ends else b"",
        flags,
        bytes(glyph_stream),
        b"".join(glyph.components for glyph in glyphs),
        np.packbits(box_bits).tobytes() + bytes(boxes),
        b"".join(glyph.instructions for glyph in glyphs),
    ]
    overlaps = np.array([glyph.overlap for glyph in glyphs], dtype=bool)
    bits = np.packbits(overlaps).tobytes() if overlaps.any() else b""
    head = struct.pack(">4H7I", 0, int(bool(bits)), len(glyphs), loca_format, *map(len, streams))
    return head + b"".join(streams) + bits


def _points(simple: list[ForeignOutline], counts: Ints) -> tuple[bytes, bytes, Ints]:
    """Return the flags and coordinates of all points, and how many bytes each point takes."""
    if not len(counts):
        return b"", b"", np.zeros(0, dtype=np.int64)
    starts = np.cumsum(counts) - counts
    steps = []
    for axis in ("x", "y"):
        values = flat(simple, axis)
        step = np.diff(values, prepend=0)
        step[starts] = values[starts]
        steps.append(step)
    on = np.concatenate([glyph.on for glyph in simple])
    flags, coordinates, sizes = triplets(steps[0], steps[1], on)
    return flags.tobytes(), coordinates.tobytes(), sizes


def _has_own_box(glyph: ForeignOutline) -> bool:
    """Return whether a glyph's box has to be written: of composites always, else where it is not that of its points."""
    if glyph.contours <= 0:
        return glyph.contours < 0
    x, y = glyph.x, glyph.y
    return glyph.box != (int(x.min()), int(y.min()), int(x.max()), int(y.max()))
