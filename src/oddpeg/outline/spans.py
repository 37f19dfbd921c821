"""Runs along curves → spans: stretches of a contour without corners that bend by a quarter turn or so.

A span ends where the contour has a corner or a straight line, and where it goes level or upright: one coordinate of
such a point is that of the control beside it, and no control lies outside of the glyph's box. Between such places a
span may follow several curves.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from oddpeg.geometry.arrays import Bools, Floats, Ints, Points
from oddpeg.geometry.curves import Curves, motion, point
from oddpeg.geometry.ragged import neighbours, offsets, ragged_index, run_starts
from oddpeg.geometry.vectors import angle
from oddpeg.outline.retrace import Runs

_CORNER = np.radians(3)  # what turns more at a joint is a corner
_AXIS = 0.01  # of a direction's length: what deviates less from an axis goes along it
_GRID = np.linspace(0, 1, 17)  # of a run: where extremes are looked for
_SHORT = 0.75  # font units: nearer to its ends than that, a run is not divided
_STEPS = 8  # intervals of a piece by which a span is measured
_INSET = 0.02  # of a piece: where its direction is taken if it stands still at its end
ORDER_BITS = 12  # between the order of two elements, so that a span can be halved so often


class Pieces(NamedTuple):
    """Parts of curves, or lines.

    Attributes:
        curve: (n,) its ordinal, -1 for a line.
        t0, t1: (n,) parameters on it.
        start, end: (n,) points.
    """

    curve: Ints
    t0: Floats
    t1: Floats
    start: Points
    end: Points

    def take(self, rows: Ints) -> Pieces:
        return Pieces(
            self.curve.take(rows), self.t0.take(rows), self.t1.take(rows), self.start.take(rows), self.end.take(rows)
        )

    def ways(self, curves: Curves) -> Points:
        """Return the unit directions (n, 2) at both ends."""
        found = np.repeat((self.end - self.start)[:, None], 2, axis=1)
        rows = np.flatnonzero(self.curve >= 0)
        t0, span = self.t0[rows, None], (self.t1 - self.t0)[rows, None]
        least = 1e-3 * np.abs(found[rows])
        for inset in (_INSET, 0.0):
            _, way = motion(curves, self.curve.take(rows), t0 + span * np.array([inset, 1 - inset]))
            found[rows] = np.where(np.abs(way * span) > least, way * span, found[rows])
        size = np.abs(found)
        unit = np.where(size > 0, found, 1) / np.where(size > 0, size, 1)
        level, upright = np.abs(unit.imag) < _AXIS, np.abs(unit.real) < _AXIS
        result: Points = np.where(level, np.sign(unit.real), np.where(upright, 1j * np.sign(unit.imag), unit))
        return result


class Spans(NamedTuple):
    """Stretches without corners.

    Attributes:
        pieces: all of them, span by span.
        size: (spans,) how many pieces each has.
        order: (spans,) place of each among the elements of all contours.
        ways: (spans, 2) unit directions at both ends.
        held: (spans, 2) whether what comes before or after goes on in the same direction.
        allowed: (spans,) font units: how far from it a spline may be.
    """

    pieces: Pieces
    size: Ints
    order: Ints
    ways: Points
    held: Bools
    allowed: Floats

    def __len__(self) -> int:
        return len(self.size)

    def take(self, rows: Ints) -> Spans:
        """Return some of the spans."""
        owner, position = ragged_index(self.size.take(rows))
        flat = offsets(self.size).take(rows).take(owner) + position
        return Spans(
            self.pieces.take(flat),
            self.size.take(rows),
            self.order.take(rows),
            self.ways.take(rows, 0),
            self.held.take(rows, 0),
            self.allowed.take(rows),
        )

    @property
    def start(self) -> Points:
        """Where each span begins (spans,)."""
        return self.pieces.start.take(offsets(self.size))

    @property
    def end(self) -> Points:
        """Where each span ends (spans,)."""
        return self.pieces.end.take(np.cumsum(self.size) - 1)


class Elements(NamedTuple):
    """Contours as lines and spans in drawing order.

    Attributes:
        start: (n,) where each begins.
        contour: (n,) ascending.
        spans: those that are no lines; `order` is their row here, times 2 ** ORDER_BITS.
    """

    start: Points
    contour: Ints
    spans: Spans


class _Extremes(NamedTuple):
    """Where runs go level or upright, in drawing order.

    Attributes:
        run: (n,) which.
        t: (n,) the parameter.
        first, last: (runs,) whether a run does so right at its start or end, where it is not divided.
    """

    run: Ints
    t: Floats
    first: Bools
    last: Bools


def _extremes(runs: Runs, curves: Curves, rows: Ints) -> _Extremes:
    first, last = np.zeros((2, len(runs.curve)), dtype=bool)
    t0, span = runs.t0[rows, None], (runs.t1 - runs.t0)[rows, None]
    _, way = motion(curves, runs.curve[rows], t0 + span * _GRID)
    owners, shares = [], []
    for part, axis in ((way.real, 1), (way.imag, -1j)):
        up = part > 0
        row, cell = np.nonzero(up[:, 1:] != up[:, :-1])
        if not len(row):
            continue
        low, high = _GRID[cell], _GRID[cell + 1]
        at_low, at_high = part[row, cell], part[row, cell + 1]
        for _ in range(4):  # regula falsi, which halves the value at an end that stays (Illinois)
            share = low - at_low * (high - low) / (at_high - at_low)
            _, way_here = motion(curves, runs.curve[rows[row]], t0[row, 0] + span[row, 0] * share)
            value = (way_here * axis).real
            same = (value > 0) == (at_low > 0)
            low, high = np.where(same, share, low), np.where(same, high, share)
            at_low, at_high = np.where(same, value, at_low / 2), np.where(same, at_high / 2, value)
        owners.append(row)
        shares.append(share)
    if not owners:
        return _Extremes(np.zeros(0, np.int64), np.zeros(0), first, last)
    owner, share = np.concatenate(owners), np.concatenate(shares)
    rank = np.lexsort((share, owner))
    owner, share = owner[rank], share[rank]
    at = t0[owner, 0] + span[owner, 0] * share
    place = point(curves, runs.curve[rows[owner]], at)
    run = rows[owner]
    early, late = np.abs(place - runs.start[run]) <= _SHORT, np.abs(place - runs.end[run]) <= _SHORT
    first[run[early]] = last[run[late]] = True
    apart = ~early & ~late
    apart[1:] &= (owner[1:] != owner[:-1]) | (np.abs(np.diff(place)) > _SHORT)
    return _Extremes(run[apart], at[apart], first, last)


def _divided(runs: Runs, curves: Curves, curved: Bools, extremes: _Extremes) -> tuple[Pieces, Ints]:
    """Return runs, divided at extremes, and the run of each piece."""
    owner, at = extremes.run, extremes.t
    counts = 1 + np.bincount(owner, minlength=len(runs.curve))
    run, position = ragged_index(counts)
    pieces = Pieces(
        np.where(curved, runs.curve, -1).take(run),
        runs.t0.take(run),
        runs.t1.take(run),
        runs.start.take(run),
        runs.end.take(run),
    )
    later = np.flatnonzero(position > 0)
    place = point(curves, runs.curve[owner], at)
    pieces.t0[later], pieces.start[later] = at, place
    pieces.t1[later - 1], pieces.end[later - 1] = at, place
    return pieces, run


def elements(runs: Runs, curves: Curves, curved: Bools, allowed: Floats) -> Elements:
    """Return contours as lines and spans. curved: (runs,) those that are no lines; allowed: (runs,) font units."""
    extremes = _extremes(runs, curves, np.flatnonzero(curved))
    pieces, run = _divided(runs, curves, curved, extremes)
    contour = runs.contour.take(run)
    ways = pieces.ways(curves)
    before, after = neighbours(contour)
    bends = pieces.curve >= 0
    smooth = np.abs(angle(ways[before, 1], ways[:, 0])) < _CORNER  # into each piece
    axial = (ways[:, 0].real == 0) | (ways[:, 0].imag == 0)
    axial |= (run != run[before]) & (extremes.first[run] | extremes.last[run[before]])
    goes_on = smooth & bends & bends.take(before) & ~axial
    turned = _turned(contour, goes_on)
    first = np.flatnonzero(~goes_on[turned])
    last = np.append(first[1:], len(turned)) - 1
    lead, tail = turned[first], turned[last]
    rows = np.flatnonzero(bends[lead])
    count = (last - first + 1)[rows]
    owner, position = ragged_index(count)
    flat = turned[first[rows].take(owner) + position]
    limit = allowed.take(run)
    spans = Spans(
        pieces.take(flat),
        count,
        rows << ORDER_BITS,
        np.stack([ways[lead[rows], 0], ways[tail[rows], 1]], axis=1),
        np.stack([smooth[lead[rows]], smooth[after[tail[rows]]]], axis=1),
        np.minimum.reduceat(limit[flat], offsets(count)) if len(flat) else np.zeros(0),
    )
    return Elements(pieces.start[lead], contour[lead], spans)


def _turned(contour: Ints, goes_on: Bools) -> Ints:
    """Return all rows, every contour turned to begin with a piece that does not go on from the one before it."""
    first = run_starts(contour)
    count = np.diff(np.append(first, len(contour)))
    index = np.arange(len(contour))
    head = np.minimum.reduceat(np.where(goes_on, len(contour), index), first)
    head = np.where(head >= len(contour), first, head)
    goes_on[head] = False
    owner = np.repeat(np.arange(len(first)), count)
    turned: Ints = first[owner] + (index - first[owner] + (head - first)[owner]) % count[owner]
    return turned


class Traced(NamedTuple):
    """Points along spans, both ends included, dense where a span bends or is long.

    Attributes:
        z: (spans, samples).
        way: (spans, samples) unit directions.
        turn: (spans,) radians that each turns, either way.
    """

    z: Points
    way: Points
    turn: Floats

    def take(self, rows: Ints) -> Traced:
        return Traced(self.z.take(rows, 0), self.way.take(rows, 0), self.turn.take(rows))


def _located(spans: Spans, curves: Curves, shares: Floats) -> tuple[Ints, Floats, Floats]:
    """Return the piece and the parameter at shares (k,) of each span's length and turn together, both
    (spans, k), and the turn of each span."""
    pieces = spans.pieces
    t0, span = pieces.t0[:, None], (pieces.t1 - pieces.t0)[:, None]
    z, way = motion(curves, pieces.curve, t0 + span * np.linspace(0, 1, _STEPS + 1))
    way *= np.sign(span)
    travel = np.abs(np.diff(z, axis=1))
    bend = np.abs(angle(way[:, :-1], way[:, 1:]))
    first = offsets(spans.size)
    owner = np.repeat(np.arange(len(spans)), spans.size)
    length = np.add.reduceat(travel.sum(axis=1), first)
    turn = np.add.reduceat(bend.sum(axis=1), first)
    effort = (travel / np.maximum(length, 1e-9)[owner, None] + bend / np.pi + 1e-9).ravel()
    total = np.cumsum(effort)
    stop = total[(first + spans.size) * _STEPS - 1]
    begin = np.append(0.0, stop[:-1])
    wanted = begin[:, None] + (stop - begin)[:, None] * shares
    cell = np.searchsorted(total, wanted.ravel())
    cell = np.minimum(cell, np.repeat((first + spans.size) * _STEPS - 1, len(shares)))
    inside = np.clip((wanted.ravel() - total[cell] + effort[cell]) / effort[cell], 0, 1)
    piece, step = cell // _STEPS, cell % _STEPS
    t = pieces.t0[piece] + (pieces.t1 - pieces.t0)[piece] * ((step + inside) / _STEPS)
    return piece.reshape(wanted.shape), t.reshape(wanted.shape), turn


def trace(spans: Spans, curves: Curves, intervals: int) -> Traced:
    """Return points that divide each span into so many intervals."""
    piece, t, turn = _located(spans, curves, np.arange(1, intervals) / intervals)
    flat = piece.ravel()
    z, way = motion(curves, spans.pieces.curve[flat], t.ravel())
    way *= np.sign(spans.pieces.t1 - spans.pieces.t0)[flat]
    size = np.abs(way)
    way = np.where(size > 1e-9, way / np.maximum(size, 1e-9), 1)
    ends = spans.start[:, None], spans.end[:, None]
    return Traced(
        np.concatenate([ends[0], z.reshape(t.shape), ends[1]], axis=1),
        np.concatenate([spans.ways[:, :1], way.reshape(t.shape), spans.ways[:, 1:]], axis=1),
        turn,
    )


def halved(spans: Spans, curves: Curves, level: int) -> tuple[Spans, Points]:
    """Return spans cut in two, first halves before second ones, and where each was cut. level: how often before."""
    piece, t, _ = _located(spans, curves, np.array([0.5]))
    piece, t = piece[:, 0], t[:, 0]
    place, way = motion(curves, spans.pieces.curve[piece], t)
    way = way * np.sign(spans.pieces.t1 - spans.pieces.t0)[piece]
    way = (way / np.maximum(np.abs(way), 1e-9))[:, None]
    first = offsets(spans.size)
    count = np.concatenate([piece - first + 1, first + spans.size - piece])
    owner, position = ragged_index(count)
    pieces = spans.pieces.take(np.concatenate([first, piece]).take(owner) + position)
    heads = offsets(count)
    cut_end, cut_start = (heads + count - 1)[: len(piece)], heads[len(piece) :]
    pieces.t1[cut_end], pieces.end[cut_end] = t, place
    pieces.t0[cut_start], pieces.start[cut_start] = t, place
    hold = np.ones((len(piece), 1), dtype=bool)
    halves = Spans(
        pieces,
        count,
        np.concatenate([spans.order, spans.order + (1 << ORDER_BITS - 1 - level)]),
        np.concatenate(
            [np.concatenate([spans.ways[:, :1], way], axis=1), np.concatenate([way, spans.ways[:, 1:]], axis=1)]
        ),
        np.concatenate(
            [np.concatenate([spans.held[:, :1], hold], axis=1), np.concatenate([hold, spans.held[:, 1:]], axis=1)]
        ),
        np.tile(spans.allowed, 2),
    )
    return halves, place
