"""`oddpeg check`: the right verdict, the right finding, the cure; levels as the config says."""

from __future__ import annotations

import io
import json
import shutil
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from fontTools.ttLib import TTFont
from lxml import etree
from PIL import Image

from oddpeg.checking.examine import CheckResult, examine
from oddpeg.checking.siblings import compare_siblings, view
from oddpeg.checking.verdict import Verdict
from oddpeg.diagnostic_codes import CODES, Level
from oddpeg.diagnostics import Diagnostic
from oddpeg.outline.model import Options
from oddpeg.outline.placement import Em
from support.data import table
from support.project import CONFIG, RING, SQUARE, ProjectFolder, oddpeg
from support.xml import attribute

DATA = table("check")

OPTIONS = Options(Em(1008))


def one(body: str, root: str = 'viewBox="0 0 24 24"') -> CheckResult:
    svg = f'<svg xmlns="http://www.w3.org/2000/svg" xmlns:ed="urn:example:editor" {root}>{body}</svg>'
    return examine([(svg.encode(), None)], OPTIONS)[0]


INK = '<path d="M4 4h16v16H4z"/>'

CONVERTED = DATA["converted"]
LOOKS = {
    "off-centre": '<path d="M1 1h8v8H1z"/>',
    "touches-frame": '<path d="M0 4h24v16H0z"/>',
    "off-grid": '<path d="M4.3 4.3h15.4v15.4H4.3z"/>',
    "fine-details": '<path d="M4 4h16v.5H4zM4 8h16v.5H4zM4 12h16v.5H4zM4 19.5h16v.5H4z"/>',
    "many-points": (
        '<path d="M12 12'
        + "".join(
            f"L{12 + 8 * np.cos(k):.3f} {12 + 8 * np.sin(k):.3f}L{12 + 4 * np.cos(k + 0.01):.3f}"
            f" {12 + 4 * np.sin(k + 0.01):.3f}"
            for k in np.arange(210) / 33.5
        )
        + 'z"/>'
    ),
}


@pytest.mark.parametrize("code", CONVERTED)
def test_conversions_are_named_and_lossless_ones_fit(code: str) -> None:
    found = one(CONVERTED[code])
    assert code in {f.code for f in found.diagnostics}
    lost = {"colours-merged", "white-erases", "gradient", "straight-lines", "overlapping"}
    lossless = CODES[code].level is Level.INFO and code not in lost
    assert found.verdict is (Verdict.FITS if lossless else Verdict.ADJUSTED)


@pytest.mark.parametrize("code", LOOKS)
def test_findings_on_looks_adjust_nothing(code: str) -> None:
    found = one(LOOKS[code])
    assert code in {f.code for f in found.diagnostics} and found.verdict is Verdict.FITS
    assert all(f.what and (f.cure or f.level is Level.INFO) for f in found.diagnostics)


def test_a_plain_path_on_the_grid_has_no_findings() -> None:
    assert one(INK).diagnostics == [] and one(INK).verdict is Verdict.FITS
    wide = one('<path d="M4 4h40v16H4z"/>', 'viewBox="0 0 48 24"')
    assert [f.code for f in wide.diagnostics] == ["not-square"]


FRAME = b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9">'
ENTITIES = b"".join(b'<!ENTITY a%d "%s">' % (i, (b"&a%d;" % (i - 1) if i else b"&a;") * 20) for i in range(7))
UNFIT = {
    b"": "empty-file",
    FRAME + b"<g/></svg>": "no-ink",
    FRAME + b"<text>tide</text></svg>": "text",
    FRAME + b'<path d="M0 0' + b"l1 1l1-1" * 40_000 + b'z"/></svg>': "runaway",
    FRAME + b"<g>" * 900 + b"</g>" * 900 + b"</svg>": "runaway",
    b'<!DOCTYPE s [<!ENTITY a "aaaaaaaaaaaaaaaaaaaa">'
    + ENTITIES
    + b"]>"
    + FRAME
    + b"<title>&a6;</title></svg>": "runaway",
}


def test_what_wont_fit_has_a_cure() -> None:
    for found, code in zip(examine([(svg, None) for svg in UNFIT], OPTIONS), UNFIT.values(), strict=True):
        last = found.diagnostics[-1]
        assert found.verdict is Verdict.REJECTED and (last.code, last.level) == (code, Level.ERROR)
        assert last.what and last.cure


def test_every_registered_code_has_a_level_and_a_text_of_its_own() -> None:
    assert all(code.summary and code.level is not Level.SILENT for code in CODES.values())
    assert len({code.summary for code in CODES.values()}) == len(CODES), "each says something of its own"
    with pytest.raises(KeyError):
        Diagnostic("no-such-code", "is not registered")


def siblings(**bodies: str) -> dict[str, CheckResult]:
    found = {name.replace("_", "-"): one(body) for name, body in bodies.items()}
    files = {name: name for name in found}
    compare_siblings(found, files, view(found, files))
    return found


def stroke(width: float, size: int = 16) -> str:
    return (
        f'<path fill="none" stroke="#000" stroke-width="{width}" d="M{12 - size / 2} {12 - size / 2}h{size}v{size}z"/>'
    )


def codes(found: dict[str, CheckResult]) -> dict[str, set[str]]:
    own = {"stroke-unlike", "small", "large", "twin", "name-alike", "grid-unlike"}
    kept = {name: {d.code for d in e.diagnostics} & own for name, e in found.items()}
    return {name: codes for name, codes in kept.items() if codes}


def test_outliers_of_a_set() -> None:
    found = siblings(a=stroke(2), b=stroke(2, 15), c=stroke(2, 14), d=stroke(2, 13), e=stroke(1.5), f=stroke(2, 3))
    assert codes(found) == {"e": {"stroke-unlike"}, "f": {"small"}}
    told = next(f for f in found["e"].diagnostics if f.code == "stroke-unlike")
    assert told.what == "has strokes of 1.5, most others of 2"


def test_twins_and_names_alike() -> None:
    found = siblings(ferry=INK, ferries=RING, tide_1=stroke(2), tide_01=stroke(2, 12), quay=INK, tide_11=stroke(2, 8))
    assert codes(found) == {"ferry": {"twin"}, "quay": {"twin"}, "tide-1": {"name-alike"}, "tide-01": {"name-alike"}}


def report(project: ProjectFolder, *args: str, code: int = 0) -> dict[str, Any]:
    result = project.run("check", *args, "--json")
    assert result.returncode == code, result.stdout + result.stderr
    values: dict[str, Any] = json.loads(result.stdout)
    return values


def test_a_project_is_checked_before_anything_is_built(project: ProjectFolder) -> None:
    values = report(project.icon("bad", "<svg").icon("Tide Low", SQUARE), code=1)
    assert values["count"] == {"fits": 3, "adjusted": 0, "rejected": 1}
    by_icon = {d["icon"]: d for d in values["drawings"]}
    assert by_icon["bad"]["findings"][-1]["line"] == 1 and by_icon["tide-low"]["findings"][0]["code"] == "name-changed"
    assert {p.name for p in project.root.iterdir()} == {"icons", "oddpeg.toml"}, "nothing is written"
    text = project.run("check").stdout
    assert "4 drawings: 3 fit, 0 adjusted, 1 rejected" in text and "icons/bad.svg:1: is not well-formed XML" in text
    assert (
        "→ correct the file at that line" in text
        and "name-changed" not in text
        and "name-changed" in project.run("check", "--all").stdout
    )


def test_levels_are_the_configs_to_set_and_reasons_are_repeated(project: ProjectFolder) -> None:
    project.icon("faint", SQUARE.replace("<path", '<path opacity=".4"'))
    assert project.run("check").returncode == 0 and project.run("check", "--strict").returncode == 1
    rule = (
        '\n[[checks]]\nfinding = "partial-opacity"\nlevel = "{}"\nicons = "{}"\nreason = "glass is meant to be faint"\n'
    )
    project.config(CONFIG + rule.format("error", "*"))
    failed = project.run("check")
    assert failed.returncode == 1 and "because the config says: glass is meant to be faint" in failed.stdout
    project.config(CONFIG + rule.format("error", "*") + rule.format("silent", "fai*"))
    quiet = project.run("check", "--strict")
    assert quiet.returncode == 1, "a twin is left"
    assert (
        "partial-opacity" in quiet.stdout.splitlines()[-1]
        and "silenced by the config, 1 time: partial-opacity: glass" in quiet.stdout
    )
    wrong = project.config(CONFIG + rule.format("silent", "*").replace("partial-opacity", "partial-opacty")).run(
        "check"
    )
    assert wrong.returncode == 2 and "did you mean partial-opacity?" in wrong.stderr


def test_files_and_folders_without_a_config(project: ProjectFolder) -> None:
    (project.root / "oddpeg.toml").unlink()
    assert oddpeg("check", "icons/anchor.svg", cwd=project.root).stdout.startswith("1 drawing: 1 fit")
    assert oddpeg("check", "icons", cwd=project.root).stdout.startswith("2 drawings")
    missing = oddpeg("check", "nowhere.svg", cwd=project.root)
    assert missing.returncode == 1 and "nowhere.svg: cannot be read" in missing.stderr
    (project.root / "empty").mkdir()
    assert "no drawings found" in oddpeg("check", "empty", cwd=project.root).stderr


def test_normalized_drawings_are_plain_paths_that_make_the_same_glyphs(demo: ProjectFolder, tmp_path: Path) -> None:
    result = demo.run("check", "icons", "--write", tmp_path / "plain")
    assert result.returncode == 0 and "82 normalized drawings" in result.stdout
    files = sorted((tmp_path / "plain").iterdir())
    for path in files:
        root = etree.fromstring(path.read_bytes())
        (child,) = root
        assert set(root.attrib) == {"viewBox"} and etree.QName(child).localname == "path" and set(child.attrib) == {"d"}
        assert attribute(root, "viewBox").startswith("0 0 ") and set(attribute(child, "d")) <= set("MLQz0123456789.- ")
    again = ProjectFolder(tmp_path / "again").config((demo.root / "oddpeg.toml").read_text())
    shutil.copytree(tmp_path / "plain", again.root / "icons")
    for folder in ("plates", "small"):
        shutil.copytree(demo.root / folder, again.root / folder)
    again.run("build", "desktop")
    values = demo.json("compare", "dist/desktop", again.root / "dist/desktop")
    redrawn = [item for item in values["redrawn"] if "face" not in item]  # bold has no strokes to widen any more
    assert redrawn == [] and values["resized"] == [] and values["gone"] == [] and values["moved"] == []
    fonts = [TTFont(p.root / "dist/desktop/saltmarsh-signs-line.ttf")["glyf"] for p in (demo, again)]
    for name in fonts[0].glyphOrder:
        assert fonts[0][name] == fonts[1][name], f"{name} is not the same point by point"
    assert json.loads(oddpeg("check", tmp_path / "plain", "--json", cwd=tmp_path).stdout)["count"] == {
        "fits": 82,
        "adjusted": 0,
        "rejected": 0,
    }


def test_originals_are_not_overwritten(project: ProjectFolder) -> None:
    result = project.run("check", "--write", "icons")
    assert result.returncode == 1 and "exists and differs; nothing was written" in result.stderr
    assert project.read("icons/buoy.svg") == RING
    assert project.run("check", "--write", "icons", "--force").returncode == 0 and "stroke" not in project.read(
        "icons/buoy.svg"
    )


def test_the_contact_sheet(project: ProjectFolder) -> None:
    project.icon("bad", "<svg").icon("faint", SQUARE.replace("<path", '<path opacity=".4"').replace("M4 4", "M3 4"))
    result = project.run("check", "--sheet", "sheet.png")
    assert "contact sheet: sheet.png" in result.stdout
    picture = Image.open(io.BytesIO(project.bytes("sheet.png")))
    colours = {c for _, c in picture.getcolors(1 << 20) or []}
    assert picture.width == 1280 and {(176, 42, 32), (201, 132, 26), (82, 128, 96), (23, 35, 43)} <= colours


def test_a_large_set_is_checked_on_all_processors(project: ProjectFolder) -> None:
    for i in range(170):
        project.icon(f"many-{i:03}", SQUARE.replace("M4 4", f"M4 {4 + i / 100}"))
    values = report(project)
    assert len(values["drawings"]) == 172 and values["set"]["grids"] == {"24": 172}
    assert [d["icon"] for d in values["drawings"]] == sorted(d["icon"] for d in values["drawings"])


def test_the_summary_is_the_same_every_time(project: ProjectFolder) -> None:
    for number, colours in enumerate(("#123 #456 #789", "#abc #def #fed")):
        paths = "".join(f'<path fill="{c}" d="M4 4h{n}v9z"/>' for n, c in enumerate(colours.split(), 5))
        project.icon(f"flag-{number}", f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24">{paths}</svg>')
    shown = {project.run("check", PYTHONHASHSEED=seed).stdout for seed in ("1", "2", "3", "4")}
    assert len(shown) == 1, "colours are as frequent as each other, and listed in one order"
