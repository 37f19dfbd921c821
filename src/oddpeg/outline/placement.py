"""Placement: from a drawing's frame to the em."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Iterable
from typing import NamedTuple

from oddpeg.geometry.boxes import Box
from oddpeg.geometry.matrix import Matrix

SMALLEST_AUTO = 1000
LARGEST_AUTO = 2048
FALLBACK_AUTO = 1024  # and the best where it suits: powers of two divide grids into equal steps most often
USUAL_DROP = 0.125
_USUAL_GRID = 24
_FEW = 512  # units: fine grids are no pixels


class Em(NamedTuple):
    """The square that glyphs are drawn on.

    Attributes:
        units: font units.
        drop: the share of it that lies below the baseline.
    """

    units: int = 1024
    drop: float = USUAL_DROP

    @property
    def ascender(self) -> int:
        return self.units - self.depth

    @property
    def depth(self) -> int:
        """How far the em reaches below the baseline (the descender without its sign)."""
        return round(self.units * self.drop)

    def at_size(self, px: int) -> Em:
        """Return the em whose baseline lies on a whole pixel where it is px pixels high."""
        return self._replace(drop=round(self.drop * px) / px)

    def places_like(self, other: Em) -> bool:
        """Return whether both have the same units and baseline."""
        return (self.units, self.depth) == (other.units, other.depth)


class ChosenEm(NamedTuple):
    """An em that suits drawings.

    Attributes:
        em: the em.
        on_grid: whether every grid line of every drawing falls on a whole unit of it; None where drawings are placed by
            their ink.
        grid: the commonest height of drawings where the baseline was put on one of its lines, else None.
        suited: what would suit the drawings better, where an earlier choice was kept.
    """

    em: Em
    on_grid: bool | None
    grid: int | None = None
    suited: Em | None = None


class Grids(NamedTuple):
    """The heights of drawings, which are their grids.

    Attributes:
        whole: number of drawings by height, for whole numbers.
        broken: some heights are not whole numbers.
    """

    whole: Counter[int]
    broken: bool

    @staticmethod
    def of(heights: Iterable[float]) -> Grids:
        """Return the grids of drawings of these heights."""
        whole: Counter[int] = Counter()
        broken = False
        for height in heights:
            grid = round(height)
            if abs(height - grid) > 1e-6 or grid < 1:
                broken = True
            else:
                whole[grid] += 1
        return Grids(whole, broken)

    def units(self) -> tuple[int, bool]:
        """Return units per em on which every grid line of every drawing falls on a whole unit, and whether that was
        possible (else 1024): 1024 if it will do, else the smallest common multiple of 8 and all heights from 1000 to
        2048."""
        common = math.lcm(8, *self.whole)
        if not self.broken and FALLBACK_AUTO % common == 0:
            return FALLBACK_AUTO, True
        units = -(-SMALLEST_AUTO // common) * common
        return (units, True) if units <= LARGEST_AUTO and not self.broken else (FALLBACK_AUTO, False)

    def fit(self, units: int) -> bool:
        """Return whether every grid line of every drawing falls on a whole unit."""
        return not self.broken and all(units % grid == 0 for grid in self.whole)

    def few_units(self) -> tuple[int, bool]:
        """Return about 20 units per em for each line of the commonest grid, and whether every grid line of every
        drawing falls on a whole one."""
        least = min(20 * (self.commonest() or _USUAL_GRID), _FEW)
        common = math.lcm(*self.whole)
        units = -(-least // common) * common
        return (units, True) if units <= LARGEST_AUTO and not self.broken else (least, False)

    def commonest(self) -> int | None:
        """Return the commonest grid, the finer of several; None where no height is a whole number."""
        return max(self.whole, key=lambda grid: (self.whole[grid], grid), default=None)


def drop_on(grid: int) -> float:
    """Return the share of the em below the baseline that is nearest to 1/8 and puts the baseline on a line of a grid;
    the larger of two, with which icons stand nearer to the middle of capitals."""
    return math.floor(grid * USUAL_DROP + 0.5) / grid


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
