"""Icons as small pictures: path data in font units, for outputs that show the icon itself.

Knows: outlines, path data of SVG 2 §9.3. Does not know: who shows them.
"""

from __future__ import annotations

import base64
from collections.abc import Iterator, Mapping

import numpy as np

from oddpeg.outline.frame import Em
from oddpeg.outline.model import Outline
from oddpeg.outline.tidy import segments
from oddpeg.outputs.catalogue import Catalogue, Icon, Picture


class Pictures(Mapping[str, Picture]):
    """Pictures by icon name, drawn when they are asked for."""

    def __init__(self, outlines: Mapping[str, Outline], em: Em) -> None:
        self._outlines = outlines
        self._em = em
        self._drawn: dict[str, Picture] = {}

    def __getitem__(self, name: str) -> Picture:
        if name not in self._drawn:
            outline = self._outlines[name]
            self._drawn[name] = Picture(outline.advance, path_data(outline, self._em.ascender))
        return self._drawn[name]

    def __iter__(self) -> Iterator[str]:
        return iter(self._outlines)

    def __len__(self) -> int:
        return len(self._outlines)


def path_data(outline: Outline, ascender: int) -> str:
    """Return an outline as path data, y down from the ascender."""
    z, on, contour = np.conj(outline.z) + 1j * ascender, outline.on, outline.contour
    start, control, stop, number = segments(z, on, contour)
    straight = (control == (start + stop) / 2).tolist()
    rows = np.stack([start, control, stop], axis=1).view(np.float64).reshape(-1, 6)
    parts: list[str] = []
    last = -1
    for (ax, ay, cx, cy, bx, by), line, n in zip(rows.tolist(), straight, number.tolist(), strict=True):
        if n != last:
            parts.append(f"{'z' if last >= 0 else ''}M{ax:g} {ay:g}")
            last = n
        parts.append(f"L{bx:g} {by:g}" if line else f"Q{cx:g} {cy:g} {bx:g} {by:g}")
    return "".join(parts) + "z"


def svg(catalogue: Catalogue, icon: Icon, attributes: str = "") -> str:
    """Return an icon as a whole SVG file, on one line."""
    picture = catalogue.pictures[icon.name]
    frame = f"0 0 {picture.width} {catalogue.units_per_em}"
    return f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="{frame}"{attributes}><path d="{picture.path}"/></svg>'


def data_uri(catalogue: Catalogue, icon: Icon, size: int, colour: str) -> str:
    """Return an icon as a data URI, `size` pixels high."""
    return "data:image/svg+xml;base64," + base64.b64encode(svg(catalogue, icon, f' height="{size}" fill="{colour}"').encode()).decode()
