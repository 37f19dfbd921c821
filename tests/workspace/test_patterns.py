"""Patterns find what was added later, and what they miss is said."""

from __future__ import annotations

from pathlib import Path

from support.project import RING, SQUARE, ProjectFolder


def made(root: Path, *names: str) -> ProjectFolder:
    project = ProjectFolder(root)
    for number, name in enumerate(names):
        project.icon(name.removesuffix(".svg"), SQUARE.replace("M4 4", f"M{number} 4"))
    return project


def names_of(project: ProjectFolder) -> list[str]:
    return [line.split(",")[0] for line in project.read("pegboard.csv").splitlines()[1:]]


def test_init_finds_what_will_be_added(tmp_path: Path) -> None:
    project = made(tmp_path / "signs", "a/x", "b/y")
    (project.root / "icons/b/y.svg").rename(project.root / "icons/b/HOME.SVG")
    assert "2 drawings in icons/**/*.svg" in project.run("init").stdout
    project.icon("c/z").icon("koala", RING).build()
    assert names_of(project) == ["home", "koala", "x", "z"]


def test_init_puts_nothing_among_the_drawings(tmp_path: Path) -> None:
    project = made(tmp_path / "signs", "one", "more/two")
    assert "wrote oddpeg.toml: 2 drawings in icons/**/*.svg" in project.run("init", "icons").stdout
    project.build()
    assert sorted(path.name for path in (project.root / "icons").iterdir()) == ["more", "one.svg"]


def test_files_of_one_name_get_their_folders_before_it(tmp_path: Path) -> None:
    project = made(tmp_path / "signs", "a/home", "b/home")
    assert 'folders = "prefix"' in project.run("init").stdout
    project.build()
    assert names_of(project) == ["a-home", "b-home"]
    project.write("oddpeg.toml", project.read("oddpeg.toml").replace('folders = "prefix"', ""))
    assert 'or set icons.folders = "prefix"' in project.build("--as-new", code=1).stderr


def test_drawings_that_no_pattern_matches_are_said(project: ProjectFolder) -> None:
    project.config(project.read("oddpeg.toml").replace("icons/**/*.svg", "icons/*.svg"))
    project.icon("late/x").write("icons/pen.xml", "<?xml version='1.0'?>" + RING).write("icons/notes.txt", "no <svg")
    for command in (["build"], ["build"], ["check"]):  # a build with nothing to do says it, too
        result = project.run(*command)
        told = result.stdout + result.stderr
        assert "icons/late/x.svg: no pattern of icons.from matches" in told and "notes" not in told
        assert "icons/pen.xml: SVG by content, but not by name" in told and "rename to NAME.svg" in told
    project.config(project.read("oddpeg.toml").replace("icons/*.svg", "icons/a*.svg"))
    assert "no pattern" not in project.build("--as-new").stderr, "a pattern for some names means it"
