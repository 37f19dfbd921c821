"""The edges of formats: the last value that a form holds, the first that needs another, and what stands at limits."""

from __future__ import annotations

import io
import struct
from itertools import pairwise
from typing import Any

import numpy as np
import pytest
from fontTools.ttLib import TTFont
from fontTools.ttLib.tables.O_S_2f_2 import intersectUnicodeRanges
from fontTools.ttLib.woff2 import WOFF2Reader
from lxml import etree

from oddpeg.font.axes import Axis, WeightStop
from oddpeg.font.compile import Colours, FontCompiler, other_cases
from oddpeg.font.containers import FontTables, read_tables
from oddpeg.font.foreign_glyf import canonical_size, parse_glyph
from oddpeg.font.foreign_woff2 import as_woff2
from oddpeg.font.glyphset import Glyph, GlyphSet
from oddpeg.font.info import glyph_names, resource_name, short_name
from oddpeg.font.inspection import facts_of
from oddpeg.font.packing import packed
from oddpeg.font.palettes import Palettes
from oddpeg.font.subset import subset
from oddpeg.font.tables import _code_pages, long_metrics, unicode_ranges
from oddpeg.font.unicode_blocks import BLOCKS
from oddpeg.font.unpack import woff_tables
from oddpeg.font.variations import avar
from oddpeg.geometry.matrix import Matrix
from oddpeg.outline.model import ColourLayer
from oddpeg.svg.layers import Fill
from oddpeg.svg.model import Colour, Gradient, Stop
from support.fonts import ICONS, INFO, flat, opened, plain, saved, shape, square, text_font, varying

BARE = INFO._replace(ligatures=())


@pytest.mark.parametrize("count", [1, 2, 3, 5, 6, 7, 30])
def test_the_last_segment_of_a_character_map_leads_nowhere(count: int) -> None:
    icons = [Glyph.of(f"i{n}", 0xE000 + 2 * n, square(50 + n)) for n in range(count)]
    table = opened(FontCompiler(icons, BARE).write("ttf")).reader["cmap"]
    for row in range(4, 4 + 8 * struct.unpack(">H", table[2:4])[0], 8):
        (at,) = struct.unpack(">I", table[row + 4 : row + 8])
        if table[at : at + 2] == b"\0\4":
            double, search, power, rest = struct.unpack(">4H", table[at + 6 : at + 14])
            segments = double // 2
            assert (search, rest) == (2 * 2**power, double - search) and 2**power <= segments < 2 ** (power + 1)
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


def test_names_that_are_alike_are_numbered() -> None:
    assert len(glyph_names(["a" * 70])[0]) == 56 and resource_name("q-1") == "q_1"
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
    assert all(pages(*(code for code in letters if code != gone)) == [0, 0] for gone in b"AZaz")


def test_ranges_are_those_of_the_standard() -> None:
    for first, last, bit in BLOCKS:
        for code in (first, (first + last) // 2, last):
            words = unicode_ranges(np.array([code], dtype=np.int64))
            found = {32 * n + place for n, word in enumerate(words) for place in range(32) if word >> place & 1}
            assert bit in found and found == intersectUnicodeRanges([code]), hex(code)


def test_widths_are_told_until_they_stay_the_same() -> None:
    def told(*advances: int) -> int:
        icons = [Glyph.of(f"i{n}", 0xE000 + n, shape(advance=advance)) for n, advance in enumerate(advances)]
        return long_metrics(GlyphSet.of(icons, {}))

    assert [told(3, 3, 3), told(5, 3, 3), told(5, 3, 4), told(3, 5, 3, 3), told(7)] == [1, 2, 3, 3, 1]


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
    icons = [Glyph.of(f"i{n}", 0xE000 + n, square(50 + n)) for n in range(40)]
    own = [FontCompiler(icons[:count], BARE).write("woff2") for count in (27, 28, 29, 30, 31, 40)]
    for data in (plain().write("woff2"), as_woff2(read_tables(text_font())[0]), *own):
        reader = WOFF2Reader(io.BytesIO(data))
        table = reader.tables["glyf"].loadData(reader.transformBuffer)
        reserved, _, glyphs, _, *sizes = struct.unpack(">4H7I", table[:36])
        assert reserved == 0 and sizes[5] - 4 * ((glyphs + 31) // 32) in (0, 24)  # 3 made of others
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


def packed_gvar(font: FontTables) -> list[bytes]:
    """What the table has for each glyph."""
    table = font.tables["gvar"]
    count, flags, start = struct.unpack(">2HI", table[12:20])
    size = 4 if flags & 1 else 2
    raw = struct.unpack(f">{count + 1}{'I' if size == 4 else 'H'}", table[20 : 20 + size * (count + 1)])
    at = [start + offset * (1 if size == 4 else 2) for offset in raw]
    return [table[low:high] for low, high in pairwise(at)]


def test_variations_with_short_offsets_are_kept_too() -> None:
    font = opened(varying().write("ttf"))
    font["gvar"].variations  # noqa: B018  (what was never read is not written anew)
    short = saved(font)
    assert struct.unpack(">H", short.tables["gvar"][14:16]) == (0,)
    read = opened(packed(subset(short, {0xE002}), "ttf"))
    name = read.getBestCmap()[0xE002]
    before = opened(short.sfnt)["gvar"].variations["beacon_2"]
    assert [v.coordinates for v in read["gvar"].variations[name]] == [v.coordinates for v in before]
    table, number = packed_gvar(subset(short, {0xE002})), read.getGlyphID(name)
    whole = packed_gvar(short)
    assert [table[n] for n in range(len(table))] == [one if n == number else b"" for n, one in enumerate(whole)]
    assert [v.axes for v in read["gvar"].variations[name]] == [v.axes for v in before]


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


def test_icons_without_names_are_odd_but_in_web_fonts() -> None:
    (web,) = read_tables(FontCompiler([Glyph.of("anchor", 0xE001, square(600))], BARE).write("woff2"))
    nameless = "its icons have no names: neither glyph names nor ligatures"
    for file_format, odd in (("TTF", True), ("OTF", True), ("TTC", True), ("WOFF2", False)):
        assert (nameless in facts_of(web._replace(file_format=file_format)).complaints) == odd


def test_parts_of_flat_colours_keep_their_layers() -> None:
    (font,) = read_tables(flat().write("ttf"))
    read = opened(packed(subset(font, {0xE003}), "ttf"))
    layers = read["COLR"].ColorLayers[read.getBestCmap()[0xE003]]
    assert layers and all(read["glyf"][layer.name].numberOfContours > 0 for layer in layers)


def test_tables_that_are_small_alone_can_be_too_much_together(monkeypatch: pytest.MonkeyPatch) -> None:
    data = FontCompiler([Glyph.of(f"i{n}", 0xE000 + n, square(50 + n)) for n in range(200)], BARE).write("woff")
    sizes = [len(table) for _, table in woff_tables(data)]
    monkeypatch.setattr("oddpeg.font.unpack.LARGEST_FONT", max(sizes) + 1)
    with pytest.raises(ValueError, match=r"unpacks to more than"):
        list(woff_tables(data))


def test_family_names_in_svg_fonts_are_text() -> None:
    family = 'Quay & "Pier" <Süd>'
    text = FontCompiler([Glyph.of("anchor", 0xE001, square(600))], BARE._replace(family=family)).write("svg")
    face = next(iter(etree.fromstring(text).iter("{*}font-face")))
    assert face.get("font-family") == family
