"""All icons of a font on one picture, drawn by FreeType from the finished file.

Values in, PNG bytes out.
"""

from __future__ import annotations

import io
from collections.abc import Sequence
from typing import TYPE_CHECKING, NamedTuple

from oddpeg.iconset.model import Icon

if TYPE_CHECKING:
    from PIL.ImageDraw import ImageDraw
    from PIL.ImageFont import FreeTypeFont

WIDTH = 1280
_MARGIN, _HEAD = 40, 104


class Tones(NamedTuple):
    """Colours: of the paper, icons, small print, rules."""

    paper: tuple[int, int, int]
    ink: tuple[int, int, int]
    soft: tuple[int, int, int]
    rule: tuple[int, int, int]


LIGHT = Tones((255, 253, 248), (23, 35, 43), (87, 99, 106), (217, 211, 197))
DARK = Tones((16, 24, 29), (238, 233, 221), (163, 173, 176), (43, 57, 64))


class Grid(NamedTuple):
    """columns: icons in a row; step: width and height of a cell; size: of an icon; named: whether names stand below.
    All pixels."""

    columns: int
    step: tuple[float, int]
    size: int
    named: bool


def grid_for(count: int, names: bool) -> Grid:
    """Return how so many icons stand: large ones with names while there are few, then smaller, then close together."""
    for most, columns, size in ((120, 10, 48), (600, 12, 40), (1500, 16, 32)):
        if count <= most:
            step = (WIDTH - 2 * _MARGIN) / columns
            return Grid(columns, (step, size + (52 if names else 36)), size, names)
    return Grid(32, ((WIDTH - 2 * _MARGIN) / 32, 36), 24, False)


def contact_sheet(
    font: bytes, icons: Sequence[Icon], title: str, subtitle: str, drop: float, tones: Tones, names: bool
) -> bytes:
    """Return a PNG. font: a TrueType file; title: in large letters; subtitle: to the right of it; drop: the em's share
    below the baseline."""
    from PIL import Image, ImageDraw, ImageFont
    from PIL.PngImagePlugin import PngInfo

    grid = grid_for(len(icons), names)
    rows = -(-len(icons) // grid.columns)
    image = Image.new("RGB", (WIDTH, _HEAD + rows * grid.step[1] + _MARGIN), tones.paper)
    pen = ImageDraw.Draw(image)
    large, small = ImageFont.load_default(32), ImageFont.load_default(12)
    assert isinstance(large, ImageFont.FreeTypeFont) and isinstance(small, ImageFont.FreeTypeFont)
    pen.text((_MARGIN, 64), _fitting(title, large, 800), font=large, fill=tones.ink, anchor="ls")
    pen.text((WIDTH - _MARGIN, 64), subtitle, font=ImageFont.load_default(14), fill=tones.soft, anchor="rs")
    pen.line((_MARGIN, 82, WIDTH - _MARGIN, 82), fill=tones.rule)
    face = ImageFont.truetype(io.BytesIO(font), grid.size, layout_engine=ImageFont.Layout.BASIC)
    for number, icon in enumerate(icons):
        left, top = _MARGIN + number % grid.columns * grid.step[0], _HEAD + number // grid.columns * grid.step[1]
        _icon(pen, icon, face, left + grid.step[0] / 2, top + 8, grid, drop, tones)
        if grid.named:
            name = _fitting(
                icon.name if _drawable(icon.name, small) else f"U+{icon.hex.upper()}", small, grid.step[0] - 8
            )
            pen.text((left + grid.step[0] / 2, top + grid.size + 30), name, font=small, fill=tones.soft, anchor="ms")
    out = io.BytesIO()
    facts = PngInfo()
    facts.add_text("Software", "Odd Peg")
    image.quantize(64, dither=Image.Dither.NONE).save(out, "PNG", optimize=True, pnginfo=facts)
    return out.getvalue()


def _icon(
    pen: ImageDraw, icon: Icon, face: FreeTypeFont, middle: float, top: float, grid: Grid, drop: float, tones: Tones
) -> None:
    """Draw an icon in the middle of its cell, smaller where it is too wide for it."""
    wide, room = face.getlength(icon.character), grid.step[0] - 6
    if wide > room:
        size = max(1, int(grid.size * room / wide))
        top, face, wide = top + (grid.size - size) / 2, face.font_variant(size=size), room
    else:
        size = grid.size
    pen.text(
        (round(middle - wide / 2), round(top + size * (1 - drop))),
        icon.character,
        font=face,
        fill=tones.ink,
        anchor="ls",
    )


def _fitting(text: str, font: FreeTypeFont, room: float) -> str:
    """Return a text, cut short where it is too long."""
    if font.getlength(text) <= room:
        return text
    while text and font.getlength(text + "…") > room:
        text = text[:-1]
    return text + "…"


def _drawable(text: str, font: FreeTypeFont) -> bool:
    """Return whether a font has a glyph for every letter."""
    missing = bytes(font.getmask("\uffff"))
    return all(bytes(font.getmask(letter)) != missing for letter in set(text) if not letter.isascii())
