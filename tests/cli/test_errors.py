"""Bad input: a clear error with place and cure, never a traceback, nothing on disk lost."""

from __future__ import annotations

import json
import os
from pathlib import Path

import pytest

from support.project import CONFIG, RING, ProjectFolder, oddpeg


def test_no_drawings_found(tmp_path: Path) -> None:
    result = ProjectFolder(tmp_path).config().run("build")
    assert result.returncode == 1
    assert "no drawings found for icons/**/*.svg" in result.stderr and "cure: check icons.from" in result.stderr
    assert {p.name for p in tmp_path.iterdir()} - {".oddpeg"} == {"oddpeg.toml"}


def test_no_config_names_the_cure(tmp_path: Path) -> None:
    result = oddpeg("build", cwd=tmp_path)
    assert result.returncode == 2 and "oddpeg init" in result.stderr


def test_unreadable_folder_is_named(project: ProjectFolder, monkeypatch: pytest.MonkeyPatch) -> None:
    from oddpeg.workspace import sources

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
    from oddpeg.workspace import sources

    def refuse(path: str, limit: int) -> None:
        raise PermissionError(13, "Permission denied", path)

    found, _ = sources.find_sources(sources.find_files(project.root, ["icons/*.svg"]))
    monkeypatch.setattr(sources, "read_regular", refuse)
    read = sources.read_sources(found)
    assert [one.data for one in read] == [None, None]
    assert [one.problem and one.problem.where for one in read] == ["icons/anchor.svg", "icons/buoy.svg"]


BROKEN = {
    "cut-short": (
        b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9">\n<path d="M0 0h9v',
        "icons/bad.svg:2: is not well-formed XML",
    ),
    "empty": (b"", "icons/bad.svg: the file is empty"),
    "not-xml": (b"\x89PNG\r\n\x1a\n", "icons/bad.svg:1: is not well-formed XML"),
    "not-svg": (b"<html/>", "outermost element is <html>"),
    "no-ink": (b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><g/></svg>', "draws nothing"),
    "nothing-but-a-bad-path": (
        b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><path d="M0 0hNaN"/></svg>',
        "path data that is wrong at character 5",
    ),
    "no-frame": (
        b'<svg xmlns="http://www.w3.org/2000/svg"><path d="M0 0h9v9z"/></svg>',
        "neither a viewBox nor a width",
    ),
    "flat-frame": (
        b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 0 24"><path d="M0 0h9v9z"/></svg>',
        "frame without area",
    ),
    "only-text": (
        b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9">\n<text y="8">x</text></svg>',
        "icons/bad.svg:2: holds text",
    ),
    "outside": (
        b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><path d="M20 20h9v9z"/></svg>',
        "nothing inside its frame",
    ),
}


def test_broken_drawings_are_named_and_the_good_ones_still_build(project: ProjectFolder) -> None:
    for name, (data, _) in BROKEN.items():
        project.icon(f"bad-{name}", data)
    said = project.build(code=1).stderr
    for name, (_, told) in BROKEN.items():
        text = said.partition(f"icons/bad-{name}.svg")[2].partition("\nicons/")[0]
        assert told.removeprefix("icons/bad.svg") in text and "cure:" in text, name
    names = [i["name"] for i in json.loads(project.read("dist/tide-marks.json"))["icons"]]
    assert names == ["anchor", "buoy"]


def test_only_broken_drawings_write_nothing(tmp_path: Path) -> None:
    result = ProjectFolder(tmp_path).config().icon("bad", "<svg").build(code=1)
    assert "nothing was written" in result.stderr
    assert {p.name for p in tmp_path.iterdir()} - {".oddpeg"} == {"oddpeg.toml", "icons"}


NOTED = {
    "path": ('<path d="M2 2h9v9z L"/>', "wrong at character"),
    "text": ('<path d="M2 2h9v9z"/><text>x</text>', "holds text"),
    "image": ('<path d="M2 2h9v9z"/><image href="x.png"/>', "holds <image>"),
    "filter": ('<path filter="url(#f)" d="M2 2h9v9z"/>', "has a filter"),
    "mask": ('<path mask="url(#m)" d="M2 2h9v9z"/>', "has a mask"),
    "clip": ('<path clip-path="circle(3px)" d="M2 2h9v9z"/>', "has a clip-path that was left out"),
    "opacity": ('<path opacity=".5" d="M2 2h9v9z"/>', "opacity .5"),
    "marker": ('<path marker-end="url(#m)" d="M2 2h9v9z"/>', "has markers, but url(#m)"),
    "gradient": ('<linearGradient id="g"/><path fill="url(#g)" d="M2 2h9v9z"/>', "taken as solid ink"),
    "unknown": ('<path d="M2 2h9v9z"/><mesh/>', "holds <mesh>"),
    "colour": ('<path fill="seaweed" d="M2 2h9v9z"/>', "fill that is not understood"),
    "transform": ('<path transform="turn(3)" d="M2 2h9v9z"/>', "transform that is not valid"),
    "reference": ('<path d="M2 2h9v9z"/><use href="#nowhere"/>', "'nowhere'"),
    "media": ('<style>@media print{path{fill:none}}</style><path d="M2 2h9v9z"/>', "@media"),
    "frame": ('<path d="M2 2h30v9z"/>', "beyond its frame"),
    "white": ('<path d="M2 2h20v20z"/><path fill="#fff" d="M9 4h3v3z"/>', "eraser"),
}


def test_what_is_not_drawn_as_written_is_said(project: ProjectFolder) -> None:
    for name, (body, _) in NOTED.items():
        project.icon(f"odd-{name}", f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24">{body}</svg>')
    report = json.loads(project.build("--json").stdout)
    for name, (_, told) in NOTED.items():
        notes = [n["what"] for n in report["notes"] if n["where"] == f"icons/odd-{name}.svg"]
        assert any(told in note for note in notes), (name, notes)


def test_two_drawings_with_one_name(project: ProjectFolder) -> None:
    result = project.icon("old/Anchor", RING).build(code=1)
    assert "icons/old/Anchor.svg: is the icon 'anchor' too, like icons/anchor.svg" in result.stderr
    assert "cure: rename one of the two" in result.stderr


def test_three_config_faults_are_all_reported(project: ProjectFolder) -> None:
    text = (
        CONFIG.replace('family = "Tide Marks"', 'family = "!!!"')
        .replace("prefix", "prefx")
        .replace('"woff2", ', '"wof2", ')
    )
    result = project.config(text).run("build")
    assert result.returncode == 2
    assert "oddpeg.toml:2: font.family: needs at least one letter" in result.stderr
    assert "oddpeg.toml:8: classes.prefx: no such key" in result.stderr and "did you mean 'prefix'?" in result.stderr
    assert (
        "oddpeg.toml:12: bundle.web.fonts.0: is not a font format: 'wof2'" in result.stderr
        and "nearest is 'woff2'" in result.stderr
    )
    assert not (project.root / "dist").exists()


CONFIG_FAULTS = {
    "toml": ("[font\n", "oddpeg.toml:1: is not valid TOML"),
    "missing": ("[icons]\nfrom = ['*.svg']\n[bundle.web]\ninto = 'x'\n", "font: is missing"),
    "no-bundle": ('[font]\nfamily = "A"\n[icons]\nfrom = ["*.svg"]\n[bundle]\n', "bundle: "),
    "kind": (CONFIG.replace('"css"', '"cs"'), ["'cs'", " nearest is 'css'"][0]),
    "units": (CONFIG.replace("[icons]", "units_per_em = 7\n[icons]"), "oddpeg.toml:4: font.units_per_em"),
    "range": (CONFIG + '[pegs]\nrange = "E000"\n', 'must look like "U+E000-U+F8FF"'),
    "assign": (CONFIG + '[pegs]\nassign = "hash"\n', "did you mean 'hashed'?"),
    "type": (CONFIG.replace('into = "dist"', "into = 3"), "bundle.web.into"),
    "version": (CONFIG.replace("[icons]", 'version = "one"\n[icons]'), "font.version"),
}


@pytest.mark.parametrize("name", CONFIG_FAULTS)
def test_config_faults_name_key_line_and_cure(project: ProjectFolder, name: str) -> None:
    text, told = CONFIG_FAULTS[name]
    result = project.config(text).run("build")
    assert result.returncode == 2 and told in result.stderr and "cure:" in result.stderr


def test_unknown_bundle(project: ProjectFolder) -> None:
    result = project.run("build", "wbe")
    assert result.returncode == 2 and "there is no bundle 'wbe'" in result.stderr and "web" in result.stderr


def test_mistyped_commands_and_options_suggest_the_right_one(project: ProjectFolder) -> None:
    assert "'build'" in project.run("biuld").stderr
    result = project.run("build", "--quite")
    assert result.returncode == 2 and "--quiet" in result.stderr


def test_target_folder_that_is_a_file(project: ProjectFolder) -> None:
    (project.root / "dist").write_text("mine")
    result = project.build(code=1)
    assert "dist: is a file, but a folder is needed there" in result.stderr
    assert project.read("dist") == "mine" and not (project.root / "pegboard.csv").exists()


def test_faults_come_as_json_too(project: ProjectFolder) -> None:
    result = project.config("[font\n").run("build", "--json")
    assert result.returncode == 2 and json.loads(result.stdout)["faults"][0]["line"] == 1


def test_class_that_would_be_the_base_class(project: ProjectFolder) -> None:
    result = project.icon("icon").build(code=1)
    assert "would be the base class .tm-icon" in result.stderr and "classes.base" in result.stderr


def test_a_bug_of_ours_is_said_to_be_one(
    project: ProjectFolder, monkeypatch: pytest.MonkeyPatch, capfd: pytest.CaptureFixture[str]
) -> None:
    from oddpeg.cli import app

    def broken() -> None:
        raise ZeroDivisionError

    assert app._guarded(broken) == 70
    said = capfd.readouterr().err
    assert "bug in Odd Peg" in said and "oddpeg-error-" in said and "Traceback" not in said
