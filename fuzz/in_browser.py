"""Compares drawings made up from the grammar with Chromium: `python fuzz/in_browser.py FIRST_SEED [COUNT [COLOURS]]`.

The browser paints each drawing and its outline as our reader made it, at the drawn size of 24 CSS pixels (so that
strokes that do not scale have their width) on a screen with 128 pixels for these. A pixel is wrong where the two
differ by more than half. With COLOURS ("flat" or "gradients") it paints the glyphs of a colour font in place of the
outlines, and pixels are wrong where their colours are none of those around their place in the other picture. Drawings
with more than 1 % of wrong pixels are listed and written into `fuzz-out/grammar`. Needs Chromium and its driver on the
path. Exit code 1 if a drawing is wrong.
"""

from __future__ import annotations

import base64
import io
import shutil
import sys
import tempfile
from collections.abc import Iterator, Sequence
from pathlib import Path
from typing import Any, NamedTuple

import numpy as np
from PIL import Image
from selenium import webdriver

import oddpeg
from grammar import drawing
from oddpeg.checking.normalize import plain_path
from oddpeg.outline.model import Options
from oddpeg.outline.pipeline import outline_files
from oddpeg.outline.placement import Em

PX, SIZE, COLUMNS, ROWS = 128, 24, 10, 10
MOST_WRONG = 0.01  # of the ink
CHANNEL = 0.06  # how far the channel of a colour may be off
_EM = Em(2016)
_FLAGS = (
    "--headless=new",
    "--no-sandbox",
    "--disable-gpu",
    "--hide-scrollbars",
    f"--force-device-scale-factor={PX / SIZE}",
    "--window-size=400,400",
    "--disable-lcd-text",
    "--font-render-hinting=none",
)
_STYLE = f"body{{margin:0;background:#fff}}img,b{{position:absolute;width:{SIZE}px;height:{SIZE}px}}"
_GLYPH = f"b{{font:{SIZE}px/{SIZE}px grammar;overflow:hidden;text-rendering:geometricPrecision}}"
_SQUARE = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24"><path d="M2 2h20v20H2z"/></svg>'
_CONFIG = """[font]
family = "Grammar"
[icons]
from = ["icons/*.svg"]
[bundle.colour]
into = "dist"
fonts = ["ttf"]
colour = {}
"""
_READY = """const done = arguments[0];
const images = [...document.images].map((image) => image.decode().catch(() => 0));
Promise.all([document.fonts.load("24px grammar"), ...images])
  .then(() => requestAnimationFrame(() => requestAnimationFrame(done)));"""


class Compared(NamedTuple):
    """One comparison.

    Attributes:
        wrong: share of wrong pixels of the ink.
        ink: pixels of ink in the darker of both pictures.
        excluded: the error that excludes the drawing, or empty.
        notes: codes of our messages on it.
    """

    wrong: float
    ink: int
    excluded: str
    notes: str


def start_browser(chromium: str, driver: str) -> Any:
    """Return a headless Chromium. chromium, driver: paths of the programs."""
    options = webdriver.ChromeOptions()
    options.binary_location = chromium
    for flag in _FLAGS:
        options.add_argument(flag)
    return webdriver.Chrome(options, webdriver.ChromeService(driver))


def _pictures(browser: Any, files: Sequence[bytes]) -> Iterator[Any]:
    """Yield the picture of each file, (height, width, 3), 0 to 1."""
    images = (f'src="data:image/svg+xml;base64,{base64.b64encode(data).decode()}"' for data in files)
    return _cells(browser, "", [f'<img style="PLACE" {image}>' for image in images])


def _cells(browser: Any, style: str, cells: Sequence[str]) -> Iterator[Any]:
    """Yield the picture of each element of a page, (height, width, 3), 0 to 1. PLACE in an element: for its place."""
    places = [(i // COLUMNS, i % COLUMNS) for i in range(len(cells))]
    body = "".join(
        cell.replace("PLACE", f"left:{column * SIZE}px;top:{row * SIZE}px")
        for cell, (row, column) in zip(cells, places, strict=True)
    )
    browser.get("about:blank")
    page = f"<!doctype html><meta charset=utf-8><style>{_STYLE}{style}</style>{body}"
    browser.execute_script("document.open();document.write(arguments[0]);document.close()", page)
    browser.execute_async_script(_READY)
    whole = np.asarray(Image.open(io.BytesIO(browser.get_screenshot_as_png())).convert("RGB"), float) / 255
    for row, column in places:
        yield whole[row * PX : (row + 1) * PX, column * PX : (column + 1) * PX]


def _ink(picture: Any) -> Any:
    """Return the ink in a picture of dark paint on white, 0 to 1 by pixel."""
    return 1 - picture @ (0.299, 0.587, 0.114)


def compare(browser: Any, files: Sequence[bytes]) -> Iterator[Compared]:
    """Yield the comparison of each drawing, in batches of one page."""
    for at in range(0, len(files), COLUMNS * ROWS):
        some = files[at : at + COLUMNS * ROWS]
        results = outline_files(some, Options(_EM))
        ours = [
            b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24" width="24" height="24"><path d="%s"/></svg>'
            % (plain_path(r.outline, _EM, 24.0).data.encode() if r.outline is not None else b"")
            for r in results
        ]
        pictures = zip(results, list(_pictures(browser, some)), list(_pictures(browser, ours)), strict=True)
        for one, picture, other in pictures:
            drawn, made = _ink(picture), _ink(other)
            ink = max(int((drawn > 0.5).sum()), int((made > 0.5).sum()), 1)
            codes = " ".join(sorted({d.code for d in one.diagnostics}))
            excluded = one.problem.code if one.problem else ""
            yield Compared(float((abs(drawn - made) > 0.5).sum()) / ink, ink, excluded, codes)


def _strays(picture: Any, other: Any) -> Any:
    """Return the pixels (height - 1, width - 1) at which a picture has colours that are none of those around their
    place in the other, in blocks of 2 by 2: edges of layers are smoothed in other ways."""
    padded = np.pad(other, ((1, 1), (1, 1), (0, 0)), mode="edge")
    around = np.lib.stride_tricks.sliding_window_view(padded, (3, 3), axis=(0, 1))
    low, high = around.min(axis=(3, 4)) - CHANNEL, around.max(axis=(3, 4)) + CHANNEL
    stray = ((picture < low) | (picture > high)).any(axis=2)
    return stray[1:, 1:] & stray[1:, :-1] & stray[:-1, 1:] & stray[:-1, :-1]


def compare_colours(browser: Any, files: Sequence[bytes], colours: str) -> Iterator[Compared]:
    """Yield the comparison of each drawing with its glyph in a colour font. colours: "flat" or "gradients"."""
    with tempfile.TemporaryDirectory() as folder:
        root = Path(folder)
        (root / "icons").mkdir()
        for number, data in enumerate(files):
            (root / "icons" / f"n{number:05}.svg").write_bytes(data)
        (root / "icons" / "square.svg").write_text(_SQUARE, encoding="utf-8")  # a font needs a glyph
        value = '"gradients"' if colours == "gradients" else "true"
        (root / "oddpeg.toml").write_text(_CONFIG.format(value), encoding="utf-8")
        project = oddpeg.open_project(root)
        report = oddpeg.build(project)
        font = base64.b64encode((root / "dist" / "grammar.ttf").read_bytes()).decode()
        excluded = {Path(d.place.partition(":")[0]).stem: d.code for d in report.faults}
        glyph_of = {i.name: f"&#{i.codepoint};" for i in oddpeg.icon_set(project).icons if i.name not in excluded}
    style = f"@font-face{{font-family:grammar;src:url(data:font/ttf;base64,{font})}}{_GLYPH}"
    for at in range(0, len(files), COLUMNS * ROWS):
        some = range(at, min(at + COLUMNS * ROWS, len(files)))
        glyphs = [f'<b style="PLACE">{glyph_of.get(f"n{number:05}", "")}</b>' for number in some]
        drawn = list(_pictures(browser, [files[number] for number in some]))
        for number, picture, glyph in zip(some, drawn, list(_cells(browser, style, glyphs)), strict=True):
            ink = max(int((np.minimum(picture, glyph).min(axis=2) < 0.98).sum()), 1)
            wrong = int((_strays(picture, glyph) | _strays(glyph, picture)).sum())
            codes = " ".join(sorted({d.code for d in report.notes if f"n{number:05}.svg" in d.place}))
            yield Compared(wrong / ink, ink, excluded.get(f"n{number:05}", ""), codes)


def main() -> int:
    """Compare drawings and print the wrong ones; return the exit code."""
    first, count = int(sys.argv[1]), int(sys.argv[2]) if len(sys.argv) > 2 else 1000
    out = Path("fuzz-out") / "grammar"
    out.mkdir(parents=True, exist_ok=True)
    seeds = range(first, first + count)
    colours = sys.argv[3] if len(sys.argv) > 3 else ""
    browser = start_browser(shutil.which("chromium") or "", shutil.which("chromedriver") or "")
    files = [drawing(seed, colours).encode() for seed in seeds]
    wrong = compared = 0
    results = compare_colours(browser, files, colours) if colours else compare(browser, files)
    for seed, result in zip(seeds, results, strict=True):
        compared += result.ink > 1
        if result.wrong > MOST_WRONG:
            wrong += 1
            (out / f"{seed}.svg").write_bytes(files[seed - first])
            print(f"{seed}: {result.wrong:.1%} of {result.ink} pixels {result.excluded} {result.notes}")
    browser.quit()
    print(f"{wrong} of {compared} drawings with ink are wrong by more than {MOST_WRONG:.0%}")
    return 1 if wrong else 0


if __name__ == "__main__":
    sys.exit(main())
