"""Apps made by the platforms' own generators: `init`, `build`, the lines of `use`, then the app's own scripts."""

from __future__ import annotations

import json
import os
import subprocess
from pathlib import Path
from typing import Any, NamedTuple

import pytest

from support.clients import Client, run, serving
from support.project import CLIENTS, CONFIG, RING, ProjectFolder

MODULES = CLIENTS / "node_modules"


class App(NamedTuple):
    """An app: the file that holds its page, the page with {imports} and {icons}, and the scripts that check it."""

    page: str
    text: str
    scripts: list[str]


APPS = {
    "react": App(
        "src/App.tsx", "{imports}\nexport default function App() {{ return <p>{icons}</p> }}\n", ["build", "lint"]
    ),
    "vue": App(
        "src/App.vue",
        '<script setup lang="ts">\n{imports}\n</script>\n<template><p>{icons}</p></template>\n',
        ["build"],
    ),
    "svelte": App("src/App.svelte", '<script lang="ts">\n{imports}\n</script>\n<p>{icons}</p>\n', ["check", "build"]),
}
ELEMENT = """
[bundle.element]
into = "src/element"
fonts = []
outputs = [{ kind = "web-component", embed = true }]
"""
SHOWN = """
const [icon, tag] = arguments, faces = [...document.fonts].filter(face => face.status == "loaded").length;
const inner = document.querySelector(tag).shadowRoot.querySelector("span");
return [faces > 0, getComputedStyle(document.querySelector(icon), "::before").content, inner.textContent];
"""


def scripts(app: ProjectFolder, names: list[str]) -> subprocess.CompletedProcess[str]:
    """Run scripts of the app's package.json, as npm would, until one fails."""
    known = app.read_json("package.json")["scripts"]
    environment = {**os.environ, "PATH": f"{MODULES}/.bin{os.pathsep}{os.environ['PATH']}"}
    command = " && ".join(known[name] for name in names)
    return subprocess.run(
        ["sh", "-c", command], cwd=app.root, env=environment, capture_output=True, text=True, check=False
    )


@pytest.mark.parametrize("framework", APPS)
def test_an_app_of_a_generator_shows_icons(framework: str, tmp_path: Path, client: Client, browser: Any) -> None:
    kind = APPS[framework]
    generator = MODULES / "create-vite/index.js"
    run(client("node"), generator, "pier-one", "--template", f"{framework}-ts", "--no-interactive", cwd=tmp_path)
    app = ProjectFolder(tmp_path / "pier-one")
    (app.root / "node_modules").symlink_to(MODULES)
    app.icon("anchor").icon("buoy", RING)
    for command in ("init", "build"):
        assert app.run(command).returncode == 0
    app.config(app.read("oddpeg.toml") + ELEMENT).deliver()
    lines = [line.split(maxsplit=2) for line in app.run("use", "anchor", "--from", kind.page).stdout.splitlines()]
    wanted = [line for line in lines if line[0] in (framework, "web-component") and "<script" not in line[2]]
    imports = "\n".join(text for _, when, text in wanted if when == "once")
    icons = "".join(text for _, when, text in wanted if when == "each")
    app.write(kind.page, kind.text.format(imports=imports, icons=icons))
    done = scripts(app, kind.scripts)
    assert done.returncode == 0, done.stdout + done.stderr
    with serving(app.root / "dist") as (address, _):
        browser.get(address)
        browser.execute_async_script("document.fonts.ready.then(() => setTimeout(arguments[0], 100))")
        faces, content, inner = browser.execute_script(SHOWN, ".po-anchor", "po-icon")
    assert faces and content.startswith('"\ue000"') and inner == "\ue000"
    app.write(kind.page, kind.text.format(imports=imports, icons=icons.replace('"anchor"', '"amchor"')))
    wrong = scripts(app, kind.scripts[:1])
    found = [line for line in wrong.stdout.splitlines() if "amchor" in line and "not assignable" in line]
    assert wrong.returncode and len(found) == 2, wrong.stdout  # of the component and of the element


ANGULAR = """
import {{ Component }} from "@angular/core";
{imported}
@Component({{ selector: "app-root", {listed}, template: `{icon}` }})
export class App {{}}
"""


def test_angular_compiles_with_strict_templates(project: ProjectFolder, client: Client) -> None:
    project.config(CONFIG.replace('"css", "typescript", "json", "specimen"', '"css", "angular"')).deliver()
    (project.root / "node_modules").symlink_to(MODULES)
    lines = [line.split(maxsplit=2) for line in project.run("use", "anchor", "--from", "app.ts").stdout.splitlines()]
    imported, listed, icon = (line[2] for line in lines if line[0] == "angular")
    options = {"target": "es2022", "module": "esnext", "moduleResolution": "bundler", "strict": True, "types": []}
    config = {"compilerOptions": options, "angularCompilerOptions": {"strictTemplates": True}, "files": ["app.ts"]}
    project.write("tsconfig.json", json.dumps(config))
    project.write("app.ts", ANGULAR.format(imported=imported, listed=listed, icon=icon))
    run(client("ngc"), "-p", "tsconfig.json", "--outDir", "built", cwd=project.root)
    project.write("app.ts", ANGULAR.format(imported=imported, listed=listed, icon=icon.replace("anchor", "amchor")))
    with pytest.raises(AssertionError, match="not assignable to type 'TideMarksName'"):
        run(client("ngc"), "-p", "tsconfig.json", "--outDir", "built", cwd=project.root)
