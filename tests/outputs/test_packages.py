"""Bundles with digests in their names, as packages, and as modules for frameworks."""

from __future__ import annotations

import io
import json
import re
import shutil
import zipfile
from pathlib import Path
from typing import Any

import numpy as np
import pytest
import yaml

from support.clients import Client, run, serving
from support.data import table
from support.project import CLIENTS, CONFIG, RING, SQUARE, ProjectFolder
from support.raster import glyph_mask

WIDE = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 48 24"><circle cx="30" cy="11" r="9.3"/></svg>'
ALL = '"css", "typescript", "json", "specimen"'
SCRIPTS = table("scripts")
PAGES, IN_BROWSER = SCRIPTS["on_a_server"], SCRIPTS["in_a_browser"]
FRAMEWORKS = ["plain", "react", "vue", "svelte", "solid"]


@pytest.fixture
def hashed(project: ProjectFolder) -> ProjectFolder:
    text = CONFIG.replace(ALL, '"css", "head", "manifest", "web-component", "specimen"')
    return project.config(text.replace('into = "dist"', 'into = "dist"\nhashed = true'))


def real(project: ProjectFolder) -> dict[str, str]:
    found: dict[str, str] = project.read_json("dist/tide-marks-manifest.json")["files"]
    return found


def test_every_url_follows_the_digest_and_stale_files_go(hashed: ProjectFolder) -> None:
    hashed.deliver()
    before = real(hashed)
    assert set(before) >= {"tide-marks.css", "tide-marks.woff2", "tide-marks.ttf", "tide-marks-element.mjs"}
    assert set(before.values()) < hashed.files()
    css = hashed.read(f"dist/{before['tide-marks.css']}")
    assert hashed.read("dist/tide-marks-head.html").count("<script ") == 1, "types and manifests are no scripts"
    assert re.findall(r'url\("([^"]+)"\)', css) == [before[f"tide-marks.{kind}"] for kind in ("woff2", "woff", "ttf")]
    page = hashed.read("dist/tide-marks-specimen.html")
    assert before["tide-marks.css"] in page and "tide-marks.css" not in page.replace(before["tide-marks.css"], "")
    hashed.icon("buoy", SQUARE.replace("M4 4", "M3 3")).deliver()
    after = real(hashed)
    assert f'href="dist/{after["tide-marks.css"]}"' in hashed.run("use", "buoy", "--in", "html", "--once").stdout
    assert not set(before.values()) & hashed.files() and set(after.values()) < hashed.files()
    assert after.keys() == before.keys() and not set(after.values()) & set(before.values())
    assert hashed.run("build", "--frozen").returncode == 0
    assert hashed.run("proof").returncode == 0, "proof finds the font"


def test_a_page_with_the_head_loads_each_file_once(hashed: ProjectFolder, browser: Any) -> None:
    hashed.config(hashed.read("oddpeg.toml").replace('"web-component", ', "")).deliver()
    head = hashed.read("dist/tide-marks-head.html")
    page = hashed.root / "dist/page.html"
    page.write_text(f'<!doctype html><meta charset=utf-8>{head}<i class="tm-icon tm-buoy"></i>', encoding="utf-8")
    with serving(hashed.root / "dist") as (address, asked):
        browser.get(f"{address}/page.html")
        browser.execute_async_script("document.fonts.ready.then(() => arguments[0]())")
        status = browser.execute_script("return [...document.fonts].map(f => f.status)")
        warnings = [entry for entry in browser.get_log("browser") if "favicon" not in entry["message"]]
    assert status == ["loaded"] and not warnings
    names = real(hashed)
    assert sorted(a for a in asked if "favicon" not in a) == sorted(
        ["/page.html", f"/{names['tide-marks.css']}", f"/{names['tide-marks.woff2']}"]
    )
    assert "sha384-" in head and head.index("preload") < head.index("stylesheet")


@pytest.fixture(scope="module")
def modules(tmp_path_factory: pytest.TempPathFactory) -> ProjectFolder:
    """The modules of every framework, each in a folder of its own."""
    project = ProjectFolder(tmp_path_factory.mktemp("modules") / "set")
    outputs = ", ".join(f'{{ kind = "svg-modules", for = "{f}", to = "{f}/index.mjs" }}' for f in FRAMEWORKS)
    text = CONFIG.replace(ALL, outputs).replace('prefix = "tm"', 'prefix = "tm"\nmirrored = ["port"]')
    project.config(text).icon("port").icon("class", RING).icon("3-masts").icon("tide-low", RING)
    project.icon("a-b").icon("ab", RING).icon("潮")
    project.write("icons/icons.csv", "icon,aliases\nport,larboard\n").deliver()
    (project.root / "node_modules").symlink_to(CLIENTS / "node_modules")
    return project


def test_names_are_legal_and_unique(modules: ProjectFolder) -> None:
    for framework in FRAMEWORKS:
        index = modules.read(f"dist/{framework}/index.mjs")
        names = re.findall(r"(?<!\w)(?:as|const) (\S+)", index)
        assert len(set(names)) == len(names) == 8 and {"class", "Class"} & {n.strip("_") for n in names}
        files = {f.lower() for f in modules.files(f"dist/{framework}") if not f.startswith(("index", "base"))}
        assert len({f.partition(".")[0] for f in files - {"mirrored.css"}}) == 7


@pytest.mark.parametrize("framework", PAGES)
def test_they_render_on_a_server(modules: ProjectFolder, client: Client, framework: str) -> None:
    (modules.root / f"{framework}.mjs").write_text(PAGES[framework])
    said = run(client("node"), f"{framework}.mjs", cwd=modules.root)
    assert 'height="30"' in said and 'data-turns="rtl"' in said and 'role="img"' in said
    assert re.search(r"<title>(&#60;to&#62;|&lt;to&gt;) port</title>", said) and "M" in said


def test_svelte_and_solid_compile_and_render(modules: ProjectFolder, client: Client) -> None:
    (modules.root / "compile.mjs").write_text(SCRIPTS["svelte_and_solid"])
    said = run(client("node"), "compile.mjs", cwd=modules.root)
    assert said.count('height="30"') == said.count("to port</title>") == said.count('data-turns="rtl"') == 2


@pytest.mark.parametrize("framework", IN_BROWSER)
def test_they_show_in_a_browser(modules: ProjectFolder, client: Client, browser: Any, framework: str) -> None:
    (modules.root / "for-browsers.mjs").write_text(SCRIPTS["for_browsers"])
    run(client("node"), "for-browsers.mjs", cwd=modules.root)
    (modules.root / f"{framework}-page.mjs").write_text(IN_BROWSER[framework])
    flags = [
        "--bundle",
        f"--outfile={framework}-page.js",
        "--conditions=browser",
        '--define:process.env.NODE_ENV="production"',
    ]
    run(client("esbuild"), f"{framework}-page.mjs", *flags, cwd=modules.root)
    page = f'<!doctype html><meta charset=utf-8><body></body><script src="{framework}-page.js"></script>'
    (modules.root / f"{framework}.html").write_text(page)
    browser.get((modules.root / f"{framework}.html").as_uri())
    shown = """
const svg = document.querySelector("svg"), box = svg.getBoundingClientRect(), ink = svg.querySelector("path").getBBox();
return [box.height, svg.querySelector("title").textContent, ink.width > 0];
"""
    assert browser.execute_script(shown) == [30, "to port", True]
    assert not [entry for entry in browser.get_log("browser") if entry["level"] == "SEVERE"]


@pytest.mark.parametrize("framework", ["plain", "react", "vue"])
def test_types_check(modules: ProjectFolder, client: Client, framework: str) -> None:
    name = "larboard" if framework == "plain" else "Larboard"
    call = f"{name}({{ size: 3 }})"
    (modules.root / f"{framework}.ts").write_text(
        f'import {{ {name} }} from "./dist/{framework}/index.mjs";\nexport const made = {call};\n'
        "// @ts-expect-error there is no such icon\n"
        f'import {{ starbord }} from "./dist/{framework}/index.mjs";\nexport {{ starbord }};\n'
        if framework != "vue"
        else f'import {{ {name} }} from "./dist/vue/index.mjs";\nexport const made: import("vue").Component = {name};\n'
    )
    options = ["--strict", "--noEmit", "--target", "es2022", "--lib", "es2022,dom", "--module", "esnext"]
    run(client("tsc"), *options, "--moduleResolution", "bundler", f"{framework}.ts", cwd=modules.root)


def test_one_of_two_thousand_is_small(tmp_path: Path, client: Client) -> None:
    project = ProjectFolder(tmp_path / "many")
    text = CONFIG.replace(ALL, '{ kind = "svg-modules", for = "react" }').replace('["woff2", "woff", "ttf"]', "[]")
    project.config(text)
    for number in range(2000):
        project.icon(f"sign-{number}", RING if number % 2 else SQUARE)
    project.deliver()
    (project.root / "one.mjs").write_text('import { Sign_7 } from "./dist/svg-modules/index.mjs"; console.log(Sign_7);')
    (project.root / "node_modules").symlink_to(CLIENTS / "node_modules")
    out = run(
        client("esbuild"), "one.mjs", "--bundle", "--format=esm", "--minify", "--external:react", cwd=project.root
    )
    assert len(out) < 2000, len(out)


def test_an_archive_is_a_whole_site_and_the_same_every_time(
    project: ProjectFolder, browser: Any, tmp_path: Path
) -> None:
    outputs = '"css", "sprite", "json", "archive"'
    project.config(CONFIG.replace(ALL, outputs).replace("[icons]", 'licence = "Free"\n\n[icons]')).deliver()
    first = project.bytes("dist/tide-marks.zip")
    shutil.rmtree(project.root / "dist")
    shutil.rmtree(project.root / ".oddpeg")
    project.deliver()
    assert project.bytes("dist/tide-marks.zip") == first
    with zipfile.ZipFile(io.BytesIO(first)) as archive:
        assert archive.testzip() is None
        archive.extractall(tmp_path / "site")
        assert set(archive.namelist()) >= {"index.html", "LICENCE.txt", "tide-marks.css", "tide-marks.woff2"}
    browser.get((tmp_path / "site/index.html").as_uri())
    browser.execute_async_script("document.fonts.ready.then(() => arguments[0]())")
    assert browser.execute_script("return [...document.fonts].map(f => f.status)") == ["loaded"]
    assert project.run("build", "--frozen").returncode == 0


def test_editors_complete_names(project: ProjectFolder, client: Client) -> None:
    project.config(CONFIG.replace(ALL, '"css", "web-component", "editor-data"')).deliver()
    (project.root / "complete.mjs").write_text(SCRIPTS["complete"])
    anchor = CLIENTS / "package.json"
    said = run(client("node"), "complete.mjs", anchor, "dist/tide-marks-html.json", cwd=project.root)
    names, classes, tags = json.loads(said)
    assert {"anchor", "buoy"} <= set(names) and {"tm-icon", "tm-anchor"} <= set(classes) and "tm-icon" in tags


def test_packages_for_dart_and_swift(project: ProjectFolder) -> None:
    outputs = '"swift", "swift-package", { kind = "dart", to = "lib/tide_marks.dart", package = "tide_marks" },'
    project.config(CONFIG.replace(ALL, outputs + ' "dart-package", "credits"')).deliver()
    pubspec = yaml.safe_load(project.read("dist/pubspec.yaml"))
    assert pubspec["name"] == "tide_marks" and pubspec["version"] == "1.0.0"
    (font,) = pubspec["flutter"]["fonts"]
    assert font["family"] == "Tide Marks" and (project.root / "dist" / font["fonts"][0]["asset"]).is_file()
    package = project.read("dist/Package.swift")
    assert 'sources: ["TideMarks.swift", "TideMarksFont.swift"]' in package and '.copy("tide-marks.ttf")' in package
    assert '"pubspec.yaml"' in package.partition("exclude:")[2].partition("]")[0] or "tide-marks.woff2" in package


@pytest.mark.parametrize("depth", [1, 2, 4, 8])
def test_bitmaps_in_a_framebuffer_are_the_glyphs(project: ProjectFolder, client: Client, depth: int) -> None:
    bitmap = f'{{ kind = "bitmap-font", sizes = "24, 40", depth = {depth} }}'
    speck = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24"><path d="M4 4h.02v.02h-.02z"/></svg>'
    project.config(CONFIG.replace(ALL, bitmap)).icon("wide", WIDE).icon("zz-speck", speck).deliver()
    wide = project.json("use", "wide")["lines"][-1]["text"].removeprefix("U+")
    main = SCRIPTS["bitmaps"].replace("@WIDE@", wide)
    project.write("dist/main.c", main)
    flags = ["-std=c99", "-Wall", "-Wextra", "-Werror", "-fsanitize=address,undefined"]
    other = "const void *other(void) { return tide_marks_find(&tide_marks_24, 0xe000); }\n"
    project.write("dist/other.c", f'#include <stdio.h>\n#include "tide_marks_bitmaps.h"\n{other}')
    run(client("gcc"), *flags, "main.c", "other.c", "-o", "main", cwd=project.root / "dist")
    symbols = run("nm", "main", cwd=project.root / "dist").split("\n")
    assert len([line for line in symbols if re.search(r" tide_marks_24$", line)]) == 1, "two users share the arrays"
    lines = run(project.root / "dist/main", cwd=project.root / "dist").splitlines()
    shown = iter(lines)
    for px in (24, 40):
        for code, width in ((0xE000, px), (0xE001, px), (int(wide, 16), 2 * px)):
            got = np.array(next(shown).split(), dtype=float).reshape(px, width) / (2**depth - 1)
            wanted = glyph_mask(project.root / "dist/tide-marks.ttf", code, width, px)
            assert np.abs(got - wanted).max() <= 0.5 / (2**depth - 1) + 0.13, (px, code)
    wrong = project.config(CONFIG.replace(ALL, bitmap.replace("24, 40", "24 x"))).run("build")
    assert wrong.returncode == 2 and 'like sizes = "16 24"' in wrong.stderr


def test_a_bundle_is_a_package(project: ProjectFolder, client: Client, tmp_path: Path) -> None:
    outputs = '"css", "javascript", "web-component", "svg-modules", { kind = "npm-package", name = "@saltmarsh/signs" }'
    project.config(CONFIG.replace(ALL, outputs)).deliver()
    packed = json.loads(run(client("npm"), "pack", "--json", "--pack-destination", tmp_path, cwd=project.root / "dist"))
    assert packed[0]["name"] == "@saltmarsh/signs" and packed[0]["version"] == "1.0.0"
    app = tmp_path / "app"
    app.mkdir()
    (app / "package.json").write_text('{ "name": "app", "private": true, "type": "module" }')
    archive = next(tmp_path.glob("*.tgz"))
    run(client("npm"), "install", "--no-audit", "--no-fund", "--offline", archive, cwd=app)
    for name in ("vite", "typescript", "rolldown", "lightningcss"):
        if (CLIENTS / "node_modules" / name).exists() and not (app / "node_modules" / name).exists():
            (app / "node_modules" / name).symlink_to(CLIENTS / "node_modules" / name)
    (app / "main.ts").write_text(
        'import "@saltmarsh/signs/css";\nimport { tideMarksIcons, type TideMarksName } from "@saltmarsh/signs";\n'
        'import { buoy } from "@saltmarsh/signs/svg";\nconst name: TideMarksName = "anchor";\n'
        "document.body.innerHTML = buoy() + tideMarksIcons[name].character;\n"
    )
    (app / "css.d.ts").write_text('declare module "*/css";\n')
    (app / "index.html").write_text('<script type="module" src="/main.ts"></script>')
    for module, resolution in (("nodenext", "nodenext"), ("esnext", "bundler")):
        options = ["--strict", "--noEmit", "--target", "es2022", "--lib", "es2022,dom", "--module", module]
        run(client("tsc"), *options, "--moduleResolution", resolution, "main.ts", "css.d.ts", cwd=app)
    run(client("vite"), "build", "--assetsInlineLimit=0", cwd=app)
    assert list((app / "dist/assets").glob("*.woff2")) and list((app / "dist/assets").glob("*.css"))
