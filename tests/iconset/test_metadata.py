"""What is known of icons besides their drawings: `icons.csv`, licences, names from folders, and hostile texts in all
of them."""

from __future__ import annotations

import csv
import io
import subprocess
from collections.abc import Callable
from typing import Any

import pytest
import tinycss2
from fontTools.ttLib import TTFont
from lxml import html

from support.data import table
from support.project import CONFIG, RING, SQUARE, ProjectFolder
from support.xml import elements, text_of

DATA = table("metadata")

TABLE = """\
icon,aliases,tags,title,licence,credit
anchor,"mooring, Holding Ground","harbour, rope",Anchorage,CC0-1.0,A. Drawer
buoy,,mark,,,
"""
RIGHTS = '\n[[rights]]\nfiles = "icons/*"\nlicence = "Free with credit"\ncredit = "Drawing office"\n'


def facts(project: ProjectFolder) -> dict[str, dict[str, Any]]:
    return {i["name"]: i for i in project.read_json("dist/tide-marks.json")["icons"]}


def codes(project: ProjectFolder, *args: str) -> list[tuple[str, str]]:
    """(code, level) of everything that `check` finds about tables, names and licences."""
    told = project.json("check", *args)
    found = [f for d in told["drawings"] for f in d["findings"]] + told["aside"]
    return sorted(
        (f["code"], f["level"]) for f in found if f["code"].startswith(("table", "alias", "no-licence", "name"))
    )


@pytest.mark.parametrize("mark", [",", ";", "\t"])
def test_a_table_gives_names_tags_and_licences(project: ProjectFolder, mark: str) -> None:
    rows = list(csv.reader(io.StringIO(TABLE)))
    out = io.StringIO()
    csv.writer(out, delimiter=mark).writerows(rows)
    (project.root / "icons/icons.csv").write_text("\ufeff" + out.getvalue(), encoding="utf-8")
    project.config(CONFIG + RIGHTS).deliver()
    anchor, buoy = facts(project)["anchor"], facts(project)["buoy"]
    assert anchor["aliases"] == ["mooring", "holding-ground"] and anchor["tags"] == ["harbour", "rope"]
    assert (anchor["title"], anchor["licence"], anchor["credit"]) == ("Anchorage", "CC0-1.0", "A. Drawer")
    assert (buoy["licence"], buoy["credit"]) == ("Free with credit", "Drawing office"), "by the config's rule"
    assert ".tm-holding-ground::before, /* other name of anchor */" in project.read("dist/tide-marks.css")
    assert "The icon is called" not in project.read("dist/tide-marks.ts")
    licence = str(TTFont(project.root / "dist/tide-marks.ttf")["name"].getDebugName(13))
    assert licence == "CC0-1.0: 1 icon (A. Drawer); Free with credit: 1 icon (Drawing office)"


def test_titles_and_descriptions_come_from_drawings_unless_the_table_has_one(project: ProjectFolder) -> None:
    project.icon("anchor", SQUARE.replace("<path", "<title>From\n the file</title><desc>Holds a ship</desc><path"))
    project.deliver()
    assert (facts(project)["anchor"]["title"], facts(project)["anchor"]["description"]) == (
        "From the file",
        "Holds a ship",
    )
    (project.root / "icons/icons.csv").write_text(TABLE, encoding="utf-8")
    project.deliver()
    assert facts(project)["anchor"]["title"] == "Anchorage"


@pytest.mark.parametrize(("table", "found"), DATA["faults_of_a_table_are_findings"])
def test_faults_of_a_table_are_findings(project: ProjectFolder, table: str, found: list[list[str]]) -> None:
    (project.root / "icons/icons.csv").write_text(table, encoding="utf-8")
    assert codes(project) == [tuple(row) for row in found]
    told = project.run("check").stdout
    assert "icons/icons.csv:" in told and "→" in told
    assert "warnings on 1 file" in project.build().stdout and "icons/icons.csv" in project.build("--notes").stdout


def test_licences_can_be_required(project: ProjectFolder) -> None:
    (project.root / "icons/icons.csv").write_text(TABLE, encoding="utf-8")
    required = CONFIG.replace("[icons]", '[icons]\nlicences = "required"')
    project.config(required)
    assert codes(project) == [("no-licence", "error")] and project.run("check").returncode == 1
    assert "buoy.svg: has no licence" in project.build(code=1).stderr
    project.config(required + RIGHTS).deliver()
    assert codes(project) == []


@pytest.mark.parametrize(("rights", "bits"), [("installable", 0), ("editable", 8), ("preview", 4), ("restricted", 2)])
def test_embedding_rights_follow_the_config(project: ProjectFolder, rights: str, bits: int) -> None:
    project.config(CONFIG.replace("[icons]", f'embedding = "{rights}"\n[icons]')).deliver()
    assert TTFont(project.root / "dist/tide-marks.ttf")["OS/2"].fsType == bits


def test_credits_are_written_when_asked_for(project: ProjectFolder) -> None:
    (project.root / "icons/icons.csv").write_text(TABLE, encoding="utf-8")
    project.config(CONFIG.replace('"json"', '"json", "credits"')).deliver()
    assert (
        project.read("dist/tide-marks-credits.txt")
        == "Tide Marks 1.0\n\n2 icons, by licence.\n\nCC0-1.0\n  A. Drawer: 1\n    anchor\n\nno licence named\n "
        " without a credit: 1\n    buoy\n"
    )


def test_folders_can_be_part_of_names(project: ProjectFolder) -> None:
    project.icon("Deck Signs/Exit", RING).icon("exit")
    clash = project.build(code=1)
    assert "is the icon 'exit' too" in clash.stderr
    project.config(CONFIG.replace("[icons]", '[icons]\nfolders = "prefix"')).deliver()
    assert set(facts(project)) == {"anchor", "buoy", "deck-signs-exit", "exit"}
    assert project.run("pegs", "rename", "deck-signs-exit", "way-out").returncode == 2, "its folder is part of its name"
    assert project.run("pegs", "rename", "deck-signs-exit", "deck-signs-way-out").returncode == 0
    assert (project.root / "icons/Deck Signs/way-out.svg").is_file()


def test_a_rename_takes_the_table_along(project: ProjectFolder) -> None:
    (project.root / "icons/icons.csv").write_text(TABLE, encoding="utf-8")
    project.deliver()
    assert "renamed it in icons/icons.csv" in project.run("pegs", "rename", "buoy", "marker").stdout
    project.deliver()
    assert facts(project)["marker"]["tags"] == ["mark"] and codes(project) == []


@pytest.mark.parametrize(("names", "odd"), DATA["names_out_of_pattern_are_found"])
def test_names_out_of_pattern_are_found(tmp_path: Any, names: list[str], odd: str) -> None:
    project = ProjectFolder(tmp_path / "set").config()
    for i, name in enumerate(names):
        project.icon(name, SQUARE.replace("16v16", f"1{i % 7}v{4 + i}"))
    told = project.json("check")
    unlike = [d["source"] for d in told["drawings"] if any(f["code"] == "name-unlike" for f in d["findings"])]
    assert unlike == [f"icons/{odd}.svg"]


HOSTILE = DATA["hostile"]


def test_hostile_names_and_texts_stay_names_and_texts(tmp_path: Any, client: Callable[[str], str]) -> None:
    """Files, titles, tags and credits that try to break out of every output; parsed by each language's own parser."""
    project = ProjectFolder(tmp_path / "set").config(CONFIG.replace('"json"', '"json", "credits"'))
    out = io.StringIO()
    table = csv.writer(out)
    table.writerow(["icon", "aliases", "tags", "title", "licence", "credit"])
    for i, text in enumerate(HOSTILE):
        project.icon(text.replace("/", "⁄"), SQUARE.replace("M4 4", f"M{i % 8} {4 - i / 8:g}"))
        table.writerow([text, f"alias {text}", text, text, text, text])
    (project.root / "icons/icons.csv").write_text(out.getvalue(), encoding="utf-8")
    project.deliver()
    names = set(facts(project))
    rules = tinycss2.parse_stylesheet(project.read("dist/tide-marks.css"), skip_comments=True, skip_whitespace=True)
    assert {r.type for r in rules} == {"qualified-rule", "at-rule"} and not any(
        "body" in r.serialize()[:6] for r in rules
    )
    assert len([r for r in rules if r.type == "qualified-rule"]) == len(names) + 1
    page = html.fromstring(project.read("dist/tide-marks-specimen.html"))
    assert not page.xpath("//b[text()='old']") and not [
        s for s in elements(page, "//script") if s.text and s.text.strip().startswith("alert")
    ]
    use = 'import { tideMarksPegs } from "./tide-marks";\nexport const all = Object.keys(tideMarksPegs).length;\n'
    (project.root / "dist/use.ts").write_text(use, encoding="utf-8")
    done = subprocess.run(
        [client("tsc"), "--strict", "--noEmit", "use.ts"],
        cwd=project.root / "dist",
        capture_output=True,
        text=True,
        timeout=120,
    )
    assert done.returncode == 0, done.stdout
    sheet = project.run("check", "--sheet", "sheet.html")
    assert "Traceback" not in sheet.stderr
    page = html.fromstring(project.read("sheet.html"))
    assert not elements(page, "//script") and len(elements(page, "//li")) == len(HOSTILE)


def test_the_sheet_as_a_page_shows_every_drawing_and_what_was_found(project: ProjectFolder) -> None:
    project.icon("faint", SQUARE.replace("<path", '<path opacity=".4"').replace("16v16", "9v9")).icon("broken", "<svg")
    assert project.run("check", "--sheet", "sheet.html").returncode == 1
    page = html.fromstring(project.read("sheet.html"))
    assert [li.get("class") for li in elements(page, "//li")] == ["error", "warning", "fine", "fine"]
    assert "partial-opacity" in text_of(elements(page, "//li[2]")[0]) and len(elements(page, "//svg")) == 3
    assert project.run("check", "--sheet", "sheet.gif").returncode == 2
