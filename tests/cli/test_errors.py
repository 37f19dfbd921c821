"""Bad input: a clear error with place and cure, never a traceback, nothing on disk lost."""

from __future__ import annotations

import json
import os

import pytest

from support.data import table
from support.project import ProjectFolder

DATA = table("errors")


def test_unreadable_folder_is_named(project: ProjectFolder, monkeypatch: pytest.MonkeyPatch) -> None:
    from oddpeg.sources import drawings as sources

    (project.root / "icons/shut").mkdir()
    real = os.scandir

    def scandir(folder: str) -> object:
        if folder.endswith("shut"):
            raise PermissionError(13, "Permission denied", folder)
        return real(folder)

    monkeypatch.setattr("os.scandir", scandir)
    found, faults = sources.find_sources(sources.find_files(project.root, ["icons/**/*.svg"]))
    assert [s.name for s in found] == ["anchor", "buoy"]
    assert "Permission denied" in faults[0].what and faults[0].cure


def test_unreadable_file_is_named(project: ProjectFolder, monkeypatch: pytest.MonkeyPatch) -> None:
    from oddpeg.sources import drawings as sources

    def refuse(path: str, limit: int) -> None:
        raise PermissionError(13, "Permission denied", path)

    found, _ = sources.find_sources(sources.find_files(project.root, ["icons/*.svg"]))
    monkeypatch.setattr(sources, "read_regular", refuse)
    read = sources.read_sources(found)
    assert not read.drawings
    assert [problem.where for problem in read.problems] == ["icons/anchor.svg", "icons/buoy.svg"]


BROKEN = DATA["broken"]


def test_broken_drawings_are_named_and_the_good_ones_still_build(project: ProjectFolder) -> None:
    for name, (data, _) in BROKEN.items():
        project.icon(f"bad-{name}", data)
    said = project.build(code=1).stderr
    for name, (_, told) in BROKEN.items():
        text = said.partition(f"icons/bad-{name}.svg")[2].partition("\nicons/")[0]
        assert told.removeprefix("icons/bad.svg") in text and "cure:" in text, name
    names = [i["name"] for i in project.read_json("dist/tide-marks.json")["icons"]]
    assert names == ["anchor", "buoy"]


NOTED = DATA["noted"]


def test_what_is_not_drawn_as_written_is_said(project: ProjectFolder) -> None:
    for name, (body, _) in NOTED.items():
        project.icon(f"odd-{name}", f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24">{body}</svg>')
    report = json.loads(project.build("--json").stdout)
    for name, (_, told) in NOTED.items():
        notes = [n["what"] for n in report["notes"] if n["where"] == f"icons/odd-{name}.svg"]
        assert any(told in note for note in notes), (name, notes)


def test_faults_come_as_json_too(project: ProjectFolder) -> None:
    result = project.config("[font\n").run("build", "--json")
    assert result.returncode == 2 and json.loads(result.stdout)["faults"][0]["line"] == 1


def test_a_bug_of_ours_is_said_to_be_one(
    project: ProjectFolder, monkeypatch: pytest.MonkeyPatch, capfd: pytest.CaptureFixture[str]
) -> None:
    from oddpeg.cli import app

    def broken() -> None:
        raise ZeroDivisionError

    assert app._guarded(broken) == 70
    said = capfd.readouterr().err
    assert "bug in Odd Peg" in said and "oddpeg-error-" in said and "Traceback" not in said
