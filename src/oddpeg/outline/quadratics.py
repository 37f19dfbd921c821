"""Runs along curves → quadratic splines within a tolerance.

Each run becomes n quadratics whose inner joints lie midway between their control points, so that
TrueType can leave those joints out. The smallest n within tolerance wins, where distance is measured at
samples, across the true curve. Does not know: rounding.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from oddpeg.outline.curves import Bools, Curves, Floats, Ints, cross, dot, motion, point, spread
from oddpeg.outline.retrace import Runs

_COUNTS = (1, 2, 3, 4, 5, 6)  # beyond that, splitting where the curve bends most is leaner
_LEVELS = 12  # of splitting
_SLIP = 4.0  # font units
_SAMPLES = np.array([0.25, 0.5, 0.75, 1.0])  # 1.0 is a joint: on the spline, not on the curve


@dataclass(slots=True)
class Splines:
    """Runs with their off-curve points. count: (runs,); xy: (sum of count, 2), flat, in run order."""

    runs: Runs
    count: Ints
    xy: Floats


def _exact(runs: Runs, curves: Curves, rows: Ints) -> Floats:
    """Return the control points (k, 1, 2) of parts of curves that are quadratics already (their blossom)."""
    control = curves.control[runs.curve[rows]]
    c0, c2 = control[:, 0], control[:, 3]
    c1 = (3 * control[:, 1] - c0) / 2
    a, b = runs.t0[rows, None], runs.t1[rows, None]
    blossom = (1 - a) * ((1 - b) * c0 + b * c1) + a * ((1 - b) * c1 + b * c2)
    matrix = curves.matrix[runs.curve[rows]]
    x, y = blossom[:, 0], blossom[:, 1]
    return np.stack(
        [matrix[:, 0] * x + matrix[:, 2] * y + matrix[:, 4], matrix[:, 1] * x + matrix[:, 3] * y + matrix[:, 5]], axis=1
    )[:, None]


def _controls(runs: Runs, curves: Curves, rows: Ints, n: int, blended: bool) -> Floats:
    """Return trial controls (k, n, 2) of n equal parameter steps: where the tangents at both ends of a step
    meet, or (blended, and where they do not meet) between the Hermite controls of the step, leaning
    from its start tangent in the first step to its end tangent in the last."""
    shares = np.arange(n + 1) / n
    t0, t1 = runs.t0[rows, None], runs.t1[rows, None]
    t = t0 + (t1 - t0) * shares
    index = np.repeat(runs.curve[rows], n + 1)
    spots, ways = motion(curves, index, t.ravel())
    joint = spots.reshape(len(rows), n + 1, 2)
    joint[:, 0], joint[:, -1] = runs.start[rows], runs.end[rows]
    way = ways.reshape(joint.shape) * ((t1 - t0) / n)[:, :, None]
    gap = joint[:, 1:] - joint[:, :-1]
    v0, v1 = way[:, :-1], way[:, 1:]
    if n == 1:
        blend = (joint[:, :-1] + joint[:, 1:]) / 2
    else:
        ahead, behind = joint[:, :-1] + v0 / 2, joint[:, 1:] - v1 / 2
        blend = ahead + (behind - ahead) * (np.arange(n) / (n - 1))[None, :, None]
    if blended:
        return blend
    det = cross(v0, v1)
    safe = np.where(np.abs(det) < 1e-9, 1.0, det)
    reach, back = cross(gap, v1) / safe, cross(gap, v0) / safe
    meets = (np.abs(det) > 1e-9) & (reach > 0) & (reach < 4) & (back < 0) & (back > -4)
    if n > 1:
        meets &= (reach < 1) & (back > -1)
    return np.where(meets[:, :, None], joint[:, :-1] + reach[:, :, None] * v0, blend)


def _errors(runs: Runs, curves: Curves, rows: Ints, controls: Floats) -> Floats:
    """Return the largest distance (k,) of trial splines from their curves."""
    n = controls.shape[1]
    middle = (controls[:, :-1] + controls[:, 1:]) / 2
    begin = np.concatenate([runs.start[rows, None], middle], axis=1)
    finish = np.concatenate([middle, runs.end[rows, None]], axis=1)
    s = _SAMPLES[None, None, :, None]
    spline = (1 - s) ** 2 * begin[:, :, None] + 2 * s * (1 - s) * controls[:, :, None] + s * s * finish[:, :, None]
    span = (runs.t1 - runs.t0)[rows]
    t = runs.t0[rows, None, None] + span[:, None, None] * (np.arange(n)[None, :, None] + _SAMPLES) / n
    shape = t.shape
    index = np.repeat(runs.curve[rows], n * len(_SAMPLES))
    t, flat = t.ravel(), spline.reshape(-1, 2)
    near, way = motion(curves, index, t)
    gap = flat - near
    size = np.maximum(np.hypot(way[:, 0], way[:, 1]), 1e-9)
    across, slip = np.abs(cross(gap, way)) / size, np.abs(dot(gap, way)) / size
    # a spline may run a little ahead of its curve; far ahead, the plain distance counts
    error = np.where(slip < _SLIP, across, np.hypot(gap[:, 0], gap[:, 1]))
    result: Floats = error.reshape(shape).max(axis=(1, 2))
    return result


def _guess(runs: Runs, curves: Curves, rows: Ints, tolerance: float) -> Ints:
    """Return how many quadratics each run should need: the error of n pieces falls with n³."""
    first, way0 = motion(curves, runs.curve[rows], runs.t0[rows])
    last, way1 = motion(curves, runs.curve[rows], runs.t1[rows])
    third = 2 * (first - last) + (way0 + way1) * (runs.t1 - runs.t0)[rows, None]
    error = np.sqrt(3) / 36 * np.hypot(third[:, 0], third[:, 1])
    pieces: Ints = np.clip(np.floor(np.cbrt(error / tolerance)), 1, len(_COUNTS)).astype(np.int64)
    return pieces


def _is_curved(runs: Runs, curves: Curves, rows: Ints, tolerance: float) -> Ints:
    """Return the rows whose runs leave their chord by more than a hair; the others are as good as lines."""
    shares = np.array([0.15, 0.35, 0.5, 0.65, 0.85])
    t = runs.t0[rows, None] + (runs.t1 - runs.t0)[rows, None] * shares
    index = np.repeat(runs.curve[rows], len(shares))
    gap = point(curves, index, t.ravel()).reshape(len(rows), -1, 2) - runs.start[rows, None]
    chord = runs.end[rows] - runs.start[rows]
    size = np.maximum(np.hypot(chord[:, 0], chord[:, 1]), 1e-9)[:, None]
    off = np.abs(cross(chord[:, None], gap)) / size
    along = dot(chord[:, None], gap) / size
    flat = ((off < tolerance) & (along > -tolerance) & (along < size + tolerance)).all(axis=1)
    return rows[~flat]


def _halves(runs: Runs, curves: Curves, rows: Ints) -> tuple[Floats, Floats]:
    """Return the parameter (k,) and place (k, 2) that halve what each run turns and travels."""
    shares = np.linspace(0, 1, 34)
    t = runs.t0[rows, None] + (runs.t1 - runs.t0)[rows, None] * shares
    index = np.repeat(runs.curve[rows], len(shares))
    spot = point(curves, index, t.ravel()).reshape(len(rows), -1, 2)
    step = np.diff(spot, axis=1)
    travel = np.hypot(step[..., 0], step[..., 1])
    angle = np.abs(np.arctan2(cross(step[:, :-1], step[:, 1:]), dot(step[:, :-1], step[:, 1:])))
    bend = np.zeros_like(travel)
    bend[:, :-1] += angle / 2
    bend[:, 1:] += angle / 2
    effort = travel / np.maximum(travel.sum(axis=1, keepdims=True), 1e-12) + bend / np.pi
    total = np.cumsum(effort, axis=1)
    half = total[:, -1:] / 2
    cell = (total < half).sum(axis=1)
    line = np.arange(len(rows))
    inside = (half[:, 0] - total[line, cell] + effort[line, cell]) / np.maximum(effort[line, cell], 1e-12)
    middle = t[line, cell] + (t[line, cell + 1] - t[line, cell]) * np.clip(inside, 0.05, 0.95)
    return middle, point(curves, runs.curve[rows], middle)


def _split_runs(runs: Runs, order: Ints, curves: Curves, rows: Ints) -> tuple[Runs, Ints, Ints]:
    """Split runs `rows` in two. Return all runs, their order, and the rows of the new ones."""
    middle, spot = _halves(runs, curves, rows)
    total = len(runs.curve)
    second = Runs(spot, runs.end[rows], runs.curve[rows], middle, runs.t1[rows], runs.contour[rows])
    runs.end[rows], runs.t1[rows] = spot, middle
    joined = Runs(*(np.concatenate([getattr(runs, f), getattr(second, f)]) for f in Runs.__slots__))
    # `order` counts in powers of two, so that a second half always finds room after its first
    return joined, order, np.concatenate([rows, np.arange(total, total + len(rows))])


def fit(runs: Runs, curves: Curves, tolerance: float) -> Splines:
    """Return runs and the fewest control points that keep each within `tolerance` (font units).
    Runs that six quadratics cannot follow are split where they bend most."""
    order = np.arange(len(runs.curve)) << _LEVELS + 1
    done: list[tuple[Ints, Floats]] = []
    rows = np.flatnonzero(runs.curve >= 0)
    for level in range(_LEVELS):
        if not len(rows):
            break
        rows = _is_curved(runs, curves, rows, tolerance / 3)
        plain = (curves.degree[runs.curve[rows]] == 2) & (curves.offset[runs.curve[rows]] == 0)
        done.append((rows[plain], _exact(runs, curves, rows[plain])))
        rows = rows[~plain]
        rest, rows = rows, rows[:0]
        guess = _guess(runs, curves, rest, tolerance) if len(rest) else rest
        for n in _COUNTS:
            rows = np.concatenate([rows, rest[guess == n]])
            if not len(rows):
                continue
            for blended in (False, True) if n > 1 else (False,):
                controls = _controls(runs, curves, rows, n, blended)
                fits = _errors(runs, curves, rows, controls) <= tolerance
                done.append((rows[fits], controls[fits]))
                rows = rows[~fits]
        if len(rows) and level + 1 < _LEVELS:
            order = np.append(order, order[rows] + (1 << _LEVELS - level))
            runs, order, rows = _split_runs(runs, order, curves, rows)
    return _in_order(runs, order, done)


def _in_order(runs: Runs, order: Ints, done: list[tuple[Ints, Floats]]) -> Splines:
    rank = np.argsort(order, kind="stable")
    place = np.empty_like(rank)
    place[rank] = np.arange(len(rank))
    count = np.zeros(len(rank), dtype=np.int64)
    for rows, controls in done:
        count[rows] = controls.shape[1]
    owner = np.concatenate([np.zeros(0, dtype=np.int64), *(np.repeat(place[rows], c.shape[1]) for rows, c in done)])
    xy = np.concatenate([np.zeros((0, 2)), *(c.reshape(-1, 2) for _, c in done)])
    sorted_runs = Runs(*(getattr(runs, f)[rank] for f in Runs.__slots__))
    return Splines(sorted_runs, count[rank], xy[np.argsort(owner, kind="stable")])


def contour_points(splines: Splines) -> tuple[Floats, Bools, Ints]:
    """Return (xy, on curve, contour) of all contours: each run's start, then its controls."""
    owner, position = spread(splines.count + 1)
    on = position == 0
    xy = np.empty((len(owner), 2))
    xy[on] = splines.runs.start
    xy[~on] = splines.xy
    return xy, on, splines.runs.contour[owner]
