"""What commands print with `--json`; the runner of all tests holds each document against its schema."""

from __future__ import annotations

import json
from pathlib import Path

import pytest
from jsonschema import Draft202012Validator

from document_schema import SCHEMA, schema_text
from oddpeg.cli.json_documents import DOCUMENTS
from support.commands import commands
from support.json_output import assert_described
from support.project import CONFIG, SQUARE, ProjectFolder, oddpeg


def test_the_schema_is_that_of_the_types() -> None:
    text = schema_text()
    assert SCHEMA.read_text(encoding="utf-8") == text, "run `make docs`"
    Draft202012Validator.check_schema(json.loads(text))


def test_every_command_that_prints_json_is_described() -> None:
    takes = {"-".join(path) for path, command in commands() if any("--json" in p.opts for p in command.params)}
    assert takes == {*DOCUMENTS} - {"faults", "usage-page"}


def test_what_is_not_described_fails() -> None:
    good = {"config": "oddpeg.toml", "drawings": 2, "from": ["icons/**/*.svg"], "platform": "web"}
    assert_described(["init", "--json"], json.dumps(good))
    for bad in ({**good, "drawings": "2"}, {**good, "more": 1}, {"config": "oddpeg.toml"}):
        with pytest.raises(AssertionError):
            assert_described(["init", "--json"], json.dumps(bad))


def test_documents_of_the_demo(demo: ProjectFolder, tmp_path: Path) -> None:
    line, old = "dist/web/saltmarsh-signs-line.woff2", tmp_path / "old.csv"
    old.write_text("icon,codepoint,state\nanchor,U+E000,live\ngone-now,U+F000,live\n", encoding="utf-8")
    for code, *command in (
        (0, "build", "--frozen"),
        (0, "proof", "anchor", "flag-medical"),
        (0, "check"),
        (0, "find", "boat"),
        (0, "use", "anchor"),
        (0, "usage"),
        (1, "usage", "mistakes"),
        (0, "config"),
        (0, "outputs"),
        (0, "pegs", "list"),
        (0, "compare", old, "pegboard.csv"),
        (0, "compare", line, "dist/family"),
        (0, "inspect", line, "dist/family/saltmarsh-signs-weight.woff2"),
        (0, "repack", line, "--into", tmp_path, "--dry-run"),
        (1, "use", "no-such-icon"),
    ):
        result = demo.run(*command, "--json")
        assert (result.returncode, bool(result.stdout)) == (code, True), (command, result.stderr)


def test_documents_of_changes(project: ProjectFolder, tmp_path: Path) -> None:
    project.config(CONFIG + '\n[[checks]]\nfinding = "text"\nlevel = "error"\nreason = "no words"\n')
    project.icon("words", SQUARE.replace("<path", "<text>a</text><path"))
    drawings = project.json("check")["drawings"]
    assert "no words" in [finding.get("reason") for one in drawings for finding in one["findings"]]
    project.icon("broken", "<svg").build("--json", "--prove", code=1)
    project.write("map.json", json.dumps({"anchor": 0xE005, "bouy": 0xE006, "buoy": 0xE007, "odd": 0x20}))
    for command in (
        ("pegs", "adopt", "map.json"),
        ("pegs", "adopt", "map.json", "--move"),
        ("pegs", "rename", "buoy", "float"),
        ("pegs", "retire", "anchor"),
        ("pegs", "restore", "anchor"),
        ("pegs", "settle"),
    ):
        assert project.run(*command, "--json").stdout, command
    folder = tmp_path / "new"
    ProjectFolder(folder).icon("anchor")
    assert json.loads(oddpeg("init", "--json", cwd=folder).stdout)["drawings"] == 1
    assert json.loads(oddpeg("build", "--json", cwd=tmp_path).stdout)["faults"]
