"""Ragged bytes: many short pieces laid into one buffer at once."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from oddpeg.geometry.arrays import Ints

Bytes = NDArray[np.uint8]


def big_endian(values: Ints, size: int) -> Bytes:
    """Return values (n,) as bytes (n, size), most significant first; negative values wrap."""
    shifts = np.arange(size - 1, -1, -1) * 8
    return ((values[:, None] >> shifts) & 0xFF).astype(np.uint8)


def pick(columns: list[Ints], sizes: Ints) -> Bytes:
    """Return the first `sizes[i]` columns of each row i, laid end to end. columns: k arrays (n,)."""
    table = np.stack([column.astype(np.uint8) for column in columns], axis=1)
    mask = np.arange(table.shape[1])[None, :] < sizes[:, None]
    return table[mask]
