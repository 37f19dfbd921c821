"""Runs along curves → contours of lines and quadratic splines on whole font units, within a tolerance."""

from __future__ import annotations

import numpy as np

from oddpeg.geometry.arrays import Bools, Floats, Ints, Points
from oddpeg.geometry.contours import Contours
from oddpeg.geometry.curves import Curves, point
from oddpeg.geometry.vectors import angle, dot
from oddpeg.outline.retrace import Runs
from oddpeg.outline.spans import ORDER_BITS, Elements, Spans, Traced, elements, halved, trace
from oddpeg.outline.splines import MOST, FitProblem, fitted

_ROUNDING = 0.35  # font units: what whole units may cost, half of what they can move a point
_SHARP = 0.15  # radians between two points
_BULGE = 0.5  # of what is allowed: how far a curve may leave the chord between two points
# numbers of controls, and of intervals by whose ends they are fitted
_STAGES = ((range(1, 3), 12), (range(3, 5), 24), (range(5, MOST + 1), 48))
_DENSEST = (range(1, MOST + 1), 48)


def _is_curved(runs: Runs, curves: Curves, rows: Ints, tolerance: float) -> Ints:
    """Return the rows whose runs leave their chord by more than rounding; the others count as lines."""
    shares = np.array([0.2, 0.5, 0.8])
    t = runs.t0[rows, None] + (runs.t1 - runs.t0)[rows, None] * shares
    return rows[_bulge(runs.start[rows], runs.end[rows], point(curves, runs.curve[rows], t)) >= tolerance]


def _allowed(runs: Runs, curves: Curves, rows: Ints, tolerance: float) -> Floats:
    """Return how far the spline along each run (all of them) may be from its curve: the tolerance, and no less than its
    ends stand off the curve already, where the clipper cut a chord and no crossing of curves was found."""
    t = np.stack([runs.t0[rows], runs.t1[rows]], axis=1)
    ends = np.stack([runs.start[rows], runs.end[rows]], axis=1)
    slack = np.abs(point(curves, runs.curve[rows], t) - ends).max(axis=1)
    allowed = np.zeros(len(runs.curve))
    allowed[rows] = tolerance + np.minimum(slack, 1.0)
    return allowed


class _FitPoints:
    """Points of contours in the order in which they are found."""

    def __init__(self, fitted: Elements) -> None:
        self._contour = fitted.contour
        self._keys: list[Ints] = []
        self._points: list[Points] = []
        self._on: list[Bools] = []
        self.add(np.arange(len(fitted.start)) << ORDER_BITS, np.rint(fitted.start), True)

    def add(self, order: Ints, points: Points, on: bool) -> None:
        """Add points (n,), or controls (n, m), of the elements with these order numbers."""
        self._keys.append(np.repeat(order, points.size // max(len(order), 1)))
        self._points.append(points.ravel())
        self._on.append(np.full(points.size, on))

    def contours(self) -> Contours:
        """Return all points in drawing order: each element's start, then its controls."""
        key = np.concatenate(self._keys)
        rank = np.argsort(key, kind="stable")
        contour = self._contour.take(key[rank] >> ORDER_BITS)
        return Contours(np.concatenate(self._points)[rank], np.concatenate(self._on)[rank], contour)


def fit(runs: Runs, curves: Curves, tolerance: float) -> Contours:
    """Return contours on whole font units, within a tolerance of the runs, in few points. tolerance: font units,
    besides rounding."""
    rows = np.flatnonzero(runs.curve >= 0)
    curved = np.zeros(len(runs.curve), dtype=bool)
    curved[_is_curved(runs, curves, rows, tolerance / 3)] = True
    fitted = elements(runs, curves, curved, _allowed(runs, curves, rows, tolerance))
    path = _FitPoints(fitted)
    spans = fitted.spans
    for level in range(ORDER_BITS):
        spans = _halves_followed(spans, curves, path) if level else _followed(spans, curves, path)
        if not len(spans) or level + 1 == ORDER_BITS:
            break
        spans, middle = halved(spans, curves, level)
        path.add(spans.order[len(middle) :], np.rint(middle), True)
    return path.contours()


def _followed(spans: Spans, curves: Curves, path: _FitPoints) -> Spans:
    """Add the splines of spans to a path; return the spans that none can follow."""
    left, sparse = np.arange(len(spans)), [np.zeros(0, dtype=np.int64)]
    for counts, intervals in _STAGES:
        traced = trace(spans.take(left), curves, intervals)
        bare = _is_sparse(traced, spans.allowed.take(left))
        sparse.append(left[bare])
        rows = np.flatnonzero(~bare)
        left = _added(spans, left[rows], traced.take(rows), counts, path)
    rest = np.concatenate(sparse)
    counts, intervals = _DENSEST
    missed = _added(spans, rest, trace(spans.take(rest), curves, intervals), counts, path)
    return spans.take(np.sort(np.append(left, missed)))


def _halves_followed(spans: Spans, curves: Curves, path: _FitPoints) -> Spans:
    """Fit halved spans: they are few, and nearly straight spans need no spline."""
    counts, intervals = _DENSEST
    traced = trace(spans, curves, intervals)
    bent = np.flatnonzero(_bulge(spans.start, spans.end, traced.z) > spans.allowed)
    return spans.take(_added(spans, bent, traced.take(bent), counts, path))


def _added(spans: Spans, rows: Ints, traced: Traced, counts: range, path: _FitPoints) -> Ints:
    """Add the splines of some spans to a path; return the spans that need more controls. traced: points along them."""
    some = spans.take(rows)
    done, left = fitted(FitProblem.of(some, traced, _ROUNDING), counts)
    for part, controls in done:
        path.add(some.order[part], controls, False)
    return rows[left]


def _bulge(start: Points, end: Points, between: Points) -> Floats:
    """Return how far points (n, k) leave the chords from start to end (n,)."""
    gap, chord = between - start[:, None], (end - start)[:, None]
    size = np.abs(chord)
    way = chord / np.maximum(size, 1e-9)  # nothing where the end is the start: a loop, not a line
    along = np.clip(dot(way, gap), 0, size)
    bulge: Floats = np.abs(gap - along * way).max(axis=1)
    return bulge


def _is_sparse(traced: Traced, allowed: Floats) -> Bools:
    """Return which spans (spans,) turn so sharply somewhere that a spline could leave them between two points."""
    turn = np.abs(angle(traced.way[:, :-1], traced.way[:, 1:]))
    bulge = np.abs(np.diff(traced.z, axis=1)) * turn / 8
    return np.asarray(((turn > _SHARP) & (bulge > _BULGE * allowed[:, None])).any(axis=1))
