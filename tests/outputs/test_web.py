"""What a bundle puts on a page: stylesheets, modules and elements, in browsers, bundlers and compilers."""

from __future__ import annotations

import html
import io
import json
import re
from pathlib import Path
from typing import Any

import jsonschema
import numpy as np
import pytest
import tinycss2
from PIL import Image

from support.clients import Client, run, serving
from support.data import table
from support.project import CLIENTS, CONFIG, RING, SQUARE, ProjectFolder

WEDGE = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24"><path d="M4 4h16L4 20z"/></svg>'
OUTPUTS = """
  "css", "scss", "less", "typescript", "javascript", "web-component", "json", "sprite",
  { kind = "css", to = "small.css", minified = true },
  { kind = "css", to = "alone.css", self_contained = true, embed = true },
"""
LOOK = """prefix = "tm"
mirrored = ["port"]
sizes = { big = "2.5rem" }
colours = { warn = "rgb(200 10 20)" }"""
SCRIPTS = table("scripts")


@pytest.fixture(scope="module")
def web(tmp_path_factory: pytest.TempPathFactory) -> ProjectFolder:
    """Two icons, one of them mirrored and with an alias, in every kind of sheet."""
    project = ProjectFolder(tmp_path_factory.mktemp("web") / "set")
    text = CONFIG.replace('"css", "typescript", "json", "specimen"', OUTPUTS)
    project.config(text.replace('prefix = "tm"', LOOK))
    project.icon("port", WEDGE).icon("anchor", SQUARE)
    project.write("icons/icons.csv", "icon,aliases\nport,larboard\n")
    project.deliver()
    return project


def visit(browser: Any, page: Path, html: str) -> None:
    page.write_text(f"<!doctype html><meta charset=utf-8>{html}", encoding="utf-8")
    browser.get(page.as_uri())
    browser.execute_async_script("document.fonts.ready.then(() => arguments[0]())")


SCALE = "const s = getComputedStyle(arguments[0], '::before'); return [s.scale, s.transform, s.content];"


def test_every_name_of_a_mirrored_icon_turns_and_transforms_stay(browser: Any, web: ProjectFolder) -> None:
    own = "<style>.tm-larboard::before { transform: rotate(90deg) }</style>"
    names = ("port", "larboard", "anchor")
    spans = "".join(f'<p dir="{way}"><i class="tm-icon tm-{n}"></i></p>' for way in ("ltr", "rtl") for n in names)
    visit(browser, web.root / "dist/page.html", f'<link rel="stylesheet" href="tide-marks.css">{own}{spans}')
    found = [browser.execute_script(SCALE, i) for i in browser.find_elements("css selector", "i")]
    assert [scale for scale, _, _ in found] == ["none", "none", "none", "-1 1", "-1 1", "none"]
    assert found[4][1].startswith("matrix(0, 1, -1, 0"), "the user's transform is still there"
    assert all(content.endswith('/ ""') for _, _, content in found), "nothing is read aloud"


def rules(text: str) -> set[str]:
    found = tinycss2.parse_stylesheet(text, skip_comments=True, skip_whitespace=True)
    assert {r.type for r in found} <= {"qualified-rule", "at-rule"}
    out = set()
    for rule in found:
        items = tinycss2.parse_declaration_list(rule.content, skip_comments=True, skip_whitespace=True)
        assert all(i.type == "declaration" for i in items)
        name = "".join(tinycss2.serialize(rule.prelude).split())
        if rule.type == "qualified-rule":
            out |= {f"{name}|{i.name}|{''.join(tinycss2.serialize(i.value).split())}" for i in items}
    return out


def test_a_minified_sheet_says_the_same(web: ProjectFolder) -> None:
    plain, small = web.read("dist/tide-marks.css"), web.read("dist/small.css")
    assert rules(plain) == rules(small) and len(small) < 0.8 * len(plain) and "/*" not in small


def look(browser: Any, selector: str, key: str) -> str:
    script = "return getComputedStyle(document.querySelector(arguments[0]), '::before')[arguments[1]]"
    return str(browser.execute_script(script, selector, key))


def test_named_sizes_and_colours(browser: Any, web: ProjectFolder) -> None:
    icon = '<i class="tm-icon tm-anchor tm-size-big tm-colour-warn"></i>'
    visit(browser, web.root / "dist/page.html", f'<link rel="stylesheet" href="tide-marks.css">{icon}')
    assert look(browser, "i", "fontSize") == "40px" and look(browser, "i", "color") == "rgb(200, 10, 20)"


def test_a_self_contained_class_works_without_the_base_class_or_any_file(
    browser: Any, web: ProjectFolder, tmp_path: Path
) -> None:
    (tmp_path / "alone.css").write_text(web.read("dist/alone.css"), encoding="utf-8")
    visit(browser, tmp_path / "page.html", '<link rel="stylesheet" href="alone.css"><i class="tm-anchor"></i>')
    assert browser.execute_script("return [...document.fonts].map(f => f.status)") == ["loaded"]
    assert look(browser, "i", "fontFamily") == '"Tide Marks"' and look(browser, "i", "display") == "inline-block"


def test_the_custom_element_shows_icons_and_owns_up_to_unknown_ones(browser: Any, web: ProjectFolder) -> None:
    icons = '<tm-icon name="anchor" size="30px" color="rgb(1, 2, 3)" label="Anchor"></tm-icon>'
    icons += '<tm-icon name="ancor"></tm-icon><tm-icon name="constructor"></tm-icon>'
    web.write("dist/own.html", f'<!doctype html><script type="module" src="tide-marks-element.mjs"></script>{icons}')
    with serving(web.root / "dist") as (address, _):
        browser.get(f"{address}/own.html")
        said = browser.execute_async_script(SCRIPTS["element_state"])
    assert said == {
        "faces": ["loaded"], "size": "30px", "color": "rgb(1, 2, 3)", "text": "\ue000", "bad": "ancor?",
        "odd": "unknown", "back": "rgb(176, 42, 32)",
    }  # fmt: skip
    good = browser.find_element("css selector", "tm-icon")
    assert (good.aria_role, good.accessible_name) == ("image", "Anchor")
    assert any('there is no icon \\"ancor\\"' in entry["message"] for entry in browser.get_log("browser"))
    change = 'const e = document.querySelector("tm-icon"); e.setAttribute("name", "port"); '
    assert browser.execute_script(f'{change}return e.shadowRoot.querySelector("span").textContent') == "\ue001"


def test_the_sprite_shows_icons_in_the_colour_of_the_text(browser: Any, web: ProjectFolder) -> None:
    use = '<svg width="96" height="96"><use href="tide-marks-sprite.svg#anchor"/></svg>'
    web.write("dist/sprite.html", f'<!doctype html><body style="margin:0;color:rgb(200,10,20)">{use}')
    with serving(web.root / "dist") as (address, _):
        browser.get(f"{address}/sprite.html")
        browser.execute_async_script("setTimeout(arguments[0], 400)")
        picture = Image.open(io.BytesIO(browser.get_screenshot_as_png())).convert("RGB").crop((0, 0, 96, 96))
    red = (np.abs(np.asarray(picture, dtype=int) - [200, 10, 20]).sum(axis=2) < 12).sum()
    assert red == pytest.approx((16 * 4) ** 2, abs=80), "the square of the drawing, four pixels to the unit"


def test_layer_display_and_variables(browser: Any, web: ProjectFolder, project: ProjectFolder) -> None:
    css = '{ kind = "css", layer = "icons.base", display = "swap", variables = true }'
    project.config(CONFIG.replace('"css", "typescript", "json", "specimen"', css)).icon("buoy", RING).deliver()
    text = project.read("dist/tide-marks.css")
    assert "font-display: swap;" in text and "@layer icons.base {" in text
    page = '<link rel="stylesheet" href="tide-marks.css"><style>@layer mine { i::before { font-size: 99px } }</style>'
    visit(browser, project.root / "dist/page.html", f'{page}<i class="tm-icon tm-buoy"></i>')
    size, own = browser.execute_script(
        "const s = getComputedStyle(document.querySelector('i'), '::before');"
        "return [s.fontSize, getComputedStyle(document.documentElement).getPropertyValue('--tm-buoy')]"
    )
    assert size == "99px", "a later layer counts more"
    assert own.strip() == '"\\e001"'
    wrong = project.config(CONFIG.replace('"css"', '{ kind = "css", display = "flash" }')).run("build")
    assert wrong.returncode == 2 and "block, swap" in wrong.stderr


@pytest.mark.parametrize("kind", ["scss", "less"])
def test_mixins_work_from_another_folder(browser: Any, web: ProjectFolder, client: Client, kind: str) -> None:
    folder = web.root / f"styles-{kind}"
    folder.mkdir(exist_ok=True)
    path = '$font-path: "../dist"' if kind == "scss" else '@tm-font-path: "../dist";'
    sheet = {
        "scss": f'@use "../dist/tide-marks-mixins" as tm with ({path});\n.save {{ @include tm.before("larboard"); }}\n',
        "less": f'@import "../dist/tide-marks.less"; {path}\n.save {{ .tm-before("larboard"); }}\n',
    }[kind]
    (folder / f"own.{kind}").write_text(sheet, encoding="utf-8")
    (folder / "own.css").write_text(run(client("sass" if kind == "scss" else "lessc"), f"own.{kind}", cwd=folder))
    visit(browser, folder / "page.html", '<link rel="stylesheet" href="own.css"><p dir="rtl"><i class="save"></i></p>')
    scale, _, content = browser.execute_script(SCALE, browser.find_element("css selector", "i"))
    assert scale == "-1 1" and content.endswith('/ ""')
    loaded = "return [...document.fonts].map(f => f.family.replaceAll('\"', '') + ' ' + f.status)"
    assert browser.execute_script(loaded) == ["Tide Marks loaded"]


def test_the_lines_of_the_specimen_compile_together(project: ProjectFolder, client: Client) -> None:
    project.config(CONFIG.replace('"css", "typescript", "json", "specimen"', '"scss", "specimen"')).deliver()
    page = html.unescape(project.read("dist/tide-marks-specimen.html"))
    use = re.search(r'@use "[^"]+" as [\w-]+;', page)
    include = re.search(r"@include tm\.before\(.{1,3}anchor.{1,3}\);", page)
    assert use and include
    line = include[0].replace('\\"', '"')
    project.write("dist/own.scss", f"{use[0]}\n.save {{ {line} }}\n")
    assert ".save::before" in run(client("sass"), "own.scss", cwd=project.root / "dist")


def test_a_bundler_finds_the_mixins_and_the_font(web: ProjectFolder, client: Client, tmp_path: Path) -> None:
    (tmp_path / "src/icons").mkdir(parents=True)
    for name in ("_tide-marks-mixins.scss", "tide-marks.css", "tide-marks.woff2", "tide-marks.woff", "tide-marks.ttf"):
        (tmp_path / "src/icons" / name).write_bytes(web.bytes(f"dist/{name}"))
    use = '@use "./icons/tide-marks-mixins" as tm with ($font-path: "./icons");\n.a { @include tm.before("port"); }\n'
    (tmp_path / "src/own.scss").write_text(use)
    (tmp_path / "src/main.js").write_text('import "./own.scss";\n')
    (tmp_path / "index.html").write_text('<script type="module" src="/src/main.js"></script>')
    (tmp_path / "node_modules").symlink_to(CLIENTS / "node_modules")
    run(client("vite"), "build", "--assetsInlineLimit=0", cwd=tmp_path)
    (sheet,) = (tmp_path / "dist/assets").glob("*.css")
    assert ".woff2" in sheet.read_text() and len(list((tmp_path / "dist/assets").glob("*.woff2"))) == 1


ELEMENT = """<meta http-equiv="Content-Security-Policy" content="default-src 'self' file:">
<script type="module" src="tide-marks-element.mjs"></script>
<tm-icon name="port" label="to port" dir="rtl"></tm-icon>
<tm-icon name="anchor" size="40px" style="margin: 7px" role="figure" aria-label="mine"></tm-icon>
<tm-icon name="port"></tm-icon> <tm-icon name="ancor"></tm-icon>"""


def test_the_element_under_a_strict_policy(browser: Any, web: ProjectFolder, tmp_path: Path) -> None:
    with serving(web.root / "dist") as (address, _):
        page = ELEMENT.replace(" file:", "").replace(' style="margin: 7px"', "")
        (web.root / "dist/element.html").write_text(f"<!doctype html><meta charset=utf-8>{page}")
        browser.get(f"{address}/element.html")
        browser.execute_async_script("document.fonts.load('1em \"Tide Marks\"').then(() => arguments[0]())")
        found = browser.execute_script(
            "return [...document.querySelectorAll('tm-icon')].map(e => { const g = e.shadowRoot.querySelector('span');"
            "const s = getComputedStyle(g); return [s.scale, s.fontSize, s.fontFamily, e.getAttribute('role'),"
            "e.getAttribute('aria-label'), g.className] })"
        )
        said = [browser.execute_cdp_cmd("Accessibility.getFullAXTree", {})]
    assert [row[0] for row in found] == ["-1 1", "none", "none", "none"]
    assert found[1][1] == "40px" and found[1][3:5] == ["figure", "mine"], "what the author wrote stays"
    assert all("Tide Marks" in row[2] for row in found[:3]), "the style is not blocked"
    assert found[3][5] == "unknown"
    images = [
        (node["role"]["value"], node.get("name", {}).get("value"))
        for node in said[0]["nodes"]
        if node.get("role", {}).get("value") in ("image", "figure", "img")
    ]
    assert images == [("image", "to port"), ("figure", "mine"), ("image", "unknown icon ancor")]


def test_modules_do_nothing_without_a_document(web: ProjectFolder, client: Client) -> None:
    script = (
        'import { tideMarksCodepoints } from "./tide-marks-element.mjs"; console.log(tideMarksCodepoints.larboard);'
    )
    assert run(client("node"), "--input-type=module", "-e", script, cwd=web.root / "dist").strip() == str(0xE001)


@pytest.mark.parametrize("resolution", ["nodenext", "bundler"])
def test_types_stand_beside_the_modules(web: ProjectFolder, client: Client, resolution: str) -> None:
    (web.root / "dist/use.mts").write_text(SCRIPTS["typed_element"])
    module = "nodenext" if resolution == "nodenext" else "esnext"
    options = ["--strict", "--noEmit", "--target", "es2022", "--lib", "es2022,dom", "--module", module]
    run(client("tsc"), *options, "--moduleResolution", resolution, "use.mts", cwd=web.root / "dist")


def test_each_file_declares_its_types_alone(web: ProjectFolder, client: Client, tmp_path: Path) -> None:
    options = ["--strict", "--isolatedDeclarations", "--declaration", "--emitDeclarationOnly"]
    run(client("tsc"), *options, "--outDir", tmp_path, "--target", "es2022", "tide-marks.ts", cwd=web.root / "dist")


def test_what_is_not_used_is_left_out(web: ProjectFolder, client: Client, tmp_path: Path) -> None:
    folder = web.root / "dist"
    use = 'import { tideMarksFamily } from "./tide-marks.mjs"; console.log(tideMarksFamily);'
    (folder / "family.mjs").write_text(use)
    (folder / "typed.ts").write_text(use.replace(".mjs", ""))
    for source in ("family.mjs", "typed.ts"):
        out = run(client("esbuild"), source, "--bundle", "--format=esm", "--minify", cwd=folder)
        assert out.strip() in ('var e="Tide Marks";console.log(e);', 'console.log("Tide Marks");'), out
    out = run(client("rollup"), "family.mjs", "--silent", cwd=folder)
    assert "port" not in out and "Tide Marks" in out


def test_two_fonts_meet_in_one_module(web: ProjectFolder, client: Client, tmp_path: Path) -> None:
    other = ProjectFolder(tmp_path / "other").config(
        CONFIG.replace("Tide Marks", "Deck Signs").replace('"css", "typescript", "json", "specimen"', '"typescript"')
    )
    other.icon("cleat").deliver()
    (tmp_path / "deck-signs.ts").write_bytes(other.bytes("dist/deck-signs.ts"))
    (tmp_path / "tide-marks.ts").write_bytes(web.bytes("dist/tide-marks.ts"))
    (tmp_path / "index.ts").write_text('export * from "./deck-signs";\nexport * from "./tide-marks";\n')
    use = 'import { deckSignsFamily, tideMarksFamily, type DeckSignsIcon, type TideMarksIcon } from "./index";\n'
    (tmp_path / "use.ts").write_text(
        use + "export const both = [deckSignsFamily, tideMarksFamily];\n"
        "export type Either = DeckSignsIcon | TideMarksIcon;\n"
    )
    run(client("tsc"), "--strict", "--noEmit", "--target", "es2022", "--moduleResolution", "bundler",
        "--module", "esnext", "use.ts", cwd=tmp_path)  # fmt: skip


def test_the_map_says_what_is_mirrored(web: ProjectFolder) -> None:
    icons = {i["name"]: i for i in web.read_json("dist/tide-marks.json")["icons"]}
    assert icons["port"]["mirrored"] is True and "mirrored" not in icons["anchor"]


def test_the_manifest_names_the_element(project: ProjectFolder, client: Client) -> None:
    component = '{ kind = "web-component", manifest = true }'
    project.config(CONFIG.replace('"css", "typescript", "json", "specimen"', component)).deliver()
    manifest = project.read_json("dist/custom-elements.json")
    form = Path(client("custom-elements-manifest/schema.json")).read_text(encoding="utf-8")
    jsonschema.validate(manifest, json.loads(form))
    (module,) = manifest["modules"]
    (declared,) = module["declarations"]
    assert declared["tagName"] == "tm-icon" and declared["attributes"][0]["type"]["text"] == '"anchor" | "buoy"'
    assert module["path"] == "tide-marks-element.mjs"


def test_a_package_of_typescript_alone_is_said(project: ProjectFolder) -> None:
    project.config(CONFIG.replace('"css", "typescript", "json", "specimen"', '"typescript", "npm-package"'))
    for said in (project.run(command).stdout + project.run(command).stderr for command in ("build", "check")):
        assert "TypeScript only, which Node.js and servers refuse" in said and '"javascript"' in said
    project.config(project.read("oddpeg.toml").replace('"typescript"', '"typescript", "javascript"'))
    assert "TypeScript only" not in project.run("build").stderr


def test_an_output_without_its_font_is_said(project: ProjectFolder) -> None:
    outputs = '["css", "swift", "dart", "xaml", "java", "kotlin", "c-header", "base64"]'
    bare = CONFIG.replace('["woff2", "woff", "ttf"]', "[]")
    project.config(bare.replace('["css", "typescript", "json", "specimen"]', outputs))
    said = project.build().stderr
    for kind in ("css", "swift", "dart", "xaml", "java", "kotlin", "c-header"):
        assert f"{kind} needs a font, and the bundle has none in a format that it can use" in said, kind
    assert "base64 speaks" not in said, "it carries its own"
    assert 'add "ttf" to bundle.web.fonts' in said and said.count("oddpeg.toml:13:") == 7
    assert "needs a font" in project.run("check").stdout + project.run("check").stderr


LINT = """import js from "@eslint/js"; import ts from "typescript-eslint";
const names = "document console customElements getComputedStyle FontFace CSSStyleSheet URL";
const globals = Object.fromEntries(names.split(" ").map((name) => [name, "readonly"]));
export default [js.configs.recommended, ...ts.configs.recommended, { languageOptions: { globals } },
  { linterOptions: { reportUnusedDisableDirectives: "error" } }];"""


@pytest.mark.parametrize("folder", ["dist", "flags"])
def test_generated_files_pass_formatters_and_linters(web: ProjectFolder, client: Client, folder: str) -> None:
    modules = ", ".join(f'{{ kind = "svg-modules", for = "{f}", to = "{f}/index.mjs" }}' for f in ("react", "solid"))
    if "[bundle.flags]" not in web.read("oddpeg.toml"):
        outputs = f'"css", "utilities", "web-component", "javascript", "head", "npm-package", {modules}'
        flags = f'into = "flags"\ncolour = true\nfonts = ["woff2", "woff"]\noutputs = [{outputs}]\n'
        colours = '\n[palettes.day]\nhull = "#20343c"\n'
        web.write("oddpeg.toml", f"{web.read('oddpeg.toml')}\n[bundle.flags]\n{flags}{colours}")
        web.icon("flag", SQUARE.replace("<path", '<path fill="#20343c" d="M1 1h2v2z"/><path fill="#c1492c"')).deliver()
        (web.root / "node_modules").symlink_to(CLIENTS / "node_modules")
        web.write("eslint.config.mjs", LINT)
    endings = ["ts", "mts", "mjs", "jsx", "css", "scss", "less", "json"]
    files = [f"{folder}/{name}" for name in sorted(web.files(folder)) if name.split(".")[-1] in endings]
    files = [name for name in files if not name.endswith(("own.css", "small.css", "family.mjs", "use.mts", "typed.ts"))]
    assert len(files) > 9
    run(client("prettier"), "--check", *files, cwd=web.root)
    run(client("eslint"), *[name for name in files if name.endswith(("js", "ts"))], cwd=web.root)
