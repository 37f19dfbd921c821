"""Strokes → polygons whose non-zero winding is the stroke as renderers draw it.

One closed contour per open subpath and two per closed one: along the left side, back along the right;
outside a corner the join, inside it the corner point itself. That sum winds positively everywhere,
except where the spine bends tighter than half the width: there the inner side runs backwards and may
wind a hole, which every common browser shows, so it is kept. Regions in which that happens are reported
as wild: they must be resolved by themselves before they are united with others. Where a spine doubles
back within a segment (a cusp), a full round stands in for the turn.

Covers widths, caps, joins, miter limits of SVG 2 §13.5.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from oddpeg.geometry import curves as cv
from oddpeg.geometry.arrays import Bools, Floats, Ints, Points
from oddpeg.geometry.curves import Curves
from oddpeg.geometry.ragged import numbered, ragged_index
from oddpeg.geometry.vectors import angle, dot
from oddpeg.outline.polygons import STRAIGHT, PathSegments, Polygons

BUTT, ROUND, SQUARE = 0, 1, 2  # caps
MITER, BEVEL = 0, 2  # joins (ROUND as above)

_SLOT = 2**15  # order numbers reserved for each segment; half for its strip, half for what follows it
_HALF = _SLOT // 2
_RIGHT = 1 << 34  # the right side is drawn backwards, after everything on the left
_SMOOTH = 1e-3  # radians: a corner flatter than this needs no join
_CUSP = 1.0  # radians turned within one step after refining: the spine doubles back


class Pens(NamedTuple):
    """Stroke properties per subpath.

    Attributes:
        half: half the width, user units.
        cap, join: codes.
        miter: limit.
        side: +1 or -1, which way the left offset lies so that strips wind positively on the em.
    """

    half: Floats
    cap: Ints
    join: Ints
    miter: Floats
    side: Floats


class _Parts:
    """Vertices under construction: (contour, order) decides where each goes in the end."""

    def __init__(self) -> None:
        self.contour: list[Ints] = []
        self.order: list[Ints] = []
        self.xy: list[Points] = []
        self.curve: list[Ints] = []
        self.t0: list[Floats] = []
        self.t1: list[Floats] = []

    def add(
        self,
        contour: Ints,
        order: Ints,
        xy: Points,
        curve: Ints | None = None,
        t0: Floats | None = None,
        t1: Floats | None = None,
    ) -> None:
        count = len(contour)
        zeros = np.zeros(count)
        self.contour.append(contour)
        self.order.append(order)
        self.xy.append(xy)
        self.curve.append(np.full(count, STRAIGHT) if curve is None else curve)
        self.t0.append(zeros if t0 is None else t0)
        self.t1.append(zeros if t1 is None else t1)

    def ordered(self) -> tuple[Ints, Points, Ints, Floats, Floats]:
        """Return (contour, xy, curve, t0, t1) in drawing order."""
        contour, order = np.concatenate(self.contour), np.concatenate(self.order)
        rank = np.argsort((contour << 36) + order + (1 << 35), kind="stable")
        return (
            contour[rank],
            np.concatenate(self.xy)[rank],
            np.concatenate(self.curve)[rank],
            np.concatenate(self.t0)[rank],
            np.concatenate(self.t1)[rank],
        )


def without_points(segments: PathSegments) -> tuple[PathSegments, Bools]:
    """Drop zero-length segments that stand among others; a subpath of nothing else keeps one (a dot).
    Also return which subpaths are dots."""
    span = np.abs(segments.control - segments.control[:, :1]).max(axis=1)
    solid = span > 1e-9
    subs = len(segments.region)
    dot = np.bincount(segments.subpath[solid], minlength=subs) == 0
    first, _ = segments.ends()
    keep = solid.copy()
    keep[first[dot]] = True
    return (
        PathSegments(
            segments.control[keep],
            segments.degree[keep],
            segments.subpath[keep],
            segments.closed & ~dot,
            segments.region,
            segments.maps,
        ),
        dot,
    )


class _Stroker:
    def __init__(self, segments: PathSegments, pens: Pens, first_tag: int, tolerance: float) -> None:
        self.seg, self.dot = without_points(segments)
        self.pens = pens
        self.first_tag = first_tag
        self.sub = self.seg.subpath
        self.half = pens.half[self.sub]
        self.reach = (pens.half * pens.side)[self.sub]  # signed distance of the left side
        self.power = cv.power_form(self.seg.control)
        self.maps = self.seg.maps.take(self.seg.region)  # per subpath
        self.stretch = self.maps.stretch
        self.scale = self.stretch[self.sub]
        self.tolerance = tolerance
        self.step = 2 * np.arccos(np.clip(1 - tolerance / np.maximum(self.half * self.scale, tolerance), -1, 1))
        self.step = np.clip(self.step, 0.05, 0.7)  # radians the normal may turn per step
        self.first, self.last = self.seg.ends()
        within = np.arange(len(self.sub)) - self.first[self.sub]
        self.base = within * _SLOT
        self.closed = self.seg.closed
        self.ring = 2 * np.arange(len(self.closed))  # contour of the left side; the right side of a closed one is +1
        self.parts = _Parts()
        self.rounds: list[Polygons] = []
        self.wild: set[int] = set()
        self.tables: list[Curves] = []
        self.tags = first_tag

    def table(self, control: Points, degree: Ints, offset: Floats, sub: Ints) -> int:
        """Add curves to the tag table; return the first one's tag."""
        tag = self.tags
        self.tables.append(Curves(control, degree, offset, self.maps.take(sub)))
        self.tags += len(degree)
        return tag

    # -- strips -----------------------------------------------------------------------------

    def parameters(self) -> tuple[Ints, Floats]:
        """Return (segment, t) of every step, fine enough in distance and in turn of the normal."""
        control = self.seg.control
        legs = np.diff(control, axis=1)
        turning = np.abs(angle(legs[:, :-1], legs[:, 1:])).sum(axis=1)
        steps = np.maximum(
            cv.flat_steps(control, self.tolerance / self.scale), np.ceil(turning / self.step).astype(np.int64)
        )
        steps = np.minimum(np.where(self.seg.degree == 1, 1, steps), 1000)
        owner, position = ragged_index(steps + 1)
        t = position / steps[owner]
        done: list[tuple[Ints, Floats]] = []
        for _ in range(18):
            tangent = cv.unit_tangent(self.power.take(owner, 1), t)
            bend = np.abs(angle(tangent[:-1], tangent[1:]))
            wide = (owner[:-1] == owner[1:]) & (bend > 1.5 * self.step[owner[:-1]]) & (t[1:] - t[:-1] > 1e-6)
            where = np.flatnonzero(wide)
            if not len(where):
                break
            rough = np.zeros(len(steps), dtype=bool)
            rough[owner[where]] = True
            done.append((owner[~rough[owner]], t[~rough[owner]]))  # the other segments need no second look
            middle = (t[where] + t[where + 1]) / 2
            owners, at = np.insert(owner, where + 1, owner[where]), np.insert(t, where + 1, middle)
            owner, t = owners[rough[owners]], at[rough[owners]]
        if done:
            owner, t = (np.concatenate(parts) for parts in zip(*done, (owner, t), strict=True))
            rank = np.argsort(owner, kind="stable")
            owner, t = owner[rank], t[rank]
        return owner, t

    def strips(self) -> None:
        """Lay both sides of every segment."""
        owner, t = self.parameters()
        sub = self.sub[owner]
        power = self.power.take(owner, 1)
        spine, tangent = cv.spot(power, t), cv.unit_tangent(power, t)
        normal = 1j * tangent * self.reach[owner]
        start = np.searchsorted(owner, np.arange(len(self.sub)))
        order = self.base[owner] + 2 * np.minimum(np.arange(len(owner)) - start[owner], _HALF // 2 - 2)
        inner = np.flatnonzero(owner[:-1] == owner[1:])  # steps, by their first vertex
        curved = self.seg.degree > 1
        count = len(self.sub)
        zero = np.zeros(count)
        plain = self.table(self.seg.control, self.seg.degree, zero + self.reach, self.sub)
        other = self.table(self.seg.control, self.seg.degree, zero - self.reach, self.sub)
        for side, first in ((1, plain), (-1, other)):
            edge = spine + side * normal
            contour = self.ring[sub] + ((side < 0) & self.closed[sub])
            leave = inner if side > 0 else inner + 1  # the vertex each step's edge leaves in drawing order
            reach = inner + 1 if side > 0 else inner
            tag, t0, t1 = np.full(len(owner), STRAIGHT), np.zeros(len(owner)), np.zeros(len(owner))
            tag[leave] = np.where(curved[owner[leave]], owner[leave] + first, STRAIGHT)
            t0[leave], t1[leave] = t[leave], t[reach]
            place = order if side > 0 else _RIGHT - order
            back = dot(edge[inner + 1] - edge[inner], tangent[inner] + tangent[inner + 1]) < 0
            self.wild.update(self.seg.region[sub[inner[back]]].tolist())
            self.parts.add(contour, place, edge, tag, t0, t1)
        self.cusps(inner, owner, spine, tangent)

    def cusps(self, inner: Ints, owner: Ints, spine: Points, tangent: Points) -> None:
        """Where the spine doubles back on itself between two steps, lay a full round."""
        bend = np.abs(angle(tangent[inner], tangent[inner + 1]))
        at = inner[bend > _CUSP]
        if not len(at):
            return
        sub = self.sub[owner[at]]
        centre, radius = (spine[at] + spine[at + 1]) / 2, np.abs(self.reach[owner[at]])
        side = -np.repeat(self.pens.side[sub], 4)  # the way strips wind
        start = np.repeat(radius, 4) * np.exp(1j * side * np.tile(np.arange(4) * (np.pi / 2), len(at)))
        control = arc_controls(np.repeat(centre, 4), start, side * (np.pi / 2))
        count, steps = 4 * len(at), 16
        tag = self.table(control, np.full(count, 3), np.zeros(count), np.repeat(sub, 4))
        which, j = ragged_index(np.full(count, steps))
        xy = self.maps.take(sub[which // 4]).place(cv.spot(cv.power_form(control).take(which, 1), j / steps))
        self.rounds.append(Polygons(xy, which + tag, j / steps, (j + 1) / steps, which // 4, self.seg.region[sub]))
        self.wild.update(self.seg.region[sub].tolist())

    # -- corners and ends -------------------------------------------------------------------

    def end_tangents(self) -> tuple[Points, Points]:
        count = len(self.sub)
        return cv.unit_tangent(self.power, np.zeros(count)), cv.unit_tangent(self.power, np.ones(count))

    def joins(self) -> None:
        """Fill the outer side of every corner and lead the inner side through its point."""
        into, out_of = self.end_tangents()
        index = np.arange(len(self.sub))
        is_last = self.last[self.sub] == index
        following = np.where(is_last, self.first[self.sub], index + 1)
        a = index[~is_last | self.closed[self.sub]]
        b = following[a]
        ta, tb = out_of[a], into[b]
        turn = angle(ta, tb)
        sharp = np.abs(turn) > _SMOOTH
        a, b, ta, tb, turn = a[sharp], b[sharp], ta[sharp], tb[sharp], turn[sharp]
        if not len(a):
            return
        sub, corner, reach = self.sub[a], self.seg.control[a, 3], self.reach[a]
        outer = np.where(turn * reach < 0, 1, -1)  # +1: the left side is outside
        slot = self.base[a] + _HALF
        contour = self.ring[sub]
        inner_contour = contour + ((outer > 0) & self.closed[sub])
        self.parts.add(inner_contour, np.where(outer > 0, _RIGHT - slot, slot), corner)
        outer_contour = contour + ((outer < 0) & self.closed[sub])
        slot = np.where(outer > 0, slot, _RIGHT - slot)
        na, nb = (1j * v * (outer * reach) for v in (ta, tb))
        kind = self.pens.join[sub]
        fits = np.cos(turn / 2) * self.pens.miter[sub] >= 1
        miter = (kind == MITER) & fits & (np.abs(turn) < np.pi - 1e-6)
        tip = corner + (na + nb) / (1 + np.maximum(dot(ta, tb), -1 + 1e-12))
        self.parts.add(outer_contour[miter], slot[miter], tip[miter])
        r = np.flatnonzero(kind == ROUND)
        forward = outer[r] > 0
        self.arcs(
            outer_contour[r],
            slot[r],
            sub[r],
            corner[r],
            np.where(forward, na[r], nb[r]),
            np.where(forward, turn[r], -turn[r]),
        )

    def caps(self) -> None:
        """Finish both ends of every open subpath."""
        into, out_of = self.end_tangents()
        subs = np.flatnonzero(~self.closed)
        for end in (True, False):
            seg = (self.last if end else self.first)[subs]
            tangent = out_of[seg] if end else -into[seg]  # pointing away from the stroke
            corner = self.seg.control[seg, 3 if end else 0]
            normal = 1j * tangent * self.reach[seg]
            order = self.base[seg] + _HALF if end else np.full(len(seg), _RIGHT + 1)
            cap = self.pens.cap[subs]
            square = np.flatnonzero(cap == SQUARE)
            out = tangent[square] * self.half[seg[square]]
            for i, sign in enumerate((1, -1)):
                self.parts.add(self.ring[subs[square]], order[square] + i, corner[square] + sign * normal[square] + out)
            r = np.flatnonzero(cap == ROUND)
            swing = -np.pi * self.pens.side[subs[r]]
            self.arcs(self.ring[subs[r]], order[r], subs[r], corner[r], normal[r], swing)

    def arcs(self, contour: Ints, order: Ints, sub: Ints, centre: Points, start: Points, swing: Floats) -> None:
        """Lay round joins and caps: from centre + start over `swing` radians, as true arcs (cubics of at most 90°)."""
        pieces = np.maximum(np.ceil(np.abs(swing) / (np.pi / 2) - 1e-9), 1).astype(np.int64)
        owner, piece = ragged_index(pieces)
        part = swing[owner] / pieces[owner]
        control = arc_controls(centre[owner], start[owner] * np.exp(1j * part * piece), part)
        tag = self.table(control, np.full(len(owner), 3), np.zeros(len(owner)), sub[owner])
        radius = np.abs(start) * self.stretch[sub]
        step = np.clip(
            2 * np.arccos(np.clip(1 - self.tolerance / np.maximum(radius, self.tolerance), -1, 1)), 0.05, 0.7
        )
        steps = np.maximum(np.ceil(np.abs(part) / step[owner] - 1e-9), 1).astype(np.int64)
        final = np.zeros(len(owner), dtype=np.int64)
        final[np.cumsum(pieces) - 1] = 1  # the last piece also lays its end point
        which, j = ragged_index(steps + final)
        t0, t1 = j / steps[which], np.minimum((j + 1) / steps[which], 1.0)
        tags = np.where(j == steps[which], STRAIGHT, which + tag)
        arc = owner[which]
        rank = np.arange(len(which)) - np.searchsorted(arc, np.arange(len(contour)))[arc]
        self.parts.add(
            contour[arc], order[arc] + rank, cv.spot(cv.power_form(control).take(which, 1), t0), tags, t0, t1
        )

    # -- result -----------------------------------------------------------------------------

    def result(self) -> tuple[Polygons, Curves]:
        self.strips()
        self.joins()
        self.caps()
        contour, xy, curve, t0, t1 = self.parts.ordered()
        hidden = self.dot & (self.pens.cap == BUTT)  # a dot without caps shows nothing
        keep = ~hidden[contour // 2]
        contour, xy, curve, t0, t1 = contour[keep], xy[keep], curve[keep], t0[keep], t1[keep]
        names, number = numbered(contour)
        sub = names // 2
        main = Polygons(self.maps.take(contour // 2).place(xy), curve, t0, t1, number, self.seg.region[sub])
        return Polygons.join([main, *self.rounds]), Curves.join(self.tables).placed()


def stroke_polygons(
    segments: PathSegments, pens: Pens, first_tag: int, tolerance: float
) -> tuple[Polygons, Curves, set[int]]:
    """Return the strokes' contours, the curves their edges are tagged with (tags count from
    `first_tag`), and the wild regions. tolerance in font units."""
    stroker = _Stroker(segments, pens, first_tag, tolerance)
    polygons, curves = stroker.result()
    return polygons, curves, stroker.wild


def arc_controls(centre: Points, start: Points, swing: Floats) -> Points:
    """Return cubics (n, 4) along circles: from centre + start over `swing` radians, at most 90°."""
    end = start * np.exp(1j * swing)
    reach = 1j * (4 / 3 * np.tan(swing / 4))
    return np.stack([centre + start, centre + start + reach * start, centre + end - reach * end, centre + end], axis=1)
