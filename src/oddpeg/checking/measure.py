"""Measurements of a drawing and its outline: position and weight of the ink, fine detail, alignment to the grid."""

from __future__ import annotations

import hashlib
import math
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from oddpeg.geometry.contours import ContourSegments
from oddpeg.outline.model import Outline
from oddpeg.outline.placement import Em
from oddpeg.raster.winding import winding
from oddpeg.svg.model import Drawing

_FINE = 6  # samples to a pixel, in both directions
_STRAIGHT = 1 / 8  # pixels: shorter edges are no lines


class Measures(NamedTuple):
    """Measurements of one outline.

    Attributes:
        grid: height of the frame in the drawing's own units.
        ratio: width to height.
        box: ink's left, bottom, right, top as shares of the frame.
        ink: inked share of the frame.
        points, contours: of the outline.
        strokes: widths, in pixels of the grid, ascending.
        off_grid: share of the length of level and upright edges that lies off the grid's lines.
        lost: share of the ink that is finer than a pixel when the em is 16 pixels.
        print: equal for outlines that are equal.
    """

    grid: float
    ratio: float
    box: tuple[float, float, float, float]
    ink: float
    points: int
    contours: int
    strokes: tuple[float, ...]
    off_grid: float
    lost: float
    print: str

    @staticmethod
    def of(values: list[Any]) -> Measures:
        """Return measures from a list of them, as JSON has it."""
        made: Measures = Measures._make(tuple(v) if isinstance(v, list) else v for v in values)
        return made


def measure(drawing: Drawing, outline: Outline, em: Em) -> Measures:
    """Return the measurements of a drawing whose outline has ink."""
    contours, width = outline.contours, outline.advance
    segments = contours.segments().scaled(1, 1j * em.depth)
    left, bottom, right, top = segments.bounds()
    box = (
        float(left.min()) / width,
        float(bottom.min()) / em.units,
        float(right.max()) / width,
        float(top.max()) / em.units,
    )
    return Measures(
        grid=drawing.placed.height,
        ratio=drawing.placed.width / drawing.placed.height,
        box=box,
        ink=float(-contours.areas().sum() / (width * em.units)),
        points=len(contours.z),
        contours=len(outline.ends),
        strokes=_strokes(drawing),
        off_grid=_off_grid(segments, em.units / drawing.placed.height),
        lost=_lost(segments, outline.advance, em.units / 16),
        print=hashlib.blake2b(outline.xy.tobytes() + outline.on.tobytes(), digest_size=12).hexdigest(),
    )


def _strokes(drawing: Drawing) -> tuple[float, ...]:
    widths = {round(s.stroke.width * math.sqrt(abs(s.matrix.determinant)), 2) for s in drawing.shapes if s.stroke}
    return tuple(sorted(widths))


def _off_grid(segments: ContourSegments, pixel: float) -> float:
    """Return which share of straight level and upright edges lies off whole pixels (halves count as on: thin lines
    have them)."""
    start, control, stop = segments[:3]
    way = stop - start
    straight = np.abs(control - (start + stop) / 2) < 1e-9
    level, upright = straight & (way.imag == 0), straight & (way.real == 0)
    long = np.abs(way) > pixel * _STRAIGHT
    size = np.abs(way)[(level | upright) & long]
    at = np.where(level, start.imag, start.real)[(level | upright) & long] / (pixel / 2)
    off = np.abs(at - np.rint(at)) * pixel / 2 > 0.75  # font units: half of one is rounding
    return float(size[off].sum() / size.sum()) if size.sum() else 0.0


def _lost(segments: ContourSegments, advance: int, pixel: float) -> float:
    """Return the share of ink that a square of one pixel cannot get into."""
    step = pixel / _FINE
    edges = segments.scaled(1 / step).flattened(6)
    wide, high = max(1, math.ceil(advance / step)), 16 * _FINE
    ink = winding(edges.start, edges.end, wide, high) != 0
    if not ink.any():
        return 0.0
    brush = _FINE - 1  # a sample of grace on the whole
    core = _spread(np.pad(ink, brush), brush, np.minimum)
    kept = _spread(core[::-1, ::-1], brush, np.maximum)[::-1, ::-1][brush:-brush, brush:-brush]
    return float(1 - (kept & ink).sum() / ink.sum())


def _spread(mask: NDArray[np.bool_], size: int, how: np.ufunc) -> NDArray[np.bool_]:
    """Return the least or greatest of each square of `size` samples to the right of and above every sample."""
    result = mask
    for axis in (0, 1):
        covered = 1
        while covered < size:  # what two spans show together is shown by one twice as long
            step = min(covered, size - covered)
            ahead, here = (result[step:], np.s_[:-step]) if axis == 0 else (result[:, step:], np.s_[:, :-step])
            result = result.copy()
            how(result[here], ahead, out=result[here])  # what lies at the far ends is padding
            covered += step
    return result
