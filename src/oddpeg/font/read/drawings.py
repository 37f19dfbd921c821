"""Glyphs of fonts that exist, as drawings: one plain path each, points where the font has them.

Source: OpenType, glyf and CFF outlines as fontTools reads them; SVG 2 §9.3.
"""

from __future__ import annotations

from typing import Any, NamedTuple

from oddpeg.font.read.containers import read_tables
from oddpeg.font.read.glyphs import glyph_names, opened
from oddpeg.font.read.inspection import facts_of, is_private
from oddpeg.font.read.limits import refuse_large_composites
from oddpeg.geometry.boxes import Box
from oddpeg.geometry.path_data import decimal
from oddpeg.svg.viewport import frame_attributes

_MOST_GLYPHS = 65_535


class GlyphDrawing(NamedTuple):
    """A glyph as an SVG drawing.

    Attributes:
        codepoint: its codepoint in the font.
        name: glyph name, else its ligature, else a name made of the codepoint.
        svg: bytes of the drawing.
    """

    codepoint: int
    name: str
    svg: bytes


class FontDrawings(NamedTuple):
    """The glyphs of a font as drawings.

    Attributes:
        units: per em.
        drop: the share of the em below the baseline.
        glyphs: in order of codepoints.
        locked: why the font's own rights forbid to draw on it; empty where they do not.
    """

    units: int
    drop: float
    glyphs: list[GlyphDrawing]
    locked: str = ""


def font_drawings(data: bytes) -> FontDrawings:
    """Return the icons of a font, its glyphs at private codepoints; all beyond ASCII where it has none. Raise
    ValueError where it is no font, or damaged."""
    font, *others = read_tables(data)
    if others:
        raise ValueError(f"it is a collection of {len(others) + 1} fonts; `oddpeg repack` writes each as a file")
    facts = facts_of(font)
    typed = {code: word for word, code in facts.ligatures.items()}
    glyphs = glyph_names(font.sfnt)
    chosen = [g for g in glyphs if is_private(g.codepoint)] or [g for g in glyphs if g.codepoint > 0x7F]
    lines = next(iter(facts.metrics), None)
    # a line of the font's own height and one of the em have the same middle
    spare = facts.units - (lines.ascender + lines.descender) if lines else facts.units
    depth = min(max(round(spare / 2), 0), facts.units)
    top = facts.units - depth
    drawings = []
    with opened(font.sfnt, lazy=True) as read:
        outlines, cmap, metrics = read.getGlyphSet(), read.getBestCmap() or {}, read["hmtx"].metrics
        refuse_large_composites(read, (cmap[code] for code, _ in chosen[:_MOST_GLYPHS]))
        for code, name in chosen[:_MOST_GLYPHS]:
            glyph = cmap[code]
            path, reach = _path(outlines, glyph, top)
            advance = int(metrics[glyph][0])
            if path and advance > 0:
                frame = frame_attributes(Box(0, 0, advance, facts.units), reach)
                svg = f'<svg xmlns="http://www.w3.org/2000/svg" {frame}><path d="{path}"/></svg>'
                drawings.append(GlyphDrawing(code, name or typed.get(code, "") or f"u{code:04x}", svg.encode()))
    locked = facts.embedding if facts.embedding.startswith("restricted") else ""
    return FontDrawings(facts.units, depth / max(facts.units, 1), drawings, locked)


def _path(outlines: Any, glyph: str, top: int) -> tuple[str, Box]:
    """Return a glyph as path data, y down from `top`, and the box around its points."""
    from fontTools.pens.basePen import BasePen

    number = decimal(3)
    xs: list[float] = []
    ys: list[float] = []

    def point(p: tuple[float, float]) -> str:
        xs.append(p[0])
        ys.append(top - p[1])
        return f"{number(xs[-1])} {number(ys[-1])}"

    class Writer(BasePen):  # type: ignore[misc]  # fontTools has no types
        """A pen that writes path data; its method names are those of the pen protocol."""

        def __init__(self) -> None:
            super().__init__(outlines)
            self.parts: list[str] = []

        def _moveTo(self, p: tuple[float, float]) -> None:  # noqa: N802
            self.parts.append(f"M{point(p)}")

        def _lineTo(self, p: tuple[float, float]) -> None:  # noqa: N802
            self.parts.append(f"L{point(p)}")

        def _qCurveToOne(self, a: tuple[float, float], b: tuple[float, float]) -> None:  # noqa: N802
            self.parts.append(f"Q{point(a)} {point(b)}")

        def _curveToOne(self, *points: tuple[float, float]) -> None:  # noqa: N802
            self.parts.append("C" + " ".join(map(point, points)))

        def _closePath(self) -> None:  # noqa: N802
            self.parts.append("z")

    pen = Writer()
    outlines[glyph].draw(pen)
    if not xs:
        return "", Box(0, 0, 0, 0)
    return "".join(pen.parts), Box(min(xs), min(ys), max(xs) - min(xs), max(ys) - min(ys))
