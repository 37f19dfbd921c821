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
        inner: indexes of segments that end within an arc, where no marker is.
    """

    coords: list[float] = field(default_factory=list)
    degrees: list[int] = field(default_factory=list)
    starts: list[int] = field(default_factory=list)
    closed: list[bool] = field(default_factory=list)
    inner: list[int] = field(default_factory=list)

    def __bool__(self) -> bool:
        return bool(self.degrees)


class Effect(enum.Enum):
    """The effect of a painted area on the silhouette."""

    INK = "ink"
    WHITE = "white"
    NONE = "none"  # only layers of colour show it


class Translucent(enum.Enum):
    """What silhouettes do with paint of partial opacity: what suits the drawing, solid ink, or nothing."""

    AUTO = "auto"
    SOLID = "solid"
    DROP = "drop"


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
        radial: radial; otherwise linear.
        points: x1, y1, x2, y2 of a line; fx, fy, fr, cx, cy, r of two circles, the inner one first.
        stops: in rising order, at least one.
        spread: "pad", "reflect" or "repeat".
        matrix: gradient units → units of the painted shape.
        by_box: gradient units are shares of the shape's box; otherwise user units.
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
        effect: its effect on the silhouette.
        colour: None for `currentColor`, and for unspecified paint in a drawing without colours: the colour of the text.
        server: id of a gradient or pattern, or empty.
        alpha: opacity of the paint times that of all groups.
        gradient: the gradient with the id `server`.
        specified: false if it has its initial value.
    """

    effect: Effect = Effect.INK
    colour: Colour | None = None
    server: str = ""
    alpha: float = 1.0
    gradient: Gradient | None = None
    specified: bool = True

    @property
    def opacity(self) -> float:
        """The highest opacity in its area, 0 to 1."""
        return self.alpha * (max(stop.alpha for stop in self.gradient.stops) if self.gradient else 1.0)


INK = Paint()


class Stroke(NamedTuple):
    """The stroke of a path; lengths in the shape's user units (SVG 2 §13).

    Attributes:
        width: above 0.
        cap, join: keywords of `stroke-linecap` and `stroke-linejoin`.
        miter_limit: longest miter, in widths.
        dashes: lengths of dashes and gaps in turn, of even number; empty for a solid line.
        dash_offset: offset into the pattern at the start of the path.
        paint: paint of the stroke.
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
        fill: None if it is not filled.
        even_odd: fill rule evenodd; otherwise nonzero.
        stroke: None if it is not stroked.
        stroke_first: the fill is painted over the stroke.
        clips: clip paths and masks; all apply.
    """

    path: Path
    matrix: Matrix
    fill: Paint | None = INK
    even_odd: bool = False
    stroke: Stroke | None = None
    stroke_first: bool = False
    clips: tuple[Clip, ...] = ()

    @property
    def paints(self) -> list[Paint]:
        """The paints of its fill and its stroke."""
        return [paint for paint in (self.fill, self.stroke and self.stroke.paint) if paint is not None]


@dataclass(slots=True)
class Drawing:
    """An SVG file after reading.

    Attributes:
        box: the frame in user units; nothing shows outside it.
        shapes: in paint order.
        notes: warnings and notices from reading.
        title, description: of the root element.
        em: box that is placed on the em in place of the frame, which is larger; None for the frame.
    """

    box: Box
    shapes: list[Shape]
    notes: list[Diagnostic]
    title: str = ""
    description: str = ""
    em: Box | None = None

    @property
    def placed(self) -> Box:
        """The box that is placed on the em."""
        return self.em or self.box
