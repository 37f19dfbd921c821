"""Glyphs as straight edges, and how far two of them differ: in their outlines, and in their colours.

Coordinates are in ems, y up.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from oddpeg.geometry.matrix import Matrix
from oddpeg.raster.colours import TEXT_COLOUR, PaintedLayer, Picture, paint_over
from oddpeg.raster.coverage import SAMPLES, Coverage, shrunk
from oddpeg.raster.paints import Solid
from oddpeg.raster.winding import Points, winding

Ground = tuple[float, float, float]  # red, green, blue, 0 to 1
_PX = 256  # to the em, when outlines are held against each other
_ROUNDING = 0.0006  # em: how far edges may lie apart on average and still be the same drawing, rounded otherwise
_SOLID_STEP, _GRADIENT_STEP = 0.5 / 255, 2.5 / 255  # of a channel: another colour; more than stops are rounded
_DROP = 0.125  # share of the em below the baseline
_MARGIN = 0.25  # em, around what is painted
_GROUND: Ground = (0.55, 0.42, 0.61)


@dataclass(frozen=True, slots=True)
class StraightGlyph:
    """One glyph.

    Attributes:
        start, end: (n,) of its straightened edges.
        advance: in ems.
        palettes: its layers of colour in the colours of each palette; none where it follows the colour of the text.
    """

    start: Points
    end: Points
    advance: float
    palettes: tuple[tuple[PaintedLayer, ...], ...] = ()

    def layers(self, palette: int) -> tuple[PaintedLayer, ...]:
        """Return what is painted: the layers of colour, or the outline in the colour of the text. A glyph that has
        fewer palettes shows its first."""
        if not self.palettes:
            return (PaintedLayer(self.start, self.end, Solid(TEXT_COLOUR)),)
        return self.palettes[palette if palette < len(self.palettes) else 0]

    def mask(self, px: int, drop: float, margin: float = _MARGIN) -> NDArray[np.bool_]:
        """Return where there is ink, on an em of px pixels with its baseline `drop` ems up and a margin around it."""
        size = round(px * (1 + 2 * margin))
        wide = max(1, round(px * (self.advance + 2 * margin)))
        place = [np.conj(z) * px + complex(margin * px, px * (1 - drop + margin)) for z in (self.start, self.end)]
        inked: NDArray[np.bool_] = winding(place[0], place[1], wide, size) != 0
        return inked


def difference(a: StraightGlyph, b: StraightGlyph) -> float:
    """Return the share of the ink of both that is not common; 0 where they differ by rounding at most."""
    if _same_edges(a, b):
        return 0.0
    first, second = (_wide(s.mask(_PX, _DROP), max(a.advance, b.advance)) for s in (a, b))
    apart = first ^ second
    around = max(float(np.abs(s.end - s.start).sum()) for s in (a, b)) * _PX
    if not _wider_than_rounding(apart) and apart.sum() <= _ROUNDING * _PX * max(around, 1):
        return 0.0
    return float(apart.sum() / max(1, (first | second).sum()))


def colour_difference(a: StraightGlyph, b: StraightGlyph, palette: int) -> float:
    """Return the share of the ink that both have that has another colour in a palette; 0 where only edges of layers
    differ by rounding."""
    old, new = a.layers(palette), b.layers(palette)
    if len(old) == len(new) and all(x.paint == y.paint and _same_edges(x, y) for x, y in zip(old, new, strict=True)):
        return 0.0
    wide = max(a.advance, b.advance)
    both = np.logical_and(*(_wide(s.mask(_PX, _DROP), wide) for s in (a, b)))
    before, now = (layers_picture(layers, wide, _PX) for layers in (old, new))
    solid = all(isinstance(layer.paint, Solid) for layer in (*old, *new))
    apart = both & (np.abs(before - now).max(axis=2) > (_SOLID_STEP if solid else _GRADIENT_STEP))
    return float(apart.sum() / both.sum()) if _wider_than_rounding(apart) else 0.0


def layers_picture(
    layers: Iterable[PaintedLayer], advance: float, px: int, ground: Ground = _GROUND, margin: float = _MARGIN
) -> Picture:
    """Return layers painted over each other, one sample a pixel: an em of px pixels, and a margin around it in ems. The
    default ground is a colour that drawings rarely have."""
    size = round(px * (1 + 2 * margin))
    canvas: Picture = np.full((size, max(1, round(px * (advance + 2 * margin))), 3), ground)
    plane = Matrix(px, 0, 0, -px, margin * px, (1 - _DROP + margin) * px)  # ems, y up → pixels
    for start, end, paint in layers:
        paint_over(canvas, StraightGlyph(start, end, advance).mask(px, _DROP, margin), paint, plane)
    return canvas


def _same_edges(a: StraightGlyph | PaintedLayer, b: StraightGlyph | PaintedLayer) -> bool:
    return (
        len(a.start) == len(b.start)
        and np.allclose(a.start, b.start, atol=1e-9)
        and np.allclose(a.end, b.end, atol=1e-9)
    )


def _wider_than_rounding(apart: NDArray[np.bool_]) -> bool:
    """Return whether pixels that differ lie closer together than rounding of coordinates can make them."""
    return bool((apart[1:, 1:] & apart[:-1, 1:] & apart[1:, :-1] & apart[:-1, :-1]).any())


def _wide(mask: NDArray[np.bool_], advance: float) -> NDArray[np.bool_]:
    """Return a mask widened for an advance, so that two can be laid over each other."""
    width = max(mask.shape[1], round(_PX * (advance + 2 * _MARGIN)))
    return np.pad(mask, ((0, 0), (0, width - mask.shape[1])))


def coverage(shape: StraightGlyph, px: int, drop: float = _DROP) -> Coverage:
    """Return a picture of a glyph, its em px pixels high, without margin. drop: share of the em below the baseline."""
    fine = shape.mask(px * SAMPLES, drop, 0.0)
    high, wide = (size // SAMPLES * SAMPLES for size in fine.shape)
    return shrunk(fine[:high, :wide])
