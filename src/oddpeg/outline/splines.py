"""The fewest quadratics that follow spans within a tolerance, on whole font units.

A spline of m controls has its inner joints midway between them, so that TrueType can leave those joints out. Its
controls are found by least squares on the distances of points of the span, in a few Gauss-Newton steps in which the
points farthest off count most. A spline is taken if it keeps within the tolerance after rounding.
"""

from __future__ import annotations

from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from oddpeg.geometry.arrays import Bools, Floats, Ints, Points
from oddpeg.geometry.vectors import angle, cross, dot
from oddpeg.outline.spans import Spans, Traced

MOST = 7  # controls: beyond that, halving the span is leaner
_STEEPEST = np.radians(80)  # what one quadratic may turn
_WASTE = np.radians(12)  # what a spline may turn more than its span: more is a loop or a ripple
_PATIENCE = (12, 3, 1.5, 0)  # by attempt, how many tolerances off is still worth another one
_SLIP, _LOOSE_SLIP = 0.5, 3  # font units that points may lie apart along a spline: in the end, and on the way
_STRICT = 0.5  # of the tolerance at first: splines of tangents lie on one side of their curves, later ones on both
_GRAIN = 2.0**-16  # of a font unit, of a unit direction, of a radian
_GAIN = 0.6  # of what the cube law promises of more controls, for they often do better


class FitProblem(NamedTuple):
    """Spans to be followed, each seen from where its spline begins and measured in whole grains, so that spans of the
    same shape are the same problem wherever they lie.

    Attributes:
        origin: (spans,) whole font units, where the splines begin.
        traced: points along the spans.
        end: (spans,) whole font units, where the splines end.
        ways: (spans, 2) unit directions at both ends.
        held: (spans, 2) whether the splines must keep those directions.
        allowed: (spans,) font units.
    """

    origin: Points
    traced: Traced
    end: Points
    ways: Points
    held: Bools
    allowed: Floats

    @staticmethod
    def of(spans: Spans, traced: Traced, rounding: float) -> FitProblem:
        """Return the problem of fitting spans. rounding: font units that whole units may add to the tolerance.
        Directions are kept where the contour goes on smoothly, and along the axes."""
        start, end = np.rint(spans.start), np.rint(spans.end)
        aside = [np.abs(cross(spans.ways[:, 0], start - spans.start)), np.abs(cross(spans.ways[:, 1], end - spans.end))]
        level = (spans.ways.real == 0) | (spans.ways.imag == 0)
        allowed = np.maximum(spans.allowed + rounding, np.maximum(*aside) + 0.05)
        seen = Traced(_in_grains(traced.z - start[:, None]), _in_grains(traced.way), _in_grains(traced.turn))
        return FitProblem(start, seen, end - start, _in_grains(spans.ways), spans.held | level, _in_grains(allowed))

    def take(self, rows: Ints) -> FitProblem:
        return FitProblem(
            self.origin.take(rows),
            self.traced.take(rows),
            self.end.take(rows),
            self.ways.take(rows, 0),
            self.held.take(rows, 0),
            self.allowed.take(rows),
        )

    def alike(self) -> _Alike:
        """Return which spans have the same shape: rounded corners and circles come again and again."""
        z, way, turn = self.traced
        points = np.concatenate([z, way, self.end[:, None], self.ways], axis=1)
        others = [turn[:, None], self.allowed[:, None], self.held]
        key = np.concatenate([points.view(np.float64), *others], axis=1) + 0.0  # no -0.0
        rows = key.view(np.dtype((np.void, key.itemsize * key.shape[1])))[:, 0]
        _, first, shape = np.unique(rows, return_index=True, return_inverse=True)
        return _Alike(first, shape)


class _Alike(NamedTuple):
    """Spans by their shape.

    Attributes:
        first: (shapes,) a span of each.
        shape: (spans,) of each span.
    """

    first: Ints
    shape: Ints

    def rows_of(self, shapes: Ints) -> tuple[Ints, Ints]:
        """Return the spans that have one of these shapes, and for each the place of its shape among them."""
        place = np.full(len(self.first), -1)
        place[shapes] = np.arange(len(shapes))
        of_span = place.take(self.shape)
        rows = np.flatnonzero(of_span >= 0)
        return rows, of_span.take(rows)


def _in_grains(values: NDArray[Any]) -> NDArray[Any]:
    """Return values rounded to whole grains, which is far finer than anything that shows."""
    rounded: NDArray[Any] = np.rint(values / _GRAIN) * _GRAIN
    return rounded


class Fitted(NamedTuple):
    """Splines that keep within the tolerance.

    Attributes:
        rows: (k,) which spans they follow.
        controls: (k, m) whole font units.
    """

    rows: Ints
    controls: Points


class _Spots(NamedTuple):
    """Points of splines at parameters from 0 to the number of controls, compared with the points of spans.

    Attributes:
        way: (n, k) derivatives.
        gap: (n, k) from the spline's point to the span's.
        piece: (n, k) the quadratic each lies on.
        inside: (n, k) how far along it.
    """

    way: Points
    gap: Points
    piece: Ints
    inside: Floats

    @staticmethod
    def of(problem: FitProblem, controls: Points, u: Floats) -> _Spots:
        count = controls.shape[1]
        middle = (controls[:, :-1] + controls[:, 1:]) / 2
        begin = np.concatenate([np.zeros_like(middle, shape=(len(u), 1)), middle], axis=1)
        ahead = controls - begin
        bend = np.concatenate([middle, problem.end[:, None]], axis=1) - controls - ahead
        piece = np.minimum(u.astype(np.int64), count - 1)
        inside = u - piece
        flat = piece + np.arange(len(u))[:, None] * count
        ahead, bend, s = ahead.take(flat), bend.take(flat), inside.astype(np.complex128)
        z = begin.take(flat) + s * (2 * ahead + s * bend)
        return _Spots(2 * (ahead + s * bend), problem.traced.z[:, 1:-1] - z, piece, inside)

    def take(self, rows: Ints) -> _Spots:
        way, gap, piece, inside = self
        return _Spots(way.take(rows, 0), gap.take(rows, 0), piece.take(rows, 0), inside.take(rows, 0))

    def nearer(self) -> Floats:
        """Return the parameters (n, k) of the splines' points nearest to the spans' after a Newton step."""
        way = self.way
        speed = np.maximum(way.real * way.real + way.imag * way.imag, 1e-12)
        return self.piece + self.inside + dot(way, self.gap) / speed

    def distance(self, slip_allowed: float) -> Floats:
        """Return the largest distance (n,) across each spline, or in all where points lie farther apart along it than
        is allowed: they are not nearest to each other then."""
        turned = np.conj(self.way) * self.gap * (1 / np.maximum(np.abs(self.way), 1e-9))
        across, slip = np.abs(turned.imag), np.abs(turned.real)
        distances: Floats = np.where(slip < slip_allowed, across, across + slip).max(axis=1)
        return distances


def _intersections(traced: Traced, count: int) -> Points:
    """Return controls (n, count) where the directions at equal steps along the spans meet, if they do."""
    intervals = traced.z.shape[1] - 1
    at = np.rint(np.arange(count + 1) * (intervals / count)).astype(np.int64)
    z, way = traced.z[:, at], traced.way[:, at]
    gap = np.diff(z, axis=1)
    v0, v1 = way[:, :-1], way[:, 1:]
    det = cross(v0, v1)
    parallel = np.abs(det) < 1e-6
    safe = np.where(parallel, 1.0, det)
    reach, back = cross(gap, v1) / safe, cross(gap, v0) / safe
    most = 2 * np.abs(gap)
    meets = ~parallel & (reach > 0) & (reach < most) & (back < 0) & (back > -most)
    return np.where(meets, z[:, :-1] + reach * v0, z[:, :-1] + gap / 2)


def _pull(spots: _Spots, count: int) -> Floats:
    """Return how far each control (last axis) moves each spot with it."""
    s, r = spots.inside, 1 - spots.inside
    first, last = r * r / 2, s * s / 2
    share = 2 * s * r + np.where(spots.piece > 0, first, 0) + np.where(spots.piece < count - 1, last, 0)
    pull = np.zeros((*s.shape, count))
    for j in range(count):
        pull[:, :, j] = np.where(spots.piece == j, share, 0)
        if j > 0:
            pull[:, :, j] += np.where(spots.piece == j - 1, last, 0)
        if j < count - 1:
            pull[:, :, j] += np.where(spots.piece == j + 1, first, 0)
    return pull


def _freedom(problem: FitProblem, count: int) -> tuple[Points, Bools]:
    """Return the direction (n, count) in which each control may move, and whether it may move across it too."""
    along = np.ones((len(problem.end), count), dtype=np.complex128)
    across = np.ones((len(problem.end), count), dtype=bool)
    for column, side in ((-1, 1), (0, 0)):
        held = problem.held[:, side]
        along[held, column] = problem.ways[held, side]
        across[held, column] = False
    return along, across


def _moved(problem: FitProblem, controls: Points, spots: _Spots) -> Points:
    """Return the controls after one Gauss-Newton step towards the points of the spans, which `spots` are nearest to."""
    count = controls.shape[1]
    normal = 1j * spots.way / np.maximum(np.abs(spots.way), 1e-9)
    miss = dot(normal, spots.gap)
    off = np.abs(miss)
    weight = 0.1 + (off / np.maximum(off.max(axis=1, keepdims=True), 1e-9)) ** 2
    along, across = _freedom(problem, count)
    slope = np.conj(normal)[:, :, None] * along[:, None, :]
    pull = _pull(spots, count)
    slopes = np.concatenate([slope.real * pull, -slope.imag * pull * across[:, None, :]], axis=2)
    weighted = (slopes * weight[:, :, None]).transpose(0, 2, 1)
    square = np.matmul(weighted, slopes)
    index = np.arange(2 * count)
    square[:, index, index] += 1e-9 + 1e-4 * square[:, index, index].mean(axis=1, keepdims=True)
    move = np.linalg.solve(square, np.matmul(weighted, miss[:, :, None]))[:, :, 0]
    result: Points = controls + along * (move[:, :count] + 1j * move[:, count:] * across)
    return result


def _wasteful(problem: FitProblem, controls: Points) -> Bools:
    """Return which splines turn more than their spans: their outlines may be farther from the curves than the curves
    are from them."""
    legs = np.diff(np.concatenate([controls, problem.end[:, None]], axis=1), axis=1, prepend=0)
    turned = np.abs(angle(legs[:, :-1], legs[:, 1:])).sum(axis=1)
    for side, leg in ((0, legs[:, 0]), (1, legs[:, -1])):
        turned += np.where(problem.held[:, side], np.abs(angle(leg, problem.ways[:, side])), 0)
    wasteful: Bools = turned > problem.traced.turn + _WASTE
    return wasteful


class _Attempt(NamedTuple):
    """Splines of one number of controls.

    Attributes:
        controls: (n, count).
        fits: (n,) which keep within the tolerance.
        error: (n,) how far off they are.
    """

    controls: Points
    fits: Bools
    error: Floats


def _attempt(problem: FitProblem, count: int) -> _Attempt:
    """Look for splines of `count` controls."""
    number = len(problem.allowed)
    result = _Attempt(_intersections(problem.traced, count), np.zeros(number, bool), np.zeros(number))
    inner = problem.traced.z.shape[1] - 2
    rows, some = np.arange(number), problem
    u = np.broadcast_to(np.arange(1, inner + 1) * (count / (inner + 1)), (number, inner))
    fixed = np.asarray(problem.held.all(axis=1)) & (count == 1)  # nothing can move
    strict = np.where(fixed, 1.0, _STRICT)
    for patience in _PATIENCE:
        controls = result.controls[rows]
        u = _within(_Spots.of(some, controls, u).nearer(), count)
        spots = _Spots.of(some, controls, u)
        result.error[rows] = error = spots.distance(_LOOSE_SLIP)
        near = np.flatnonzero((error <= strict[rows] * some.allowed) & ~_wasteful(some, controls))
        whole, rounded = np.rint(controls[near]), some.take(near)
        nearest = _within(_Spots.of(rounded, whole, u[near]).nearer(), count)
        good = _Spots.of(rounded, whole, nearest).distance(_SLIP) <= rounded.allowed
        result.controls[rows[near[good]]] = whole[good]
        result.fits[rows[near[good]]] = True
        left = np.flatnonzero((error <= patience * some.allowed) & ~result.fits[rows] & ~fixed[rows])
        strict[:] = 1.0
        if not len(left):
            break
        rows, some, spots = rows[left], some.take(left), spots.take(left)
        result.controls[rows] = _moved(some, controls[left], spots)
        u = u[left]
    return result


def _within(u: Floats, count: int) -> Floats:
    return np.clip(u, 0, count)


def fitted(problem: FitProblem, counts: range) -> tuple[list[Fitted], Ints]:
    """Return splines of as few controls as will do, and the spans that need more than the last of `counts`."""
    alike = problem.alike()
    shapes = problem.take(alike.first)
    done: list[Fitted] = []
    least = np.maximum(counts[0], np.ceil(shapes.traced.turn / _STEEPEST)).astype(np.int64)
    left = np.ones(len(least), dtype=bool)
    for count in counts:
        rows = np.flatnonzero(left & (least <= count))
        if not len(rows):
            continue
        controls, fits, error = _attempt(shapes.take(rows), count)
        spans, place = alike.rows_of(rows[fits])
        done.append(Fitted(spans, controls[fits].take(place, 0) + problem.origin.take(spans)[:, None]))
        left[rows[fits]] = False
        missed = rows[~fits]
        # the error falls with the cube of the number of controls, at least
        least[missed] = np.maximum(count + 1, count * np.cbrt(error[~fits] / shapes.allowed[missed]) * _GAIN)
    return done, np.flatnonzero(left.take(alike.shape))
