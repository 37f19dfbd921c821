"""What lands on disk: created, replaced, removed when stale, and never anyone else's."""

from __future__ import annotations

import json
import re
from pathlib import Path

import pytest

from oddpeg.outputs.registry import KINDS
from support.project import CONFIG, ProjectFolder, oddpeg


def test_a_build_prints_a_line_for_each_bundle_and_every_file_where_asked(project: ProjectFolder) -> None:
    short = project.build().stdout
    assert re.search(r"^  web    7 files +[\d.]+ kB  7 written$", short, re.M) and "dist/" not in short
    result = project.build("--files")
    for name in project.files():
        size = len(project.bytes(f"dist/{name}"))
        line = next(line for line in result.stdout.splitlines() if f"dist/{name} " in line + " ")
        assert f"{size / 1000:,.1f} kB" in line


def test_only_what_was_asked_for_is_written(project: ProjectFolder) -> None:
    project.config(
        CONFIG.replace('["css", "typescript", "json", "specimen"]', '["json"]').replace(
            '["woff2", "woff", "ttf"]', '["woff2"]'
        )
    ).deliver()
    assert project.files() == {"tide-marks.woff2", "tide-marks.json"}


def test_stale_files_of_ours_go_and_are_named_and_others_stay(project: ProjectFolder) -> None:
    project.deliver()
    (project.root / "dist/notes.txt").write_text("mine")
    result = project.config(CONFIG.replace('"Tide Marks"', '"Moorings"').replace(', "ttf"', "")).build()
    assert project.files() == {
        "notes.txt",
        *(f"moorings{e}" for e in (".woff2", ".woff", ".css", ".ts", ".json", "-specimen.html")),
    }
    for old in ("tide-marks.ttf", "tide-marks.css"):
        assert f"removed dist/{old}" in result.stdout


def test_a_bundle_that_left_the_config_is_cleared_away(project: ProjectFolder) -> None:
    project.config(CONFIG + '\n[bundle.app]\ninto = "app/fonts"\nfonts = ["ttf"]\n').deliver()
    assert (project.root / "app/fonts/tide-marks.ttf").exists()
    project.build("web")
    assert (project.root / "app/fonts/tide-marks.ttf").exists(), "building one bundle leaves the others alone"
    project.config().deliver()
    assert not (project.root / "app").exists()


def test_hand_edited_files_are_noticed_and_kept(project: ProjectFolder) -> None:
    project.deliver()
    (project.root / "dist/tide-marks.css").write_text("edited")
    result = project.icon("cleat").build(code=1)
    assert "edited since the last build" in result.stderr
    assert project.read("dist/tide-marks.css") == "edited"
    assert "cleat" not in project.read("dist/tide-marks.json"), "all or nothing"
    assert "cleat" not in project.read("pegboard.csv")


def test_an_edited_stale_file_is_kept_and_said(project: ProjectFolder) -> None:
    project.deliver()
    (project.root / "dist/tide-marks.ts").write_text("edited")
    result = project.config(CONFIG.replace('"typescript", ', "")).build(code=1)
    assert "dist/tide-marks.ts: is no longer an output, but was edited since the last build" in result.stderr
    assert project.read("dist/tide-marks.ts") == "edited"


def test_faint_paint_is_kept_or_dropped_as_the_config_says(project: ProjectFolder) -> None:
    project.icon(
        "buoy",
        '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24"><path d="M2 2h4v4z"/><path opacity=".3" d="M9'
        ' 9h9v9z"/></svg>',
    )
    from fontTools.ttLib import TTFont

    for line, contours in (
        ('translucent = "solid"', 2), ('translucent = "drop"', 1), ('faint = "keep"', 2), ('faint = "drop"', 1)
    ):  # fmt: skip
        project.config(CONFIG.replace("[icons]", f"[icons]\n{line}"))
        told = "oddpeg.toml:5: icons.faint: this key is called translucent now" in project.build().stderr
        assert told == line.startswith("faint")
        font = TTFont(project.root / "dist/tide-marks.ttf")
        assert font["glyf"]["buoy"].numberOfContours == contours


def test_quiet_and_json(project: ProjectFolder) -> None:
    assert project.build("--quiet").stdout == ""
    report = json.loads(project.build("--json").stdout)
    assert report["icons"] == 2 and report["units_per_em"] == 1008
    assert {f["path"] for f in report["files"]} == {f"dist/{n}" for n in project.files()}
    assert not any(f["changed"] for f in report["files"])


def test_build_finds_the_config_from_below(project: ProjectFolder) -> None:
    assert oddpeg("build", cwd=project.root / "icons").returncode == 0
    assert (project.root / "dist/tide-marks.css").exists()


def test_init_writes_a_config_that_builds_as_it_is(tmp_path: Path) -> None:
    project = ProjectFolder(tmp_path / "salt-works").icon("anchor")
    (project.root / "art").mkdir()
    (project.root / "art/Tide Low.svg").write_text(project.read("icons/anchor.svg"))
    result = project.run("init")
    assert result.returncode == 0 and "2 drawings" in result.stdout
    assert 'family = "Salt Works"' in project.read("oddpeg.toml")
    project.deliver()
    names = [i["name"] for i in project.read_json("dist/web/salt-works.json")["icons"]]
    assert names == ["anchor", "tide-low"]
    before = project.read("oddpeg.toml")
    again = project.run("init")
    assert again.returncode == 2 and "--force" in again.stderr and project.read("oddpeg.toml") == before


def test_outputs_lists_every_kind(tmp_path: Path) -> None:
    text = oddpeg("outputs", cwd=tmp_path).stdout
    listed = json.loads(oddpeg("outputs", "--json", cwd=tmp_path).stdout)
    assert {kind["name"] for kind in listed["outputs"]} == set(KINDS) and len(KINDS) >= 36
    for entry in listed["fonts"] + listed["outputs"]:
        assert entry["name"] in text and entry["summary"] in text


@pytest.mark.exhaustive
def test_demo_prints_what_to_open_and_spares_what_is_there(tmp_path: Path) -> None:
    result = oddpeg("demo", "here", cwd=tmp_path)
    assert result.returncode == 0 and "5 written" in result.stdout and "warnings" not in result.stdout
    opened = result.stdout.strip().splitlines()[-1].removeprefix("open ").strip()
    assert (tmp_path / opened).is_file()
    (tmp_path / "here/oddpeg.toml").write_text("mine")
    again = oddpeg("demo", "here", cwd=tmp_path)
    assert again.returncode == 1 and "exists and differs" in again.stderr
    assert (tmp_path / "here/oddpeg.toml").read_text() == "mine"
