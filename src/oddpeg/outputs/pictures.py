"""Icons as small pictures: path data, for outputs that show the icon itself.

Knows: outlines, path data of SVG 2 §9.3. Does not know: who shows them.
"""

from __future__ import annotations

import base64
from collections.abc import Iterator, Mapping
from itertools import pairwise

import numpy as np

from oddpeg.iconset.model import Catalogue, Icon, Picture
from oddpeg.outline.model import Outline
from oddpeg.outline.placement import Em
from oddpeg.outline.rounding import reach, segments


class Pictures(Mapping[str, Picture]):
    """Pictures by icon name; all are drawn at once, when the first is asked for."""

    def __init__(self, outlines: Mapping[str, Outline], em: Em) -> None:
        self._outlines = outlines
        self._em = em
        self._drawn: dict[str, tuple[str, _Box]] = {}

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


_Box = tuple[float, float, float, float]


def paths(outlines: list[Outline], ascender: int) -> list[tuple[str, _Box]]:
    """Return outlines as path data, with the box of their ink, y down from the ascender, in halves of font units:
    points that TrueType leaves out lie on halves, and whole numbers are quickly written."""
    z = 2 * (np.concatenate([np.conj(o.z) for o in outlines]) + 1j * ascender)
    counts = [len(o.ends) for o in outlines]
    owner = np.repeat(np.arange(len(outlines)), counts)
    sizes = np.concatenate([np.diff(np.append(-1, o.ends)) for o in outlines])
    start, control, stop, contour = segments(
        z, np.concatenate([o.on for o in outlines]), np.repeat(np.arange(len(sizes)), sizes)
    )
    first = np.append(True, contour[1:] != contour[:-1]).tolist()
    straight = (control == (start + stop) / 2).tolist()
    numbers = (
        np.stack([start, control - start, stop - start], axis=1)
        .view(np.float64)
        .reshape(-1, 6)
        .astype(np.int64)
        .tolist()
    )
    pieces = [
        (f"zM{x} {y}" if new else "") + (f"l{bx} {by}" if line else f"q{cx} {cy} {bx} {by}")
        for new, line, (x, y, cx, cy, bx, by) in zip(first, straight, numbers, strict=True)
    ]
    bounds = np.searchsorted(owner[contour], np.arange(len(outlines) + 1)).tolist()
    boxes = zip(
        *(
            pick.reduceat(edge, bounds[:-1]).tolist()
            for pick, edge in zip(_OUTERMOST, reach(start, control, stop), strict=True)
        ),
        strict=True,
    )
    return [
        ("".join(pieces[low:high])[1:] + "z", box) for (low, high), box in zip(pairwise(bounds), boxes, strict=True)
    ]


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
