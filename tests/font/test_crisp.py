"""Icons drawn on a grid are sharp at the grid's size and at twice that: no pixel is grey where the drawing has none."""

from __future__ import annotations

import base64
from pathlib import Path
from typing import Any

import freetype
import numpy as np
import pytest

from support.pages import Screenshot
from support.project import CONFIG, ProjectFolder

GRIDS = [12, 14, 15, 16, 18, 20, 24, 28, 32, 48]


def steps(grid: int) -> str:
    """A drawing whose every edge lies on a line of its grid."""
    half = grid // 2
    path = f"M1 1h{grid - 2}v{half}h-{half}v{grid - half - 2}h-{grid - half - 2}zM3 3v2h3v-2z"
    return f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {grid} {grid}"><path d="{path}"/></svg>'


@pytest.fixture(scope="module")
def fonts(tmp_path_factory: pytest.TempPathFactory) -> dict[int, Path]:
    """A font of one icon for each grid."""
    found = {}
    for grid in GRIDS:
        project = ProjectFolder(tmp_path_factory.mktemp(f"grid{grid}")).config(CONFIG).icon("steps", steps(grid))
        assert f" of {grid})" in project.build().stdout, "the baseline lies on a line of the grid"
        found[grid] = project.root / "dist/tide-marks.ttf"
    return found


LOADS = {"plain": freetype.FT_LOAD_RENDER, "light": freetype.FT_LOAD_RENDER | freetype.FT_LOAD_TARGET_LIGHT}


@pytest.mark.parametrize("load", LOADS)
@pytest.mark.parametrize("grid", GRIDS)
def test_freetype_draws_no_grey(fonts: dict[int, Path], grid: int, load: str) -> None:
    face = freetype.Face(str(fonts[grid]))
    for size in (grid, 2 * grid):
        face.set_pixel_sizes(0, size)
        face.load_char("\ue000", LOADS[load])
        bitmap = face.glyph.bitmap
        shown = np.array(bitmap.buffer).reshape(bitmap.rows, bitmap.pitch)[:, : bitmap.width]
        assert set(shown.ravel().tolist()) == {0, 255}
        assert (shown > 0).sum() * grid**2 == ink(grid) * size**2


def ink(grid: int) -> int:
    """Pixels that the drawing inks."""
    half = grid // 2
    return (grid - 2) * half + (grid - half - 2) ** 2 - 6


@pytest.mark.parametrize("size", [17.6, 21.3])
def test_freetype_draws_fractional_sizes_as_they_are(fonts: dict[int, Path], size: float) -> None:
    face = freetype.Face(str(fonts[16]))
    face.set_char_size(round(size * 64))
    face.load_char("\ue000", freetype.FT_LOAD_DEFAULT)
    assert face.glyph.linearHoriAdvance / 65536 == pytest.approx(size, abs=0.02)
    box = face.glyph.outline.get_bbox()
    assert (box.xMax - box.xMin) / 64 == pytest.approx(size * 14 / 16, abs=0.05)


Spot = tuple[int, int, int, int]  # left, top, size, grid


def write_page(fonts: dict[int, Path], page: Path) -> list[Spot]:
    """Write a page of every icon at its own size and at twice that; the fonts are carried within it."""
    rules, rows, top = "", "", 0
    spots = []
    for grid, font in fonts.items():
        data = base64.b64encode(font.read_bytes()).decode()
        rules += f"@font-face{{font-family:g{grid};src:url(data:font/ttf;base64,{data})}}"
        for k, size in enumerate((grid, 2 * grid)):
            place = f"left:{k * 60}px;top:{top}px;width:{size}px;height:{size}px"
            rows += f'<i style="{place};font:{size}px/1 g{grid}">\ue000</i>'
            spots.append((k * 60, top, size, grid))
        top += 2 * grid + 4
    style = f"<style>{rules} body{{margin:0}} i{{position:absolute;color:#000}}</style>"
    page.write_text(f"<!doctype html><meta charset=utf-8>{style}{rows}", encoding="utf-8")
    return spots


def test_browsers_draw_no_grey(screenshot: Screenshot, fonts: dict[int, Path], tmp_path: Path) -> None:
    page = tmp_path / "page.html"
    spots = write_page(fonts, page)
    shot = np.asarray(screenshot(page, 600, spots[-1][1] + 300).convert("L"))
    for left, top, size, grid in spots:
        shown = shot[top : top + size, left : left + size]
        assert set(np.unique(shown).tolist()) == {0, 255}, (grid, size)
        assert (shown == 0).sum() * grid**2 == ink(grid) * size**2, (grid, size)


def test_a_grid_that_the_baseline_cuts_is_found(project: ProjectFolder) -> None:
    project.icon("steps", steps(20)).icon("more", steps(20).replace("M3 3v2", "M3 3v4"))
    project.icon("stairs", steps(20).replace("h3v-2z", "h4v-2z"))
    found = {d["icon"]: {f["code"] for f in d["findings"]} for d in check(project)}
    assert "between-pixels" not in found["steps"], "most icons have this grid, so the baseline is on a line of it"
    fixed = CONFIG.replace("[icons]", "descent = 0.125\n[icons]")
    found = {d["icon"]: {f["code"] for f in d["findings"]} for d in check(project.config(fixed))}
    assert "between-pixels" in found["steps"] and "between-pixels" not in found["anchor"]


def check(project: ProjectFolder) -> list[dict[str, Any]]:
    drawings: list[dict[str, Any]] = project.json("check")["drawings"]
    return drawings
