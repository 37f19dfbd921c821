"""One small drawing per SVG feature, built by the installed command and compared with an independent renderer."""

from __future__ import annotations

import json

import pytest

from support.gallery import drawings, plain_svg
from support.project import ProjectFolder
from support.raster import drawing_mask, glyph_mask, wrong_share


@pytest.fixture(scope="module")
def gallery(tmp_path_factory: pytest.TempPathFactory) -> ProjectFolder:
    made = ProjectFolder(tmp_path_factory.mktemp("gallery")).config()
    for name, (box, body) in drawings().items():
        made.icon(name, f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="{box}">{body}</svg>')
    made.build()
    return made


@pytest.mark.parametrize("name", drawings())
def test_feature_looks_as_drawn(gallery: ProjectFolder, name: str) -> None:
    box = [float(v) for v in drawings()[name][0].split()]
    height = 240
    width = round(height * box[2] / box[3])
    svg = plain_svg(name, f'width="{box[2] * 10:g}" height="{box[3] * 10:g}"')
    wanted = drawing_mask(svg, width, height)
    assert (wanted > 0.5).any(), "the drawing itself must show something"
    icon = next(i for i in json.loads(gallery.read("dist/tide-marks.json"))["icons"] if i["name"] == name)
    got = glyph_mask(gallery.root / "dist/tide-marks.ttf", icon["codepoint"], width + 1, height)[:, :width]
    assert wrong_share(wanted, got) <= 0.005


def test_the_comparison_would_notice_a_wrong_glyph(gallery: ProjectFolder) -> None:
    icons = {i["name"]: i["codepoint"] for i in json.loads(gallery.read("dist/tide-marks.json"))["icons"]}
    svg = gallery.read("icons/even-odd.svg").replace("<svg ", '<svg width="24" height="24" ', 1)
    other = glyph_mask(gallery.root / "dist/tide-marks.ttf", icons["non-zero"], 240, 240)
    assert wrong_share(drawing_mask(svg, 240, 240), other) > 0.05
