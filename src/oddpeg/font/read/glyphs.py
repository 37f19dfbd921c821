"""Existing fonts read with fontTools: glyph names, codepoints, metrics and shapes. Nothing is written with it."""

from __future__ import annotations

import io
import re
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from types import MappingProxyType
from typing import TYPE_CHECKING, Annotated, Any, NamedTuple

import numpy as np

from oddpeg.font.read.alternates import alternates
from oddpeg.font.read.limits import refuse_bombs, refuse_large_composites, refuse_large_maps
from oddpeg.font.write.axes import REGULAR
from oddpeg.isolation import within_budget
from oddpeg.outline.placement import Em
from oddpeg.raster.straight_glyph import StraightGlyph
from oddpeg.raster.winding import Points
from oddpeg.reports import Key

if TYPE_CHECKING:
    from fontTools.ttLib import TTFont

_UNNAMED = re.compile(r"(?:uni|u)[0-9A-F]{4,6}(?:\..*)?|glyph\d+|g\d+|\.notdef", re.I)
_PIECES = 8  # straight pieces of one curve
_NAMES = {1: "family", 5: "version", 0: "copyright", 13: "licence", 14: "licence_url", 9: "designer"}


class ForeignGlyph(NamedTuple):
    """A glyph that a font shows for a codepoint."""

    codepoint: Annotated[int, Key("codepoint")]
    name: Annotated[str, Key("glyph name, empty where the font has none")]


class ForeignFont(NamedTuple):
    """The contents of a font file.

    Attributes:
        named: the file has glyph names.
        glyphs: in order of codepoints.
        facts: names and metrics, by label.
        shapes: by codepoint.
        weight: OS/2 usWeightClass.
        alternates: shapes by codepoint that take the place of others, by the part of the design space.
    """

    named: bool
    glyphs: list[ForeignGlyph]
    facts: dict[str, str]
    shapes: dict[int, StraightGlyph]
    weight: int = 400
    alternates: Mapping[str, dict[int, StraightGlyph]] = MappingProxyType({})


@contextmanager
def opened(data: bytes, lazy: bool, number: int = -1) -> Iterator[TTFont]:
    """Open a font; raise ValueError if it is damaged or not a font. number: of the font in a collection; without it a
    collection is an error.
    """
    import logging

    from fontTools.ttLib import TTFont

    logging.getLogger("fontTools").setLevel(logging.CRITICAL)  # what is wrong with a font is for us to say
    if number < 0:
        refuse_bombs(data)
    try:
        with within_budget(), TTFont(io.BytesIO(data), lazy=lazy, fontNumber=max(number, 0)) as font:
            if "cmap" in font.reader:
                refuse_large_maps(font.reader["cmap"])
            yield font
    except Exception as problem:  # damaged fonts end in errors of every kind, some of them without a text
        why = " ".join(str(problem).split())[:200] or type(problem).__name__
        raise ValueError(f"it is no sound font ({why})") from None


def is_font(data: bytes) -> bool:
    """Return whether bytes begin as a font file does."""
    return data[:4] in (b"\x00\x01\x00\x00", b"OTTO", b"true", b"wOFF", b"wOF2")


def codepoints(data: bytes) -> set[int]:
    """Return the codepoints that a font file has glyphs for; raise ValueError for other files."""
    with opened(data, lazy=True) as font:
        return set(font.getBestCmap() or {})


def _is_space(code: int) -> bool:
    """Return whether a codepoint is a space or a control character, which are no icons."""
    return code <= 0x20 or chr(code).isspace()


def fixed_codepoints(data: bytes) -> set[int]:
    """Return the codepoints of a variable font whose glyphs do not vary; raise ValueError for other files."""
    with opened(data, lazy=True) as font:
        variations = font["gvar"].variations if "gvar" in font else {}
        return {code for code, name in (font.getBestCmap() or {}).items() if not variations.get(name)}


def glyph_names(data: bytes) -> list[ForeignGlyph]:
    """Return every glyph beyond the space that has a codepoint; raise ValueError where the bytes are no font."""
    with opened(data, lazy=True) as font:
        table = font.getBestCmap() or {}
    return [ForeignGlyph(code, "" if _UNNAMED.fullmatch(n) else n) for code, n in table.items() if not _is_space(code)]


def read_font(data: bytes) -> ForeignFont:
    """Return the contents of a font file; raise ValueError for other files."""
    with opened(data, lazy=False) as font:
        cmap = {code: name for code, name in (font.getBestCmap() or {}).items() if not _is_space(code)}
        others = {
            label: {code: swapped[name] for code, name in cmap.items() if name in swapped}
            for label, swapped in alternates(font).items()
        }
        refuse_large_composites(font, [*cmap.values(), *(name for names in others.values() for name in names.values())])
        units, metrics = font["head"].unitsPerEm, font["hmtx"].metrics
        glyphs = font.getGlyphSet(location={"wght": REGULAR} if "fvar" in font else None)
        names, hhea = font["name"], font["hhea"]
        facts = {what: str(names.getDebugName(key) or "") for key, what in _NAMES.items()}
        facts["units_per_em"] = str(units)
        facts |= {"ascender": f"{hhea.ascent / units:.3f} em", "descender": f"{hhea.descent / units:.3f} em"}
        return ForeignFont(
            named=font["post"].formatType == 2.0 or "CFF " in font,
            glyphs=[ForeignGlyph(code, name) for code, name in cmap.items()],
            facts=facts,
            shapes={code: _shape(glyphs, name, metrics[name][0], units) for code, name in cmap.items()},
            weight=_weight(font),
            alternates={
                label: {code: _shape(glyphs, name, metrics[name][0], units) for code, name in names.items()}
                for label, names in others.items()
            },
        )


def read_em(data: bytes) -> Em:
    """Return the em of a font, by its line; raise ValueError for other files."""
    with opened(data, lazy=True) as font:
        units = font["head"].unitsPerEm
        return Em(units, -font["hhea"].descent / units)


def _weight(font: TTFont) -> int:
    """Return the weight of a font; of a variable one that nearest to Regular."""
    for axis in font["fvar"].axes if "fvar" in font else ():
        if axis.axisTag == "wght":
            return int(min(max(REGULAR, axis.minValue), axis.maxValue))
    return int(font["OS/2"].usWeightClass) if "OS/2" in font else REGULAR


def glyph_edges(font: TTFont, name: str) -> tuple[Points, Points]:
    """Return the ends (n,) of a glyph's straightened edges in ems, y up. font: opened, not lazily."""
    refuse_large_composites(font, [name])
    return _edges(font.getGlyphSet(), name, font["head"].unitsPerEm)


def _shape(glyphs: Any, name: str, advance: int, units: int) -> StraightGlyph:
    return StraightGlyph(*_edges(glyphs, name, units), advance / units)


def _edges(glyphs: Any, name: str, units: int) -> tuple[Points, Points]:
    from fontTools.pens.basePen import BasePen

    class EdgePen(BasePen):  # type: ignore[misc]  # fontTools has no types
        """A pen that collects straight edges; its method names are those of the pen protocol."""

        def __init__(self) -> None:
            super().__init__(glyphs)
            self.start: list[complex] = []
            self.end: list[complex] = []
            self.first = self.at = 0j

        def _moveTo(self, p: tuple[float, float]) -> None:  # noqa: N802
            self.first = self.at = complex(*p)

        def _lineTo(self, p: tuple[float, float]) -> None:  # noqa: N802
            self.start.append(self.at)
            self.at = complex(*p)
            self.end.append(self.at)

        def _curveToOne(self, *points: tuple[float, float]) -> None:  # noqa: N802
            a, b, c, d = self.at, *(complex(*p) for p in points)
            for k in range(1, _PIECES + 1):
                t = k / _PIECES
                z = (1 - t) ** 3 * a + 3 * t * (1 - t) ** 2 * b + 3 * t * t * (1 - t) * c + t**3 * d
                self._lineTo((z.real, z.imag))

        def _closePath(self) -> None:  # noqa: N802
            if self.at != self.first:
                self._lineTo((self.first.real, self.first.imag))

        _endPath = _closePath  # noqa: N815

    pen = EdgePen()
    glyphs[name].draw(pen)
    start, end = (np.array(side, dtype=np.complex128) / units for side in (pen.start, pen.end))
    return start, end
