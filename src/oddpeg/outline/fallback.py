"""Check of every outline against the painted regions, and other ways to make wrong ones.

First the clipped polygon itself, without curves; then every region separately, overlapping with the same winding and
the overlap flag set.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from itertools import chain
from typing import NamedTuple

import numpy as np

from oddpeg.geometry.arrays import Bools, Ints, Points
from oddpeg.geometry.contours import Contours
from oddpeg.geometry.ragged import distinct, neighbours, ragged_index
from oddpeg.outline.clip import Contours as GridContours
from oddpeg.outline.clip import Spot, keep_within, rule_of, unite
from oddpeg.outline.model import Method
from oddpeg.outline.polygons import GRID
from oddpeg.outline.rounding import settle
from oddpeg.outline.verify import FinishedOutlines, Painted, disagree

_ROUNDED = 0.6  # font units: how far a whole contour may move by rounding
_BENT = 0.9  # thousandths of the em: and by flattening and approximation together


class Clipped(NamedTuple):
    """Silhouettes from the clipper.

    Attributes:
        z: (n,) grid steps.
        contour: (n,) ascending.
        icon: (contours,).
    """

    z: Points
    contour: Ints
    icon: Ints

    @staticmethod
    def of(rows: list[Spot], sizes: list[int], icons: list[int]) -> Clipped:
        """Return contours out of all their points in a row, and the size and icon of each; every contour is turned
        round, from the clipper's sense to that of glyphs."""
        z = np.fromiter(chain.from_iterable(rows), dtype=np.float64, count=2 * len(rows)).view(np.complex128)
        size = np.array(sizes, dtype=np.int64)
        contour, position = ragged_index(size)
        return Clipped(z.take((np.cumsum(size) - 1).take(contour) - position), contour, np.array(icons, dtype=np.int64))

    def settled(self, keep: Bools) -> Contours:
        """Return the contours for which `keep` (by contour) is set, as outlines of straight lines."""
        rows = keep[self.contour]
        return settle(self.z[rows] * (1 / GRID), np.ones(int(rows.sum()), dtype=bool), self.contour[rows])


@dataclass(slots=True)
class Fallbacks:
    """Outlines to be accepted.

    Attributes:
        contours: of these icons.
        icon: by contour ordinal.
        how: of the icons that are not along their curves.
    """

    contours: Contours
    icon: Ints
    how: dict[int, Method] = field(default_factory=dict)


def _strayed(clipped: Clipped, settled: Contours, unit: float) -> Bools:
    """Return for each clipped contour whether its outline's area is farther from the polygon's than rounding,
    flattening and curve tolerance explain: no contour is too small to be missed."""
    z = clipped.z * (1 / GRID)
    contour = clipped.contour
    if not len(z):
        return np.zeros(0, dtype=bool)
    wanted = Contours(z, np.ones(len(z), dtype=bool), contour).areas()
    _, after = neighbours(contour)
    around = np.bincount(contour, weights=np.abs(z.take(after) - z))
    got = np.zeros(len(wanted))
    if len(settled.on):
        areas = settled.areas()
        got[: len(areas)] = areas
    result: Bools = np.abs(got - wanted) > (_ROUNDED + _BENT * unit) * around + 2
    return result


def _wrong(painted: Painted, contours: Contours, icon: Ints, unit: float) -> Ints:
    return disagree(painted, FinishedOutlines(contours.z, contours.on, contours.contour, icon), unit)


def _joined(a: Contours, b: Contours) -> Contours:
    """Return contours of both, in the order of their ordinals."""
    number = np.concatenate([a.contour, b.contour])
    rank = np.argsort(number, kind="stable")
    return Contours(np.concatenate([a.z, b.z])[rank], np.concatenate([a.on, b.on])[rank], number[rank])


def replace_wrong(
    painted: Painted, regions: dict[int, GridContours], clipped: Clipped, settled: Contours, unit: float
) -> Fallbacks:
    """Return outlines that show the painted regions. regions: grid contours by region; unit: a thousandth of the em."""
    result = Fallbacks(settled, clipped.icon)
    wrong = distinct(
        np.append(clipped.icon[_strayed(clipped, settled, unit)], _wrong(painted, settled, clipped.icon, unit))
    )
    if not len(wrong):
        return result
    again = np.isin(clipped.icon, wrong)
    result.contours = _joined(settled.keep(~again[settled.contour]), clipped.settled(again))
    result.how = dict.fromkeys(wrong.tolist(), Method.LINES)
    still = _wrong(painted.only(wrong), result.contours.keep(again[result.contours.contour]), clipped.icon, unit)
    for number in still.tolist():
        _overlap(painted, regions, number, result, unit)
    return result


def _overlap(painted: Painted, regions: dict[int, GridContours], number: int, result: Fallbacks, unit: float) -> None:
    """Make one icon from overlapping regions, if they show the painted regions."""
    plan = painted.plans[number]
    rows: list[Spot] = []
    sizes: list[int] = []
    for step in plan:
        alone = unite(regions.get(step.region, []), rule_of(step), [])
        for path in keep_within(alone, *(round(v * GRID) for v in painted.frames[number].tolist())):
            rows += path
            sizes.append(len(path))
    layers = Clipped.of(rows, sizes, [number] * len(sizes))
    outline = layers.settled(np.ones(len(sizes), dtype=bool))
    only = painted.only(np.array([number]))
    if any(s.white or s.clips for s in plan) or len(_wrong(only, outline, layers.icon, unit)):
        result.how[number] = Method.DOUBTFUL
        return
    result.how[number] = Method.OVERLAPPING
    # contours stay grouped by icon: the new ones come after the last icon's ordinals and are sorted by icon
    kept = result.contours.keep(result.icon[result.contours.contour] != number)
    count = len(result.icon)
    icon = np.concatenate([result.icon, layers.icon])
    rank = np.argsort(icon, kind="stable")
    place = np.empty_like(rank)
    place[rank] = np.arange(len(rank))
    both = _joined(
        Contours(kept.z, kept.on, place[kept.contour]), Contours(outline.z, outline.on, place[outline.contour + count])
    )
    result.contours, result.icon = both, icon[rank]
