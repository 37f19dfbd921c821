"""Every output in the hands of its own client: compiler, parser or runtime. One project of nasty names, built once."""

from __future__ import annotations

import base64
import csv
import importlib
import io
import itertools
import json
import re
import shutil
import subprocess
import sys
import zipfile
from collections.abc import Callable
from pathlib import Path
from types import ModuleType
from typing import Any
from urllib.parse import unquote

import numpy as np
import pytest
import tinycss2
from fontTools.ttLib import TTFont
from lxml import etree
from PIL import Image

from oddpeg.iconset.model import Icon
from oddpeg.outputs.naming import camel, entries, lower, pascal, upper
from support.clients import Client, run
from support.compose_stubs import compose_sources
from support.data import table
from support.icon_sets import icon_set
from support.nasty import NAMES, codes, nasty_project
from support.project import CLIENTS, CONFIG, RING, SQUARE, ProjectFolder
from support.raster import drawing_mask, wrong_share
from support.xml import attribute, elements, text_of

Library = Callable[[str], ModuleType]
FRAMEWORKS = ["plain", "react", "vue", "svelte", "solid"]
KINDS = [
    *("css", "scss", "less", "typescript", "javascript", "json", "csv", "kotlin", "java", "swift", "csharp", "xaml"),
    *("python", "c-header", "android-xml", "sprite", "markdown", "base64", "web-component", "credits", "head"),
    *("manifest", "editor-data", "archive", "utilities", "swift-package", "qt-resource", "dart-package", "npm-package"),
    *("php", "ruby", "rust", "go", "markup-extension", "design-tokens", "mdx", "react", "vue", "svelte", "angular"),
    *("react-native", '{ kind = "vector-drawables", to = "res/values/drawables.xml" }'),
    '{ kind = "compose", package = "odd.signs" }',
    '{ kind = "dart", to = "lib/odd_signs.dart", package = "odd_signs" }',
    '{ kind = "bitmap-font", sizes = "16" }',
    *(f'{{ kind = "svg-modules", for = "{name}", to = "{name}/index.mjs" }}' for name in FRAMEWORKS),
]
LANGUAGES = table("platforms")
SOURCES = {  # languages whose compilers run nothing here: the pattern of a constant, the escape of its codepoint
    "kotlin": ("OddSigns.kt", r"const val (?!FAMILY:)(\w+): String = \"(.*)\""),
    "swift": ("OddSigns.swift", r'(?:case|static let) (\S+?)(?:: OddSigns)? = "(?:\\u\{(\w+)\}|(.))"'),
    "dart": ("lib/odd_signs.dart", r"IconData (\w+) = IconData\(0x(\w+)"),
    "rust": ("odd_signs.rs", r"pub const (\w+): char = '\\u\{(\w+)\}'"),
    "go": ("oddsigns.go", r'(?m)^const (?!Family )(\w+) = "(?:\\[uU](\w+)|\\?(.))"'),
}


@pytest.fixture(scope="module")
def nasty(tmp_path_factory: pytest.TempPathFactory) -> ProjectFolder:
    """All that is hard to name, in every kind of output."""
    project = nasty_project(tmp_path_factory.mktemp("nasty") / "set", KINDS)
    (project.root / "node_modules").symlink_to(CLIENTS / "node_modules")
    return project


def test_names_cover_both_planes_and_aliases(nasty: ProjectFolder) -> None:
    found = codes(nasty)
    assert {"ebb", "lambda", "wave", "潮"} <= set(found) and min(found.values()) < 0xFFFF < max(found.values())


@pytest.mark.parametrize("language", LANGUAGES)
def test_a_language_compiles_and_holds_every_codepoint(
    nasty: ProjectFolder, client: Client, tmp_path: Path, language: str
) -> None:
    folder = Path(shutil.copytree(nasty.root / "out", tmp_path / "out"))
    names = re.findall(r"#define (ODD_SIGNS_\w+) \"", nasty.read("out/odd_signs.h"))
    lines = "\n".join(f'    show("{n}", {n});' for n in names if n != "ODD_SIGNS_FAMILY")
    for path, text in LANGUAGES[language]["files"].items():
        (folder / path).parent.mkdir(exist_ok=True)
        (folder / path).write_text(text.replace("@LINES@", lines), encoding="utf-8")
    printed = ""
    for program, *arguments in LANGUAGES[language]["commands"]:
        printed = run(folder / program if program.startswith("./") else client(program), *arguments, cwd=folder)
    said = {name: int(code) for name, code in (line.split() for line in printed.splitlines())}
    constants = [code for name, code in said.items() if name not in ("FAMILY", "Family")]
    assert sorted(constants) == sorted(codes(nasty).values())
    low = [code for name, code in said.items() if re.sub("[^a-z]", "", name.lower()).endswith("tidelow")]
    assert low == [codes(nasty)["tide-low"]]


@pytest.mark.parametrize("language", sorted(SOURCES.keys() - {"kotlin"}))
def test_languages_without_a_compiler_here_parse(nasty: ProjectFolder, library: Library, language: str) -> None:
    parsers = library("tree_sitter")
    grammar = parsers.Language(library(f"tree_sitter_{language}").language())
    files = [SOURCES[language][0], *(["Package.swift"] if language == "swift" else [])]
    for file in files:
        assert not parsers.Parser(grammar).parse(nasty.bytes(f"out/{file}")).root_node.has_error, file


def test_kotlin_and_compose_compile(nasty: ProjectFolder, client: Client, tmp_path: Path) -> None:
    kotlin = client("kotlinc")
    stubs = compose_sources(nasty, "odd.signs", "odd_signs")
    run(kotlin, "out/OddSignsIcons.kt", *stubs, "-d", tmp_path / "compose.jar", cwd=nasty.root)
    run(kotlin, "out/OddSigns.kt", "-d", tmp_path / "plain.jar", cwd=nasty.root)


def test_compose_takes_thousands_of_icons(client: Client, tmp_path: Path) -> None:
    project = ProjectFolder(tmp_path / "many")
    kinds = '{ kind = "compose", package = "odd.signs" }'
    project.config(CONFIG.replace('"css", "typescript", "json", "specimen"', kinds))
    for number in range(3300):  # a class initialises itself with 64 kB of code at most
        project.icon(f"sign-of-pier-{number}", RING if number % 2 else SQUARE)
    project.deliver()  # icons alike pack so well that browsers would take the font for a bomb
    stubs = compose_sources(project, "odd.signs", "tide_marks")
    run(client("kotlinc"), "dist/TideMarksIcons.kt", *stubs, "-d", "many.jar", cwd=project.root)


@pytest.mark.parametrize("language", SOURCES)
def test_constants_hold_every_codepoint_under_a_name_of_its_own(nasty: ProjectFolder, language: str) -> None:
    file, pattern = SOURCES[language]
    found = re.findall(pattern, nasty.read(f"out/{file}"))
    values = [next(part for part in rest if part) for _, *rest in found]
    if language == "kotlin":  # strings, with the escapes of JSON and one more
        texts: list[str] = [json.loads(f'"{text}"') for text in (value.replace("\\$", "$") for value in values)]
        values = [f"{ord(text):04x}" for text in texts]
    known = codes(nasty).values()
    numbers = [int(value, 16) if len(value) > 1 else ord(value) for value in values]
    assert sorted(numbers) == sorted(set(known) if language == "swift" else known), "there aliases are no cases"
    assert len({name for name, *_ in found}) == len(found)


def test_python_has_an_enum(nasty: ProjectFolder, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.syspath_prepend(str(nasty.root / "out"))
    module = importlib.import_module("odd_signs")
    found = {name: ord(value) for name, value in module.OddSigns.__members__.items()}
    assert sorted(found.values()) == sorted(codes(nasty).values()) and found["PASS"] == codes(nasty)["pass"]


def test_qt_compiles_the_resources_and_draws_a_glyph(nasty: ProjectFolder, library: Library) -> None:
    library("PySide6.QtGui")
    resource = next(path.name for path in (nasty.root / "out").glob("*.qrc"))
    run(Path(sys.executable).with_name("pyside6-rcc"), resource, "-o", "signs_rc.py", cwd=nasty.root / "out")
    script = table("scripts")["qt"]
    ink = int(run(sys.executable, "-c", script, nasty.root / "out", cwd=nasty.root, QT_QPA_PLATFORM="offscreen"))
    assert 300 < ink < 2000


def test_android_takes_the_strings_and_gives_them_back(nasty: ProjectFolder, client: Client, tmp_path: Path) -> None:
    for folder, file in (("res/values", "odd_signs.xml"), ("res/font", "odd_signs.ttf")):
        (tmp_path / folder).mkdir(parents=True)
        shutil.copy(nasty.root / "out" / file, tmp_path / folder)
    manifest = '<manifest xmlns:android="http://schemas.android.com/apk/res/android" package="odd.signs"/>'
    (tmp_path / "AndroidManifest.xml").write_text(manifest)
    aapt = client("aapt2")
    run(aapt, "compile", "--dir", "res", "-o", "res.zip", cwd=tmp_path)
    run(aapt, "compile", "--dir", nasty.root / "out/res", "-o", "drawables.zip", cwd=tmp_path)
    run(aapt, "link", "-o", "app.apk", "--manifest", "AndroidManifest.xml", "res.zip", cwd=tmp_path)
    dump = subprocess.run([aapt, "dump", "resources", "app.apk"], cwd=tmp_path, capture_output=True, check=True).stdout
    said = dump.decode("utf-8", "surrogatepass").encode("utf-16", "surrogatepass").decode("utf-16")  # as Java writes it
    found = dict(re.findall(r'resource 0x\w+ string/(\w+)\n\s+\(\) "(.)"\n', said))
    assert sorted(map(ord, found.values())) == sorted(codes(nasty).values()) and "font/odd_signs" in said
    drawables = zipfile.ZipFile(tmp_path / "drawables.zip").namelist()
    assert sum(name.startswith("drawable_") for name in drawables) == len(set(codes(nasty).values()))
    assert found["od_apostrophe"] == "'" and found["od_query"] == "?" and found["od_at"] == "@"


def test_android_strings_and_xaml_are_legal(nasty: ProjectFolder) -> None:
    strings = etree.fromstring(nasty.bytes("out/odd_signs.xml"))
    names = [attribute(e, "name") for e in strings]
    assert all(re.fullmatch(r"[a-z][a-z0-9_]*", n) for n in names) and len(set(names)) == len(names)
    assert {p.name for p in (nasty.root / "out").glob("*.ttf")} == {"odd_signs.ttf"}
    family, *rows = etree.fromstring(nasty.bytes("out/OddSigns.xaml"))
    assert family.text == "pack://application:,,,/out/#" + str(
        TTFont(nasty.root / "out/odd_signs.ttf")["name"].getDebugName(1)
    )
    assert sorted(ord(text_of(e)) for e in rows) == sorted(codes(nasty).values())


@pytest.mark.parametrize(("kind", "program"), [("scss", "sass"), ("less", "lessc")])
def test_scss_and_less_compile(nasty: ProjectFolder, client: Client, kind: str, program: str) -> None:
    head, call = {
        "scss": ('@use "odd-signs-mixins" as od;', '@include od.before("{}");'),
        "less": ('@import "odd-signs.less";', '.od-before("{}");'),
    }[kind]
    rules = [
        f".save {{ {call.format('tide-low')} }}",
        f".odd {{ {call.format('潮' if kind == 'scss' else 'n3-masts')} }}",
    ]
    nasty.write(f"out/use.{kind}", "\n".join([head, *rules]))
    text = run(client(program), f"use.{kind}", cwd=nasty.root / "out").removeprefix("\ufeff")
    sheet = tinycss2.parse_stylesheet(text, skip_comments=True, skip_whitespace=True)
    found = {tinycss2.serialize(r.prelude).strip(): tinycss2.serialize(r.content) for r in sheet if r.type[0] == "q"}
    tokens = tinycss2.parse_component_value_list(found[".save::before"].split("content:")[1])
    content = next(token.value for token in tokens if token.type == "string")
    assert ord(content) == codes(nasty)["tide-low"] and '"Odd $Signs"' in found[".odd::before"]
    nasty.write(f"out/wrong.{kind}", f"{head}.x {{ {call.format('ancor')} }}")
    with pytest.raises(AssertionError):  # an unknown icon is an error
        run(client(program), f"wrong.{kind}", cwd=nasty.root / "out")


def test_a_framework_makes_the_utilities_in_use(nasty: ProjectFolder, client: Client, browser: Any) -> None:
    used = ["at", "quote", "class", "3-masts", "潮", "straße", "ebb", "x" * 60]
    spans = "".join(f'<i class="od-icon od-{name}"></i>' for name in used)
    (nasty.root / "site").mkdir()
    page = f'<!doctype html><meta charset=utf-8><link rel=stylesheet href=made.css>{spans}<b class="hover:od-q"></b>'
    nasty.write("site/page.html", page)
    nasty.write("site/in.css", '@import "tailwindcss";\n@import "../out/odd-signs-utilities.css";\n')
    run(client("tailwindcss"), "-i", "in.css", "-o", "made.css", cwd=nasty.root / "site")
    made = nasty.read("site/made.css")
    assert ".od-at::before" in made and ".od-dollar" not in made and ".hover\\:od-q:hover::before" in made
    browser.get((nasty.root / "site/page.html").as_uri())
    content = "return getComputedStyle(arguments[0], '::before').content"
    shown = [browser.execute_script(content, one) for one in browser.find_elements("css selector", "i")]
    assert [re.sub(r'^"\\?(.)" / ""$', r"\1", text) for text in shown] == [chr(codes(nasty)[name]) for name in used]


@pytest.mark.parametrize("framework", FRAMEWORKS)
def test_modules_are_bundled_whole(nasty: ProjectFolder, client: Client, framework: str, tmp_path: Path) -> None:
    names = re.findall(r"(?<!\w)(?:as|const) (\S+)", nasty.read(f"out/{framework}/index.mjs"))
    assert len(set(names)) == len(names) == len(codes(nasty))
    page = f'import * as all from "./out/{framework}/index.mjs"; console.log(Object.keys(all).length);'
    nasty.write(f"{framework}.mjs", page)
    outside = ["--external:*.svelte", "--external:*.jsx"] if framework in ("svelte", "solid") else []
    flags = ["--bundle", "--platform=node", "--format=esm", f"--outfile={tmp_path / 'all.mjs'}", *outside]
    run(client("esbuild"), f"{framework}.mjs", *flags, cwd=nasty.root)
    if not outside:
        shown = run(client("node"), tmp_path / "all.mjs", cwd=nasty.root, NODE_PATH=str(CLIENTS / "node_modules"))
        assert int(shown) == len(names)


def test_every_svelte_and_solid_file_compiles(nasty: ProjectFolder, client: Client) -> None:
    client("svelte/package.json")
    nasty.write("compile.mjs", table("scripts")["compile_all"])
    count = int(run(client("node"), "compile.mjs", CLIENTS / "package.json", cwd=nasty.root))
    assert count == 2 * len(set(codes(nasty).values()))


def test_a_package_of_names_is_imported(nasty: ProjectFolder, client: Client) -> None:
    package = nasty.read_json("out/package.json")
    shutil.copytree(nasty.root / "out", nasty.root / "shelf/node_modules" / package["name"])
    nasty.write("shelf/main.mjs", f'import * as all from "{package["name"]}"; console.log(JSON.stringify(all));')
    said = json.loads(run(client("node"), "main.mjs", cwd=nasty.root / "shelf"))
    pegs = next(value for key, value in said.items() if key.endswith("Icons"))
    assert {name: peg["codepoint"] for name, peg in pegs.items()} == codes(nasty)


def test_constants_show_the_icon_in_the_editors_hover(nasty: ProjectFolder) -> None:
    picture = re.search(r"!\[tide-low\]\(data:image/svg\+xml,([^) ]*)\)", nasty.read("out/odd-signs.ts"))
    assert picture
    svg = unquote(picture[1])
    assert etree.fromstring(svg).get("height") == "48"
    drawing = nasty.read("icons/tide-low.svg")
    assert wrong_share(drawing_mask(drawing, 96, 96), drawing_mask(svg.replace("gray", "black"), 96, 96)) < 0.005
    assert "![" not in nasty.read("out/odd-signs.mjs")


def test_tables_sprite_and_editor_data_name_every_icon(nasty: ProjectFolder) -> None:
    known = codes(nasty)
    rows = list(csv.DictReader(io.StringIO(nasty.read("out/odd-signs.csv"))))
    assert {r["name"]: int(r["codepoint"]) for r in rows}.items() <= known.items()
    assert all(ord(r["character"]) == int(r["codepoint"]) == int(r["hex"], 16) for r in rows)
    assert next(r for r in rows if r["name"] == "ripple")["aliases"] == "lambda; wave"
    sprite = etree.fromstring(nasty.bytes("out/odd-signs-sprite.svg"))
    assert {s.get("id") for s in sprite if isinstance(s.tag, str)} == set(known)
    data = nasty.read_json("out/odd-signs-html.json")
    sets = {one["name"]: {value["name"] for value in one["values"]} for one in data["valueSets"]}
    assert sets["icons"] == set(known) and sets["classes"] == {"od-icon", *(f"od-{n}" for n in known)}


def test_maps_read_back_in_pandas(nasty: ProjectFolder, library: Library) -> None:
    pandas = library("pandas")
    rows = pandas.read_csv(nasty.root / "out/odd-signs.csv", keep_default_na=False)
    icons = pandas.DataFrame(nasty.read_json("out/odd-signs.json")["icons"])
    assert rows["name"].tolist() == icons["name"].tolist() and rows["codepoint"].tolist() == icons["codepoint"].tolist()
    assert [ord(c) for c in rows["character"]] == icons["codepoint"].tolist()


def test_markdown_is_one_table_of_text_and_pictures(nasty: ProjectFolder) -> None:
    from markdown_it import MarkdownIt

    page = etree.HTML(MarkdownIt("commonmark", {"html": True}).enable("table").render(nasty.read("out/odd-signs.md")))
    rows = elements(page, "//tbody/tr")
    own = {n for n in codes(nasty) if n not in ("ebb", "lambda", "wave")}
    assert {text_of(r[1]) for r in rows} == own and all("*/ $x {} \\u0022 <!--" in text_of(r[5]) for r in rows)
    images = elements(page, "//td/img")
    assert len(images) == len(own)
    assert all((nasty.root / "out" / unquote(attribute(img, "src"))).is_file() for img in images)


def test_base64_is_a_module_and_carries_the_font_into_a_pdf(
    nasty: ProjectFolder, client: Client, library: Library, tmp_path: Path
) -> None:
    files = nasty.read_json("out/odd-signs-files.json")
    font = base64.b64decode(files["odd_signs.ttf"])
    assert font == nasty.bytes("out/odd_signs.ttf")
    fonts, metrics = library("reportlab.pdfbase.ttfonts"), library("reportlab.pdfbase.pdfmetrics")
    metrics.registerFont(fonts.TTFont("signs", io.BytesIO(font)))
    page: Any = library("reportlab.pdfgen.canvas").Canvas(str(tmp_path / "page.pdf"), pagesize=(100, 100))
    page.setFont("signs", 80)
    page.drawString(10, 20, chr(codes(nasty)["class"]))
    page.save()
    run(client("pdftoppm"), "-r", "72", "-gray", "-singlefile", "page.pdf", "page", cwd=tmp_path)
    assert 500 < int((np.asarray(Image.open(tmp_path / "page.pgm")) < 128).sum()) < 6000


def test_base64_is_a_module_where_its_name_says_so(project: ProjectFolder, client: Client) -> None:
    bundle = 'into = "out"\nfonts = []\noutputs = [{ kind = "base64", to = "files.mjs", format = "woff2" }]\n'
    project.config(project.read("oddpeg.toml") + f"[bundle.pdf]\n{bundle}").deliver()
    use = 'Buffer.from(files["tide-marks.woff2"], "base64").subarray(0, 4).toString()'
    script = f'import files from "./files.mjs"; console.log({use});'
    assert run(client("node"), "--input-type=module", "-e", script, cwd=project.root / "out").strip() == "wOF2"


@pytest.mark.parametrize("kind", ["java", "kotlin"])
def test_typeface_holders_compile(project: ProjectFolder, client: Client, kind: str) -> None:
    output = f'{{ kind = "{kind}", package = "harbour.signs", typeface = true }}'
    bundle = f'[bundle.app]\ninto = "out"\nfonts = ["ttf"]\noutputs = [{output}]\n'
    project.config(project.read("oddpeg.toml") + bundle).deliver()
    stubs = table("scripts")["android"]
    for path, stub in stubs.items():
        (project.root / "out" / path).parent.mkdir(parents=True, exist_ok=True)
        project.write(f"out/{path}", stub)
    own = ["TideMarks.java"] if kind == "java" else []
    run(client("javac"), "-d", "classes", *stubs, *own, cwd=project.root / "out")
    if kind == "kotlin":
        run(client("kotlinc"), "-cp", "classes", "TideMarks.kt", "-d", "out.jar", cwd=project.root / "out")


@pytest.mark.parametrize(("form", "reserved"), [(upper, ()), (lower, ()), (camel, ("class",)), (pascal, ())])
def test_thousands_of_identifiers_are_unique_legal_and_do_not_depend_on_each_other(
    form: Callable[[list[str]], str], reserved: tuple[str, ...]
) -> None:
    pairs = itertools.islice(itertools.product(["tide", "潮", "3", "é"], range(2000)), 6500)
    names = sorted({*NAMES, *(f"{a}-{b}{n}" for n, (a, b) in enumerate(pairs))})
    everything = icon_set([Icon(n, 0xF0000 + i, "", 0) for i, n in enumerate(names)], "Odd")
    found = {e.name: e.identifier for e in entries(everything, form, reserved)}
    assert len(found) > 6500 and len(set(found.values())) == len(names)
    assert all(i.isidentifier() and i.isascii() and i not in reserved for i in found.values())
    for part in (names[::2], names[1::3]):
        again = {e.name: e.identifier for e in entries(everything.select(set(part)), form, reserved)}
        moved = [n for n in part if again[n] != found[n]]
        assert all(not n.isascii() for n in moved) and len(moved) < 5, "only names in other scripts ever make room"
