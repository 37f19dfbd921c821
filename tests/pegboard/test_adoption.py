"""Codepoints adopted from maps and fonts, and the spellings of a codepoint."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from oddpeg.pegboard.maps import parse_codepoint
from support.data import table
from support.project import CONFIG, RING, SQUARE, ProjectFolder, codepoints

DATA = table("adoption")


@pytest.mark.parametrize("spelled", DATA["the_usual_spellings_of_a_codepoint"])
def test_the_usual_spellings_of_a_codepoint(spelled: object) -> None:
    assert parse_codepoint(spelled) == 0xE001


MAPS = DATA["maps"]


@pytest.mark.parametrize("name", MAPS)
def test_adopting_from_maps(project: ProjectFolder, name: str) -> None:
    (project.root / name).write_text(
        MAPS[name].replace("57892", "57893" if name == "map.json" else "57892"), encoding="utf-8"
    )
    result = project.run("pegs", "adopt", name, "--strip", "sm-", "--json")
    report = json.loads(result.stdout)
    assert report["taken"] == ["anchor"] and report["near"] == {"sm-bouy": ["buoy"]} and report["waiting"] == ["buoy"]
    project.deliver()
    assert codepoints(project) == {"anchor": 0xE123, "buoy": 0xE000}
    assert "gull,U+E224,retired" in project.read("pegboard.csv") or "bouy,U+E224,retired" in project.read(
        "pegboard.csv"
    )


@pytest.mark.parametrize("kind", ["ttf", "woff", "woff2"])
def test_adopting_from_a_font(project: ProjectFolder, tmp_path: Path, kind: str) -> None:
    old = (
        ProjectFolder(tmp_path / "old")
        .config(CONFIG.replace('"Tide Marks"', f'"Old {kind}"'))
        .icon("anchor", RING)
        .icon("gull", SQUARE)
    )
    (old.root / "pegboard.csv").write_text("icon,codepoint,state\nanchor,U+0041,live\ngull,U+E777,live\n")
    old.deliver()
    font = old.root / f"dist/old-{kind}.{kind}"
    result = project.run("pegs", "adopt", str(font))
    if kind == "ttf":
        assert result.returncode == 0, result.stdout + result.stderr
        project.deliver()
        assert codepoints(project)["anchor"] == 0x41 and "gull,U+E777,retired" in project.read("pegboard.csv")
    else:  # web fonts carry no names: their codepoints are reserved
        assert "unnamed-e777" in result.stdout and "unnamed-e777,U+E777,retired" in project.read("pegboard.csv")


def test_adopting_moves_nothing_unless_asked(project: ProjectFolder) -> None:
    project.deliver()
    (project.root / "map.json").write_text('{"anchor": "U+E500", "buoy": "U+0300"}')
    before = project.read("pegboard.csv")
    result = project.run("pegs", "adopt", "map.json")
    assert (
        result.returncode == 1
        and "anchor stays on U+E000 (the file says U+E500)" in result.stdout
        and "combining" in result.stdout
    )
    assert project.read("pegboard.csv") == before
    assert "nothing was changed" in project.run("pegs", "adopt", "map.json", "--move", "--dry-run").stdout
    assert project.read("pegboard.csv") == before
    assert "MOVED anchor: U+E000 → U+E500" in project.run("pegs", "adopt", "map.json", "--move").stdout
