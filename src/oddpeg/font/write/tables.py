"""The small tables: head, hhea, hmtx, maxp, name, OS/2, post, gasp.

Source: OpenType specification, one function per table.
"""

from __future__ import annotations

import struct
from collections.abc import Mapping
from typing import NamedTuple

import numpy as np

from oddpeg.font.write.glyphset import GlyphSet
from oddpeg.font.write.info import EMBEDDING, EPOCH_1904, MAKER, FontInfo, name_text, postscript_name
from oddpeg.geometry.arrays import Ints

_STACK = 2  # elements that prep needs, with one to spare


class FontBox(NamedTuple):
    """The bounding box of all glyphs of a font in font units, at every weight if it varies."""

    left: int
    bottom: int
    right: int
    top: int

    @staticmethod
    def of(glyphs: GlyphSet) -> FontBox:
        """Return the box of glyphs and of their outlines elsewhere in the design space."""
        points = [np.stack([glyphs.x, glyphs.y], axis=1), *(one.xy for those in glyphs.masters for one in those)]
        xy = np.concatenate(points)
        return FontBox(*xy.min(axis=0).tolist(), *xy.max(axis=0).tolist()) if len(xy) else FontBox(0, 0, 0, 0)


def head(info: FontInfo, box: FontBox, loca_format: int, repacked: bool = False) -> bytes:
    """Return the head table. `repacked` sets flag bit 11, as WOFF2 §5.5 asks of fonts whose glyf was transformed."""
    flags = 0b0011 | (1 << 11 if repacked else 0)  # baseline at 0, bearings at 0; any fraction of a size
    when = info.created + EPOCH_1904
    return struct.pack(
        ">2HiIIHHqq4hHHhhh", 1, 0, round(info.revision * 65536), 0, 0x5F0F3CF5, flags, info.units, when, when,
        *box, int(info.is_bold), 8, 2, loca_format, 0,
    )  # fmt: skip


def long_metrics(glyphs: GlyphSet) -> int:
    """Return numberOfHMetrics: the tail of glyphs with one advance is written once."""
    differs = np.flatnonzero(glyphs.advance != glyphs.advance[-1])
    return int(differs[-1]) + 2 if len(differs) else 1


def hhea(info: FontInfo, glyphs: GlyphSet) -> bytes:
    boxes, drawn = glyphs.boxes, glyphs.drawn
    left = boxes[drawn, 0].min() if len(drawn) else 0
    right = (glyphs.advance - boxes[:, 2])[drawn].min() if len(drawn) else 0
    reach = boxes[drawn, 2].max() if len(drawn) else 0
    return struct.pack(
        ">2HhhhH3h3h4hhH", 1, 0, info.ascender, info.descender, 0, int(glyphs.advance.max()),
        int(left), int(right), int(reach), 1, 0, 0, 0, 0, 0, 0, 0, long_metrics(glyphs),
    )  # fmt: skip


def hmtx(glyphs: GlyphSet) -> bytes:
    """Left side bearing = xMin throughout (head flag bit 1)."""
    long = long_metrics(glyphs)
    bearing = glyphs.boxes[:, 0]
    pairs = np.stack([glyphs.advance[:long], bearing[:long]], axis=1).astype(">i2")
    return pairs.tobytes() + bearing[long:].astype(">i2").tobytes()


def maxp(glyphs: GlyphSet) -> bytes:
    return struct.pack(
        ">IH13H", 0x00010000, len(glyphs), int(glyphs.points.max()), int(glyphs.contours.max()),
        0, 0, 2, 0, 0, 0, 0, _STACK, 0, 0, 0,
    )  # fmt: skip


def name(info: FontInfo, more: Mapping[int, str]) -> bytes:
    """Return the name table. A family name too long for old desktop programs, or a face outside the four styles, goes
    under the typographic IDs, with a legacy name next to it. more: texts by name ID, from 256 on."""
    version = f"Version {info.revision:.3f}"
    linked, style = info.linked_family, info.style.name
    fourth = info.style.link.value or "Regular"  # the style that old interfaces know
    postscript = postscript_name(info.family, style)
    records = {
        0: info.copyright, 1: linked, 2: fourth, 3: f"{info.version};{MAKER};{postscript}",
        4: info.full_name, 5: version, 6: postscript, 9: info.designer, 13: info.licence,
        14: info.licence_url,
    }  # fmt: skip
    if linked != info.family or fourth != style:
        records |= {16: info.family, 17: style}
    texts = [(number, name_text(text)) for number, text in sorted((records | dict(more)).items()) if text]
    storage, entries = b"", b""
    for number, data in texts:
        entries += struct.pack(">6H", 3, 1, 0x409, number, len(data), len(storage))
        storage += data
    return struct.pack(">3H", 0, len(texts), 6 + len(entries)) + entries + storage


def _drawn_codes(glyphs: GlyphSet) -> Ints:
    """Return the codepoints that show something."""
    codes, shown = glyphs.coded
    return codes[glyphs.points[shown] > 0]


# first and last codepoint, bit: the blocks of most icon fonts
_USUAL_BLOCKS = ((0x0, 0x7F, 0), (0xE000, 0xF8FF, 60), (0xF0000, 0xFFFFD, 90), (0x100000, 0x10FFFD, 90))
_BEYOND_PLANE_0 = 57


def unicode_ranges(codes: Ints) -> list[int]:
    """Return ulUnicodeRange1 to 4 of codepoints (n,). Source: OpenType specification, OS/2."""
    bits, others = set(), codes
    for first, last, bit in _USUAL_BLOCKS:
        inside = (others >= first) & (others <= last)
        bits |= {bit} if inside.any() else set()
        others = others[~inside]
    if len(others):  # loading the table of all blocks takes a tenth of a second
        from fontTools.ttLib.tables.O_S_2f_2 import intersectUnicodeRanges

        bits |= intersectUnicodeRanges(others.tolist())
    if (codes > 0xFFFF).any():
        bits.add(_BEYOND_PLANE_0)
    return [sum(1 << bit % 32 for bit in bits if bit // 32 == word) for word in range(4)]


def _code_pages(codes: Ints) -> list[int]:
    """Latin 1 always, since validators reject fonts without a code page, and the space is one of its characters.
    Symbols where U+F000 to U+F0FF are, by which old interfaces then show them."""
    symbols = ((codes >= 0xF000) & (codes <= 0xF0FF)).any()
    return [1 | int(symbols) << 31, 0]


def _selection(info: FontInfo) -> int:
    """Return fsSelection: typo metrics hold; regular or bold."""
    return 1 << 7 | (1 << 5 if info.is_bold else 1 << 6)


def os2(info: FontInfo, glyphs: GlyphSet, box: FontBox) -> bytes:
    """Version 4."""
    units = info.units
    codes, _ = glyphs.coded
    drawn = _drawn_codes(glyphs)
    wide = glyphs.advance[glyphs.advance > 0]
    capital = 2 * (units // 2 + info.descender)  # the height on which icons stand centred
    # usWinAscent and usWinDescent: some programs cut off ink beyond them, which glyphs of other fonts may have
    above, below = box.top, -box.bottom
    return struct.pack(
        ">Hh3H11h10s4I4s3H3hHHIIhhHHH", 4, round(float(wide.mean())) if len(wide) else 0, info.weight, 5,
        EMBEDDING[info.embedding],
        units * 65 // 100, units * 6 // 10, 0, units * 75 // 1000, units * 65 // 100, units * 6 // 10, 0,
        units * 35 // 100, units // 20, units // 4, 0,
        bytes([5, 0, 0, 0, 0, 0, 0, 0, 0, 0]),  # panose: a pictorial face
        *unicode_ranges(drawn), b"NONE", _selection(info),
        min(int(codes.min()), 0xFFFF), min(int(codes.max()), 0xFFFF), info.ascender, info.descender, 0,
        max(info.ascender, above), max(-info.descender, below), *_code_pages(drawn),
        max(capital, 0) * 7 // 10, max(capital, 0), 0, 0x20,
        max([1, *(len(name) for name, _ in info.ligatures)]),
    )  # fmt: skip


def post(info: FontInfo, names: list[str] | None) -> bytes:
    """Return the post table: format 2.0 with glyph names, or 3.0 where `names` is None."""
    version = 0x00020000 if names is not None else 0x00030000
    table = struct.pack(">IIhhI4I", version, 0, -info.units // 10, info.units // 20, 0, 0, 0, 0, 0)
    if names is None:
        return table
    standard = {".notdef": 0, "space": 3}  # of the 258 names the format knows
    index: list[int] = []
    extra_names: list[bytes] = []
    for glyph in names:
        if glyph in standard:
            index.append(standard[glyph])
        else:
            index.append(258 + len(extra_names))
            extra_names.append(glyph.encode("ascii"))
    table += struct.pack(">H", len(names)) + np.array(index, dtype=">u2").tobytes()
    return table + b"".join(bytes([len(text)]) + text for text in extra_names)


def prep() -> bytes:
    """Drop-out control on at every size, and nothing else. Without any program FreeType would fit the glyphs to
    the grid by its own lights, moving edges by half a pixel; with one it shows them as drawn."""
    return bytes([0xB8, 0x01, 0xFF, 0x85, 0xB0, 0x04, 0x8D, 0x22])  # PUSHW 511 SCANCTRL PUSHB 4 SCANTYPE CLEAR


def gasp() -> bytes:
    """Smooth at every size, no grid fitting: icons have no hints."""
    return struct.pack(">4H", 1, 1, 0xFFFF, 0b1010)
