"""Which values there are in an array, and what stands beside what among equal ones. NumPy's own function for that
loads its masked arrays first, which takes longer than a whole icon. Knows: sorting.
"""

from __future__ import annotations

import numpy as np

from oddpeg.geometry.arrays import Ints


def distinct(values: Ints) -> Ints:
    """Return the values that occur, each once, in order. values: (n,)."""
    ordered = np.sort(values)
    kept: Ints = ordered[np.append(True, ordered[1:] != ordered[:-1])[: len(ordered)]]
    return kept


def numbered(values: Ints) -> tuple[Ints, Ints]:
    """Return the distinct values and, for every value (n,), which of them it is."""
    names = distinct(values)
    return names, np.searchsorted(names, values)


def firsts(values: Ints) -> Ints:
    """Return where each distinct value of an array in rising order stands first."""
    return np.flatnonzero(np.append(True, values[1:] != values[:-1])[: len(values)])


def neighbours(contour: Ints) -> tuple[Ints, Ints]:
    """Return the index of the point before and after each (n,), around its contour. contour: (n,) in rising order."""
    index = np.arange(len(contour))
    starts = firsts(contour)
    stops = np.append(starts[1:], len(index)) - 1
    before, after = index - 1, index + 1
    before[starts], after[stops] = stops, starts
    return before, after
