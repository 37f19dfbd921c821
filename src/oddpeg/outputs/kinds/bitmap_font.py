"""Bitmap font: C arrays of every icon's pixels, at chosen sizes and depths, for displays without a font renderer. The
layout is our own; the head of the file describes it. Source: ISO C §6.7.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from oddpeg.diagnostics import Diagnostic, UsageError
from oddpeg.iconset.model import Icon, IconSet
from oddpeg.outline.model import Outline
from oddpeg.outputs.context import OutputContext, Snippet
from oddpeg.outputs.kind import Option, OutputKind, always
from oddpeg.outputs.naming import family_words, lower, upper
from oddpeg.outputs.render import render_kind
from oddpeg.raster.straight_glyph import StraightGlyph, coverage

_LARGEST = 256  # pixels
_MOST_SIZES = 8
_PER_LINE = 24  # bytes
_PIECES = 8  # straight ones of a curve: closer to it than a quarter of a pixel at the largest size


class _Bitmap(NamedTuple):
    """One icon at one size.

    Attributes:
        icon: that it shows.
        offset: of its first byte.
        left, top: of its pixels from the upper left corner of the em.
        width, height: of its pixels.
        advance: to the next icon.
    """

    icon: Icon
    offset: int
    left: int
    top: int
    width: int
    height: int
    advance: int


class _Strike(NamedTuple):
    """All icons at one size.

    Attributes:
        px: the em's height.
        glyphs: in order of codepoints.
        rows: the bytes, as lines of C.
    """

    px: int
    glyphs: list[_Bitmap]
    rows: list[str]


def _sizes(context: OutputContext) -> list[int]:
    """Return the sizes that the config asks for; raise `UsageError` for other values."""
    text = str(context.options["sizes"])
    words = text.replace(",", " ").split()
    if words and len(words) <= _MOST_SIZES and all(word.isdecimal() and 4 <= int(word) <= _LARGEST for word in words):
        return sorted({int(word) for word in words})
    message = f"sizes of bitmap-font are {text!r}"
    cure = f'write up to {_MOST_SIZES} numbers of pixels from 4 to {_LARGEST}, like sizes = "16 24"'
    raise UsageError(Diagnostic("config-value", message, cure, context.file))


def packed(pixels: NDArray[np.uint8], depth: int) -> bytes:
    """Return rows of pixels (height, width), each a whole number of bytes, the first pixel in the highest bits. depth:
    bits of a pixel."""
    if not pixels.size:
        return b""  # no ink that is dark enough at this size
    bits = (pixels[:, :, None] >> np.arange(depth - 1, -1, -1)) & 1
    return np.packbits(bits.reshape(len(pixels), -1).astype(bool), axis=1).tobytes()


def _shape(outline: Outline, units: int) -> StraightGlyph:
    edges = outline.contours.segments().straightened().flattened(_PIECES)
    return StraightGlyph(edges.start / units, edges.end / units, outline.advance / units)


def _strike(icon_set: IconSet, px: int, depth: int) -> _Strike:
    face = icon_set.face
    assert face is not None, "bitmaps are made of outlines"
    glyphs, data = [], bytearray()
    for icon in sorted(icon_set.icons, key=lambda item: item.codepoint):
        outline = face.outlines[icon.name]
        ink = coverage(_shape(outline, face.em.units), px, face.em.drop)
        levels = np.floor(ink * (2**depth - 1) + 0.5).astype(np.uint8)
        rows, columns = np.flatnonzero(levels.any(axis=1)), np.flatnonzero(levels.any(axis=0))
        top, left = (int(rows[0]), int(columns[0])) if len(rows) else (0, 0)
        bottom, right = (int(rows[-1]) + 1, int(columns[-1]) + 1) if len(rows) else (0, 0)
        advance = round(outline.advance * px / face.em.units)
        glyphs.append(_Bitmap(icon, len(data), left, top, right - left, bottom - top, advance))
        data += packed(levels[top:bottom, left:right], depth)
    numbers = [str(byte) for byte in data] or ["0"]
    lines = [",".join(numbers[at : at + _PER_LINE]) for at in range(0, len(numbers), _PER_LINE)]
    return _Strike(px, glyphs, lines)


def write(icon_set: IconSet, context: OutputContext) -> str:
    """Return the header."""
    depth, words = int(str(context.options["depth"])), family_words(icon_set.family)
    strikes = [_strike(icon_set, px, depth) for px in _sizes(context)]
    names = {"under": lower(words), "MACRO": upper(words)}
    return render_kind("bitmap_font.jinja", icon_set, strikes=strikes, depth=depth, **names)


def setup(icon_set: IconSet, context: OutputContext) -> list[Snippet]:
    """Return the line that includes the arrays; the path is relative to the project."""
    return [Snippet("bitmap-font", f'#include "{context.file}"')]


def snippets(icon_set: IconSet, context: OutputContext, icon: Icon) -> list[Snippet]:
    """Return the expression for the icon's pixels."""
    under = lower(family_words(icon_set.family))
    return [Snippet("bitmap-font", f"{under}_find(&{under}_{_sizes(context)[0]}, 0x{icon.hex})")]


KIND = OutputKind(
    "bitmap-font",
    "C arrays of every icon's pixels",
    "include it; for displays without a font renderer",
    "{under}_bitmaps.h",
    write,
    snippets,
    setup=setup,
    shows_drawings=always,
    rank=20,
    options={
        "sizes": Option("16 24", "heights of the em in pixels"),
        "depth": Option("1", "bits of a pixel: 1, 2, 4 or 8", ("1", "2", "4", "8")),
    },
)
