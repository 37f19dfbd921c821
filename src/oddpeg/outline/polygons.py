"""Tagged polygons for the clipper: every edge records the curve it came from."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from oddpeg.geometry.arrays import Bools, Floats, Ints, Points
from oddpeg.geometry.curves import Curves, Maps, flat_steps, point
from oddpeg.geometry.ragged import ragged_index

GRID = 4096  # grid steps per font unit: fine enough that rounding never shows, coarse enough for fast integers
REACH = 2**29 // GRID  # font units; nothing an icon needs lies farther out
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


def on_grid(xy: Points) -> Points:
    """Return em points (n,) in whole grid steps, held within reach."""
    flat = np.ascontiguousarray(xy).view(np.float64)
    held: Floats = np.rint(np.fmin(np.fmax(flat, -REACH), REACH) * GRID)  # these two hold what is not a number as well
    return held.view(np.complex128)
