"""SVG fonts that exist: names, metrics and outlines of their glyphs. Source: SVG 1.1 §20."""

from __future__ import annotations

from typing import NamedTuple

from oddpeg.diagnostics import DrawingError
from oddpeg.svg.document import local_name
from oddpeg.svg.parsed import SvgDocument


class SvgGlyph(NamedTuple):
    """One glyph.

    Attributes:
        name: empty where the font tells none.
        path: path data, y up, in font units.
        advance: font units.
    """

    name: str
    path: str
    advance: float


class SvgFont(NamedTuple):
    """One font.

    Attributes:
        family: its name.
        weight: CSS font-weight.
        units: per em.
        ascent, descent: font units.
        glyphs: by codepoint; ligatures are ignored.
    """

    family: str
    weight: int
    units: int
    ascent: int
    descent: int
    glyphs: dict[int, SvgGlyph]


def read_svg_font(data: bytes) -> SvgFont:
    """Return the first font in an SVG file; raise ValueError where there is none."""
    try:
        root = SvgDocument(data).root
    except DrawingError as problem:
        raise ValueError(f"it is no sound font ({problem.diagnostic.what})") from None
    font = next((e for e in root.iter() if local_name(e) == "font"), None)
    if font is None:
        raise ValueError("it is no font file")
    face = next((e for e in font if local_name(e) == "font-face"), font)
    units = _number(face.get("units-per-em"), 1000)
    usual = _number(font.get("horiz-adv-x"), units)
    glyphs: dict[int, SvgGlyph] = {}
    for element in font:
        text = element.get("unicode") or ""
        if local_name(element) == "glyph" and len(text) == 1:
            advance = _number(element.get("horiz-adv-x"), usual)
            glyphs.setdefault(ord(text), SvgGlyph(element.get("glyph-name") or "", element.get("d") or "", advance))
    weight = face.get("font-weight") or "400"
    return SvgFont(
        face.get("font-family") or font.get("id") or "",
        int(weight) if weight.isdigit() else 700 if weight == "bold" else 400,
        round(units),
        round(_number(face.get("ascent"), units)),
        round(_number(face.get("descent"), 0)),
        glyphs,
    )


def _number(text: str | None, default: float) -> float:
    try:
        return float(text) if text else default
    except ValueError:
        return default
