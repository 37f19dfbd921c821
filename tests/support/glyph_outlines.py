"""Glyphs of finished fonts as polygons, their overlaps merged, and how far two of them are apart."""

from __future__ import annotations

from typing import Any

import numpy as np
import pyclipper
from fontTools.pens.basePen import BasePen
from fontTools.ttLib import TTFont
from numpy.typing import NDArray

Polygon = NDArray[np.complex128]
_FINE = 1000  # whole numbers to the unit, for the clipper
_STEPS = np.linspace(0, 1, 33)[1:]


class _Polygons(BasePen):  # type: ignore[misc]  # fontTools has no types
    def __init__(self, glyphs: Any) -> None:
        super().__init__(glyphs)
        self.found: list[list[complex]] = []

    def _moveTo(self, p: tuple[float, float]) -> None:  # noqa: N802
        self.found.append([complex(*p)])

    def _lineTo(self, p: tuple[float, float]) -> None:  # noqa: N802
        self.found[-1].append(complex(*p))

    def _qCurveToOne(self, a: tuple[float, float], b: tuple[float, float]) -> None:  # noqa: N802
        start, middle, end = self.found[-1][-1], complex(*a), complex(*b)
        self.found[-1] += list((1 - _STEPS) ** 2 * start + 2 * _STEPS * (1 - _STEPS) * middle + _STEPS**2 * end)


def merged(font: TTFont, codepoint: int) -> list[Polygon]:
    """Return a glyph in font units; slivers of less than a unit's area are the clipper's own."""
    glyphs = font.getGlyphSet()
    pen = _Polygons(glyphs)
    glyphs[font.getBestCmap()[codepoint]].draw(pen)
    clipper = pyclipper.Pyclipper()
    whole = [[(round(z.real * _FINE), round(z.imag * _FINE)) for z in one] for one in pen.found if len(one) > 2]
    clipper.AddPaths(whole, pyclipper.PT_SUBJECT, True)
    made = clipper.Execute(pyclipper.CT_UNION, pyclipper.PFT_NONZERO, pyclipper.PFT_NONZERO)
    return [np.array([complex(*p) / _FINE for p in one]) for one in made if abs(pyclipper.Area(one)) > _FINE**2]


def apart(one: list[Polygon], other: list[Polygon]) -> NDArray[np.float64]:
    """Return how far points all along each outline are from the other, in font units."""
    return np.concatenate([_distances(one, other), _distances(other, one)])


def _distances(one: list[Polygon], other: list[Polygon]) -> NDArray[np.float64]:
    shares = np.arange(8) / 8
    points = np.concatenate([(p[:, None] + (np.roll(p, -1) - p)[:, None] * shares).ravel() for p in one])
    start = np.concatenate(other)
    edge = np.concatenate([np.roll(p, -1) for p in other]) - start
    found = []
    for some in np.array_split(points, len(points) // 500 + 1):
        gap = some[:, None] - start
        along = np.clip((gap * np.conj(edge)).real / np.maximum(np.abs(edge) ** 2, 1e-9), 0, 1)
        found.append(np.abs(gap - along * edge).min(axis=1))
    return np.concatenate(found)
