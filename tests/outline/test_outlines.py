"""Outlines: areas, winding, tolerance, symmetry, and independence from neighbours."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from oddpeg.geometry.boxes import Box
from oddpeg.geometry.curves import Curves, Maps, flat_steps, motion, point, power_form, spot
from oddpeg.geometry.matrix import Matrix
from oddpeg.outline.fit import fit
from oddpeg.outline.model import Options
from oddpeg.outline.placement import Em, Grids, drop_on, place
from oddpeg.outline.polygons import GRID, Polygons
from oddpeg.outline.regions import regions_of
from oddpeg.outline.retrace import Runs
from oddpeg.outline.window import outline_drawings
from oddpeg.svg.reader import read_drawing
from support.outlines import EM, UNIT, contours, ink, outline, winding, wound
from support.project import RING, SQUARE

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


@settings(max_examples=40, deadline=None)
@given(st.lists(corner, min_size=4, max_size=4), st.floats(0.5, 4))
def test_mirrored_drawings_make_mirrored_glyphs(points: list[tuple[float, float]], width: float) -> None:
    d = "M{} {}C{} {} {} {} {} {}".format(*(v for p in points for v in p))
    body = (
        f'<path fill="none" stroke="#000" stroke-width="{width}" stroke-linejoin="round" stroke-linecap="round"'
        f' d="{d}"/>'
    )
    plain = ink(outline(body))
    mirrored = ink(outline(f'<g transform="matrix(-1 0 0 1 24 0)">{body}</g>'))
    turned = ink(outline(f'<g transform="rotate(90 12 12)">{body}</g>'))
    assert mirrored == pytest.approx(plain, rel=0.01, abs=0.2)
    assert turned == pytest.approx(plain, rel=0.01, abs=0.2)


@settings(max_examples=30, deadline=None)
@given(st.lists(corner, min_size=3, max_size=6))
def test_drawing_something_twice_changes_nothing(points: list[tuple[float, float]]) -> None:
    body = f'<polygon points="{" ".join(f"{x},{y}" for x, y in points)}"/>'
    assert ink(outline(body + body)) == pytest.approx(ink(outline(body)), abs=0.15)


def distances(polyline: np.ndarray, points: np.ndarray) -> np.ndarray:
    """Distance of each point from a polyline."""
    a, way = polyline[:-1], np.diff(polyline)
    square = np.maximum(np.abs(way) ** 2, 1e-12)
    found = []
    for some in np.array_split(points, len(points) // 64 + 1):  # memory
        gap = some[:, None] - a
        share = np.clip((gap * np.conj(way)).real / square, 0, 1)
        found.append(np.abs(gap - share * way).min(axis=1))
    return np.concatenate(found)


@settings(max_examples=80, deadline=None)
@given(st.lists(st.tuples(st.floats(0, 1000), st.floats(0, 1000)), min_size=4, max_size=4), st.floats(-80, 80))
def test_quadratics_keep_their_tolerance(points: list[tuple[float, float]], offset: float) -> None:
    control = np.array([complex(*p) for p in points])[None]
    curves = Curves(control, np.array([3]), np.array([offset]), Maps.none(1))
    plain = Curves(control, np.array([3]), np.array([0.0]), Maps.none(1))
    along = np.linspace(0, 1, 400)
    ways = [motion(c, np.zeros(400, dtype=int), along)[1] for c in (curves, plain)]
    speed = np.abs(ways[1])
    # cusps, of the curve or of its offset: strokes lay a full round there, and the rest lies inside them
    assume(
        not (
            speed.min() < 0.05 * speed.max()
            or (ways[0] * np.conj(ways[1])).real.min() <= np.abs(ways[1]).min() ** 2 * 0.01
        )
    )
    ends = point(curves, np.zeros(2, dtype=int), np.array([0.0, 1.0]))
    there_and_back = Runs(ends, ends[::-1].copy(), np.array([0, -1]), np.zeros(2), np.ones(2), np.zeros(2, dtype=int))
    fitted = fit(there_and_back, curves, 0.3)
    assert (fitted.z == np.rint(fitted.z)).all()
    dense = point(curves, np.zeros(4001, dtype=int), np.linspace(0, 1, 4001))
    made = fitted.segments()
    t = np.arange(65)[:, None] / 64
    quadratics = (1 - t) ** 2 * made.start + 2 * t * (1 - t) * made.control + t * t * made.stop
    spline = np.append(quadratics[:, :-1].T.ravel(), made.start[-1])  # without the line back
    # the tolerance and what rounding to whole units adds; half as much again, since it holds at samples
    assert distances(dense, spline).max() < 0.95
    assert distances(spline, dense[::25]).max() < 0.95


@settings(max_examples=50, deadline=None)
@given(st.lists(st.tuples(st.floats(-100, 100), st.floats(-100, 100)), min_size=4, max_size=4))
def test_flattening_keeps_its_tolerance(points: list[tuple[float, float]]) -> None:
    control = np.array([complex(*p) for p in points])[None]
    steps = int(flat_steps(control, 0.2)[0])
    power = power_form(control)
    fine = spot(np.repeat(power, 50 * steps + 1, axis=1), np.linspace(0, 1, 50 * steps + 1))
    chords = fine[::50]
    for k in range(steps):
        piece, a, b = fine[50 * k : 50 * k + 51], chords[k], chords[k + 1]
        if abs(b - a) > 1e-9:
            assert np.abs(((piece - a) * np.conj(b - a)).imag / abs(b - a)).max() <= 0.2 + 1e-9


def test_offset_curves_move_as_their_derivative_says() -> None:
    control = np.array([[0, 30 + 60j, 70 - 20j, 100 + 10j]])
    curves = Curves(control, np.array([3]), np.array([7.0]), Maps.of(np.array([[1.2, 0.3, -0.4, -0.9, 5, 6]])))
    t = np.linspace(0.05, 0.95, 19)
    index = np.zeros(19, dtype=int)
    step = 1e-6
    numeric = (point(curves, index, t + step) - point(curves, index, t - step)) / (2 * step)
    assert np.allclose(motion(curves, index, t)[1], numeric, rtol=1e-5)
    assert np.allclose(motion(curves, index, t)[0], point(curves, index, t))


def test_curves_placed_beforehand_run_the_same_way() -> None:
    turned, flipped, skewed = (1.2, 0.5, -0.5, 1.2, 5, 6), (3, 0, 0, -3, 1, 2), (1.2, 0.3, -0.4, -0.9, 5, 6)
    control = np.tile(np.array([0, 30 + 60j, 70 - 20j, 100 + 10j]), (6, 1))
    maps = Maps.of(np.array([turned, flipped, skewed] * 2))
    curves = Curves(control, np.full(6, 3), np.array([7.0, 7, 7, 0, 0, 0]), maps)
    placed = curves.placed()
    assert placed.mapped.tolist() == [False, False, True] * 2, "only what is skewed cannot be placed with its offset"
    t, index = np.tile(np.linspace(0.05, 0.95, 19), (6, 1)), np.arange(6)
    for now, before in zip(motion(placed, index, t), motion(curves, index, t), strict=True):
        assert np.allclose(now, before)


place_on_grid = st.tuples(st.integers(-40_000, 40_000), st.integers(-40_000, 40_000))
scribble = st.lists(place_on_grid, min_size=3, max_size=7)


@st.composite
def star(draw: st.DrawFn) -> list[tuple[int, int]]:
    """A contour that may be seen whole from its middle, either way round; about one of three round the origin."""
    x, y = draw(st.one_of(st.just((0, 0)), place_on_grid))
    radii = draw(st.lists(st.integers(2_000, 40_000), min_size=4, max_size=9))[:: draw(st.sampled_from([1, -1]))]
    turn = draw(st.sampled_from([1, -1])) * 2 * math.pi / len(radii)
    return [(x + round(r * math.cos(turn * k)), y + round(r * math.sin(turn * k))) for k, r in enumerate(radii)]


def turns_around(paths: Sequence[Sequence[Sequence[int]]], at: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """How often polygons go round points (n,), and how far their edges stay away; by the angles under which edges are
    seen."""
    turns, apart = np.zeros(len(at)), np.full(len(at), np.inf)
    for path in paths:
        a = np.array([complex(*p) for p in path])[:, None] - at
        b = np.roll(a, -1, axis=0)
        turns += np.angle(np.where(a == 0, 1, np.conj(a)) * b).sum(axis=0) / (2 * np.pi)
        share = np.clip((np.conj(b - a) * -a).real / np.maximum(np.abs(b - a) ** 2, 1), 0, 1)
        apart = np.minimum(apart, np.abs(a + share * (b - a)).min(axis=0))
    return np.rint(turns).astype(int), apart


@settings(max_examples=200, deadline=None)
@given(st.lists(st.one_of(star(), star(), scribble), min_size=1, max_size=3), st.booleans())
def test_what_is_told_of_regions_without_clipping_is_so(paths: list[list[tuple[int, int]]], even_odd: bool) -> None:
    xy = np.array([complex(*p) / GRID for path in paths for p in path])
    none, contour = np.zeros(len(xy)), np.repeat(np.arange(len(paths)), [len(path) for path in paths])
    told = regions_of(
        Polygons(xy, np.full(len(xy), -1), none, none, contour, np.zeros(len(paths), int)), [even_odd], set()
    )
    places = np.random.default_rng(4).uniform(-60_000, 60_000, (500, 2)) @ [1, 1j]
    turns, apart = turns_around(paths, places)
    filled = turns % 2 != 0 if even_odd else turns != 0
    new_turns, _ = turns_around(told.contours[0], places)
    clear = apart > 10  # grid steps: hubs and areas are rounded
    if told.sound:
        assert (new_turns[clear] >= 0).all() and ((new_turns > 0) == filled)[clear].all()
    if told.clean:
        assert (new_turns[clear] <= 1).all() and told.sound


def test_discs_stars_and_rings_need_no_clipping() -> None:
    turns = np.exp(2j * np.pi * np.arange(10) / 10)
    disc, spiky, hole, twice = (
        turns * 9,
        turns * np.tile([9, 4], 5),
        turns[::-1] * 2,
        (turns * 9)[np.arange(0, 30, 3) % 10],
    )
    for contours_, even_odd, sound, clean in (
        ([disc], False, True, True),
        ([spiky], True, True, True),
        ([spiky, hole], True, True, True),
        ([hole, spiky], False, True, True),
        ([disc, hole[::-1]], False, True, False),
        ([disc, disc + 5], True, False, False),
        ([disc, -disc[::-1] + 5], False, False, False),
        ([twice], True, False, False),
    ):
        xy, contour = np.concatenate(contours_), np.repeat(np.arange(len(contours_)), 10)
        none = np.zeros(len(xy))
        told = regions_of(
            Polygons(xy, np.full(len(xy), -1), none, none, contour, np.zeros(len(contours_), int)), [even_odd], set()
        )
        assert (bool(told.sound), bool(told.clean)) == (sound, clean)


@settings(max_examples=80, deadline=None)
@given(st.lists(corner, min_size=4, max_size=4), st.floats(0.3, 6), st.sampled_from(["round", "bevel", "miter"]))
def test_strokes_keep_their_width_in_cusps_and_bends(
    points: list[tuple[float, float]], width: float, join: str
) -> None:
    fine = Em(16384)  # rounding is then far below what is measured
    d = "M{} {}C{} {} {} {} {} {}".format(*(v for p in points for v in p))
    glyph = outline(
        f'<path fill="none" stroke="#000" stroke-width="{width}" stroke-linecap="round" stroke-linejoin="{join}"'
        f' d="{d}"/>',
        "-6 -6 36 36",
        fine,
    )
    unit = fine.units / 36
    t = np.linspace(0, 1, 4001)
    spine = spot(power_form(np.array([[complex(*p) for p in points]])).repeat(4001, axis=1), t)
    assert len(glyph.on) > 2
    polygons = contours(glyph)
    edge = np.concatenate([polygon @ [1, -1j] for polygon in polygons])
    places = (edge + 1j * fine.ascender) / unit - complex(6, 6)
    # 0.3 thousandths of the em: what curves may stray by where they are sampled; half as much again between
    beyond = distances(spine[::4], places) - width / 2
    assert beyond.max() < 0.00048 * 36, "no ink farther out than the pen reaches"
    rng = np.random.default_rng(2)
    speed = np.abs(np.diff(spine))
    bend = np.abs(np.angle(np.diff(spine)[1:] / np.where(speed[:-1] > 0, np.diff(spine)[:-1], 1))) / np.maximum(
        speed[1:], 1e-9
    )
    # the pen's inner side runs backwards there and may wind a hole, as it does in browsers
    assume(not (bend * width / 2 > 0.9).any())
    for k in rng.choice(3999, 30, replace=False).tolist():
        way = (spine[k + 1] - spine[k]) / max(abs(spine[k + 1] - spine[k]), 1e-12)
        for side in (1j, -1j):
            inside = spine[k] + side * way * (width / 2 - 0.0005 * 36)
            assert wound(polygons, (inside.real + 6) * unit, fine.ascender - (inside.imag + 6) * unit) != 0


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


def test_outlines_do_not_depend_on_their_batch() -> None:
    bodies = [SQUARE, RING, SQUARE.replace("M4 4", "M5 5"), RING.replace('r="8"', 'r="6.5"')] * 5
    drawings = [read_drawing(b.encode()) for b in bodies]
    together = outline_drawings(drawings, Options(EM))
    assert all(len(glyph.on) >= 4 for glyph in together)
    for drawing, glyph in zip(drawings, together, strict=True):
        alone = outline_drawings([drawing], Options(EM))[0]
        assert np.array_equal(alone.xy, glyph.xy) and np.array_equal(alone.on, glyph.on)
        assert np.array_equal(alone.ends, glyph.ends)


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


def test_matrices_compose_as_svg_writes_them() -> None:
    move, grow = Matrix(e=5, f=7), Matrix(a=2, d=3)
    assert move.compose(grow) == Matrix(2, 0, 0, 3, 5, 7)
    assert grow.compose(move) == Matrix(2, 0, 0, 3, 10, 21)
    maps = Maps.of(np.array([[2, 0.5, -0.3, 3, 5, 7]]))
    assert maps.place(np.array([1 + 2j]))[0] == pytest.approx(complex(2 - 0.6 + 5, 0.5 + 6 + 7))


def test_edges_of_a_fill_and_a_stroke_that_coincide_become_one() -> None:
    ring = '<circle cx="12" cy="12" r="9.25" fill="none" stroke="#000" stroke-width="1.5"/>'
    both = outline('<path d="M2 12a10 10 0 1 1 20 0 10 10 0 1 1-20 0z"/>' + ring)
    assert len(both.on) <= 30, (
        "little more than the disc or the ring alone: the two edges do not weave through each other"
    )
