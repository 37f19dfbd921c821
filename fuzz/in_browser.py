"""Compares drawings made up from the grammar with Chromium: `python fuzz/in_browser.py FIRST_SEED [COUNT]`.

The browser paints each drawing and its outline as our reader made it, at the drawn size of 24 CSS pixels (so that
strokes that do not scale have their width) on a screen with 128 pixels for these. A pixel is wrong where the two
differ by more than half. Drawings with more than 1 % of wrong pixels are listed and written into `fuzz-out/grammar`.
Needs Chromium and its driver on the path. Exit code 1 if a drawing is wrong.
"""

from __future__ import annotations

import base64
import io
import shutil
import sys
from collections.abc import Iterator, Sequence
from pathlib import Path
from typing import Any, NamedTuple

import numpy as np
from PIL import Image
from selenium import webdriver

from grammar import drawing
from oddpeg.checking.normalize import plain_path
from oddpeg.outline.model import Options
from oddpeg.outline.pipeline import outline_files
from oddpeg.outline.placement import Em

PX, SIZE, COLUMNS, ROWS = 128, 24, 10, 10
MOST_WRONG = 0.01  # of the ink
_EM = Em(2016)
_FLAGS = (
    "--headless=new",
    "--no-sandbox",
    "--disable-gpu",
    "--hide-scrollbars",
    f"--force-device-scale-factor={PX / SIZE}",
    "--window-size=400,400",
    "--disable-lcd-text",
)
_STYLE = f"body{{margin:0;background:#fff}}img{{position:absolute;width:{SIZE}px;height:{SIZE}px}}"
_READY = """const done = arguments[0];
Promise.all([...document.images].map((image) => image.decode().catch(() => 0)))
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
    """Yield the ink in the picture of each file, 0 to 1 by pixel."""
    cells = "".join(
        f'<img style="left:{i % COLUMNS * SIZE}px;top:{i // COLUMNS * SIZE}px" src="data:image/svg+xml;base64,'
        f'{base64.b64encode(data).decode()}">'
        for i, data in enumerate(files)
    )
    page = f"<meta charset=utf-8><style>{_STYLE}</style>{cells}"
    browser.get("about:blank")
    browser.execute_script("document.open();document.write(arguments[0]);document.close()", page)
    browser.execute_async_script(_READY)
    whole = 1 - np.asarray(Image.open(io.BytesIO(browser.get_screenshot_as_png())).convert("L"), float) / 255
    for i in range(len(files)):
        y, x = i // COLUMNS * PX, i % COLUMNS * PX
        yield whole[y : y + PX, x : x + PX]


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
        for one, drawn, made in pictures:
            ink = max(int((drawn > 0.5).sum()), int((made > 0.5).sum()), 1)
            codes = " ".join(sorted({d.code for d in one.diagnostics}))
            excluded = one.problem.code if one.problem else ""
            yield Compared(float((abs(drawn - made) > 0.5).sum()) / ink, ink, excluded, codes)


def main() -> int:
    """Compare drawings and print the wrong ones; return the exit code."""
    first, count = int(sys.argv[1]), int(sys.argv[2]) if len(sys.argv) > 2 else 1000
    out = Path("fuzz-out") / "grammar"
    out.mkdir(parents=True, exist_ok=True)
    seeds = range(first, first + count)
    browser = start_browser(shutil.which("chromium") or "", shutil.which("chromedriver") or "")
    wrong = compared = 0
    for seed, result in zip(seeds, compare(browser, [drawing(seed).encode() for seed in seeds]), strict=True):
        compared += result.ink > 1
        if result.wrong > MOST_WRONG:
            wrong += 1
            (out / f"{seed}.svg").write_text(drawing(seed), encoding="utf-8")
            print(f"{seed}: {result.wrong:.1%} of {result.ink} pixels {result.excluded} {result.notes}")
    browser.quit()
    print(f"{wrong} of {compared} drawings with ink are wrong by more than {MOST_WRONG:.0%}")
    return 1 if wrong else 0


if __name__ == "__main__":
    sys.exit(main())
