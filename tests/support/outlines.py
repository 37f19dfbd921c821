"""Outlines of drawings, and what they cover, worked out from the TrueType rules alone."""

from __future__ import annotations

from itertools import pairwise

import numpy as np

from oddpeg.outline.model import Options, Outline
from oddpeg.outline.placement import Em
from oddpeg.outline.window import outline_drawings
from oddpeg.svg.model import Drawing
from oddpeg.svg.reader import read_drawing

EM = Em(1008)
UNIT = EM.units / 24


def framed(shapes: str, frame: str = "0 0 24 24") -> bytes:
    """The file of a drawing."""
    return f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="{frame}">{shapes}</svg>'.encode()


def drawing(shapes: str, frame: str = "0 0 24 24") -> Drawing:
    return read_drawing(framed(shapes, frame))


def outline(shapes: str, frame: str = "0 0 24 24", em: Em = EM) -> Outline:
    return outline_drawings([drawing(shapes, frame)], Options(em))[0]


def line(*points: complex) -> list[list[complex]]:
    """The lines from point to point, as cubics."""
    return [[a, a + (b - a) / 3, b - (b - a) / 3, b] for a, b in pairwise(points)]


def contours(glyph: Outline) -> list[np.ndarray]:
    """Each contour as a dense polygon, computed here from the TrueType rules alone."""
    result, start = [], 0
    for end in glyph.ends.tolist():
        points = list(zip(glyph.xy[start : end + 1].astype(float), glyph.on[start : end + 1].tolist(), strict=True))
        start = end + 1
        full: list[tuple[np.ndarray, bool]] = []
        for (p, on), (q, q_on) in zip(points, points[1:] + points[:1], strict=True):
            full.append((p, on))
            if not on and not q_on:
                full.append(((p + q) / 2, True))
        first = next(i for i, (_, on) in enumerate(full) if on)
        full = full[first:] + full[:first] + [full[first]]
        polygon, i = [], 0
        while i < len(full) - 1:
            p = full[i][0]
            if full[i + 1][1]:
                polygon.append(p)
                i += 1
            else:
                c, q = full[i + 1][0], full[i + 2][0]
                polygon += [(1 - t) ** 2 * p + 2 * t * (1 - t) * c + t * t * q for t in np.arange(32) / 32]
                i += 2
        result.append(np.array(polygon))
    return result


def area(polygon: np.ndarray) -> float:
    x, y = polygon.T
    return float(np.sum(x * np.roll(y, -1) - np.roll(x, -1) * y) / 2)


def ink(glyph: Outline, unit: float = UNIT) -> float:
    """Inked area in square drawing units, of so many font units each; outer contours are clockwise, so areas are
    negative."""
    return -sum(area(c) for c in contours(glyph)) / unit**2


def winding(glyph: Outline, x: float, y: float) -> int:
    """Winding number at a point of the em."""
    return wound(contours(glyph), x, y)


def wound(polygons: list[np.ndarray], x: float, y: float) -> int:
    """Winding number of polygons at a point: the edges that cross a ray to the right, up less down."""
    total = 0
    for polygon in polygons:
        (x0, y0), (x1, y1) = polygon.T, np.roll(polygon, -1, axis=0).T
        across = (y0 <= y) != (y1 <= y)
        at = x0[across] + (y - y0[across]) * (x1 - x0)[across] / (y1 - y0)[across]
        total += int(np.sign(y1 - y0)[across][at > x].sum())
    return total
