"""Layers and palettes, made by calls and read by an independent reader; and fonts of very many glyphs."""

from __future__ import annotations

import io
from typing import Any

import pytest
from fontTools.ttLib import TTFont

from oddpeg.diagnostics import OddPegError
from oddpeg.font.closure import glyphs_for
from oddpeg.font.colour import colours_of
from oddpeg.font.compile import Colours, FontCompiler
from oddpeg.font.containers import read_tables
from oddpeg.font.glyphset import Glyph
from oddpeg.font.info import FontInfo
from oddpeg.font.palettes import Palettes
from oddpeg.geometry.matrix import Matrix
from oddpeg.outline.model import ColourLayer
from oddpeg.svg.layers import Fill
from oddpeg.svg.model import Colour, Gradient, Stop
from support.fonts import ICONS, INFO, RING, square

RED, GLASS, PALE = Colour(200, 30, 30), Colour(200, 30, 30, 0.5), Colour(250, 250, 230)
BARE = FontInfo("Quay", "1.0", 1024, 896, -128)
EM = Matrix(1024, 0, 0, -1024, 0, 896)


def line(*points: float, spread: str = "pad", stops: tuple[Stop, ...] | None = None) -> Gradient:
    own = (Stop(0.25, RED, 1.0), Stop(1.0, None, 0.5))
    return Gradient(False, (points[0], points[1], points[2], points[3]), stops or own, spread, Matrix(), False)


def opened(compiler: FontCompiler) -> TTFont:
    return TTFont(io.BytesIO(compiler.write("ttf")))


def made(layers: dict[int, list[ColourLayer]], named: dict[str, dict[str, Colour]] | None = None) -> TTFont:
    return opened(FontCompiler(ICONS, INFO, Colours(Palettes.of(named or {}, {RED, GLASS, PALE}), layers)))


def paints(font: TTFont, code: int) -> list[Any]:
    """The fills of an icon's layers."""
    table = font["COLR"].table
    glyph = font.getBestCmap()[code]
    (record,) = (r for r in table.BaseGlyphList.BaseGlyphPaintRecord if r.BaseGlyph == glyph)
    first = record.Paint.FirstLayerIndex
    return [paint.Paint for paint in table.LayerList.Paint[first : first + record.Paint.NumLayers]]


def entry(font: TTFont, paint: Any) -> Any:
    return font["CPAL"].palettes[0][paint.PaletteIndex]


def test_every_icon_has_its_own_layers() -> None:
    fill = Fill(gradient=line(0, 0, 1, 0), matrix=EM)
    font = made(
        {
            0xE001: [ColourLayer(fill, square(9)), ColourLayer(Fill(RED, 0.5), square(8)), ColourLayer(Fill(), RING)],
            0xE002: [ColourLayer(fill, RING)],
            0xF0000: [ColourLayer(Fill(None, 0.25), RING), ColourLayer(Fill(PALE), square(7))],
        }
    )
    first, second, third = (paints(font, code) for code in (0xE001, 0xE002, 0xF0000))
    assert [one.Format for one in first] == [4, 2, 2] and [one.Format for one in second] == [4]
    assert [(one.Format, one.Alpha) for one in third] == [(2, 0.25), (2, 1.0)]
    assert (first[1].Alpha, first[2].Alpha, first[2].PaletteIndex) == (1.0, 1.0, 0xFFFF)
    assert tuple(entry(font, first[1])) == (30, 30, 200, 128) and tuple(entry(font, third[1])) == (230, 250, 250, 255)


def test_lines_lead_where_they_are_drawn() -> None:
    font = made({0xE001: [ColourLayer(Fill(gradient=line(0.25, 0.5, 0.75, 0.75), matrix=EM), RING)]})
    (paint,) = paints(font, 0xE001)
    # the third point lies a quarter turn from the line, in the drawing's own units
    assert [paint.x0, paint.y0, paint.x1, paint.y1] == [256, 384, 768, 128]
    assert [paint.x2, paint.y2] == [0, -128]
    assert [(stop.StopOffset, stop.Alpha) for stop in paint.ColorLine.ColorStop] == [(0.25, 1.0), (1.0, 0.5)]
    assert paint.ColorLine.ColorStop[1].PaletteIndex == 0xFFFF


@pytest.mark.parametrize("points", [(0.5, 0.1, 0.5, 0.9), (0.1, 0.5, 0.9, 0.5)])
def test_upright_and_level_lines_are_lines(points: tuple[float, float, float, float]) -> None:
    font = made({0xE001: [ColourLayer(Fill(gradient=line(*points), matrix=EM), RING)]})
    assert paints(font, 0xE001)[0].Format == 4


@pytest.mark.parametrize(("points", "far"), [((0, 0, 40, 30), 40), ((-1, 2, -61, -18), 60)])
def test_far_lines_lead_where_they_are_drawn(points: tuple[float, float, float, float], far: float) -> None:
    font = made({0xE001: [ColourLayer(Fill(gradient=line(*points), matrix=EM), RING)]})
    (paint,) = paints(font, 0xE001)
    inner, m = paint.Paint, paint.Transform
    x1, y1, x2, y2 = points
    wanted = [EM.apply(x, y) for x, y in ((x1, y1), (x2, y2), (x1 - (y2 - y1), y1 + (x2 - x1)))]
    for number, there in enumerate(wanted):
        x, y = getattr(inner, f"x{number}"), getattr(inner, f"y{number}")
        found = (m.xx * x + m.xy * y + m.dx, m.yx * x + m.yy * y + m.dy)
        assert found == pytest.approx(there, abs=far / 10)


def test_a_line_without_length_is_painted_in_its_last_colour() -> None:
    for stop, wanted in ((Stop(1.0, RED, 0.5), 0.25), (Stop(1.0, None, 1.0), 0.5)):
        fill = Fill(
            gradient=line(0.5, 0.5, 0.5, 0.5, stops=(Stop(0.0, PALE, 1.0), Stop(0.5, PALE, 1.0), stop)),
            alpha=0.5,
            matrix=EM,
        )
        font = made({0xE001: [ColourLayer(fill, RING)]})
        (paint,) = paints(font, 0xE001)
        assert (paint.Format, paint.Alpha) == (2, wanted)
        assert paint.PaletteIndex == 0xFFFF if stop.colour is None else tuple(entry(font, paint)) == (30, 30, 200, 255)


def test_circles_keep_their_focus_and_size() -> None:
    stops = (Stop(0.0, RED, 1.0), Stop(1.0, PALE, 1.0))
    circle = Gradient(True, (0.4, 0.55, 0.1, 0.5, 0.5, 0.4), stops, "reflect", Matrix(), False)
    font = made({0xE001: [ColourLayer(Fill(gradient=circle, matrix=EM), RING)]})
    (paint,) = paints(font, 0xE001)
    inner, m = paint.Paint, paint.Transform
    scale = inner.r1 / 0.4
    assert (inner.x1, inner.y1) == (0, 0) and inner.r0 == pytest.approx(0.1 * scale, abs=1)
    assert (inner.x0, inner.y0) == pytest.approx((-0.1 * scale, 0.05 * scale), abs=1)
    assert (m.xx * scale, m.yy * scale) == pytest.approx((1024, -1024), rel=1e-3) and (m.xy, m.yx) == (0, 0)
    assert (m.dx, m.dy) == pytest.approx((512, 384), abs=1) and inner.ColorLine.Extend.value == 2
    assert [stop.StopOffset for stop in inner.ColorLine.ColorStop] == [0, 0, 1, 1]


def test_palettes_say_which_ground_they_suit() -> None:
    def table(named: dict[str, dict[str, Colour]], drawn: Colour) -> TTFont:
        layers = {0xE001: [ColourLayer(Fill(drawn), RING)]}
        return opened(FontCompiler(ICONS, INFO, Colours(Palettes.of(named, {drawn}), layers)))

    night = {"hull": PALE}
    several = table({"day": {"hull": RED}, "night": night, "odd": {}}, RED)["CPAL"]
    # what a palette says nothing of stays as it is drawn
    assert [tuple(one[0]) for one in several.palettes] == [(30, 30, 200, 255), (230, 250, 250, 255), (30, 30, 200, 255)]
    assert several.paletteTypes == [1, 2, 1]
    light = table({"moon": night}, PALE)
    assert light["CPAL"].paletteTypes == [2]
    assert [light["name"].getDebugName(label) for label in light["CPAL"].paletteLabels] == ["moon"]


def test_the_colours_of_a_fill() -> None:
    assert colours_of(Fill(RED, 0.5)) == [GLASS] and colours_of(Fill(None, 0.5)) == []
    assert colours_of(Fill(gradient=line(0, 0, 1, 1), matrix=EM)) == [RED]


def test_more_layers_than_a_font_holds_are_refused() -> None:
    layer = ColourLayer(Fill(RED), RING)
    fits = {0xE001: [layer] * 65_535}
    palettes = Palettes.of({}, {RED})
    FontCompiler(ICONS, INFO, Colours(palettes, fits))
    with pytest.raises(OddPegError) as caught:
        FontCompiler(ICONS, INFO, Colours(palettes, {**fits, 0xE002: [layer]}))
    (said,) = caught.value.diagnostics
    assert said.code == "too-many-layers" and said.cure == "leave out icons, or colour, in that bundle"
    assert said.what == "a font holds at most 65,535 glyphs, and with layers of colour there are 65,536"


def test_fonts_of_many_glyphs_keep_every_one() -> None:
    """More than are worked out at once, of sizes that differ, some empty, some overlapping."""
    icons = [Glyph.of(f"sign-{n}", 0xF0000 + n, square(100 + n % 700, n % 50)) for n in range(4_500)]
    icons[1_999] = Glyph.of("sign-1999", 0xF0000 + 1_999, RING)
    compiler = FontCompiler(icons, BARE)
    for file_format in ("ttf", "woff2"):
        font = TTFont(io.BytesIO(compiler.write(file_format, True)))
        glyf, cmap = font["glyf"], font.getBestCmap()
        assert len(font.getGlyphOrder()) >= 4_500
        for n in (0, 1, 1_990, 1_998, 1_999, 2_000, 2_001, 3_999, 4_000, 4_499):
            outline = square(100 + n % 700, n % 50) if n != 1_999 else RING
            points, ends, flags = glyf[cmap[0xF0000 + n]].getCoordinates(glyf)
            assert [*map(tuple, points)] == [*map(tuple, outline.xy.tolist())], n
            assert ends == outline.ends.tolist() and [bool(flag & 1) for flag in flags] == outline.on.tolist()


def test_icons_named_like_builtin_glyphs_do_not_take_their_place() -> None:
    font = opened(FontCompiler([Glyph.of("space", 0xE001, RING), Glyph.of("gap", 0x20, square(90))], BARE))
    cmap, order = font.getBestCmap(), font.getGlyphOrder()
    assert order[0] == ".notdef" and len(set(order)) == len(order)
    assert cmap[0x20] != cmap[0xE001] and font["glyf"][cmap[0x20]].numberOfContours == 1
    plain = opened(FontCompiler(ICONS[:1], BARE))
    assert plain.getBestCmap()[0x20] == "space" and plain["glyf"]["space"].numberOfContours == 0


def test_a_part_keeps_the_layers_of_what_it_keeps() -> None:
    rich = Fill(gradient=line(0, 0, 1, 0), matrix=EM)
    font = FontCompiler(
        ICONS,
        INFO,
        Colours(
            Palettes.of({}, {RED}),
            {
                0xE001: [ColourLayer(Fill(RED), square(9)), ColourLayer(Fill(), square(10))],
                0xE002: [ColourLayer(Fill(RED), square(11)), ColourLayer(Fill(RED), square(12))],
                0xF0000: [ColourLayer(rich, square(13)), ColourLayer(Fill(RED), square(14))],
            },
        ),
    )
    (tables,) = read_tables(font.write("ttf"))
    read = opened(font)
    order, cmap = read.getGlyphOrder(), read.getBestCmap()
    wide = {order.index(name): read["glyf"][name].xMax for name in order if "layer" in name}
    cases = (({0xE001}, {9, 10}), ({0xE002}, {11, 12}), ({0xF0000}, {13, 14}), ({0xE001, 0xF0000}, {9, 10, 13, 14}))
    for codes, sizes in cases:
        kept = glyphs_for(tables, codes, layout=False)
        assert {wide[number] for number in kept if number in wide} == sizes
        assert {order.index(cmap[code]) for code in codes} <= kept and 0 in kept
