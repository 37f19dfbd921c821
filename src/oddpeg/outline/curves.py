"""Flat tables of parametric curves: where a point is, and which way it goes.

A curve is a cubic (four control points in its own user units), moved sideways by a signed offset
along its left normal, then mapped to the em by a matrix. Plain curves have offset 0. Everything
works on whole arrays; nothing here loops over curves. Does not know: polygons, glyphs, fonts.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Bools = NDArray[np.bool_]

_NUDGE = 1e-5  # where a derivative vanishes (a control on its end point), look this far along


@dataclass(slots=True)
class Curves:
    """n curves. control: (n, 4, 2); degree: (n,) 1 line, 2 quadratic, 3 cubic;
    offset: (n,); matrix: (n, 6) in the order a b c d e f."""

    control: Floats
    degree: Ints
    offset: Floats
    matrix: Floats

    def __len__(self) -> int:
        return len(self.degree)

    def take(self, index: Ints) -> Curves:
        """Return the curves at these indices."""
        return Curves(self.control[index], self.degree[index], self.offset[index], self.matrix[index])

    @staticmethod
    def join(tables: list[Curves]) -> Curves:
        """Return one table holding all of these, in order."""
        return Curves(
            np.concatenate([t.control for t in tables]),
            np.concatenate([t.degree for t in tables]),
            np.concatenate([t.offset for t in tables]),
            np.concatenate([t.matrix for t in tables]),
        )


def bezier(control: Floats, t: Floats) -> Floats:
    """Return points (…, 2) of cubics (…, 4, 2) at parameters t (…)."""
    t = t[..., None]
    s = 1 - t
    p0, p1, p2, p3 = (control[..., i, :] for i in range(4))
    result: Floats = s * s * s * p0 + 3 * s * s * t * p1 + 3 * s * t * t * p2 + t * t * t * p3
    return result


def hodograph(control: Floats, t: Floats) -> Floats:
    """Return first derivatives (…, 2) by t."""
    t = t[..., None]
    s = 1 - t
    d0, d1, d2 = (control[..., i + 1, :] - control[..., i, :] for i in range(3))
    result: Floats = 3 * (s * s * d0 + 2 * s * t * d1 + t * t * d2)
    return result


def second_derivative(control: Floats, t: Floats) -> Floats:
    """Return second derivatives (…, 2) by t."""
    t = t[..., None]
    p0, p1, p2, p3 = (control[..., i, :] for i in range(4))
    result: Floats = 6 * ((1 - t) * (p2 - 2 * p1 + p0) + t * (p3 - 2 * p2 + p1))
    return result


def unit_tangent(control: Floats, t: Floats) -> Floats:
    """Return unit directions (k, 2) of cubics (k, 4, 2); (1, 0) where a curve is a single point."""
    return _unit(hodograph(control, t), control, t)


def _unit(d: Floats, control: Floats, t: Floats) -> Floats:
    """Return derivatives d (k, 2) at unit length, looking a little along where they vanish."""
    size = np.hypot(d[:, 0], d[:, 1])
    weak = np.flatnonzero(size <= 1e-5)
    if len(weak):
        span = np.abs(control[weak] - control[weak, :1]).max(axis=(1, 2))
        weak = weak[size[weak] <= 1e-6 * span]
    if len(weak):
        at = t[weak]
        d = d.copy()
        d[weak] = hodograph(control[weak], np.where(at < 0.5, at + _NUDGE, at - _NUDGE))
        size = np.hypot(d[:, 0], d[:, 1])
    still = size <= 0
    if still.any():
        return np.where(still[:, None], [1.0, 0.0], d / np.where(still, 1.0, size)[:, None])
    result: Floats = d / size[:, None]
    return result


def left_normal(tangent: Floats) -> Floats:
    """Return tangents turned by +90° of the axes they are given in: (x, y) → (-y, x)."""
    return np.stack([-tangent[..., 1], tangent[..., 0]], axis=-1)


def cross(u: Floats, v: Floats) -> Floats:
    """Return the scalar cross products of vectors (…, 2)."""
    result: Floats = u[..., 0] * v[..., 1] - u[..., 1] * v[..., 0]
    return result


def dot(u: Floats, v: Floats) -> Floats:
    """Return the dot products of vectors (…, 2)."""
    result: Floats = u[..., 0] * v[..., 0] + u[..., 1] * v[..., 1]
    return result


def turn(v: Floats, angle: Floats) -> Floats:
    """Return vectors (…, 2) rotated by angles in radians."""
    c, s = np.cos(angle), np.sin(angle)
    return np.stack([c * v[..., 0] - s * v[..., 1], s * v[..., 0] + c * v[..., 1]], axis=-1)


def apply(matrix: Floats, points: Floats) -> Floats:
    """Return points (…, 2) mapped by matrices (…, 6)."""
    x, y = points[..., 0], points[..., 1]
    return np.stack(
        [
            matrix[..., 0] * x + matrix[..., 2] * y + matrix[..., 4],
            matrix[..., 1] * x + matrix[..., 3] * y + matrix[..., 5],
        ],
        axis=-1,
    )


def apply_linear(matrix: Floats, vectors: Floats) -> Floats:
    """Return vectors (…, 2) mapped by matrices (…, 6) without their shift."""
    x, y = vectors[..., 0], vectors[..., 1]
    return np.stack([matrix[..., 0] * x + matrix[..., 2] * y, matrix[..., 1] * x + matrix[..., 3] * y], axis=-1)


def stretch(matrix: Floats) -> Floats:
    """Return the largest factor by which each matrix (…, 6) lengthens a vector."""
    a, b, c, d = (matrix[..., i] for i in range(4))
    half = (a * a + b * b + c * c + d * d) / 2
    det = a * d - b * c
    result: Floats = np.sqrt(half + np.sqrt(np.maximum(half * half - det * det, 0)))
    return result


def point(curves: Curves, index: Ints, t: Floats) -> Floats:
    """Return em points (k, 2) of curves[index] at t."""
    control = curves.control[index]
    p = bezier(control, t)
    offset = curves.offset[index]
    moved = np.flatnonzero(offset)
    if len(moved):
        p[moved] += offset[moved, None] * left_normal(unit_tangent(control[moved], t[moved]))
    return apply(curves.matrix[index], p)


def motion(curves: Curves, index: Ints, t: Floats) -> tuple[Floats, Floats]:
    """Return em points (k, 2) of curves[index] at t, and their derivatives by t. An offset curve's
    derivative is its spine's times (1 - offset · curvature)."""
    control, offset, matrix = curves.control[index], curves.offset[index], curves.matrix[index]
    p, d = bezier(control, t), hodograph(control, t)
    moved = np.flatnonzero(offset)
    if len(moved):
        some, at, by, way = control[moved], t[moved], offset[moved], d[moved]
        p[moved] += by[:, None] * left_normal(_unit(way, some, at))
        size = np.maximum(np.hypot(way[:, 0], way[:, 1]), 1e-12)
        bend = cross(way, second_derivative(some, at)) / size**3
        d[moved] = way * (1 - by * bend)[:, None]
    return apply(matrix, p), apply_linear(matrix, d)


def bend_bound(control: Floats) -> Floats:
    """Return a bound (n,) on |second derivative| / 6 of cubics (n, 4, 2)."""
    first = control[:, 0] - 2 * control[:, 1] + control[:, 2]
    last = control[:, 1] - 2 * control[:, 2] + control[:, 3]
    result: Floats = np.sqrt(np.maximum(dot(first, first), dot(last, last)))
    return result


def flat_steps(control: Floats, tolerance: Floats | float) -> Ints:
    """Return how many equal steps in t keep chords within `tolerance` (same units) of cubics (n, 4, 2)."""
    steps = np.ceil(np.sqrt(6 * bend_bound(control) / (8 * tolerance)))
    return np.clip(steps, 1, 2000).astype(np.int64)


def spread(counts: Ints) -> tuple[Ints, Ints]:
    """Return (owner, position within owner) for `counts` items of each owner, flat."""
    owner = np.repeat(np.arange(len(counts)), counts)
    ends = np.cumsum(counts)
    return owner, np.arange(len(owner)) - np.repeat(ends - counts, counts)
