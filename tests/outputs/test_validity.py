"""Every page, stylesheet and drawing that is written is valid, as the checker of the standards has it."""

from __future__ import annotations

import zipfile
from collections.abc import Callable
from pathlib import Path

import pytest

from support.clients import Client, run
from support.project import CONFIG, ProjectFolder

Checker = Callable[..., None]


@pytest.fixture(scope="module")
def valid(client: Client) -> Checker:
    """What fails where a page, stylesheet or drawing in some folders has an error; given how many there are of each."""
    java, checker = client("java"), client("vnu-jar/build/dist/vnu.jar")

    def check(html: int, css: int, svg: int, *folders: Path) -> None:
        files = {kind: [f for folder in folders for f in folder.rglob(f"*.{kind}")] for kind in ("html", "css", "svg")}
        assert [len(found) for found in files.values()] == [html, css, svg]
        options = ("--errors-only", "--also-check-css", "--also-check-svg")
        run(java, "-jar", checker, *options, *(f for found in files.values() for f in found), cwd=folders[0])

    return check


def test_the_demo(demo: ProjectFolder, valid: Checker, tmp_path: Path) -> None:
    for command in ("check", "usage"):
        demo.run(command, "--sheet", tmp_path / f"{command}.html")
    demo.run("inspect", *(demo.root / "dist").rglob("*.woff2"), "--sheet", tmp_path / "inspect.html")
    valid(6, 3, 1, tmp_path, demo.root / "dist")


def test_an_archive_and_single_drawings(project: ProjectFolder, valid: Checker, tmp_path: Path) -> None:
    project.icon("r&d <ü>", project.bytes("icons/buoy.svg"))
    outputs = '"css", "sprite", "svg-modules", "credits", "archive", "specimen"'
    project.config(CONFIG.replace('"css", "typescript", "json", "specimen"', outputs)).deliver()
    with zipfile.ZipFile(project.root / "dist/tide-marks.zip") as archive:
        archive.extractall(tmp_path / "site")
    assert (tmp_path / "site/index.html").is_file()
    valid(3, 2, 2, project.root / "dist", tmp_path / "site")


def test_packages_for_npm(project: ProjectFolder, client: Client) -> None:
    outputs = '"css", "javascript", "web-component", "svg-modules", "sprite", "json", "react", "svelte", "npm-package"'
    text = CONFIG.replace('"css", "typescript", "json", "specimen"', outputs)
    bare = text[text.index("[bundle.web]") :].replace("[bundle.web]", "[bundle.bare]").replace("dist", "bare")
    text = text.replace('"npm-package"', '"npm-package", "credits"') + bare
    named = {  # what npm takes, with and without a file to read
        "Free for anybody": ("SEE LICENSE IN tide-marks-credits.txt", "Free for anybody"),
        "LicenseRef-Harbour": ("SEE LICENSE IN tide-marks-credits.txt", "LicenseRef-Harbour"),
        "Proprietary": ("SEE LICENSE IN tide-marks-credits.txt", "Proprietary"),
        "(MIT OR Apache-2.0) AND CC-BY-4.0": ("(MIT OR Apache-2.0) AND CC-BY-4.0",) * 2,
    }
    for licence, wanted in named.items():
        project.config(text.replace("[icons]", f'licence = "{licence}"\n\n[icons]')).deliver()
        found = [project.read_json(f"{folder}/package.json")["license"] for folder in ("dist", "bare")]
        assert tuple(found) == wanted
    assert "All good!" in run(client("publint"), "--strict", cwd=project.root / "dist")
