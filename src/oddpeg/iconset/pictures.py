"""Icons as small pictures: path data, for outputs that show the icon itself."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import NamedTuple

from oddpeg.geometry.outlines import FlatOutlines
from oddpeg.geometry.path_data import path_data
from oddpeg.iconset.model import Face
from oddpeg.outline.model import Outline


class Ink(NamedTuple):
    """The box of what is black, in ems from the upper left corner of the frame."""

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
            segments = flat.flat().segments().straightened().mirrored()
            placed = segments.scaled(self._scale, 1j * self._scale * self._ascender).rounded()
            yield from path_data(placed, flat.owner, len(flat.points), relative=True)


_BATCH = 1000  # outlines: numbers on their way to texts take much more room than either


def _batches(outlines: Mapping[str, Outline]) -> Iterator[FlatOutlines]:
    names = list(outlines)
    for low in range(0, len(names), _BATCH):
        yield FlatOutlines.join([outlines[name] for name in names[low : low + _BATCH]])


def ink_boxes(face: Face) -> dict[str, Ink]:
    """Return the box of what is black in each icon of a face."""
    boxes: list[Ink] = []
    units, ascender = face.em.units, face.em.ascender
    for flat in _batches(face.outlines):
        for left, bottom, right, top in flat.bounds().tolist():
            boxes.append(Ink(left / units, (ascender - top) / units, right / units, (ascender - bottom) / units))
    return dict(zip(face.outlines, boxes, strict=True))
