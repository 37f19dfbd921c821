"""Options and results of outlining."""

from __future__ import annotations

from dataclasses import dataclass, replace
from enum import Enum
from typing import NamedTuple

import numpy as np

from oddpeg.geometry.arrays import Bools, Ints
from oddpeg.geometry.contours import Contours
from oddpeg.outline.placement import Em
from oddpeg.svg.layers import Fill
from oddpeg.svg.model import Translucent


class Method(Enum):
    """How an outline came about: along the true curves; from straight lines; from straight lines that overlap;
    or from straight lines that still differ from the drawing; or not at all, being too tangled."""

    CURVES = 0
    LINES = 1
    OVERLAPPING = 2
    DOUBTFUL = 3
    TANGLED = 4


class ColourMode(Enum):
    """The treatment of colours: none; layers of one colour each; layers with gradients and opacity."""

    NONE = ""
    FLAT = "flat"
    GRADIENTS = "gradients"


class Options(NamedTuple):
    """Options of outlines.

    Attributes:
        em: the em that drawings are placed on.
        fit: placement: "frame", "square" or "ink".
        precision: permitted distance of a curve, in thousandths of the em, in addition to rounding.
        flatness: of polygons for clipping; the same for fills and strokes, so that coincident edges stay coincident.
        translucent: what counts of translucent paint.
        padding: share of the em around the ink, with fit "ink".
        strokes: factor of stroke widths.
        colour: outline colour layers too.
        masters: factors of stroke widths at the ends of an axis.
    """

    em: Em
    fit: str = "frame"
    precision: float = 0.3
    flatness: float = 0.5
    translucent: Translucent = Translucent.AUTO
    padding: float = 0.0
    strokes: float = 1.0
    colour: ColourMode = ColourMode.NONE
    masters: tuple[float, ...] = ()


@dataclass(slots=True)
class Outline:
    """One glyph, outer contours clockwise.

    Attributes:
        xy: (n, 2) font units, y up.
        on: (n,) on-curve.
        ends: (contours,) index of each contour's last point.
        advance: font units.
        cut: ink outside the frame was cut off.
        made: how it came about.
    """

    xy: Ints
    on: Bools
    ends: Ints
    advance: int
    cut: bool = False
    made: Method = Method.CURVES

    @property
    def overlaps(self) -> bool:
        """Whether its contours overlap, for the overlap flag of the glyph."""
        return self.made is Method.OVERLAPPING

    def raised(self, units: int) -> Outline:
        """Return the same outline, so many font units higher."""
        return replace(self, xy=self.xy + np.array([0, units])) if units else self

    @property
    def contours(self) -> Contours:
        """The outline's contours."""
        contour = np.repeat(np.arange(len(self.ends)), np.diff(np.append(-1, self.ends)))
        return Contours(self.xy[:, 0] + 1j * self.xy[:, 1], self.on, contour)


class ColourLayer(NamedTuple):
    """One layer of a colour icon.

    Attributes:
        fill: its paint; the matrix of a gradient maps to font units.
        outline: its shape.
    """

    fill: Fill
    outline: Outline
