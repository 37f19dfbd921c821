"""The stylesheet and the specimen in Chromium: what users will really see."""

from __future__ import annotations

import base64
import io
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from numpy.typing import NDArray
from PIL import Image

from support.project import ProjectFolder

SIZE = 96
COLUMNS = 8


def page(
    demo: ProjectFolder,
    icons: list[dict[str, Any]],
    glyphs: bool,
    tag: str = "span",
    wrap: str = "",
    css: str | None = None,
) -> str:
    """A grid of icons, as glyphs through the stylesheet or as the drawings themselves."""
    sheet = css or (demo.root / "dist/web/saltmarsh-signs.css").as_uri()
    cells = []
    for i, icon in enumerate(icons):
        place = f"position:absolute;left:{i % COLUMNS * 200}px;top:{i // COLUMNS * 100}px"
        if glyphs:
            inner = f'<{tag} class="salt-icon salt-{icon["name"]}"></{tag}>'
        else:
            data = base64.b64encode((demo.root / icon["source"]).read_bytes()).decode()
            inner = f'<img height="{SIZE}" style="display:block" src="data:image/svg+xml;base64,{data}">'
        cells.append(f'<div style="{place};font-size:{SIZE}px;line-height:1">{inner}</div>')
    return (
        f'<!doctype html><meta charset="utf-8"><link rel="stylesheet" href="{sheet}"><style>{wrap}</style>'
        f'<body style="margin:0;background:#fff;color:#000">{"".join(cells)}'
    )


def shot(browser: Any, html: str, path: Path) -> NDArray[np.float64]:
    path.write_text(html, encoding="utf-8")
    browser.get(path.as_uri())
    browser.execute_async_script(
        "const done = arguments[0]; document.fonts.ready.then(() => requestAnimationFrame(() => done()))"
    )
    browser.set_window_size(COLUMNS * 200 + 40, 1200)
    png = browser.execute_cdp_cmd(
        "Page.captureScreenshot",
        {"captureBeyondViewport": True, "clip": {"x": 0, "y": 0, "width": COLUMNS * 200, "height": 1000, "scale": 1}},
    )["data"]
    return 1 - np.asarray(Image.open(io.BytesIO(base64.b64decode(png))).convert("L"), dtype=float) / 255


def worst(wanted: NDArray[np.float64], got: NDArray[np.float64], count: int) -> float:
    """The largest share of wrong pixels in any cell, relative to its ink."""
    shares = []
    for i in range(count):
        y, x = i // COLUMNS * 100, i % COLUMNS * 200
        a, b = wanted[y : y + 100, x : x + 200], got[y : y + 100, x : x + 200]
        ink = max(1, int((np.maximum(a, b) > 0.5).sum()))
        shares.append(float((np.abs(a - b) > 0.6).sum() / ink))
    return max(shares)


@pytest.fixture(scope="module")
def icons(demo: ProjectFolder) -> list[dict[str, Any]]:
    found = demo.read_json("dist/web/saltmarsh-signs.json")["icons"]
    plain = [icon for icon in found if "/flags/" not in icon["source"]]  # those are drawn in colours
    assert len(plain) >= 48
    return plain[: COLUMNS * 10]


def test_every_icon_looks_like_its_drawing(
    browser: Any, demo: ProjectFolder, icons: list[dict[str, Any]], tmp_path: Path
) -> None:
    wanted = shot(browser, page(demo, icons, glyphs=False), tmp_path / "drawings.html")
    got = shot(browser, page(demo, icons, glyphs=True), tmp_path / "glyphs.html")
    assert (wanted > 0.5).sum() > 50_000
    assert worst(wanted, got, len(icons)) < 0.01


def test_a_fallback_font_would_fail(
    browser: Any, demo: ProjectFolder, icons: list[dict[str, Any]], tmp_path: Path
) -> None:
    wanted = shot(browser, page(demo, icons, glyphs=False), tmp_path / "drawings.html")
    sheet = tmp_path / "broken.css"
    sheet.write_text(demo.read("dist/web/saltmarsh-signs.css").replace("saltmarsh-signs-line.woff", "nowhere.woff"))
    got = shot(browser, page(demo, icons, glyphs=True, css=sheet.as_uri()), tmp_path / "fallback.html")
    assert worst(wanted, got, len(icons)) > 0.5


@pytest.mark.parametrize("tag", ["em", "b", "i", "button", "h1"])
def test_upright_and_unstyled_on_any_element(
    browser: Any, demo: ProjectFolder, icons: list[dict[str, Any]], tag: str, tmp_path: Path
) -> None:
    plain = shot(browser, page(demo, icons, glyphs=True), tmp_path / "plain.html")
    hostile = (
        f"{tag} {{ font-size: inherit; margin: 0; padding: 0; border: 0; background: none; color: inherit; line-height:"
        " 1; display: inline; text-transform: uppercase; letter-spacing: 9px; word-spacing: 9px; text-decoration:"
        " underline; font-variant: small-caps; font-style: italic; font-weight: 900; text-shadow: 2px 2px red }"
    )
    got = shot(browser, page(demo, icons, glyphs=True, tag=tag, wrap=hostile), tmp_path / "styled.html")
    assert worst(plain, got, len(icons)) < 0.01


def test_screen_readers_hear_nothing(
    browser: Any, demo: ProjectFolder, icons: list[dict[str, Any]], tmp_path: Path
) -> None:
    path = tmp_path / "aria.html"
    path.write_text(page(demo, icons[:3], glyphs=True) + "<p>Quay 4</p>", encoding="utf-8")
    browser.get(path.as_uri())
    tree = browser.execute_cdp_cmd("Accessibility.getFullAXTree", {})
    said = "".join(n.get("name", {}).get("value", "") for n in tree["nodes"] if not n.get("ignored"))
    assert "Quay 4" in said
    assert not [c for c in said if 0xE000 <= ord(c) <= 0xF8FF]
