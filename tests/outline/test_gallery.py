"""One small drawing per SVG feature, built by the installed command and compared with an independent renderer."""

from __future__ import annotations

import base64
import io
import re
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PIL import Image

from oddpeg.svg.properties import HANDLED
from support.gallery import drawings, plain_svg
from support.project import ProjectFolder
from support.raster import drawing_mask, glyph_mask, wrong_share


@pytest.fixture(scope="module")
def gallery(tmp_path_factory: pytest.TempPathFactory) -> ProjectFolder:
    made = ProjectFolder(tmp_path_factory.mktemp("gallery")).config()
    for name, (box, body) in drawings().items():
        made.icon(name, f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="{box}">{body}</svg>')
    made.deliver()
    return made


@pytest.mark.parametrize("name", drawings())
def test_feature_looks_as_drawn(gallery: ProjectFolder, name: str) -> None:
    box = [float(v) for v in drawings()[name][0].split()]
    height = 240
    width = round(height * box[2] / box[3])
    svg = plain_svg(name, f'width="{box[2] * 10:g}" height="{box[3] * 10:g}"')
    wanted = drawing_mask(svg, width, height)
    assert (wanted > 0.5).any(), "the drawing itself must show something"
    icon = next(i for i in gallery.read_json("dist/tide-marks.json")["icons"] if i["name"] == name)
    got = glyph_mask(gallery.root / "dist/tide-marks.ttf", icon["codepoint"], width + 1, height)[:, :width]
    assert wrong_share(wanted, got) <= 0.005


def test_the_comparison_would_notice_a_wrong_glyph(gallery: ProjectFolder) -> None:
    icons = {i["name"]: i["codepoint"] for i in gallery.read_json("dist/tide-marks.json")["icons"]}
    svg = gallery.read("icons/even-odd.svg").replace("<svg ", '<svg width="24" height="24" ', 1)
    other = glyph_mask(gallery.root / "dist/tide-marks.ttf", icons["non-zero"], 240, 240)
    assert wrong_share(drawing_mask(svg, 240, 240), other) > 0.05


def test_every_property_that_is_worked_out_is_drawn_here() -> None:
    bodies = " ".join(body for _, body in drawings().values())
    missing = [name for name in HANDLED if not re.search(rf"(?<![\w-]){name}\s*[:=]", bodies)]
    assert missing == ["filter"], "which is never drawn, but named"


def test_chromium_shows_what_the_glyphs_show(gallery: ProjectFolder, browser: Any, tmp_path: Path) -> None:
    """The drawings as they are, and their glyphs, side by side; a third painter that shares nothing with the others."""
    height, names = 96, list(drawings())
    rows, wrong = [], {}
    for name in names:
        box, body = drawings()[name]
        svg = f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="{box}">{body}</svg>'
        data = base64.b64encode(svg.encode()).decode()
        rows.append(f"<p><img height={height} src=data:image/svg+xml;base64,{data}>")
    page = tmp_path / "page.html"
    page.write_text(f"<!doctype html><style>*{{margin:0}} p{{height:{height}px;font-size:0}}</style>{''.join(rows)}")
    browser.set_window_size(400, height * len(names) + 400)
    browser.get(page.as_uri())
    shot = 1 - np.asarray(Image.open(io.BytesIO(browser.get_screenshot_as_png())).convert("RGB")).min(axis=2) / 255
    codes = {i["name"]: i["codepoint"] for i in gallery.read_json("dist/tide-marks.json")["icons"]}
    for row, name in enumerate(names):
        size = [float(value) for value in drawings()[name][0].split()]
        width = round(height * size[2] / size[3])
        wanted = shot[row * height : (row + 1) * height, :width]
        got = glyph_mask(gallery.root / "dist/tide-marks.ttf", codes[name], width + 1, height)[:, :width]
        assert wanted.shape == got.shape and (wanted > 0.5).any()
        if (share := wrong_share(wanted, got)) > 0.02:
            wrong[name] = round(share, 3)
    # a stroke that does not scale is as wide on a screen of any size: 3 units are 3 pixels there
    assert list(wrong) == ["vector-effect"], wrong
