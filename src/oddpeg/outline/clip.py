"""Regions → the silhouette's contours: overlaps gone, white knocked out, limits applied.

Integer polygon clipping (pyclipper), one drawing at a time.
"""

from __future__ import annotations

from collections.abc import Sequence
from itertools import chain, zip_longest
from typing import NamedTuple

import pyclipper

from oddpeg.outline.collect import PaintStep

Spot = Sequence[int]  # x, y
Contours = list[list[Spot]]

_UNION, _CUT, _MEET = pyclipper.CT_UNION, pyclipper.CT_DIFFERENCE, pyclipper.CT_INTERSECTION
_MANY = 16  # regions
_NONZERO, _EVEN_ODD = pyclipper.PFT_NONZERO, pyclipper.PFT_EVENODD


def combine(kind: int, subject: Contours, other: Contours, rule: int = _NONZERO) -> Contours:
    """Return subject − or ∩ other; outer contours wind positively, holes negatively."""
    engine = pyclipper.Pyclipper()
    ready = _load(engine, subject, pyclipper.PT_SUBJECT)
    limited = _load(engine, other, pyclipper.PT_CLIP)
    if not ready or (kind == _MEET and not limited):
        return []
    result: Contours = engine.Execute(kind, rule, _NONZERO)
    return result


def _load(engine: pyclipper.Pyclipper, paths: Contours, role: int) -> bool:
    if not paths:
        return False
    try:
        engine.AddPaths(paths, role, True)  # contours without area (a line, a point) cover nothing and are passed over
    except pyclipper.ClipperException:
        return False  # none of them has any
    return True


def unite(area: Contours, rule: int, rest: Contours) -> Contours:
    """Return an area under its own fill rule, united with the rest, which winds positively."""
    engine = pyclipper.Pyclipper()
    loaded = _load(engine, area, pyclipper.PT_SUBJECT)
    if not (_load(engine, rest, pyclipper.PT_CLIP) or loaded):
        return []
    result: Contours = engine.Execute(_UNION, rule, _NONZERO)
    return result


def rule_of(step: PaintStep) -> int:
    """Return the clipper's name of a step's fill rule."""
    rule: int = _EVEN_ODD if step.even_odd else _NONZERO
    return rule


class Silhouette(NamedTuple):
    """The silhouette of one drawing.

    Attributes:
        regions: contours by region number, on the integer grid.
        sound: regions whose contours wind positively only, so that they never cancel others.
        clean: regions that are silhouettes already.
        known: contours of clips that many steps share, by the identity of the clip.
    """

    regions: dict[int, Contours]
    sound: set[int]
    clean: set[int]
    known: dict[int, Contours]

    def of(self, plan: Sequence[PaintStep]) -> Contours:
        """Return the contours of everything a plan paints."""
        if len(plan) == 1 and plan[0].region in self.clean and not plan[0].clips and not plan[0].white:
            return self.regions[plan[0].region]
        done: Contours = []
        sound: Contours = []  # these wait to be united, all at once
        loose: list[PaintStep] = []
        erased: Contours = []  # by white without ink between, all at once
        for step, following in zip_longest(plan, plan[1:]):
            if step.white:
                erased += self._area(step)
                if following is not None and following.white:
                    continue
                inked = self._united(done, sound, loose) if loose else [*done, *sound]
                done = combine(_CUT, inked, erased)
                sound, loose, erased = [], [], []
            elif step.clips:
                sound = sound + self._area(step)
            elif step.region in self.sound:
                sound = sound + self.regions.get(step.region, [])
            else:
                loose.append(step)
        return self._united(done, sound, loose)

    def _united(self, done: Contours, sound: Contours, loose: list[PaintStep]) -> Contours:
        """Return a silhouette united with regions, those first that must be resolved by themselves."""
        if len(loose) > _MANY:  # one after the other, each would be united with all before it
            sound, loose = [*sound, *chain.from_iterable(map(self._area, loose))], []
        if not loose:
            return unite(sound, _NONZERO, done) if sound else done
        for number, step in enumerate(loose, 1):
            done = unite(
                self.regions.get(step.region, []), rule_of(step), done + sound if number == len(loose) else done
            )
        return done

    def _area(self, step: PaintStep) -> Contours:
        """Return one region wound so that non-zero sums of several stay right."""
        paths = self.regions.get(step.region, [])
        if step.region not in self.sound:
            paths = unite(paths, rule_of(step), [])
        for clip in step.clips:
            if id(clip) not in self.known:
                self.known[id(clip)] = self.of(clip)
            paths = combine(_MEET, paths, self.known[id(clip)])
        return paths


def keep_within(paths: Contours, left: int, bottom: int, right: int, top: int) -> Contours:
    """Return the contours of a silhouette, which do not cross, cut to a rectangle."""
    crossing: Contours = []
    kept: Contours = []  # as they are: cutting takes twenty times as long as looking
    for path in paths:
        inside = all(left <= x <= right and bottom <= y <= top for x, y in path)
        (kept if inside else crossing).append(path)
    return kept + combine(_MEET, crossing, [[[left, bottom], [right, bottom], [right, top], [left, top]]])
