"""A build in which nothing changed compares and ends; whatever changed, it is built."""

from __future__ import annotations

import json
import shutil
import sqlite3
from collections.abc import Callable
from typing import Any

import pytest

from oddpeg.store.cache import cache_file
from support.project import CONFIG, RING, SQUARE, ProjectFolder

OUTSIDE = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24"><path d="M4 4h30v16H4z"/></svg>'


def report(project: ProjectFolder, *args: str) -> dict[str, Any]:
    result = project.run("build", "--json", *args)
    assert result.returncode in (0, 1), result.stderr
    values: dict[str, Any] = json.loads(result.stdout)
    return values


def is_compared_only(values: dict[str, Any]) -> bool:
    return set(values["seconds"]) == {"compare"}


@pytest.fixture
def built(project: ProjectFolder) -> ProjectFolder:
    project.icon("awash", OUTSIDE).icon("broken", "<svg")
    return project.write("icons/icons.csv", "icon,title\nbuoy,A buoy\n")


def test_the_report_is_that_of_a_whole_build(built: ProjectFolder) -> None:
    first = report(built)
    again = report(built)
    assert is_compared_only(again) and not is_compared_only(first)
    with sqlite3.connect(built.root / cache_file()) as database:
        database.execute("DELETE FROM kept WHERE namespace = 'build'")
    whole = report(built)
    assert not is_compared_only(whole)
    for values in (again, whole):
        del values["seconds"]
    assert again == whole
    assert again["changes"] == [] and again["pegs"]["added"] == [] and not any(f["changed"] for f in again["files"])
    assert [f["code"] for f in again["faults"]] == ["broken-xml"] and again["notes"] == first["notes"] != []


def test_a_frozen_build_compares_too(built: ProjectFolder) -> None:
    report(built)
    assert is_compared_only(report(built, "--frozen"))


def test_withdrawn_icons_are_said_again(built: ProjectFolder) -> None:
    report(built)
    assert built.run("pegs", "retire", "buoy").returncode == 0
    first, again = report(built), report(built)
    assert is_compared_only(again) and again["pegs"]["withdrawn"] == first["pegs"]["withdrawn"] == ["buoy"]


def edited(path: str) -> Callable[[ProjectFolder], object]:
    def edit(project: ProjectFolder) -> None:
        file = project.root / path
        file.write_bytes(file.read_bytes() + b"\n")

    return edit


CHANGES: dict[str, Callable[[ProjectFolder], object]] = {
    "a drawing": lambda p: p.icon("buoy", SQUARE.replace("M4 4", "M5 4")),
    "a new drawing": lambda p: p.icon("cleat", RING),
    "a drawing gone": lambda p: (p.root / "icons/awash.svg").unlink(),
    "a broken drawing": lambda p: p.icon("broken", "<svg>"),
    "a table": lambda p: p.write("icons/icons.csv", "icon,title\nbuoy,A big buoy\n"),
    "the config": edited("oddpeg.toml"),
    "an edited output": edited("dist/tide-marks.css"),
    "an output gone": lambda p: (p.root / "dist/tide-marks.css").unlink(),
    "a font gone": lambda p: (p.root / "dist/tide-marks.woff2").unlink(),
    "the pegboard": lambda p: p.write("pegboard.csv", p.read("pegboard.csv").replace("E000", "E0F0")),
    "a forged record": edited(".oddpeg/delivered.json"),
    "when icons came": lambda p: (p.root / ".oddpeg/arrivals.json").unlink(),
    "the cache": lambda p: p.write(cache_file(), "{}"),
}


@pytest.mark.exhaustive
def test_whatever_changed_is_built(built: ProjectFolder) -> None:
    report(built)
    for what, change in CHANGES.items():
        assert is_compared_only(report(built, "--force")), f"before {what} changed"
        change(built)
        assert not is_compared_only(report(built, "--force")), what


def test_other_bundles_other_times_are_built(built: ProjectFolder) -> None:
    report(built)
    assert not is_compared_only(report(built, "web"))
    assert is_compared_only(report(built, "web"))
    result = built.run("build", "--json", "web", SOURCE_DATE_EPOCH="1234567890")
    assert not is_compared_only(json.loads(result.stdout))


def test_a_template_is_an_input(built: ProjectFolder) -> None:
    built.write("list.jinja", "{{ icons|length }}")
    built.config(CONFIG.replace("outputs = [", 'outputs = [{ kind = "template", template = "list.jinja" }, '))
    report(built)
    assert is_compared_only(report(built))
    built.write("list.jinja", "{{ icons|length }} icons")
    report(built)
    assert built.read("dist/tide-marks.txt") == "3 icons"


ALL_TEXTS = CONFIG.replace("outputs = [", 'outputs = ["sprite", "svg-modules", "scss", ')
TURNS: dict[str, Callable[[ProjectFolder], object]] = {
    **CHANGES,
    "another name": lambda p: p.write("icons/icons.csv", "icon,title,aliases,tags\nbuoy,A buoy,float,sea mark\n"),
    "another prefix": lambda p: p.config(ALL_TEXTS.replace('prefix = "tm"', 'prefix = "quay"')),
    "a second bundle": lambda p: p.config(f'{ALL_TEXTS}\n[bundle.app]\ninto = "app"\noutputs = ["kotlin"]\n'),
    "mirrored icons": lambda p: p.config(ALL_TEXTS.replace("[classes]", '[classes]\nmirrored = ["anchor"]')),
}


@pytest.mark.exhaustive
def test_texts_kept_from_the_last_build_are_as_one_without_them_writes_them(built: ProjectFolder) -> None:
    built.config(ALL_TEXTS)
    report(built)
    for what, turn in TURNS.items():
        turn(built)
        report(built, "--force")
        found = {path: built.bytes(f"dist/{path}") for path in built.files("dist")}
        other = ProjectFolder(built.root.with_name("without"))
        shutil.copytree(built.root, other.root, dirs_exist_ok=True, ignore=shutil.ignore_patterns("cache", "dist"))
        report(other, "--force")
        assert found == {path: other.bytes(f"dist/{path}") for path in other.files("dist")}, what
        assert any(path.endswith("specimen.html") for path in found)
        shutil.rmtree(other.root)
