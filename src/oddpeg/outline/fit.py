"""Runs along curves → quadratic splines within a tolerance.

Each run becomes n quadratics whose inner joints lie midway between their control points, so that TrueType can leave
those joints out. The smallest n within tolerance wins, where distance is measured at samples, across the true curve.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import NamedTuple

import numpy as np

from oddpeg.geometry.arrays import Bools, Floats, Ints, Points
from oddpeg.geometry.curves import Curves, motion, point
from oddpeg.geometry.ragged import ragged_index
from oddpeg.geometry.vectors import angle, cross
from oddpeg.outline.retrace import Runs

_COUNTS = (1, 2, 3, 4, 5)  # beyond that, splitting where the curve bends most is leaner
_LEVELS = 12  # of splitting
_SLIP = 4.0  # font units
_SAMPLES = np.array([0.3, 0.65, 1.0])  # 1.0 is a joint: on the spline, not on the curve


@dataclass(slots=True)
class Splines:
    """Runs with their off-curve points.

    Attributes:
        runs: that they follow.
        count: (runs,).
        xy: (sum of count,), flat, in run order.
    """

    runs: Runs
    count: Ints
    xy: Points


def _exact(runs: Runs, curves: Curves, rows: Ints) -> Points:
    """Return the control points (k, 1) of parts of curves that are quadratics already (their blossom)."""
    index = runs.curve[rows]
    c0, c1, c2, _ = curves.power.take(index, 1)
    a, b = runs.t0[rows], runs.t1[rows]
    return curves.maps.take(index).place(c0 + c1 * (a + b) / 2 + c2 * a * b)[:, None]


class _Steps(NamedTuple):
    """k runs cut into n equal parameter steps.

    Attributes:
        joint, way: (k, n + 1) points and derivatives by step.
    """

    joint: Points
    way: Points

    @staticmethod
    def of(runs: Runs, curves: Curves, rows: Ints, n: int) -> _Steps:
        t0, span = runs.t0[rows, None], (runs.t1 - runs.t0)[rows, None]
        joint, way = motion(curves, runs.curve[rows], t0 + span * (np.arange(n + 1) / n))
        joint[:, 0], joint[:, -1] = runs.start[rows], runs.end[rows]
        return _Steps(joint, way * (span / n))

    def blended(self) -> Points:
        """Return controls (k, n) between the Hermite controls of each step, leaning from its start tangent
        in the first step to its end tangent in the last."""
        n = self.joint.shape[1] - 1
        if n == 1:
            return (self.joint[:, :-1] + self.joint[:, 1:]) / 2
        ahead, behind = self.joint[:, :-1] + self.way[:, :-1] / 2, self.joint[:, 1:] - self.way[:, 1:] / 2
        result: Points = ahead + (behind - ahead) * (np.arange(n) / (n - 1))
        return result

    def tangential(self) -> Points:
        """Return controls (k, n) where the tangents at both ends of each step meet, if they do."""
        n = self.joint.shape[1] - 1
        v0, v1, gap = self.way[:, :-1], self.way[:, 1:], np.diff(self.joint, axis=1)
        det = cross(v0, v1)
        safe = np.where(np.abs(det) < 1e-9, 1.0, det)
        reach, back = cross(gap, v1) / safe, cross(gap, v0) / safe
        most = 4.0 if n == 1 else 1.0
        meets = (np.abs(det) > 1e-9) & (reach > 0) & (reach < most) & (back < 0) & (back > -most)
        return np.where(meets, self.joint[:, :-1] + reach * v0, self.blended())


def _errors(runs: Runs, curves: Curves, rows: Ints, controls: Points) -> Floats:
    """Return the largest distance (k,) of trial splines from their curves."""
    n = controls.shape[1]
    middle = (controls[:, :-1] + controls[:, 1:]) / 2
    begin = np.concatenate([runs.start[rows, None], middle], axis=1)[:, :, None]
    finish = np.concatenate([middle, runs.end[rows, None]], axis=1)[:, :, None]
    s = _SAMPLES
    spline = begin * (1 - s) ** 2 + controls[:, :, None] * (2 * s * (1 - s)) + finish * (s * s)
    shares = ((np.arange(n)[:, None] + s) / n).ravel()
    t = runs.t0[rows, None] + (runs.t1 - runs.t0)[rows, None] * shares
    near, way = motion(curves, runs.curve[rows], t)
    gap = spline.reshape(near.shape) - near
    heading = way / np.maximum(np.abs(way), 1e-9)
    turned = np.conj(heading) * gap
    across, slip = np.abs(turned.imag), np.abs(turned.real)
    # a spline may run a little ahead of its curve: the curve then bends away from its tangent by slip²/2 radii
    bend = np.zeros_like(across)
    bend[:, 1:] = np.abs(np.diff(heading, axis=1)) / np.maximum(np.abs(np.diff(near, axis=1)), 1e-9)
    error = np.where(slip < _SLIP, across + bend * slip * slip / 2, np.abs(gap))
    result: Floats = error.max(axis=1)
    return result


def _guess(runs: Runs, curves: Curves, rows: Ints, tolerance: Floats) -> Ints:
    """Return how many quadratics each run should need: the error of n pieces falls with n³. Rounded, for one try too
    many costs more time than the one point in a thousand that it saves."""
    t = np.stack([runs.t0[rows], runs.t1[rows]], axis=1)
    spot, way = motion(curves, runs.curve[rows], t)
    third = 2 * (spot[:, 0] - spot[:, 1]) + (way[:, 0] + way[:, 1]) * (t[:, 1] - t[:, 0])
    error = np.sqrt(3) / 36 * np.abs(third)
    pieces: Ints = np.clip(np.floor(np.cbrt(error / tolerance) + 0.5), 1, len(_COUNTS)).astype(np.int64)
    return pieces


def _is_curved(runs: Runs, curves: Curves, rows: Ints, tolerance: Floats) -> Ints:
    """Return the rows whose runs leave their chord by more than a hair; the others are as good as lines."""
    shares = np.array([0.2, 0.5, 0.8])
    t = runs.t0[rows, None] + (runs.t1 - runs.t0)[rows, None] * shares
    gap = point(curves, runs.curve[rows], t) - runs.start[rows, None]
    chord = (runs.end[rows] - runs.start[rows])[:, None]
    size = np.abs(chord)
    way = chord / np.maximum(size, 1e-9)  # nothing where a run comes back to its start: a loop, not a line
    along = np.clip((np.conj(way) * gap).real, 0, size)
    return rows[(np.abs(gap - along * way) >= tolerance[:, None]).any(axis=1)]


def _halves(runs: Runs, curves: Curves, rows: Ints) -> tuple[Floats, Points]:
    """Return the parameter (k,) and place (k,) that halve what each run turns and travels."""
    shares = np.linspace(0, 1, 34)
    t = runs.t0[rows, None] + (runs.t1 - runs.t0)[rows, None] * shares
    step = np.diff(point(curves, runs.curve[rows], t), axis=1)
    travel = np.abs(step)
    bent = np.abs(angle(step[:, :-1], step[:, 1:]))
    bend = np.zeros_like(travel)
    bend[:, :-1] += bent / 2
    bend[:, 1:] += bent / 2
    effort = travel / np.maximum(travel.sum(axis=1, keepdims=True), 1e-12) + bend / np.pi
    total = np.cumsum(effort, axis=1)
    half = total[:, -1] / 2
    cell = np.minimum((total < half[:, None]).sum(axis=1), total.shape[1] - 1)
    line = np.arange(len(rows))
    inside = (half - total[line, cell] + effort[line, cell]) / np.maximum(effort[line, cell], 1e-12)
    middle = t[line, cell] + (t[line, cell + 1] - t[line, cell]) * np.clip(inside, 0.05, 0.95)
    return middle, point(curves, runs.curve[rows], middle)


def _split_runs(runs: Runs, curves: Curves, rows: Ints) -> Runs:
    """Return all runs with `rows` cut in two: first halves in place, second halves at the end."""
    middle, spot = _halves(runs, curves, rows)
    second = Runs(spot, runs.end[rows], runs.curve[rows], middle, runs.t1[rows], runs.contour[rows])
    runs.end[rows], runs.t1[rows] = spot, middle
    return Runs(*(np.concatenate(f) for f in zip(runs, second, strict=True)))


def fit(runs: Runs, curves: Curves, tolerance: Floats) -> Splines:
    """Return runs and the fewest control points that keep each within `tolerance` (by curve, font units).
    Runs that five quadratics cannot follow are split where they bend most."""
    # order numbers leave room, so that a second half always finds its place after its first
    order = np.arange(len(runs.curve)) << _LEVELS + 1
    done: list[tuple[Ints, Points]] = []
    rows = np.flatnonzero(runs.curve >= 0)
    allowed = _allowed(runs, curves, rows, tolerance)
    for level in range(_LEVELS):
        if not len(rows):
            break
        rows = _is_curved(runs, curves, rows, tolerance[runs.curve[rows]] / 3)
        rows = _fit_once(runs, curves, rows, allowed, done, level == 0)
        if len(rows) and level + 1 < _LEVELS:
            total = len(order)
            order = np.append(order, order[rows] + (1 << _LEVELS - level))
            allowed = np.append(allowed, allowed[rows])
            runs = _split_runs(runs, curves, rows)
            rows = np.concatenate([rows, np.arange(total, len(order))])
    return _in_order(runs, order, done)


def _allowed(runs: Runs, curves: Curves, rows: Ints, tolerance: Floats) -> Floats:
    """Return how far the spline of each run (all of them) may be from its curve: the tolerance, and no less than its
    ends stand off the curve already, where the clipper cut a chord and no crossing of curves was found."""
    t = np.stack([runs.t0[rows], runs.t1[rows]], axis=1)
    ends = np.stack([runs.start[rows], runs.end[rows]], axis=1)
    slack = np.abs(point(curves, runs.curve[rows], t) - ends).max(axis=1)
    allowed = np.zeros(len(runs.curve))
    allowed[rows] = tolerance[runs.curve[rows]] + np.minimum(slack, 1.0)
    return allowed


def _fit_once(
    runs: Runs, curves: Curves, rows: Ints, tolerance: Floats, done: list[tuple[Ints, Points]], first: bool
) -> Ints:
    """Fit what few enough quadratics can follow, into `done`; return the other rows. Where few runs are left
    (not first), fewer counts are tried."""
    plain = (curves.degree[runs.curve[rows]] == 2) & (curves.offset[runs.curve[rows]] == 0)
    done.append((rows[plain], _exact(runs, curves, rows[plain])))
    rest, rows = rows[~plain], rows[:0]
    guess = _guess(runs, curves, rest, tolerance[rest])
    for n in _COUNTS if first else _COUNTS[::2]:
        rows = np.concatenate([rows, rest[guess == n]] if first else [rows, rest[(guess == n) | (guess == n - 1)]])
        if not len(rows):
            continue
        steps = _Steps.of(runs, curves, rows, n)
        for blended in (False, True) if n > 1 else (False,):
            controls = steps.blended() if blended else steps.tangential()
            fits = _errors(runs, curves, rows, controls) <= tolerance[rows]
            done.append((rows[fits], controls[fits]))
            rows = rows[~fits]
            steps = _Steps(steps.joint[~fits], steps.way[~fits])
    return rows


def _in_order(runs: Runs, order: Ints, done: list[tuple[Ints, Points]]) -> Splines:
    rank = np.argsort(order, kind="stable")
    place = np.empty_like(rank)
    place[rank] = np.arange(len(rank))
    count = np.zeros(len(rank), dtype=np.int64)
    for rows, controls in done:
        count[rows] = controls.shape[1]
    owner = np.concatenate([np.zeros(0, dtype=np.int64), *(np.repeat(place[rows], c.shape[1]) for rows, c in done)])
    xy = np.concatenate([np.zeros(0, dtype=np.complex128), *(c.ravel() for _, c in done)])
    return Splines(runs.take(rank), count[rank], xy[np.argsort(owner, kind="stable")])


def contour_points(splines: Splines) -> tuple[Points, Bools, Ints]:
    """Return (points, on curve, contour) of all contours: each run's start, then its controls."""
    owner, position = ragged_index(splines.count + 1)
    on = position == 0
    xy = np.empty(len(owner), dtype=np.complex128)
    xy[on] = splines.runs.start
    xy[~on] = splines.xy
    return xy, on, splines.runs.contour[owner]
