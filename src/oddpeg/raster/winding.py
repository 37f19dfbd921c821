"""Winding numbers on a grid of samples: how areas are painted here, by edges crossing rows.

Shares nothing with the clipper, so that a mistake there shows.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Points = NDArray[np.complex128]
Winding = NDArray[np.int32]
Mask = NDArray[np.bool_]


def along(controls: Points, t: NDArray[np.float64]) -> Points:
    """Return points (n, m) of cubics (n, 4) at parameters t (m,)."""
    p0, p1, p2, p3 = (controls[:, i, None] for i in range(4))
    result: Points = (1 - t) ** 3 * p0 + 3 * t * (1 - t) ** 2 * p1 + 3 * t * t * (1 - t) * p2 + t**3 * p3
    return result


def edges_of(polygon: Points) -> tuple[Points, Points]:
    """Return the edges (start, end) of one closed polygon (n,)."""
    return polygon, np.roll(polygon, -1)


def winding(start: Points, end: Points, width: int, height: int) -> Winding:
    """Return winding numbers (height, width) at sample centres of polygons given by all their edges."""
    result: Winding = np.zeros((height, width), dtype=np.int32)
    down = end.imag > start.imag
    top, bottom = np.where(down, start, end), np.where(down, end, start)
    first = np.clip(np.ceil(top.imag - 0.5), 0, height).astype(np.int64)
    last = np.clip(np.ceil(bottom.imag - 0.5), 0, height).astype(np.int64)
    count = np.maximum(last - first, 0)
    edge = np.repeat(np.arange(len(count)), count)
    row = np.arange(len(edge)) - np.repeat(np.cumsum(count) - count, count) + first[edge]
    t, b = top[edge], bottom[edge]
    x = t.real + (row + 0.5 - t.imag) * (b.real - t.real) / (b.imag - t.imag)
    column = np.clip(np.ceil(x - 0.5), 0, width).astype(np.int64)
    if len(row):  # contours are closed, so that all is zero beside and behind them
        rows, columns = slice(row.min(), row.max() + 1), slice(column.min(), column.max() + 1)
        turns = np.zeros((rows.stop - rows.start, columns.stop - columns.start), dtype=np.int32)
        np.add.at(turns, (row - rows.start, column - columns.start), np.where(down[edge], 1, -1).astype(np.int32))
        shown = result[rows, columns]
        np.cumsum(turns[:, : shown.shape[1]], axis=1, dtype=np.int32, out=shown)
    return result
