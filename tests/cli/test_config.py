"""`oddpeg config`: what is in force, where it comes from, and the schema that editors check by."""

from __future__ import annotations

import json
import re
import tomllib
from pathlib import Path
from typing import Any

import pytest
from jsonschema import Draft202012Validator

from support.clients import Client, run
from support.data import table
from support.project import CLIENTS, CONFIG, ProjectFolder, oddpeg

DATA = table("config")

FAULTY = {
    "unknown key": CONFIG.replace("family", "famly"),
    "unknown kind": CONFIG.replace('"css"', '"cs"'),
    "unknown key of a kind": CONFIG.replace('"css"', '{ kind = "css", minifed = true }'),
    "wrong type": CONFIG.replace('prefix = "tm"', "prefix = 3"),
    "unknown format": CONFIG.replace('"woff2"', '"woff3"'),
    "missing key": CONFIG.replace('into = "dist"', ""),
    "prefix with a space": CONFIG.replace('prefix = "tm"', 'prefix = "t m"'),
    "size that begins with a digit": CONFIG.replace("[classes]", "[classes]\nsizes = { 2x = '2em' }"),
    "colour with a dot": CONFIG + '\n[palettes.night]\n"light.buoy" = "#fc0"\n',
    "unknown finding": CONFIG + '\n[[checks]]\nfinding = "off-gird"\nlevel = "error"\nreason = "none"\n',
}

# the validator that editors are built on, whose regular expressions are not Python's
EDITOR = DATA["editor"]


@pytest.fixture(scope="module")
def schema(tmp_path_factory: pytest.TempPathFactory) -> Draft202012Validator:
    values = json.loads(oddpeg("config", "--schema", cwd=tmp_path_factory.mktemp("nowhere")).stdout)
    Draft202012Validator.check_schema(values)
    return Draft202012Validator(values)


def test_every_value_has_its_origin(project: ProjectFolder) -> None:
    project.config(CONFIG.replace("[classes]", "[classes]\nsizes = { small = '16px' }"))
    settings = {s["key"]: s for s in project.json("config")["settings"]}
    assert settings["font.family"] == {"key": "font.family", "value": "Tide Marks", "line": 2}
    assert settings["classes.prefix"]["line"] == 9 and settings["bundle.web.into"]["line"] == 12
    assert settings["font.descent"]["line"] is None and settings["font.descent"]["value"] == "auto"
    shown = project.run("config").stdout
    assert re.search(r"font\.family +line 2 +\"Tide Marks\"", shown) and re.search(
        r"font\.descent +default +\"auto\"", shown
    )
    outputs = next(line for line in shown.splitlines() if "bundle.web.outputs" in line)
    assert outputs.endswith('["css", "typescript", "json", "specimen"]'), "outputs are shown as people write them"


def test_what_config_shows_builds_the_same(project: ProjectFolder) -> None:
    """Every line shown, put back as a dotted key, is a valid config with the same values."""
    project.deliver()
    before, fonts = project.run("config", "--json").stdout, project.bytes("dist/tide-marks.ttf")
    lines = [line.split(maxsplit=1) for line in project.run("config").stdout.splitlines()[1:]]
    texts = [f"{key} = {re.sub(r'^(line [0-9]+|default) +', '', rest)}" for key, rest in lines if "null" not in rest]
    project.config("\n".join(texts) + "\n")
    values = [{**s, "line": 0} for s in project.json("config")["settings"]]
    assert values == [{**s, "line": 0} for s in json.loads(before)["settings"]]
    project.deliver()
    assert project.bytes("dist/tide-marks.ttf") == fonts


def test_the_schema_accepts_what_builds(schema: Draft202012Validator, demo: ProjectFolder) -> None:
    for text in (CONFIG, demo.read("oddpeg.toml")):
        assert [e.message for e in schema.iter_errors(tomllib.loads(text))] == []


@pytest.mark.parametrize("fault", FAULTY)
def test_schema_and_command_refuse_the_same(schema: Draft202012Validator, project: ProjectFolder, fault: str) -> None:
    assert not schema.is_valid([])
    assert not schema.is_valid(tomllib.loads(FAULTY[fault]))
    assert project.config(FAULTY[fault]).build(code=2).stderr.startswith("oddpeg.toml:")


def test_editors_judge_as_the_command_does(
    schema: Draft202012Validator, demo: ProjectFolder, client: Client, tmp_path: Path
) -> None:
    far = CONFIG.replace('prefix = "tm"', 'prefix = "träger-⚓-𝒜"')
    configs = [tomllib.loads(text) for text in (CONFIG, demo.read("oddpeg.toml"), far, *FAULTY.values())]
    (tmp_path / "judged.json").write_text(json.dumps({"schema": schema.schema, "configs": configs}))
    client("ajv/package.json")
    script = ("--input-type=module", "-e", EDITOR, CLIENTS / "package.json", "judged.json")
    said = run(client("node"), *script, cwd=tmp_path)
    assert json.loads(said) == [True] * 3 + [False] * len(FAULTY)


def test_init_names_a_schema_that_is_there(tmp_path: Path) -> None:
    folder = tmp_path / "signs"
    ProjectFolder(folder).icon("anchor")
    assert oddpeg("init", cwd=folder).returncode == 0
    first = (folder / "oddpeg.toml").read_text(encoding="utf-8").splitlines()[0]
    schema: dict[str, Any] = json.loads((folder / first.removeprefix("#:schema ")).read_text(encoding="utf-8"))
    assert schema == json.loads(oddpeg("config", "--schema", cwd=folder).stdout)
    assert "cache/" in (folder / ".oddpeg/.gitignore").read_text(encoding="utf-8").split()
    built = oddpeg("build", cwd=folder)
    assert built.returncode == 0 and not built.stderr, "a new config has only current keys"
