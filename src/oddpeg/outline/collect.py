"""Drawings → flat tables of painted regions, for a whole batch at once."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field
from itertools import pairwise
from typing import NamedTuple

import numpy as np

from oddpeg.geometry.curves import Curves, Maps, points_of
from oddpeg.geometry.matrix import Matrix
from oddpeg.outline.dashes import Dashed, dash_all
from oddpeg.outline.polygons import PathSegments, Polygons, fill_polygons
from oddpeg.outline.stroke import Pens, stroke_polygons
from oddpeg.svg.model import Clip, Effect, Path, Shape, Stroke

_CAPS = {"butt": 0, "round": 1, "square": 2}
_JOINS = {"miter": 0, "round": 1, "bevel": 2}


_Pen = tuple[float, int, int, float, float]  # half the width, cap, join, miter limit, side


class PaintStep(NamedTuple):
    """One painted region: its number, its effect, its fill rule, and the clips on it, each a plan of its own."""

    region: int
    white: bool
    even_odd: bool
    clips: tuple[tuple[PaintStep, ...], ...] = ()


@dataclass(slots=True)
class _Table:
    """Paths of many regions, growing."""

    coords: list[float] = field(default_factory=list)
    degrees: list[int] = field(default_factory=list)
    counts: list[int] = field(default_factory=list)  # segments per subpath
    closed: list[bool] = field(default_factory=list)
    region: list[int] = field(default_factory=list)  # per subpath

    def add(self, coords: list[float], degrees: list[int], starts: list[int], closed: list[bool], region: int) -> None:
        self.coords += coords
        self.degrees += degrees
        bounds = [*starts, len(degrees)]
        self.counts += [b - a for a, b in pairwise(bounds)]
        self.closed += closed
        self.region += [region] * len(starts)

    def segments(self, matrices: list[Matrix]) -> PathSegments:
        return PathSegments(
            points_of(self.coords).reshape(-1, 4),
            np.array(self.degrees, dtype=np.int64),
            np.repeat(np.arange(len(self.counts)), self.counts),
            np.array(self.closed, dtype=bool),
            np.array(self.region, dtype=np.int64),
            Maps.of(np.array(matrices, dtype=np.float64).reshape(-1, 6)),
        )


class Gathering:
    """The painted regions of a batch of drawings."""

    def __init__(self, units: int) -> None:
        """units: per em."""
        self._units = units
        self.plans: list[list[PaintStep]] = []
        self.icon: list[int] = []  # per region
        self.even_odd: list[bool] = []  # per region
        self._matrices: list[Matrix] = []
        self._fills, self._strokes = _Table(), _Table()
        self._pens: list[_Pen] = []  # per stroked subpath
        self._dashed: list[tuple[Dashed, Path, _Pen, int]] = []
        self._clips: dict[int, tuple[PaintStep, ...]] = {}

    def add(self, shapes: Sequence[Shape], matrix: Matrix) -> None:
        """Add the painted regions of one icon's layer, placed by `matrix` (drawing units → em)."""
        self._clips.clear()
        plan: list[PaintStep] = []
        for shape in shapes:
            plan += self._steps(shape, matrix)
        self.plans.append(plan)

    def _steps(self, shape: Shape, matrix: Matrix) -> list[PaintStep]:
        whole = matrix.compose(shape.matrix)
        clips = tuple(self._clip(clip, matrix) for clip in shape.clips)
        steps = []
        if shape.fill is not None:
            region = self._region(whole, shape.even_odd)
            path = shape.path
            self._fills.add(path.coords, path.degrees, path.starts, path.closed, region)
            steps.append(PaintStep(region, shape.fill.effect is Effect.WHITE, shape.even_odd, clips))
        if shape.stroke is not None:
            region = self._region(whole, False)
            self._stroke(shape.path, shape.stroke, whole, region)
            steps.append(PaintStep(region, shape.stroke.paint.effect is Effect.WHITE, False, clips))
        return steps[::-1] if shape.stroke_first else steps

    def _region(self, matrix: Matrix, even_odd: bool) -> int:
        self.even_odd.append(even_odd)
        self.icon.append(len(self.plans))
        self._matrices.append(matrix)
        return len(self._matrices) - 1

    def _clip(self, clip: Clip, matrix: Matrix) -> tuple[PaintStep, ...]:
        known = self._clips.get(id(clip))
        if known is None:
            known = tuple(step for shape in clip.shapes for step in self._steps(shape, matrix))
            self._clips[id(clip)] = known
        return known

    def _stroke(self, path: Path, stroke: Stroke, matrix: Matrix, region: int) -> None:
        side = -1.0 if matrix.determinant > 0 else 1.0  # strips then wind positively on the em
        pen = (stroke.width / 2, _CAPS[stroke.cap], _JOINS[stroke.join], stroke.miter_limit, side)
        if stroke.dashes:  # cut later, all at once
            self._dashed.append(
                (
                    Dashed(
                        points_of(path.coords).reshape(-1, 4),
                        np.array(path.degrees, dtype=np.int64),
                        path.starts,
                        path.closed,
                        stroke.dashes,
                        stroke.dash_offset,
                        self._units / 512 / math.sqrt(abs(matrix.determinant)),
                    ),
                    path,
                    pen,
                    region,
                )
            )
        else:
            self._add_stroke(path, pen, region)

    def _add_stroke(self, path: Path, pen: _Pen, region: int) -> None:
        self._strokes.add(path.coords, path.degrees, path.starts, path.closed, region)
        self._pens += [pen] * len(path.starts)

    def _cut_dashes(self) -> None:
        for cut, (_, path, pen, region) in zip(dash_all([d[0] for d in self._dashed]), self._dashed, strict=True):
            if cut is not None:
                coords = cut.control.view(np.float64).ravel().tolist()
                path = Path(coords, cut.degree.tolist(), cut.starts, [False] * len(cut.starts))
            self._add_stroke(path, pen, region)

    def strokes(self) -> tuple[PathSegments, Pens]:
        """Return the spines of all strokes, dashes cut, and how each is drawn."""
        self._cut_dashes()
        pens = np.array(self._pens, dtype=np.float64).reshape(-1, 5)
        kinds = (pens[:, 1].astype(np.int64), pens[:, 2].astype(np.int64))
        return self._strokes.segments(self._matrices), Pens(pens[:, 0], *kinds, pens[:, 3], pens[:, 4])

    def polygons(self, tolerance: float) -> tuple[Polygons, Curves, set[int]]:
        """Return every region's contours, the curves they are tagged with, and the stroked regions
        whose contours wind positively throughout. tolerance: font units."""
        none = Polygons(
            np.zeros(0, dtype=np.complex128),
            *(np.zeros(0, dtype=t) for t in (np.int64, float, float, np.int64, np.int64)),
        )
        fills = self._fills.segments(self._matrices)
        count = len(fills.degree)
        placed = fills.maps.take(fills.region[fills.subpath]).place(fills.control)
        table = Curves(placed, fills.degree, np.zeros(count), Maps.none(count))
        parts = [fill_polygons(fills, table, 0, tolerance) if len(table) else none]
        tables = [table]
        wild: set[int] = set()
        if self._pens or self._dashed:
            polygons, more, wild = stroke_polygons(*self.strokes(), len(table), tolerance)
            parts.append(polygons)
            tables.append(more)
        return Polygons.join(parts), Curves.join(tables), set(self._strokes.region) - wild
