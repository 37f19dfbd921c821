"""Mistakes in code that keep icons from showing: each planted one is named with its cure, right code gets no report."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest

from support.data import table
from support.project import RING, SQUARE, ProjectFolder

DATA = table("problems")


@pytest.fixture(scope="module")
def site(tmp_path_factory: pytest.TempPathFactory) -> ProjectFolder:
    project = ProjectFolder(tmp_path_factory.mktemp("site") / "set").config(DATA["config"])
    project.icon("anchor").icon("home", RING).icon("search", SQUARE.replace("M4 4", "M3 3")).deliver()
    (project.root / "app").mkdir()
    return project


def problems(site: ProjectFolder, file: str, text: str) -> list[dict[str, Any]]:
    for path in (site.root / "app").iterdir():
        path.unlink()
    site.write(f"app/{file}", text + "\n")
    found: list[dict[str, Any]] = json.loads(site.run("usage", "app", "--json").stdout)["problems"]
    return found


@pytest.mark.parametrize("file", DATA["planted"])
def test_planted_mistakes_are_named(site: ProjectFolder, file: str) -> None:
    rows = DATA["planted"][file]
    found = problems(site, file, "\n".join(text for text, _, _ in rows))
    told = {(one["line"], one["code"], one["fix"] or "-") for one in found}
    assert told == {(line, code, fix) for line, (_, code, fix) in enumerate(rows, 1)}
    assert all(one["cure"] and one["file"] == f"app/{file}" and one["column"] > 0 for one in found)


@pytest.mark.parametrize("file", DATA["right"])
def test_right_code_gets_no_report(site: ProjectFolder, file: str) -> None:
    assert problems(site, file, "\n".join(DATA["right"][file])) == []


def test_what_has_one_answer_is_corrected(site: ProjectFolder) -> None:
    lines = [text for text, code, fix in DATA["planted"]["page.html"] if fix != "-"]
    problems(site, "page.html", "\n".join(lines))
    said = site.run("usage", "app", "--fix", "--yes")
    assert said.returncode == 0, said.stdout + said.stderr
    left = site.json("usage", "app")["problems"]
    assert {one["code"] for one in left} <= {"loaded-twice"}, left


def test_warnings_fail_where_that_is_asked_for(site: ProjectFolder, tmp_path: Path) -> None:
    assert problems(site, "a.css", ".bfs-icon::before { font-weight: bold }")
    assert site.run("usage", "app").returncode == 0 and site.run("usage", "app", "--strict").returncode == 1
    problems(site, "a.html", '<i class="bfs-home"></i>')
    said = site.run("usage", "app", "--sarif", "app.sarif", "--force")
    assert said.returncode == 1 and "a.html:1:11: error: bfs-home without bfs-icon has no font" in said.stderr
    assert [one["ruleId"] for one in site.read_json("app.sarif")["runs"][0]["results"]] == ["class-without-base"]


def test_comments_and_texts_are_no_code(site: ProjectFolder) -> None:
    page = '<!-- <i class="bfs-search"></i> --><pre>class="bfs-search"</pre>'
    assert problems(site, "page.html", page) == []
    sheet = '/* .a { font-family: "BSF"; content: "e000" } */ @media print { /* .b { font-family: "BSF" } */ }'
    assert problems(site, "page.css", sheet) == []
