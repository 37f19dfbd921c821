"""Strokes by calls: the corners of joins and caps, as SVG 2 §13.5 has them, drawn at once and along an axis."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import pytest

from oddpeg.geometry.curves import Maps
from oddpeg.outline.linear_strokes import linear_strokes
from oddpeg.outline.model import Method
from oddpeg.outline.placement import Em
from oddpeg.outline.polygons import STRAIGHT, Segments
from oddpeg.outline.stroke import BEVEL, BUTT, MITER, ROUND, SQUARE, Pens, stroke_polygons
from support.outlines import area, ink, line, outline


def spines(*lines: Sequence[complex], closed: bool = False, matrix: tuple[float, ...] = (1, 0, 0, 1, 0, 0)) -> Segments:
    """Lines from point to point, each a subpath."""
    subpath = np.repeat(np.arange(len(lines)), [len(points) - 1 for points in lines])
    control = np.array([part for points in lines for part in line(*points)])
    ends = np.full(len(lines), closed)
    maps = Maps.of(np.array([matrix]))
    return Segments(
        control, np.ones(len(control), dtype=np.int64), subpath, ends, np.zeros(len(lines), dtype=np.int64), maps
    )


def spine(*points: complex, closed: bool = False, matrix: tuple[float, ...] = (1, 0, 0, 1, 0, 0)) -> Segments:
    return spines(points, closed=closed, matrix=matrix)


def curved(*cubics: list[complex]) -> Segments:
    """Cubics that make one open subpath."""
    each = np.zeros(len(cubics), dtype=np.int64)
    return Segments(np.array(cubics), each + 3, each, np.array([False]), each[:1], Maps.none(1))


def pen(half: float, cap: int, join: int, miter: float = 4.0, side: float = -1.0, count: int = 1) -> Pens:
    """The pen of so many subpaths."""
    return Pens(*(np.full(count, value) for value in (half, cap, join, miter, side)))


def rounded(points: np.ndarray | list[complex]) -> list[complex]:
    return [complex(z.real + 0.0, z.imag + 0.0) for z in np.round(points, 3).tolist()]  # no -0.0


ANGLE = (0, 10, 10 + 10j)
RIGHT, TURN, LEFT = [-1j, 10 - 1j], [11 + 0j, 11 + 10j], [9 + 10j, 9 + 0j, 10 + 0j, 10 + 1j, 1j]
SHAPES = {
    (BUTT, BEVEL): [*RIGHT, *TURN, *LEFT],
    (BUTT, MITER): [*RIGHT, 11 - 1j, *TURN, *LEFT],
    (SQUARE, BEVEL): [*RIGHT, *TURN, 11 + 11j, 9 + 11j, *LEFT, -1 + 1j, -1 - 1j],
    (SQUARE, MITER): [*RIGHT, 11 - 1j, *TURN, 11 + 11j, 9 + 11j, *LEFT, -1 + 1j, -1 - 1j],
}


@pytest.mark.parametrize(("cap", "join"), SHAPES)
def test_corners_of_an_open_line(cap: int, join: int) -> None:
    wanted = rounded(SHAPES[cap, join])
    polygons, _, wild = stroke_polygons(spine(*ANGLE), pen(1, cap, join), 0, 0.5)
    assert rounded(polygons.xy) == wanted and (polygons.curve == STRAIGHT).all() and not wild
    ((contour,),) = linear_strokes(spine(*ANGLE), pen(1, cap, join), 1.0, 0.3)
    assert sorted(rounded(contour.fixed + contour.moved), key=str) == sorted(wanted, key=str) and contour.on.all()
    backward, _, _ = stroke_polygons(spine(*ANGLE[::-1]), pen(1, cap, join), 0, 0.5)
    assert sorted(rounded(backward.xy), key=str) == sorted(wanted, key=str)


TRIANGLE = (0, 10, 10 + 10j, 0)
S = round(0.5**0.5, 3)  # of a diagonal's normal
TIPS = [round(-1 - 2**0.5, 3) - 1j, 11 - 1j, 11 + round(11 + 2**0.5, 3) * 1j]
OUTER = [-1j, 10 - 1j, 11 + 0j, 11 + 10j, complex(10 - S, 10 + S), complex(-S, S)]
INNER = [1j, 10 + 1j, 10 + 0j, 9 + 0j, 9 + 10j, 10 + 10j, complex(10 + S, 10 - S), complex(S, -S), 0j]


def test_corners_of_a_closed_line() -> None:
    for join, outer in ((BEVEL, OUTER), (MITER, [*OUTER, *TIPS])):
        polygons, _, _ = stroke_polygons(spine(*TRIANGLE, closed=True), pen(1, ROUND, join), 0, 0.5)
        sides = [rounded(polygons.xy[polygons.contour == number]) for number in (0, 1)]
        assert [len(polygons.region), polygons.contour.max()] == [2, 1]
        along = [
            rounded(c.fixed + c.moved)
            for c in linear_strokes(spine(*TRIANGLE, closed=True), pen(1, ROUND, join), 1.0, 0.3)[0]
        ]
        for got in (sides, along):
            for found, wanted in zip(got, (outer, INNER), strict=True):
                assert sorted(found, key=str) == sorted(rounded(wanted), key=str)
        # a miter limit of 2 lets the right angle have its tip, not the sharp ones
        limited, _, _ = stroke_polygons(spine(*TRIANGLE, closed=True), pen(1, BUTT, MITER, 2.0), 0, 0.5)
        assert set(rounded(limited.xy)) == set(rounded([*OUTER, *INNER, TIPS[1]]))


@pytest.mark.parametrize("cap", [BUTT, ROUND, SQUARE])
@pytest.mark.parametrize("join", [BEVEL, ROUND, MITER])
@pytest.mark.parametrize("closed", [False, True])
def test_points_along_an_axis_are_those_of_wider_strokes(cap: int, join: int, closed: bool) -> None:
    points = (0, 10, 7 + 9j, -3 + 2j, *([0] if closed else []))
    matrix = (3, 1, -1, 2, 40, 50)
    own = linear_strokes(spine(*points, closed=closed, matrix=matrix), pen(0.75, cap, join), 2.0, 0.3)[0]
    for factor in (0.5, 2.0):
        wider = linear_strokes(spine(*points, closed=closed, matrix=matrix), pen(0.75 * factor, cap, join), 2.0, 0.3)[0]
        assert len(own) == len(wider) == 1 + closed
        for one, other in zip(own, wider, strict=True):
            assert np.abs(one.fixed + factor * one.moved - other.fixed - other.moved).max() < 1e-9
            assert (one.on == other.on).all()


def test_rounds_have_as_many_edges_as_they_need() -> None:
    straight = spine(0, 40)
    for half, tolerance, quarter in ((8.0, 0.5, 3), (1.0, 0.5, 3), (0.1, 0.5, 3), (200.0, 0.5, 12), (9e5, 0.5, 32)):
        polygons, curves, _ = stroke_polygons(straight, pen(half, ROUND, BEVEL), 5, tolerance)
        assert len(polygons.xy) == 4 + 2 * (2 * quarter + 1), half
        arcs = polygons.curve != STRAIGHT
        assert arcs.sum() == 4 * quarter and (curves.degree[polygons.curve[arcs] - 5] == 3).all()
        assert np.abs(np.abs(polygons.xy[arcs] - np.where(polygons.xy[arcs].real > 20, 40, 0)) / half - 1).max() < 3e-4
        steps = polygons.t1[arcs] - polygons.t0[arcs]
        assert steps == pytest.approx(np.full(4 * quarter, 1 / quarter))
    bend = spine(0, 10, 10 + 10 * np.exp(0.4j))
    polygons, _, _ = stroke_polygons(bend, pen(8.0, BUTT, ROUND), 0, 0.5)
    assert (polygons.curve != STRAIGHT).sum() == 1, "a small turn is one step of one arc"
    ((contour,),) = linear_strokes(bend, pen(8.0, BUTT, ROUND), 1.0, 0.3)
    assert (~contour.on).sum() == 1


def test_dots_show_their_caps_alone() -> None:
    dot = spine(3 + 4j, 3 + 4j)
    for side in (1.0, -1.0):
        for cap, count in ((BUTT, 0), (ROUND, 16), (SQUARE, 4)):
            found = linear_strokes(dot, pen(2, cap, MITER, side=side), 1.0, 0.3)[0]
            assert [len(contour.on) for contour in found] == ([count] if count else [])
            for contour in found:
                z = (contour.fixed + contour.moved)[contour.on]
                assert np.abs(z - 3 - 4j) == pytest.approx(2 * (2**0.5 if cap == SQUARE else 1))
                assert side * area(np.column_stack([z.real, z.imag])) > 0
            polygons, _, _ = stroke_polygons(dot, pen(2, cap, MITER, side=side), 0, 0.1)
            assert len(polygons.xy) > 0 if count else len(polygons.xy) == 0


def test_a_dot_after_a_line_is_one() -> None:
    segments = spines((0, 9), (20, 20))
    polygons, _, _ = stroke_polygons(segments, pen(1, SQUARE, MITER, count=2), 0, 0.5)
    xs = [-1, 0, 9, 10, 19, 20, 20, 21]
    assert sorted(rounded(polygons.xy), key=str) == sorted(rounded([x + y for x in xs for y in (-1j, 1j)]), key=str)
    assert [len(found) for found in linear_strokes(segments, pen(1, SQUARE, MITER, count=2), 1.0, 0.3)] == [1, 1]


def test_dots_without_caps_leave_the_lines_beside_them() -> None:
    segments = spines((20, 20), (0, 9), (30, 30), (40, 49))
    polygons, _, _ = stroke_polygons(segments, pen(1, BUTT, MITER, count=4), 0, 0.5)
    assert rounded(polygons.xy) == rounded([-1j, 9 - 1j, 9 + 1j, 1j, 40 - 1j, 49 - 1j, 49 + 1j, 40 + 1j])


def test_a_line_there_and_back_has_no_tip() -> None:
    there_and_back = spine(0, 10, 0)
    polygons, _, _ = stroke_polygons(there_and_back, pen(1, BUTT, MITER, 1e12), 0, 0.5)
    ((contour,),) = linear_strokes(there_and_back, pen(1, BUTT, MITER, 1e12), 1.0, 0.3)
    for points in (polygons.xy, contour.fixed + contour.moved):
        assert points.real.max() == pytest.approx(10) and np.abs(points.imag).max() == pytest.approx(1)


def test_a_full_round_stands_where_a_curve_doubles_back() -> None:
    cusp, middle = [4 + 19j, 20 + 4j, 4 + 4j, 20 + 19j], 12 + 7.75j
    polygons, curves, wild = stroke_polygons(curved(cusp), pen(1.5, BUTT, BEVEL), 0, 0.1)
    disc, tags = polygons.xy[polygons.contour > 0], polygons.curve[polygons.contour > 0]
    assert wild == {0} and np.abs(disc - middle) == pytest.approx(1.5, abs=1e-3) and len(disc) == 64
    assert (curves.degree[tags] == 3).all() and np.abs(curves.control[tags] - middle).max() < 2.2
    _, along = linear_strokes(curved(cusp), pen(1.5, BUTT, BEVEL), 1.0, 0.1)[0]
    assert along.fixed == pytest.approx(middle, abs=1e-2) and along.on.sum() == 8
    back = [z + 40 for z in cusp[::-1]]
    alone, _, _ = stroke_polygons(curved(back), pen(1.5, BUTT, BEVEL), 0, 0.1)
    both, _, _ = stroke_polygons(curved(cusp, back), pen(1.5, BUTT, BEVEL), 0, 0.1)
    assert {*rounded(polygons.xy), *rounded(alone.xy)} <= set(rounded(both.xy)), "each as if it were alone"


@pytest.mark.parametrize("frame", [12, 24, 1024, 4096])
@pytest.mark.parametrize("turn", ["", "scale(-1 1) translate(-{} 0)"])
def test_strokes_unite_with_fills_at_every_size(frame: int, turn: str) -> None:
    unit = frame / 12
    shape = f'd="M{unit * 2} {unit * 2}h{unit * 8}v{unit * 8}h-{unit * 4}v-{unit * 10}"'
    glyph = outline(
        f'<g transform="{turn.format(frame)}"><path fill="none" stroke="#000" stroke-width="{unit}" {shape}/>'
        f'<path d="M{unit * 5} {unit * 5}h{unit * 2}v{unit * 2}h-{unit * 2}z"/></g>',
        f"0 0 {frame} {frame}",
        Em(1200),
    )
    inked = 8.5 + 8 + 4 + 9.5 - 1 + 2  # four bars, less where the last crosses the first, and what the fill adds
    assert glyph.made is Method.CURVES and ink(glyph, 100) == pytest.approx(inked, abs=0.01)
