"""How much work it would be to unite a drawing's shapes, estimated before it is begun.

A sweep visits every edge once for each height at which any vertex lies within the edge's own heights, and every
crossing once. The first number is counted, the second estimated from a sample. Drawings of people stay far below the
bound; scribbles of many thousand crossing lines, by accident or malice, would keep a build busy for minutes.
"""

from __future__ import annotations

import numpy as np

from oddpeg.geometry.arrays import Floats, Ints, Points
from oddpeg.outline.polygons import Polygons

MOST = 2e8  # visits; some eight seconds on a slow machine
_CROSSING = 70  # visits that one crossing costs
_FEW = 3_000  # edges: so many cannot reach the bound
_SAMPLE = 1_500


def tangled(polygons: Polygons, icon_of_region: Ints) -> set[int]:
    """Return the drawings whose shapes have too many crossings to be united."""
    icon = icon_of_region[polygons.region[polygons.contour]]
    counts = np.bincount(icon)
    return {number for number in np.flatnonzero(counts > _FEW).tolist() if _effort(polygons, icon == number) > MOST}


def _effort(polygons: Polygons, mine: np.ndarray[tuple[int], np.dtype[np.bool_]]) -> float:
    start, contour = polygons.xy[mine], polygons.contour[mine]
    end = np.append(start[1:], start[:1])
    last = np.flatnonzero(np.append(contour[1:] != contour[:-1], True))
    end[last] = start[np.append(0, last[:-1] + 1)]
    levels = np.sort(start.imag)
    low, high = np.minimum(start.imag, end.imag), np.maximum(start.imag, end.imag)
    visits = np.searchsorted(levels, high) - np.searchsorted(levels, low)
    return float(visits.sum()) + _CROSSING * _crossings(start, end)


def _crossings(start: Points, end: Points) -> float:
    """Return about how many pairs of edges cross."""
    step = -(-len(start) // _SAMPLE)
    a, b = start[::step, None], end[::step, None]
    c, d = a.T, b.T

    def side(p: Points, q: Points, r: Points) -> Floats:
        way, other = q - p, r - p
        area: Floats = way.real * other.imag - way.imag * other.real
        return area

    apart = (side(a, b, c) * side(a, b, d) < 0) & (side(c, d, a) * side(c, d, b) < 0)
    return float(apart.sum()) / 2 * (len(start) / len(a)) ** 2
