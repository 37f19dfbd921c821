"""docs/screenshots/sizes.png: signs of the demo at four sizes in Chromium, with drawings for 16 px and without."""

from __future__ import annotations

import subprocess
import tempfile
from pathlib import Path

from PIL import Image, ImageDraw, ImageFont

from oddpeg import Project, build
from output_pages import write_sample

PAGE = Path(__file__).parent.parent / "docs/screenshots/sizes.png"
SIGNS = ("anchor", "ferry", "cafe", "ticket", "information", "exit", "lift", "luggage", "stairs-up", "sun", "first-aid")
SIZES = (16, 20, 24, 48)
_INK, _GROUND, _PALE = "#20343c", "#ffffff", "#5a666b"
_STEP, _ZOOM, _TOP = 52, 4, 8


def rows(folder: Path, large: bool) -> Image.Image:
    """Return the signs, a row for each size. large: only by the drawings for 24 px."""
    css = (folder / "dist/family/saltmarsh-signs.css").as_uri()
    chosen = " salt-drawn-24" if large else ""
    place = "left:{}px;top:{}px;font-size:{}px"
    cells = "".join(
        f'<i class="salt-icon salt-{sign}{chosen}" style="{place.format(_STEP * x, _STEP * y + _TOP, px)}"></i>'
        for y, px in enumerate(SIZES)
        for x, sign in enumerate(SIGNS)
    )
    style = f"body{{margin:0;color:{_INK}}}i{{position:absolute;line-height:1;font-weight:400;display:flex}}"
    page, picture = folder / "page.html", folder / "page.png"
    page.write_text(
        f'<!doctype html><link rel="stylesheet" href="{css}"><style>{style}</style>{cells}', encoding="utf-8"
    )
    flags = ["--headless=new", "--no-sandbox", "--disable-lcd-text", "--hide-scrollbars", f"--screenshot={picture}"]
    size = f"--window-size={_STEP * len(SIGNS)},{_STEP * len(SIZES) + 2 * _TOP + 100}"
    subprocess.run(["chromium", *flags, size, page.as_uri()], check=True, capture_output=True)
    return Image.open(picture).convert("RGB").crop((0, 0, _STEP * len(SIGNS), _STEP * len(SIZES) + _TOP))


def draw() -> Image.Image:
    """Return the figure: on the left as drawn for 24 px only, on the right with drawings for 16 px; below, enlarged."""
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name).resolve()
        write_sample(folder)
        build(Project.open(folder / "oddpeg.toml"))
        both = [rows(folder, large=True), rows(folder, large=False)]
    image = Image.new("RGB", (1280, 600), _GROUND)
    pen = ImageDraw.Draw(image)
    for number, (part, said) in enumerate(zip(both, ("drawn for 24 px only", "with drawings for 16 px"), strict=True)):
        left = 50 + number * 620
        pen.text((left, 20), said, fill=_INK, font=ImageFont.load_default(22))
        for row, px in enumerate(SIZES if number == 0 else ()):
            pen.text((8, 72 + _STEP * row), f"{px}", fill=_PALE, font=ImageFont.load_default(14))
        image.paste(part, (left, 60))
        pen.text((left, 300), f"16 px, {_ZOOM} times as large", fill=_PALE, font=ImageFont.load_default(16))
        for place in range(len(SIGNS)):
            cell = part.crop((_STEP * place, _TOP - 2, _STEP * place + 18, _TOP + 18))
            cell = cell.resize((18 * _ZOOM, 20 * _ZOOM), Image.Resampling.NEAREST)
            image.paste(cell, (left + place % 6 * 90, 340 + place // 6 * 110))
    return image


if __name__ == "__main__":
    draw().save(PAGE, optimize=True)
