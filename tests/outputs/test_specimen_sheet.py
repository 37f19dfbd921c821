"""The specimen sheet, read back as a picture."""

from __future__ import annotations

import io

import numpy as np
import pytest
from PIL import Image

from oddpeg.iconset.model import Icon
from oddpeg.outputs.sheet_image import DARK, LIGHT, Heading, contact_sheet, grid_for
from support.icon_sets import icon_set
from support.project import CONFIG, RING, SQUARE, ProjectFolder


def darkness(png: bytes) -> np.ndarray:
    return 255 - np.asarray(Image.open(io.BytesIO(png)).convert("L")).astype(int)


def cells(picture: np.ndarray, count: int, names: bool = True) -> list[np.ndarray]:
    """Return the part of each cell that an icon may fill."""
    grid = grid_for(count, names)
    found = []
    for number in range(-(-count // grid.columns) * grid.columns):
        left, top = round(40 + number % grid.columns * grid.step[0]), 104 + number // grid.columns * grid.step[1]
        found.append(picture[top : top + grid.size + 14, left + 1 : round(left + grid.step[0]) - 1])
    return found


def test_every_icon_is_on_it_in_its_cell(demo: ProjectFolder) -> None:
    picture = darkness(demo.bytes("dist/web/saltmarsh-signs-specimen.png"))
    assert picture.shape == (104 + 9 * 100 + 40, 1280)
    shown = cells(picture, 82)[:82]
    assert len(shown) == 82 and min(int((cell > 100).sum()) for cell in shown) > 120
    assert max(int(cell[:, [0, -1]].max()) for cell in shown) < 60, (
        "nothing crosses into a neighbour, the widest included"
    )
    ahead, astern = shown[0], shown[3]
    assert np.abs(ahead[4:60] - astern[4:60][::-1]).mean() < 14, "the one points up, the other down"


def test_options_and_letters_that_cannot_be_drawn(project: ProjectFolder) -> None:
    project.icon("潮", RING).icon("low-" + "tide" * 12, SQUARE)
    plain, dark, bare = (
        f'{{ kind = "specimen-sheet", to = "{name}.png"{more} }}'
        for name, more in (("a", ""), ("b", ", dark = true"), ("c", ", names = false"))
    )
    project.config(CONFIG.replace('"specimen"]', f'"specimen", {plain}, {dark}, {bare}]')).deliver()
    first = project.bytes("dist/a.png")
    light, night, short = (darkness(project.bytes(f"dist/{name}.png")) for name in "abc")
    assert light[0, 0] < 10 and night[0, 0] > 220 and len(short) < len(light)
    assert all((cell > 100).any() for cell in cells(light, 4)[:4]) and not (cells(light, 4)[4] > 40).any()
    assert not (short[170:] > 40).any(), "no names"
    project.build("--force")
    assert project.bytes("dist/a.png") == first


@pytest.mark.exhaustive
@pytest.mark.parametrize(("count", "high"), [(600, 50 * 92), (1500, 94 * 84), (6000, 188 * 36)])
def test_thousands_become_smaller(demo: ProjectFolder, count: int, high: int) -> None:
    icons = [Icon(f"sign-{i}", 0xE000 + i % 70, "", 1008) for i in range(count)]
    font = demo.bytes("dist/desktop/saltmarsh-signs-line.ttf")
    picture = darkness(contact_sheet(icon_set(icons), {"regular": font}, Heading("Many " * 40, "x"), LIGHT, True))
    assert picture.shape == (104 + high + 40, 1280)
    assert min(int((cell > 60).sum()) for cell in cells(picture, count)[:count]) > 15
    assert darkness(contact_sheet(icon_set(icons[:9]), {"regular": font}, Heading("Few", "x"), DARK, False))[0, 0] > 220
