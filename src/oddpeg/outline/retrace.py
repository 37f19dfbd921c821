"""Clipped polygons → runs along true curves.

The clipper returns vertices only. Vertices it did not make itself have exactly the coordinates they
went in with, so most edges are found again by their two ends, and edges that were cut by one end and the
line they lie on. An edge cut at both ends is part of one chord: a line, as close to its curve as the
flattening was. Neighbouring edges that follow one curve make one run; where two runs cross, the crossing
is moved from the chords onto the curves by Newton's method. Does not know: clipping rules, glyphs.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from oddpeg.outline.curves import Bools, Curves, Floats, Ints, cross, dot, motion
from oddpeg.outline.polygons import GRID, STRAIGHT

_NEAR = 2.5  # grid steps: how far rounding may take a cut edge's end from the edge it lies on


@dataclass(slots=True)
class Edges:
    """Edges of polygons. start, end: (n, 2) grid; icon: (n,); curve, t0, t1: what each follows."""

    start: Ints
    end: Ints
    icon: Ints
    curve: Ints
    t0: Floats
    t1: Floats


@dataclass(slots=True)
class Runs:
    """Pieces of contours, each a line (curve -1) or part of one curve from t0 to t1.
    start, end: (n, 2) em units; contour: (n,) ascending, runs in drawing order."""

    start: Floats
    end: Floats
    curve: Ints
    t0: Floats
    t1: Floats
    contour: Ints


def _hash(xy: Ints, icon: Ints) -> NDArray[np.uint64]:
    """Return one number per grid point and icon; equal points get equal numbers."""
    x, y, i = (v.astype(np.uint64) for v in (xy[:, 0], xy[:, 1], icon))
    mixed = x * np.uint64(0x9E3779B97F4A7C15) ^ (y * np.uint64(0xC2B2AE3D27D4EB4F) + i * np.uint64(0x165667B19E3779F9))
    mixed ^= mixed >> np.uint64(29)
    result: NDArray[np.uint64] = mixed * np.uint64(0xBF58476D1CE4E5B9)
    return result


def _pair(first: NDArray[np.uint64], second: NDArray[np.uint64]) -> NDArray[np.uint64]:
    result: NDArray[np.uint64] = (first ^ (first >> np.uint64(31))) * np.uint64(0x94D049BB133111EB) + second
    return result


def _find(keys: NDArray[np.uint64], queries: NDArray[np.uint64]) -> Ints:
    """Return for each query the index of an equal key, or -1."""
    rank = np.argsort(keys, kind="stable")
    at = np.minimum(np.searchsorted(keys[rank], queries), len(keys) - 1)
    found = rank[at]
    return np.where(keys[found] == queries, found, -1)


def _misfit(source: Edges, candidate: Ints, a: Ints, b: Ints) -> Floats:
    """Return how far (grid steps) edges a → b lie off candidate edges; inf where they reach beyond them."""
    p = source.start[candidate].astype(float)
    way = source.end[candidate] - p
    size = np.hypot(way[:, 0], way[:, 1])
    worst = np.zeros(len(candidate))
    for corner in (a, b):
        off = corner - p
        along = dot(off, way) / size
        beyond = (along < -_NEAR) | (along > size + _NEAR)
        worst = np.where(beyond, np.inf, np.maximum(worst, np.abs(cross(off, way)) / size))
    return worst


def _match_by_one_end(source: Edges, hashes: list[NDArray[np.uint64]], a: Ints, b: Ints, ha: NDArray[np.uint64],
                      hb: NDArray[np.uint64]) -> Ints:  # fmt: skip
    """Return the edge that shares an end with a → b and lies along it, or -1."""
    keys = np.concatenate(hashes)
    edges = np.concatenate([np.arange(len(hashes[0]))] * 2)
    rank = np.argsort(keys, kind="stable")
    keys, edges = keys[rank], edges[rank]
    best, fit = np.full(len(a), -1), np.full(len(a), _NEAR)
    for wanted in (ha, hb):
        low, high = np.searchsorted(keys, wanted, "left"), np.searchsorted(keys, wanted, "right")
        for k in range(8):
            rows = np.flatnonzero(low + k < high)
            if not len(rows):
                break
            candidate = edges[low[rows] + k]
            misfit = _misfit(source, candidate, a[rows], b[rows])
            better = misfit < fit[rows]
            best[rows[better]], fit[rows[better]] = candidate[better], misfit[better]
    return best


def match_edges(source: Edges, a: Ints, b: Ints, icon: Ints) -> Ints:
    """Return for each edge a → b of the result the source edge it lies on, or -1.
    Zero-length edges must have been left out of `source`."""
    hs, he = _hash(source.start, source.icon), _hash(source.end, source.icon)
    ha, hb = _hash(a, icon), _hash(b, icon)
    found = _find(_pair(hs, he), _pair(ha, hb))
    rest = np.flatnonzero(found < 0)
    found[rest] = _find(_pair(hs, he), _pair(hb[rest], ha[rest]))
    rest = np.flatnonzero(found < 0)
    found[rest] = _match_by_one_end(source, [hs, he], a[rest], b[rest], ha[rest], hb[rest])
    return found


def _along(source: Edges, found: Ints, xy: Ints) -> Floats:
    """Return where along its source edge each point lies, 0 to 1."""
    p = source.start[found].astype(float)
    way = source.end[found] - p
    result: Floats = np.clip(dot(xy - p, way) / np.maximum(dot(way, way), 1e-9), 0.0, 1.0)
    return result


def retrace(source: Edges, curves: Curves, xy: Ints, contour: Ints, icon: Ints) -> Runs:
    """Return the runs of clipped contours. xy: (n, 2) grid vertices; contour: (n,) ascending; icon: (n,)."""
    count = np.bincount(contour)
    first = np.cumsum(count) - count
    position = np.arange(len(xy)) - first[contour]
    following = first[contour] + (position + 1) % count[contour]
    a, b = xy, xy[following]
    found = match_edges(source, a, b, icon)
    safe = np.maximum(found, 0)
    curve = np.where(found < 0, STRAIGHT, source.curve[safe])
    ua, ub = _along(source, safe, a), _along(source, safe, b)
    span = source.t1[safe] - source.t0[safe]
    ta, tb = source.t0[safe] + ua * span, source.t0[safe] + ub * span
    cut_a, cut_b = (ua > 0) & (ua < 1), (ub > 0) & (ub < 1)
    before = first[contour] + (position - 1) % count[contour]
    goes_on = (
        (curve >= 0) & (curve[before] == curve) & (np.abs(tb[before] - ta) < 1e-9)
        & ((tb - ta) * (tb[before] - ta[before]) > 0)
    )  # fmt: skip
    return _runs(curves, goes_on, curve, ta, tb, cut_a, cut_b, a, b, contour, first, count)


def _runs(
    curves: Curves, goes_on: Bools, curve: Ints, ta: Floats, tb: Floats, cut_a: Bools, cut_b: Bools, a: Ints, b: Ints,
    contour: Ints, first: Ints, count: Ints,
) -> Runs:  # fmt: skip
    """Group edges into runs, every contour turned to begin where a run begins."""
    index = np.arange(len(a))
    begins = np.where(goes_on, len(a), index)
    head = np.minimum.reduceat(begins, first)
    head = np.where(head >= len(a), first, head)
    goes_on[head] = False
    turned = first[contour] + (index - first[contour] + (head - first)[contour]) % count[contour]
    start = np.flatnonzero(~goes_on[turned])
    stop = np.append(start[1:], len(a)) - 1
    lead, tail = turned[start], turned[stop]
    runs = Runs(a[lead] / GRID, b[tail] / GRID, curve[lead], ta[lead], tb[tail], contour[lead])
    _meet(runs, curves, cut_a[lead], cut_b[tail])
    return runs


def _meet(runs: Runs, curves: Curves, cut_start: Bools, cut_end: Bools) -> None:
    """Move crossings of two runs from the chords onto the curves, where they meet at a clear angle."""
    index = np.arange(len(runs.curve))
    is_last = np.append(runs.contour[1:] != runs.contour[:-1], True)
    head = np.searchsorted(runs.contour, runs.contour, "left")
    following = np.where(is_last, head, index + 1)
    at = index[cut_end & cut_start[following] & ((runs.curve >= 0) | (runs.curve[following] >= 0))]
    if not len(at):
        return
    on = following[at]
    ends = [(at, runs.t1[at].copy(), runs.end[at] - runs.start[at], runs.end[at]),
            (on, runs.t0[on].copy(), runs.end[on] - runs.start[on], runs.start[on])]  # fmt: skip
    along = [np.zeros(len(at)), np.zeros(len(at))]
    good = np.ones(len(at), dtype=bool)
    for _ in range(4):
        spots, ways = [], []
        for (rows, t, line, anchor), s in zip(ends, along, strict=True):
            curved = runs.curve[rows] >= 0
            spot, way = anchor + s[:, None] * line, line.copy()
            k = np.flatnonzero(curved)
            spot[k], way[k] = motion(curves, runs.curve[rows[k]], t[k])
            spots.append(spot)
            ways.append(way)
        det = cross(ways[0], ways[1])
        size = np.hypot(*ways[0].T) * np.hypot(*ways[1].T)
        good &= np.abs(det) > 0.05 * size
        det = np.where(good, det, 1.0)
        gap = spots[1] - spots[0]
        steps = [cross(gap, ways[1]) / det, cross(gap, ways[0]) / det]
        for side in (0, 1):
            step = np.where(good, steps[side], 0.0)
            curved = runs.curve[ends[side][0]] >= 0
            ends[side][1][curved] = np.clip(ends[side][1] + step, 0, 1)[curved]
            along[side] += np.where(curved, 0.0, step)
    spot = (spots[0] + spots[1]) / 2
    moved = np.hypot(*(spot - runs.end[at]).T)
    good &= (np.hypot(*(spots[1] - spots[0]).T) < 0.05) & (moved < 2.0)
    runs.end[at[good]] = spot[good]
    runs.start[on[good]] = spot[good]
    runs.t1[at[good]] = ends[0][1][good]
    runs.t0[on[good]] = ends[1][1][good]
