"""docs/screenshots/precision.png: what `font.precision` trades, on icons of the demo at three sizes."""

from __future__ import annotations

import io
import re
import tempfile
from pathlib import Path

from PIL import Image, ImageDraw, ImageFont

from oddpeg import Project, build
from output_pages import write_sample

PAGE = Path(__file__).parent.parent / "docs/screenshots/precision.png"
PRECISIONS = (0.1, 0.3, 1.0, 3.0)
ICON = "gull"
_INK, _GROUND, _PALE = "#20343c", "#fffdf6", "#6a7478"
_COLUMN, _TOP = 300, 92


def fonts(precision: float, folder: Path) -> tuple[bytes, int]:
    """Return the demo's TTF at a precision, and how many bytes its WOFF2 has."""
    write_sample(folder)
    config = folder / "oddpeg.toml"
    config.write_text(re.sub(r"(?m)^\[font\]\n", f"[font]\nprecision = {precision}\n", config.read_text(), count=1))
    project = Project.open(config)
    build(project)
    ttf, woff2 = (next(folder.glob(f"dist/**/*.{ending}")).read_bytes() for ending in ("ttf", "woff2"))
    return ttf, len(woff2)


def character(folder: Path) -> str:
    """Return the icon's character, as the pegboard has it."""
    line = next(line for line in (folder / "pegboard.csv").read_text().splitlines() if line.startswith(f"{ICON},"))
    return chr(int(line.split(",")[1].removeprefix("U+"), 16))


def draw() -> Image.Image:
    """Return the figure: a column for each precision, the icon at 16, 64 and a part of it at 512 pixels."""
    image = Image.new("RGB", (_COLUMN * len(PRECISIONS) + 80, 680), _GROUND)
    pen = ImageDraw.Draw(image)
    pen.text((40, 28), "font.precision, in thousandths of the em", fill=_INK, font=ImageFont.load_default(28))
    for column, precision in enumerate(PRECISIONS):
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name).resolve()
            ttf, size = fonts(precision, folder)
            icon = character(folder)
        left = 40 + column * _COLUMN
        said = f"{precision:g}{' (default)' if precision == 0.3 else ''}: {size:,} bytes"
        pen.text((left, _TOP), said, fill=_PALE, font=ImageFont.load_default(18))
        for px, top in ((16, _TOP + 46), (64, _TOP + 76), (512, _TOP + 156)):
            pen.text((left + 200, top), f"{px} px", fill=_PALE, font=ImageFont.load_default(14))
            if px < 512:
                font = ImageFont.truetype(io.BytesIO(ttf), px)
                pen.text((left, top), icon, fill=_INK, font=font, anchor="lt")
        large = Image.new("RGB", (512, 512), _GROUND)
        font = ImageFont.truetype(io.BytesIO(ttf), 512)
        ImageDraw.Draw(large).text((0, 448), icon, fill=_INK, font=font, anchor="ls")
        image.paste(large.crop((150, 72, 430, 448)), (left, _TOP + 186))
    return image


if __name__ == "__main__":
    draw().save(PAGE, optimize=True)
