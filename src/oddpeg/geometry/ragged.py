"""Ragged arrays: many short pieces laid end to end in one flat array.

A piece is given by a count per piece, or by an ordinal per item in rising order. NumPy's own `unique` loads its masked
arrays first, which takes longer than a whole icon.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from oddpeg.geometry.arrays import Ints


class RaggedIndex(NamedTuple):
    """Where each item of a ragged array belongs.

    Attributes:
        owner: (n,) its piece.
        position: (n,) its place within the piece.
    """

    owner: Ints
    position: Ints


class Neighbours(NamedTuple):
    """Indices of the point before and after each point (n,), around its contour."""

    before: Ints
    after: Ints


class Numbered(NamedTuple):
    """Values and the distinct ones among them.

    Attributes:
        names: the distinct values in rising order.
        number: (n,) which of them each value is.
    """

    names: Ints
    number: Ints


def offsets(counts: Ints) -> Ints:
    """Return where each piece of a row of pieces begins. counts: (pieces,)."""
    return np.cumsum(counts) - counts


def ragged_index(counts: Ints) -> RaggedIndex:
    """Return where each item of pieces of these sizes belongs. counts: (pieces,)."""
    owner = np.repeat(np.arange(len(counts)), counts)
    return RaggedIndex(owner, np.arange(len(owner)) - np.repeat(offsets(counts), counts))


def distinct(values: Ints) -> Ints:
    """Return the values that occur, each once, in rising order. values: (n,)."""
    ordered = np.sort(values)
    kept: Ints = ordered[np.append(True, ordered[1:] != ordered[:-1])[: len(ordered)]]
    return kept


def numbered(values: Ints) -> Numbered:
    """Return the distinct values, and which of them each value is. values: (n,)."""
    names = distinct(values)
    return Numbered(names, np.searchsorted(names, values))


def run_starts(values: Ints) -> Ints:
    """Return where each distinct value of an array in rising order stands first."""
    return np.flatnonzero(np.append(True, values[1:] != values[:-1])[: len(values)])


def turned(contour: Ints, heads: Ints) -> Ints:
    """Return the rows of all points, every contour turned to begin with its head. contour: (n,) ordinals in rising
    order; heads: (contours,) rows."""
    starts = run_starts(contour)
    size = np.diff(np.append(starts, len(contour)))
    owner, position = ragged_index(size)
    rows: Ints = starts.take(owner) + (position + (heads - starts).take(owner)) % size.take(owner)
    return rows


def neighbours(contour: Ints) -> Neighbours:
    """Return the points before and after each point around its contour. contour: (n,) ordinals in rising order."""
    index = np.arange(len(contour))
    starts = run_starts(contour)
    stops = np.append(starts[1:], len(index)) - 1
    before, after = index - 1, index + 1
    before[starts], after[stops] = stops, starts
    return Neighbours(before, after)
