"""The pages of docs/deliver, followed literally: config, files, commands, and what they print."""

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

_PAGES = {page.stem: page.read_text(encoding="utf-8") for page in sorted((REPOSITORY / "docs/deliver").glob("*.md"))}
_BLOCK = re.compile(r"(?:`(?P<path>[\w./-]+)`:\n\n)?```(?P<language>\w+)\n(?P<text>.*?)```\n", re.DOTALL)
# not to be had here: the libraries of the platform, and with them whatever names their types
_PLATFORM = (" -I android.jar", "res/layout/pier.xml")


class Guide(NamedTuple):
    """One page: its name, bundle, files by path, commands, and the output of the last command if the page has it."""

    name: str
    config: str
    files: dict[str, str]
    commands: str
    printed: str


def guides() -> list[Guide]:
    """Return the pages, whose bundle at least can be built."""
    found = []
    for name, page in _PAGES.items():
        blocks = [match.groupdict() for match in _BLOCK.finditer(page)]
        texts = {b["language"]: b["text"] for b in reversed(blocks) if not b["path"]}
        files = {b["path"]: b["text"] for b in blocks if b["path"]}
        found.append(Guide(name, texts["toml"], files, texts.get("sh", ""), texts.get("text", "")))
    return found


GUIDES = {guide.name: guide for guide in guides()}
_START = GUIDES.pop("index").config


def follow(guide: Guide, project: ProjectFolder, client: Callable[[str], str]) -> str:
    """Do what a page says; return what its commands print."""
    project.config(f"{_START}\n{guide.config}")
    built = project.run("build")
    assert built.returncode == 0 and not built.stderr
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
    """A project with the three drawings that the pages use."""
    project = ProjectFolder(tmp_path / "pier")
    for name in ("anchor", "buoy", "life-ring"):
        project.icon(name, next(demo.root.glob(f"icons/*/{name}.svg")).read_text(encoding="utf-8"))
    return project


@pytest.mark.parametrize("name", GUIDES)
def test_every_bundle_builds_and_prints_the_lines_to_paste(name: str, copy: ProjectFolder) -> None:
    copy.config(f"{_START}\n{GUIDES[name].config}")
    assert not copy.build().stderr
    for place in re.findall(r"oddpeg use anchor --in ([\w-]+)", _PAGES[name]):
        lines = copy.run("use", "anchor", "--in", place, "--once").stdout.split("\n")
        assert all(line in _PAGES[name] for line in lines if place in ("dart", "xaml"))


@pytest.mark.parametrize("name", [name for name, g in GUIDES.items() if g.printed])
def test_programs_print_what_the_guide_says(
    name: str, copy: ProjectFolder, client: Callable[[str], str], library: Callable[[str], ModuleType]
) -> None:
    if name == "qt":
        library("PySide6")
    assert follow(GUIDES[name], copy, client) == GUIDES[name].printed


_SHOWN = """
const faces = [...document.fonts].filter((face) => face.status === "loaded").length;
const icons = [...document.querySelectorAll(".salt-icon, .mooring, salt-icon, #app svg")];
return [faces, icons.map((icon) => {
  const box = icon.getBoundingClientRect();
  return [getComputedStyle(icon, "::before").content, box.width > 8 && box.height > 8];
})];
"""


@pytest.mark.parametrize("name", [name for name, g in GUIDES.items() if any(p.endswith(".html") for p in g.files)])
def test_pages_show_icons(name: str, copy: ProjectFolder, client: Callable[[str], str], browser: Any) -> None:
    guide = GUIDES[name]
    follow(guide, copy, client)
    page = next(path for path in ("site/page.html", "site/index.html") if (copy.root / path).exists())
    with serving(copy.root) as (address, asked):
        browser.get(f"{address}/{page}")
        browser.execute_async_script("document.fonts.ready.then(() => setTimeout(arguments[0], 100))")
        faces, icons = browser.execute_script(_SHOWN)
        errors = [entry for entry in browser.get_log("browser") if "favicon" not in entry["message"]]
    assert not errors and icons and all(large for _, large in icons)
    if name != "components":  # there icons are drawings
        inlined = name == "bundler"  # fonts of a few icons
        assert faces == 1 and len([path for path in asked if path.endswith(".woff2")]) == (not inlined)
        assert name == "element" or all(re.match('"[\ue000-\uf8ff]"', content) for content, _ in icons)


def test_android_compiles_the_resources(copy: ProjectFolder, client: Callable[[str], str]) -> None:
    follow(GUIDES["android"], copy, client)
    assert (copy.root / "signs.apk").is_file()


def test_every_guide_is_followed_by_a_test() -> None:
    followed = {name for name, g in GUIDES.items() if g.printed or any(path.endswith(".html") for path in g.files)}
    assert set(GUIDES) - followed == {"android", "apple", "flutter", "dotnet", "sites"}
