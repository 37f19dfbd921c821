"""Tagged polygons for the clipper: every edge records the curve it came from."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from oddpeg.geometry.arrays import Bools, Floats, Ints, Points
from oddpeg.geometry.curves import Curves, Maps, flat_steps, point
from oddpeg.geometry.ragged import neighbours, ragged_index, run_starts
from oddpeg.geometry.vectors import cross

GRID = 4096  # grid steps per font unit: fine enough that rounding never shows, coarse enough for fast integers
REACH = 2**29 // GRID  # font units; nothing an icon needs lies farther out
_FARTHEST = 1e12  # font units; larger coordinates are clamped, so that differences stay finite
STRAIGHT = -1  # tag of an edge that is a line of its own


class Polygons(NamedTuple):
    """Closed contours, flat.

    Attributes:
        xy: (n,) points, em units.
        curve: (n,) tag of the edge that leaves each vertex.
        t0, t1: (n,) its parameters at both ends.
        contour: (n,) ordinal, ascending.
        region: (contours,) which painted region each contour belongs to.
    """

    xy: Points
    curve: Ints
    t0: Floats
    t1: Floats
    contour: Ints
    region: Ints

    def take(self, rows: Ints) -> Polygons:
        """Return some vertices; contours keep their numbers."""
        return Polygons(
            self.xy.take(rows),
            self.curve.take(rows),
            self.t0.take(rows),
            self.t1.take(rows),
            self.contour.take(rows),
            self.region,
        )

    @staticmethod
    def join(parts: list[Polygons]) -> Polygons:
        """Return all contours of all parts, renumbered."""
        shift, contours = 0, []
        for part in parts:
            contours.append(part.contour + shift)
            shift += len(part.region)
        return Polygons(
            np.concatenate([p.xy for p in parts]),
            np.concatenate([p.curve for p in parts]),
            np.concatenate([p.t0 for p in parts]),
            np.concatenate([p.t1 for p in parts]),
            np.concatenate(contours),
            np.concatenate([p.region for p in parts]),
        )


class PathSegments(NamedTuple):
    """Paths of many regions, flat.

    Attributes:
        control: (n, 4).
        degree: (n,).
        subpath: (n,) ordinal, ascending.
        closed: (subpaths,).
        region: (subpaths,).
        maps: (regions,) user units → em.
    """

    control: Points
    degree: Ints
    subpath: Ints
    closed: Bools
    region: Ints
    maps: Maps

    def ends(self) -> tuple[Ints, Ints]:
        """Return the first and the last segment of each subpath."""
        count = np.bincount(self.subpath, minlength=len(self.region))
        last = np.cumsum(count) - 1
        return last - count + 1, last


def fill_polygons(segments: PathSegments, curves: Curves, first_tag: int, tolerance: float) -> Polygons:
    """Return the flattened contours of filled paths. `curves` are the segments mapped to the em,
    tagged from `first_tag`; tolerance in font units."""
    steps = np.where(segments.degree == 1, 1, flat_steps(curves.control, tolerance))
    first, last = segments.ends()
    open_end = np.zeros(len(steps), dtype=np.int64)
    gap = curves.control[last, 3] != curves.control[first, 0]
    open_end[last[gap]] = 1
    owner, position = ragged_index(steps + open_end)
    t0 = np.minimum(position / steps[owner], 1.0)
    closing = position == steps[owner]
    t1 = np.minimum((position + 1) / steps[owner], 1.0)
    tag = np.where(closing | (segments.degree[owner] == 1), STRAIGHT, owner + first_tag)
    xy = point(curves, owner, t0)
    xy[closing] = curves.control[owner[closing], 3]
    return Polygons(xy, tag, t0, t1, segments.subpath[owner], segments.region)


def cut_far_ink(polygons: Polygons, boxes: Floats) -> Polygons:
    """Return polygons with the same windings inside of their boxes, and no point far outside of them.

    Contours that leave their box are cut at its sides, one side after the other (Sutherland and Hodgman). A contour
    beyond one side becomes a triangle behind it, which tells that there is ink.

    Args:
        boxes: (regions, 4) left, bottom, right, top.
    """
    far = clamped(polygons.xy, _FARTHEST)
    box = boxes.take(polygons.region.take(polygons.contour), axis=0).T
    sides = np.array([far.real - box[0], far.imag - box[1], box[2] - far.real, box[3] - far.imag])
    if (sides >= 0).all():
        return polygons
    starts = run_starts(polygons.contour)
    beyond = np.maximum.reduceat(sides, starts, axis=1) < 0  # (4, contours present)
    gone, leaves = beyond.any(axis=0), np.minimum.reduceat(sides, starts, axis=1).min(axis=0) < 0
    ordinal = np.repeat(np.arange(len(starts)), np.diff(np.append(starts, len(far))))
    rows = np.flatnonzero((leaves & ~gone)[ordinal])
    cut = _cut_at_sides(polygons._replace(xy=far).take(rows), boxes)
    near = polygons.take(np.flatnonzero(~leaves[ordinal]))
    behind = _triangles(polygons, far, starts[gone], beyond[:, gone].argmax(axis=0), boxes)
    parts = [near, cut, behind]
    joined = Polygons(
        np.concatenate([p.xy for p in parts]),
        np.concatenate([p.curve for p in parts]),
        np.concatenate([p.t0 for p in parts]),
        np.concatenate([p.t1 for p in parts]),
        np.concatenate([p.contour for p in parts]),
        polygons.region,
    )
    joined = joined.take(np.argsort(joined.contour, kind="stable"))
    names = joined.contour[run_starts(joined.contour)]
    return joined._replace(contour=np.searchsorted(names, joined.contour), region=joined.region.take(names))


def _triangles(polygons: Polygons, far: Points, starts: Ints, side: Ints, boxes: Floats) -> Polygons:
    """Return for each contour that begins at `starts` and lies beyond a side (0 to 3) a triangle there that winds as
    the contour does; none for a contour without area."""
    _, after = neighbours(polygons.contour)
    number = polygons.contour.take(starts)
    areas = np.bincount(polygons.contour, weights=cross(far, far.take(after)), minlength=len(polygons.region))
    way = np.sign(areas.take(number))
    number, side, way = number[way != 0], side[way != 0], way[way != 0]
    left, bottom, right, top = boxes.take(polygons.region.take(number), axis=0).T
    size = np.maximum(right - left, top - bottom) / 16
    corner = (
        np.array([left - 2 * size, left, right + size, left])[side, np.arange(len(side))]
        + 1j * (np.array([bottom, bottom - 2 * size, bottom, top + size])[side, np.arange(len(side))])
    )
    shape = np.stack(
        [corner, corner + size * np.where(way > 0, 1, 1j), corner + size * np.where(way > 0, 1j, 1)], axis=1
    )
    count = shape.size
    return Polygons(
        shape.ravel(), np.full(count, STRAIGHT), np.zeros(count), np.ones(count), np.repeat(number, 3), polygons.region
    )


def _cut_at_sides(polygons: Polygons, boxes: Floats) -> Polygons:
    """Return contours cut at all sides of their boxes."""
    for side in range(4):
        if not len(polygons.xy):
            break
        at = boxes.take(polygons.region.take(polygons.contour), axis=0)[:, side]
        z = polygons.xy
        within = (z.real - at, z.imag - at, at - z.real, at - z.imag)[side]
        polygons = _cut_at_side(polygons, within)
    return polygons


def _cut_at_side(polygons: Polygons, within: Floats) -> Polygons:
    """Return contours cut at a line. within: (n,) how far inside of it each vertex lies."""
    xy, curve, t0, t1, contour, region = polygons
    _, after = neighbours(contour)
    inside = within >= 0
    crosses = inside != inside.take(after)
    share = np.divide(within, within - within.take(after), out=np.zeros_like(within), where=crosses)
    spot, t = xy + share * (xy.take(after) - xy), t0 + share * (t1 - t0)
    owner, position = ragged_index(inside.astype(np.int64) + crosses)
    new = position == inside.take(owner)  # the crossing follows the vertex, where that is kept
    leaves = new & inside.take(owner)
    return Polygons(
        np.where(new, spot.take(owner), xy.take(owner)),
        np.where(leaves, STRAIGHT, curve.take(owner)),
        np.where(leaves, 0.0, np.where(new, t.take(owner), t0.take(owner))),
        np.where(leaves, 1.0, np.where(new | ~crosses.take(owner), t1.take(owner), t.take(owner))),
        contour.take(owner),
        region,
    )


def clamped(xy: Points, reach: float) -> Points:
    """Return points (n,) with both coordinates clamped to ±reach; NaN becomes a number too."""
    flat = np.ascontiguousarray(xy).view(np.float64)
    result: Points = np.fmin(np.fmax(flat, -reach), reach).view(np.complex128)
    return result


def on_grid(xy: Points) -> Points:
    """Return em points (n,) in whole grid steps, clamped to ±`REACH`."""
    steps: Floats = np.rint(clamped(xy, REACH).view(np.float64) * GRID)
    return steps.view(np.complex128)
