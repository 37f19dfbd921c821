"""Comparison of a glyph with its drawing: ink along lines, by winding, before any clipping and after all steps.

Slanted lines (icons are full of level and upright edges) run through every contour and all over the icon. On each, the
intervals of ink are computed twice: from the winding of the painted regions (fill rules, paint order, white, clips) and
from the winding of the finished outline. No code is shared with the clipper.
"""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise
from typing import NamedTuple

import numpy as np

from oddpeg.geometry.arrays import Bools, Floats, Ints, Points
from oddpeg.geometry.contours import Contours
from oddpeg.geometry.ragged import distinct, neighbours, numbered, offsets, ragged_index, run_starts
from oddpeg.outline.collect import PaintStep

_MOST_LINES = 32  # per icon
_SPREAD = 7  # of them at even distances
_SLANT = np.exp(0.53j)  # everything is turned by this first, so that the lines are level
_GAP = 4.0  # thousandths of the em: stretches that differ by less come from rounding where edges are shallow
_ASIDE = 3.0  # thousandths of the em
_SPAN = float(2**19)  # wider than anything held on the grid: sets lines and icons apart in one sort key
_STEP = 2.0**-10  # font units: places are whole steps, so that keys are exact and never depend on the batch
_MOST_CELLS = 1 << 22  # places × regions of an icon looked at together


class Painted(NamedTuple):
    """The painted regions of a batch, flat.

    Attributes:
        xy: (n,) vertices of closed polygons, em units.
        contour: (n,) ascending.
        region: (contours,).
        icon, even_odd: (regions,).
        plans: by icon.
        frames: (icons, 4) left, bottom, right, top.
    """

    xy: Points
    contour: Ints
    region: Ints
    icon: Ints
    even_odd: Bools
    plans: list[list[PaintStep]]
    frames: Floats

    def only(self, icons: Ints) -> Painted:
        """Return the same for some icons; the others paint nothing."""
        mine = np.isin(self.icon[self.region[self.contour]], icons)
        return self._replace(xy=self.xy[mine], contour=self.contour[mine])

    def turned(self) -> Painted:
        return self._replace(xy=_turned(self.xy))


class FinishedOutlines(NamedTuple):
    """Finished outlines, flat.

    Attributes:
        z: (n,) points.
        on: (n,) on-curve.
        contour: (n,) ascending.
        icon: by contour ordinal.
    """

    z: Points
    on: Bools
    contour: Ints
    icon: Ints

    def turned(self) -> FinishedOutlines:
        return self._replace(z=_turned(self.z))


def _turned(z: Points) -> Points:
    flat = np.ascontiguousarray(z * _SLANT).view(np.float64)
    turned: Points = _in_steps(flat).view(np.complex128)
    return turned


def _in_steps(places: Floats) -> Floats:
    steps: Floats = np.rint(places * (1 / _STEP))
    return np.multiply(steps, _STEP, out=steps)


class _Lines(NamedTuple):
    """Horizontal lines.

    Attributes:
        icon: (n,) ascending.
        y: (n,) ascending within an icon.
    """

    icon: Ints
    y: Floats

    def below(self, icon: Ints, y: Floats) -> Ints:
        """Return for each height how many lines, of all icons in order, lie below it."""
        return np.searchsorted(self.icon * _SPAN + self.y, icon * _SPAN + y)


def _crossings(start: Ints, end: Ints) -> tuple[Ints, Ints]:
    """Return (edge, line) of every crossing of edges that have `start` and `end` lines below their two ends."""
    low = np.minimum(start, end)
    edge, position = ragged_index(np.abs(end - start))
    return edge, low[edge] + position


class _Switches(NamedTuple):
    """Where ink begins or ends along lines, in any order.

    Attributes:
        line: (n,).
        x: (n,).
    """

    line: Ints
    x: Floats


def _choose(painted: Painted) -> _Lines:
    """Return lines through every painted contour, and all over the icon."""
    first = run_starts(painted.contour)
    low, high = np.minimum.reduceat(painted.xy.imag, first), np.maximum.reduceat(painted.xy.imag, first)
    icon = painted.icon[painted.region[painted.contour[first]]]
    kept = np.flatnonzero(high - low > 1)
    kept = kept[np.argsort(icon[kept], kind="stable")]  # strokes come after all fills of a batch
    icon, low, high = icon[kept], low[kept], high[kept]
    if not len(icon):
        return _Lines(icon, low)
    head = run_starts(icon)
    number = np.arange(len(icon)) - np.repeat(head, np.diff(np.append(head, len(icon))))
    few = number < _MOST_LINES - _SPREAD
    bottom, top = np.minimum.reduceat(low, head), np.maximum.reduceat(high, head)
    shares = (np.arange(_SPREAD) + 0.43) / _SPREAD
    even = bottom[:, None] + (top - bottom)[:, None] * shares
    owner = np.concatenate([icon[few], np.repeat(icon[head], _SPREAD)])
    y = _in_steps(np.concatenate([((low + high) / 2)[few], even.ravel()]))
    rank = np.argsort(owner * _SPAN + y)
    return _Lines(owner[rank], y[rank])


def _painted_ink(painted: Painted, lines: _Lines) -> _Switches:
    """Return where painted ink begins and ends."""
    start = painted.xy
    _, after = neighbours(painted.contour)
    region = painted.region.take(painted.contour)
    below = lines.below(painted.icon.take(region), start.imag)
    edge, line = _crossings(below, below.take(after))
    a, b = start.take(edge), start.take(after.take(edge))
    x = _in_steps(a.real + (lines.y.take(line) - a.imag) * (b.real - a.real) / (b.imag - a.imag))
    way = np.where(b.imag > a.imag, 1, -1)
    region = region.take(edge)
    rank = np.argsort(_pairs(painted, lines, line, region) * _SPAN + x)  # by line, then region, then x
    region = region.take(rank)
    turns = np.cumsum(way.take(rank))  # closed polygons: back at zero where a line has left a region
    inside = np.where(painted.even_odd.take(region), turns % 2, turns) != 0
    changes = np.flatnonzero(inside != np.append(False, inside[:-1]))
    at = rank.take(changes)
    line, x, region, step = line.take(at), x.take(at), region.take(changes), np.where(inside.take(changes), 1, -1)
    rank = np.argsort(line * _SPAN + x)
    line, x, region, step = line.take(rank), x.take(rank), region.take(rank), step.take(rank)
    return _layered(painted, lines, line, x, region, step)


def _pairs(painted: Painted, lines: _Lines, line: Ints, region: Ints) -> Ints:
    """Return one number for each pair of a line and a region of its icon, in their order: as small as can be."""
    count = np.bincount(painted.icon, minlength=len(painted.plans))
    first = np.searchsorted(painted.icon, np.arange(len(painted.plans)))
    pairs: Ints = offsets(count.take(lines.icon)).take(line) + region - first.take(lines.icon.take(line))
    return pairs


def _layered(painted: Painted, lines: _Lines, line: Ints, x: Floats, region: Ints, step: Ints) -> _Switches:
    """Return the ink of all regions together, in paint order. step: 1 where a region begins, -1 where it ends."""
    involved = {icon for icon, plan in enumerate(painted.plans) if any(s.white or s.clips for s in plan)}
    icon = lines.icon.take(line)
    ink = np.cumsum(step) > 0
    bounds = np.searchsorted(icon, np.arange(len(painted.plans) + 1))
    for number in involved:
        low, high = bounds[number : number + 2].tolist()
        heads = low + run_starts(line[low:high])  # every region is left where a line ends
        names = len(distinct(region[low:high]))
        together = max(1, int(_MOST_CELLS * len(heads) / max(1, names * (high - low))))
        for first, last in pairwise([*heads[::together].tolist(), high]):
            ink[first:last] = _stretch_ink(painted.plans[number], region[first:last], step[first:last])
    changes = np.flatnonzero(ink != np.append(False, ink[:-1]))
    return _Switches(line.take(changes), x.take(changes))


def _stretch_ink(plan: Sequence[PaintStep], region: Ints, step: Ints) -> Bools:
    """Return where a plan leaves ink, given where regions begin (step 1) and end (-1)."""
    names, column = numbered(region)
    inside = np.zeros((len(names), len(region)), dtype=np.int8)  # a region begins once before it ends
    inside[column, np.arange(len(region))] = step
    np.cumsum(inside, axis=1, out=inside)
    within = dict(zip(names.tolist(), inside.view(bool), strict=True))
    return _plan_ink(plan, within, len(region))


def _plan_ink(plan: Sequence[PaintStep], within: dict[int, Bools], count: int) -> Bools:
    """Return where a plan leaves ink, given where each region lies."""
    ink = np.zeros(count, dtype=bool)
    for step in plan:
        area = within.get(step.region)
        if area is None:
            continue
        for clip in step.clips:
            area = area & _plan_ink(clip, within, count)
        ink = ink & ~area if step.white else ink | area
    return ink


def _outline_ink(drawn: FinishedOutlines, lines: _Lines) -> _Switches:
    """Return where the outline begins and ends, by non-zero winding of its curves."""
    if not len(drawn.z):
        return _Switches(drawn.contour, np.zeros(0))
    start, control, stop, contour, _ = Contours(drawn.z, drawn.on, drawn.contour).segments()
    # y(t) = y0 + 2 t (y1 - y0) + t² (y0 - 2 y1 + y2), cut at its extreme
    lead, bend = control.imag - start.imag, start.imag - 2 * control.imag + stop.imag
    crest = np.where(np.abs(bend) > 1e-9, -lead / np.where(np.abs(bend) > 1e-9, bend, 1.0), -1.0)
    turns = np.flatnonzero((crest > 0) & (crest < 1))
    seg = np.concatenate([np.arange(len(start)), turns])
    top = _in_steps(start.imag + lead * crest)
    y0 = np.concatenate([start.imag, top.take(turns)])
    y1 = np.concatenate([np.where((crest > 0) & (crest < 1), top, stop.imag), stop.imag[turns]])
    icon = drawn.icon.take(contour).take(seg)
    edge, line = _crossings(lines.below(icon, y0), lines.below(icon, y1))
    way, of = np.where(y1.take(edge) > y0.take(edge), 1.0, -1.0), seg.take(edge)
    p, q, r = start.take(of), control.take(of), stop.take(of)
    height, a, b = lines.y.take(line) - p.imag, bend.take(of), lead.take(of)
    root = way * np.sqrt(np.maximum(b * b + a * height, 0))  # half of dy/dt there
    before = b * way >= 0  # each of two ways to write the root, where it does not cancel
    t = np.where(before, height, root - b) / np.where(
        before, np.where(b + root == 0, 1.0, b + root), np.where(a == 0, 1.0, a)
    )
    t = np.clip(t, 0, 1)
    x = _in_steps((1 - t) ** 2 * p.real + 2 * t * (1 - t) * q.real + t * t * r.real)
    rank = np.argsort(line * _SPAN + x)
    inside = np.cumsum(way.take(rank)) != 0
    changes = rank.take(np.flatnonzero(inside != np.append(False, inside[:-1])))
    return _Switches(line.take(changes), x.take(changes))


def _within(painted: Painted, lines: _Lines, line: Ints, x: Floats) -> Floats:
    """Return places along lines, held within the frames."""
    c, s = _SLANT.real, _SLANT.imag
    left, bottom, right, top = painted.frames[lines.icon].T
    from_ = np.maximum((left - lines.y * s) / c, (lines.y * c - top) / s)
    to = np.minimum((right - lines.y * s) / c, (lines.y * c - bottom) / s)
    return _in_steps(np.clip(x, from_.take(line), np.maximum(from_, to).take(line)))


def _differences(painted: Painted, drawn: FinishedOutlines, lines: _Lines, most: float) -> tuple[Ints, Floats, Floats]:
    """Return (line, from, to) of the stretches longer than `most` where painting and outline disagree, within the
    frame."""
    wanted, got = _painted_ink(painted, lines), _outline_ink(drawn, lines)
    line = np.concatenate([wanted.line, got.line])
    x = _within(painted, lines, line, np.concatenate([wanted.x, got.x]))
    rank = np.argsort(line * _SPAN + x)
    line, x = line.take(rank), x.take(rank)
    differ = np.arange(1, len(line)) % 2 == 1  # an odd count of switches so far: one of the two has ink, the other none
    at = np.flatnonzero(differ & (line[1:] == line[:-1]) & (np.diff(x) > most))
    return line[at], x[at], x[at + 1]


def disagree(painted: Painted, drawn: FinishedOutlines, unit: float) -> Ints:
    """Return the icons whose outlines do not show the painted regions. unit: a thousandth of the em."""
    if not len(painted.xy):
        return np.zeros(0, dtype=np.int64)
    painted, drawn = painted.turned(), drawn.turned()
    lines = _choose(painted)
    line, low, high = _differences(painted, drawn, lines, _GAP * unit)
    if not len(line):
        return np.zeros(0, dtype=np.int64)
    # an edge that runs along a line may lie on either side of it; a real fault is there a little aside as well
    suspects = distinct(line)
    apart = _in_steps(np.concatenate([lines.y[suspects] - _ASIDE * unit, lines.y[suspects] + _ASIDE * unit]))
    icon = np.tile(lines.icon[suspects], 2)
    rank = np.lexsort((apart, icon))
    beside = _Lines(icon[rank], apart[rank])
    origin = np.tile(suspects, 2)[rank]
    again, from_, to = _differences(painted, drawn, beside, _GAP * unit / 2)
    faulty = set()
    for name, a, b in zip(line.tolist(), low.tolist(), high.tolist(), strict=True):
        rows_of_icon = origin[again] == name
        if (np.minimum(to[rows_of_icon], b) - np.maximum(from_[rows_of_icon], a) > _GAP * unit / 2).any():
            faulty.add(int(lines.icon[name]))
    return np.array(sorted(faulty), dtype=np.int64)
