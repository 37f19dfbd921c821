"""The second opinion: drawings rendered by a program that shares no code with Odd Peg."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from lxml import etree

from oddpeg.diagnostics import DrawingError
from oddpeg.geometry.boxes import Box
from oddpeg.proof.renderers import Rendering, render
from oddpeg.proof.report import Witness
from oddpeg.raster.coverage import Coverage, shrunk
from oddpeg.svg.document import SVG, XLINK_HREF, local_name, parse_document

_SAMPLES = 2  # per pixel and direction
_SAMPLES_OF_FAINT = 4  # where any part of a sample makes ink
_LARGEST = 16_000_000  # samples of one picture; beyond it the witness is not asked
_WHITE = 254 / 255  # beyond it, the least channel of a colour is white's
_FAINT = 8 / 255  # alpha that counts as ink where translucent paint does
_SOLID = 250 / 255  # alpha that counts as ink where translucent paint does not
_FOREIGN = frozenset(("image", "feImage", "foreignObject", "script", "iframe", "video", "audio", "canvas"))


class WitnessView(NamedTuple):
    """A drawing for the witness to render, and its place in the picture.

    Attributes:
        drawing: bytes of the SVG file.
        frame: of the drawing, in user units.
        left, top, scale: place of the frame in the picture, in pixels, and pixels per user unit.
        width, height: of the picture, in pixels.
        translucent: whether translucent paint counts as ink; None where the drawing has none.
    """

    drawing: bytes
    frame: Box
    left: float
    top: float
    scale: float
    width: int
    height: int
    translucent: bool | None

    @property
    def samples(self) -> int:
        """Samples per pixel and direction."""
        return _SAMPLES if self.translucent is None else _SAMPLES_OF_FAINT

    @property
    def size(self) -> tuple[int, int]:
        """Width and height of the frame in samples."""
        wide, high = (side * self.scale * self.samples for side in self.frame[2:])
        return max(1, round(wide)), max(1, round(high))


def witness_coverages(witness: Witness, views: Sequence[WitnessView]) -> list[Coverage | None]:
    """Return the coverage (height, width) of each drawing, as the witness renders it; None where it renders none."""
    files = [_closed_file(view) for view in views]
    renderable = [number for number, data in enumerate(files) if data is not None]
    renderings = render(witness, [Rendering(files[n] or b"", *views[n].size, views[n].frame[2:]) for n in renderable])
    coverages: list[Coverage | None] = [None] * len(views)
    for number, pixels in zip(renderable, renderings, strict=True):
        if pixels is not None:
            coverages[number] = _placed(views[number], _ink(pixels / 255, views[number].translucent))
    return coverages


def _closed_file(view: WitnessView) -> bytes | None:
    """Return a drawing as a file that has the size of its picture and refers to no other file; None where that is
    too large, or it is no SVG file."""
    width, height = view.size
    if width * height > _LARGEST:
        return None
    try:
        root = parse_document(view.drawing)
    except DrawingError:
        return None
    for element in list(root.iter(etree.Element)):
        for name in ("href", XLINK_HREF):
            if not (element.get(name) or "#").strip().startswith("#"):
                del element.attrib[name]
        parent = element.getparent()
        if local_name(element) in _FOREIGN and parent is not None:
            parent.remove(element)
    root.set("viewBox", " ".join(map(repr, view.frame)))
    root.set("width", str(width))  # in whole pixels, since renderers keep the proportion
    root.set("height", str(height))
    root.set("preserveAspectRatio", "none")
    data = etree.tostring(root)
    # other programs draw nothing without the namespace
    return data if root.tag.startswith("{") else data.replace(b"<svg", f'<svg xmlns="{SVG}"'.encode(), 1)


def _ink(pixels: Coverage, translucent: bool | None) -> Coverage:
    """Return the ink in a picture (height, width, 4), 0 to 1: white erases, unless everything is white."""
    alpha, lightest = pixels[..., 3], pixels[..., :3].min(axis=2)
    white = (lightest > _WHITE) & (alpha > 0)
    ink = alpha * _share(np.where(alpha > 0, lightest, 1.0)) if white.any() else alpha
    if not (ink > 0.5).any():
        ink = alpha
    if translucent is None:
        return ink
    return np.where(ink >= (_FAINT if translucent else _SOLID), 1.0, 0.0)


def _share(lightest: Coverage) -> Coverage:
    """Return the share of ink in samples (height, width). lightest: the least channel of each; where ink meets white,
    that of a mixture of both."""
    padded = np.pad(lightest, 1, constant_values=1.0)
    around = np.lib.stride_tricks.sliding_window_view(padded, (3, 3)).reshape(*lightest.shape, 9)
    mixed = (1 - lightest) / np.maximum(1 - around.min(axis=2), 1 / 255)
    share: Coverage = np.where(around.max(axis=2) > _WHITE, mixed, 1.0)
    return np.where(lightest > _WHITE, 0.0, share)


def _placed(view: WitnessView, ink: Coverage) -> Coverage:
    """Return the coverage of a view's picture. ink: of its frame, by sample."""
    samples = view.samples
    canvas = np.zeros((view.height * samples, view.width * samples))
    left, top = round(view.left * samples), round(view.top * samples)
    cut = ink[max(0, -top) :, max(0, -left) :]
    target = canvas[max(0, top) :, max(0, left) :]
    high, wide = min(cut.shape[0], target.shape[0]), min(cut.shape[1], target.shape[1])
    target[:high, :wide] = cut[:high, :wide]
    return shrunk(canvas, samples)
