"""Dashes: a stroked path → the pieces of it that show.

Lengths are measured as renderers measure them, along chords within half a pixel of the curve, here at 256
pixels to the em: measured more finely, every dash of a long curve would stand a little before the place where
browsers show it. Knows: dash patterns of SVG 2 §13.5.6, arc length, splitting of cubics. Does not know: stroking, the em.
"""

from __future__ import annotations

import math

import numpy as np

from oddpeg.outline.curves import Floats, Ints, Points, derivative, power_form, spot

_MOST_DASHES = 4000  # per shape; beyond it dashes are finer than anything a glyph can hold


def split(control: Points, t0: Floats, t1: Floats) -> Points:
    """Return the parts [t0, t1] of cubics (n, 4), by their end points and derivatives."""
    power = power_form(control)
    p0, p3 = spot(power, t0), spot(power, t1)
    reach = (t1 - t0) / 3
    return np.stack([p0, p0 + derivative(power, t0) * reach, p3 - derivative(power, t1) * reach, p3], axis=1)


def _stops(curve: list[complex], degree: int, tolerance: float) -> list[float]:
    """Return the parameters between which a cubic is measured by its chord: halved until its controls lie within
    `tolerance` of it in both directions."""
    if degree == 1:
        return [1.0]
    stops: list[float] = []
    waiting = [(curve, 0.0, 1.0)]
    while waiting:
        (p0, p1, p2, p3), low, high = waiting.pop()
        off = [(p1 * 3 - p0) / 4 - (p0 + p3) / 4] if degree == 2 else [p1 - (2 * p0 + p3) / 3, p2 - (p0 + 2 * p3) / 3]
        if high - low < 2**-12 or all(abs(v.real) <= tolerance and abs(v.imag) <= tolerance for v in off):
            stops.append(high)
            continue
        a, m, c = (p0 + p1) / 2, (p1 + p2) / 2, (p2 + p3) / 2
        ab, mc = (a + m) / 2, (m + c) / 2
        middle, half = (ab + mc) / 2, (low + high) / 2
        waiting += [([middle, mc, c, p3], half, high), ([p0, a, ab, middle], low, half)]
    return stops


def _journey(control: Points, degree: list[int], tolerance: float) -> tuple[Floats, Floats]:
    """Return lengths along a row of cubics (n, 4), ascending, and where each is reached: segment + t."""
    reached = [0.0]
    for k, curve in enumerate(control.tolist()):
        reached += [k + t for t in _stops(curve, degree[k], tolerance)]
    along = np.array(reached)
    segment = np.minimum(along.astype(np.int64), len(control) - 1)
    points = spot(power_form(control)[segment], along - segment)
    return np.append(0.0, np.cumsum(np.abs(np.diff(points)))), along


def _spans(total: float, pattern: tuple[float, ...], offset: float) -> list[tuple[float, float]]:
    """Return [from, to] of each dash along a length."""
    period = sum(pattern)
    at = -(offset % period)
    spans: list[tuple[float, float]] = []
    while at < total:
        for i in range(0, len(pattern), 2):
            if at + pattern[i] >= 0 and at < total:
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


def dash(
    control: Points, degree: Ints, starts: list[int], closed: list[bool], pattern: tuple[float, ...], offset: float,
    tolerance: float,
) -> tuple[Points, Ints, list[int], list[bool]] | None:
    """Return (control, degree, starts, closed) of the dashes of a path, all open; None where the
    pattern does not apply and the line stays solid. tolerance: of lengths, user units."""
    bounds = [*starts, len(degree)]
    pieces = _Pieces()
    for sub in range(len(starts)):
        low, high = bounds[sub], bounds[sub + 1]
        along, reached = _journey(control[low:high], degree[low:high].tolist(), tolerance)
        total = float(along[-1])
        if total <= 1e-9:
            continue  # dashes of nothing: renderers draw no dot here
        if total / sum(pattern) * len(pattern) > _MOST_DASHES:
            return None
        spans = _spans(total, pattern, offset)
        ends = np.interp(np.array(spans), along, reached).tolist()
        wraps = closed[sub] and len(spans) > 1 and spans[0][0] == 0 and spans[-1][1] == total
        order = [*ends[1:], ends[0]] if wraps else ends
        for number, (begin, finish) in enumerate(order):
            pieces.add(begin, finish, low, glue=wraps and number == len(order) - 1)
    if not pieces.segment:
        return np.zeros((0, 4), dtype=np.complex128), np.zeros(0, dtype=np.int64), [], []
    index = np.array(pieces.segment)
    cut = split(control[index], np.array(pieces.t0), np.array(pieces.t1))
    first = np.cumsum([0, *pieces.count[:-1]]).tolist()
    return cut, degree[index], first, [False] * len(first)
