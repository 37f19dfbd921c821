"""Outlines of many icons in flat arrays: how they are joined, split, sent to other processes and kept."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import NamedTuple, Protocol

import numpy as np

from oddpeg.geometry.arrays import Bools, Floats, Ints
from oddpeg.geometry.contours import Contours
from oddpeg.geometry.ragged import ragged_index


class PointArrays(NamedTuple):
    """One outline.

    Attributes:
        xy: (n, 2) points.
        on: (n,) on-curve.
        ends: (contours,) index of each contour's last point.
    """

    xy: Ints
    on: Bools
    ends: Ints


class HasPoints(Protocol):
    """Anything with the three arrays of an outline."""

    @property
    def xy(self) -> Ints: ...
    @property
    def on(self) -> Bools: ...
    @property
    def ends(self) -> Ints: ...


class FlatOutlines(NamedTuple):
    """Outlines laid end to end.

    Attributes:
        xy: (points, 2).
        on: (points,).
        ends: (contours,) index of each contour's last point within its own outline.
        points, contours: (outlines,) how many each has.
    """

    xy: Ints
    on: Bools
    ends: Ints
    points: Ints
    contours: Ints

    @staticmethod
    def join(outlines: Sequence[HasPoints]) -> FlatOutlines:
        """Return the outlines as one, in order."""
        return FlatOutlines(
            np.concatenate([np.zeros((0, 2), dtype=np.int64), *(o.xy for o in outlines)]),
            np.concatenate([np.zeros(0, dtype=bool), *(o.on for o in outlines)]),
            np.concatenate([np.zeros(0, dtype=np.int64), *(o.ends for o in outlines)]),
            np.array([len(o.on) for o in outlines], dtype=np.int64),
            np.array([len(o.ends) for o in outlines], dtype=np.int64),
        )

    def split(self) -> Iterator[PointArrays]:
        """Yield every outline, in order, as views of these arrays."""
        p = e = 0
        for points, contours in zip(self.points.tolist(), self.contours.tolist(), strict=True):
            yield PointArrays(self.xy[p : p + points], self.on[p : p + points], self.ends[e : e + contours])
            p, e = p + points, e + contours

    def bounds(self) -> Floats:
        """Return the box of each outline's ink, (outlines, 4): left, bottom, right, top; each has a contour."""
        segments = self.flat().segments().straightened()
        first = np.searchsorted(self.owner[segments.contour], np.arange(len(self.points)))
        picks = (np.minimum, np.minimum, np.maximum, np.maximum)
        edges = zip(picks, segments.bounds(), strict=True)
        return np.stack([pick.reduceat(edge, first) for pick, edge in edges], axis=1)

    @property
    def owner(self) -> Ints:
        """Which outline each contour belongs to, (contours,)."""
        return ragged_index(self.contours).owner

    def flat(self) -> Contours:
        """Return all contours, numbered through."""
        sizes = self.ends.copy()
        sizes[1:] -= self.ends[:-1]
        heads = (np.cumsum(self.contours) - self.contours)[self.contours > 0]
        sizes[heads] = self.ends[heads] + 1
        return Contours(self.xy[:, 0] + 1j * self.xy[:, 1], self.on, ragged_index(sizes).owner)
