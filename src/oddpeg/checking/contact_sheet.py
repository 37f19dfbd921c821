"""The contact sheet: every icon on its grid, with the box of its ink and its verdict, outliers first.

Values in, PNG bytes out.
"""

from __future__ import annotations

import io
from collections.abc import Mapping
from typing import TYPE_CHECKING

import numpy as np

from oddpeg.checking.review import ReviewedDrawing
from oddpeg.checking.verdict import Verdict
from oddpeg.diagnostic_codes import Level
from oddpeg.raster.coverage import Coverage

if TYPE_CHECKING:
    from PIL import Image

    from oddpeg.checking.measure import Measures

_PAPER, _INK, _SOFT, _RULE = (246, 243, 236), (23, 35, 43), (90, 102, 108), (217, 211, 197)
_MARKS = {
    Level.ERROR: (176, 42, 32),
    Level.WARNING: (201, 132, 26),
    Level.INFO: (82, 128, 96),
    Level.SILENT: (82, 128, 96),
}
_CELL, _STEP_X, _STEP_Y, _TOP = 104, 122, 166, 92
_COLUMNS = 10
FINEST = 64  # grids with more lines than that are not drawn


def ranked(drawings: list[ReviewedDrawing]) -> list[ReviewedDrawing]:
    """Return drawings ordered by the severity of their findings, the most severe first."""
    return sorted(drawings, key=lambda d: (d.examined.verdict is not Verdict.REJECTED, -d.examined.worst.rank, d.label))


def contact_sheet(title: str, drawings: list[ReviewedDrawing], pictures: Mapping[str, Coverage]) -> bytes:
    """Return a PNG, 1280 pixels wide. pictures: of drawings that have a glyph, by label."""
    from PIL import Image, ImageDraw, ImageFont

    rows = max(1, -(-len(drawings) // _COLUMNS))
    image = Image.new("RGB", (1280, _TOP + rows * _STEP_Y), _PAPER)
    pen = ImageDraw.Draw(image)
    pen.text((36, 22), title, font=ImageFont.load_default(20), fill=_INK)
    small = ImageFont.load_default(11)
    legend = (
        "bar: green nothing to do, amber look at it, red rejected · dotted: box of the ink · findings stand"
        " below the name"
    )
    pen.text((36, 54), legend, font=small, fill=_SOFT)
    for number, drawing in enumerate(ranked(drawings)):
        left, top = 36 + number % _COLUMNS * _STEP_X, _TOP + number // _COLUMNS * _STEP_Y
        result = drawing.examined
        _tile(image, result.measures, pictures.get(drawing.label), (left, top))
        mark = _MARKS[Level.ERROR if result.verdict is Verdict.REJECTED else result.worst]
        pen.rectangle((left, top + _CELL + 4, left + _CELL, top + _CELL + 7), fill=mark)
        pen.text((left, top + _CELL + 11), _short(drawing.label), font=small, fill=_INK)
        grave = [f.code for f in result.diagnostics if f.level in (Level.WARNING, Level.ERROR)]
        for k, code in enumerate(grave[:2]):
            pen.text(
                (left, top + _CELL + 26 + 13 * k),
                _short(code + (" …" if k and len(grave) > 2 else "")),
                font=small,
                fill=mark,
            )
    out = io.BytesIO()
    image.save(out, "PNG", optimize=True)
    return out.getvalue()


def _tile(image: Image.Image, m: Measures | None, picture: Coverage | None, corner: tuple[int, int]) -> None:
    from PIL import Image, ImageDraw

    left, top = corner
    pen = ImageDraw.Draw(image)
    pen.rectangle((left - 1, top - 1, left + _CELL, top + _CELL), fill=(255, 253, 248), outline=_RULE)
    if m is None or picture is None:
        pen.line((left, top, left + _CELL, top + _CELL), fill=_RULE)
        pen.line((left, top + _CELL, left + _CELL, top), fill=_RULE)
        return
    high, wide = picture.shape
    scale = _CELL / max(high, wide)
    if m.grid <= FINEST:
        for k in range(1, round(m.grid)):
            at = k * _CELL / m.grid * min(1.0, high / wide)
            pen.line((left, top + at, left + wide * scale, top + at), fill=(247, 243, 233))
            pen.line((left + at, top, left + at, top + high * scale), fill=(247, 243, 233))
    ink = Image.fromarray(((1 - picture) * 255).astype(np.uint8)).resize(
        (max(1, round(wide * scale)), max(1, round(high * scale))), Image.Resampling.LANCZOS
    )
    image.paste(Image.new("RGB", ink.size, _INK), (left, top), Image.eval(ink, lambda v: 255 - v))
    x0, y0, x1, y1 = (
        left + m.box[0] * wide * scale,
        top + (1 - m.box[3]) * high * scale,
        left + m.box[2] * wide * scale,
        top + (1 - m.box[1]) * high * scale,
    )
    for x in range(round(x0), round(x1), 4):
        pen.line((x, y0, x + 1, y0), fill=_SOFT)
        pen.line((x, y1, x + 1, y1), fill=_SOFT)
    for y in range(round(y0), round(y1), 4):
        pen.line((x0, y, x0, y + 1), fill=_SOFT)
        pen.line((x1, y, x1, y + 1), fill=_SOFT)


def _short(text: str, most: int = 18) -> str:
    return text if len(text) <= most else text[: most - 1] + "…"
