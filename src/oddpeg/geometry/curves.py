"""Flat tables of parametric curves: where a point is, and which way it goes.

Points are complex numbers x + iy: then i·v is v turned by +90° of its axes, conj(u)·v holds dot and cross product as
real and imaginary part, and arrays of points are plain one-dimensional arrays. A curve is a cubic in its own user
units, moved sideways by a signed offset along its left normal i·tangent, then mapped to the em. Plain curves have
offset 0. Everything works on whole arrays; nothing here loops over curves.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import NamedTuple, TypeVar

import numpy as np
from numpy.typing import NDArray

from oddpeg.geometry.arrays import Bools, Floats, Ints, Points
from oddpeg.geometry.vectors import cross

_N = TypeVar("_N", np.float64, np.complex128)
_NUDGE = 1e-5  # where a derivative vanishes (a control on its end point), look this far along


def points_of(coordinates: list[float] | Floats) -> Points:
    """Return x, y, x, y, … as points (n,)."""
    return np.ascontiguousarray(coordinates, dtype=np.float64).view(np.complex128)


class Maps(NamedTuple):
    """Affine maps z → turn·z + flip·conj(z) + shift, one per entry (n,)."""

    turn: Points
    flip: Points
    shift: Points

    @staticmethod
    def of(matrices: Floats) -> Maps:
        """Return maps of matrices (n, 6) in the order a b c d e f."""
        a, b, c, d, e, f = matrices.T
        return Maps(((a + d) + 1j * (b - c)) / 2, ((a - d) + 1j * (b + c)) / 2, e + 1j * f)

    def take(self, index: Ints) -> Maps:
        return Maps(self.turn.take(index), self.flip.take(index), self.shift.take(index))

    def place(self, z: Points) -> Points:
        """Return points (n,) or (n, m) mapped."""
        return self.move(z) + _over(self.shift, z)

    def move(self, v: Points) -> Points:
        """Return vectors (n,) or (n, m) mapped, without the shift."""
        result: Points = _over(self.turn, v) * v + _over(self.flip, v) * np.conj(v)
        return result

    @property
    def stretch(self) -> Floats:
        """The largest factor by which each map lengthens a vector."""
        return np.abs(self.turn) + np.abs(self.flip)

    @staticmethod
    def none(count: int) -> Maps:
        """Return maps that change nothing."""
        zero = np.zeros(count, dtype=np.complex128)
        return Maps(zero + 1, zero, zero)


def _over(values: NDArray[_N], like: Points) -> NDArray[_N]:
    return values[:, None] if like.ndim == 2 else values


@dataclass(slots=True)
class Curves:
    """n curves.

    Attributes:
        control: (n, 4) points.
        degree: (n,) 1 line, 2 quadratic, 3 cubic.
        offset: (n,).
        maps: applied to `control` where the curve is looked at.
    """

    control: Points
    degree: Ints
    offset: Floats
    maps: Maps
    _power: Points | None = field(default=None, repr=False)
    _mapped: Bools | None = field(default=None, repr=False)

    def __len__(self) -> int:
        return len(self.degree)

    @property
    def power(self) -> Points:
        """Coefficients (4, n) of 1, t, t², t³."""
        if self._power is None:
            self._power = power_form(self.control)
        return self._power

    @property
    def mapped(self) -> Bools:
        """Which curves (n,) are still to be mapped."""
        if self._mapped is None:
            self._mapped = (self.maps.turn != 1) | (self.maps.flip != 0) | (self.maps.shift != 0)
        return self._mapped

    def placed(self) -> Curves:
        """Return the same curves, mapped to the em already where the map keeps shapes: an offset curve then stays one.
        Few maps skew, and mapping every point anew takes longer than finding it."""
        turn, flip = np.abs(self.maps.turn), np.abs(self.maps.flip)
        keeps = np.minimum(turn, flip) <= 1e-12 * np.maximum(turn, flip)
        none = Maps.none(len(self))
        return Curves(
            np.where(keeps[:, None], self.maps.place(self.control), self.control),
            self.degree,
            np.where(keeps, self.offset * (turn - flip), self.offset),
            Maps(*(np.where(keeps, there, here) for there, here in zip(none, self.maps, strict=True))),
        )

    @staticmethod
    def join(tables: list[Curves]) -> Curves:
        """Return one table holding all of these, in order."""
        maps = [t.maps for t in tables]
        return Curves(
            np.concatenate([t.control for t in tables]),
            np.concatenate([t.degree for t in tables]),
            np.concatenate([t.offset for t in tables]),
            Maps(*(np.concatenate(f) for f in zip(*maps, strict=True))),
        )


def power_form(control: Points) -> Points:
    """Return the coefficients (4, n) of 1, t, t², t³ of cubics (n, 4)."""
    p0, p1, p2, p3 = np.ascontiguousarray(control.T)
    return np.stack([p0, 3 * (p1 - p0), 3 * (p2 - 2 * p1 + p0), p3 - 3 * p2 + 3 * p1 - p0])


def _terms(power: Points, t: Floats | Points) -> Points:
    return power[:, :, None] if t.ndim == 2 else power


def spot(power: Points, t: Floats | Points) -> Points:
    """Return points of cubics (4, n) in power form at t (n,) or (n, m)."""
    c0, c1, c2, c3 = _terms(power, t)
    t = t.astype(np.complex128, copy=False)  # once, not in every product
    result: Points = ((c3 * t + c2) * t + c1) * t + c0
    return result


def derivative(power: Points, t: Floats | Points) -> Points:
    """Return derivatives by t of cubics (4, n) in power form at t (n,) or (n, m)."""
    _, c1, c2, c3 = _terms(power, t)
    t = t.astype(np.complex128, copy=False)
    result: Points = (3 * c3 * t + 2 * c2) * t + c1
    return result


def unit_tangent(power: Points, t: Floats, way: Points | None = None) -> Points:
    """Return unit directions at t (n,) or (n, m); 1 where a curve is a single point. way: derivatives, if known."""
    d = derivative(power, t) if way is None else way
    size = np.abs(d)
    span = np.abs(power[1:]).max(axis=0)
    weak = size <= 1e-6 * _over(span, d)
    if weak.any():
        near = np.where(t < 0.5, t + _NUDGE, t - _NUDGE)
        d = np.where(weak, derivative(power, near), d)
        size = np.abs(d)
        still = size <= 0
        d = np.where(still, 1.0, d)
        size = np.where(still, 1.0, size)
    result: Points = d * (1 / size)  # a complex number is slow to divide
    return result


def point(curves: Curves, index: Ints, t: Floats) -> Points:
    """Return em points of curves[index] (k,) at t (k,) or (k, m)."""
    power = curves.power.take(index, 1)
    z = spot(power, t)
    offset = curves.offset.take(index)
    moved = np.flatnonzero(offset)
    if len(moved):
        by = _over(1j * offset.take(moved).astype(np.complex128), z)
        z[moved] += by * unit_tangent(power.take(moved, 1), t.take(moved, 0))
    rows = np.flatnonzero(curves.mapped.take(index))
    if len(rows):
        z[rows] = curves.maps.take(index[rows]).place(z[rows])
    return z


def motion(curves: Curves, index: Ints, t: Floats) -> tuple[Points, Points]:
    """Return em points of curves[index] (k,) at t (k,) or (k, m), and their derivatives by t. An offset
    curve's derivative is its spine's times (1 - offset · curvature)."""
    power = curves.power.take(index, 1)
    z, d = spot(power, t), derivative(power, t)
    offset = curves.offset.take(index)
    moved = np.flatnonzero(offset)
    if len(moved):
        some, at, way, by = power.take(moved, 1), t.take(moved, 0), d.take(moved, 0), offset.take(moved)
        z[moved] += _over(1j * by.astype(np.complex128), z) * unit_tangent(some, at, way)
        _, _, c2, c3 = _terms(some, at)
        size = np.maximum(np.abs(way), 1e-12)
        bend = cross(way, 6 * c3 * at + 2 * c2) / (size * size * size)
        d[moved] = way * (1 - _over(by, z) * bend)
    rows = np.flatnonzero(curves.mapped.take(index))
    if len(rows):
        maps = curves.maps.take(index[rows])
        z[rows], d[rows] = maps.place(z[rows]), maps.move(d[rows])
    return z, d


def flat_steps(control: Points, tolerance: Floats | float) -> Ints:
    """Return how many equal steps in t keep chords within `tolerance` (same units) of cubics (n, 4)."""
    first = np.abs(control[:, 0] - 2 * control[:, 1] + control[:, 2])
    last = np.abs(control[:, 1] - 2 * control[:, 2] + control[:, 3])
    steps = np.ceil(np.sqrt(6 * np.maximum(first, last) / (8 * tolerance)))
    return np.clip(steps, 1, 2000).astype(np.int64)
