"""A variable font: strokes as wide as the weight says, exact at every weight."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Any

import numpy as np
import ots
import pytest
import uharfbuzz
from fontTools.ttLib import TTFont
from fontTools.varLib import instancer

from support.data import table
from support.pages import Screenshot, icon_page, pick, visit
from support.project import ProjectFolder, codepoints
from support.raster import drawing_mask, glyph_mask, wrong_share

DATA = table("axis")

CONFIG = DATA["config"]
SVG = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24">{}</svg>'
VARYING = DATA["varying"]
STILL = DATA["still"]
FACTORS = {200: 0.5, 300: 0.75, 400: 1.0, 450: 1.05, 500: 1.1, 600: 1.425, 700: 1.75}


@pytest.fixture(scope="module")
def family(tmp_path_factory: pytest.TempPathFactory) -> ProjectFolder:
    project = ProjectFolder(tmp_path_factory.mktemp("axis")).config(CONFIG)
    for name, body in (VARYING | STILL).items():
        project.icon(name, SVG.format(body))
    project.deliver()
    return project


def widened(name: str, factor: float) -> str:
    """A drawing with its strokes `factor` times as wide, in the drawing itself."""
    if name in STILL:
        return SVG.format(STILL[name])
    return SVG.format(re.sub(r'stroke-width="(\d)"', lambda m: f'stroke-width="{int(m[1]) * factor}"', VARYING[name]))


@pytest.mark.parametrize("weight", FACTORS)
def test_every_weight_is_the_drawing_with_its_strokes_as_wide(
    family: ProjectFolder, tmp_path: Path, weight: int
) -> None:
    font = TTFont(family.root / "dist/tide-marks-weight.ttf")
    still = instancer.instantiateVariableFont(font, {"wght": weight})
    still.save(tmp_path / "instance.ttf")
    for name, code in codepoints(family).items():
        wanted = drawing_mask(widened(name, FACTORS[weight]), 256, 256)
        assert wrong_share(wanted, glyph_mask(tmp_path / "instance.ttf", code, 256, 256)) < 0.002, name


@pytest.mark.parametrize(("weight", "face"), [(400, "line"), (700, "bold")])
def test_instances_are_the_static_faces(family: ProjectFolder, tmp_path: Path, weight: int, face: str) -> None:
    font = TTFont(family.root / "dist/tide-marks-weight.ttf")
    instancer.instantiateVariableFont(font, {"wght": weight}).save(tmp_path / "instance.ttf")
    for name, code in codepoints(family).items():
        got = glyph_mask(tmp_path / "instance.ttf", code, 512, 512)
        if name in STILL and face == "bold":
            continue  # does not vary
        assert wrong_share(glyph_mask(family.root / f"still/tide-marks-{face}.ttf", code, 512, 512), got) < 0.002, name


def test_what_cannot_vary_is_listed_and_stays(family: ProjectFolder) -> None:
    notes = family.json("build")["notes"]
    fixed = {note["where"]: note["what"] for note in notes if note["code"] == "axis-fixed"}
    assert set(fixed) == {"icons/cut.svg", "icons/clipped.svg"}
    assert all("white or a clip cuts" in what for what in fixed.values())
    font = TTFont(family.root / "dist/tide-marks-weight.ttf")
    names = {name: font.getBestCmap()[code] for name, code in codepoints(family).items()}
    assert {name for name in names if not font["gvar"].variations.get(names[name])} == set(STILL)


def test_the_tables_say_what_pickers_need(family: ProjectFolder) -> None:
    font = TTFont(family.root / "dist/tide-marks-weight.ttf")
    (axis,) = font["fvar"].axes
    assert (axis.axisTag, axis.minValue, axis.defaultValue, axis.maxValue) == ("wght", 200, 400, 700)
    name = font["name"].getDebugName
    found = {i.coordinates["wght"]: name(i.subfamilyNameID) for i in font["fvar"].instances}
    assert found == {200: "Extra Light", 400: "Line", 500: "Medium", 700: "Bold"}
    postscript = {i.coordinates["wght"]: name(i.postscriptNameID) for i in font["fvar"].instances}
    assert postscript[500] == f"{name(25)}-Medium" and postscript[400] == name(6) == "TideMarksVariable-Line"
    stat = font["STAT"].table
    (linked,) = [value for value in stat.AxisValueArray.AxisValue if value.Format == 3]
    assert (linked.Value, linked.LinkedValue) == (400, 700)
    assert {v.Value: name(v.ValueNameID) for v in stat.AxisValueArray.AxisValue} == found
    bent = {round(a, 3): round(b, 3) for a, b in font["avar"].segments["wght"].items()}
    assert bent == {-1: -1, 0: 0, 0.333: 0.133, 1: 1}
    assert all(font["glyf"][n].flags[0] & 0x40 for n in font["gvar"].variations if font["gvar"].variations[n])


def test_it_can_be_installed_beside_the_static_faces(family: ProjectFolder) -> None:
    """Two fonts clash if they have one family and style, or one PostScript name."""
    names = [TTFont(path)["name"] for path in (*family.root.glob("dist/*.ttf"), *family.root.glob("still/*.ttf"))]
    for ids in ((1, 2), (4,), (6,)):
        assert len({tuple(str(n.getDebugName(i)) for i in ids) for n in names}) == len(names) == 3
    varying, bold = (
        TTFont(family.root / f).get("name") for f in ("dist/tide-marks-weight.ttf", "still/tide-marks-bold.ttf")
    )
    instances = {
        varying.getDebugName(i.subfamilyNameID)
        for i in TTFont(family.root / "dist/tide-marks-weight.ttf")["fvar"].instances
    }
    assert bold.getDebugName(17) or bold.getDebugName(2) in instances, "a style has one name in both"


def test_a_stroke_that_grows_beyond_the_frame_is_whole_at_every_weight_and_in_every_face(
    project: ProjectFolder,
) -> None:
    family = project.icon("rim", SVG.format(DATA["reaching"]["rim"])).config(CONFIG)
    said = family.run("build", "--notes").stdout
    for face in ("weight", "bold"):
        told = "reaches beyond its frame by 3.2% of the em where its strokes are 1.75 times as wide"
        assert f"{told}; nothing was cut off (face {face})" in said
    code = codepoints(family)["rim"]
    varying, bold = (TTFont(family.root / f) for f in ("dist/tide-marks-weight.ttf", "still/tide-marks-bold.ttf"))
    heavy = instancer.instantiateVariableFont(varying, {"wght": 700})
    sides = [
        (g.xMin, g.yMin, g.xMax, g.yMax) for g in (font["glyf"][font.getBestCmap()[code]] for font in (heavy, bold))
    ]
    units, over = bold["head"].unitsPerEm, round(0.75 / 24 * bold["head"].unitsPerEm)
    assert (
        np.abs(np.subtract(sides[0], sides[1])).max() <= 1
        and abs(sides[0][0] + over) <= 1
        and abs(sides[0][2] - units - over) <= 1
    )
    for font in (TTFont(family.root / "dist/tide-marks-weight.ttf"), bold):
        box = font["head"]
        assert (box.xMin, box.xMax) == pytest.approx((-over, units + over), abs=1)
        assert font["OS/2"].usWinAscent >= sides[0][3] and font["OS/2"].usWinDescent >= -sides[0][1]
    assert "wrong pixels: mean 0.0" in family.run("proof", "rim").stdout


@pytest.mark.parametrize("ending", ["ttf", "woff", "woff2"])
def test_the_sanitizer_and_harfbuzz_read_the_font(family: ProjectFolder, tmp_path: Path, ending: str) -> None:
    made = tmp_path / "passed.ttf"
    done = ots.sanitize(str(family.root / f"dist/tide-marks-weight.{ending}"), str(made), capture_output=True)
    assert done.returncode == 0 and not done.stderr, done.stderr
    assert {"fvar", "gvar", "avar", "STAT"} <= set(TTFont(made).keys())
    font = uharfbuzz.Font(uharfbuzz.Face(made.read_bytes()))
    boxes = {}
    for weight in (200, 700):
        font.set_variations({"wght": weight})
        glyph = font.get_nominal_glyph(codepoints(family)["ring"])
        boxes[weight] = font.get_glyph_extents(glyph).width
    assert boxes[700] - boxes[200] == pytest.approx(1.25 * 2 / 24 * font.face.upem, abs=2)


def spots(family: ProjectFolder, name: str) -> Path:
    cells = ""
    for row, weight in enumerate((200, 400, 600)):
        for column, icon in enumerate(("wave", "gate", "ring", "cut")):
            place = f"left:{100 * column}px;top:{100 * row}px;font-weight:{weight}"
            cells += f'<i class="tm-icon tm-{icon}" style="{place}"></i>'
    cells += '<b style="position:absolute;left:400px;top:0"><i class="tm-icon tm-ring" style="position:static"></i></b>'
    cells += '<i class="tm-icon tm-ring tm-face-bold" style="left:500px;top:0;font-weight:200"></i>'
    return icon_page(family, name, cells)


def test_browsers_vary_with_font_weight(family: ProjectFolder, screenshot: Screenshot) -> None:
    shot = screenshot(spots(family, "weights.html"), 800, 400)
    shown = 1 - np.asarray(shot.convert("L"), dtype=float) / 255
    for row, factor in enumerate((0.5, 1.0, 1.425)):
        for column, icon in enumerate(("wave", "gate", "ring", "cut")):
            got = shown[100 * row : 100 * row + 96, 100 * column : 100 * column + 96]
            assert wrong_share(drawing_mask(widened(icon, factor), 96, 96), got) < 0.005, (icon, factor)
    for left in (400, 500):  # beside bold text; by the class of the face
        assert wrong_share(drawing_mask(widened("ring", 1.75), 96, 96), shown[:96, left : left + 96]) < 0.005


def test_the_specimen_has_a_slider(family: ProjectFolder, browser: Any) -> None:
    visit(browser, family.root / "dist/tide-marks-specimen.html")
    slider = browser.execute_script(
        "const w = document.getElementById('weight'); return [w.type, w.min, w.max, w.value]"
    )
    assert slider == ["range", "200", "700", "400"]
    pick(browser, "weight", "650")
    style = "return getComputedStyle(document.querySelector('#shown .face')).fontWeight"
    assert browser.execute_script(style) == "650"


def test_the_proof_looks_at_named_weights_and_others(family: ProjectFolder) -> None:
    found = family.json("proof", "--face", "weight")
    assert {f["weight"] for f in found["figures"]} == {200, 400, 500, 700} and not found["missed"]
    found = family.json("proof", "--weight", "333", "--weight", "650", "--face", "weight")
    assert {f["weight"] for f in found["figures"]} == {333, 650} and not found["missed"]
    assert family.build("--prove").returncode == 0


@pytest.mark.parametrize("fit", ["square", "ink"])
def test_other_placements_vary_as_exactly(tmp_path: Path, fit: str) -> None:
    text = CONFIG.replace('family = "Tide Marks"\n', f'family = "Tide Marks"\nfit = "{fit}"\n')
    project = ProjectFolder(tmp_path).config(text)
    for name in ("wave", "gate", "dashes", "filled"):
        project.icon(name, SVG.format(VARYING[name]))
    project.deliver()
    found = project.json("proof", "--face", "weight", "--weight", "300", "--weight", "400")
    assert len(found["figures"]) == 8 and max(f["wrong"] for f in found["figures"]) < 0.005


def test_no_drawing_ends_the_build_of_the_others(tmp_path: Path) -> None:
    project = ProjectFolder(tmp_path).config(CONFIG).icon("gate", SVG.format(VARYING["gate"]))
    for name, body in DATA["ended"].items():
        project.icon(name, SVG.format(body))
    project.build()
    assert "gate" in codepoints(project)
