"""Icons as small pictures: path data, for outputs that show the icon itself."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import NamedTuple

import numpy as np

from oddpeg.geometry.outlines import FlatOutlines
from oddpeg.geometry.path_data import path_data
from oddpeg.iconset.model import Face
from oddpeg.outline.model import Outline


class Ink(NamedTuple):
    """The box of what is black."""

    left: float
    top: float
    right: float
    bottom: float


class Picture(NamedTuple):
    """An icon as a path.

    Attributes:
        width, height: of its frame.
        path: SVG path data in the same units, y down, the frame's upper left corner at the origin.
        ink: the box of what is black.
    """

    width: int
    height: int
    path: str
    ink: Ink


class _Path(NamedTuple):
    data: str
    ink: Ink


class Pictures(Mapping[str, Picture]):
    """Pictures of a face by icon name, in halves of font units; all are drawn at once, when the first is asked for."""

    def __init__(self, face: Face | None) -> None:
        self._outlines: Mapping[str, Outline] = face.outlines if face else {}
        self._ascender = face.em.ascender if face else 0
        self._units = face.em.units if face else 0
        self._paths: dict[str, _Path] = {}

    def __getitem__(self, name: str) -> Picture:
        if name not in self._outlines:
            raise KeyError(name)
        if not self._paths:
            drawn = _paths(list(self._outlines.values()), self._ascender)
            self._paths = dict(zip(self._outlines, drawn, strict=True))
        data, ink = self._paths[name]
        return Picture(2 * self._outlines[name].advance, 2 * self._units, data, ink)

    def __iter__(self) -> Iterator[str]:
        return iter(self._outlines)

    def __len__(self) -> int:
        return len(self._outlines)


_OUTERMOST = (np.minimum, np.minimum, np.maximum, np.maximum)


def _paths(outlines: list[Outline], ascender: int) -> list[_Path]:
    """Return outlines as path data, with the box of their ink, y down from the ascender, in halves of font units:
    points that TrueType leaves out lie on halves, and whole numbers are quickly written."""
    flat = FlatOutlines.join(outlines)
    segments = flat.flat().segments().straightened().mirrored().scaled(2, 2j * ascender)
    texts = path_data(segments, flat.owner, len(outlines), relative=True)
    first = np.searchsorted(flat.owner[segments.contour], np.arange(len(outlines)))
    edges = zip(_OUTERMOST, segments.bounds(), strict=True)
    boxes = zip(*(pick.reduceat(edge, first).tolist() for pick, edge in edges), strict=True)
    return [_Path(text, Ink(*box)) for text, box in zip(texts, boxes, strict=True)]
