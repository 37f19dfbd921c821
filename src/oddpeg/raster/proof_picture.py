"""The proof picture: drawing, glyph and difference side by side.

Values in, PNG bytes out.
"""

from __future__ import annotations

import io
from dataclasses import dataclass

import numpy as np

from oddpeg.raster.colours import Picture
from oddpeg.raster.coverage import Coverage

_PAPER, _INK, _SOFT, _RULE = (246, 243, 236), (23, 35, 43), (90, 102, 108), (217, 211, 197)
_MISSING, _EXTRA = (21, 94, 160), (201, 84, 26)
_CELL, _GAP, _TOP = 112, 10, 64
_PAPER_OF_CELL = np.array((255, 253, 248), dtype=np.float64)
GROUND = (1.0, 253 / 255, 248 / 255)  # the same, for pictures in colour


@dataclass(frozen=True, slots=True)
class PictureRow:
    """One icon in the picture, as its ink or in its colours."""

    name: str
    wrong: float
    drawing: Coverage | Picture
    glyph: Coverage | Picture


def _mix(view: Coverage | Picture, colour: tuple[int, int, int]) -> np.ndarray[tuple[int, ...], np.dtype[np.uint8]]:
    if view.ndim == 3:
        return (view * 255).astype(np.uint8)
    return (_PAPER_OF_CELL + view[..., None] * (np.array(colour) - _PAPER_OF_CELL)).astype(np.uint8)


def _difference(row: PictureRow) -> np.ndarray[tuple[int, ...], np.dtype[np.uint8]]:
    if row.drawing.ndim == 3:
        gap = np.abs(row.drawing - row.glyph).max(axis=2, keepdims=True)
        return np.where(gap > 0, np.array(_EXTRA), _PAPER_OF_CELL).astype(np.uint8)
    both = _mix(np.minimum(row.drawing, row.glyph), (196, 196, 190)).astype(np.float64)
    for amount, colour in ((row.drawing - row.glyph, _MISSING), (row.glyph - row.drawing, _EXTRA)):
        share = np.clip(amount, 0, 1)[..., None]
        both += share * (np.array(colour) - both)
    return both.astype(np.uint8)


def proof_picture(
    title: str,
    rows: list[PictureRow],
    legend: str = "drawing · glyph · difference: blue is missing, orange is too much",
    word: str = "wrong",
) -> bytes:
    """Return a PNG, 1280 pixels wide: three columns of icons, each as drawing, glyph and difference (or as old, new and
    difference, if `legend` and the `word` for the share say so)."""
    from PIL import Image, ImageDraw, ImageFont

    lines = max(1, -(-len(rows) // 3))
    step = _CELL + 44
    image = Image.new("RGB", (1280, _TOP + lines * step + 24), _PAPER)
    pen = ImageDraw.Draw(image)
    pen.text((40, 18), title, font=ImageFont.load_default(20), fill=_INK)
    small = ImageFont.load_default(13)
    pen.text((1240, 24), legend, font=small, fill=_SOFT, anchor="ra")
    pen.line((40, 52, 1240, 52), fill=_INK)
    for number, row in enumerate(rows):
        left, top = 40 + number % 3 * 408, _TOP + number // 3 * step
        views = (_mix(row.drawing, _INK), _mix(row.glyph, _INK), _difference(row))
        for k, view in enumerate(views):
            cell = Image.fromarray(view)
            cell.thumbnail((_CELL, _CELL), Image.Resampling.LANCZOS)
            x = left + k * (_CELL + _GAP)
            pen.rectangle((x - 1, top - 1, x + _CELL, top + _CELL), fill=(255, 253, 248), outline=_RULE)
            image.paste(cell, (x + (_CELL - cell.width) // 2, top + (_CELL - cell.height) // 2))
        pen.text((left, top + _CELL + 6), row.name, font=small, fill=_INK)
        pen.text(
            (left + 3 * _CELL + 2 * _GAP, top + _CELL + 6),
            f"{row.wrong:.2%} {word}",
            font=small,
            fill=_SOFT,
            anchor="ra",
        )
    out = io.BytesIO()
    image.save(out, "PNG", optimize=True)
    return out.getvalue()
