"""`init`: the config fits the project around the icons, and builds at once."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from oddpeg.config.platforms import PLATFORMS
from support.project import RING, ProjectFolder, oddpeg

APP = 'plugins { id("com.android.application") }\nandroid { namespace = "harbour.signs" }\n'
NAMED = json.dumps({"name": "@pier/tide-table", "dependencies": {"next": "1", "react": "19"}})
PROJECTS = {  # files of a project → platform, a file that the build writes
    "react": ({"package.json": NAMED}, "tide-table/tide-table-react.mjs"),
    "vue": ({"package.json": '{ "devDependencies": { "vue": "3" } }', "src/main.ts": ""}, "src/pier-one/pier-one.css"),
    "bundler": ({"package.json": "[not json"}, "pier-one/pier-one.ts"),
    "flutter": ({"pubspec.yaml": "name: tide_table\n"}, "lib/tide_table.dart"),
    "compose": (
        {"settings.gradle.kts": "", "app/build.gradle.kts": APP + "buildFeatures { compose = true }"},
        "app/src/main/java/harbour/signs/PierOneIcons.kt",
    ),
    "android": ({"build.gradle": "", "app/build.gradle": APP}, "app/src/main/res/values/pier_one.xml"),
    "java": ({"pom.xml": "<project/>"}, "src/main/java/pierone/PierOne.java"),
    "maui": ({"TideTable.csproj": "<UseMaui>true</UseMaui>"}, "TideTable/TideTable.xaml"),
    "qt": ({"CMakeLists.txt": "find_package(Qt6 REQUIRED)"}, "pier-one/pier-one.qrc"),
    "python": ({"pyproject.toml": '[project]\nname = "tide-table"\n'}, "tide_table/tide_table.py"),
    "rust": ({"Cargo.toml": ""}, "src/pier_one.rs"),
    "web": ({"readme.txt": ""}, "dist/web/pier-one.css"),
}  # fmt: skip


@pytest.mark.parametrize("platform", PROJECTS)
def test_the_bundle_fits_the_project(tmp_path: Path, platform: str) -> None:
    project = ProjectFolder(tmp_path / "pier-one")
    project.icon("anchor").icon("buoy", RING)
    files, written = PROJECTS[platform]
    for path, text in files.items():
        (project.root / path).parent.mkdir(parents=True, exist_ok=True)
        project.write(path, text)
    (project.root / "public").mkdir()
    project.write("public/brand.svg", RING)  # of a scaffold
    said = project.run("init")
    assert said.returncode == 0 and (f": {platform} (" in said.stdout) == (platform != "web"), said.stderr
    assert project.run("build").returncode == 0
    assert (project.root / written).is_file()
    assert ("brand" in project.read("pegboard.csv")) == (platform == "web")


def test_the_platform_can_be_said(tmp_path: Path) -> None:
    ProjectFolder(tmp_path / "plain").icon("anchor")
    for platform in PLATFORMS:
        assert oddpeg("init", "--force", "--for", platform, cwd=tmp_path / "plain").returncode == 0
        assert oddpeg("config", cwd=tmp_path / "plain").returncode == 0, platform
    assert oddpeg("build", cwd=tmp_path / "plain").returncode == 0
    wrong = oddpeg("init", "--force", "--for", "reakt", cwd=tmp_path / "plain")
    assert wrong.returncode == 2 and "did you mean react" in wrong.stderr
