"""The model of a drawing: shapes in user units, and notes on the reading."""

from __future__ import annotations

import enum
from dataclasses import dataclass, field
from typing import NamedTuple

from oddpeg.diagnostics import Diagnostic
from oddpeg.geometry.boxes import Box
from oddpeg.geometry.matrix import Matrix


@dataclass(slots=True)
class Path:
    """Subpaths as flat lists of segments, every segment written as a cubic.

    Attributes:
        coords: 8 numbers per segment (start, two controls, end).
        degrees: 1 line, 2 quadratic, 3 cubic, so that simple segments can be written simply again.
        starts: index of the first segment of each subpath.
        closed: whether each subpath was closed by its author.
    """

    coords: list[float] = field(default_factory=list)
    degrees: list[int] = field(default_factory=list)
    starts: list[int] = field(default_factory=list)
    closed: list[bool] = field(default_factory=list)

    def __bool__(self) -> bool:
        return bool(self.degrees)


class Effect(enum.Enum):
    """The effect of a painted area on the silhouette."""

    INK = "ink"
    WHITE = "white"


class Colour(NamedTuple):
    """An sRGB colour, each channel 0 to 255, alpha 0 to 1."""

    red: int
    green: int
    blue: int
    alpha: float = 1.0

    @property
    def hex(self) -> str:
        """The colour as #rrggbb, or #rrggbbaa where it is not opaque: its key in palettes."""
        alpha = "" if self.alpha >= 1 else f"{round(self.alpha * 255):02x}"
        return f"#{self.red:02x}{self.green:02x}{self.blue:02x}{alpha}"


class Stop(NamedTuple):
    """A colour on a gradient's line.

    Attributes:
        offset: 0 to 1.
        colour: opaque; None follows the text.
        alpha: 0 to 1.
    """

    offset: float
    colour: Colour | None
    alpha: float


class Gradient(NamedTuple):
    """A linear or radial gradient (SVG 2 §14.2).

    Attributes:
        radial: whether colours spread from a point; along a line otherwise.
        points: x1, y1, x2, y2 of a line; fx, fy, fr, cx, cy, r of two circles, the inner one first.
        stops: in rising order, at least one.
        spread: "pad", "reflect" or "repeat".
        matrix: the gradient's own units → units of what it paints.
        by_box: those are shares of the box of what it paints; user units otherwise.
    """

    radial: bool
    points: tuple[float, ...]
    stops: tuple[Stop, ...]
    spread: str
    matrix: Matrix
    by_box: bool


class Paint(NamedTuple):
    """The paint of an area.

    Attributes:
        effect: what it does to the silhouette.
        colour: None where it follows the colour of the text around the icon (`currentColor`, and what is not painted by
            its author).
        server: the id of a gradient or pattern, or empty.
        alpha: how opaque it is, its own opacity times that of all groups around it.
        gradient: what the server is, where it is a gradient.
    """

    effect: Effect = Effect.INK
    colour: Colour | None = None
    server: str = ""
    alpha: float = 1.0
    gradient: Gradient | None = None


INK = Paint()


class Stroke(NamedTuple):
    """The stroke of a path; lengths in the shape's own user units (SVG 2 §13).

    Attributes:
        width: above 0.
        cap, join: keywords of `stroke-linecap` and `stroke-linejoin`.
        miter_limit: longest miter, in widths.
        dashes: lengths of dashes and gaps in turn, of even number, empty for a solid line.
        dash_offset: how far into the pattern the line begins.
        paint: what it is painted with.
    """

    width: float
    cap: str = "butt"
    join: str = "miter"
    miter_limit: float = 4.0
    dashes: tuple[float, ...] = ()
    dash_offset: float = 0.0
    paint: Paint = INK


class Clip(NamedTuple):
    """A clip region: the paint of its shapes in order (white takes away)."""

    shapes: tuple[Shape, ...]


@dataclass(slots=True)
class Shape:
    """One painted path.

    Attributes:
        path: in user units.
        matrix: user units → drawing units.
        fill: None where it has none.
        even_odd: the fill rule; nonzero otherwise.
        stroke: None where it has none.
        stroke_first: the fill is painted over the stroke.
        clips: what limits it, all of them together.
    """

    path: Path
    matrix: Matrix
    fill: Paint | None = INK
    even_odd: bool = False
    stroke: Stroke | None = None
    stroke_first: bool = False
    clips: tuple[Clip, ...] = ()


@dataclass(slots=True)
class Drawing:
    """One SVG file, read.

    Attributes:
        box: the frame in user units.
        shapes: in paint order.
        notes: what the reading noticed.
        title, description: its own.
    """

    box: Box
    shapes: list[Shape]
    notes: list[Diagnostic]
    title: str = ""
    description: str = ""
