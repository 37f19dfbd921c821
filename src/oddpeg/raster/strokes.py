"""Strokes for proving: every step of a dense polyline is its own piece, and their windings are added.

A second way to the same area as the stroker's: no contours, no curves, no tags. Covers widths, caps, joins, dashes
(SVG 2 §13.5).
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from oddpeg.raster.winding import Points, along
from oddpeg.svg.model import Path, Stroke

_STEPS = 48  # per curve
_ROUNDS = 6  # of refining
_TURN = 0.15  # radians within one step
_ROUND = 32  # corners of a full circle


class Spine:
    """A row of short steps. a, b: their ends; ta, tb: unit directions there."""

    def __init__(self, a: Points, b: Points, ta: Points, tb: Points, closed: bool) -> None:
        self.a, self.b, self.ta, self.tb, self.closed = a, b, ta, tb, closed

    def then(self, other: Spine) -> Spine:
        """Return this spine with another one after it."""
        a, b, ta, tb = (np.concatenate([getattr(self, f), getattr(other, f)]) for f in ("a", "b", "ta", "tb"))
        return Spine(a, b, ta, tb, False)

    def cut(self, spans: list[tuple[float, float]]) -> list[Spine]:
        """Return the parts of the spine between lengths."""
        size = np.abs(self.b - self.a)
        ends = np.cumsum(size)
        pieces = []
        for low, high in spans:
            starts = ends - size
            inside = np.flatnonzero((ends > low) & ((starts < high) | (starts <= low)))  # the latter: of a dot
            if not len(inside):
                continue
            t0 = np.clip((low - starts[inside]) / size[inside], 0, 1)
            t1 = np.clip((high - starts[inside]) / size[inside], 0, 1)
            a, b = self.a[inside], self.b[inside]
            pieces.append(Spine(a + (b - a) * t0, a + (b - a) * t1, self.ta[inside], self.tb[inside], False))
        return pieces


def _unit(v: Points) -> Points:
    size = np.abs(v)
    return np.where(size > 0, v / np.where(size > 0, size, 1), 1.0)


def spines(path: Path) -> list[Spine]:
    """Return one spine per subpath, in user units."""
    coords = np.array(path.coords, dtype=np.float64).view(np.complex128).reshape(-1, 4)
    bounds = [*path.starts, len(path.degrees)]
    lines = []
    for number, low in enumerate(path.starts):
        part = coords[low : bounds[number + 1]]
        solid = np.abs(part - part[:, :1]).max(axis=1) > 1e-9
        if not solid.any():
            point = part[:1, 0]
            lines.append(Spine(point, point, np.ones(1, complex), np.ones(1, complex), False))
            continue
        steps = [_steps(curve) for curve in part[solid]]
        a, b = (np.concatenate([z[cut] for z, _ in steps]) for cut in (slice(None, -1), slice(1, None)))
        ta, tb = (np.concatenate([way[cut] for _, way in steps]) for cut in (slice(None, -1), slice(1, None)))
        lines.append(Spine(a, b, ta, tb, path.closed[number]))
    return lines


def _steps(curve: Points) -> tuple[Points, Points]:
    """Return points and unit directions along one cubic (4,), close together where it turns fast."""
    t = np.linspace(0, 1, _STEPS + 1)
    for _ in range(_ROUNDS):
        way = _headings(curve, t)
        fast = np.flatnonzero((np.abs(np.angle(np.conj(way[:-1]) * way[1:])) > _TURN) & (np.diff(t) > 1e-5))
        if not len(fast):
            break
        shares = np.arange(1, 6) / 6
        t = np.sort(np.concatenate([t, (t[fast, None] + np.diff(t)[fast, None] * shares).ravel()]))
    return along(curve[None], t)[0], _headings(curve, t)


def _headings(curve: Points, t: NDArray[np.float64]) -> Points:
    """Return unit directions at t, a hair off the ends, where a derivative may vanish."""
    d0, d1, d2 = np.diff(curve)
    t = np.clip(t, 1e-7, 1 - 1e-7)
    return _unit((1 - t) ** 2 * d0 + 2 * t * (1 - t) * d1 + t**2 * d2)


def _dashed(spine: Spine, stroke: Stroke) -> list[Spine]:
    total = float(np.abs(spine.b - spine.a).sum())
    period = sum(stroke.dashes)
    if total <= 1e-9 or total / period * len(stroke.dashes) > 4000:
        return [] if total <= 1e-9 else [spine]
    at, spans = -(stroke.dash_offset % period), []
    while at < total:
        for on, off in zip(stroke.dashes[::2], stroke.dashes[1::2], strict=True):
            if at < total and (at >= 0 or at + on > 0):  # a dash without length is a dot where it has caps
                spans.append((max(at, 0.0), min(at + on, total)))
            at += on + off
    pieces = spine.cut(spans)
    if spine.closed and len(pieces) > 1 and spans[0][0] == 0 and spans[-1][1] == total:
        head, tail = pieces[0], pieces.pop()
        pieces[0] = tail.then(head)
    return pieces


def _fan(centre: complex, start: complex, swing: float) -> Points:
    steps = max(2, int(abs(swing) / (2 * np.pi) * _ROUND) + 1)
    arc: Points = centre + start * np.exp(1j * np.linspace(0, swing, steps + 1))
    return np.append(arc, centre)


def _corner(stroke: Stroke, p: complex, before: complex, after: complex) -> Points | None:
    """Return the wedge on the outer side of a corner, or None where it is flat."""
    angle = float(np.angle(np.conj(before) * after))
    if abs(angle) < 1e-3:
        return None
    half = stroke.width / 2
    side = -1j if angle > 0 else 1j
    a, b = p + side * before * half, p + side * after * half
    if stroke.join == "round":
        return _fan(p, side * before * half, angle)
    if stroke.join == "miter" and np.cos(angle / 2) * stroke.miter_limit >= 1 and abs(angle) < np.pi - 1e-6:
        tip = p + side * half * (before + after) / (1 + (np.conj(before) * after).real)
        return np.array([p, a, tip, b])
    return np.array([p, a, b])


def _cap(stroke: Stroke, p: complex, away: complex) -> Points | None:
    half = stroke.width / 2
    if stroke.cap == "round":
        return _fan(p, 1j * away * half, -np.pi)
    if stroke.cap == "square":
        return p + half * away * np.array([1j, 1 + 1j, 1 - 1j, -1j])
    return None


def stroke_pieces(path: Path, stroke: Stroke) -> tuple[Points, Points]:
    """Return all edges (start, end) of a stroke's pieces, in user units; every piece winds the same way unless
    the spine bends tighter than half the width."""
    half = stroke.width / 2
    parts: list[Points] = []
    rows: list[Points] = []
    whole = spines(path)
    for spine in [d for s in whole for d in _dashed(s, stroke)] if stroke.dashes else whole:
        left_a, left_b = 1j * spine.ta * half, 1j * spine.tb * half
        rows.append(np.stack([spine.a + left_a, spine.b + left_b, spine.b - left_b, spine.a - left_a], axis=1))
        turns = np.abs(np.angle(np.conj(spine.ta[1:]) * spine.tb[:-1]))
        corners = np.flatnonzero(turns > 1e-3).tolist()
        wedges = [_corner(stroke, spine.b[i], spine.tb[i], spine.ta[i + 1]) for i in corners]
        bends = np.flatnonzero(np.abs(np.angle(np.conj(spine.ta) * spine.tb)) > 1.0).tolist()
        wedges += [_fan((spine.a[i] + spine.b[i]) / 2, half, 2 * np.pi) for i in bends]
        if spine.closed:
            wedges.append(_corner(stroke, spine.b[-1], spine.tb[-1], spine.ta[0]))
        else:
            wedges += [_cap(stroke, spine.b[-1], spine.tb[-1]), _cap(stroke, spine.a[0], -spine.ta[0])]
        parts += [_wound(w) for w in wedges if w is not None]
    starts = [row.ravel() for row in rows] + parts
    ends = [np.roll(row, -1, axis=1).ravel() for row in rows] + [np.roll(p, -1) for p in parts]
    empty = np.zeros(0, dtype=np.complex128)
    return np.concatenate([empty, *starts]), np.concatenate([empty, *ends])


def _wound(polygon: Points) -> Points:
    """Return a polygon wound like the pieces of a strip (negatively in its own axes)."""
    following = np.roll(polygon, -1)
    return polygon if (np.conj(polygon) * following).imag.sum() <= 0 else polygon[::-1]
