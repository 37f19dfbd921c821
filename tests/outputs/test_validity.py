"""Every page, stylesheet and drawing that is written is valid, as the checker of the standards has it."""

from __future__ import annotations

import json
import zipfile
from collections.abc import Callable
from pathlib import Path

import pytest

from support.clients import run
from support.project import CONFIG, ProjectFolder

Checker = Callable[..., None]


@pytest.fixture(scope="module")
def valid(client: Callable[[str], str]) -> Checker:
    """What fails where a file of one kind (html, css, svg) has an error."""
    java, checker = client("java"), client("vnu-jar/build/dist/vnu.jar")

    def check(kind: str, *files: Path) -> None:
        assert files
        run(java, "-jar", checker, "--errors-only", f"--{kind}", *files, cwd=files[0].parent)

    return check


def test_the_demo(demo: ProjectFolder, valid: Checker, tmp_path: Path) -> None:
    for command in ("check", "usage"):
        demo.run(command, "--sheet", tmp_path / f"{command}.html")
    demo.run("inspect", *(demo.root / "dist").rglob("*.woff2"), "--sheet", tmp_path / "inspect.html")
    assert len([*tmp_path.iterdir()]) == 3
    dist = demo.root / "dist"
    valid("html", *tmp_path.iterdir(), *dist.rglob("*.html"))
    valid("css", *dist.rglob("*.css"))
    valid("svg", *dist.rglob("*.svg"))


def test_an_archive_and_single_drawings(project: ProjectFolder, valid: Checker, tmp_path: Path) -> None:
    project.icon("r&d <ü>", project.bytes("icons/buoy.svg"))
    outputs = '"css", "sprite", "svg-modules", "credits", "archive", "specimen"'
    project.config(CONFIG.replace('"css", "typescript", "json", "specimen"', outputs)).build()
    with zipfile.ZipFile(project.root / "dist/tide-marks.zip") as archive:
        archive.extractall(tmp_path / "site")
    for folder in (project.root / "dist", tmp_path / "site"):
        for kind in ("html", "css", "svg"):
            if files := [*folder.rglob(f"*.{kind}")]:
                valid(kind, *files)
    assert (tmp_path / "site/index.html").is_file()


def test_packages_for_npm(project: ProjectFolder, client: Callable[[str], str]) -> None:
    outputs = '"css", "javascript", "web-component", "svg-modules", "sprite", "json", "npm-package"'
    text = CONFIG.replace('"css", "typescript", "json", "specimen"', outputs)
    bare = text[text.index("[bundle.web]") :].replace("[bundle.web]", "[bundle.bare]").replace("dist", "bare")
    text = text.replace('"npm-package"', '"npm-package", "credits"') + bare
    named = {  # what npm takes, with and without a file to read
        "Free for anybody": ("SEE LICENSE IN tide-marks-credits.txt", "Free for anybody"),
        "(MIT OR Apache-2.0) AND CC-BY-4.0": ("(MIT OR Apache-2.0) AND CC-BY-4.0",) * 2,
    }
    for licence, wanted in named.items():
        project.config(text.replace("[icons]", f'licence = "{licence}"\n\n[icons]')).build()
        found = [json.loads(project.read(f"{folder}/package.json"))["license"] for folder in ("dist", "bare")]
        assert tuple(found) == wanted
    assert "All good!" in run(client("publint"), "--strict", cwd=project.root / "dist")
