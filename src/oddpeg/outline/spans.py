"""Runs along curves → spans: stretches of a contour without corners that bend by a quarter turn or so.

A span ends where the contour has a corner or a straight line, and where it goes level or upright: one coordinate of
such a point is that of the adjacent control, and controls stay within the glyph's box. Between such places a span may
follow several curves.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from oddpeg.geometry.arrays import Bools, Floats, Ints, Points
from oddpeg.geometry.curves import Curves, motion, point
from oddpeg.geometry.ragged import neighbours, offsets, ragged_index
from oddpeg.geometry.vectors import angle
from oddpeg.outline.retrace import Runs, chained

_CORNER = np.radians(3)  # what turns more at a joint is a corner
_AXIS = 0.01  # of a direction's length: what deviates less from an axis goes along it
_GRID = np.linspace(0, 1, 17)  # of a run: where extremes are looked for
_SHORT = 0.75  # font units: nearer to its ends than that, a run is not divided
_STEPS = 8  # intervals of a piece by which a span is measured
_FINE = 2.0**36  # parts of a span's length and turn; those of a batch stay below 2**63
_INSET = 0.02  # of a piece: where its direction is taken if it stands still at its end
ORDER_BITS = 12  # between the order of two elements, so that a span can be halved so often


def _end_ways(pieces: Runs, curves: Curves) -> Points:
    """Return the unit directions (n, 2) at both ends of parts of curves, and of lines."""
    ways = np.repeat((pieces.end - pieces.start)[:, None], 2, axis=1)
    rows = np.flatnonzero(pieces.curve >= 0)
    t0, span = pieces.t0[rows, None], (pieces.t1 - pieces.t0)[rows, None]
    least = 1e-3 * np.abs(ways[rows])
    for inset in (_INSET, 0.0):
        _, way = motion(curves, pieces.curve.take(rows), t0 + span * np.array([inset, 1 - inset]))
        ways[rows] = np.where(np.abs(way * span) > least, way * span, ways[rows])
    unit = _unit(ways)
    level, upright = np.abs(unit.imag) < _AXIS, np.abs(unit.real) < _AXIS
    unit[level], unit[upright] = np.sign(unit.real[level]), 1j * np.sign(unit.imag[upright])
    return unit


def _unit(ways: Points) -> Points:
    """Return directions of length 1; those of no length point along the first axis."""
    size, unit = np.abs(ways), np.ones_like(ways)
    return np.divide(ways, size, out=unit, where=size > 0)


class Spans(NamedTuple):
    """Spans: parts of a contour without corners.

    Attributes:
        pieces: pieces of curves, span by span.
        size: (spans,) number of pieces.
        order: (spans,) rank among the elements of all contours.
        ways: (spans, 2) unit directions at both ends.
        held: (spans, 2) the neighbour continues in the same direction, before and after.
        allowed: (spans,) permitted distance of a spline, in font units.
    """

    pieces: Runs
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
        start: (n,) start points.
        contour: (n,) ascending.
        spans: elements that are not lines; `order` is their row here, times 2 ** ORDER_BITS.
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
    """Return where some runs go level or upright within."""
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


def _divided(runs: Runs, curves: Curves, curved: Bools, extremes: _Extremes) -> tuple[Runs, Ints]:
    """Return runs, divided at extremes, and the run of each piece."""
    owner, at = extremes.run, extremes.t
    counts = 1 + np.bincount(owner, minlength=len(runs.curve))
    run, position = ragged_index(counts)
    pieces = runs._replace(curve=np.where(curved, runs.curve, -1)).take(run)
    later = np.flatnonzero(position > 0)
    place = point(curves, runs.curve[owner], at)
    pieces.t0[later], pieces.start[later] = at, place
    pieces.t1[later - 1], pieces.end[later - 1] = at, place
    return pieces, run


def elements(runs: Runs, curves: Curves, curved: Bools, allowed: Floats) -> Elements:
    """Return contours as lines and spans. curved: (runs,) runs that are no lines; allowed: (runs,) font units."""
    extremes = _extremes(runs, curves, np.flatnonzero(curved))
    pieces, run = _divided(runs, curves, curved, extremes)
    ways = _end_ways(pieces, curves)
    before, after = neighbours(pieces.contour)
    bends = pieces.curve >= 0
    smooth = np.abs(angle(ways[before, 1], ways[:, 0])) < _CORNER  # into each piece
    ends_here = (ways[:, 0].real == 0) | (ways[:, 0].imag == 0)
    ends_here |= (run != run[before]) & (extremes.first[run] | extremes.last[run[before]])
    chains = chained(pieces.contour, smooth & bends & bends.take(before) & ~ends_here)
    lead, tail = chains.rows[chains.first], chains.rows[chains.last]
    rows = np.flatnonzero(bends[lead])
    count = (chains.last - chains.first + 1)[rows]
    owner, position = ragged_index(count)
    flat = chains.rows[chains.first[rows].take(owner) + position]
    limit = allowed.take(run)
    spans = Spans(
        pieces.take(flat),
        count,
        rows << ORDER_BITS,
        np.stack([ways[lead[rows], 0], ways[tail[rows], 1]], axis=1),
        np.stack([smooth[lead[rows]], smooth[after[tail[rows]]]], axis=1),
        np.minimum.reduceat(limit[flat], offsets(count)) if len(flat) else np.zeros(0),
    )
    return Elements(pieces.start[lead], pieces.contour[lead], spans)


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


class _SpanPoints(NamedTuple):
    """Places along spans.

    Attributes:
        piece: (spans, k) the piece that each lies on.
        t: (spans, k) the parameter of its curve.
        turn: (spans,) radians that the whole span turns, either way.
    """

    piece: Ints
    t: Floats
    turn: Floats

    @staticmethod
    def at(spans: Spans, curves: Curves, shares: Floats) -> _SpanPoints:
        """Return the places at shares (k,) of each span's length and turn together."""
        pieces = spans.pieces
        t0, span = pieces.t0[:, None], (pieces.t1 - pieces.t0)[:, None]
        z, way = motion(curves, pieces.curve, t0 + span * np.linspace(0, 1, _STEPS + 1))
        travel = np.abs(np.diff(z, axis=1))
        bend = np.abs(angle(way[:, :-1], way[:, 1:]))
        first = offsets(spans.size)
        owner = np.repeat(np.arange(len(spans)), spans.size)
        length = np.add.reduceat(travel.sum(axis=1), first)
        turn = np.add.reduceat(bend.sum(axis=1), first)
        share = (travel / np.maximum(length, 1e-9)[owner, None] + bend / np.pi + 1e-9).ravel()
        effort = np.rint(share * _FINE).astype(np.int64)  # whole numbers: sums are exact in every batch
        total = np.cumsum(effort)
        last = (first + spans.size) * _STEPS - 1
        stop = total[last]
        begin = np.append(0, stop[:-1])
        wanted = (begin[:, None] + np.rint((stop - begin)[:, None] * shares).astype(np.int64)).ravel()
        cell = np.minimum(np.searchsorted(total, wanted), np.repeat(last, len(shares)))
        inside = np.clip((wanted - total[cell] + effort[cell]) / effort[cell], 0, 1)
        piece, step = cell // _STEPS, cell % _STEPS
        t = pieces.t0[piece] + (pieces.t1 - pieces.t0)[piece] * ((step + inside) / _STEPS)
        shape = (len(spans), len(shares))
        return _SpanPoints(piece.reshape(shape), t.reshape(shape), turn)

    def motion(self, spans: Spans, curves: Curves) -> tuple[Points, Points]:
        """Return the points (spans, k) there, and the unit directions of the spans."""
        piece, pieces = self.piece.ravel(), spans.pieces
        z, way = motion(curves, pieces.curve[piece], self.t.ravel())
        forwards = np.sign(pieces.t1 - pieces.t0)[piece]
        return z.reshape(self.t.shape), _unit(way * forwards).reshape(self.t.shape)


def trace(spans: Spans, curves: Curves, intervals: int) -> Traced:
    """Return points that divide each span into so many intervals."""
    places = _SpanPoints.at(spans, curves, np.arange(1, intervals) / intervals)
    z, way = places.motion(spans, curves)
    return Traced(
        np.concatenate([spans.start[:, None], z, spans.end[:, None]], axis=1),
        np.concatenate([spans.ways[:, :1], way, spans.ways[:, 1:]], axis=1),
        places.turn,
    )


def halved(spans: Spans, curves: Curves, level: int) -> tuple[Spans, Points]:
    """Return spans cut in two, all first halves before all second ones, and where each was cut. level: how often
    before."""
    places = _SpanPoints.at(spans, curves, np.array([0.5]))
    z, way = places.motion(spans, curves)
    piece, t, cut = places.piece[:, 0], places.t[:, 0], z[:, 0]
    first, number = offsets(spans.size), len(spans)
    size = np.concatenate([piece - first + 1, first + spans.size - piece])
    owner, position = ragged_index(size)
    pieces = spans.pieces.take(np.concatenate([first, piece]).take(owner) + position)
    ends, starts = (np.cumsum(size) - 1)[:number], offsets(size)[number:]
    pieces.t1[ends], pieces.end[ends] = t, cut
    pieces.t0[starts], pieces.start[starts] = t, cut
    ways, held = np.tile(spans.ways, (2, 1)), np.tile(spans.held, (2, 1))
    ways[:number, 1] = ways[number:, 0] = way[:, 0]
    held[:number, 1] = held[number:, 0] = True
    order = np.concatenate([spans.order, spans.order + (1 << ORDER_BITS - 1 - level)])
    return Spans(pieces, size, order, ways, held, np.tile(spans.allowed, 2)), cut
