"""Pictures in colours to compare: a drawing painted shape by shape, a glyph painted from the layers in its font.

Both are painted on white, the colour of the text being one that no drawing is likely to have.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from oddpeg.geometry.boxes import Box
from oddpeg.geometry.matrix import Matrix
from oddpeg.raster.coverage import SAMPLES, Differences, Views, differences, frame_samples, shapes_ink, shrunk
from oddpeg.raster.paints import LinearGradient, Painting, RadialGradient, Ramp, RampStop, Rgba, Solid, unmapped
from oddpeg.raster.winding import Mask, Points, winding
from oddpeg.svg.layers import Fill, paint_layers, pieces_of
from oddpeg.svg.model import Colour, Drawing

TEXT_COLOUR: Rgba = (0.04, 0.49, 0.35, 1.0)
_CHANNEL = 0.25  # how far a channel may be off in a pixel that is not wrong

Picture = NDArray[np.float64]  # (height, width, 3), 0 to 1


class Viewport(NamedTuple):
    """The part of a drawing and its glyph that is rendered, and its size.

    Attributes:
        px: pixels of the em.
        width: pixels.
        drop: share of the em below the baseline.
        window: part of the drawing that is px high, in user units.
        shift: shift of the drawing to the right, in ems.
    """

    px: int
    width: int
    drop: float
    window: Box
    shift: float = 0.0

    @property
    def drawing(self) -> Matrix:
        """User units → samples."""
        x, y, _, height = self.window
        scale = self.px * SAMPLES / height
        return Matrix(scale, 0, 0, scale, self.shift * self.px * SAMPLES - x * scale, -y * scale)

    @property
    def em(self) -> Matrix:
        """Ems, y up → samples."""
        size = self.px * SAMPLES
        return Matrix(size, 0, 0, -size, 0, (1 - self.drop) * size)


class PaintedLayer(NamedTuple):
    """A colour layer of a glyph, read from its font, in ems, y up.

    Attributes:
        start, end: (n,) of its straightened edges.
        paint: its paint.
    """

    start: Points
    end: Points
    paint: Painting


class _Area(NamedTuple):
    """A painted area and its paint, in a plane that a matrix maps to samples."""

    ink: Mask
    paint: Painting


def compare_colours(
    drawing: Drawing, layers: Sequence[PaintedLayer], viewport: Viewport, gradients: bool
) -> dict[str, Differences]:
    """Return how far a glyph is from its drawing: each layer's ink by "layer N", and the whole picture by "colours";
    nothing where neither has colours. gradients: the font has them; else their mean colours."""
    wanted = paint_layers(drawing, gradients)
    if not wanted and not layers:
        return {}
    frame = frame_samples(drawing.box, viewport.drawing, viewport.width, viewport.px)
    drawn = [shapes_ink(layer.shapes, viewport.drawing, viewport.width, viewport.px) & frame for layer in wanted]
    made = [_Area(_layer_ink(layer, viewport), layer.paint) for layer in layers]
    by_layer = {}
    outlined = [ink for ink in drawn if ink.any()]
    inked = [area.ink for area in made if area.ink.any()]
    for number, (from_outline, other) in enumerate(zip(outlined, inked, strict=False), 1):
        by_layer[f"layer {number}"] = differences(Views(shrunk(from_outline), shrunk(other)))
    if len(outlined) != len(inked):
        by_layer["number of layers"] = Differences(1.0, 1.0)
    pieces = (piece for shape in drawing.shapes for piece in pieces_of(shape, gradients))
    at = (viewport.drawing, viewport.width, viewport.px)
    parts = (_Area(shapes_ink([p.shape], *at) & frame, painting(p.fill)) for p in pieces)
    by_layer["colours"] = _apart(_painted(parts, viewport.drawing, viewport), _painted(made, viewport.em, viewport))
    return by_layer


def painting(fill: Fill) -> Painting:
    """Return the painting of a fill, in user units of its drawing."""
    if fill.gradient is None:
        colour = TEXT_COLOUR if fill.colour is None else _rgba(fill.colour)
        return Solid((*colour[:3], fill.alpha))
    gradient, m = fill.gradient, fill.matrix
    stops = ((s, TEXT_COLOUR if s.colour is None else _rgba(s.colour)) for s in gradient.stops)
    ramp = Ramp(tuple(RampStop(s.offset, (*c[:3], s.alpha * fill.alpha)) for s, c in stops), gradient.spread)
    if gradient.radial:
        fx, fy, fr, cx, cy, r = gradient.points
        return RadialGradient(ramp, complex(fx, fy), fr, complex(cx, cy), r, m)
    x1, y1, x2, y2 = gradient.points
    way = complex(x2 - x1, y2 - y1)
    # how far along it three points of the drawing are: the rest of the plane follows from them
    places = unmapped(m, np.array([0, 1, 1j])) - complex(x1, y1)
    values = (places * np.conj(way)).real / abs(way) ** 2
    slope = complex(values[1] - values[0], values[2] - values[0])
    return LinearGradient(ramp, -values[0] * slope / abs(slope) ** 2, slope)


def _rgba(colour: Colour) -> Rgba:
    return colour.red / 255, colour.green / 255, colour.blue / 255, colour.alpha


def _layer_ink(layer: PaintedLayer, viewport: Viewport) -> Mask:
    m = viewport.em
    start, end = (z.real * m.a + m.e + 1j * (z.imag * m.d + m.f) for z in (layer.start, layer.end))
    inked: Mask = winding(start, end, viewport.width * SAMPLES, viewport.px * SAMPLES) != 0
    return inked


def _painted(areas: Iterable[_Area], plane: Matrix, viewport: Viewport) -> Picture:
    """Return areas painted over each other. plane: that of their paints → samples."""
    canvas = np.ones((viewport.px * SAMPLES, viewport.width * SAMPLES, 3))
    for area in areas:
        paint_over(canvas, area.ink, area.paint, plane)
    result: Picture = canvas.reshape(viewport.px, SAMPLES, viewport.width, SAMPLES, 3).mean(axis=(1, 3))
    return result


def paint_over(canvas: Picture, ink: Mask, paint: Painting, plane: Matrix) -> None:
    """Write a paint over a picture where there is ink. plane: that of the paint → pixels."""
    rows, columns = np.nonzero(ink)
    colour = paint.at(unmapped(plane, columns + 0.5 + 1j * (rows + 0.5)))
    alpha = colour[:, 3:]
    canvas[rows, columns] = colour[:, :3] * alpha + canvas[rows, columns] * (1 - alpha)


def _apart(drawn: Picture, other: Picture) -> Differences:
    """Return the difference of two pictures, as shares of the area that is not white in either."""
    gap = np.abs(drawn - other).max(axis=2)
    ink = max(1, int((np.minimum(drawn, other).min(axis=2) < 1).sum()))
    return Differences(float((gap > _CHANNEL).sum() / ink), float(gap.sum() / ink))
