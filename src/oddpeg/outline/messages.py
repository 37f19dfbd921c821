"""Notices for the designer about a finished outline."""

from __future__ import annotations

import numpy as np

from oddpeg.diagnostics import Diagnostic
from oddpeg.outline.model import ColourMode, Method, Outline
from oddpeg.svg.model import Drawing, Effect

WIDEST = 32_767  # coordinates have 15 bits and a sign
MOST_CONTOURS = 4094  # FreeType refuses a glyph of 0xFFF and more
MOST_POINTS = 65_535  # numbers of points have 16 bits in a font
_NO_INK = Diagnostic("no-ink", "draws nothing inside its frame", "check that its shapes lie within the viewBox")
TANGLED = Diagnostic(
    "tangled",
    "has so many lines beside and across each other that they cannot be united in reasonable time",
    "simplify the drawing; scribbles and textures make no icon",
)
_TOO_MANY = Diagnostic(
    "too-many-points",
    f"would need more than {MOST_POINTS:,} points, and a font holds no larger glyph",
    "simplify the drawing",
)
_TOO_MANY_PIECES = Diagnostic(
    "too-many-points",
    f"would need more than {MOST_CONTOURS:,} separate outlines, and the most common font engine shows no such glyph",
    "simplify the drawing; textures make no icon",
)
_TOO_WIDE = Diagnostic(
    "too-wide",
    f"would reach further than {WIDEST:,} units, and a font holds no such coordinate",
    "set a smaller font.units_per_em, or give the drawing a frame that is less wide",
)
_CUT = Diagnostic(
    "outside-frame",
    "reaches beyond its frame; what lies outside was cut off, as browsers do",
    "enlarge the viewBox or move the shapes",
)
_MADE = {
    Method.LINES: Diagnostic(
        "straight-lines",
        "was drawn with straight lines, since its curves could not be kept",
        "please report the drawing: its glyph is right, but larger than it need be",
    ),
    Method.OVERLAPPING: Diagnostic(
        "overlapping",
        "was drawn with shapes that overlap, since they could not be united",
        "please report the drawing: its glyph is right in all that honours the overlap flag",
    ),
    Method.DOUBTFUL: Diagnostic(
        "doubtful",
        "differs from its drawing, and no other way to draw it came closer",
        "look at it with `oddpeg proof`, simplify the drawing, and please report it",
    ),
}


def beyond_frame(factor: float, share: float) -> Diagnostic:
    """Return the notice on strokes that are `factor` times as wide, and reach out by a share of the em."""
    message = f"reaches beyond its frame by {share:.1%} of the em where its strokes are {factor:g} times as wide"
    return Diagnostic("beyond-frame", f"{message}; nothing was cut off", "leave more room around the drawing")


def refusal(outline: Outline) -> Diagnostic | None:
    """Return why an outline makes no glyph; None where it makes one."""
    if outline.made is Method.TANGLED:
        return TANGLED
    if not len(outline.on):
        return _NO_INK
    if len(outline.ends) > MOST_CONTOURS:
        return _TOO_MANY_PIECES
    if outline.advance > WIDEST or np.abs(outline.xy).max() > WIDEST:
        return _TOO_WIDE
    return _TOO_MANY if len(outline.on) > MOST_POINTS else None


def colour_remarks(drawing: Drawing, mode: ColourMode) -> list[Diagnostic]:
    """Return notices on colours of a drawing that its layers do not show as drawn."""
    paints = [paint for shape in drawing.shapes for paint in shape.paints]
    remarks = []
    if any(paint.server and paint.gradient is None and paint.colour is None for paint in paints):
        message = "is painted with a pattern, which no layer of colour can show; it takes the colour of the text"
        remarks.append(Diagnostic("colour-pattern", message, "draw its shapes themselves"))
    if mode is ColourMode.GRADIENTS:
        return remarks
    cure = 'set colour = "gradients" in the bundle to keep it'
    if any(paint.gradient is not None for paint in paints):
        remarks.append(Diagnostic("colour-mean", "has a gradient, which became its mean colour", cure))
    faint = {paint.effect for paint in paints if paint.colour is None and not paint.server and paint.alpha < 1}
    if faint:
        fate = "were omitted, since they would hide opaque ones"
        if Effect.NONE not in faint:
            fate = "became opaque"
        elif len(faint) > 1:
            fate += ", or became opaque"
        message = f"has translucent parts in the colour of the text, which flat layers cannot show; they {fate}"
        remarks.append(Diagnostic("colour-opaque", message, cure))
    return remarks


def remarks(outline: Outline) -> list[Diagnostic]:
    """Return notices on an outline that has ink."""
    notes = [_CUT] if outline.cut else []
    return [*notes, _MADE[outline.made]] if outline.made in _MADE else notes
