"""Icons as large as their ink allows."""

from __future__ import annotations

from typing import Any

import pytest
from fontTools.pens.boundsPen import BoundsPen
from fontTools.ttLib import TTFont

from support.data import table
from support.project import CONFIG, ProjectFolder

DATA = table("ink")

DRAWINGS = DATA["drawings"]


def boxes(font: TTFont) -> dict[str, tuple[float, float, float, float]]:
    glyphs: Any = font.getGlyphSet()
    found = {}
    for name in DRAWINGS:
        pen = BoundsPen(glyphs)
        glyphs[name].draw(pen)
        found[name] = pen.bounds
    return found


@pytest.mark.parametrize(("padding", "share"), [("", 1 / 12), ("padding = 0\n", 0.0), ("padding = 0.2\n", 0.2)])
def test_ink_fills_the_em_but_for_its_padding(project: ProjectFolder, padding: str, share: float) -> None:
    for name, svg in DRAWINGS.items():
        project.icon(name, svg)
    project.config(CONFIG.replace("[icons]", f'fit = "ink"\n{padding}[icons]')).deliver()
    font = TTFont(project.root / "dist/tide-marks.ttf")
    units, hhea = font["head"].unitsPerEm, font["hhea"]
    middle = (hhea.ascent + hhea.descent) / 2
    for name, (left, bottom, right, top) in boxes(font).items():
        assert font["hmtx"][name][0] == units, name
        assert max(right - left, top - bottom) == pytest.approx(units * (1 - 2 * share), abs=1.5), name
        assert (left + right) / 2 == pytest.approx(units / 2, abs=1), name
        assert (bottom + top) / 2 == pytest.approx(middle, abs=1), name
        assert left >= 0 and right <= units and bottom >= hhea.descent and top <= hhea.ascent, name
    left, bottom, right, top = boxes(font)["erased"]
    assert (right - left) / (top - bottom) == pytest.approx(10 / 20, abs=0.01), "what white erases is no ink"
    left, bottom, right, top = boxes(font)["beyond"]
    assert (right - left) / (top - bottom) == pytest.approx(10 / 8, abs=0.01), "what lies outside of the frame is cut"


def test_it_is_proved_and_said(project: ProjectFolder) -> None:
    for name, svg in DRAWINGS.items():
        project.icon(name, svg)
    project.config(CONFIG.replace("[icons]", 'fit = "ink"\n[icons]'))
    built = project.build()
    assert "every icon as large as its ink allows" in built.stdout
    proof = project.run("proof", "--size", "256")
    assert proof.returncode == 0, proof.stdout + proof.stderr
