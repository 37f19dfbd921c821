"""A normalized drawing: the outline written as the simplest SVG, one path that needs no further conversion.

Covers path data of SVG 2 §9.3. Reading it back gives the same glyph, give or take the rounding of where two contours
meet.
"""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np

from oddpeg.geometry.boxes import Box
from oddpeg.geometry.path_data import decimal, path_data
from oddpeg.outline.model import Outline
from oddpeg.outline.placement import Em
from oddpeg.svg.viewport import frame_attributes


def normalized_svg(outline: Outline, em: Em, height: float) -> str:
    """Return an SVG file; its viewBox begins at zero and is `height` high, as the drawing's own was, unless ink
    reaches beyond it."""
    width, path = plain_path(outline, em, height)
    scale = height / em.units
    (x, y), (right, top) = (edge.tolist() for edge in (outline.xy.min(axis=0), outline.xy.max(axis=0)))
    reach = Box(x * scale, (em.ascender - top) * scale, (right - x) * scale, (top - y) * scale)
    frame = frame_attributes(Box(0, 0, float(width), height), reach)
    return f'<svg xmlns="http://www.w3.org/2000/svg" {frame}><path d="{path}"/></svg>\n'


class PlainPath(NamedTuple):
    """A glyph as path data.

    Attributes:
        width: of its frame.
        data: a `d` attribute.
    """

    width: str
    data: str


def plain_path(outline: Outline, em: Em, height: float) -> PlainPath:
    """Return the path data of an outline, in units of which the frame is `height` high, y down."""
    scale = height / em.units
    digits = max(0, math.ceil(-math.log10(scale / 4)))  # a quarter of a font unit: rounding finds the same unit again
    # mirrored, moved down by the ascender, then scaled: in this order, so that the same digits come out
    placed = outline.contours.segments().mirrored().scaled(1, 1j * em.ascender).scaled(scale)
    number = decimal(digits)
    return PlainPath(number(outline.advance * scale), path_data(placed, np.zeros(len(outline.ends), int), 1, number)[0])
