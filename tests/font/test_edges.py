"""The edges of formats: the last value that a form holds, the first that needs another, and what stands at limits."""

from __future__ import annotations

import io
import struct
from typing import Any

import numpy as np
import pytest
from fontTools.feaLib.builder import addOpenTypeFeaturesFromString
from fontTools.pens.boundsPen import ControlBoundsPen
from fontTools.ttLib import TTFont
from fontTools.ttLib.tables.ttProgram import Program
from fontTools.ttLib.woff2 import WOFF2Reader

from oddpeg.font.axes import Axis, WeightStop
from oddpeg.font.cff import _operand
from oddpeg.font.closure import glyphs_for
from oddpeg.font.compile import Colours, FontCompiler, other_cases
from oddpeg.font.containers import FontTables, read_tables
from oddpeg.font.foreign_glyf import canonical_size, parse_glyph
from oddpeg.font.foreign_woff2 import as_woff2
from oddpeg.font.glyph_drawings import font_drawings
from oddpeg.font.glyphset import Glyph
from oddpeg.font.info import glyph_names, short_name
from oddpeg.font.inspection import facts_of
from oddpeg.font.line_metrics import LineMetrics
from oddpeg.font.packing import packed
from oddpeg.font.palettes import Palettes
from oddpeg.font.renaming import with_family
from oddpeg.font.subset import subset
from oddpeg.font.svg_font_reader import read_svg_font
from oddpeg.font.tables import _code_pages
from oddpeg.font.variations import avar
from oddpeg.geometry.matrix import Matrix
from oddpeg.outline.model import ColourLayer
from oddpeg.svg.layers import Fill
from oddpeg.svg.model import Colour, Gradient, Stop
from support.fonts import ICONS, INFO, cubic_font, plain, shape, square, text_font, varying

BARE = INFO._replace(ligatures=())


def opened(data: bytes) -> TTFont:
    return TTFont(io.BytesIO(data), recalcBBoxes=False, recalcTimestamp=False)


def saved(font: TTFont) -> FontTables:
    out = io.BytesIO()
    font.save(out)
    return read_tables(out.getvalue())[0]


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
    real = b"\x1e\xe2\xa2\x5f"  # -2.25
    assert _operand(dict_number(value) + b"\x11", 17) == value
    assert _operand(real + b"\x05" + dict_number(5) + b"\x0c\x11" + dict_number(value) + b"\x11", 17) == value
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


def test_the_last_segment_of_a_character_map_leads_nowhere() -> None:
    table = opened(plain().write("ttf")).reader["cmap"]
    for row in range(4, 4 + 8 * struct.unpack(">H", table[2:4])[0], 8):
        (at,) = struct.unpack(">I", table[row + 4 : row + 8])
        if table[at : at + 2] == b"\0\4":
            (segments,) = (n // 2 for n in struct.unpack(">H", table[at + 6 : at + 8]))
            ends, starts, deltas = (
                struct.unpack(f">{segments}H", table[start : start + 2 * segments])
                for start in (at + 14, at + 16 + 2 * segments, at + 16 + 4 * segments)
            )
            assert (starts[-1], ends[-1], (0xFFFF + deltas[-1]) % 0x10000) == (0xFFFF, 0xFFFF, 0)
            return
    pytest.fail("no segments")


def test_letters_in_the_other_case() -> None:
    # some letters have none, some more than one
    assert other_cases("aÉ1ßİ", 7) == {ord("A"): 7, ord("é"): 8}


def test_drafts_are_packed_fast_and_releases_small() -> None:
    compiler = FontCompiler([Glyph.of(f"i{n}", 0xE000 + n, square(100 + 7 * n)) for n in range(300)], BARE)
    for kind in ("woff", "woff2"):
        assert len(compiler.write(kind, draft=True)) > len(compiler.write(kind)) > 1000
    assert [opened(compiler.write(kind))["head"].flags >> 11 & 1 for kind in ("ttf", "woff", "woff2")] == [0, 0, 1]


def test_flags_that_repeat_more_often_than_a_byte_can_say() -> None:
    for count in (255, 256, 257, 258, 512, 513, 514, 900):
        ramp = [(k, k) for k in range(count)] + [(1000, 0)]
        read = opened(FontCompiler([Glyph.of("ramp", 0xE001, shape(ramp))], BARE).write("ttf"))
        assert [*map(tuple, read["glyf"]["ramp"].coordinates)] == ramp


def test_glyphs_beyond_the_reach_of_short_offsets() -> None:
    comb = [(k, 40 * k * (k % 2)) for k in range(400)]
    for count, long in ((100, 0), (200, 1)):
        icons = [Glyph.of(f"i{n}", 0xE000 + n, shape([*comb, (1000, n)])) for n in range(count)]
        data = FontCompiler(icons, BARE).write("ttf")
        read = opened(data)
        assert read["head"].indexToLocFormat == long
        assert (len(read.reader["glyf"]) > 0x1FFFE) == bool(long)
        assert read["glyf"]["i99"].coordinates[-1] == (1000, 99)
        web = WOFF2Reader(io.BytesIO(FontCompiler(icons, BARE).write("woff2"))).tables
        assert web["loca"].origLength == (len(read.getGlyphOrder()) + 1) * (4 if long else 2)


def test_programs_and_overlaps_of_foreign_glyphs_are_counted() -> None:
    head = struct.pack(">5h", 1, 0, 0, 9, 9) + struct.pack(">2H", 2, 40_000)
    long = parse_glyph(head + bytes(40_000) + b"\x37\x37\x37" + bytes(6))
    assert len(long.instructions) == 40_000
    plain_one = parse_glyph(struct.pack(">5h2H", 1, 0, 0, 9, 9, 2, 0) + b"\x37\x37\x37" + b"\1\2\3\4\5\6")
    overlapping = parse_glyph(struct.pack(">5h2H", 1, 0, 0, 9, 9, 2, 0) + b"\x77\x37\x37" + b"\1\2\3\4\5\6")
    assert canonical_size(plain_one) + 4 >= canonical_size(overlapping) > canonical_size(plain_one) - 4


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


def test_names_that_are_alike_are_numbered() -> None:
    assert glyph_names(["quay", "Quay", "quay", "quay-", "space"]) == ["quay", "Quay", "quay.2", "quay.3", "space.2"]


def test_families_with_a_style_end_where_old_interfaces_do() -> None:
    assert short_name("x" * 26, "Bold") == "x" * 26 + " Bold"
    assert short_name("x" * 27, "Bold") == "x" * 26 + " Bold"


def test_code_pages_say_what_is_drawn() -> None:
    def pages(*codes: int) -> list[int]:
        return _code_pages(np.array(codes, dtype=np.int64))

    assert pages(0xF000) == pages(0xF0FF) == [1 << 31, 0] and pages(0xEFFF, 0xF100) == [0, 0]
    letters = [*range(0x41, 0x5B), *range(0x61, 0x7B)]
    assert pages(*letters) == [1, 0] and pages(*letters[1:]) == pages(*letters[:-1]) == [0, 0]


def test_a_matrix_beyond_all_bounds_is_limited() -> None:
    stops = (Stop(0.0, Colour(9, 9, 9), 1.0), Stop(1.0, Colour(200, 0, 0), 1.0))
    wide = Gradient(True, (0.5, 0.5, 0.0, 0.5, 0.5, 0.5), stops, "pad", Matrix(), False)
    fill = Fill(gradient=wide, matrix=Matrix(1e8, 0, 0, -1e8, 1e9, -1e9))
    colours = Colours(Palettes.of({}, {Colour(9, 9, 9), Colour(200, 0, 0)}), {0xE001: [ColourLayer(fill, square(600))]})
    font = opened(FontCompiler(ICONS, INFO, colours).write("ttf"))
    (base,) = font["COLR"].table.BaseGlyphList.BaseGlyphPaintRecord
    found: Any = base.Paint
    while not hasattr(found, "Transform"):
        found = found.Paint if hasattr(found, "Paint") else font["COLR"].table.LayerList.Paint[found.FirstLayerIndex]
    assert found.Transform.dx == pytest.approx(32_768, abs=1) and found.Transform.dy == -32_768


def test_short_offsets_of_variations_stay_short() -> None:
    (font,) = read_tables(varying().write("ttf"))
    part = subset(font, {0xE001})
    old, new = font.tables["gvar"], part.tables["gvar"]
    assert struct.unpack(">H", old[14:16])[0] & ~1 == 0 == struct.unpack(">H", new[14:16])[0] & ~1
    read = opened(part.sfnt)
    had = opened(font.sfnt)["gvar"].variations["anchor"][0]
    assert read["gvar"].variations["anchor"][0].coordinates[:4] == had.coordinates[:4]


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


def test_steps_are_written_in_their_shortest_form() -> None:
    steps = [0, 1, -1, 254, 255, 256, -254, -255, -256, 300, 0, 0]
    points = np.cumsum([(x, steps[(k * 5 + 3) % 12]) for k, x in enumerate(steps * 3)], axis=0)
    outline = shape([*map(tuple, points.tolist()), (2000, 1999), (5, 3)])
    data = FontCompiler([Glyph.of("steps", 0xE001, outline)], BARE).write("ttf")
    read = opened(data)
    number, table = read.getGlyphID("steps"), read.reader["glyf"]
    own = table[read["loca"][number] : read["loca"][number + 1]]
    glyph = read["glyf"]["steps"]
    glyph.expand(read["glyf"])
    others = glyph.compile(read["glyf"], recalcBBoxes=False)
    assert len(own) == len(others) + -len(others) % 4 == canonical_size(parse_glyph(own))


def test_bounds_are_those_of_the_glyphs() -> None:
    icons = [Glyph.of("a", 0xE001, square(600, 40)), Glyph.of("b", 0xE002, square(300, 90))]
    ours = opened(FontCompiler(icons, BARE).write("ttf"))
    theirs = TTFont(io.BytesIO(FontCompiler(icons, BARE).write("ttf")), recalcBBoxes=True)
    again = opened(saved(theirs).sfnt)
    for table, fields in (
        ("head", ("xMin", "yMin", "xMax", "yMax")),
        ("hhea", ("advanceWidthMax", "minLeftSideBearing", "minRightSideBearing", "xMaxExtent")),
        ("maxp", ("maxPoints", "maxContours")),
    ):
        for field in fields:
            assert getattr(ours[table], field) == getattr(again[table], field), field


def test_the_transformed_outlines_say_what_follows() -> None:
    """The header of WOFF2 §5.1, and a bit for every glyph, filled up to 32."""
    for compiler in (plain(), FontCompiler([Glyph.of(f"i{n}", 0xE000 + n, square(50 + n)) for n in range(40)], BARE)):
        data = compiler.write("woff2")
        reader = WOFF2Reader(io.BytesIO(data))
        table = reader.tables["glyf"].loadData(reader.transformBuffer)
        reserved, _, glyphs, _, *sizes = struct.unpack(">4H7I", table[:36])
        assert reserved == 0 and sizes[5] == 4 * ((glyphs + 31) // 32)
        assert 36 + sum(sizes) <= len(table) <= 36 + sum(sizes) + (glyphs + 7) // 8


def test_widths_that_grow_evenly_need_no_map_of_the_axis() -> None:
    def segments(*stops: tuple[int, float]) -> dict[float, float] | None:
        table = avar(Axis(400, tuple(WeightStop(*stop) for stop in stops)))
        if table is None:
            return None
        assert struct.unpack(">4HH", table[:10]) == (1, 0, 0, 1, (len(table) - 10) // 4)
        values = struct.unpack(f">{(len(table) - 10) // 2}h", table[10:])
        return {a / 16384: b / 16384 for a, b in zip(values[::2], values[1::2], strict=True)}

    assert segments((200, 0.5), (400, 1.0), (800, 2.0)) is None
    assert segments((400, 1.0), (600, 1.5), (800, 2.0)) is None
    assert segments((400, 1.0), (600, 1.25), (800, 2.0)) == {-1: -1, 0: 0, 0.5: 0.25, 1: 1}


def test_variations_with_short_offsets_are_kept_too() -> None:
    font = opened(varying().write("ttf"))
    font["gvar"].variations  # noqa: B018  (what was never read is not written anew)
    short = saved(font)
    assert struct.unpack(">H", short.tables["gvar"][14:16]) == (0,)
    read = opened(packed(subset(short, {0xE002}), "ttf"))
    name = read.getBestCmap()[0xE002]
    before = opened(short.sfnt)["gvar"].variations["beacon_2"]
    assert [v.coordinates for v in read["gvar"].variations[name]] == [v.coordinates for v in before]
    assert [v.axes for v in read["gvar"].variations[name]] == [v.axes for v in before]


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


def test_steps_of_web_outlines_at_the_bounds_of_their_forms() -> None:
    """Where one form of WOFF2 §5.2 ends and the next begins."""
    reach = [1, 64, 65, 66, 255, 256, 768, 769, 770, 1023, 1024, 1279, 1280, 1281, 4095, 4096]
    steps = [
        (a * x, b * y) for x, y in zip(reach, reach[::-1], strict=True) for a, b in ((1, 0), (0, -1), (-1, 1), (1, -1))
    ]
    steps += [(s * x, t * x) for x in reach for s, t in ((1, 1), (-1, 0), (0, 1))]
    points = np.cumsum(steps, axis=0)
    outline = shape([*map(tuple, points.tolist()), (3, 1)])
    compiler = FontCompiler([Glyph.of("steps", 0xE001, outline)], BARE)
    web, bare = opened(compiler.write("woff2")), opened(compiler.write("ttf"))
    assert [*web["glyf"][web.getBestCmap()[0xE001]].coordinates] == [*bare["glyf"]["steps"].coordinates]
    assert [*bare["glyf"]["steps"].coordinates] == [*map(tuple, points.tolist()), (3, 1)]


def test_what_is_missing_and_how_large_tables_are() -> None:
    (font,) = read_tables(text_font())
    bare = font._replace(tables={tag: data for tag, data in font.tables.items() if tag not in ("name", "post")})
    assert facts_of(bare).complaints[0] == "lacks the tables name, post, which every font needs"
    sizes = [*facts_of(font).tables.values()]
    assert sizes == sorted(sizes, reverse=True) and sizes[0] == len(font.tables["glyf"])


def test_long_offsets_of_foreign_fonts_stay_long_for_the_web() -> None:
    font = opened(text_font())
    for name in ("A", "f", "Z"):
        font["glyf"][name].program = Program()
        font["glyf"][name].program.fromBytecode(b"\x4f" * 60_000)
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


def test_icons_without_names_are_odd_but_in_web_fonts() -> None:
    (web,) = read_tables(FontCompiler([Glyph.of("anchor", 0xE001, square(600))], BARE).write("woff2"))
    nameless = "its icons have no names: neither glyph names nor ligatures"
    for file_format, odd in (("TTF", True), ("OTF", True), ("TTC", True), ("WOFF2", False)):
        assert (nameless in facts_of(web._replace(file_format=file_format)).complaints) == odd


def test_a_gradient_without_length_shows_its_last_colour() -> None:
    colours = [Colour(9, 9, 9), Colour(90, 90, 9), Colour(200, 0, 0)]
    stops = tuple(Stop(k / 2, colour, 1.0) for k, colour in enumerate(colours))
    fill = Fill(gradient=Gradient(False, (0.5, 0.5, 0.5, 0.5), stops, "pad", Matrix(), False), matrix=Matrix())
    layers = {0xE001: [ColourLayer(fill, square(600)), ColourLayer(Fill(None, 0.5), square(50))]}
    font = opened(FontCompiler(ICONS, INFO, Colours(Palettes.of({}, {*colours}), layers)).write("ttf"))
    first = font["COLR"].table.LayerList.Paint[0].Paint
    shown = font["CPAL"].palettes[0][first.PaletteIndex]
    assert (shown.red, shown.green, shown.blue) == (200, 0, 0)
