"""A variable font: strokes as wide as the weight says, exact at every weight."""

from __future__ import annotations

import io
import json
import re
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
import ots
import pytest
import uharfbuzz
from fontTools.ttLib import TTFont
from fontTools.varLib import instancer
from PIL import Image

from support.glyph_outlines import apart, merged
from support.pages import pick, visit
from support.project import ProjectFolder
from support.raster import drawing_mask, glyph_mask, wrong_share

CONFIG = """\
[font]
family = "Tide Marks"

[face.line]
from = ["icons/**/*.svg"]
weight = 400

[face.bold]
of = "line"
strokes = 1.75
weight = 700

[axis.weight]
of = "line"
strokes = { 200 = 0.5, 500 = 1.1, 700 = 1.75 }

[classes]
prefix = "tm"

[bundle.web]
into = "dist"
fonts = ["woff2", "woff", "ttf"]
outputs = ["css", "typescript", "json", "specimen"]

[bundle.still]
into = "still"
fonts = ["ttf"]
faces = ["line", "bold"]
"""
SVG = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24">{}</svg>'
STROKE = 'fill="none" stroke="#000" stroke-width="2"'
VARYING = {
    "wave": f'<path {STROKE} stroke-linejoin="round" stroke-linecap="round" d="M3 14c4-9 7 9 9 0s6-6 9-2"/>',
    "gate": f'<path {STROKE} d="M5 20V6h14v14"/>',
    "ring": f'<circle {STROKE} cx="12" cy="12" r="7"/>',
    "square-ends": f'<path {STROKE} stroke-linecap="square" d="M5 6h14M5 17l14-4"/>',
    "mitre-at-its-limit": f'<path {STROKE} stroke-miterlimit="4" d="M6 19L12 7l6 12M4 5l14 1-12 2"/>',
    "bevel": f'<path {STROKE} stroke-linejoin="bevel" d="M4 20L12 5l8 15z"/>',
    "cusp": f'<path {STROKE} d="M4 19C24 4 0 4 20 19"/>',
    "tight": '<path fill="none" stroke="#000" stroke-width="4" d="M6 17C8 3 16 3 18 17"/>',
    "doubles-back": f'<path {STROKE} stroke-linejoin="round" d="M6 12h12H9"/>',
    "dashes": f'<path {STROKE} stroke-dasharray="3 2" d="M4 7h16M4 16l16 2"/>',
    "dots": f'<path {STROKE} stroke-linecap="round" d="M6 6h0M12 12zM18 6h.001"/>',
    "skewed": f'<path {STROKE} transform="translate(1 6) scale(1 .5) skewX(15)" d="M3 2h11v14z"/>',
    "mirrored": f'<path {STROKE} transform="matrix(-1 0 0 1 24 0)" d="M5 5l14 4-9 9"/>',
    "filled": f'<path d="M4 4h16v6H4z"/><path {STROKE} d="M4 17h16M12 10v7"/>',
    "fill-and-stroke": '<path stroke="#000" stroke-width="2" d="M7 7h10v10H7z"/>',
}
STILL = {
    "plate": '<path d="M4 4h16v16H4z"/>',
    "cut": f'<path {STROKE} d="M4 12h16"/><path fill="#fff" d="M9 9h6v6H9z"/>',
    "clipped": '<clipPath id="c"><path d="M0 0h12v24H0z"/></clipPath>'
    f'<path {STROKE} clip-path="url(#c)" d="M4 12h16"/>',
}
FACTORS = {200: 0.5, 300: 0.75, 400: 1.0, 450: 1.05, 500: 1.1, 600: 1.425, 700: 1.75}


@pytest.fixture(scope="module")
def family(tmp_path_factory: pytest.TempPathFactory) -> ProjectFolder:
    project = ProjectFolder(tmp_path_factory.mktemp("axis")).config(CONFIG)
    for name, body in (VARYING | STILL).items():
        project.icon(name, SVG.format(body))
    project.build()
    return project


def codes(family: ProjectFolder) -> dict[str, int]:
    return {icon["name"]: icon["codepoint"] for icon in json.loads(family.read("dist/tide-marks.json"))["icons"]}


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
    for name, code in codes(family).items():
        wanted = drawing_mask(widened(name, FACTORS[weight]), 256, 256)
        assert wrong_share(wanted, glyph_mask(tmp_path / "instance.ttf", code, 256, 256)) < 0.002, name


@pytest.mark.parametrize(("weight", "face"), [(400, "line"), (700, "bold")])
def test_instances_are_the_static_faces(family: ProjectFolder, tmp_path: Path, weight: int, face: str) -> None:
    font = TTFont(family.root / "dist/tide-marks-weight.ttf")
    instancer.instantiateVariableFont(font, {"wght": weight}).save(tmp_path / "instance.ttf")
    for name, code in codes(family).items():
        got = glyph_mask(tmp_path / "instance.ttf", code, 512, 512)
        if name in STILL and face == "bold":
            continue  # does not vary
        assert wrong_share(glyph_mask(family.root / f"still/tide-marks-{face}.ttf", code, 512, 512), got) < 0.002, name


def test_outlines_of_instances_are_those_of_static_faces(tmp_path: Path) -> None:
    light = '[face.light]\nof = "line"\nstrokes = 0.5\nweight = 200\n\n[axis.weight]'
    text = CONFIG.replace("[axis.weight]", light).replace('["line", "bold"]', '["line", "bold", "light"]')
    family = ProjectFolder(tmp_path / "three").config(text)
    for name, body in VARYING.items():
        family.icon(name, SVG.format(body))
    family.build()
    for weight, face in ((200, "light"), (400, "line"), (700, "bold")):
        varying = TTFont(family.root / "dist/tide-marks-weight.ttf")
        instance = instancer.instantiateVariableFont(varying, {"wght": weight})
        still = TTFont(family.root / f"still/tide-marks-{face}.ttf")
        for name, code in codes(family).items():
            gaps = apart(merged(instance, code), merged(still, code))
            # both lie on whole units: sharp tips and crossings of slanted lines move by as much as that again
            assert (gaps > 1).mean() < 0.03 and gaps.max() < 1.75, (weight, name, gaps.max())


def test_what_cannot_vary_is_listed_and_stays(family: ProjectFolder) -> None:
    notes = json.loads(family.run("build", "--json").stdout)["notes"]
    fixed = {note["where"]: note["what"] for note in notes if note["code"] == "axis-fixed"}
    assert set(fixed) == {"icons/cut.svg", "icons/clipped.svg"}
    assert all("white or a clip cuts" in what for what in fixed.values())
    font = TTFont(family.root / "dist/tide-marks-weight.ttf")
    names = {name: font.getBestCmap()[code] for name, code in codes(family).items()}
    assert {name for name in names if not font["gvar"].variations.get(names[name])} == set(STILL)


def test_the_tables_say_what_pickers_need(family: ProjectFolder) -> None:
    font = TTFont(family.root / "dist/tide-marks-weight.ttf")
    (axis,) = font["fvar"].axes
    assert (axis.axisTag, axis.minValue, axis.defaultValue, axis.maxValue) == ("wght", 200, 400, 700)
    name = font["name"].getDebugName
    found = {i.coordinates["wght"]: name(i.subfamilyNameID) for i in font["fvar"].instances}
    assert found == {200: "Extra Light", 400: "Regular", 500: "Medium", 700: "Bold"}
    stat = font["STAT"].table
    assert {v.Value: name(v.ValueNameID) for v in stat.AxisValueArray.AxisValue} == found
    bent = {round(a, 3): round(b, 3) for a, b in font["avar"].segments["wght"].items()}
    assert bent == {-1: -1, 0: 0, 0.333: 0.133, 1: 1}
    assert all(font["glyf"][n].flags[0] & 0x40 for n in font["gvar"].variations if font["gvar"].variations[n])


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
        glyph = font.get_nominal_glyph(codes(family)["ring"])
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
    file = family.root / name
    file.write_text(
        '<!doctype html><meta charset="utf-8"><link rel="stylesheet" href="dist/tide-marks.css"><style>body{margin:0}'
        f" i{{position:absolute;display:flex;font-size:96px;line-height:1;color:#000}}</style>{cells}",
        encoding="utf-8",
    )
    return file


def compare(shot: Image.Image) -> None:
    shown = 1 - np.asarray(shot.convert("L"), dtype=float) / 255
    for row, factor in enumerate((0.5, 1.0, 1.425)):
        for column, icon in enumerate(("wave", "gate", "ring", "cut")):
            got = shown[100 * row : 100 * row + 96, 100 * column : 100 * column + 96]
            assert wrong_share(drawing_mask(widened(icon, factor), 96, 96), got) < 0.005, (icon, factor)
    for left in (400, 500):  # beside bold text; by the class of the face
        assert wrong_share(drawing_mask(widened("ring", 1.75), 96, 96), shown[:96, left : left + 96]) < 0.005


def test_chromium_varies_with_font_weight(family: ProjectFolder, browser: Any) -> None:
    visit(browser, spots(family, "chromium.html"), wide=800)
    compare(Image.open(io.BytesIO(browser.get_screenshot_as_png())))


def test_firefox_varies_with_font_weight(
    family: ProjectFolder, firefox: Callable[[Path, int, int], Image.Image]
) -> None:
    compare(firefox(spots(family, "firefox.html"), 800, 400))


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
    found = json.loads(family.run("proof", "--face", "weight", "--json").stdout)
    assert {f["weight"] for f in found["figures"]} == {200, 400, 500, 700} and not found["missed"]
    found = json.loads(family.run("proof", "--weight", "333", "--weight", "650", "--face", "weight", "--json").stdout)
    assert {f["weight"] for f in found["figures"]} == {333, 650} and not found["missed"]
    assert family.build("--prove").returncode == 0


FAULTS = {
    'of = "lin"': "nearest is 'line'",
    'of = "line"\nstrokes = { 200 = 1.5 }': "does not get wider with the weight: 200 = 1.5, 400 = 1",
    'of = "line"\nstrokes = { 400 = 2 }': "which stands for 1, not 2",
    'of = "line"\nstrokes = { thin = 0.5 }': "thin: is no weight",
    'of = "line"\nstrokes = { 200 = 0.0 }': "greater than or equal to 0.05",
    'of = "line"\nstrokes = {}': "at least 1",
}


@pytest.mark.parametrize("table", FAULTS)
def test_axes_that_make_no_sense_are_config_errors(tmp_path: Path, table: str) -> None:
    text = re.sub(
        r'of = "line"\nstrokes = \{.*', table + ("" if "\n" in table else "\nstrokes = { 200 = 0.5 }"), CONFIG
    )
    result = ProjectFolder(tmp_path).config(text).icon("gate").run("build")
    assert result.returncode == 2 and FAULTS[table] in result.stderr, result.stderr
    assert re.search(r"oddpeg.toml:\d+", result.stderr)


def test_old_formats_cannot_hold_a_variable_font(tmp_path: Path) -> None:
    text = CONFIG.replace('fonts = ["woff2", "woff", "ttf"]', 'fonts = ["woff2", "eot", "svg"]')
    result = ProjectFolder(tmp_path).config(text).icon("gate").run("build")
    assert result.returncode == 2 and "eot and svg cannot hold a variable font" in result.stderr


@pytest.mark.parametrize("fit", ["square", "ink"])
def test_other_placements_vary_as_exactly(tmp_path: Path, fit: str) -> None:
    text = CONFIG.replace('family = "Tide Marks"\n', f'family = "Tide Marks"\nfit = "{fit}"\n')
    project = ProjectFolder(tmp_path).config(text)
    for name in ("wave", "gate", "dashes", "filled"):
        project.icon(name, SVG.format(VARYING[name]))
    project.build()
    found = json.loads(project.run("proof", "--face", "weight", "--weight", "300", "--weight", "400", "--json").stdout)
    assert len(found["figures"]) == 8 and max(f["wrong"] for f in found["figures"]) < 0.005


def test_the_check_does_not_take_the_axis_for_a_face_of_its_own(family: ProjectFolder) -> None:
    found = json.loads(family.run("check", "--json").stdout)
    assert not [d for d in found["aside"] if d["code"] == "face-weights"]
