"""How much work it would be to unite a drawing's shapes, estimated before it is begun.

A sweep visits every edge once for each height at which any vertex lies within the edge's own heights, and every
crossing once. The first number is counted, the second estimated from a sample. Drawings of people stay far below the
bound; scribbles of many thousand crossing lines, by accident or malice, would keep a build busy for minutes.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from oddpeg.geometry.arrays import Bools, Floats, Ints, Points
from oddpeg.outline.polygons import Polygons

MOST = 2.5e7  # visits, a second or so, up to three times; the richest emblem of 542 flags has 23 million
_CROSSING = 70  # visits that one crossing costs
_VERTEX = 140  # and one that becomes a vertex of the outline, as all do where every second winding is filled
_MOST_EDGES = 400_000  # nine times the richest emblem's
_FEW = 750  # edges: so many cannot reach the bound
_SAMPLE = 500  # edges of which each is held against each


def crowded(polygons: Polygons, icon_of_region: Ints) -> set[int]:
    """Return the drawings whose shapes have too many edges to be looked at."""
    counts = np.bincount(icon_of_region[polygons.region], np.bincount(polygons.contour, minlength=len(polygons.region)))
    return set(np.flatnonzero(counts > _MOST_EDGES).tolist())


def tangled(polygons: Polygons, icon_of_region: Ints, even_odd: Bools, drawing: Sequence[int]) -> set[int]:
    """Return the layers of drawings whose shapes have too many crossings to be united: in one layer, or in all of them
    together, as where a clip is repeated. even_odd: (regions,); drawing: the same number for layers of one drawing."""
    region = polygons.region[polygons.contour]
    icon = icon_of_region[region]
    counts = np.bincount(icon)
    efforts: dict[int, float] = {}
    for number in np.flatnonzero(counts > _FEW).tolist():
        effort = _effort(polygons, icon == number, even_odd[region])
        efforts[drawing[number]] = efforts.get(drawing[number], 0.0) + effort
    return {number for number, owner in enumerate(drawing) if efforts.get(owner, 0.0) > MOST}


def _effort(polygons: Polygons, mine: Bools, even_odd: Bools) -> float:
    start, contour = polygons.xy[mine], polygons.contour[mine]
    end = np.append(start[1:], start[:1])
    last = np.flatnonzero(np.append(contour[1:] != contour[:-1], True))
    end[last] = start[np.append(0, last[:-1] + 1)]
    levels = np.sort(start.imag)
    low, high = np.minimum(start.imag, end.imag), np.maximum(start.imag, end.imag)
    visits = np.searchsorted(levels, high) - np.searchsorted(levels, low)
    total = float(visits.sum())
    each = _CROSSING + _VERTEX * float(even_odd[mine].mean())
    most = each * total  # of two edges that cross, one begins or ends at a height that the other has
    return total if most < MOST else total + each * _crossings(start, end)


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
