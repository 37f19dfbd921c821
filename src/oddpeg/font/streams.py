"""Ragged bytes: many short pieces laid into one buffer at once.

Knows: arrays of sizes and offsets. Does not know: what the bytes mean.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Ints = NDArray[np.int64]
Bytes = NDArray[np.uint8]


def offsets(sizes: Ints) -> Ints:
    """Return where each piece of a row of pieces begins."""
    return np.cumsum(sizes) - sizes


def within(sizes: Ints) -> tuple[Ints, Ints]:
    """Return (piece, position in the piece) of every byte of a row of pieces."""
    piece = np.repeat(np.arange(len(sizes)), sizes)
    return piece, np.arange(len(piece)) - offsets(sizes)[piece]


def big_endian(values: Ints, size: int) -> Bytes:
    """Return values (n,) as bytes (n, size), most significant first; negative values wrap."""
    shifts = np.arange(size - 1, -1, -1) * 8
    return ((values[:, None] >> shifts) & 0xFF).astype(np.uint8)


def pick(columns: list[Ints], sizes: Ints) -> Bytes:
    """Return the first `sizes[i]` columns of each row i, laid end to end. columns: k arrays (n,)."""
    table = np.stack([column.astype(np.uint8) for column in columns], axis=1)
    mask = np.arange(table.shape[1])[None, :] < sizes[:, None]
    return table[mask]
