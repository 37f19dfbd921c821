"""The guides by platform in docs/outputs.md, followed literally: config, files, commands, and what they print."""

from __future__ import annotations

import os
import re
import subprocess
import sys
from collections.abc import Callable
from pathlib import Path
from types import ModuleType
from typing import Any, NamedTuple

import pytest

from support.clients import serving
from support.project import CLIENTS, REPOSITORY, ProjectFolder

_PAGE = (REPOSITORY / "docs/outputs.md").read_text(encoding="utf-8").partition("\n# By platform\n")[2]
_BLOCK = re.compile(r"(?:`(?P<path>[\w./-]+)`:\n\n)?```(?P<language>\w+)\n(?P<text>.*?)```\n", re.DOTALL)
# not to be had here: the libraries of the platform, and with them whatever names their types
_PLATFORM = (" -I android.jar", "res/layout/pier.xml")


class Guide(NamedTuple):
    """One section: its heading, bundle, files by path, commands, and what the last of them prints if that is said."""

    title: str
    config: str
    files: dict[str, str]
    commands: str
    printed: str


def guides() -> list[Guide]:
    """Return the sections that have steps to follow."""
    found = []
    for section in re.split(r"(?m)^## ", _PAGE)[1:]:
        title, _, body = section.partition("\n")
        blocks = [match.groupdict() for match in _BLOCK.finditer(body)]
        if blocks:
            texts = {b["language"]: b["text"] for b in blocks if not b["path"]}
            files = {b["path"]: b["text"] for b in blocks if b["path"]}
            found.append(Guide(title, texts["toml"], files, texts.get("sh", ""), texts.get("text", "")))
    return found


GUIDES = {guide.title: guide for guide in guides()}


def follow(guide: Guide, project: ProjectFolder, client: Callable[[str], str]) -> str:
    """Do what a guide says in a copy of the demo; return what its commands print."""
    own = project.read("oddpeg.toml")
    project.config(own[: own.index("[bundle.")] + guide.config)
    assert project.run("build").returncode == 0
    (project.root / "node_modules").symlink_to(CLIENTS / "node_modules")
    for path, text in guide.files.items():
        (project.root / path).parent.mkdir(parents=True, exist_ok=True)
        project.write(path, text)
    commands = guide.commands
    if any("android" in path.lower() for path in guide.files):
        (project.root / _PLATFORM[1]).unlink()
        commands = commands.replace(_PLATFORM[0], "")
    for word in re.findall(r"(?m)^([\w-]+)", commands):
        if word not in ("cd", "mkdir", "mv", "python"):
            client(word)
    path = os.pathsep.join([str(CLIENTS / "node_modules/.bin"), str(Path(sys.executable).parent), os.environ["PATH"]])
    environment = {**os.environ, "PATH": path, "QT_QPA_PLATFORM": "offscreen"}
    done = subprocess.run(
        ["sh", "-e", "-c", commands], cwd=project.root, env=environment, capture_output=True, text=True, check=False
    )
    assert done.returncode == 0, done.stdout + done.stderr
    return done.stdout


@pytest.fixture
def copy(demo: ProjectFolder, tmp_path: Path) -> ProjectFolder:
    """The demo's sources, to be changed."""
    import shutil

    shutil.copytree(demo.root, tmp_path / "pier", ignore=shutil.ignore_patterns("dist", ".oddpeg"))
    return ProjectFolder(tmp_path / "pier")


@pytest.mark.parametrize("title", [t for t, g in GUIDES.items() if g.printed])
def test_programs_print_what_the_guide_says(
    title: str, copy: ProjectFolder, client: Callable[[str], str], library: Callable[[str], ModuleType]
) -> None:
    if "Qt" in title:
        library("PySide6")
    assert follow(GUIDES[title], copy, client) == GUIDES[title].printed


_SHOWN = """
const faces = [...document.fonts].filter((face) => face.status === "loaded").length;
const icons = [...document.querySelectorAll(".salt-icon, .mooring, salt-icon, #app svg")];
return [faces, icons.map((icon) => {
  const box = icon.getBoundingClientRect();
  return [getComputedStyle(icon, "::before").content, box.width > 8 && box.height > 8];
})];
"""


@pytest.mark.parametrize("title", [t for t, g in GUIDES.items() if any(p.endswith(".html") for p in g.files)])
def test_pages_show_icons(title: str, copy: ProjectFolder, client: Callable[[str], str], browser: Any) -> None:
    guide = GUIDES[title]
    follow(guide, copy, client)
    page = next(path for path in ("site/page.html", "site/index.html") if (copy.root / path).exists())
    with serving(copy.root) as (address, asked):
        browser.get(f"{address}/{page}")
        browser.execute_async_script("document.fonts.ready.then(() => setTimeout(arguments[0], 100))")
        faces, icons = browser.execute_script(_SHOWN)
        errors = [entry for entry in browser.get_log("browser") if "favicon" not in entry["message"]]
    assert not errors and icons and all(large for _, large in icons)
    if "React" not in title:  # there icons are drawings
        assert faces == 1 and len([path for path in asked if path.endswith(".woff2")]) == 1
        assert all(content.startswith('"') or "element" in title for content, _ in icons)


def test_android_compiles_the_resources(copy: ProjectFolder, client: Callable[[str], str]) -> None:
    follow(GUIDES["In Android apps"], copy, client)
    assert (copy.root / "signs.apk").is_file()


def test_every_guide_is_followed_by_a_test() -> None:
    followed = {title for title, g in GUIDES.items() if g.printed or any(path.endswith(".html") for path in g.files)}
    assert followed | {"In Android apps"} == set(GUIDES) and len(GUIDES) == 11
