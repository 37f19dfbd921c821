"""Contours → whole font units, with nothing in them that draws nothing.

Contours are flat; whole units are held in complex numbers too, which keep them exactly.
"""

from __future__ import annotations

import numpy as np

from oddpeg.geometry.arrays import Bools, Floats, Ints, Points
from oddpeg.geometry.contours import Contours
from oddpeg.geometry.ragged import ragged_index, run_starts, turned
from oddpeg.geometry.vectors import cross

HAIR = 2  # font units: what rounding takes points out of a frame; controls farther out belong there


def _without_duplicates(c: Contours) -> Contours:
    """Drop points that repeat the one before, and controls that lie on their end point (they bend nothing)."""
    while len(c.on):
        before, after = c.neighbours()
        same = c.z == c.z.take(before)
        if not same.any():
            break
        on_before = c.on.take(before)
        drop = same & (c.on == on_before) & (before != np.arange(len(c.on)))
        idle = ~c.on & ((same & on_before) | (same.take(after) & c.on.take(after)))
        drop |= idle
        if not drop.any():
            break
        c = c.keep(~drop)
    return c


def _without_collinear(c: Contours) -> Contours:
    """Drop on-curve points in the middle of straight lines, and lines that double back on themselves."""
    while len(c.on):
        before, after = c.neighbours()
        side = c.z - c.z.take(before)
        drop = c.on & c.on.take(before) & c.on.take(after) & (cross(side, side.take(after)) == 0)
        drop &= ~drop.take(before)  # never two neighbours at once: the second may be what the first leans on
        if not drop.any():
            break
        c = _without_duplicates(c.keep(~drop))
    return c


def implied(c: Contours) -> Bools:
    """Return which on-curve points (n,) TrueType puts midway between two controls by itself (half a unit of grace). A
    contour keeps at least one on-curve point."""
    before, after = c.neighbours()
    off = 2 * c.z - c.z.take(before) - c.z.take(after)
    drop = (
        c.on
        & ~c.on.take(before)
        & ~c.on.take(after)
        & (np.abs(off.real) <= 1)
        & (np.abs(off.imag) <= 1)
        & (before != after)
    )
    has_other = np.bincount(c.contour, weights=c.on & ~drop) > 0
    first_on = np.zeros(len(c.on), dtype=bool)
    on_rows = np.flatnonzero(c.on)
    first_on[on_rows[run_starts(c.contour[on_rows])]] = True
    result: Bools = drop & ~(first_on & ~has_other[c.contour])
    return result


def keep_within(z: Points, boxes: Floats, hair: float = HAIR) -> Points:
    """Return points on whole units, those a hair outside of their boxes moved to the edge.

    Args:
        boxes: (n, 4) left, bottom, right, top.
        hair: font units.
    """
    left, bottom, right, top = np.rint(boxes).T
    z = np.rint(z)
    moved = np.clip(z.real, left, right) + 1j * np.clip(z.imag, bottom, top)
    result: Points = np.where(np.abs(moved - z) <= hair, moved, z)
    return result


def settle(z: Points, on: Bools, contour: Ints) -> Contours:
    """Round contours (points z in em units) to font units. Contours that vanish or turn over in rounding are left
    out."""
    if not len(on):
        return Contours(z, on, contour)
    was = Contours(z, on, contour).areas()
    c = _without_collinear(_without_duplicates(Contours(np.rint(z), on, contour)))
    if len(c.on):
        now = np.zeros(len(was))
        areas = c.areas()
        now[: len(areas)] = areas
        size = np.bincount(c.contour, minlength=len(was))
        good = (now * was > 0) & (np.abs(now) > 0.5) & (size >= 2)
        c = c.keep(good[c.contour])
    return _begun_on_curve(c.keep(~implied(c))) if len(c.on) else c


def _begun_on_curve(c: Contours) -> Contours:
    """Rotate contours so that each begins with its leftmost point on the curve, the lowest of several: WOFF2 then packs
    them smallest, and the kept point is the same in every run."""
    rank = np.lexsort((c.z.imag, c.z.real, ~c.on, c.contour))
    rows = turned(c.contour, rank[run_starts(c.contour)])
    return Contours(c.z.take(rows), c.on.take(rows), c.contour)


def ordered(c: Contours, icon: Ints) -> Contours:
    """Return the same contours, those of each icon from left to right, from the bottom up by where they begin; numbered
    anew. icon: by contour ordinal, ascending."""
    starts = run_starts(c.contour)
    size = np.diff(np.append(starts, len(c.on)))
    begin = c.z[starts]
    rank = np.lexsort((begin.imag, begin.real, icon[c.contour[starts]]))
    owner, position = ragged_index(size[rank])
    rows = starts[rank].take(owner) + position
    return Contours(c.z.take(rows), c.on.take(rows), c.contour[starts].take(owner))
