"""One codepoint and one class: the right drawing at every size and in every state."""

from __future__ import annotations

import io
import re
import shutil
from pathlib import Path
from typing import Any

import numpy as np
import ots
import pytest
import uharfbuzz
from fontTools.ttLib import TTFont
from fontTools.varLib import instancer
from PIL import Image

from support.data import table
from support.pages import Screenshot, visit
from support.project import CONFIG, ProjectFolder, codepoints
from support.raster import drawing_mask, glyph_mask, wrong_share

DATA = table("sizes")
SHOWN = [(icon, int(px), size) for icon, rows in DATA["shown"].items() for px, size in rows.items()]
CELL = 64  # pixels


def svg(name: str) -> str:
    size, body = DATA["drawings"][name]
    return f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {size} {size}">{body}</svg>'


def drawing_of(icon: str, size: int) -> str:
    """The drawing of an icon for a size."""
    names = [name for name in DATA["drawings"] if name.split("/")[-1].split("_")[0].split("-")[0] == icon]
    return svg(next(name for name in names if name.startswith(f"icons/{size}/")))


@pytest.fixture(scope="module")
def family(tmp_path_factory: pytest.TempPathFactory) -> ProjectFolder:
    project = ProjectFolder(tmp_path_factory.mktemp("sizes")).config(DATA["config"])
    for name in DATA["drawings"]:
        path = project.root / f"{name}.svg"
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_text(svg(name), encoding="utf-8")
    return project.deliver()


def sheet(family: ProjectFolder, name: str) -> Path:
    """A page with every size of every icon, each in a cell."""
    cells = "".join(
        f'<i class="tm-icon tm-{icon}" style="left:{CELL * n}px;font-size:{px}px"></i>'
        for n, (icon, px, _) in enumerate(SHOWN)
    )
    style = "body{margin:0;background:#fff}i{position:absolute;top:0;line-height:1;display:flex;color:#000}"
    head = '<!doctype html><meta charset="utf-8"><link rel="stylesheet" href="dist/tide-marks.css">'
    family.write(name, f"{head}<style>{style}</style>{cells}")
    return family.root / name


def differs(wanted: Any, ink: Any, left: int, ratio: int) -> float:
    """The share of wrong pixels; a pixel up or down, which browsers disagree on where the baseline is none, is not."""
    side = len(wanted)
    shares = []
    for down in range(-ratio, ratio + 1):
        got = ink[down + CELL : down + CELL + side, left : left + side]
        shares.append(wrong_share(wanted, got))
    return min(shares)


def compare(picture: Image.Image, ratio: int = 1) -> None:
    """Fail where a cell does not show the right drawing, or has a grey pixel at the drawing's own size."""
    ink = 1 - np.asarray(picture.convert("L"), dtype=float) / 255
    ink = np.pad(ink, ((CELL, CELL), (0, 0)))
    for number, (icon, px, size) in enumerate(SHOWN):
        left, side = CELL * number * ratio, px * ratio
        others = {size for name, _, size in SHOWN if name == icon}
        wrong = {s: differs(drawing_mask(drawing_of(icon, s), side, side), ink, left, ratio) for s in others}
        assert min(wrong, key=lambda other: wrong[other]) == size, (icon, px, wrong)
        assert wrong[size] < (0.001 if side % size == 0 else 0.25), (icon, px, wrong)  # baselines are whole pixels
        if side % size == 0:
            cell = ink[:, left : left + CELL * ratio]
            assert not ((cell > 0.02) & (cell < 0.98)).any(), (icon, px)


@pytest.mark.parametrize("ratio", [1, 2])
def test_browsers_choose_the_drawing_by_the_font_size(
    family: ProjectFolder, screenshot: Screenshot, ratio: int
) -> None:
    compare(screenshot(sheet(family, "sizes.html"), CELL * len(SHOWN), 100, ratio), ratio)


STATES = {
    '<i class="tm-icon tm-gate"></i>': False,
    '<i class="tm-icon tm-gate tm-moored"></i>': True,
    '<i class="tm-icon tm-gate tm-face-solid"></i>': True,
    '<b class="tm-moored"><i class="tm-icon tm-gate tm-face-line"></i></b>': False,
    '<b class="tm-moored"><i class="tm-icon tm-gate"></i></b>': True,
    '<i class="tm-icon tm-gate tm-moored" style="font-size:16px"></i>': True,
    '<tm-icon name="gate"></tm-icon>': False,
    '<tm-icon name="gate" state="moored"></tm-icon>': True,
}


def test_a_class_and_an_attribute_turn_a_state_on(family: ProjectFolder, browser: Any) -> None:
    cells = "".join(f'<p style="left:{CELL * n}px">{text}</p>' for n, text in enumerate(STATES))
    style = "<style>body,p{margin:0}p{position:absolute;top:0;font-size:48px;line-height:1}i{display:flex}</style>"
    head = '<!doctype html><meta charset="utf-8"><link rel="stylesheet" href="dist/tide-marks.css">'
    module = (family.root / "dist/tide-marks-element.mjs").read_text(encoding="utf-8")
    module = module.replace("import.meta.url", "document.baseURI + 'dist/'").replace("export ", "")
    family.write("states.html", f'{head}{style}{cells}<script type="module">{module}</script>')
    visit(browser, family.root / "states.html", wide=CELL * len(STATES))
    ink = 1 - np.asarray(Image.open(io.BytesIO(browser.get_screenshot_as_png())).convert("L"), dtype=float) / 255
    for number, (text, on) in enumerate(STATES.items()):
        side = 16 if "16px" in text else 48
        wanted = svg("solid/gate") if on else drawing_of("gate", 24)
        got = ink[:side, CELL * number : CELL * number + side]
        assert wrong_share(drawing_mask(wanted, side, side), got) < 0.02, text


@pytest.mark.parametrize("place", [{}, {"opsz": 16}, {"opsz": 19.5}, {"opsz": 24, "MOOR": 1}, {"opsz": 16, "MOOR": 1}])
def test_other_programs_agree(family: ProjectFolder, tmp_path: Path, place: dict[str, float]) -> None:
    """HarfBuzz chooses the same glyph as the instance of an independent library, which FreeType draws."""
    path = family.root / "dist/tide-marks-size.ttf"
    assert ots.sanitize(str(path)).returncode == 0
    tags = [axis.axisTag for axis in TTFont(path)["fvar"].axes]
    still = instancer.instantiateVariableFont(TTFont(path), {**dict.fromkeys(tags), **place})
    shown = {icon: size for icon, px, size in SHOWN if px == {16: 16, 19.5: 20}.get(place.get("opsz", 24), 24)}
    font = uharfbuzz.Font(uharfbuzz.Face(path.read_bytes()))
    font.set_variations(place)
    names = TTFont(path).getGlyphOrder()
    for icon, code in codepoints(family).items():
        buffer = uharfbuzz.Buffer()
        buffer.add_str(chr(code))
        buffer.guess_segment_properties()
        uharfbuzz.shape(font, buffer)
        on = icon == "gate" and len(place) == 2
        size = shown.get(icon, 24)
        wanted = f"{icon}_moored" if on else icon if size == 24 else f"{icon}_{size}"
        assert names[buffer.glyph_infos[0].codepoint] == wanted
        for subtable in still["cmap"].tables:
            subtable.cmap[code] = wanted  # what the shaper does, for what cannot shape
        still.save(tmp_path / "still.ttf")
        mask = drawing_mask(svg("solid/gate") if on else drawing_of(icon, size), 240, 240)
        raised = 6 if size == 20 else 0  # its baseline is 2 pixels of 20 above its lower edge, where 1/8 would be 2.5
        got = glyph_mask(tmp_path / "still.ttf", code, 240, 240)
        assert wrong_share(np.roll(mask, -raised, axis=0), got) < 0.002, (icon, size)


def test_the_sprite_holds_the_drawings_for_a_size(family: ProjectFolder) -> None:
    small = family.read("dist/small.svg")
    for icon, size in (("gate", 16), ("pier", 20), ("plain", 24)):
        (frame, path) = re.findall(rf'id="{icon}" viewBox="([^"]*)"><path[^>]* d="([^"]*)"', small)[0]
        shown = f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="{frame}"><path d="{path}"/></svg>'
        assert wrong_share(drawing_mask(drawing_of(icon, size), 240, 240), drawing_mask(shown, 240, 240)) < 0.002, icon
    sizes = {icon["name"]: icon.get("sizes") for icon in family.read_json("dist/tide-marks.json")["icons"]}
    assert sizes == {"gate": [16, 20, 24], "mark": [16, 24], "pier": [20, 24], "plain": None}


def test_states_go_together_and_an_icon_of_one_face_is_in_all(tmp_path: Path) -> None:
    config = DATA["config"].replace("[axis.moored]", '[axis.lit]\nfaces = ["line", "lamp"]\n\n[axis.moored]')
    config = config.replace("[axis.size]", '[face.lamp]\nfrom = ["lamp/*.svg"]\nweight = 800\n\n[axis.size]')
    project = ProjectFolder(tmp_path / "states").config(config)
    drawings = {**{name: svg(name) for name in DATA["drawings"]}, "lamp/gate": svg("icons/24/mark")}
    for name, text in {**drawings, "lamp/glow": svg("icons/24/plain")}.items():
        path = project.root / f"{name}.svg"
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_text(text, encoding="utf-8")
    project.deliver()
    data = (project.root / "dist/tide-marks-size.ttf").read_bytes()
    codes, names = codepoints(project), TTFont(io.BytesIO(data)).getGlyphOrder()
    for place, gate in (
        ({}, "gate"),
        ({"LIT": 1}, "gate_lit"),
        ({"MOOR": 1}, "gate_moored"),
        ({"LIT": 1, "MOOR": 1}, "gate_lit"),
    ):
        font = uharfbuzz.Font(uharfbuzz.Face(data))
        font.set_variations({next(t for t in ("LITX", "MOOR") if t.startswith(tag)): on for tag, on in place.items()})
        buffer = uharfbuzz.Buffer()
        buffer.add_str(chr(codes["gate"]) + chr(codes["glow"]))
        buffer.guess_segment_properties()
        uharfbuzz.shape(font, buffer)
        shown = [names[glyph.codepoint] for glyph in buffer.glyph_infos]
        assert shown[0] == gate and shown[1].startswith("glow"), place


def test_usage_knows_the_classes_of_faces_states_and_sizes(family: ProjectFolder) -> None:
    classes = ("tm-face-solid", "tm-face-line", "tm-moored", "tm-drawn-16")
    family.write("used.html", "".join(f'<i class="tm-icon tm-gate {one}"></i>' for one in classes))
    values = family.json("usage", "used.html")
    assert values["problems"] == [] == values["unknown"]
    family.write("used.html", '<i class="tm-icon tm-gate tm-drawn-18"></i>')
    assert [one["code"] for one in family.json("usage", "used.html")["problems"]] == ["class-unknown"]


def test_a_static_face_of_a_size_serves_programs_without_variations(family: ProjectFolder, tmp_path: Path) -> None:
    path = family.root / "desktop/tide-marks-size-16.ttf"
    font = TTFont(path)
    assert "fvar" not in font and font["name"].getDebugName(4) == "Tide Marks Size 16"
    assert ots.sanitize(str(path)).returncode == 0
    for icon, size in {"gate": 16, "mark": 16, "pier": 20, "plain": 24}.items():
        mask = drawing_mask(drawing_of(icon, size), 240, 240)
        assert wrong_share(mask, glyph_mask(path, codepoints(family)[icon], 240, 240)) < 0.005, icon
    proved = family.json("proof", "--face", "size-16")
    assert {figure["icon"] for figure in proved["figures"]} == {"gate", "mark", "plain"}
    for faces, said in {
        '["size-18"]': "did you mean size-16",
        '["line", "size-16"]\noutputs = ["css"]': "of its own",
    }.items():
        text = DATA["config"].replace('faces = ["line", "size-16"]', f"faces = {faces}")
        refused = ProjectFolder(tmp_path).config(text).run("build")
        assert refused.returncode == 2 and said in refused.stderr, refused.stderr


def test_the_specimen_has_every_drawing_beside_its_glyph(family: ProjectFolder, browser: Any) -> None:
    visit(browser, family.root / "dist/tide-marks-specimen.html", "#icon=gate")
    said = browser.execute_script(
        "return [...document.querySelectorAll('#panel figcaption')].map(one => one.firstChild.data)"
    )
    assert said == [f"{what}{size}" for size in ("", " for 16 px", " for 20 px") for what in ("glyph", "drawing")]
    boards = browser.find_elements("css selector", "#panel .board")
    pictures = [np.asarray(Image.open(io.BytesIO(board.screenshot_as_png)).convert("L")) < 64 for board in boards]
    for number, glyph in enumerate(pictures[::2]):
        apart = [(glyph ^ drawing).mean() for drawing in pictures[1::2]]
        assert np.argmin(apart) == number and min(apart) < 0.07, apart


def test_other_commands_speak_of_sizes(family: ProjectFolder, tmp_path: Path) -> None:
    assert "drawn for 16, 20, 24 px" in family.run("find", "gate").stdout
    assert family.json("find", "pier")["icons"][0]["sizes"] == [20, 24]
    rows = np.asarray(Image.open(family.root / "dist/tide-marks-specimen.png").convert("L"))
    ink = (rows[110:290, 60:140] < 128).any(axis=1)  # of the first icon at three sizes
    assert np.count_nonzero(np.diff(ink.astype(int)) == 1) == 3
    copy = ProjectFolder(tmp_path / "later")
    shutil.copytree(family.root, copy.root, dirs_exist_ok=True)
    copy.write("icons/16/gate-16.svg", svg("icons/16/gate-16").replace("M2 2h4", "M3 2h3")).deliver()
    said = copy.json("compare", family.root / "dist", copy.root / "dist")
    assert [(one["icon"], one["face"]) for one in said["redrawn"]] == [("gate", "under 18 px")]


def test_strokes_alone_vary_with_the_size_and_are_proved(project: ProjectFolder) -> None:
    text = CONFIG.replace("[classes]", "[axis.size]\nstrokes = { 16 = 1.4 }\n\n[classes]")
    project.config(f'{text}\n[bundle.small]\ninto = "small"\nfonts = ["ttf"]\nfaces = ["size"]\n').deliver()
    figures = {(f["icon"], f["face"]): f["wrong"] for f in project.json("proof")["figures"]}
    assert figures == dict.fromkeys(figures, 0.0) and ("buoy", "size with strokes of 16 px") in figures
