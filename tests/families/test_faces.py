"""Faces of one family: one codepoint for an icon in all of them, one file for each, told apart by weight."""

from __future__ import annotations

import json
import re
import sys
from collections.abc import Callable
from pathlib import Path
from types import ModuleType
from typing import Any

import numpy as np
import pytest
from fontTools.ttLib import TTFont

from support.clients import run
from support.data import table
from support.pages import Screenshot, icon_page, pick, visit
from support.project import ProjectFolder, codepoints, oddpeg
from support.raster import drawing_mask, glyph_mask, wrong_share

DATA = table("faces")

CONFIG = DATA["config"]
DRAWINGS = DATA["drawings"]
FULL = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24"><path d="M2 2h20v20H2z"/></svg>'


@pytest.fixture(scope="module")
def family(tmp_path_factory: pytest.TempPathFactory) -> ProjectFolder:
    """Three icons in line and bold, one of them in solid too, and one in solid alone."""
    project = ProjectFolder(tmp_path_factory.mktemp("family")).config(CONFIG)
    for name, svg in DRAWINGS.items():
        project.icon(f"line/{name}", svg)
    project.icon("line/plate", FULL.replace("M2 2h20v20H2z", "M4 4h16v16H4z"))
    project.icon("solid/gate", FULL).icon("solid/buoy", FULL)
    project.deliver()
    return project


def test_an_icon_has_one_codepoint_in_all_faces(family: ProjectFolder) -> None:
    known = codepoints(family)
    fonts = {
        face: TTFont(family.root / f"dist/tide-marks-{face}.ttf").getBestCmap() for face in ("line", "bold", "solid")
    }
    private = {face: {code for code in cmap if code >= 0xE000} for face, cmap in fonts.items()}
    line = {known[name] for name in (*DRAWINGS, "plate")}
    assert private == {"line": line, "bold": line, "solid": {known["gate"], known["buoy"]}}
    assert family.read("pegboard.csv").count("live") == 5
    assert family.files("alone") == {"tide-marks-solid.ttf", "tide-marks.css"}
    assert re.findall(r"\.tm-(\w+)::before", family.read("alone/tide-marks.css")) == ["icon", "buoy", "gate"]


@pytest.mark.parametrize("name", DRAWINGS)
def test_strokes_are_as_wide_as_the_factor_says(family: ProjectFolder, name: str) -> None:
    width = float(re.search(r'stroke-width="([\d.]+)"', DRAWINGS[name])[1])  # type: ignore[index]
    wider = re.sub(r'stroke-width="[\d.]+"', f'stroke-width="{1.5 * width}"', DRAWINGS[name])
    got = glyph_mask(family.root / "dist/tide-marks-bold.ttf", codepoints(family)[name], 256, 256)
    assert wrong_share(drawing_mask(wider, 256, 256), got) == 0
    assert wrong_share(drawing_mask(DRAWINGS[name], 256, 256), got) > 0.1


def test_what_has_no_strokes_stays_and_is_noted(family: ProjectFolder) -> None:
    glyphs = [TTFont(family.root / f"dist/tide-marks-{face}.ttf")["glyf"] for face in ("line", "bold")]
    assert glyphs[0]["plate"] == glyphs[1]["plate"]
    notes = family.json("build")["notes"]
    assert [n["where"] for n in notes if n["code"] == "no-strokes"] == ["icons/line/plate.svg"]


def test_pickers_find_one_family_by_its_weights(family: ProjectFolder, client: Callable[[str], str]) -> None:
    form = "%{family[0]}|%{style[0]}|%{weight}|%{postscriptname}\\n"
    found = run(client("fc-scan"), "-f", form, *sorted((family.root / "dist").glob("*.ttf")), cwd=family.root)
    assert found.splitlines() == [
        "Tide Marks|Bold|200|TideMarks-Bold",
        "Tide Marks|Line|80|TideMarks-Line",
        "Tide Marks|Solid|210|TideMarks-Solid",
    ]
    names = {face: TTFont(family.root / f"dist/tide-marks-{face}.ttf") for face in ("line", "bold", "solid")}
    linked = {face: (font["name"].getDebugName(1), font["name"].getDebugName(2)) for face, font in names.items()}
    assert linked == {
        "line": ("Tide Marks", "Regular"),
        "bold": ("Tide Marks", "Bold"),
        "solid": ("Tide Marks Solid", "Regular"),
    }
    marks = {f: (o["OS/2"].usWeightClass, o["OS/2"].fsSelection & 0x61, o["head"].macStyle) for f, o in names.items()}
    assert marks == {"line": (400, 0x40, 0), "bold": (700, 0x20, 1), "solid": (900, 0x40, 0)}


SPOTS = [
    ("gate", "", "line"), ("gate", "solid", "solid"), ("wave", "bold", "bold"), ("wave", "solid", "bold"),
    ("buoy", "", "solid"), ("buoy", "bold", "solid"),
]  # fmt: skip


def page_of(family: ProjectFolder, name: str) -> Path:
    cells = "".join(
        f'<i class="tm-icon tm-{icon}{f" tm-face-{face}" if face else ""}" style="left:{100 * n}px"></i>'
        for n, (icon, face, _) in enumerate(SPOTS)
    )
    return icon_page(family, name, cells)


def test_browsers_show_the_nearest_face_that_has_an_icon(family: ProjectFolder, screenshot: Screenshot) -> None:
    shot = screenshot(page_of(family, "faces.html"), 700, 400)
    shown = 1 - np.asarray(shot.convert("L"), dtype=float) / 255
    for number, (icon, _, face) in enumerate(SPOTS):
        wanted = glyph_mask(family.root / f"dist/tide-marks-{face}.ttf", codepoints(family)[icon], 96, 96)
        got = shown[:96, 100 * number : 100 * number + 96]
        assert wrong_share(wanted, got) < 0.005, (icon, face)


def test_the_specimen_switches_faces(family: ProjectFolder, browser: Any) -> None:
    visit(browser, family.root / "dist/tide-marks-specimen.html")
    weight = "return getComputedStyle(document.querySelector('#shown .face')).fontWeight"
    assert browser.execute_script(weight) == "400"
    pick(browser, "weight", "900")
    assert browser.execute_script(weight) == "900"
    loaded = "return [...document.fonts].filter(f => f.status == 'loaded').map(f => f.weight).sort().join()"
    assert "900" in browser.execute_script(loaded)


def test_types_know_which_faces_have_an_icon(
    family: ProjectFolder, client: Callable[[str], str], tmp_path: Path
) -> None:
    (tmp_path / "marks.ts").write_text(family.read("dist/tide-marks.ts"))
    use = """import type { TideMarksFace, TideMarksFaceNames } from "./marks";
import { tideMarksFaces } from "./marks";
function show<F extends TideMarksFace>(face: F, name: TideMarksFaceNames[F]): number { return tideMarksFaces[face]; }
show("line", "wave"); show("solid", "buoy");
// @ts-expect-error the solid face has no wave
show("solid", "wave");
// @ts-expect-error nor is there a face of that name
show("thin", "wave");
"""
    (tmp_path / "use.ts").write_text(use)
    run(client("tsc"), "--strict", "--noEmit", "--target", "es2022", "--moduleResolution", "bundler", "--module",
        "esnext", "use.ts", cwd=tmp_path)  # fmt: skip


def test_style_sheets_of_other_languages_choose_faces(
    family: ProjectFolder, client: Callable[[str], str], tmp_path: Path
) -> None:
    dist = family.root / "dist"
    (tmp_path / "own.scss").write_text(
        '@use "tide-marks-mixins" as tm; .x { @include tm.before("gate", $face: "solid"); }'
    )
    css = run(client("sass"), f"--load-path={dist}", "own.scss", cwd=tmp_path)
    assert "font-weight: 900;" in css.split(".x::before")[1] and css.count("@font-face") == 6
    (tmp_path / "own.less").write_text('@import "tide-marks.less"; .x { .tm-before("gate"); .tm-face-solid(); }')
    css = run(client("lessc"), f"--include-path={dist}", "own.less", cwd=tmp_path)
    assert css.index("400 1em") < css.rindex("font-weight: 900;")


def test_the_proof_looks_at_every_face(family: ProjectFolder) -> None:
    found = family.json("proof")
    assert {(f["icon"], f["face"]) for f in found["figures"]} >= {("wave", "line"), ("wave", "bold"), ("buoy", "solid")}
    assert len(found["figures"]) == 10 and not found["missed"] and not found["faults"]
    one = family.json("proof", "--face", "solid")
    assert {f["icon"] for f in one["figures"]} == {"gate", "buoy"}
    result = family.run("proof", "--face", "sold")
    assert result.returncode == 2 and "there is no face 'sold'" in result.stderr


def test_the_check_finds_gaps_and_other_frames(family: ProjectFolder, tmp_path: Path) -> None:
    project = ProjectFolder(tmp_path / "own").config(CONFIG)
    project.icon("line/gate", DRAWINGS["gate"]).icon("line/wave", DRAWINGS["wave"])
    project.icon("solid/gate", FULL.replace("0 0 24 24", "0 0 30 24"))
    found = project.json("check")["drawings"]
    codes_of = {d["source"]: {f["code"] for f in d["findings"]} for d in found}
    assert "face-frame" in codes_of["icons/solid/gate.svg"] and "face-gap" in codes_of["icons/line/wave.svg"]
    assert "face-gap" not in codes_of["icons/line/gate.svg"]


def test_lines_to_paste_are_there_for_every_face(family: ProjectFolder) -> None:
    lines = [use["text"] for use in family.json("use", "gate")["lines"]]
    assert '<span class="tm-icon tm-gate tm-face-solid"></span>' in lines
    assert '<span class="tm-icon tm-gate tm-face-line"></span>' not in lines, "it is the default face"
    lines = [use["text"] for use in family.json("use", "wave")["lines"]]
    assert not any("tm-face-solid" in line for line in lines), "that face has no wave"
    family.write("page.html", '<i class="tm-icon tm-gate tm-face-solid"></i>')
    found = family.json("usage", "page.html")
    assert [u["name"] for u in found["used"]] == ["gate"] and not found["unknown"]


def test_folders_called_like_styles_become_faces(tmp_path: Path) -> None:
    project = ProjectFolder(tmp_path / "set").icon("Outline/gate", DRAWINGS["gate"]).icon("solid/gate", FULL)
    result = oddpeg("init", project.root, cwd=tmp_path)
    assert result.returncode == 0 and "outline, solid" in result.stdout
    project.deliver()
    assert {"set-outline.woff2", "set-solid.woff2"} <= project.files("dist/web")


def test_qt_lists_one_family_by_its_weights(family: ProjectFolder, library: Callable[[str], ModuleType]) -> None:
    library("PySide6")
    script = """
import json, sys
from PySide6.QtGui import QFontDatabase, QGuiApplication
app = QGuiApplication([])
for file in sys.argv[1:]:
    QFontDatabase.addApplicationFont(file)
print(json.dumps({s: QFontDatabase.weight("Tide Marks", s) for s in QFontDatabase.styles("Tide Marks")}))
"""
    files = [str(family.root / f"dist/tide-marks-{face}.ttf") for face in ("line", "bold", "solid")]
    said = run(sys.executable, "-c", script, *files, cwd=family.root, QT_QPA_PLATFORM="offscreen")
    assert json.loads(said) == {"Line": 400, "Bold": 700, "Solid": 900}


def test_finding_tells_which_faces_have_an_icon(family: ProjectFolder) -> None:
    everywhere = {i["name"]: i["faces"] for i in family.json("find", "gate")["icons"]}
    solid = family.json("find", "gate", "--face", "solid")["icons"]
    assert set(everywhere["gate"]) >= {"line", "bold"} and [i["name"] for i in solid] == [
        name for name, faces in everywhere.items() if "solid" in faces
    ]
    assert "[line bold" in family.run("find", "gate").stdout
    wrong = family.run("find", "gate", "--face", "solidd")
    assert wrong.returncode == 2 and "there is no face 'solidd'" in wrong.stderr and "solid" in wrong.stderr
