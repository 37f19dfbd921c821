"""Pictures to compare: a drawing painted from its shapes, a glyph rendered from the finished font.

Coverage arrays are (height, width), 0 to 1.
"""

from __future__ import annotations

import io
from collections.abc import Sequence
from typing import TYPE_CHECKING, NamedTuple

import numpy as np
from numpy.typing import NDArray

from oddpeg.geometry.boxes import Box
from oddpeg.geometry.matrix import Matrix
from oddpeg.raster.strokes import stroke_pieces
from oddpeg.raster.winding import Mask, Points, along, winding
from oddpeg.svg.layers import inked_shapes
from oddpeg.svg.model import Clip, Drawing, Effect, Paint, Shape

if TYPE_CHECKING:
    from PIL.ImageFont import FreeTypeFont

Coverage = NDArray[np.float64]
SAMPLES = 4  # per pixel and direction


class _Canvas:
    def __init__(self, matrix: Matrix, width: int, height: int) -> None:
        self.matrix, self.width, self.height = matrix, width, height

    def wound(self, start: Points, end: Points, matrix: Matrix) -> NDArray[np.int32]:
        m = self.matrix.compose(matrix)
        turn, flip = ((m.a + m.d) + 1j * (m.b - m.c)) / 2, ((m.a - m.d) + 1j * (m.b + m.c)) / 2
        a, b = (turn * z + flip * np.conj(z) + complex(m.e, m.f) for z in (start, end))
        return winding(a, b, self.width, self.height)

    def filled(self, shape: Shape) -> Mask:
        path = shape.path
        if not path.starts:  # an empty clip
            return np.zeros((self.height, self.width), dtype=bool)
        coords = np.array(path.coords, dtype=np.float64).view(np.complex128).reshape(-1, 4)
        z = along(coords, np.linspace(0, 1, 49))
        first = np.array(path.starts, dtype=np.intp)
        last = np.append(first[1:], len(coords)) - 1
        start = np.concatenate([z[:, :-1].ravel(), coords[last, 3]])  # open subpaths close by themselves
        end = np.concatenate([z[:, 1:].ravel(), coords[first, 0]])
        turns = self.wound(start, end, shape.matrix)
        result: Mask = turns % 2 != 0 if shape.even_odd else turns != 0
        return result

    def inside(self, clips: tuple[Clip, ...]) -> Mask | None:
        """Return where every clip lets something show, or None where there is no clip."""
        mask: Mask | None = None
        for clip in clips:
            shown = self.painted(clip.shapes)
            mask = shown if mask is None else mask & shown
        return mask

    def painted(self, shapes: Sequence[Shape]) -> Mask:
        """Return where shapes, painted in order, leave ink."""
        ink = np.zeros((self.height, self.width), dtype=bool)
        for shape in shapes:
            limit = self.inside(shape.clips)
            layers: list[tuple[Paint, Mask]] = []
            if shape.fill is not None:
                layers.append((shape.fill, self.filled(shape)))
            if shape.stroke is not None:
                turns = self.wound(*stroke_pieces(shape.path, shape.stroke), shape.matrix)
                layers.append((shape.stroke.paint, turns != 0))
            for paint, area in reversed(layers) if shape.stroke_first else layers:
                mask = area if limit is None else area & limit
                ink = ink & ~mask if paint.effect is Effect.WHITE else ink | mask
        return ink


def shapes_ink(shapes: Sequence[Shape], matrix: Matrix, width: int, height: int) -> Mask:
    """Return where shapes, painted in order, leave ink: (height, width) pixels of `SAMPLES` samples in each direction.
    matrix: drawing units → samples."""
    return _Canvas(matrix, width * SAMPLES, height * SAMPLES).painted(shapes)


def drawing_coverage(
    drawing: Drawing,
    px: int,
    width: int,
    shift: tuple[float, float] = (0.0, 0.0),
    window: Box | None = None,
    margin: int = 0,
) -> Coverage:
    """Return a drawing's coverage (px, width), empty outside of its frame.

    shift: pixels right and down; window: part of the drawing that is px high, in user units; None for what is placed on
    the em; margin: pixels on each side.
    """
    x, y, _, height = window or drawing.placed
    scale = px * SAMPLES / height
    right, down = ((value + margin) * SAMPLES for value in shift)
    matrix = Matrix(scale, 0, 0, scale, -x * scale + right, -y * scale + down)
    size = width + 2 * margin, px + 2 * margin
    ink = shapes_ink(inked_shapes(drawing), matrix, *size) & frame_samples(drawing.box, matrix, *size)
    return shrunk(ink)


def frame_samples(frame: Box, matrix: Matrix, width: int, height: int) -> Mask:
    """Return the samples of (height, width) pixels that lie in a frame. matrix: its units → samples, without a turn."""
    columns = (np.arange(width * SAMPLES) + 0.5 - matrix.e) / matrix.a - frame.x
    rows = (np.arange(height * SAMPLES) + 0.5 - matrix.f) / matrix.d - frame.y
    across, down = (columns >= 0) & (columns <= frame.width), (rows >= 0) & (rows <= frame.height)
    inside: Mask = across[None, :] & down[:, None]
    return inside


def shrunk(ink: Mask | Coverage, samples: int = SAMPLES) -> Coverage:
    """Return the coverage of pixels from the ink in samples, so many per pixel and direction."""
    # sums of slices: several times as fast as a mean over two axes
    counted = np.uint16 if ink.dtype == np.bool_ else np.float64
    rows = np.zeros((ink.shape[0] // samples, ink.shape[1]), dtype=counted)
    total = np.zeros((ink.shape[0] // samples, ink.shape[1] // samples), dtype=counted)
    for row in range(samples):
        rows += ink[row::samples]
    for column in range(samples):
        total += rows[:, column::samples]
    result: Coverage = total / samples**2
    return result


def load_font(data: bytes, px: int, weight: int | None = None) -> FreeTypeFont:
    """Return a font file's bytes as a font of px pixels to the em. weight: that a variable one shows."""
    from PIL import ImageFont

    font = ImageFont.truetype(io.BytesIO(data), px, layout_engine=ImageFont.Layout.BASIC)
    if weight is not None:
        font.set_variation_by_axes([weight])
    return font


def glyph_coverage(font: FreeTypeFont, codepoint: int, px: int, width: int, baseline: int, margin: int = 0) -> Coverage:
    """Return a glyph's coverage (px, width), its baseline `baseline` pixels below the top. margin: pixels on each
    side."""
    from PIL import Image, ImageDraw

    image = Image.new("L", (width + 2 * margin, px + 2 * margin), 0)
    ImageDraw.Draw(image).text((margin, baseline + margin), chr(codepoint), font=font, fill=255, anchor="ls")
    result: Coverage = np.asarray(image, dtype=np.float64) / 255
    return result


class Views(NamedTuple):
    """The rendered drawing and glyph."""

    drawing: Coverage
    glyph: Coverage


class Differences(NamedTuple):
    """How far two pictures are apart, as shares of the ink.

    Attributes:
        wrong: pixels that differ by more than half.
        soft: summed difference.
    """

    wrong: float
    soft: float


def differences(views: Views) -> Differences:
    """Return how far a glyph is from its drawing."""
    wanted, got = views
    gap = np.abs(wanted - got)
    ink = max(1, int((np.maximum(wanted, got) > 0.5).sum()))
    return Differences(float((gap > 0.5).sum() / ink), float(gap.sum() / ink))
