"""Strokes as contours whose points move on straight lines as the stroke gets wider, for fonts with a weight axis.

The side of a stroke is P ± h·N, with its spine's point P, its normal N and half its width h. Points on it are linear in
h, and so are the points where its tangents meet, the tips of mitres, and the points of arcs around corners and ends.
So one set of curves is right for every width, if the pieces are short enough for the widest. Contours overlap, each
other and themselves; all wind the same way, so that the non-zero rule gives the stroke as renderers draw it.

Covers widths, caps, joins, miter limits of SVG 2 §13.5.
"""

from __future__ import annotations

import cmath
import math
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from oddpeg.geometry import curves as cv
from oddpeg.geometry.arrays import Bools, Floats, Points
from oddpeg.geometry.curves import Maps
from oddpeg.geometry.vectors import angle, cross, dot
from oddpeg.outline.polygons import PathSegments
from oddpeg.outline.stroke import MITER, ROUND, SQUARE, Pens, without_points

_TURN = 0.6  # radians that one piece may turn
_CUSP = 1.0  # radians turned within the shortest piece: the spine doubles back
_ROUNDS = 6  # of halving what is not near enough
_SMOOTH = 1e-3  # radians: a corner flatter than this needs no join
_ARC = math.pi / 4  # of one quadratic
_PARALLEL = 1e-4  # radians


class LinearContour(NamedTuple):
    """A closed contour of quadratics: its points are `fixed` + factor × `moved`.

    Attributes:
        fixed, moved: (n,) font units.
        on: (n,) on-curve.
    """

    fixed: Points
    moved: Points
    on: Bools


class _Side:
    """Points of one contour, in user units: corner + h × away."""

    def __init__(self) -> None:
        self.corner: list[complex] = []
        self.away: list[complex] = []
        self.on: list[bool] = []

    def add(self, corner: complex, away: complex, on: bool = True) -> None:
        """Add a point; a repeated point is skipped."""
        if on and self.on and self.on[-1] and abs(self.corner[-1] - corner) + abs(self.away[-1] - away) < 1e-12:
            return
        self.corner.append(corner)
        self.away.append(away)
        self.on.append(on)

    def arc(self, corner: complex, start: complex, swing: float) -> None:
        """Add an arc around a corner, from start × h on, over `swing` radians."""
        count = max(1, math.ceil(abs(swing) / _ARC - 1e-9))
        part = swing / count
        for number in range(count):
            self.add(corner, start * cmath.exp(1j * part * (number + 0.5)) / math.cos(part / 2), False)
            self.add(corner, start * cmath.exp(1j * part * (number + 1)))

    def contour(self, half: float, move: _ToEm) -> LinearContour | None:
        """Return the contour on the em, clockwise; None where there is nothing of it."""
        same = len(self.on) > 1 and self.on[0] and self.on[-1]
        if same and abs(self.corner[0] - self.corner[-1]) + abs(self.away[0] - self.away[-1]) < 1e-9:
            self.corner, self.away, self.on = self.corner[:-1], self.away[:-1], self.on[:-1]
        if len(self.on) < 3:
            return None
        corner, away = (np.array(values[::-1], dtype=np.complex128) for values in (self.corner, self.away))
        return LinearContour(move.place(corner), move.vector(away * half), np.array(self.on[::-1]))


class _ToEm(NamedTuple):
    """The way from user units to the em."""

    turn: complex
    flip: complex
    shift: complex

    def place(self, z: Points) -> Points:
        return self.vector(z) + self.shift

    def vector(self, z: Points) -> Points:
        result: Points = self.turn * z + self.flip * np.conj(z)
        return result


class _Pen(NamedTuple):
    """How one subpath is stroked. side: which way the left lies; half: of the width, in user units."""

    half: float
    cap: int
    join: int
    miter: float
    side: float


class _SpinePart(NamedTuple):
    """One segment of a spine, cut.

    Attributes:
        spot: (n,) points of it, the ends among them.
        tangent: (n,) unit directions there.
        straight: it is a line.
    """

    spot: Points
    tangent: Points
    straight: bool


def linear_strokes(segments: PathSegments, pens: Pens, widest: float, tolerance: float) -> list[list[LinearContour]]:
    """Return the contours of each subpath.

    Args:
        widest: the largest factor of widths, for which pieces have to be short enough too.
        tolerance: font units.
    """
    solid, dots = without_points(segments)
    maps = solid.maps.take(solid.region)
    pieces = _cut(solid, pens, maps, widest, tolerance)
    first, last = solid.ends()
    contours = []
    for number in range(len(solid.region)):
        pen = _Pen(*(values[number].item() for values in pens))
        move = _ToEm(*(values[number].item() for values in maps))
        pieces_of_path = pieces[first[number] : last[number] + 1]
        outline = _StrokeOutline(pieces_of_path, pen, bool(solid.closed[number]))
        sides = outline.dot() if dots[number] else outline.sides()
        contours.append([c for side in sides if (c := side.contour(pen.half, move)) is not None])
    return contours


def _cut(segments: PathSegments, pens: Pens, maps: Maps, widest: float, tolerance: float) -> list[_SpinePart]:
    """Return every segment in pieces whose sides are close to one quadratic each, at every width."""
    power = cv.power_form(segments.control)
    half = pens.half[segments.subpath]
    scale = maps.stretch[segments.subpath]
    parts = []
    for number, degree in enumerate(segments.degree.tolist()):
        column = power[:, number : number + 1]
        if degree == 1:
            parts.append(_piece(column, np.array([0.0, 1.0]), True))
            continue
        t = _first_cuts(segments.control[number], column)
        for _ in range(_ROUNDS):
            bad = _too_far(column, t, half[number] * widest, tolerance / scale[number])
            if not bad.any():
                break
            t = np.sort(np.append(t, (t[:-1][bad] + t[1:][bad]) / 2))
        parts.append(_piece(column, t, False))
    return parts


def _piece(power: Points, t: Floats, straight: bool) -> _SpinePart:
    power = np.repeat(power, len(t), axis=1)
    return _SpinePart(cv.spot(power, t), cv.unit_tangent(power, t), straight)


def _first_cuts(control: Points, power: Points) -> Floats:
    """Return where a spine bends the other way, and steps between that turn little."""
    first, second, third = control[1] - control[0], control[2] - control[1], control[3] - control[2]
    # the cross product of the first and second derivative, a polynomial of the second degree
    a, b, c = first, 2 * (second - first), first - 2 * second + third
    flat = [cross(b, c).item(), 2 * cross(a, c).item(), cross(a, b).item()] if abs(c) + abs(b) > 0 else []
    roots = np.roots(flat) if any(abs(value) > 1e-12 for value in flat) else np.zeros(0)
    inner = [root.real for root in np.atleast_1d(roots) if abs(root.imag) < 1e-9 and 1e-3 < root.real < 1 - 1e-3]
    t = np.array(sorted({0.0, *inner, 1.0}))
    for _ in range(12):
        tangent = cv.unit_tangent(np.repeat(power, len(t), axis=1), t)
        wide = (np.abs(angle(tangent[:-1], tangent[1:])) > _TURN) & (np.diff(t) > 1e-3)
        middle = cv.unit_tangent(np.repeat(power, len(t) - 1, axis=1), (t[:-1] + t[1:]) / 2)
        wide |= (np.abs(angle(tangent[:-1], middle)) > _TURN) & (np.diff(t) > 1e-3)
        if not wide.any():
            break
        t = np.sort(np.append(t, (t[:-1][wide] + t[1:][wide]) / 2))
    return t


def _meeting(spot: Points, tangent: Points, away: Points) -> tuple[Points, Points]:
    """Return the points where the tangents of each piece's sides meet, as (corner, away). away: normals at its ends."""
    bend = cross(tangent[:-1], tangent[1:])
    parallel = (np.abs(bend) < _PARALLEL) | (dot(tangent[:-1], tangent[1:]) < 0)
    safe = np.where(parallel, 1.0, bend)
    points = []
    for values in (spot, away):
        along = cross(values[1:] - values[:-1], tangent[1:]) / safe
        points.append(np.where(parallel, (values[:-1] + values[1:]) / 2, values[:-1] + along * tangent[:-1]))
    return points[0], points[1]


_SHARES = np.linspace(0, 1, 9)


def _too_far(power: Points, t: Floats, reach: float, tolerance: float) -> Bools:
    """Return which pieces have a side that is off its quadratic, of the widest stroke or of the spine itself."""
    many = np.repeat(power, len(t), axis=1)
    spot, tangent = cv.spot(many, t), cv.unit_tangent(many, t)
    corner, away = _meeting(spot, tangent, 1j * tangent)
    inner = t[:-1, None] + np.diff(t)[:, None] * _SHARES
    spine = np.repeat(power, len(t) - 1, axis=1)
    true, way = cv.spot(spine, inner), cv.unit_tangent(spine, inner)
    u = np.linspace(0, 1, 17)
    bad = np.zeros(len(t) - 1, dtype=bool)
    for distance in (reach, 0.0, -reach):
        side = spot + distance * 1j * tangent
        control = corner + distance * away
        start, end = side[:-1, None], side[1:, None]
        quadratic = (1 - u) ** 2 * start + 2 * u * (1 - u) * control[:, None] + u**2 * end
        wanted = true + distance * 1j * way
        bad |= _gap(wanted, quadratic) > tolerance
    return bad & (np.diff(t) > 1e-3)


def _gap(points: Points, polyline: Points) -> Floats:
    """Return how far points (n, k) are from polylines (n, m), at most, (n,)."""
    start, leg = polyline[:, None, :-1], np.diff(polyline, axis=1)[:, None, :]
    between = points[:, :, None] - start
    share = np.clip(dot(leg, between) / np.maximum(np.abs(leg) ** 2, 1e-30), 0, 1)
    gaps: Floats = np.abs(between - share * leg).min(axis=2).max(axis=1)
    return gaps


class _StrokeOutline:
    """The contours of one subpath."""

    def __init__(self, pieces: Sequence[_SpinePart], pen: _Pen, closed: bool) -> None:
        self.pieces, self.pen, self.closed = pieces, pen, closed
        self.rounds: list[_Side] = []

    def dot(self) -> list[_Side]:
        """Return the outline of a subpath without length."""
        corner, side = complex(self.pieces[0].spot[0]), _Side()
        if self.pen.cap == ROUND:
            side.arc(corner, 1 + 0j, -2 * math.pi * self.pen.side)
        elif self.pen.cap == SQUARE:
            for away in (1 + 1j, 1 - 1j, -1 - 1j, -1 + 1j)[:: 1 if self.pen.side > 0 else -1]:
                side.add(corner, away)
        return [side]

    def sides(self) -> list[_Side]:
        """Return one contour of an open subpath, two of a closed one, and a full round wherever it doubles back."""
        left = right = _Side()
        if self.closed:
            right = _Side()
        for number, piece in enumerate(self.pieces):
            self._lay(left, piece, 1)
            if number + 1 < len(self.pieces) or self.closed:
                self._join(left, number, 1)
        if not self.closed:
            self._cap(left, self.pieces[-1].spot[-1], self.pieces[-1].tangent[-1])
        for number in range(len(self.pieces) - 1, -1, -1):
            if number + 1 < len(self.pieces) or self.closed:
                self._join(right, number, -1)
            self._lay(right, self.pieces[number], -1)
        if not self.closed:
            self._cap(right, self.pieces[0].spot[0], -self.pieces[0].tangent[0])
        return list(dict.fromkeys([left, right])) + self.rounds

    def _lay(self, side: _Side, piece: _SpinePart, way: int) -> None:
        """Lay one side along a segment: the left one (+1) forward, the right one (-1) back."""
        away = 1j * piece.tangent * self.pen.side * way
        corner, meeting = _meeting(piece.spot, piece.tangent, away)
        count = len(piece.spot)
        order = range(count) if way > 0 else range(count - 1, -1, -1)
        for at in order:
            if at != order[0] and not piece.straight:
                between = at - 1 if way > 0 else at
                side.add(complex(corner[between]), complex(meeting[between]), False)
            side.add(complex(piece.spot[at]), complex(away[at]))
        if way > 0 and not piece.straight:
            for at in np.flatnonzero(np.abs(angle(piece.tangent[:-1], piece.tangent[1:])) > _CUSP).tolist():
                whole = _Side()
                middle = complex(piece.spot[at] + piece.spot[at + 1]) / 2
                whole.arc(middle, 1 + 0j, -2 * math.pi * self.pen.side)
                self.rounds.append(whole)

    def _join(self, side: _Side, number: int, way: int) -> None:
        """Join a segment to the next one: round the outer side of the corner, through its point on the inner one."""
        before, after = self.pieces[number], self.pieces[(number + 1) % len(self.pieces)]
        ta, tb = before.tangent[-1], after.tangent[0]
        turn = angle(np.array([ta]), np.array([tb]))[0].item()
        if abs(turn) <= _SMOOTH:
            return
        corner, pen = complex(before.spot[-1]), self.pen
        if turn * pen.side * way > 0:  # the inner side
            side.add(corner, 0j)
            return
        na, nb = (complex(1j * t) * pen.side * way for t in (ta, tb))
        fits = math.cos(turn / 2) * pen.miter >= 1
        if pen.join == MITER and fits and abs(turn) < math.pi - 1e-6:
            side.add(corner, (na + nb) / (1 + max(dot(ta, tb).item(), -1 + 1e-12)))
        elif pen.join == ROUND:
            if way > 0:
                side.add(corner, na)
                side.arc(corner, na, turn)
            else:
                side.add(corner, nb)
                side.arc(corner, nb, -turn)

    def _cap(self, side: _Side, corner: complex, tangent: complex) -> None:
        """Finish an open end. tangent: pointing away from the stroke."""
        corner, tangent = complex(corner), complex(tangent)
        normal = 1j * tangent * self.pen.side
        if self.pen.cap == SQUARE:
            side.add(corner, normal + tangent)
            side.add(corner, tangent - normal)
        elif self.pen.cap == ROUND:
            side.arc(corner, normal, -math.pi * self.pen.side)
