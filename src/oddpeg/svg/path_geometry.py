"""Figures that clips, masks, markers and dashes need of paths: bounds, lengths, vertices with directions."""

from __future__ import annotations

import cmath
import itertools
import math

from oddpeg.geometry.boxes import Box
from oddpeg.geometry.matrix import Matrix
from oddpeg.svg.model import Path, Shape

_SAMPLES = 24


def _along(path: Path, first: int, last: int) -> list[list[complex]]:
    """Return sample points of each segment from `first` up to `last`, ends included."""
    rows = []
    for k in range(first, last):
        x0, y0, x1, y1, x2, y2, x3, y3 = path.coords[8 * k : 8 * k + 8]
        p0, p1, p2, p3 = complex(x0, y0), complex(x1, y1), complex(x2, y2), complex(x3, y3)
        count = 1 if path.degrees[k] == 1 else _SAMPLES
        shares = [i / count for i in range(count + 1)]
        rows.append(
            [(1 - t) ** 3 * p0 + 3 * t * (1 - t) ** 2 * p1 + 3 * t * t * (1 - t) * p2 + t**3 * p3 for t in shares]
        )
    return rows


def path_length(path: Path) -> float:
    """Return a path's length in user units."""
    return sum(abs(b - a) for row in _along(path, 0, len(path.degrees)) for a, b in itertools.pairwise(row))


def inverse(m: Matrix) -> Matrix:
    """Return the matrix that undoes `m`, which must be usable."""
    det = m.determinant
    a, b, c, d = m.d / det, -m.b / det, -m.c / det, m.a / det
    return Matrix(a, b, c, d, -(a * m.e + c * m.f), -(b * m.e + d * m.f))


def bounds(shapes: list[Shape], space: Matrix) -> Box | None:
    """Return (x, y, width, height) of the shapes' geometry without strokes, in the user space that `space` maps to the
    drawing; None for no shapes (SVG 2 §8.10).
    """
    back = inverse(space)
    xs: list[float] = []
    ys: list[float] = []
    for shape in shapes:
        m = back.compose(shape.matrix)
        for row in _along(shape.path, 0, len(shape.path.degrees)):
            xs += [m.a * z.real + m.c * z.imag + m.e for z in row]
            ys += [m.b * z.real + m.d * z.imag + m.f for z in row]
    if not xs:
        return None
    return Box(min(xs), min(ys), max(xs) - min(xs), max(ys) - min(ys))


def _directions(path: Path, k: int) -> tuple[complex, complex]:
    """Return the directions at both ends of a segment (0 where it is a point)."""
    points = [complex(*path.coords[8 * k + i : 8 * k + i + 2]) for i in (0, 2, 4, 6)]
    ahead = next((p - points[0] for p in points[1:] if abs(p - points[0]) > 1e-9), 0j)
    behind = next((points[3] - p for p in points[2::-1] if abs(points[3] - p) > 1e-9), 0j)
    return ahead, behind


def _between(before: complex, after: complex) -> float:
    """Return the angle (degrees) of the bisector of two directions."""
    before, after = (v / abs(v) if v else 0j for v in (before, after))
    both = before + after
    if abs(both) < 1e-9:
        both = before or after or 1 + 0j
    return math.degrees(cmath.phase(both))


def vertices(path: Path) -> list[tuple[complex, float]]:
    """Return every vertex of a path with its direction in degrees, as markers need them (SVG 2 §13.7.4)."""
    angles: list[tuple[complex, float]] = []
    inner = set(path.inner)
    stops = [*path.starts[1:], len(path.degrees)] if path else []
    for low, high, closed in zip(path.starts, stops, path.closed, strict=True):
        ways = [_directions(path, k) for k in range(low, high)]
        wrap = (ways[-1][1], ways[0][0])
        first = wrap if closed else (0j, ways[0][0])
        angles.append((complex(*path.coords[8 * low : 8 * low + 2]), _between(*first)))
        for k in range(low, high):
            if k in inner:
                continue
            joint = (
                (ways[k - low][1], ways[k - low + 1][0]) if k + 1 < high else (wrap if closed else (ways[-1][1], 0j))
            )
            angles.append((complex(*path.coords[8 * k + 6 : 8 * k + 8]), _between(*joint)))
    return angles
