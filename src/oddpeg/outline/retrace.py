"""Clipped polygons → runs along true curves.

The clipper returns vertices only. Vertices it did not make itself have exactly the coordinates they went in with, so
most edges are found again by their two ends, and edges that were cut by one end and the line they lie on. An edge cut
at both ends is part of one chord: a line, as close to its curve as the flattening was. Neighbouring edges that follow
one curve make one run; where two runs cross, the crossing is moved from the chords onto the curves by Newton's
method.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from oddpeg.geometry.arrays import Bools, Floats, Ints, Points
from oddpeg.geometry.curves import Curves, motion
from oddpeg.geometry.ragged import neighbours, run_starts, turned
from oddpeg.geometry.vectors import cross, dot
from oddpeg.outline.polygons import GRID, STRAIGHT

_NEAR = 2.5  # grid steps: how far rounding may take a cut edge's end from the edge it lies on
_TRIES = 8  # edges looked at that leave one vertex


class PolygonEdges(NamedTuple):
    """Edges of polygons.

    Attributes:
        start, end: (n,) grid steps.
        icon: (n,).
        curve, t0, t1: the curve of each edge, and its parameters at both ends.
        before: (n,) the edge that ends at the start of each.
    """

    start: Points
    end: Points
    icon: Ints
    curve: Ints
    t0: Floats
    t1: Floats
    before: Ints


class Runs(NamedTuple):
    """Pieces of contours, each a line (curve -1) or part of one curve from t0 to t1.

    Attributes:
        start, end: (n,) points, em units.
        curve: (n,) its ordinal, -1 for a line.
        t0, t1: (n,) parameters on it.
        contour: (n,) ascending, runs in drawing order.
    """

    start: Points
    end: Points
    curve: Ints
    t0: Floats
    t1: Floats
    contour: Ints

    def take(self, rows: Ints) -> Runs:
        return Runs(
            self.start.take(rows),
            self.end.take(rows),
            self.curve.take(rows),
            self.t0.take(rows),
            self.t1.take(rows),
            self.contour.take(rows),
        )


def _hash(z: Points, icon: Ints) -> NDArray[np.uint64]:
    """Return one number per grid point and icon; equal points get equal numbers."""
    x, y, i = (v.astype(np.int64).view(np.uint64) for v in (z.real, z.imag, icon))
    mixed = x * np.uint64(0x9E3779B97F4A7C15) ^ (y * np.uint64(0xC2B2AE3D27D4EB4F) + i * np.uint64(0x165667B19E3779F9))
    mixed ^= mixed >> np.uint64(29)
    result: NDArray[np.uint64] = mixed * np.uint64(0xBF58476D1CE4E5B9)
    return result


def _misfit(source: PolygonEdges, candidate: Ints, a: Points, b: Points) -> Floats:
    """Return how far (grid steps) edges a → b lie off candidate edges; inf where they reach beyond them."""
    p = source.start.take(candidate)
    way = source.end.take(candidate) - p
    size = np.abs(way)
    worst = np.zeros(len(candidate))
    for corner in (a, b):
        off = corner - p
        along = dot(off, way) / size
        beyond = (along < -_NEAR) | (along > size + _NEAR)
        worst = np.where(beyond, np.inf, np.maximum(worst, np.abs(cross(off, way)) / size))
    return worst


def _look_up(source: PolygonEdges, z: Points, icon: Ints) -> tuple[NDArray[np.uint64], Ints, Ints, Bools]:
    """Return (keys, rank, low, held): the hashes of all edges' starts in order, the edge of each, where the hash of
    each vertex z would stand first, and whether it does. An edge's number takes the lowest bits of its hash: plain
    sorting is then stable. Both kinds of keys are sorted first, for finding things in any other order takes three
    times as long."""
    bits = np.uint64(len(source.start).bit_length())
    number = (np.uint64(1) << bits) - np.uint64(1)
    packed = np.sort(_hash(source.start, source.icon) & ~number | np.arange(len(source.start), dtype=np.uint64))
    wanted = _hash(z, icon) >> bits
    keys = packed >> bits
    order = np.argsort(wanted)
    low = np.empty_like(order)
    low[order] = np.searchsorted(keys, wanted.take(order))
    return keys, (packed & number).astype(np.int64), low, keys.take(low, mode="clip") == wanted


def match_edges(source: PolygonEdges, a: Points, b: Points, following: Ints, icon: Ints) -> Ints:
    """Return for each edge a → b of the result the source edge it lies on, or -1.
    following: (n,) the edge after each, so that b[i] is a[following[i]]. PolygonEdges of `source` have length."""
    keys, rank, low, held = _look_up(source, a, icon)
    matches = np.full(len(a), -1)
    low_b, held_b = low.take(following), held.take(following)
    for at, here, target in ((low, held, b), (low_b, held_b, a)):
        rows = np.flatnonzero(here & (matches < 0))
        edge = rank.take(at.take(rows))
        hit = source.end.take(edge) == target.take(rows)
        matches[rows[hit]] = edge[hit]
    rest = np.flatnonzero((matches < 0) & (held | held_b))
    matches[rest] = _match_by_one_end(
        source, keys, rank, a[rest], b[rest], [(low[rest], held[rest]), (low_b[rest], held_b[rest])]
    )
    return matches


def _match_by_one_end(
    source: PolygonEdges, keys: NDArray[np.uint64], rank: Ints, a: Points, b: Points, ends: list[tuple[Ints, Bools]]
) -> Ints:
    """Return the edge that leaves or reaches an end of a → b and along which it lies, or -1."""
    best, fit = np.full(len(a), -1), np.full(len(a), _NEAR)
    for low, held in ends:
        rows = np.flatnonzero(held)
        for k in range(_TRIES):
            at = low[rows] + k
            rows = rows[at < len(keys)]
            rows = rows[keys[low[rows] + k] == keys[low[rows]]]
            if not len(rows):
                break
            leaving = rank[low[rows] + k]
            for candidate in (leaving, source.before[leaving]):
                misfit = _misfit(source, candidate, a[rows], b[rows])
                better = misfit < fit[rows]
                best[rows[better]], fit[rows[better]] = candidate[better], misfit[better]
    return best


def retrace(source: PolygonEdges, curves: Curves, z: Points, contour: Ints, icon: Ints) -> Runs:
    """Return the runs of clipped contours.

    Args:
        z: (n,) vertices, grid steps.
        contour: (n,) ascending.
        icon: (n,).
    """
    before, following = neighbours(contour)
    a, b = z, z.take(following)
    matches = match_edges(source, a, b, following, icon)
    curve = np.full(len(a), STRAIGHT)
    ta, tb = np.zeros(len(a)), np.zeros(len(a))
    ua, ub = np.zeros(len(a)), np.zeros(len(a))
    rows = np.flatnonzero(matches >= 0)
    edge = matches.take(rows)
    curve[rows] = source.curve.take(edge)
    start = source.start.take(edge)
    way = source.end.take(edge) - start
    size = np.maximum(dot(way, way), 1e-9)
    t0 = source.t0.take(edge)
    span = source.t1.take(edge) - t0
    for corner, along, t in ((a, ua, ta), (b, ub, tb)):
        share = np.clip(dot(corner.take(rows) - start, way) / size, 0.0, 1.0)
        along[rows], t[rows] = share, t0 + share * span
    lost = matches < 0  # cut at both ends
    cut_a, cut_b = lost | (ua > 0) & (ua < 1), lost | (ub > 0) & (ub < 1)
    step = tb - ta
    goes_on = (
        (curve >= 0)
        & (curve.take(before) == curve)
        & (np.abs(tb.take(before) - ta) < 1e-9)
        & (step * step.take(before) > 0)
    )
    pieces = Runs(a * (1 / GRID), b * (1 / GRID), curve, ta, tb, contour)
    return _joined(curves, pieces, goes_on, cut_a, cut_b)


def _joined(curves: Curves, pieces: Runs, goes_on: Bools, cut_start: Bools, cut_end: Bools) -> Runs:
    """Return runs made of single edges, every contour turned to begin where a run begins.
    goes_on: (n,) whether an edge continues the one before it; cut_start, cut_end: (n,) whether a crossing ends it."""
    chains = chained(pieces.contour, goes_on)
    lead, tail = chains.rows[chains.first], chains.rows[chains.last]
    runs = pieces.take(lead)._replace(end=pieces.end[tail], t1=pieces.t1[tail])
    _meet(runs, curves, cut_start[lead], cut_end[tail])
    return runs


class Chains(NamedTuple):
    """Pieces of contours of which some go on from those before them.

    Attributes:
        rows: (n,) all pieces, every contour turned to begin where a chain begins.
        first, last: (chains,) where in `rows` each begins and ends.
    """

    rows: Ints
    first: Ints
    last: Ints


def chained(contour: Ints, goes_on: Bools) -> Chains:
    """Return the chains of pieces. contour: (n,) ascending; goes_on: (n,) whether a piece continues the one before it
    around its contour; one that is a ring is cut at its first piece."""
    starts, index = run_starts(contour), np.arange(len(contour))
    heads = np.minimum.reduceat(np.where(goes_on, len(contour), index), starts)
    heads = np.where(heads >= len(contour), starts, heads)
    rows = turned(contour, heads)
    begins = ~goes_on
    begins[heads] = True
    first = np.flatnonzero(begins[rows])
    return Chains(rows, first, np.append(first[1:], len(contour)) - 1)


def _meet(runs: Runs, curves: Curves, cut_start: Bools, cut_end: Bools) -> None:
    """Move crossings of two runs from the chords onto the curves, where they meet at a clear angle."""
    index = np.arange(len(runs.curve))
    _, following = neighbours(runs.contour)
    at = index[cut_end & cut_start[following] & ((runs.curve >= 0) | (runs.curve[following] >= 0))]
    if not len(at):
        return
    on = following[at]
    rows, t = (at, on), [runs.t1[at].copy(), runs.t0[on].copy()]
    line = [runs.end[r] - runs.start[r] for r in rows]
    anchor, along = runs.end[at], [np.zeros(len(at)), np.zeros(len(at))]
    curved = [np.flatnonzero(runs.curve[r] >= 0) for r in rows]
    good = np.ones(len(at), dtype=bool)
    spots = [anchor, anchor]
    for _ in range(4):
        ways = []
        for side in (0, 1):
            spot, way = anchor + along[side] * line[side], line[side].copy()
            k = curved[side]
            spot[k], way[k] = motion(curves, runs.curve[rows[side][k]], t[side][k])
            spots[side] = spot
            ways.append(way)
        det = cross(ways[0], ways[1])
        good &= np.abs(det) > 0.05 * np.abs(ways[0]) * np.abs(ways[1])
        det = np.where(good, det, 1.0)
        gap = spots[1] - spots[0]
        for side in (0, 1):
            step = np.where(good, cross(gap, ways[1 - side]) / det, 0.0)
            k = curved[side]
            t[side][k] = np.clip(t[side][k] + step[k], 0, 1)
            along[side] += step
    middle = (spots[0] + spots[1]) / 2
    good &= (np.abs(spots[1] - spots[0]) < 0.05) & (np.abs(middle - anchor) < 8.0)
    runs.end[at[good]] = middle[good]
    runs.start[on[good]] = middle[good]
    runs.t1[at[good]] = t[0][good]
    runs.t0[on[good]] = t[1][good]
