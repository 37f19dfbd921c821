"""Placement: from a drawing's frame to the em."""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import NamedTuple

from oddpeg.geometry.boxes import Box
from oddpeg.geometry.matrix import Matrix

SMALLEST_AUTO = 1000
LARGEST_AUTO = 2048
FALLBACK_AUTO = 1024


class Em(NamedTuple):
    """The square that glyphs are drawn on.

    Attributes:
        units: font units.
        drop: the share of it that lies below the baseline.
    """

    units: int = 1024
    drop: float = 0.125

    @property
    def ascender(self) -> int:
        return self.units - self.depth

    @property
    def depth(self) -> int:
        """How far the em reaches below the baseline (the descender without its sign)."""
        return round(self.units * self.drop)


class ChosenEm(NamedTuple):
    """An em, and whether every grid line of every drawing falls on a whole unit of it."""

    em: Em
    on_grid: bool


def auto_units(heights: Iterable[float]) -> tuple[int, bool]:
    """Return units per em on which every grid line of every drawing falls on a whole unit, and
    whether that was possible (else 1024): the smallest common multiple of 8 and all heights from 1000 to 2048."""
    common = 8
    for height in sorted(set(heights)):
        grid = round(height)
        if abs(height - grid) > 1e-6 or grid < 1:
            return FALLBACK_AUTO, False
        common = math.lcm(common, grid)
        if common > LARGEST_AUTO:
            return FALLBACK_AUTO, False
    units = -(-SMALLEST_AUTO // common) * common
    return (units, True) if units <= LARGEST_AUTO else (FALLBACK_AUTO, False)


def place(box: Box, em: Em, fit: str = "frame") -> tuple[Matrix, int]:
    """Return the map from drawing units to the em, and the advance width.

    frame: the box's height is 1 em, its left edge on the origin; square: the same, centred on 1 em.
    """
    scale = em.units / box[3]
    advance = round(box[2] * scale)
    shift = -box[0] * scale
    if fit == "square":
        shift += (em.units - box[2] * scale) / 2
        advance = em.units
    return Matrix(scale, 0, 0, -scale, shift, em.ascender + box[1] * scale), advance
