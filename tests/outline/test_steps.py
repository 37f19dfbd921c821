"""Steps of outlining by themselves, at the limits of what each promises."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

import numpy as np
import pyclipper
import pytest

from oddpeg.outline.clip import Contours, Silhouette, combine, unite
from oddpeg.outline.collect import Step
from oddpeg.outline.dashes import Dashed, dash_all
from oddpeg.outline.polygons import GRID, Polygons
from oddpeg.outline.regions import regions_of
from oddpeg.outline.retrace import chained
from oddpeg.outline.rounding import keep_within, settle
from support.outlines import line


def dashed(*lines: list[list[complex]], pattern: tuple[float, ...], offset: float = 0, closed: bool = False) -> Dashed:
    control = np.array([c for one in lines for c in one])
    starts = np.cumsum([0, *(len(one) for one in lines[:-1])]).tolist()
    return Dashed(control, np.ones(len(control), int), starts, [closed] * len(lines), pattern, offset, 0.1)


def ends_of(path: Dashed) -> list[list[tuple[complex, complex]]]:
    """The two ends of every piece, by dash."""
    (found,) = dash_all([path])
    assert found is not None
    rows = [(complex(np.round(a, 5)), complex(np.round(b, 5))) for a, b in found.control[:, [0, 3]].tolist()]
    bounds = [*found.starts, len(rows)]
    return [rows[low:high] for low, high in pairwise(bounds)]


def test_dashes_are_where_their_lengths_say() -> None:
    ten, nothing = line(0, 10), line(3 + 3j, 3 + 3j)
    assert ends_of(dashed(ten, pattern=(3, 2))) == [[(0, 3)], [(5, 8)]]
    assert ends_of(dashed(ten, pattern=(3, 2), offset=1)) == [[(0, 2)], [(4, 7)], [(9, 10)]]
    assert ends_of(dashed(ten, pattern=(3, 2), offset=-1)) == [[(1, 4)], [(6, 9)]]
    assert ends_of(dashed(ten, pattern=(3, 2), offset=3)) == [[(2, 5)], [(7, 10)]]
    assert ends_of(dashed(ten, pattern=(5, 5))) == [[(0, 5)]], "none that begins where the way ends"
    assert ends_of(dashed(ten, pattern=(2, 3, 1, 1))) == [[(0, 2)], [(5, 6)], [(7, 9)]]
    assert ends_of(dashed(nothing, ten, pattern=(3, 2))) == [[(0, 3)], [(5, 8)]], "a path without length has none"
    assert ends_of(dashed(ten, line(2j, 4 + 2j), pattern=(3, 2))) == [[(0, 3)], [(5, 8)], [(2j, 3 + 2j)]]
    around = line(0, 6, 6 + 6j, 6j, 0)
    assert ends_of(dashed(around, pattern=(8, 4))) == [[(0, 6), (6, 6 + 2j)], [(6 + 6j, 6j), (6j, 4j)]]
    glued = ends_of(dashed(around, pattern=(8, 4), offset=4, closed=True))
    assert glued == [[(6 + 2j, 6 + 6j), (6 + 6j, 2 + 6j)], [(4j, 0), (0, 4)]], "one dash across the start"
    alone = ends_of(dashed(around, pattern=(12, 12), offset=6, closed=True))
    assert alone == [[(6j, 0), (0, 6)]], "and if it is the only one"
    dots = ends_of(dashed(line(0, 6, 6 + 6j, 6j), pattern=(0, 4)))
    assert np.array(dots)[:, 0, 1] == pytest.approx(np.array([0, 4, 6 + 2j, 6 + 6j, 2 + 6j]), abs=1e-4)


def test_dashes_finer_than_any_glyph_leave_the_line_whole() -> None:
    ten = line(0, 10)
    finest, fine = dash_all([dashed(ten, pattern=(0.00249, 0.0025)), dashed(ten, pattern=(0.0026, 0.0026))])
    assert fine is not None and len(fine.control) == 1924 and finest is None
    short = ends_of(dashed(line(0, 0.5), pattern=(0.2, 0.1)))
    assert short == [[(0, 0.2)], [(0.3, 0.5)]]


def test_limits_count_wherever_they_wind() -> None:
    plate: Contours = [[[0, 0], [90, 0], [90, 90], [0, 90]]]
    twice: Contours = [[[10, 10], [50, 10], [50, 50], [10, 50]], [[30, 30], [70, 30], [70, 70], [30, 70]]]
    for kind, wanted in ((pyclipper.CT_INTERSECTION, 2800), (pyclipper.CT_DIFFERENCE, 8100 - 2800)):
        assert sum(map(pyclipper.Area, combine(kind, plate, twice))) == wanted
    assert combine(pyclipper.CT_INTERSECTION, plate, []) == [] == combine(pyclipper.CT_DIFFERENCE, [], plate)
    flat: Contours = [[[0, 0], [9, 0]]]
    assert combine(pyclipper.CT_DIFFERENCE, plate, flat) and unite(flat, pyclipper.PFT_NONZERO, []) == []
    assert sum(map(pyclipper.Area, unite(twice, pyclipper.PFT_EVENODD, []))) == 3200 - 800


def test_plans_paint_in_their_order() -> None:
    plate: Contours = [[[0, 0], [90, 0], [90, 90], [0, 90]]]
    hole: Contours = [[[30, 30], [60, 30], [60, 60], [30, 60]]]
    ink, white = Step(0, False, False), Step(1, True, False)
    limit = ((Step(1, False, False),),)
    plans = {
        (ink,): 8100,
        (ink, white): 7200,
        (white, ink): 8100,
        (ink, white, Step(1, False, False)): 8100,
        (Step(0, False, False, limit),): 900,
        (Step(0, False, False, limit), white): 0,
        (ink, Step(0, True, False, limit)): 7200,
    }
    for sound in (set[int](), {0, 1}):
        silhouette = Silhouette({0: plate, 1: hole}, sound, {0, 1})
        for plan, area in plans.items():
            assert sum(map(pyclipper.Area, silhouette.of(plan))) == area, plan


def ring(first: Sequence[complex], second: Sequence[complex]) -> Polygons:
    """Two contours of four corners each, of one region."""
    zeros = np.zeros(8)
    xy = np.array([*first, *second])
    return Polygons(xy, np.full(8, -1), zeros, zeros, np.repeat([0, 1], 4), np.zeros(2, dtype=np.int64))


def square_of(low: float, high: float) -> Sequence[complex]:
    return [complex(low, low), complex(high, low), complex(high, high), complex(low, high)]


def test_rings_are_wound_as_silhouettes() -> None:
    outer, inner = square_of(0, 90), square_of(20, 70)
    for first, second in ((outer, inner), (outer[::-1], inner), (inner, outer), (inner, outer[::-1])):
        found = regions_of(ring(first, second), [True], set())
        areas = [pyclipper.Area(c) / GRID**2 for c in found.contours[0]]
        assert found.sound == {0} == found.clean and sorted(areas) == [-2500, 8100]


def test_rings_whose_edges_nearly_touch_are_clipped() -> None:
    for gap, clean in ((0.002, False), (0.006, True)):
        reach = 50 - gap
        diamond = [50 + reach + 50j, 50 + (50 + reach) * 1j, 50 - reach + 50j, 50 + (50 - reach) * 1j]
        assert bool(regions_of(ring(square_of(0, 100), diamond), [True], set()).clean) is clean


def test_polygons_are_numbered_anew_when_joined() -> None:
    def part(*regions: int) -> Polygons:
        count, contour = 3 * len(regions), np.repeat(np.arange(len(regions)), 3)
        return Polygons(
            np.zeros(count, dtype=np.complex128),
            np.full(count, -1),
            np.zeros(count),
            np.ones(count),
            contour,
            np.array(regions),
        )

    found = Polygons.join([part(4, 4), part(7), part(1, 2)])
    assert found.contour.tolist() == np.repeat(np.arange(5), 3).tolist() and found.region.tolist() == [4, 4, 7, 1, 2]


def test_chains_begin_where_something_ends() -> None:
    contour = np.array([0, 0, 0, 1, 1, 1, 1, 2])
    goes_on = np.array([True, True, True, True, False, True, False, True])
    found = chained(contour, goes_on)
    assert found.rows.tolist() == [0, 1, 2, 4, 5, 6, 3, 7]
    assert found.first.tolist() == [0, 3, 5, 7] and found.last.tolist() == [2, 4, 6, 7]


def test_points_a_hair_outside_are_moved_to_the_edge() -> None:
    z = np.array([-1 + 5j, 5 - 1j, 12 + 5j, 5 + 12j, -9 + 5j, 5 + 30j, 4.4 + 4.6j])
    found = keep_within(z, np.tile([0.0, 0.0, 11.0, 11.0], (7, 1)))
    assert found.tolist() == [5j, 5, 11 + 5j, 5 + 11j, -9 + 5j, 5 + 30j, 4 + 5j]


def test_points_between_two_controls_are_implied() -> None:
    leaf = np.array([4 + 4j, 6 + 4j, 8 + 0j, 0 + 0j, 2 + 4j])  # the first is midway between the last and the second
    on = np.array([True, False, True, True, False])
    for first in range(5):
        found = settle(np.roll(leaf, -first) * 10, np.roll(on, -first), np.zeros(5, dtype=np.int64))
        assert found.z.tolist() == [0, 20 + 40j, 60 + 40j, 80] and found.on.tolist() == [True, False, False, True]
    drop = np.array([5 + 5j, 8 + 5j, 5 + 0j, 2 + 5j]) * 10  # one point is left, which is not implied
    found = settle(drop, np.array([True, False, True, False]), np.zeros(4, dtype=np.int64))
    assert sorted(found.z.tolist(), key=str) == [20 + 50j, 50 + 0j, 80 + 50j]
