"""Fingerprints of outlines: what an icon shows, in some 300 letters, however its file was written.

A fingerprint holds the outline on a coarse em. Two are of one drawing where no point of either lies farther from the
other than shapes that were moved by a hundredth, and the ink has nearly the same area: other bytes, colours, precision
and paths make no difference.
"""

from __future__ import annotations

import base64
import binascii
import struct
import zlib
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from oddpeg.geometry.arrays import Points
from oddpeg.geometry.contours import Edges
from oddpeg.geometry.outlines import FlatOutlines
from oddpeg.geometry.ragged import ragged_index
from oddpeg.outline.model import Outline
from oddpeg.outline.placement import Em

FARTHEST = 0.012  # em, between outlines of one drawing
_UNITS = 1024  # to the em, of kept outlines
_MOST_POINTS = 4000  # of an outline that is kept
_AREA = 0.08  # by which areas may differ
_PIECES = 6  # straight edges in place of a curve
_SAMPLE = 20  # each so many points, which are looked at first
_STEP = 0.006  # em, between points that are held against another outline
_HEAD = ">3H"  # points, contours, advance in units
_MOST_PAIRS = 5000  # that are held against each other, the nearest in size first
_MOST_WORK = 5e8  # distances in all, some ten seconds
_MOST_WORK_OF_TWO = 5e7
_AT_ONCE = 4_000_000  # distances


@dataclass(frozen=True)
class Fingerprint:
    """What an icon shows.

    Attributes:
        outline: on an em of `_UNITS`, its frame's top left corner at 0, _UNITS.
    """

    outline: Outline

    @staticmethod
    def of(outline: Outline, em: Em) -> Fingerprint | None:
        """Return the fingerprint of a glyph; None for one without points, or with too many."""
        if not 0 < len(outline.on) <= _MOST_POINTS:
            return None
        scale = _UNITS / em.units
        xy = np.rint((outline.xy + np.array((0, em.depth))) * scale).astype(np.int64)
        return Fingerprint(Outline(xy, outline.on, outline.ends, round(outline.advance * scale)))

    def text(self) -> str:
        """Return the fingerprint as a record holds it."""
        one = self.outline
        steps = np.diff(one.xy, axis=0, prepend=np.zeros((1, 2), np.int64)).astype("<i2")
        head = struct.pack(_HEAD, len(one.on), len(one.ends), min(one.advance, 0xFFFF))
        parts = (head, steps.T.tobytes(), np.asarray(one.ends, "<u2").tobytes(), np.packbits(one.on).tobytes())
        return base64.b85encode(zlib.compress(b"".join(parts))).decode()

    @staticmethod
    def parse(text: str) -> Fingerprint | None:
        """Return the fingerprint that a record holds; None where it is damaged."""
        try:
            data = zlib.decompressobj().decompress(base64.b85decode(text), 16 * _MOST_POINTS)
            points, contours, advance = struct.unpack(_HEAD, data[:6])
            steps = np.frombuffer(data, "<i2", 2 * points, 6).reshape(2, -1).T
            ends = np.frombuffer(data, "<u2", contours, 6 + 4 * points).astype(np.int64)
            on = np.unpackbits(np.frombuffer(data, "u1", -(-points // 8), 6 + 4 * points + 2 * contours), count=points)
        except (ValueError, struct.error, zlib.error, binascii.Error):
            return None
        if not points or not contours or ends[-1] != points - 1 or (np.diff(ends) < 1).any():
            return None
        return Fingerprint(Outline(np.cumsum(steps, axis=0, dtype=np.int64), on.astype(bool), ends, advance))

    @cached_property
    def size(self) -> tuple[float, float, float, float, float]:
        """The box of the ink and the advance, in ems."""
        left, bottom, right, top = (FlatOutlines.join([self.outline]).bounds()[0] / _UNITS).tolist()
        return left, bottom, right, top, self.outline.advance / _UNITS

    @cached_property
    def area(self) -> float:
        """The area of the ink, in square units."""
        return abs(float(self.outline.contours.areas().sum()))

    @cached_property
    def edges(self) -> Edges:
        """The outline as straight edges, in units."""
        return self.outline.contours.segments().flattened(_PIECES)

    @cached_property
    def length(self) -> float:
        """The length of the outline, in units."""
        return float(np.abs(self.edges.end - self.edges.start).sum())

    def work(self, other: Fingerprint) -> float:
        """Return about how many distances between points and edges tell how far two outlines lie apart."""
        edges, others = len(self.edges.start), len(other.edges.start)
        points, beside = (edges_ + one.length / (_STEP * _UNITS) for edges_, one in ((edges, self), (others, other)))
        return points * others + beside * edges

    @cached_property
    def places(self) -> Points:
        """Points along the outline, in units."""
        start, end = self.edges
        count = np.maximum(1, np.ceil(np.abs(end - start) / (_STEP * _UNITS))).astype(np.int64)
        edge, step = ragged_index(count)
        return start[edge] + (end - start)[edge] * ((step + 0.5) / count[edge])


def alike(some: Sequence[Fingerprint], others: Sequence[Fingerprint]) -> dict[tuple[int, int], float]:
    """Return how alike fingerprints of one drawing are, by their numbers in both sequences: 1 less the distance in
    ems."""
    if not some or not others:
        return {}
    a, b = (np.array([(*one.size, one.area) for one in side]) for side in (some, others))
    apart = np.abs(a[:, None] - b)
    near = (apart[..., :-1] <= FARTHEST).all(axis=2) & (apart[..., -1] <= _AREA * np.maximum(a[:, None], b)[..., -1])
    pairs = np.argwhere(near)
    pairs = pairs[np.argsort(apart[near].sum(axis=1), kind="stable")][:_MOST_PAIRS].tolist()
    found, left = {}, _MOST_WORK
    for i, j in pairs:
        work = some[i].work(others[j])
        far = distance(some[i], others[j]) if left > 0 else None
        left -= work if far is not None else work / _SAMPLE
        if far is not None:
            found[i, j] = 1 - far
    return found


def are_alike(some: Sequence[Fingerprint], others: Sequence[Fingerprint]) -> bool:
    """Return whether each fingerprint is of one drawing with that at its place in the other sequence."""
    return len(some) == len(others) and all(distance(*pair) is not None for pair in zip(some, others, strict=True))


def distance(one: Fingerprint, other: Fingerprint) -> float | None:
    """Return the longest way from a point of one outline to the other, in ems; None where they are of two drawings, or
    too rich to be held against each other."""
    if one.work(other) > _MOST_WORK_OF_TWO:
        return None
    if any(abs(a - b) > FARTHEST for a, b in zip(one.size, other.size, strict=True)):
        return None
    if abs(one.area - other.area) > _AREA * max(one.area, other.area):
        return None
    ways = []
    for stride in (_SAMPLE, 1):  # most drawings differ at some point of a few
        for some, beside in ((one, other), (other, one)):
            ways.append(_farthest(some.places[::stride], *beside.edges) / _UNITS)
            if ways[-1] > FARTHEST:
                return None
    return max(ways)


def _farthest(points: Points, start: Points, end: Points) -> float:
    """Return the longest distance from a point to the nearest edge."""
    way, longest = end - start, 0.0
    length = np.maximum(np.abs(way) ** 2, 1e-9)
    together = max(1, _AT_ONCE // len(start))
    for first in range(0, len(points), together):
        there = points[first : first + together, None] - start
        share = np.clip((there.real * way.real + there.imag * way.imag) / length, 0, 1)
        longest = max(longest, float(np.abs(there - share * way).min(axis=1).max()))
        if longest > FARTHEST * _UNITS:
            break
    return longest
