"""Outlines: areas, winding, tolerance, symmetry, and independence from neighbours."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from oddpeg.geometry.boxes import Box
from oddpeg.outline.placement import Em, Grids, drop_on, place
from support.outlines import EM, UNIT, contours, ink, outline, winding

coordinate = st.floats(1, 23).map(lambda v: round(v, 2))
corner = st.tuples(coordinate, coordinate)
far = st.floats(3.5, 20.5).map(lambda v: round(v, 2))
well_inside = st.tuples(far, far)  # no stroke of these tests reaches the frame from there


def test_areas_of_known_shapes() -> None:
    assert ink(outline('<path d="M4 4h16v16H4z"/>')) == 256
    circle = outline('<circle cx="12" cy="12" r="9"/>')
    assert ink(circle) == pytest.approx(math.pi * 81, rel=1.5e-3)
    middle, off = np.array([12 * UNIT, EM.ascender - 12 * UNIT]), 0.3 * EM.units / 1000 + 0.35
    assert all(np.abs(np.hypot(*(c - middle).T) - 9 * UNIT).max() < off for c in contours(circle)), (
        "curves and rounding"
    )
    assert ink(outline('<path fill="none" stroke="#000" stroke-width="2" d="M4 12h16"/>')) == 32
    assert ink(outline('<path fill="none" stroke="#000" stroke-width="2" stroke-linecap="square" d="M4 12h16"/>')) == 36
    rounded = ink(outline('<path fill="none" stroke="#000" stroke-width="2" stroke-linecap="round" d="M4 12h16"/>'))
    assert rounded == pytest.approx(32 + math.pi, rel=1e-3)
    ring = ink(outline('<circle cx="12" cy="12" r="8" fill="none" stroke="#000" stroke-width="2"/>'))
    assert ring == pytest.approx(math.pi * (81 - 49), rel=3e-3)
    joined = '<path fill="none" stroke="#000" stroke-width="4" stroke-linejoin="{}" d="M4 20V4h16"/>'
    assert ink(outline(joined.format("miter"))) == 16 * 4 * 2
    assert ink(outline(joined.format("bevel"))) == pytest.approx(16 * 4 * 2 - 2, abs=0.05)
    assert ink(outline(joined.format("round"))) == pytest.approx(16 * 4 * 2 - 4 + math.pi, rel=1e-3)


@settings(max_examples=60, deadline=None)
@given(well_inside, well_inside, st.floats(0.2, 4), st.sampled_from(["butt", "square", "round"]))
def test_a_straight_stroke_has_its_area(a: tuple[float, float], b: tuple[float, float], width: float, cap: str) -> None:
    length = math.dist(a, b)
    assume(length >= 0.5)
    body = (
        f'<path fill="none" stroke="#000" stroke-width="{width}" stroke-linecap="{cap}" d="M{a[0]} {a[1]}L{b[0]}'
        f' {b[1]}"/>'
    )
    ends = {"butt": 0.0, "square": width * width, "round": math.pi * width * width / 4}[cap]
    rounding = 2 * (length + 2 * width) * 0.75 / UNIT  # every side may move by three quarters of a unit
    assert ink(outline(body)) == pytest.approx(length * width + ends, rel=0.002, abs=rounding)


@settings(max_examples=60, deadline=None)
@given(st.lists(corner, min_size=3, max_size=7), st.sampled_from(["nonzero", "evenodd"]))
def test_winding_is_one_inside_and_none_outside(points: list[tuple[float, float]], rule: str) -> None:
    body = f'<polygon fill-rule="{rule}" points="{" ".join(f"{x},{y}" for x, y in points)}"/>'
    glyph = outline(body)
    polygon = np.array(points)
    rng = np.random.default_rng(1)
    for x, y in rng.uniform(0, 24, (40, 2)):
        ends = np.roll(polygon, -1, axis=0)
        way = ends - polygon
        t = np.clip(np.sum(([x, y] - polygon) * way, axis=1) / np.maximum(np.sum(way * way, axis=1), 1e-12), 0, 1)
        if np.hypot(*([x, y] - polygon - t[:, None] * way).T).min() < 0.06:
            continue  # on an edge, give or take the rounding
        turns = 0
        for (x0, y0), (x1, y1) in zip(polygon, ends, strict=True):
            if (y0 <= y) != (y1 <= y) and x0 + (y - y0) * (x1 - x0) / (y1 - y0) > x:
                turns += 1 if y1 > y0 else -1
        wanted = bool(turns % 2) if rule == "evenodd" else turns != 0
        assert winding(glyph, x * UNIT, EM.ascender - y * UNIT) == (-1 if wanted else 0)


@pytest.mark.parametrize("cap", ["butt", "round", "square"])
@pytest.mark.parametrize("join", ["miter", "round", "bevel"])
def test_a_segment_without_length_changes_no_line(cap: str, join: str) -> None:
    pen = f'fill="none" stroke="#000" stroke-width="5" stroke-linecap="{cap}" stroke-linejoin="{join}"'
    with_it, without = (outline(f'<path {pen} d="M6 12{nothing}l9 3L8 14"/>') for nothing in ("l0 0", ""))
    assert len(without.on) >= 6, "there is a stroke to compare"
    assert np.array_equal(with_it.xy, without.xy) and np.array_equal(with_it.on, without.on)


def test_points_on_the_designers_grid_stay_on_it() -> None:
    glyph = outline('<path d="M3 5h7v6H3zM13 13h8v8h-8z"/>')
    assert len(glyph.on) == 8
    assert not (glyph.xy[:, 0] % 42).any() and not ((glyph.xy[:, 1] - EM.ascender) % 42).any()


def test_nothing_superfluous_is_left() -> None:
    glyph = outline('<path d="M4 4h8h8v8v8H4v-5V4z"/>')
    assert len(glyph.on) == 4 and glyph.on.all()
    circle = outline('<circle cx="12" cy="12" r="9"/>')
    assert len(circle.on) <= 14 and circle.on.sum() == 1


def test_slivers_vanish_and_thin_features_stay() -> None:
    assert len(outline('<path d="M4 4h16v.001H4z"/><path d="M4 8h9v9z"/>').ends) == 1
    assert ink(outline('<path d="M4 12h16v.1H4z"/>')) == pytest.approx(1.6, rel=0.1)


def test_shapes_alike_get_the_same_points_wherever_they_stand() -> None:
    blob = "M{x} {y}c0-1.7 1.1-3.3 2.9-3.3s3.1 1.2 3.1 3.3-1.7 2.6-3.1 2.6-2.9-1.1-2.9-2.6z"
    places = [(1, 9), (2.5, 17.5), (13, 4), (15.5, 20)]  # a half is 21 units
    outlines = [outline(f'<path d="{blob.format(x=x, y=y)}"/>') for x, y in places]
    first, *others = [one.xy - one.xy[0] for one in outlines]
    assert len(first) > 8
    for other in others:
        assert (other == first).all()


def test_units_per_em_fit_every_grid() -> None:
    assert Grids.of([24]).units() == (1008, True)
    assert Grids.of([16, 32]).units() == (1024, True)
    assert Grids.of([16, 20, 24, 32]).units() == (1440, True)
    assert Grids.of([24, 23]).units() == (1104, True)
    assert Grids.of([2048]).units() == (2048, True) and Grids.of([2056]).units() == (1024, False)
    assert Grids.of([24, 23, 7]).units() == (1024, False)
    assert Grids.of([24.5]).units() == (1024, False)
    assert Grids.of([]).units() == (1024, True)
    assert Grids.of([20]).units() == (1000, True)


def test_the_baseline_lies_on_a_line_of_the_commonest_grid() -> None:
    shares = {12: 2, 15: 2, 16: 2, 18: 2, 20: 3, 24: 3, 28: 4, 32: 4, 48: 6}
    assert {grid: round(drop_on(grid) * grid, 9) for grid in shares} == shares
    assert Grids.of([24, 20, 20, 24.5]).commonest() == 20 and Grids.of([16, 24]).commonest() == 24
    assert Grids.of([24.5]).commonest() is None


def test_placement() -> None:
    em = Em(1000, 0.2)
    matrix, advance = place(Box(0, 0, 48, 24), em)
    assert advance == 2000 and (em.ascender, em.depth) == (800, 200)
    assert (matrix.e, matrix.f) == (0, 800)
    matrix, advance = place(Box(-6, 3, 12, 24), em, "square")
    assert advance == 1000
    left = matrix.a * -6 + matrix.e
    right = matrix.a * 6 + matrix.e
    assert (left, right) == (250, 750) and matrix.d * 3 + matrix.f == 800
