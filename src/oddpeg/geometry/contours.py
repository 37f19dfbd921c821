"""Closed contours of lines and quadratic curves, as TrueType has them, many at once in flat arrays.

Points are complex numbers x + iy; whole numbers are held exactly. Between two off-curve points an on-curve point
midway is implied (OpenType specification, glyf table).
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from oddpeg.geometry.arrays import Bools, Floats, Ints, Points
from oddpeg.geometry.ragged import Neighbours, neighbours
from oddpeg.geometry.vectors import cross


class Contours(NamedTuple):
    """Flat contours.

    Attributes:
        z: (n,) points.
        on: (n,) on-curve.
        contour: (n,) ordinals in rising order, of which some may be missing.
    """

    z: Points
    on: Bools
    contour: Ints

    def keep(self, mask: Bools) -> Contours:
        """Return the points for which `mask` (n,) is set."""
        rows = np.flatnonzero(mask)
        return Contours(self.z.take(rows), self.on.take(rows), self.contour.take(rows))

    def neighbours(self) -> Neighbours:
        """Return the points before and after each point, around its contour."""
        return neighbours(self.contour)

    def segments(self) -> ContourSegments:
        """Return every segment, implied points filled in."""
        before, after = self.neighbours()
        on_after = self.on.take(after)
        rows = np.flatnonzero(~self.on | on_after)  # from an on-curve point to a control, the control tells the segment
        here, next_points, before = self.z.take(rows), self.z.take(after.take(rows)), before.take(rows)
        line, behind = self.on.take(rows), self.z.take(before)
        middle = (here + next_points) * 0.5
        start = np.where(line, here, np.where(self.on.take(before), behind, (behind + here) * 0.5))
        stop = np.where(line | on_after.take(rows), next_points, middle)
        return ContourSegments(start, np.where(line, middle, here), stop, self.contour.take(rows), line)

    def areas(self) -> Floats:
        """Return the signed area of each contour ordinal (y up: counter-clockwise is positive)."""
        start, control, stop, number, _ = self.segments()
        share = (2 * cross(start, control) + 2 * cross(control, stop) + cross(start, stop)) / 6
        return np.bincount(number, weights=share).astype(np.float64)


class ContourSegments(NamedTuple):
    """Segments of contours as flat arrays.

    Attributes:
        start, control, stop: (n,) points.
        contour: (n,) ordinals in rising order.
        line: (n,) True for lines; their control is the midpoint.
    """

    start: Points
    control: Points
    stop: Points
    contour: Ints
    line: Bools

    def scaled(self, factor: complex, shift: complex = 0j) -> ContourSegments:
        """Return the same segments, every point times `factor`, plus `shift`."""
        start, control, stop = (z * factor + shift for z in self[:3])
        return self._replace(start=start, control=control, stop=stop)

    def rounded(self) -> ContourSegments:
        """Return the same segments, every point on whole coordinates."""
        return self._replace(start=np.round(self.start), control=np.round(self.control), stop=np.round(self.stop))

    def mirrored(self) -> ContourSegments:
        """Return the same segments with the sign of y changed."""
        return self._replace(start=np.conj(self.start), control=np.conj(self.control), stop=np.conj(self.stop))

    def straightened(self) -> ContourSegments:
        """Return the same segments, with curves whose control is in the middle marked as lines."""
        return self._replace(line=self.control == (self.start + self.stop) / 2)

    def bounds(self) -> Bounds:
        """Return the box of every segment, bulges included."""
        columns = []
        for s, c, e in (
            (self.start.real, self.control.real, self.stop.real),
            (self.start.imag, self.control.imag, self.stop.imag),
        ):
            bend = s - 2 * c + e
            t = np.clip(np.divide(s - c, bend, out=np.zeros_like(s), where=bend != 0), 0, 1)
            bulge = (1 - t) ** 2 * s + 2 * t * (1 - t) * c + t * t * e
            columns.append((np.minimum(np.minimum(s, e), bulge), np.maximum(np.maximum(s, e), bulge)))
        return Bounds(columns[0][0], columns[1][0], columns[0][1], columns[1][1])

    def flattened(self, pieces: int) -> Edges:
        """Return every segment as `pieces` straight edges."""
        t = np.arange(pieces + 1) / pieces
        start, control, stop = (z[:, None] for z in self[:3])
        points = (1 - t) ** 2 * start + 2 * t * (1 - t) * control + t * t * stop
        return Edges(points[:, :-1].ravel(), points[:, 1:].ravel())


class Bounds(NamedTuple):
    """Boxes (n,), axis by axis."""

    left: Floats
    bottom: Floats
    right: Floats
    top: Floats


class Edges(NamedTuple):
    """Straight edges (n,), from `start` to `end`."""

    start: Points
    end: Points
