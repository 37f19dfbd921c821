"""`oddpeg compare`: every kind of change is found, called by its name, and weighed."""

from __future__ import annotations

import io
import json
import shutil
from typing import Any

import pytest
from PIL import Image

from support.project import CONFIG, SQUARE, ProjectFolder


@pytest.fixture
def shipped(project: ProjectFolder) -> ProjectFolder:
    """A project whose first build is kept in `old`."""
    project.icon("cleat", SQUARE.replace("M4 4", "M5 5")).deliver()
    shutil.copytree(project.root / "dist", project.root / "old")
    shutil.copy(project.root / "pegboard.csv", project.root / "old.csv")
    return project


def found(project: ProjectFolder, *args: str, code: int = 0) -> dict[str, Any]:
    result = project.run("compare", *args, "--json")
    assert result.returncode == code, result.stdout + result.stderr
    values: dict[str, Any] = json.loads(result.stdout)
    return values


def test_nothing_changed(shipped: ProjectFolder) -> None:
    values = found(shipped, "old", "dist", "--allow", "none")
    assert values["step"] == "none" and not any(
        values[k] for k in ("added", "gone", "moved", "renamed", "redrawn", "resized", "facts")
    )


def test_added_gone_moved_renamed_redrawn_resized(shipped: ProjectFolder) -> None:
    shipped.run("pegs", "rename", "cleat", "bitt")
    shipped.icon("davit").icon(
        "buoy", SQUARE.replace('viewBox="0 0 24 24"', 'viewBox="0 0 30 24"').replace("h16", "h22")
    )
    shipped.deliver()
    values = found(shipped, "old", "dist", "--allow", "minor")
    assert values["added"] == ["davit"] and values["renamed"] == [{"old": "cleat", "new": "bitt", "alias": True}]
    assert [r["icon"] for r in values["redrawn"]] == ["buoy"] and values["resized"] == [
        {"icon": "buoy", "from": 1.0, "to": 1.25}
    ]
    assert values["step"] == "minor" and {s["file"] for s in values["sizes"]} == {
        p.name for p in (shipped.root / "dist").iterdir()
    }
    board = shipped.read("pegboard.csv").replace("anchor,U+E000", "anchor,U+E0AA")
    (shipped.root / "pegboard.csv").write_text(board)
    (shipped.root / "icons/buoy.svg").unlink()
    shipped.deliver()
    values = found(shipped, "old", "dist", "--allow", "minor", code=1)
    assert values["moved"] == [{"icon": "anchor", "from": 0xE000, "to": 0xE0AA}] and values["gone"] == ["buoy"]
    assert values["step"] == "major" and values["allowed"] is False
    text = shipped.run("compare", "old", "dist", "--allow", "patch")
    assert text.returncode == 1 and "allowed is patch" in text.stderr
    assert "MOVED    anchor: U+E000 → U+E0AA" in text.stdout


@pytest.mark.parametrize("kind", ["tide-marks.ttf", "tide-marks.woff", "tide-marks.woff2", "tide-marks.json"])
def test_single_files(shipped: ProjectFolder, kind: str) -> None:
    shipped.icon("davit").icon("anchor", SQUARE.replace("h16", "h15")).deliver()
    values = found(shipped, f"old/{kind}", f"dist/{kind}")
    assert (
        values["added"] == (["davit"] if kind.endswith(("ttf", "json")) else ["U+E003"]) and values["step"] == "minor"
    )
    assert bool(values["redrawn"]) == (not kind.endswith("json"))


def test_pegboards_and_a_font_without_names_borrow_names(shipped: ProjectFolder) -> None:
    shipped.icon("anchor", SQUARE.replace("h16", "h15")).deliver()
    assert found(shipped, "old.csv", "pegboard.csv")["step"] == "none"
    values = found(shipped, "old", "dist/tide-marks.woff2")
    assert [r["icon"] for r in values["redrawn"]] == ["anchor"] and values["step"] == "patch"


def test_rounding_is_not_redrawing_and_a_shift_of_one_grid_step_is(shipped: ProjectFolder) -> None:
    shipped.config(CONFIG.replace("[icons]", "units_per_em = 1500\n[icons]")).deliver()
    values = found(shipped, "old", "dist")
    assert (
        values["redrawn"] == []
        and {f["what"] for f in values["facts"]} >= {"units_per_em"}
        and values["step"] == "major"
    )
    shipped.icon("anchor", SQUARE.replace("M4 4", "M4.25 4")).deliver()
    assert [r["icon"] for r in found(shipped, "old", "dist")["redrawn"]] == ["anchor"]


def test_family_and_metrics(shipped: ProjectFolder) -> None:
    shipped.config(CONFIG.replace("[icons]", "descent = 0.2\n[icons]")).deliver()
    assert found(shipped, "old/tide-marks.ttf", "dist/tide-marks.ttf")["step"] == "major"
    shipped.config(CONFIG.replace('"Tide Marks"', '"Moorings"')).deliver()
    values = found(shipped, "old/tide-marks.ttf", "dist/moorings.ttf")
    assert values["step"] == "major" and {"what": "family", "from": "Tide Marks", "to": "Moorings"} in values["facts"]


def test_the_picture_shows_old_and_new(shipped: ProjectFolder) -> None:
    shipped.icon("anchor", SQUARE.replace("h16", "h12")).deliver()
    result = shipped.run("compare", "old", "dist", "--picture", "redrawn.png")
    assert "picture: redrawn.png" in result.stdout
    picture = Image.open(io.BytesIO(shipped.bytes("redrawn.png")))
    colours = {c for _, c in picture.getcolors(1 << 20) or []}
    assert picture.width == 1280 and (21, 94, 160) in colours, "what is gone is blue"
    assert shipped.run("compare", "old", "dist", "--picture", "pegboard.csv").returncode == 1, (
        "a foreign file is not replaced"
    )


TWO_COLOURS = (
    '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24">'
    '<path fill="#20343c" d="M4 4h16v16H4z"/><path fill="#c1492c" d="M8 8h4v8H8z"/></svg>'
)
PALETTES = """
[palettes.day]
rust = "#c1492c"
[palettes.night]
rust = "#c1492d"
"""


@pytest.fixture
def coloured(project: ProjectFolder) -> ProjectFolder:
    """A project with a font in colours, whose first build is kept in `old`."""
    project.config(CONFIG.replace("[bundle.web]", "[bundle.web]\ncolour = true") + PALETTES)
    project.icon("buoy", TWO_COLOURS).deliver()
    shutil.copytree(project.root / "dist", project.root / "old")
    return project


@pytest.mark.parametrize("colours", ["true", '"gradients"'])
def test_a_colour_of_one_layer_is_seen(coloured: ProjectFolder, colours: str) -> None:
    text = coloured.read("oddpeg.toml").replace("colour = true", f"colour = {colours}")
    coloured.config(text).icon("buoy", TWO_COLOURS.replace("#20343c", "#21343c")).deliver()
    values = found(coloured, "old", "dist", "--allow", "patch")
    assert [(r["icon"], r["palette"]) for r in values["recoloured"]] == [("buoy", 0)]
    assert all(r["share"] == pytest.approx(1 - 4 * 8 / 256, abs=0.01) for r in values["recoloured"])
    assert not values["redrawn"] and values["step"] == "patch"


def test_a_colour_of_one_palette_is_seen(coloured: ProjectFolder) -> None:
    coloured.config(coloured.read("oddpeg.toml").replace("#c1492d", "#ffb49c")).deliver()
    values = found(coloured, "old", "dist")
    assert [(r["icon"], r["palette"]) for r in values["recoloured"]] == [("buoy", 1)]
    shown = coloured.run("compare", "old", "dist", "--picture", "changes.png").stdout
    assert "coloured buoy (palette 1): 12." in shown and "picture: changes.png" in shown
    picture = Image.open(io.BytesIO(coloured.bytes("changes.png")))
    colours = {c for _, c in picture.getcolors(1 << 20) or []}
    assert {(0xC1, 0x49, 0x2D), (0xFF, 0xB4, 0x9C)} <= colours


def test_colours_that_come_or_go_are_no_patch(coloured: ProjectFolder) -> None:
    coloured.config(CONFIG).deliver()
    for sides in (("old", "dist"), ("dist", "old")):
        values = found(coloured, *sides, "--allow", "minor")
        assert values["step"] == "minor" and {r["icon"] for r in values["recoloured"]} == {"buoy"}
        assert "colours" in {f["what"] for f in values["facts"]}


def test_a_bundle_without_names_takes_them_from_its_project(coloured: ProjectFolder) -> None:
    coloured.config(coloured.read("oddpeg.toml").replace('"ttf", ', "").replace("#c1492d", "#ffb49c")).deliver()
    for kept in ("old", "dist"):
        for path in (coloured.root / kept).iterdir():
            if path.suffix != ".woff2":
                path.unlink()
    assert [r["icon"] for r in found(coloured, "old", "dist")["recoloured"]] == ["buoy"]
    assert [r["icon"][:2] for r in found(coloured, "dist", "old")["recoloured"]] == ["U+"], "that is no bundle"
