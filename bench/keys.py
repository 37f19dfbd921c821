"""The specimen under the fingers: from each key press to the painted result, in Chromium, with thousands of icons.

    python bench/keys.py [--count 5000]

Words are typed and deleted letter by letter with keys that take the browser's own way (DevTools'
`Input.dispatchKeyEvent`). A press is painted when a message posted in the next animation frame arrives: frames come
every 16.7 ms, so about that much is waiting. Nothing here is a test; numbers are printed, none is judged.
"""

from __future__ import annotations

import argparse
import random
import shutil
import statistics
import subprocess
import sys
import time
from pathlib import Path
from typing import Any

from icons import CONFIG, own_icon

WORDS = ("harbour", "no-smoking", "tdie", "e2a", "pier light")
PARTS = (
    "harbour",
    "pier",
    "tide",
    "light",
    "north",
    "small",
    "open",
    "gate",
    "rope",
    "smoking",
    "no",
    "bell",
    "left",
    "round",
    "old",
)
PROBE = """window.presses = []; addEventListener("keydown", (event) => requestAnimationFrame(() => {
  const gate = new MessageChannel(), query = document.getElementById("query");
  gate.port1.onmessage = () => window.presses.push([performance.now() - event.timeStamp, query.value]);
  gate.port2.postMessage(0);
}), true);"""


def make_project(root: Path, count: int) -> Path:
    """Build a set with made-up names and return its specimen."""
    shutil.rmtree(root, ignore_errors=True)
    (root / "icons").mkdir(parents=True)
    rng, table = random.Random(5), ["icon,tags,title"]
    for i in range(count):
        name = f"{'-'.join(rng.sample(PARTS, 3))}-{i:04}"
        (root / "icons" / f"{name}.svg").write_text(own_icon(random.Random(f"keys:{i}")), encoding="utf-8")
        table.append(f"{name},{'|'.join(rng.sample(PARTS, 2))},{' '.join(rng.sample(PARTS, 2)).capitalize()}")
    (root / "icons" / "icons.csv").write_text("\n".join(table) + "\n", encoding="utf-8")
    (root / "oddpeg.toml").write_text(
        CONFIG.replace('["css", "typescript"]', '["css", "typescript", "specimen"]'), encoding="utf-8"
    )
    start = time.perf_counter()
    subprocess.run([Path(sys.executable).with_name("oddpeg"), "build", "--quiet"], cwd=root, check=True)
    print(f"{count} icons: built with specimen in {time.perf_counter() - start:.2f} s")
    return root / "dist" / "bench-specimen.html"


def press(driver: Any, key: str) -> None:
    code = {"Backspace": 8}.get(key, 0)
    text = {} if code else {"text": key}
    driver.execute_cdp_cmd(
        "Input.dispatchKeyEvent", {"type": "keyDown", "key": key, "windowsVirtualKeyCode": code, **text}
    )
    driver.execute_cdp_cmd("Input.dispatchKeyEvent", {"type": "keyUp", "key": key, "windowsVirtualKeyCode": code})
    time.sleep(0.06)


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("--count", type=int, default=5000)
    opt = parser.parse_args()
    chromium, chromedriver = shutil.which("chromium"), shutil.which("chromedriver")
    if not chromium or not chromedriver:
        print("key presses: not measured, for want of chromium and chromedriver")
        return
    from selenium import webdriver

    page = make_project(Path("bench-out/keys").resolve(), opt.count)
    options = webdriver.ChromeOptions()
    options.binary_location = chromium
    for flag in (
        "--headless=new",
        "--no-sandbox",
        "--disable-gpu",
        "--disable-background-networking",
        "--window-size=1280,800",
    ):
        options.add_argument(flag)
    driver = webdriver.Chrome(options, webdriver.ChromeService(chromedriver))
    try:
        start = time.perf_counter()
        driver.get(page.as_uri())
        driver.execute_async_script("document.fonts.ready.then(() => requestAnimationFrame(() => arguments[0]()))")
        print(f"  page of {page.stat().st_size / 1e6:.1f} MB opened in {time.perf_counter() - start:.2f} s")
        driver.execute_script(PROBE + "document.getElementById('query').focus()")
        for word in WORDS:
            for key in (*word, *["Backspace"] * len(word)):
                press(driver, key)
        pressed = driver.execute_script("return window.presses")
    finally:
        driver.quit()
    took = sorted(milliseconds for milliseconds, _ in pressed)
    print(
        f"  {len(took)} key presses to the painted result: median {statistics.median(took):.0f} ms, 95 of 100 within"
        f" {took[int(0.95 * len(took))]:.0f} ms, worst {took[-1]:.0f} ms (at {max(pressed)[1]!r})"
    )


if __name__ == "__main__":
    main()
