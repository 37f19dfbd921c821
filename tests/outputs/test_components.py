"""Components that show an icon of the font, compiled, rendered and shown; the custom element in code of frameworks."""

from __future__ import annotations

from typing import Any

import pytest

from support.clients import Client, run, serving
from support.data import table
from support.project import CLIENTS, CONFIG, RING, ProjectFolder

SCRIPTS = table("components")
KINDS = '"css", "react", "vue", "svelte", "web-component", "javascript", "npm-package", "svg-modules"'
LOOK = 'prefix = "tm"\nsizes = { big = "2.5rem" }\ncolours = { warn = "rgb(200 10 20)" }'
TSC = [
    "--strict",
    "--noEmit",
    "--target",
    "es2022",
    "--jsx",
    "react-jsx",
    "--module",
    "esnext",
    "--moduleResolution",
    "bundler",
]


@pytest.fixture(scope="module")
def app(tmp_path_factory: pytest.TempPathFactory) -> ProjectFolder:
    """Two icons, one with an older name, in a folder with the frameworks' packages."""
    project = ProjectFolder(tmp_path_factory.mktemp("components") / "set")
    text = CONFIG.replace('"css", "typescript", "json", "specimen"', KINDS).replace('prefix = "tm"', LOOK)
    project.config(
        f'{text}\n[bundle.lone]\ninto = "lone"\nfonts = []\noutputs = [{{ kind = "web-component", embed = true }}]\n'
    )
    project.icon("anchor").icon("buoy", RING).deliver()
    project.run("pegs", "rename", "buoy", "float")
    project.deliver()
    (project.root / "node_modules").symlink_to(CLIENTS / "node_modules")
    return project


def test_names_are_types(app: ProjectFolder, client: Client) -> None:
    for file, text in SCRIPTS["typed"].items():
        app.write(file, text)
    run(client("tsc"), *TSC, *SCRIPTS["typed"], cwd=app.root)


def test_components_render_on_a_server(app: ProjectFolder, client: Client) -> None:
    app.write("server.mjs", SCRIPTS["server"])
    lines = run(client("node"), "server.mjs", cwd=app.root).splitlines()
    assert len(lines) == 3
    for line in lines:
        assert 'class="tm-icon tm-anchor tm-size-big tm-colour-warn mine"' in line and "aria-hidden" not in line
        assert 'role="img"' in line and 'aria-label="To the pier"' in line


def test_a_framework_sets_properties_of_the_element(app: ProjectFolder, client: Client, browser: Any) -> None:
    app.write("lone/page.mjs", SCRIPTS["element"])
    app.write(
        "lone/page.html",
        "<!doctype html><meta charset=utf-8><p id=way>To the pier</p><script type=module src=page.js></script>",
    )
    run(client("esbuild"), "lone/page.mjs", "--bundle", "--format=esm", "--outfile=lone/page.js", cwd=app.root)
    with serving(app.root / "lone") as (address, asked):
        browser.get(f"{address}/page.html")
        said = browser.execute_async_script("const done = arguments[0]; window.state().then(done)")
        nodes = browser.execute_cdp_cmd("Accessibility.getFullAXTree", {})["nodes"]
    assert said == {
        "drawn": 3, "text": "\ue000", "size": "40px", "pixels": "24px", "colour": "rgb(200, 10, 20)", "name": "anchor",
        "again": "\ue001", "faces": ["loaded"],
    }  # fmt: skip
    images = [node["name"]["value"] for node in nodes if node.get("role", {}).get("value") in ("image", "img")]
    assert images == ["To the pier"] and not [path for path in asked if "woff" in path], "the font is within"


def test_the_package_says_what_it_needs(app: ProjectFolder) -> None:
    package = app.read_json("dist/package.json")
    assert package["exports"]["."]["default"] == "./tide-marks.mjs"
    assert package["exports"]["./react"]["types"] == "./tide-marks-react.d.mts"
    assert package["exports"]["./svelte"]["svelte"] == "./tide-marks-svelte.svelte"
    app.config(app.read("oddpeg.toml").replace('"svg-modules"', '{ kind = "svg-modules", for = "solid" }')).deliver()
    needed = {"react": ">=18", "solid-js": ">=1.8", "svelte": ">=5", "vue": ">=3.3"}
    package = app.read_json("dist/package.json")
    assert package["peerDependencies"] == needed and set(package["peerDependenciesMeta"]) == set(needed)


def test_paths_are_seen_from_the_file_that_names_them(app: ProjectFolder) -> None:
    (app.root / "tsconfig.json").write_text('{ "compilerOptions": { "module": "NodeNext" } }')
    lines = app.run("use", "anchor", "--from", "src/pages/home.tsx").stdout
    for path in ("tide-marks.css", "tide-marks-react.mjs", "tide-marks-element.mjs", "svg-modules/index.mjs"):
        assert f'"../../dist/{path}"' in lines, path
    sprite = app.config(app.read("oddpeg.toml").replace('"react", ', '"react", "sprite", ')).run(
        "use", "anchor", "--in", "sprite"
    )
    assert "dist/tide-marks-sprite.svg#anchor" in sprite.stdout
    assert '<TideMarksIcon name="anchor" />' in lines and "npm install ./dist" in lines


def test_names_in_files_that_import_typed_ones_are_uses(app: ProjectFolder) -> None:
    (app.root / "src").mkdir(exist_ok=True)
    app.write("src/Sign.tsx", 'import type { TideMarksName } from "../dist/tide-marks";\nexport const Sign = 0;\n')
    app.write("src/Menu.tsx", 'import { Sign } from "./Sign";\nexport const menu = [{ icon: "anchor" }];\n')
    app.write("src/other.ts", 'export const word = "float";\n')
    found = app.json("usage", "src")
    assert [icon["name"] for icon in found["used"]] == ["anchor"] and found["unused"] == ["float"]


def test_fonts_are_named_at_the_address_they_are_served_from(project: ProjectFolder) -> None:
    outputs = (
        '{ kind = "css", url = "/assets/signs/" }, "head", { kind = "utilities", url = "https://f.example/{file}?v=2" }'
    )
    text = CONFIG.replace('"css", "typescript", "json", "specimen"', outputs)
    project.config(text.replace('"woff2", "woff", "ttf"', '"woff2"')).deliver()
    assert 'url("/assets/signs/tide-marks.woff2")' in project.read("dist/tide-marks.css")
    assert 'href="/assets/signs/tide-marks.woff2"' in project.read("dist/tide-marks-head.html"), "not loaded twice"
    assert 'url("https://f.example/tide-marks.woff2?v=2")' in project.read("dist/tide-marks-utilities.css")
