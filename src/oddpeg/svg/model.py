"""What a drawing is once it has been read: shapes in user units, and notes on the reading.

Knows: matrices, paths as flat segments, paint, strokes, clips. Does not know: SVG syntax, the em.
"""

from __future__ import annotations

import enum
import math
from dataclasses import dataclass, field
from typing import NamedTuple

from oddpeg.diagnostics import Diagnostic


class Matrix(NamedTuple):
    """Affine map (x, y) → (a·x + c·y + e, b·x + d·y + f), in the order SVG writes it."""

    a: float = 1.0
    b: float = 0.0
    c: float = 0.0
    d: float = 1.0
    e: float = 0.0
    f: float = 0.0

    def then_inside(self, inner: Matrix) -> Matrix:
        """Return the map that applies `inner` first and this one after (self · inner)."""
        a, b, c, d, e, f = self
        return Matrix(
            a * inner.a + c * inner.b,
            b * inner.a + d * inner.b,
            a * inner.c + c * inner.d,
            b * inner.c + d * inner.d,
            a * inner.e + c * inner.f + e,
            b * inner.e + d * inner.f + f,
        )

    @property
    def determinant(self) -> float:
        return self.a * self.d - self.b * self.c

    def is_usable(self) -> bool:
        """Whether the map is finite and keeps area (a flat map shows nothing)."""
        return all(map(math.isfinite, self)) and abs(self.determinant) > 1e-18


IDENTITY = Matrix()


@dataclass(slots=True)
class Path:
    """Subpaths as flat lists of segments, every segment written as a cubic.

    coords: 8 numbers per segment (start, two controls, end); degrees: 1 line, 2 quadratic,
    3 cubic, so that simple segments can be written simply again; starts: index of the first
    segment of each subpath; closed: whether each subpath was closed by its author.
    """

    coords: list[float] = field(default_factory=list)
    degrees: list[int] = field(default_factory=list)
    starts: list[int] = field(default_factory=list)
    closed: list[bool] = field(default_factory=list)

    def __bool__(self) -> bool:
        return bool(self.degrees)


class Paint(enum.Enum):
    """What a painted area does to the silhouette."""

    INK = "ink"
    WHITE = "white"


class Stroke(NamedTuple):
    """How a path is stroked; lengths in the shape's own user units (SVG 2 §13)."""

    width: float
    cap: str = "butt"
    join: str = "miter"
    miter_limit: float = 4.0
    dashes: tuple[float, ...] = ()
    dash_offset: float = 0.0
    paint: Paint = Paint.INK


class Clip(NamedTuple):
    """A region that limits what shows: what its shapes paint in order (white takes away)."""

    shapes: tuple[Shape, ...]


@dataclass(slots=True)
class Shape:
    """One painted path: user units → drawing units by `matrix`."""

    path: Path
    matrix: Matrix
    fill: Paint | None = Paint.INK
    even_odd: bool = False
    stroke: Stroke | None = None
    stroke_first: bool = False
    clips: tuple[Clip, ...] = ()


@dataclass(slots=True)
class Drawing:
    """One SVG file, read. `box` is (x, y, width, height) of the frame in user units."""

    box: tuple[float, float, float, float]
    shapes: list[Shape]
    notes: list[Diagnostic]
    title: str = ""
    description: str = ""
