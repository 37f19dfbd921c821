"""Dashes: a stroked path → the pieces of it that show.

Lengths are measured as renderers measure them, along chords within half a pixel of the curve, here at 256 pixels to
the em: measured more finely, every dash of a long curve would stand a little before the place where browsers show it.
Covers dash patterns of SVG 2 §13.5.6, arc length, splitting of cubics.
"""

from __future__ import annotations

import math
from bisect import bisect_right
from itertools import accumulate
from typing import NamedTuple

import numpy as np

from oddpeg.geometry.arrays import Floats, Ints, Points
from oddpeg.geometry.curves import derivative, power_form, spot

_MOST_DASHES = 4000  # per shape; beyond it dashes are finer than anything a glyph can hold


def split(control: Points, t0: Floats, t1: Floats) -> Points:
    """Return the parts [t0, t1] of cubics (n, 4), by their end points and derivatives."""
    power = power_form(control)
    p0, p3 = spot(power, t0), spot(power, t1)
    reach = (t1 - t0) / 3
    return np.stack([p0, p0 + derivative(power, t0) * reach, p3 - derivative(power, t1) * reach, p3], axis=1)


def _stops(control: Points, degree: Ints, tolerance: Floats) -> tuple[Ints, Floats]:
    """Return (curve, t), ascending, of the parameters between which cubics (n, 4) are measured by their chords: halved
    until their controls lie within `tolerance` (n,) of the chord in both directions."""
    curve, low, high = np.arange(len(degree)), np.zeros(len(degree)), np.ones(len(degree))
    done: list[tuple[Ints, Floats]] = []
    for _ in range(13):
        p0, p1, p2, p3 = control.T
        off = np.maximum(_widest(p1 - (2 * p0 + p3) / 3), _widest(p2 - (p0 + 2 * p3) / 3))
        off = np.where(degree[curve] == 2, _widest((p1 * 3 - p0) / 4 - (p0 + p3) / 4), off)
        off = np.where(degree[curve] == 1, 0, off)
        bent = off > tolerance[curve]
        done.append((curve[~bent], high[~bent]))
        if not bent.any():
            break
        p0, p1, p2, p3 = control[bent].T
        a, m, c = (p0 + p1) / 2, (p1 + p2) / 2, (p2 + p3) / 2
        ab, mc = (a + m) / 2, (m + c) / 2
        middle, half = (ab + mc) / 2, (low[bent] + high[bent]) / 2
        control = np.concatenate([np.stack([p0, a, ab, middle], axis=1), np.stack([middle, mc, c, p3], axis=1)])
        curve = np.tile(curve[bent], 2)
        low, high = np.concatenate([low[bent], half]), np.concatenate([half, high[bent]])
    else:
        done.append((curve, high))
    curve, t = (np.concatenate(part) for part in zip(*done, strict=True))
    rank = np.lexsort((t, curve))
    return curve[rank], t[rank]


def _widest(v: Points) -> Floats:
    return np.maximum(np.abs(v.real), np.abs(v.imag))


class _Journeys(NamedTuple):
    """Lengths along curves.

    Attributes:
        first: (curves + 1,) where each curve's stops begin in the others.
        t: (stops,).
        step: (stops,) the length from the stop before, or from the curve's start.
    """

    first: list[int]
    t: list[float]
    step: list[float]

    @staticmethod
    def of(control: Points, degree: Ints, tolerance: Floats) -> _Journeys:
        curve, t = _stops(control, degree, tolerance)
        head = np.append(True, curve[1:] != curve[:-1])
        power = power_form(control)
        at = spot(power.take(curve, 1), t)
        before = np.append(0, at[:-1])
        before[head] = control[curve[head], 0]
        return _Journeys(
            np.searchsorted(curve, np.arange(len(degree) + 1)).tolist(), t.tolist(), np.abs(at - before).tolist()
        )

    def along(self, low: int, high: int) -> tuple[list[float], list[float]]:
        """Return lengths along the curves from `low` to before `high`, ascending, and where each is reached:
        curve, counted from `low`, + t. Lists: most paths have few stops, and there are many paths."""
        reached = [k - low + t for k in range(low, high) for t in self.t[self.first[k] : self.first[k + 1]]]
        return [0.0, *accumulate(self.step[self.first[low] : self.first[high]])], [0.0, *reached]


def _reached(length: float, along: list[float], reached: list[float]) -> float:
    """Return where a length is reached, between two stops by their share of it."""
    k = bisect_right(along, length) - 1
    if k >= len(along) - 1:
        return reached[-1]
    return reached[k] + (length - along[k]) / (along[k + 1] - along[k]) * (reached[k + 1] - reached[k])


def _spans(total: float, pattern: tuple[float, ...], offset: float) -> list[tuple[float, float]]:
    """Return [from, to] of each dash along a length."""
    period = sum(pattern)
    at = -(offset % period)
    spans: list[tuple[float, float]] = []
    while at < total:
        for i in range(0, len(pattern), 2):
            if at < total and (at >= 0 or at + pattern[i] > 0):  # one that ends where the way begins is none of it
                spans.append((max(at, 0.0), min(at + pattern[i], total)))
            at += pattern[i] + pattern[i + 1]
    return spans


class _Pieces:
    """Collects dashes of one shape as subpaths."""

    def __init__(self) -> None:
        self.segment: list[int] = []
        self.t0: list[float] = []
        self.t1: list[float] = []
        self.count: list[int] = []

    def add(self, begin: float, finish: float, low: int, glue: bool) -> None:
        """Add the dash from `begin` to `finish` (segment + t, counted from segment `low`)."""
        first, last = math.floor(begin + 1e-9), math.ceil(finish - 1e-9) - 1
        before = len(self.segment)
        if finish - begin < 1e-6:  # a dot: just enough of the curve to know its direction
            last = max(last, 0)
            t = min(max(finish - last, 1e-6), 1.0)
            self._part(low + last, t - 1e-6, t)
        else:
            for k in range(first, last + 1):
                self._part(low + k, max(begin - k, 0.0), min(finish - k, 1.0))
        if glue:
            self.count[-1] += len(self.segment) - before
        else:
            self.count.append(len(self.segment) - before)

    def _part(self, segment: int, t0: float, t1: float) -> None:
        self.segment.append(segment)
        self.t0.append(t0)
        self.t1.append(t1)


class Dashed(NamedTuple):
    """A path to be cut into dashes.

    Attributes:
        control: (n, 4).
        degree: (n,).
        starts, closed: by subpath.
        pattern, offset: user units.
        tolerance: of lengths, user units.
    """

    control: Points
    degree: Ints
    starts: list[int]
    closed: list[bool]
    pattern: tuple[float, ...]
    offset: float
    tolerance: float


class Dashes(NamedTuple):
    """The dashes of a subpath: open subpaths."""

    control: Points
    degree: Ints
    starts: list[int]


def dash_all(paths: list[Dashed]) -> list[Dashes | None]:
    """Return the dashes of each path; None where the pattern does not apply and the line stays solid."""
    if not paths:
        return []
    base = np.cumsum([0, *(len(path.degree) for path in paths)]).tolist()
    control, degree = np.concatenate([p.control for p in paths]), np.concatenate([p.degree for p in paths])
    journeys = _Journeys.of(control, degree, np.repeat([p.tolerance for p in paths], np.diff(base)))
    cut = [_cut(path, journeys, low) for path, low in zip(paths, base, strict=False)]
    pieces = [piece for piece in cut if piece is not None]
    index = np.array([k for piece in pieces for k in piece.segment], dtype=np.int64)
    parts = split(
        control[index], np.array([t for p in pieces for t in p.t0]), np.array([t for p in pieces for t in p.t1])
    )
    dashed: list[Dashes | None] = []
    low = 0
    for piece in cut:
        if piece is None:
            dashed.append(None)
            continue
        high = low + len(piece.segment)
        starts = np.cumsum([0, *piece.count[:-1]]).tolist() if piece.count else []
        dashed.append(Dashes(parts[low:high], degree[index[low:high]], starts))
        low = high
    return dashed


def _cut(path: Dashed, journeys: _Journeys, base: int) -> _Pieces | None:
    """Return the cuts of one path, whose curves are those of `journeys` from `base` on."""
    bounds = [base + start for start in (*path.starts, len(path.degree))]
    pieces = _Pieces()
    for low, high, closed in zip(bounds, bounds[1:], path.closed, strict=False):
        along, reached = journeys.along(low, high)
        total = along[-1]
        if total <= 1e-9:
            continue  # dashes of nothing: renderers draw no dot here
        if total / sum(path.pattern) * len(path.pattern) > _MOST_DASHES:
            return None
        spans = _spans(total, path.pattern, path.offset)
        ends = [(_reached(a, along, reached), _reached(b, along, reached)) for a, b in spans]
        wraps = closed and len(spans) > 1 and spans[0][0] == 0 and spans[-1][1] == total
        order = [*ends[1:], ends[0]] if wraps else ends
        for number, (begin, finish) in enumerate(order):
            pieces.add(begin, finish, low, glue=wraps and number == len(order) - 1)
    return pieces
