"""Icons as small pictures: path data, for outputs that show the icon itself."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import NamedTuple

from oddpeg.font.write.palettes import Palettes
from oddpeg.geometry.outlines import FlatOutlines
from oddpeg.geometry.path_data import path_data
from oddpeg.iconset.faces import Face
from oddpeg.outline.model import Outline
from oddpeg.svg.model import Colour


class Ink(NamedTuple):
    """An ink box, in ems from the upper left corner of the frame."""

    left: float
    top: float
    right: float
    bottom: float


class Picture(NamedTuple):
    """An icon as a path.

    Attributes:
        width, height: of its frame.
        path: SVG path data in the same units, y down, the frame's upper left corner at the origin.
    """

    width: int
    height: int
    path: str


class LayerPicture(NamedTuple):
    """One layer of an icon in colours.

    Attributes:
        entry: the name of its palette entry, empty where it has none.
        colour: that it is filled with, the mean one of a gradient; None for the colour of the text.
        alpha: 0 to 1.
        path: as in a picture.
    """

    entry: str
    colour: Colour | None
    alpha: float
    path: str


def layer_pictures(face: Face | None, palettes: Palettes | None) -> dict[str, tuple[LayerPicture, ...]]:
    """Return the layers of each icon of a face that has some, from the ground up, in halves of font units."""
    if face is None or palettes is None or not face.layers:
        return {}
    names = {entry.colours[0]: entry.name for entry in palettes.entries}
    layers = [layer for those in face.layers.values() for layer in those]
    paths: list[str] = []
    for low in range(0, len(layers), _BATCH):
        flat = FlatOutlines.join([layer.outline for layer in layers[low : low + _BATCH]])
        paths += _paths(flat, 2.0, face.em.ascender)
    pictures = []
    for layer, path in zip(layers, paths, strict=True):
        fill = layer.fill.flattened()
        pictures.append(LayerPicture(names.get(fill.colour, "") if fill.colour else "", fill.colour, fill.alpha, path))
    rest = iter(pictures)
    return {name: tuple(next(rest) for _ in those) for name, those in face.layers.items()}


def _paths(flat: FlatOutlines, scale: float, ascender: int) -> Iterator[str]:
    """Yield path data of each outline in steps of `scale` to a unit, y down from the ascender."""
    segments = flat.flat().segments().straightened().mirrored()
    placed = segments.scaled(scale, 1j * scale * ascender).rounded()
    yield from path_data(placed, flat.owner, len(flat.points), relative=True)


THUMBNAIL = 192  # steps to the em: a quarter of a pixel where an icon is 48 pixels high


class Pictures(Mapping[str, Picture]):
    """Pictures of a face by icon name; all are drawn at once, when the first is asked for.

    They are as exact as the outlines, in halves of font units: points that TrueType leaves out lie on halves, and whole
    numbers are quickly written. steps: into which the em is divided instead, for less detail.
    """

    def __init__(self, face: Face | None, steps: int | None = None) -> None:
        self._outlines: Mapping[str, Outline] = face.outlines if face else {}
        self._ascender = face.em.ascender if face else 0
        self._units = face.em.units if face else 0
        self._scale = steps / self._units if steps and face else 2.0
        self._paths: dict[str, str] = {}

    def __getitem__(self, name: str) -> Picture:
        if name not in self._outlines:
            raise KeyError(name)
        if not self._paths:
            self._paths = dict(zip(self._outlines, self._drawn(), strict=True))
        width, height = (round(self._scale * length) for length in (self._outlines[name].advance, self._units))
        return Picture(width, height, self._paths[name])

    def __iter__(self) -> Iterator[str]:
        return iter(self._outlines)

    def __len__(self) -> int:
        return len(self._outlines)

    def _drawn(self) -> Iterator[str]:
        """Yield path data in whole steps, y down from the ascender."""
        for flat in _batches(self._outlines):
            yield from _paths(flat, self._scale, self._ascender)


_BATCH = 1000  # outlines: numbers on their way to texts take much more room than either


def _batches(outlines: Mapping[str, Outline]) -> Iterator[FlatOutlines]:
    names = list(outlines)
    for low in range(0, len(names), _BATCH):
        yield FlatOutlines.join([outlines[name] for name in names[low : low + _BATCH]])


def ink_boxes(face: Face) -> dict[str, Ink]:
    """Return the ink box of each icon of a face."""
    boxes: list[Ink] = []
    units, ascender = face.em.units, face.em.ascender
    for flat in _batches(face.outlines):
        for left, bottom, right, top in flat.bounds().tolist():
            boxes.append(Ink(left / units, (ascender - top) / units, right / units, (ascender - bottom) / units))
    return dict(zip(face.outlines, boxes, strict=True))
