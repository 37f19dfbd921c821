"""Dashes: a stroked path → the pieces of it that show.

Knows: dash patterns of SVG 2 §13.5.6, arc length, splitting of cubics. Does not know: stroking, the em.
"""

from __future__ import annotations

import numpy as np

from oddpeg.outline.curves import Floats, Ints, Points, derivative, power_form, spot

_SAMPLES = 48  # chords per curve when measuring: length right to a few parts in ten thousand
_MOST_DASHES = 4000  # per shape; beyond it dashes are finer than anything a glyph can hold


def split(control: Points, t0: Floats, t1: Floats) -> Points:
    """Return the parts [t0, t1] of cubics (n, 4), by their end points and derivatives."""
    power = power_form(control)
    p0, p3 = spot(power, t0), spot(power, t1)
    reach = (t1 - t0) / 3
    return np.stack([p0, p0 + derivative(power, t0) * reach, p3 - derivative(power, t1) * reach, p3], axis=1)


def _lengths(control: Points) -> tuple[Floats, Floats]:
    """Return cumulative length at each sample (n, samples + 1) and the sample parameters."""
    t = np.linspace(0, 1, _SAMPLES + 1)
    points = spot(power_form(control), np.broadcast_to(t, (len(control), len(t))))
    chords = np.abs(np.diff(points, axis=1))
    return np.concatenate([np.zeros((len(control), 1)), np.cumsum(chords, axis=1)], axis=1), t


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

    def add(self, parts: list[tuple[int, float, float]], glue: bool = False) -> None:
        for segment, t0, t1 in parts:
            self.segment.append(segment)
            self.t0.append(t0)
            self.t1.append(t1)
        if glue and self.count:
            self.count[-1] += len(parts)
        else:
            self.count.append(len(parts))


def dash(
    control: Points, degree: Ints, starts: list[int], closed: list[bool], pattern: tuple[float, ...], offset: float
) -> tuple[Points, Ints, list[int], list[bool]] | None:
    """Return (control, degree, starts, closed) of the dashes of a path, all open; None where the
    pattern does not apply and the line stays solid."""
    along, samples = _lengths(control)
    bounds = [*starts, len(degree)]
    pieces = _Pieces()
    for sub in range(len(starts)):
        low, high = bounds[sub], bounds[sub + 1]
        ends = np.cumsum(along[low:high, -1])
        total = float(ends[-1])
        if total <= 1e-9:
            continue  # dashes of nothing: renderers draw no dot here
        if total / sum(pattern) * len(pattern) > _MOST_DASHES:
            return None
        spans = _spans(total, pattern, offset)
        before = ends - along[low:high, -1]

        def locate(s: float, early: bool, ends: Floats = ends, before: Floats = before, low: int = low) -> tuple[int, float]:
            # a dash that ends at a joint belongs to the segment before it, one that begins there to the next
            k = int(np.searchsorted(ends, s, side="left" if early else "right"))
            k = min(k, len(ends) - 1)
            return low + k, float(np.interp(s - before[k], along[low + k], samples))

        wraps = closed[sub] and len(spans) > 1 and spans[0][0] == 0 and spans[-1][1] == total
        order = [*spans[1:], spans[0]] if wraps else spans
        for number, (a, b) in enumerate(order):
            (ka, ta), (kb, tb) = locate(a, a == b), locate(b, True)
            if ka > kb or (ka == kb and ta >= tb):
                parts = [(kb, max(tb - 1e-6, 0.0), max(tb, 1e-6))]
            elif ka == kb:
                parts = [(ka, ta, tb)]
            else:
                parts = [(ka, ta, 1.0), *((k, 0.0, 1.0) for k in range(ka + 1, kb)), (kb, 0.0, tb)]
            pieces.add(parts, glue=wraps and number == len(order) - 1)
    if not pieces.segment:
        return np.zeros((0, 4), dtype=np.complex128), np.zeros(0, dtype=np.int64), [], []
    index = np.array(pieces.segment)
    cut = split(control[index], np.array(pieces.t0), np.array(pieces.t1))
    first = np.cumsum([0, *pieces.count[:-1]]).tolist()
    return cut, degree[index], first, [False] * len(first)
