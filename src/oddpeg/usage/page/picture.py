"""The picture of a page with a numbered frame around each element that has a fault."""

from __future__ import annotations

import io
from collections.abc import Sequence

from PIL import Image, ImageDraw, ImageFont

from oddpeg.diagnostic_codes import Level
from oddpeg.usage.page.report import PageFault

_ERROR, _WARNING, _PAPER = "#c0182b", "#9a5b00", "#ffffff"
_ROOM, _LETTERS = 4, 13  # pixels


def framed(png: bytes, faults: Sequence[PageFault]) -> bytes:
    """Return a PNG with frames; their numbers count the faults from 1."""
    with Image.open(io.BytesIO(png), formats=["PNG"]) as opened:
        image = opened.convert("RGB")
    draw, letters = ImageDraw.Draw(image), ImageFont.load_default(_LETTERS)
    numbers: dict[tuple[int, int, int, int], list[int]] = {}
    for number, fault in enumerate(faults, 1):
        box = fault.box
        sides = int(box.x) - _ROOM, int(box.y) - _ROOM, int(box.x + box.width) + _ROOM, int(box.y + box.height) + _ROOM
        numbers.setdefault(sides, []).append(number)
    for (left, top, right, bottom), some in numbers.items():
        serious = any(faults[number - 1].level is Level.ERROR for number in some)
        colour, label = _ERROR if serious else _WARNING, ", ".join(map(str, some))
        left, top = max(left, 0), max(top, 0)
        draw.rectangle((left, top, max(right, left + 1), max(bottom, top + 1)), outline=colour, width=2)
        wide = int(draw.textlength(label, font=letters)) + 8
        across = min(max(right, left + 1) + 1, image.width - wide)
        draw.rectangle((across, top, across + wide, top + _LETTERS + 5), fill=colour)
        draw.text((across + 4, top + 1), label, fill=_PAPER, font=letters)
    target = io.BytesIO()
    image.save(target, "PNG", optimize=True)
    return target.getvalue()
