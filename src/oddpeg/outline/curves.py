"""Flat tables of parametric curves: where a point is, and which way it goes.

Points are complex numbers x + iy: then i·v is v turned by +90° of its axes, conj(u)·v holds dot and cross
product as real and imaginary part, and arrays of points are plain one-dimensional arrays. A curve is a
cubic in its own user units, moved sideways by a signed offset along its left normal i·tangent, then mapped
to the em. Plain curves have offset 0. Everything works on whole arrays; nothing here loops over curves.
Does not know: polygons, glyphs, fonts.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import NamedTuple

import numpy as np

from oddpeg.outline.types import Floats, Ints, Points

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
        return Maps(self.turn[index], self.flip[index], self.shift[index])

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


def _over(values: Points, like: Points) -> Points:
    return values[:, None] if like.ndim == 2 else values


@dataclass(slots=True)
class Curves:
    """n curves. control: (n, 4) points; degree: (n,) 1 line, 2 quadratic, 3 cubic; offset: (n,)."""

    control: Points
    degree: Ints
    offset: Floats
    maps: Maps
    _power: Points | None = field(default=None, repr=False)

    def __len__(self) -> int:
        return len(self.degree)

    @property
    def power(self) -> Points:
        """Coefficients (n, 4) of 1, t, t², t³."""
        if self._power is None:
            self._power = power_form(self.control)
        return self._power

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
    """Return the coefficients (n, 4) of 1, t, t², t³ of cubics (n, 4)."""
    p0, p1, p2, p3 = control.T
    return np.stack([p0, 3 * (p1 - p0), 3 * (p2 - 2 * p1 + p0), p3 - 3 * p2 + 3 * p1 - p0], axis=1)


def _terms(power: Points, t: Floats) -> tuple[Points, Points, Points, Points]:
    c0, c1, c2, c3 = power.T
    if t.ndim == 2:
        return c0[:, None], c1[:, None], c2[:, None], c3[:, None]
    return c0, c1, c2, c3


def spot(power: Points, t: Floats) -> Points:
    """Return points of cubics (n, 4, power form) at t (n,) or (n, m)."""
    c0, c1, c2, c3 = _terms(power, t)
    result: Points = ((c3 * t + c2) * t + c1) * t + c0
    return result


def derivative(power: Points, t: Floats) -> Points:
    """Return derivatives by t of cubics (n, 4, power form) at t (n,) or (n, m)."""
    _, c1, c2, c3 = _terms(power, t)
    result: Points = (3 * c3 * t + 2 * c2) * t + c1
    return result


def unit_tangent(power: Points, t: Floats, way: Points | None = None) -> Points:
    """Return unit directions at t (n,) or (n, m); 1 where a curve is a single point. way: derivatives, if known."""
    d = derivative(power, t) if way is None else way
    size = np.abs(d)
    span = np.abs(power[:, 1:]).max(axis=1)
    weak = size <= 1e-6 * _over(span, d)
    if weak.any():
        near = np.where(t < 0.5, t + _NUDGE, t - _NUDGE)
        d = np.where(weak, derivative(power, near), d)
        size = np.abs(d)
        still = size <= 0
        d = np.where(still, 1.0, d)
        size = np.where(still, 1.0, size)
    result: Points = d / size
    return result


def cross(u: Points, v: Points) -> Floats:
    """Return cross products of vectors."""
    result: Floats = u.real * v.imag - u.imag * v.real
    return result


def dot(u: Points, v: Points) -> Floats:
    """Return dot products of vectors."""
    result: Floats = u.real * v.real + u.imag * v.imag
    return result


def angle(u: Points, v: Points) -> Floats:
    """Return the signed angle from u to v, radians."""
    result: Floats = np.angle(np.conj(u) * v)
    return result


def point(curves: Curves, index: Ints, t: Floats) -> Points:
    """Return em points of curves[index] (k,) at t (k,) or (k, m)."""
    power = curves.power[index]
    z = spot(power, t)
    offset = curves.offset[index]
    moved = np.flatnonzero(offset)
    if len(moved):
        z[moved] += 1j * _over(offset[moved].astype(np.complex128), z) * unit_tangent(power[moved], t[moved])
    return curves.maps.take(index).place(z)


def motion(curves: Curves, index: Ints, t: Floats) -> tuple[Points, Points]:
    """Return em points of curves[index] (k,) at t (k,) or (k, m), and their derivatives by t. An offset
    curve's derivative is its spine's times (1 - offset · curvature)."""
    power = curves.power[index]
    z, d = spot(power, t), derivative(power, t)
    offset = curves.offset[index]
    moved = np.flatnonzero(offset)
    if len(moved):
        some, at, way = power[moved], t[moved], d[moved]
        by = _over(offset[moved].astype(np.complex128), z)
        z[moved] += 1j * by * unit_tangent(some, at, way)
        _, _, c2, c3 = _terms(some, at)
        bend = cross(way, 6 * c3 * at + 2 * c2) / np.maximum(np.abs(way), 1e-12) ** 3
        d[moved] = way * (1 - by * bend)
    maps = curves.maps.take(index)
    return maps.place(z), maps.move(d)


def flat_steps(control: Points, tolerance: Floats | float) -> Ints:
    """Return how many equal steps in t keep chords within `tolerance` (same units) of cubics (n, 4)."""
    first = np.abs(control[:, 0] - 2 * control[:, 1] + control[:, 2])
    last = np.abs(control[:, 1] - 2 * control[:, 2] + control[:, 3])
    steps = np.ceil(np.sqrt(6 * np.maximum(first, last) / (8 * tolerance)))
    return np.clip(steps, 1, 2000).astype(np.int64)


def spread(counts: Ints) -> tuple[Ints, Ints]:
    """Return (owner, position within owner) for `counts` items of each owner, flat."""
    owner = np.repeat(np.arange(len(counts)), counts)
    ends = np.cumsum(counts)
    return owner, np.arange(len(owner)) - np.repeat(ends - counts, counts)
