"""WOFF 2.0: glyf, loca and hmtx transformed, everything in one Brotli stream.

Source: W3C WOFF File Format 2.0; section numbers below are its own. Works on the flat arrays of the whole font.
"""

from __future__ import annotations

import struct
from collections.abc import Mapping
from typing import NamedTuple

import numpy as np

from oddpeg.font.write.glyphset import GlyphSet
from oddpeg.font.write.sfnt import TRUETYPE, Tables, padded
from oddpeg.font.write.streams import Bytes, big_endian, pick
from oddpeg.font.write.tables import long_metrics
from oddpeg.geometry.arrays import Ints

_KNOWN = ("cmap head hhea hmtx maxp name OS/2 post cvt  fpgm glyf loca prep CFF  VORG EBDT EBLC gasp hdmx kern "
          "LTSH PCLT VDMX vhea vmtx BASE GDEF GPOS GSUB EBSC JSTF MATH CBDT CBLC COLR CPAL SVG  sbix acnt avar "
          "bdat bloc bsln cvar fdsc feat fmtx fvar gvar hsty just lcar mort morx opbd prop trak Zapf Silf Glat "
          "Gloc Feat Sill")  # fmt: skip
_MOST_RATIO = 90  # unpacked to packed; browsers take a file for a bomb from 100 on
_BEST, _DRAFT = 11, 4  # Brotli quality
_INDEX = {_KNOWN[i : i + 4]: i // 5 for i in range(0, len(_KNOWN), 5)}


def base128(value: int) -> bytes:
    """UIntBase128 (§4.2)."""
    out = bytes([value & 0x7F])
    while value := value >> 7:
        out = bytes([value & 0x7F | 0x80]) + out
    return out


def short255(values: Ints) -> Bytes:
    """255UInt16 (§4.3) of values (n,), laid end to end."""
    code = np.select([values < 253, values < 506, values < 762], [values, 255, 254], 253)
    second = np.select([values < 506, values < 762], [values - 253, values - 506], values >> 8)
    size = np.select([values < 253, values < 762], [1, 2], 3)
    return pick([code, second, values & 0xFF], size)


def triplets(dx: Ints, dy: Ints, on: np.ndarray[tuple[int], np.dtype[np.bool_]]) -> tuple[Bytes, Bytes, Ints]:
    """Return (flags, coordinate bytes, bytes per point) of point deltas (§5.2, table of triplets)."""
    ax, ay = np.abs(dx), np.abs(dy)
    x_sign, y_sign = (dx >= 0).astype(np.int64), (dy >= 0).astype(np.int64)
    signs = x_sign + 2 * y_sign
    mx, my = ax - 1, ay - 1
    cases = [
        (dx == 0) & (ay < 1280), (dy == 0) & (ax < 1280), (ax < 65) & (ay < 65), (ax < 769) & (ay < 769),
        (ax < 4096) & (ay < 4096),
    ]  # fmt: skip
    flag = np.select(
        cases,
        [
            ((ay & 0xF00) >> 7) + y_sign, 10 + ((ax & 0xF00) >> 7) + x_sign,
            20 + (mx & 0x30) + ((my & 0x30) >> 2) + signs, 84 + 12 * ((mx & 0x300) >> 8) + ((my & 0x300) >> 6) + signs,
            120 + signs,
        ],
        124 + signs,
    )  # fmt: skip
    columns = [
        np.select(cases, [ay & 0xFF, ax & 0xFF, (mx & 0xF) << 4 | my & 0xF, mx & 0xFF, ax >> 4], ax >> 8),
        np.select(cases, [dx, dx, dx, my & 0xFF, (ax & 0xF) << 4 | ay >> 8], ax) & 0xFF,
        np.select(cases, [dx, dx, dx, dx, ay & 0xFF], ay >> 8) & 0xFF,
        ay & 0xFF,
    ]
    size = np.select(cases, [1, 1, 1, 2, 3], 4)
    return (flag + np.where(on, 0, 128)).astype(np.uint8), pick(columns, size), size


class _Points(NamedTuple):
    """Points of glyphs as two streams (§5.1).

    Attributes:
        flags: of all points.
        glyphs: coordinates; after those of each glyph its instruction length, which is 0.
    """

    flags: bytes
    glyphs: bytes


def _points(glyphs: GlyphSet) -> _Points:
    """Return the points of glyphs."""
    flags, coordinates, size = triplets(*glyphs.deltas, glyphs.on)
    per_glyph = np.zeros(len(glyphs), dtype=np.int64)
    per_glyph[glyphs.drawn] = np.add.reduceat(size, glyphs.first_point[glyphs.drawn])
    stops = np.cumsum(per_glyph)[glyphs.drawn]
    return _Points(flags.tobytes(), np.insert(coordinates, stops, 0).tobytes())


def transformed_glyf(glyphs: GlyphSet, loca_format: int) -> bytes:
    """Return the transformed glyf table (§5.1). Bounding boxes equal those of the points, so none are stored."""
    points = [_points(part) for part in glyphs.parts()]
    starts = glyphs.ends.copy()  # points per contour = difference of last points within a glyph
    starts[1:] -= glyphs.ends[:-1]
    heads = glyphs.first_contour[glyphs.contours > 0]
    starts[heads] = glyphs.ends[heads] + 1
    streams = [
        big_endian(glyphs.contours, 2).tobytes(), short255(starts).tobytes(), b"".join(part.flags for part in points),
        b"".join(part.glyphs for part in points), b"", bytes(4 * ((len(glyphs) + 31) // 32)), b"",
    ]  # fmt: skip
    overlaps = np.packbits(glyphs.overlap).tobytes() if glyphs.overlap.any() else b""
    head = struct.pack(">4H7I", 0, 1 if overlaps else 0, len(glyphs), loca_format, *(len(s) for s in streams))
    return head + b"".join(streams) + overlaps


def transformed_hmtx(glyphs: GlyphSet) -> bytes:
    """Return the transformed hmtx table (§5.4): bearings equal xMin, so both arrays of bearings are omitted."""
    return b"\x03" + glyphs.advance[: long_metrics(glyphs)].astype(">u2").tobytes()


def _tag(tag: str, version: int) -> bytes:
    """Return a table's flags: its number among known tags, else 63 and the tag itself."""
    if tag in _INDEX:
        return bytes([version << 6 | _INDEX[tag]])
    return bytes([version << 6 | 63]) + tag.encode("latin-1")


def woff2(tables: Tables, glyphs: GlyphSet, loca_format: int, draft: bool = False) -> bytes:
    """Return a WOFF2 file. draft: pack fast rather than small."""
    changed = {"glyf": transformed_glyf(glyphs, loca_format), "loca": b"", "hmtx": transformed_hmtx(glyphs)}
    return pack(tables, changed, {}, TRUETYPE, _DRAFT if draft else _BEST)


def pack(tables: Tables, changed: Tables, sizes: Mapping[str, int], flavour: bytes, quality: int = _BEST) -> bytes:
    """Return a WOFF2 file.

    Args:
        changed: transformed tables.
        sizes: unpacked sizes of tables that differ from the packed ones, in bytes.
        flavour: signature of the unpacked font.
        quality: of Brotli.
    """
    import brotli

    order = sorted(tag for tag in tables if tag != "loca")
    if "loca" in tables:
        order.insert(order.index("glyf") + 1, "loca")  # §5: loca follows glyf
    entries, parts = b"", []
    for tag in order:
        version = 1 if tag == "hmtx" and tag in changed else 3 if tag in ("glyf", "loca") and not changed else 0
        entries += _tag(tag, version) + base128(sizes.get(tag, len(tables[tag])))
        data = changed.get(tag, tables[tag])
        if tag in changed:
            entries += base128(len(data))
        parts.append(data)
    stream = b"".join(parts)
    size = 12 + 16 * len(tables) + sum(-(-sizes.get(tag, len(data)) // 4) * 4 for tag, data in tables.items())
    for attempt in (quality, 3, 0):
        packed = brotli.compress(stream, mode=brotli.MODE_FONT, quality=attempt)
        if size <= _MOST_RATIO * len(packed):  # thousands of icons alike exceed it
            break
    body = padded(entries + packed)
    head = struct.pack(">4s4sIHHIIHHIIIII", b"wOF2", flavour, 48 + len(body), len(tables), 0, size, len(packed),
                       1, 0, 0, 0, 0, 0, 0)  # fmt: skip
    return head + body
