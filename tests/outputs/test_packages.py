"""Bundles with digests in their names, as packages, and as modules for frameworks."""

from __future__ import annotations

import importlib
import importlib.util
import io
import json
import os
import re
import shutil
import subprocess
import sys
import zipfile
from pathlib import Path
from typing import Any

import numpy as np
import pytest
import yaml

from support.clients import Client, run, serving
from support.compose_stubs import write_stubs
from support.project import CLIENTS, CONFIG, RING, SQUARE, ProjectFolder
from support.raster import glyph_mask

WIDE = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 48 24"><circle cx="30" cy="11" r="9.3"/></svg>'
ALL = '"css", "typescript", "json", "specimen"'
FRAMEWORKS = ["plain", "react", "vue", "svelte", "solid"]


# -- digests ---------------------------------------------------------------------------------


@pytest.fixture
def hashed(project: ProjectFolder) -> ProjectFolder:
    text = CONFIG.replace(ALL, '"css", "head", "manifest", "web-component", "specimen"')
    return project.config(text.replace('into = "dist"', 'into = "dist"\nhashed = true'))


def real(project: ProjectFolder) -> dict[str, str]:
    found: dict[str, str] = json.loads(project.read("dist/tide-marks-manifest.json"))["files"]
    return found


def test_every_url_follows_the_digest_and_stale_files_go(hashed: ProjectFolder) -> None:
    hashed.build()
    before = real(hashed)
    assert set(before) >= {"tide-marks.css", "tide-marks.woff2", "tide-marks.ttf", "tide-marks-element.mjs"}
    assert set(before.values()) < hashed.files()
    css = hashed.read(f"dist/{before['tide-marks.css']}")
    assert re.findall(r'url\("([^"]+)"\)', css) == [before[f"tide-marks.{kind}"] for kind in ("woff2", "woff", "ttf")]
    page = hashed.read("dist/tide-marks-specimen.html")
    assert before["tide-marks.css"] in page and "tide-marks.css" not in page.replace(before["tide-marks.css"], "")
    hashed.icon("buoy", SQUARE.replace("M4 4", "M3 3")).build()
    after = real(hashed)
    assert f'href="dist/{after["tide-marks.css"]}"' in hashed.run("use", "buoy", "--in", "html", "--once").stdout
    assert not set(before.values()) & hashed.files() and set(after.values()) < hashed.files()
    assert after.keys() == before.keys() and not set(after.values()) & set(before.values())
    assert hashed.run("build", "--frozen").returncode == 0
    assert hashed.run("proof").returncode == 0, "proof finds the font"


def test_a_page_with_the_head_loads_each_file_once(hashed: ProjectFolder, browser: Any) -> None:
    hashed.config(hashed.read("oddpeg.toml").replace('"web-component", ', "")).build()
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


# -- modules ---------------------------------------------------------------------------------


@pytest.fixture(scope="module")
def modules(tmp_path_factory: pytest.TempPathFactory) -> ProjectFolder:
    """The modules of every framework, each in a folder of its own."""
    project = ProjectFolder(tmp_path_factory.mktemp("modules") / "set")
    outputs = ", ".join(f'{{ kind = "svg-modules", for = "{f}", to = "{f}/index.mjs" }}' for f in FRAMEWORKS)
    text = CONFIG.replace(ALL, outputs).replace('prefix = "tm"', 'prefix = "tm"\nmirrored = ["port"]')
    project.config(text).icon("port").icon("class", RING).icon("3-masts").icon("tide-low", RING)
    project.icon("a-b").icon("ab", RING).icon("潮")
    project.write("icons/icons.csv", "icon,aliases\nport,larboard\n").build()
    (project.root / "node_modules").symlink_to(CLIENTS / "node_modules")
    return project


def test_names_are_legal_and_unique(modules: ProjectFolder) -> None:
    for framework in FRAMEWORKS:
        index = modules.read(f"dist/{framework}/index.mjs")
        names = re.findall(r"default as (\S+) }", index)
        assert len(set(names)) == len(names) == 8 and {"class", "Class"} & {n.strip("_") for n in names}
        files = re.findall(r'from "\./([^"]+)"', index)
        assert {f.lower() for f in files} <= {f.lower() for f in modules.files(f"dist/{framework}")}
        assert len({f.lower() for f in files}) == 7


PAGES = {
    "plain": 'import { larboard } from "./dist/plain/index.mjs";\n'
    'console.log(larboard({ size: 30, title: "<to> port" }));',
    "react": 'import { Larboard } from "./dist/react/index.mjs"; import { createElement as h } from "react";\n'
    'import { renderToStaticMarkup } from "react-dom/server"; console.log(renderToStaticMarkup(h(Larboard, { size: 30,'
    ' title: "<to> port" })));',
    "vue": 'import { Larboard } from "./dist/vue/index.mjs"; import { createSSRApp, h } from "vue";\n'
    'import { renderToString } from "vue/server-renderer";\nconst render = () =>'
    ' h(Larboard, { size: 30, title: "<to> port" });\nconsole.log(await renderToString(createSSRApp({ render })));',
}


@pytest.mark.parametrize("framework", PAGES)
def test_they_render_on_a_server(modules: ProjectFolder, client: Client, framework: str) -> None:
    (modules.root / f"{framework}.mjs").write_text(PAGES[framework])
    said = run(client("node"), f"{framework}.mjs", cwd=modules.root)
    assert 'height="30"' in said and 'data-turns="rtl"' in said and 'role="img"' in said
    assert re.search(r"<title>(&#60;to&#62;|&lt;to&gt;) port</title>", said) and "M" in said


def test_svelte_and_solid_compile_and_render(modules: ProjectFolder, client: Client) -> None:
    script = """
import { compile } from "svelte/compiler"; import { readFileSync, writeFileSync } from "node:fs";
import { transformSync } from "@babel/core";
const source = readFileSync("dist/svelte/port.svelte", "utf8");
const svelte = compile(source, { generate: "server", filename: "Port.svelte" });
if (svelte.warnings.length) throw new Error(JSON.stringify(svelte.warnings));
writeFileSync("Port.svelte.mjs", svelte.js.code);
const solid = transformSync(readFileSync("dist/solid/port.jsx", "utf8"), { babelrc: false, configFile: false,
  presets: [["babel-preset-solid", { generate: "ssr" }]] });
writeFileSync("Port.solid.mjs", solid.code);
const { render } = await import("svelte/server");
const { default: Svelte } = await import("./Port.svelte.mjs");
console.log(render(Svelte, { props: { size: 30, title: "to port" } }).body);
const { renderToString, createComponent } = await import("solid-js/web");
const { default: Solid } = await import("./Port.solid.mjs");
console.log(renderToString(() => createComponent(Solid, { size: 30, title: "to port" })));
"""
    (modules.root / "compile.mjs").write_text(script)
    said = run(client("node"), "compile.mjs", cwd=modules.root)
    assert said.count('height="30"') == said.count("to port</title>") == said.count('data-turns="rtl"') == 2


IN_BROWSER = {
    "plain": 'import { larboard } from "./dist/plain/index.mjs";\n'
    'document.body.innerHTML = larboard({ size: 30, title: "to port" });',
    "react": 'import { Larboard } from "./dist/react/index.mjs"; import { createElement as h } from "react";\n'
    'import { createRoot } from "react-dom/client";\n'
    'createRoot(document.body).render(h(Larboard, { size: 30, title: "to port" }));',
    "vue": 'import { Larboard } from "./dist/vue/index.mjs"; import { createApp, h } from "vue";\n'
    'createApp({ render: () => h(Larboard, { size: 30, title: "to port" }) }).mount(document.body);',
    "svelte": 'import Larboard from "./made/port.svelte.mjs"; import { mount } from "svelte";\n'
    'mount(Larboard, { target: document.body, props: { size: 30, title: "to port" } });',
    "solid": 'import Larboard from "./made/port.solid.mjs"; import { render, createComponent } from "solid-js/web";\n'
    'render(() => createComponent(Larboard, { size: 30, title: "to port" }), document.body);',
}
FOR_BROWSERS = """
import { compile } from "svelte/compiler"; import { mkdirSync, readFileSync, writeFileSync } from "node:fs";
import { transformSync } from "@babel/core";
mkdirSync("made", { recursive: true });
const source = readFileSync("dist/svelte/port.svelte", "utf8");
const svelte = compile(source, { generate: "client", filename: "Port.svelte" });
writeFileSync("made/port.svelte.mjs", svelte.js.code);
const solid = transformSync(readFileSync("dist/solid/port.jsx", "utf8"), { babelrc: false, configFile: false,
  presets: [["babel-preset-solid", { generate: "dom" }]] });
writeFileSync("made/port.solid.mjs", solid.code);
"""


@pytest.mark.parametrize("framework", IN_BROWSER)
def test_they_show_in_a_browser(modules: ProjectFolder, client: Client, browser: Any, framework: str) -> None:
    (modules.root / "for-browsers.mjs").write_text(FOR_BROWSERS)
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
    project.build()
    (project.root / "one.mjs").write_text('import { Sign_7 } from "./dist/svg-modules/index.mjs"; console.log(Sign_7);')
    (project.root / "node_modules").symlink_to(CLIENTS / "node_modules")
    out = run(
        client("esbuild"), "one.mjs", "--bundle", "--format=esm", "--minify", "--external:react", cwd=project.root
    )
    assert len(out) < 2000, len(out)


# -- other hosts ------------------------------------------------------------------------------


def test_an_archive_is_a_whole_site_and_the_same_every_time(
    project: ProjectFolder, browser: Any, tmp_path: Path
) -> None:
    outputs = '"css", "sprite", "json", "archive"'
    project.config(CONFIG.replace(ALL, outputs).replace("[icons]", 'licence = "Free"\n\n[icons]')).build()
    first = project.bytes("dist/tide-marks.zip")
    shutil.rmtree(project.root / "dist")
    shutil.rmtree(project.root / ".oddpeg")
    project.build()
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
    project.config(CONFIG.replace(ALL, '"css", "web-component", "editor-data"')).build()
    script = """
import { createRequire } from "node:module"; import { readFileSync } from "node:fs";
const require = createRequire(process.argv[2]);
const { getLanguageService, newHTMLDataProvider, TextDocument } = require("vscode-html-languageservice");
const data = JSON.parse(readFileSync(process.argv[3], "utf8"));
const service = getLanguageService({ customDataProviders: [newHTMLDataProvider("signs", data)] });
const at = (text) => {
  const place = text.indexOf("|"), whole = text.replace("|", "");
  const document = TextDocument.create("file:///a.html", "html", 1, whole);
  const list = service.doComplete(document, document.positionAt(place), service.parseHTMLDocument(document));
  return list.items.map((item) => item.label);
};
console.log(JSON.stringify([at('<tm-icon name="|"></tm-icon>'), at('<i class="|"></i>'), at("<tm|")]));
"""
    (project.root / "complete.mjs").write_text(script)
    anchor = CLIENTS / "package.json"
    said = run(client("node"), "complete.mjs", anchor, "dist/tide-marks-html.json", cwd=project.root)
    names, classes, tags = json.loads(said)
    assert {"anchor", "buoy"} <= set(names) and {"tm-icon", "tm-anchor"} <= set(classes) and "tm-icon" in tags


def test_compose_compiles(project: ProjectFolder, client: Client) -> None:
    compose = '{ kind = "compose", package = "harbour.signs" }'
    text = CONFIG.replace(ALL, compose).replace('prefix = "tm"', 'prefix = "tm"\nmirrored = ["port"]')
    project.config(text).icon("port", SQUARE).icon("class", RING).icon("3-masts", RING)
    project.write("icons/icons.csv", "icon,aliases\nport,larboard\n").build()
    stubs = write_stubs(project, "harbour.signs", "tide_marks")
    run(client("kotlinc"), "dist/TideMarksIcons.kt", *stubs, "-d", "out.jar", cwd=project.root)
    code = project.read("dist/TideMarksIcons.kt")
    assert "Port(" in code and ", true)" in code and "val Larboard: TideMarksIcon get() = TideMarksIcon.Port" in code
    assert (project.root / "dist/tide_marks.ttf").is_file()
    assert (
        json.loads(project.run("use", "port", "--json").stdout)["lines"][1]["text"] == "TideMarks(TideMarksIcon.Port)"
    )


def test_a_program_finds_the_font_in_its_resources(project: ProjectFolder) -> None:
    project.config(CONFIG.replace(ALL, '"qt-resource"')).build()
    if importlib.util.find_spec("PySide6") is None and os.environ.get("ODDPEG_REQUIRE_CLIENTS") != "1":
        pytest.skip("PySide6 is not installed")
    rcc = Path(sys.executable).with_name("pyside6-rcc")
    run(rcc, "dist/tide-marks.qrc", "-o", "signs_rc.py", cwd=project.root)
    script = (
        "import signs_rc\nfrom PySide6.QtGui import QFontDatabase, QGuiApplication\napp = QGuiApplication([])\n"
        "number = QFontDatabase.addApplicationFont(':/fonts/tide-marks.ttf')\n"
        "print(QFontDatabase.applicationFontFamilies(number))\n"
    )
    project.write("main.py", script)
    done = subprocess.run([sys.executable, "main.py"], cwd=project.root, capture_output=True, text=True, check=True,
                          env={**os.environ, "QT_QPA_PLATFORM": "offscreen"})  # fmt: skip
    assert done.stdout.strip() == "['Tide Marks']"


def test_packages_for_dart_and_swift(project: ProjectFolder) -> None:
    outputs = '"swift", "swift-package", { kind = "dart", to = "lib/tide_marks.dart", package = "tide_marks" },'
    project.config(CONFIG.replace(ALL, outputs + ' "dart-package", "credits"')).build()
    pubspec = yaml.safe_load(project.read("dist/pubspec.yaml"))
    assert pubspec["name"] == "tide_marks" and pubspec["version"] == "1.0.0"
    (font,) = pubspec["flutter"]["fonts"]
    assert font["family"] == "Tide Marks" and (project.root / "dist" / font["fonts"][0]["asset"]).is_file()
    package = project.read("dist/Package.swift")
    assert 'sources: ["TideMarks.swift", "TideMarksFont.swift"]' in package and '.copy("tide-marks.ttf")' in package
    assert '"pubspec.yaml"' in package.partition("exclude:")[2].partition("]")[0] or "tide-marks.woff2" in package
    tree_sitter = pytest.importorskip("tree_sitter")
    grammar = importlib.import_module("tree_sitter_swift")
    for name in ("Package.swift", "TideMarksFont.swift"):
        tree = tree_sitter.Parser(tree_sitter.Language(grammar.language())).parse(project.bytes(f"dist/{name}"))
        assert not tree.root_node.has_error, name


@pytest.mark.parametrize("depth", [1, 2, 4, 8])
def test_bitmaps_in_a_framebuffer_are_the_glyphs(project: ProjectFolder, client: Client, depth: int) -> None:
    bitmap = f'{{ kind = "bitmap-font", sizes = "24, 40", depth = "{depth}" }}'
    speck = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24"><path d="M4 4h.02v.02h-.02z"/></svg>'
    project.config(CONFIG.replace(ALL, bitmap)).icon("wide", WIDE).icon("zz-speck", speck).build()
    wide = json.loads(project.run("use", "wide", "--json").stdout)["lines"][-1]["text"].removeprefix("U+")
    main = f"""
#include <stdio.h>
#include "tide_marks_bitmaps.h"
int main(void) {{
    const uint32_t codes[] = {{0xe000, 0xe001, 0x{wide}}};
    const tide_marks_strike *strikes[] = {{&tide_marks_24, &tide_marks_40}};
    for (int s = 0; s < 2; s++)
        for (int i = 0; i < 3; i++) {{
            const tide_marks_glyph *glyph = tide_marks_find(strikes[s], codes[i]);
            for (int y = 0; y < strikes[s]->px; y++)
                for (int x = 0; x < glyph->advance; x++)
                    printf("%d ", tide_marks_pixel(strikes[s], glyph, x, y));
            printf("\\n");
        }}
    return tide_marks_find(strikes[0], 0xf000) != NULL;
}}
"""
    project.write("dist/main.c", main)
    flags = ["-std=c99", "-Wall", "-Wextra", "-Werror", "-fsanitize=address,undefined"]
    run(client("gcc"), *flags, "main.c", "-o", "main", cwd=project.root / "dist")
    lines = run(project.root / "dist/main", cwd=project.root / "dist").splitlines()
    shown = iter(lines)
    for px in (24, 40):
        for code, width in ((0xE000, px), (0xE001, px), (int(wide, 16), 2 * px)):
            got = np.array(next(shown).split(), dtype=float).reshape(px, width) / (2**depth - 1)
            wanted = glyph_mask(project.root / "dist/tide-marks.ttf", code, width, px)
            assert np.abs(got - wanted).max() <= 0.5 / (2**depth - 1) + 0.13, (px, code)
    wrong = project.config(CONFIG.replace(ALL, bitmap.replace("24, 40", "24 x"))).run("build")
    assert wrong.returncode == 2 and 'like sizes = "16 24"' in wrong.stderr


# -- package ---------------------------------------------------------------------------------


def test_a_bundle_is_a_package(project: ProjectFolder, client: Client, tmp_path: Path) -> None:
    outputs = '"css", "javascript", "web-component", "svg-modules", { kind = "npm-package", name = "@saltmarsh/signs" }'
    project.config(CONFIG.replace(ALL, outputs)).build()
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
        'import "@saltmarsh/signs/css";\nimport { tideMarksPegs, type TideMarksName } from "@saltmarsh/signs";\n'
        'import { buoy } from "@saltmarsh/signs/svg";\nconst name: TideMarksName = "anchor";\n'
        "document.body.innerHTML = buoy() + tideMarksPegs[name].character;\n"
    )
    (app / "css.d.ts").write_text('declare module "*/css";\n')
    (app / "index.html").write_text('<script type="module" src="/main.ts"></script>')
    for module, resolution in (("nodenext", "nodenext"), ("esnext", "bundler")):
        options = ["--strict", "--noEmit", "--target", "es2022", "--lib", "es2022,dom", "--module", module]
        run(client("tsc"), *options, "--moduleResolution", resolution, "main.ts", "css.d.ts", cwd=app)
    run(client("vite"), "build", "--assetsInlineLimit=0", cwd=app)
    assert list((app / "dist/assets").glob("*.woff2")) and list((app / "dist/assets").glob("*.css"))
