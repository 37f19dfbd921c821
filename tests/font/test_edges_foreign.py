"""The edges of formats in fonts of other makers: what is read, cut and packed at the limits of every form."""

from __future__ import annotations

import io
import random
import struct

import numpy as np
import pytest
from fontTools.colorLib.builder import buildCOLR, buildCPAL
from fontTools.feaLib.builder import addOpenTypeFeaturesFromString
from fontTools.pens.boundsPen import ControlBoundsPen
from fontTools.pens.ttGlyphPen import TTGlyphPen
from fontTools.ttLib.tables._g_l_y_f import GlyphCoordinates
from fontTools.ttLib.tables.otTables import PaintFormat
from fontTools.ttLib.tables.ttProgram import Program
from fontTools.ttLib.woff2 import WOFF2Reader

from oddpeg.font.cff import _operand
from oddpeg.font.closure import glyphs_for
from oddpeg.font.containers import read_tables
from oddpeg.font.foreign_colour import coloured_glyphs
from oddpeg.font.foreign_glyf import canonical_size, parse_glyph
from oddpeg.font.foreign_woff2 import as_woff2
from oddpeg.font.glyph_drawings import font_drawings
from oddpeg.font.inspection import facts_of
from oddpeg.font.line_metrics import LineMetrics
from oddpeg.font.packing import packed
from oddpeg.font.renaming import with_family
from oddpeg.font.subset import subset
from oddpeg.font.svg_font_reader import read_svg_font
from oddpeg.raster.paints import RadialGradient
from support.fonts import cubic_font, opened, plain, saved, text_font


def dict_number(value: int) -> bytes:
    """A whole number of a CFF dictionary in its shortest form (Technical Note 5176, table 3)."""
    if -107 <= value <= 107:
        return bytes([value + 139])
    if 108 <= value <= 1131:
        return bytes([247 + (value - 108) // 256, (value - 108) % 256])
    if -1131 <= value <= -108:
        return bytes([251 + (-value - 108) // 256, (-value - 108) % 256])
    if -(2**15) <= value < 2**15:
        return b"\x1c" + struct.pack(">h", value)
    return b"\x1d" + struct.pack(">i", value)


NUMBERS = [0, 107, 108, 363, 364, 1131, 1132, 32_767, 32_768, 2**31 - 1]


@pytest.mark.parametrize("value", [*NUMBERS, *(-number for number in NUMBERS)])
def test_numbers_of_compact_dictionaries_in_every_form(value: int) -> None:
    assert _operand(dict_number(value) + b"\x11", 17) == value
    for real in (b"\x1e\xe2\xa2\x5f", b"\x1e\x11\x1f", b"\x1e\x11\xff"):  # -2.25, 111, 11: no operators in them
        before = real + b"\x05" + dict_number(5) + b"\x0c\x11"
        assert _operand(before + dict_number(value) + b"\x11", 17) == value
    assert _operand(dict_number(value) + b"\x15", 21) == value
    with pytest.raises(IndexError):
        _operand(b"\x0c" + b"\x11" + dict_number(value), 17)


def test_what_takes_the_place_of_a_glyph_is_kept_whatever_it_is_called() -> None:
    font = opened(text_font())
    addOpenTypeFeaturesFromString(font, "feature smcp { sub i by f_i; sub Z by A.last; } smcp;")
    with_names = saved(font)
    order = font.getGlyphOrder()
    kept = {order[number] for number in glyphs_for(with_names, {ord("i"), ord("Z")}, layout=True)}
    assert kept == {".notdef", "i", "f_i", "Z", "A.last"}


def test_long_programs_of_foreign_glyphs_are_read_whole() -> None:
    head = struct.pack(">5h", 1, 0, 0, 9, 9) + struct.pack(">2H", 2, 40_000)
    long = parse_glyph(head + bytes(40_000) + b"\x37\x37\x37" + bytes(6))
    assert len(long.instructions) == 40_000


def test_foreign_outlines_are_measured_in_their_shortest_form() -> None:
    rng, others = random.Random(11), opened(text_font())["glyf"]
    for number in range(60):
        steps = [0, 0, 0, 1, -1, 255, -255, 256, -256, 300] if number % 3 else [5]
        count = rng.choice([3, 4, 9, 255, 256, 257, 258, 600])
        points = np.cumsum([(rng.choice(steps), rng.choice(steps)) for _ in range(count)], axis=0).tolist()
        glyph = TTGlyphPen(None).glyph()
        glyph.numberOfContours, glyph.endPtsOfContours = 1, [count - 1]
        glyph.coordinates = GlyphCoordinates(points)
        glyph.flags = bytearray(rng.random() < 0.5 if number % 2 else 1 for _ in range(count))
        if number % 5 == 0:
            glyph.flags[0] |= 0x40  # it overlaps
        glyph.program = Program()
        glyph.program.fromBytecode(b"")
        glyph.recalcBounds(others)
        data = glyph.compile(others, recalcBBoxes=False)
        assert canonical_size(parse_glyph(data)) == len(data) + -len(data) % 4


@pytest.mark.parametrize("count", [31, 32, 33, 64, 65])
def test_boxes_of_many_foreign_glyphs_are_told(count: int) -> None:
    """The last glyph is made of others, and so has a box of its own (WOFF2 §5.1)."""
    font = opened(text_font())
    order = font.getGlyphOrder()
    while len(order) < count:
        name = f"twins.{len(order)}"
        font["glyf"][name], font["hmtx"][name] = font["glyf"]["twins"], font["hmtx"]["twins"]
        order = font.getGlyphOrder()
    foreign = saved(font)
    data = as_woff2(foreign)
    read = opened(data)
    last = read["glyf"][read.getGlyphOrder()[-1]]
    assert last.isComposite() and (last.xMin, last.yMax) == (
        font["glyf"]["twins"].xMin, font["glyf"]["twins"].yMax,
    )  # fmt: skip
    entries = {str(entry.tag): entry for entry in WOFF2Reader(io.BytesIO(data)).tables.values()}
    assert entries["loca"].origLength == 2 * (len(read.getGlyphOrder()) + 1)


def test_glyphs_made_of_others_that_are_missing_or_end_are_refused() -> None:
    (font,) = read_tables(text_font())
    read = opened(text_font())
    number = read.getGlyphID("Aacute")
    start, end = read["loca"][number] + 10, read["loca"][number + 1]
    glyf = font.tables["glyf"]
    endless = b"\0\x20\0\2\0\0" * ((end - start) // 6)  # each says that another follows
    missing = glyf[start : start + 2] + b"\xff\xfe"
    for parts, reason in ((endless, "a glyph ends too early"), (missing, "a glyph is made of one that is not there")):
        table = glyf[:start] + parts + glyf[start + len(parts) :]
        broken = font._replace(tables={**font.tables, "glyf": table})
        with pytest.raises(ValueError, match=r"^it is no sound font") as found:
            glyphs_for(broken, {0xC1}, layout=False)
        assert str(found.value) == f"it is no sound font ({reason})"


def test_fonts_say_what_outlines_they_have_as_they_begin() -> None:
    (letters,), (cubic,) = read_tables(text_font()), read_tables(cubic_font())
    assert (letters.flavour, cubic.flavour) == (b"\0\1\0\0", b"OTTO")
    for file_format in ("ttf", "woff"):
        at = 0 if file_format == "ttf" else 4
        assert [packed(font, file_format)[at : at + 4] for font in (letters, cubic)] == [b"\0\1\0\0", b"OTTO"]
    assert opened(packed(letters, "woff"))["post"].formatType == 3 != opened(packed(letters, "ttf"))["post"].formatType
    tables = {tag: data for tag, data in letters.tables.items() if tag not in ("glyf", "loca")}
    kinds = [facts_of(font).outlines for font in (letters, cubic, letters._replace(tables=tables))]
    assert kinds == ["TrueType", "CFF", "bitmaps"]


def test_names_around_the_family_stay() -> None:
    texts = {1: "Quay Light", 3: "1;Quay Light", 4: "Quay Light", 16: "Quay", 17: "Light", 9: "Quay & Sons"}
    font = opened(text_font())
    for number, text in texts.items():
        font["name"].setName(text, number, 3, 1, 0x409)
    font["name"].setName("PierDeck-Light", 6, 3, 1, 0x409)
    new = opened(text_font())
    new["name"].decompile(with_family(font["name"].compile(font), "Quay", "North Pier"), new)
    found = {number: new["name"].getDebugName(number) for number in (*texts, 6)}
    assert found == {
        1: "North Pier Light", 3: "1;North Pier Light", 4: "North Pier Light", 16: "North Pier", 17: "Light",
        9: "Quay & Sons", 6: "NorthPier-Light",
    }  # fmt: skip


def test_small_letters_are_measured_where_no_table_says_their_height() -> None:
    (font,) = read_tables(cubic_font())
    os2 = font.tables["OS/2"]
    for old in (b"\0\1" + os2[2:86], os2[:86] + b"\0\0" + os2[88:]):
        unsaid = font._replace(tables={**font.tables, "OS/2": old})
        glyph = opened(cubic_font()).getGlyphSet()[opened(cubic_font()).getBestCmap()[ord("x")]]
        pen = ControlBoundsPen(None)
        glyph.draw(pen)
        assert LineMetrics.of(unsaid).small == pytest.approx(pen.bounds[3] / 1000)


def test_lines_as_high_as_those_of_another_font() -> None:
    one, other = LineMetrics(0.8, 0.2, 0.1, 0.5), LineMetrics(0.9, 0.3, 0.0, 0.25)
    assert one.descriptors(other) == {
        "size-adjust": "50.00%", "ascent-override": "180.00%", "descent-override": "60.00%",
        "line-gap-override": "0.00%",
    }  # fmt: skip
    same = {"ascent-override": "90.00%", "descent-override": "30.00%", "line-gap-override": "0.00%"}
    for unknown in (one._replace(small=0.0), one._replace(small=0.25)):
        assert unknown.descriptors(other) == same
    assert one.descriptors(other._replace(small=0.0)) == same


def test_advances_of_svg_fonts_are_the_usual_where_none_is_given() -> None:
    glyphs = '<glyph unicode="a" d="M0 0h9v9z"/><glyph unicode="b" horiz-adv-x="77" d="M0 0h9v9z"/>'
    text = f'<svg xmlns="http://www.w3.org/2000/svg"><font horiz-adv-x="512">{glyphs}</font></svg>'
    assert [glyph.advance for _, glyph in sorted(read_svg_font(text.encode()).glyphs.items())] == [512, 77]
    with pytest.raises(ValueError, match=r"^it is no font file$"):
        read_svg_font(b'<svg xmlns="http://www.w3.org/2000/svg"/>')


def test_drawings_of_a_font_stand_on_its_lines() -> None:
    font = opened(plain().write("ttf"))
    for metrics, drop in (((700, -300), 0.3), ((1400, -600), 0.3), ((600, 0), 0.0)):
        font["hhea"].ascent, font["hhea"].descent = metrics
        font["OS/2"].sTypoAscender, font["OS/2"].sTypoDescender = metrics
        found = font_drawings(saved(font).sfnt)
        assert (found.units, round(found.drop, 2)) == (1024, drop)


def test_what_is_missing_and_how_large_tables_are() -> None:
    (font,) = read_tables(text_font())
    bare = font._replace(tables={tag: data for tag, data in font.tables.items() if tag not in ("name", "post")})
    assert facts_of(bare).complaints[0] == "lacks the tables name, post, which every font needs"
    sizes = [*facts_of(font).tables.values()]
    assert sizes == sorted(sizes, reverse=True) and sizes[0] == len(font.tables["glyf"])


def test_long_offsets_of_foreign_fonts_stay_long_for_the_web() -> None:
    font = opened(text_font())
    for name in ("A", "f", "Z", "i", "acute"):
        font["glyf"][name].program = Program()
        font["glyf"][name].program.fromBytecode(b"\x4f" * 30_000)
    entries = WOFF2Reader(io.BytesIO(as_woff2(saved(font)))).tables
    assert entries["loca"].origLength == 4 * (len(font.getGlyphOrder()) + 1)


def test_pictures_of_glyphs_go_where_there_are_outlines() -> None:
    pictures = {"EBDT": b"x", "sbix": b"y", "DSIG": b"z"}
    for data, code in ((text_font(), 0x41), (cubic_font(), 0x78)):
        (font,) = read_tables(data)
        more = font._replace(tables={**font.tables, **pictures})
        assert not pictures.keys() & subset(more, {code}).tables.keys()
        for kind in ("ttf", "woff", "woff2"):
            assert "DSIG" not in opened(packed(font._replace(tables={**font.tables, "DSIG": b"z"}), kind))


def test_circles_of_others_are_read_where_they_stand() -> None:
    font = opened(text_font())
    line = {"ColorStop": [(0.0, 0), (1.0, 1)], "Extend": "pad"}
    circles = {"Format": PaintFormat.PaintRadialGradient, "ColorLine": line, "x0": 10, "y0": 20, "r0": 3, "x1": 40,
               "y1": 50, "r1": 60}  # fmt: skip
    font["COLR"] = buildCOLR({"A": {"Format": PaintFormat.PaintGlyph, "Glyph": "A", "Paint": circles}}, 1)
    font["CPAL"] = buildCPAL([[(1, 0, 0, 1), (0, 0, 1, 1)]])
    (layers,) = coloured_glyphs(saved(font).sfnt).values()
    (paint,) = (layer.paint for layer in layers)
    assert isinstance(paint, RadialGradient)
    assert paint[1:5] == (10 + 20j, 3, 40 + 50j, 60)


def test_boxes_that_are_wider_than_their_outlines_stay() -> None:
    (font,) = read_tables(text_font())
    at = opened(text_font())["loca"][opened(text_font()).getGlyphID("A")]
    glyf = font.tables["glyf"]
    wide = glyf[: at + 2] + struct.pack(">4h", -50, -60, 700, 800) + glyf[at + 10 :]
    read = opened(as_woff2(font._replace(tables={**font.tables, "glyf": wide})))
    glyph = read["glyf"][read.getBestCmap()[0x41]]
    assert (glyph.xMin, glyph.yMin, glyph.xMax, glyph.yMax) == (-50, -60, 700, 800)
