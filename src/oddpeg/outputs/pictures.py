"""Icons as small pictures: path data, for outputs that show the icon itself.

Knows: outlines, path data of SVG 2 §9.3. Does not know: who shows them.
"""

from __future__ import annotations

import base64
from collections.abc import Iterator, Mapping
from typing import NamedTuple

import numpy as np

from oddpeg.geometry.outlines import FlatOutlines
from oddpeg.geometry.path_data import path_data
from oddpeg.iconset.model import Catalogue, Icon, Picture
from oddpeg.outline.model import Outline
from oddpeg.outline.placement import Em


class Pictures(Mapping[str, Picture]):
    """Pictures by icon name; all are drawn at once, when the first is asked for."""

    def __init__(self, outlines: Mapping[str, Outline], em: Em) -> None:
        self._outlines = outlines
        self._em = em
        self._drawn: dict[str, _Drawn] = {}

    def __getitem__(self, name: str) -> Picture:
        if not self._drawn:
            self._drawn = dict(
                zip(self._outlines, paths(list(self._outlines.values()), self._em.ascender), strict=True)
            )
        path, ink = self._drawn[name]
        return Picture(2 * self._outlines[name].advance, 2 * self._em.units, path, ink)

    def __iter__(self) -> Iterator[str]:
        return iter(self._outlines)

    def __len__(self) -> int:
        return len(self._outlines)


class _Drawn(NamedTuple):
    """Path data and the box of its ink: left, top, right, bottom."""

    path: str
    ink: tuple[float, float, float, float]


def paths(outlines: list[Outline], ascender: int) -> list[_Drawn]:
    """Return outlines as path data, with the box of their ink, y down from the ascender, in halves of font units:
    points that TrueType leaves out lie on halves, and whole numbers are quickly written."""
    flat = FlatOutlines.join(outlines)
    segments = flat.flat().segments().straightened().mirrored().scaled(2, 2j * ascender)
    texts = path_data(segments, flat.owner, len(outlines), relative=True)
    first = np.searchsorted(flat.owner[segments.contour], np.arange(len(outlines)))
    edges = zip(_OUTERMOST, segments.bounds(), strict=True)
    boxes = zip(*(pick.reduceat(edge, first).tolist() for pick, edge in edges), strict=True)
    return [_Drawn(text, box) for text, box in zip(texts, boxes, strict=True)]


_OUTERMOST = (np.minimum, np.minimum, np.maximum, np.maximum)


def svg(catalogue: Catalogue, icon: Icon, attributes: str = "") -> str:
    """Return an icon as a whole SVG file, on one line."""
    picture = catalogue.pictures[icon.name]
    frame = f"0 0 {picture.width} {picture.height}"
    return f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="{frame}"{attributes}><path d="{picture.path}"/></svg>'


def data_uri(catalogue: Catalogue, icon: Icon, size: int, colour: str) -> str:
    """Return an icon as a data URI, `size` pixels high."""
    return (
        "data:image/svg+xml;base64,"
        + base64.b64encode(svg(catalogue, icon, f' height="{size}" fill="{colour}"').encode()).decode()
    )
