"""Fonts made by calls: plain, in colours, along an axis; and fonts as other makers write them."""

from __future__ import annotations

import io
from collections.abc import Callable, Sequence

import numpy as np
from fontTools.ttLib import TTFont

from oddpeg.font.write.axes import Axis, WeightStop
from oddpeg.font.write.compile import FontCompiler
from oddpeg.font.write.glyphset import Glyph
from oddpeg.font.write.info import FontInfo, Ligature, Link, Style
from oddpeg.font.write.palettes import Palettes
from oddpeg.font.write.variations import Variations
from oddpeg.geometry.matrix import Matrix
from oddpeg.outline.model import ColourLayer, Method, Outline
from oddpeg.svg.layers import Fill
from oddpeg.svg.model import Colour, Gradient, Stop
from support.data import DATA


def opened(data: bytes) -> TTFont:
    """A font as an independent reader shows it, nothing worked out anew."""
    return TTFont(io.BytesIO(data), recalcBBoxes=False, recalcTimestamp=False)


def shape(*contours: Sequence[tuple[int, int] | tuple[int, int, bool]], advance: int = 1024) -> Outline:
    """An outline of points; a third member marks controls."""
    points = [point for contour in contours for point in contour]
    ends = np.cumsum([len(contour) for contour in contours]) - 1
    xy = np.array([point[:2] for point in points], dtype=np.int64).reshape(-1, 2)
    return Outline(xy, np.array([len(point) < 3 for point in points], dtype=bool), ends, advance)


def square(size: int, at: int = 0) -> Outline:
    return shape([(at, 0), (at, size), (at + size, size), (at + size, 0)])


RING = shape(
    [(0, 512), (0, 896, True), (512, 896), (1024, 896, True), (1024, 512), (1024, -128, True), (512, -128),
     (0, -128, True)],
    [(256, 512), (300, 100, True), (512, 128), (768, 128, True), (768, 512), (700, 700, True), (256, 640, True)],
)  # fmt: skip
STAIRS = shape([(10 * (k // 2), 10 * ((k + 1) // 2)) for k in range(90)] + [(900, 0)], [(5, 900), (6, 901), (900, 900)])
OVERLAP = Outline(RING.xy, RING.on, RING.ends, 700, made=Method.OVERLAPPING)
ICONS = [
    Glyph.of("anchor", 0xE001, square(600)),
    Glyph.of("beacon-2", 0xE002, RING),
    Glyph.of("übergang", 0xE003, STAIRS),
    Glyph.of("gap", 0xE010, shape(advance=300)),
    Glyph.of("far", 0xF0000, OVERLAP),
]
INFO = FontInfo(
    family="Saltmarsh Signs of the Harbour Office",
    version="2.5",
    units=1024,
    ascender=896,
    descender=-128,
    copyright="© Saltmarsh Ferries",
    designer="Odd Peg",
    licence="CC0-1.0",
    licence_url="https://example.org/licence",
    embedding="editable",
    weight=700,
    ligatures=(Ligature("anchor", 0xE001), Ligature("anchor-2", 0xE002), Ligature("far", 0xF0000)),
    style=Style("Extra Bold", Link.BOLD),
)


def coloured() -> FontCompiler:
    red, night, glass = Colour(200, 30, 30), Colour(10, 20, 60), Colour(200, 30, 30, 0.5)
    stops = (Stop(0.0, red, 1.0), Stop(0.5, None, 0.25), Stop(1.0, night, 1.0))
    line = Gradient(False, (0.0, 0.0, 1.0, 0.5), stops, "reflect", Matrix(), False)
    circles = Gradient(True, (0.4, 0.5, 0.1, 0.5, 0.5, 0.5), stops[:2], "pad", Matrix(), False)
    em = Matrix(1024, 0, 0, -1024, 0, 896)
    layers = {
        0xE001: [ColourLayer(Fill(red), square(600)), ColourLayer(Fill(), square(100, 50))],
        0xE002: [
            ColourLayer(Fill(gradient=line, matrix=em), RING),
            ColourLayer(Fill(gradient=circles, alpha=0.5, matrix=em), square(100, 50)),
            ColourLayer(Fill(None, 0.2), square(200, 7)),
        ],
        0xE003: [ColourLayer(Fill(red, 0.5), STAIRS)],
    }
    named = {"day": {"hull": red, "night": night}, "dusk": {"hull": Colour(90, 0, 0), "night": Colour(1, 2, 3)}}
    glyphs = [glyph._replace(layers=layers.get(glyph.codepoint or 0, [])) for glyph in ICONS]
    return FontCompiler(glyphs, INFO, Palettes.of(named, {red, glass, night}))


def flat() -> FontCompiler:
    """Layers of one colour each, which the older version of the table can hold."""
    red = Colour(200, 30, 30)
    layers = {
        0xE001: [ColourLayer(Fill(red), square(600)), ColourLayer(Fill(), RING)],
        0xE003: [ColourLayer(Fill(red), RING)],
    }
    glyphs = [glyph._replace(layers=layers.get(glyph.codepoint or 0, [])) for glyph in ICONS]
    return FontCompiler(glyphs, INFO, Palettes.of({}, {red}))


def varying() -> FontCompiler:
    axis = Axis(400, (WeightStop(200, 0.5), WeightStop(400, 1.0), WeightStop(500, 1.1), WeightStop(900, 2.0)))
    thick = Outline(RING.xy + np.array([[-3, 300]] * 8 + [[2, 0]] * 7), RING.on, RING.ends, 1024)
    masters = {0xE001: (square(500, 40), square(700, -50)), 0xE002: (RING, thick)}
    return FontCompiler(
        [glyph._replace(masters=masters[code] if (code := glyph.codepoint or 0) in masters else ()) for glyph in ICONS],
        INFO._replace(style=Style(), weight=400),
        variations=Variations(axis, [axis.style(stop.weight) for stop in axis.stops]),
    )


def font_data(name: str) -> bytes:
    """Return a font of another maker, out of its text in `tests/data/fonts`."""
    font, out = TTFont(recalcBBoxes=False, recalcTimestamp=False), io.BytesIO()
    font.importXML(DATA / f"fonts/{name}.ttx")
    font.save(out)
    return out.getvalue()


def text_font() -> bytes:
    """Return letters, one of them made of two, kerning, ligatures."""
    return font_data("quay-sans")


def cubic_font() -> bytes:
    """Return a font of cubic curves, with icons at private codepoints."""
    return font_data("pier-icons")


def plain() -> FontCompiler:
    return FontCompiler(ICONS, INFO)


MADE: dict[str, Callable[[], FontCompiler]] = {"plain": plain, "coloured": coloured, "flat": flat, "varying": varying}
