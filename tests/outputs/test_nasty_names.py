"""All that is hard to name, in packages and in kinds of several files, each in the hands of its own client."""

from __future__ import annotations

import importlib
import json
import re
import shutil
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest

from support.clients import Client, run
from support.compose_stubs import write_stubs
from support.nasty import codes, nasty_project
from support.project import CLIENTS, ProjectFolder

FRAMEWORKS = ["plain", "react", "vue", "svelte", "solid"]
KINDS = [
    *("json", "css", "javascript", "typescript", "web-component", "head", "manifest", "editor-data", "archive"),
    *("utilities", "android-xml", "swift", "swift-package", "qt-resource", "credits"),
    '{ kind = "compose", package = "odd.signs" }',
    '{ kind = "dart", to = "lib/odd_signs.dart", package = "odd_signs" }',
    *("dart-package", "npm-package"),
    '{ kind = "bitmap-font", sizes = "16" }',
    *(f'{{ kind = "svg-modules", for = "{name}", to = "{name}/index.mjs" }}' for name in FRAMEWORKS),
]


@pytest.fixture(scope="module")
def nasty(tmp_path_factory: pytest.TempPathFactory) -> ProjectFolder:
    """The project, built, with the packages from npm where its files look for them."""
    project = nasty_project(tmp_path_factory.mktemp("nasty") / "set", KINDS)
    (project.root / "node_modules").symlink_to(CLIENTS / "node_modules")
    return project


def test_android_takes_the_strings_and_gives_them_back(nasty: ProjectFolder, client: Client, tmp_path: Path) -> None:
    (tmp_path / "res/values").mkdir(parents=True)
    (tmp_path / "res/font").mkdir()
    shutil.copy(nasty.root / "out/odd_signs.xml", tmp_path / "res/values")
    shutil.copy(nasty.root / "out/odd_signs.ttf", tmp_path / "res/font")
    manifest = '<manifest xmlns:android="http://schemas.android.com/apk/res/android" package="odd.signs"/>'
    (tmp_path / "AndroidManifest.xml").write_text(manifest)
    aapt = client("aapt2")
    run(aapt, "compile", "--dir", "res", "-o", "res.zip", cwd=tmp_path)
    run(aapt, "link", "-o", "app.apk", "--manifest", "AndroidManifest.xml", "res.zip", cwd=tmp_path)
    dump = subprocess.run([aapt, "dump", "resources", "app.apk"], cwd=tmp_path, capture_output=True, check=True).stdout
    said = dump.decode("utf-8", "surrogatepass").encode("utf-16", "surrogatepass").decode("utf-16")  # as Java writes it
    found = dict(re.findall(r'resource 0x\w+ string/(\w+)\n\s+\(\) "(.)"\n', said))
    assert sorted(map(ord, found.values())) == sorted(codes(nasty).values()) and "font/odd_signs" in said
    assert found["od_apostrophe"] == "'" and found["od_query"] == "?" and found["od_at"] == "@"


def test_compose_compiles(nasty: ProjectFolder, client: Client) -> None:
    stubs = write_stubs(nasty, "odd.signs", "odd_signs")
    run(client("kotlinc"), "out/OddSignsIcons.kt", *stubs, "-d", "out.jar", cwd=nasty.root)


@pytest.mark.parametrize("framework", FRAMEWORKS)
def test_modules_are_bundled_whole(nasty: ProjectFolder, client: Client, framework: str, tmp_path: Path) -> None:
    names = re.findall(r"as (\S+) }", nasty.read(f"out/{framework}/index.mjs"))
    assert len(set(names)) == len(names) == len(codes(nasty))
    page = f'import * as all from "./out/{framework}/index.mjs"; console.log(Object.keys(all).length);'
    nasty.write(f"{framework}.mjs", page)
    loaders = ["--loader:.jsx=jsx", "--jsx=preserve"] if framework == "solid" else []
    outside = ["--external:*.svelte", "--external:*.jsx"] if framework in ("svelte", "solid") else []
    flags = ["--bundle", "--platform=node", "--format=esm", f"--outfile={tmp_path / 'all.mjs'}", *loaders, *outside]
    run(client("esbuild"), f"{framework}.mjs", *flags, cwd=nasty.root)
    if not outside:
        shown = run(client("node"), tmp_path / "all.mjs", cwd=nasty.root, NODE_PATH=str(CLIENTS / "node_modules"))
        assert int(shown) == len(names)


def test_every_svelte_and_solid_file_compiles(nasty: ProjectFolder, client: Client) -> None:
    script = """
import { createRequire } from "node:module";
import { readFileSync, readdirSync } from "node:fs";
const need = createRequire(process.argv[2]);
const svelte = need("svelte/compiler"), babel = need("@babel/core");
let count = 0;
for (const file of readdirSync("out/svelte").filter((name) => name.endsWith(".svelte"))) {
  svelte.compile(readFileSync(`out/svelte/${file}`, "utf8"), { generate: "server" });
  count++;
}
for (const file of readdirSync("out/solid").filter((name) => name.endsWith(".jsx"))) {
  babel.transformSync(readFileSync(`out/solid/${file}`, "utf8"), { presets: [need.resolve("babel-preset-solid")] });
  count++;
}
console.log(count);
"""
    nasty.write("compile.mjs", script)
    count = int(run(client("node"), "compile.mjs", CLIENTS / "package.json", cwd=nasty.root))
    assert count == 2 * len(set(codes(nasty).values()))


def test_a_framework_makes_the_utilities_in_use(nasty: ProjectFolder, client: Client, browser: Any) -> None:
    used = ["at", "quote", "class", "3-masts", "潮", "straße", "ebb", "x" * 60]
    spans = "".join(f'<i class="od-icon od-{name}"></i>' for name in used)
    page = f'<!doctype html><meta charset=utf-8><link rel=stylesheet href=made.css>{spans}<b class="hover:od-q"></b>'
    (nasty.root / "site").mkdir()
    nasty.write("site/page.html", page)
    nasty.write("site/in.css", '@import "tailwindcss";\n@import "../out/odd-signs-utilities.css";\n')
    run(client("tailwindcss"), "-i", "in.css", "-o", "made.css", cwd=nasty.root / "site")
    made = nasty.read("site/made.css")
    assert ".od-at::before" in made and ".od-dollar" not in made and ".hover\\:od-q:hover::before" in made
    browser.get((nasty.root / "site/page.html").as_uri())
    content = "return getComputedStyle(arguments[0], '::before').content"
    shown = [browser.execute_script(content, one) for one in browser.find_elements("css selector", "i")]
    known = codes(nasty)
    plain = [re.sub(r'^"\\?(.)" / ""$', r"\1", text) for text in shown]
    assert plain == [chr(known[name]) for name in used]


def test_a_package_of_names_is_imported(nasty: ProjectFolder, client: Client) -> None:
    package = json.loads(nasty.read("out/package.json"))
    home = nasty.root / "shelf/node_modules" / package["name"]
    home.parent.mkdir(parents=True, exist_ok=True)
    shutil.copytree(nasty.root / "out", home)
    assert "." in package["exports"], package
    script = f'import * as all from "{package["name"]}"; console.log(JSON.stringify(all));'
    nasty.write("shelf/main.mjs", script)
    said = json.loads(run(client("node"), "main.mjs", cwd=nasty.root / "shelf"))
    pegs = next(value for key, value in said.items() if key.endswith("Pegs"))
    assert {name: peg["codepoint"] for name, peg in pegs.items()} == codes(nasty)


def test_packages_for_dart_and_swift_parse(nasty: ProjectFolder) -> None:
    parsers = pytest.importorskip("tree_sitter")
    for language, names in (("swift", ["Package.swift", "OddSigns.swift"]), ("dart", ["lib/odd_signs.dart"])):
        grammar = parsers.Language(importlib.import_module(f"tree_sitter_{language}").language())
        for name in names:
            assert not parsers.Parser(grammar).parse(nasty.bytes(f"out/{name}")).root_node.has_error, name


def test_resources_of_qt_compile(nasty: ProjectFolder) -> None:
    rcc = Path(sys.executable).with_name("pyside6-rcc")
    if not rcc.exists():
        pytest.importorskip("PySide6")
    resource = next(path.name for path in (nasty.root / "out").glob("*.qrc"))
    run(rcc, resource, "-o", "signs_rc.py", cwd=nasty.root / "out")


def test_bitmaps_are_found_by_codepoint(nasty: ProjectFolder, client: Client) -> None:
    known = sorted(set(codes(nasty).values()))
    main = f"""
#include "odd_signs_bitmaps.h"
int main(void) {{
    const uint32_t codes[] = {{{", ".join(map(hex, known))}}};
    for (unsigned i = 0; i < sizeof codes / sizeof *codes; i++)
        if (!odd_signs_find(&odd_signs_16, codes[i])) return 1;
    return odd_signs_find(&odd_signs_16, 0xe123) != NULL;
}}
"""
    nasty.write("out/main.c", main)
    flags = ["-std=c99", "-Wall", "-Wextra", "-Werror", "-fsanitize=address,undefined"]
    run(client("gcc"), *flags, "main.c", "-o", "main", cwd=nasty.root / "out")
    run(nasty.root / "out/main", cwd=nasty.root / "out")


def test_editors_offer_every_name(nasty: ProjectFolder) -> None:
    data = json.loads(nasty.read("out/odd-signs-html.json"))
    sets = {one["name"]: {value["name"] for value in one["values"]} for one in data["valueSets"]}
    assert sets["icons"] == set(codes(nasty)) and sets["classes"] == {"od-icon", *(f"od-{n}" for n in codes(nasty))}
