"""The glyphs of one font as flat arrays, from which every table is computed.

Units: font units, y up. Glyph order: .notdef, space, then icons by codepoint.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import NamedTuple

import numpy as np

from oddpeg.geometry.arrays import Bools, Ints
from oddpeg.geometry.outlines import FlatOutlines
from oddpeg.outline.model import ColourLayer, Outline

_PART = 2000  # glyphs


class Glyph(NamedTuple):
    """One glyph to be.

    Attributes:
        name: as the `post` table has it.
        codepoint: None where it has none.
        advance: font units.
        xy: (n, 2) points, font units.
        on: (n,) on-curve.
        ends: (contours,) last point of each contour.
        overlap: contours overlap.
        masters: its outlines elsewhere in the design space of a variable font, as `regions_of` orders them.
        layers: of colour, from the ground up.
    """

    name: str
    codepoint: int | None
    advance: int
    xy: Ints
    on: Bools
    ends: Ints
    overlap: bool = False
    masters: Sequence[Outline] = ()
    layers: Sequence[ColourLayer] = ()

    @staticmethod
    def of(
        name: str,
        codepoint: int | None,
        outline: Outline,
        masters: Sequence[Outline] = (),
        layers: Sequence[ColourLayer] = (),
    ) -> Glyph:
        """Return the glyph that shows an outline."""
        return Glyph(
            name, codepoint, outline.advance, outline.xy, outline.on, outline.ends, outline.overlaps, masters, layers
        )


@dataclass(frozen=True)
class GlyphSet:
    """All glyphs of a font.

    Attributes:
        names: for the `post` table.
        x, y, on: (points,).
        ends: (contours,) last point of each contour within its glyph.
        points, contours, advance: (glyphs,).
        codepoint: (glyphs,), -1 for a glyph without codepoint.
        overlap: (glyphs,).
        also: codepoint → glyph, for further codepoints of a glyph.
        masters: (glyphs,) of a variable font; empty where no glyph varies.
    """

    names: list[str]
    x: Ints
    y: Ints
    on: Bools
    ends: Ints
    points: Ints
    contours: Ints
    advance: Ints
    codepoint: Ints
    overlap: Bools
    also: Mapping[int, int]
    masters: Sequence[Sequence[Outline]] = ()

    @staticmethod
    def of(glyphs: list[Glyph], also: Mapping[int, int]) -> GlyphSet:
        """Return the set of these glyphs, in this order. also: as the attribute."""
        flat = FlatOutlines.join(glyphs)
        return GlyphSet(
            names=[g.name for g in glyphs],
            x=flat.xy[:, 0].astype(np.int64),
            y=flat.xy[:, 1].astype(np.int64),
            on=flat.on.astype(bool),
            ends=flat.ends.astype(np.int64),
            points=flat.points,
            contours=flat.contours,
            advance=np.array([g.advance for g in glyphs], dtype=np.int64),
            codepoint=np.array([-1 if g.codepoint is None else g.codepoint for g in glyphs], dtype=np.int64),
            overlap=np.array([g.overlap for g in glyphs], dtype=bool),
            also=also,
            masters=[g.masters for g in glyphs] if any(g.masters for g in glyphs) else (),
        )

    def outlines(self) -> FlatOutlines:
        """Return the outlines of all glyphs."""
        return FlatOutlines(np.stack([self.x, self.y], axis=1), self.on, self.ends, self.points, self.contours)

    def __len__(self) -> int:
        return len(self.names)

    def parts(self) -> Iterator[GlyphSet]:
        """Yield the set in parts, in order: computing every point of a large font at once takes much more memory than
        the font."""
        for low in range(0, len(self), _PART):
            some = slice(low, low + _PART)
            points = slice(self.first_point[low], self.first_point[low] + self.points[some].sum())
            contours = slice(self.first_contour[low], self.first_contour[low] + self.contours[some].sum())
            yield GlyphSet(
                names=self.names[some],
                x=self.x[points],
                y=self.y[points],
                on=self.on[points],
                ends=self.ends[contours],
                points=self.points[some],
                contours=self.contours[some],
                advance=self.advance[some],
                codepoint=self.codepoint[some],
                overlap=self.overlap[some],
                also={},
            )

    @cached_property
    def coded(self) -> tuple[Ints, Ints]:
        """All codepoints in rising order, and the glyphs that they show."""
        have = np.flatnonzero(self.codepoint >= 0)
        codes = np.append(self.codepoint[have], np.array([*self.also], dtype=np.int64))
        glyphs = np.append(have, np.array([*self.also.values()], dtype=np.int64))
        rank = np.argsort(codes, kind="stable")
        return codes[rank], glyphs[rank]

    @cached_property
    def first_point(self) -> Ints:
        """Index of each glyph's first point (glyphs,)."""
        return np.cumsum(self.points) - self.points

    @cached_property
    def first_contour(self) -> Ints:
        """Index of each glyph's first contour (glyphs,)."""
        return np.cumsum(self.contours) - self.contours

    @cached_property
    def drawn(self) -> Ints:
        """Indices of the glyphs that have an outline."""
        return np.flatnonzero(self.points)

    @cached_property
    def boxes(self) -> Ints:
        """(glyphs, 4): xMin, yMin, xMax, yMax over all points, controls included; zeros where nothing is drawn."""
        boxes = np.zeros((len(self), 4), dtype=np.int64)
        if len(self.drawn):
            at = self.first_point[self.drawn]
            for column, (values, pick) in enumerate(
                [(self.x, np.minimum), (self.y, np.minimum), (self.x, np.maximum), (self.y, np.maximum)]
            ):
                boxes[self.drawn, column] = pick.reduceat(values, at)
        return boxes

    @property
    def deltas(self) -> tuple[Ints, Ints]:
        """Each point relative to the one before it in its glyph (the first to the origin)."""
        columns = []
        for values in (self.x, self.y):
            step = np.diff(values, prepend=0)
            step[self.first_point[self.drawn]] = values[self.first_point[self.drawn]]
            columns.append(step)
        return columns[0], columns[1]
