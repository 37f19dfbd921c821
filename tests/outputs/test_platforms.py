"""Every output in the hands of its own client: compiler, parser or runtime. One project of nasty names, once."""

from __future__ import annotations

import base64
import csv
import importlib
import io
import itertools
import json
import os
import re
import subprocess
import sys
from collections.abc import Callable
from pathlib import Path
from typing import Any
from urllib.parse import unquote

import numpy as np
import pytest
import tinycss2
from fontTools.ttLib import TTFont
from lxml import etree

from oddpeg.iconset.model import Icon
from oddpeg.outputs.naming import camel, entries, lower, pascal, upper
from support.clients import run
from support.icon_sets import icon_set
from support.nasty import CONFIG, NAMES, codes, nasty_project
from support.project import ProjectFolder
from support.raster import drawing_mask, wrong_share
from support.xml import attribute, elements, text_of

KINDS = [
    "css",
    "scss",
    "less",
    "typescript",
    "javascript",
    "json",
    "csv",
    "dart",
    "kotlin",
    "java",
    "swift",
    "csharp",
    "xaml",
    "python",
    "c-header",
    "android-xml",
    "sprite",
    "markdown",
    "base64",
    "web-component",
    "credits",
]


@pytest.fixture(scope="module")
def nasty(tmp_path_factory: pytest.TempPathFactory) -> ProjectFolder:
    """All that is hard to name, in every kind of output that is one file."""
    return nasty_project(tmp_path_factory.mktemp("nasty") / "set", KINDS)


def values(text: str, pattern: str, decode: Callable[[str], str]) -> list[int]:
    """The codepoint of every constant that a pattern finds in a source."""
    return [ord(decode(m)) for m in re.findall(pattern, text)]


def from_json(text: str) -> str:
    return str(json.loads(text.replace("\\$", "$")))


def test_names_cover_both_planes_and_aliases(nasty: ProjectFolder) -> None:
    found = codes(nasty)
    assert {"ebb", "lambda", "wave", "潮"} <= set(found) and min(found.values()) < 0xFFFF < max(found.values())


def test_java_compiles_and_runs(nasty: ProjectFolder, client: Callable[[str], str], tmp_path: Path) -> None:
    source = nasty.read("out/OddSigns.java")
    (tmp_path / "OddSigns.java").write_text(source, encoding="utf-8")
    (tmp_path / "Main.java").write_text(
        "public class Main { public static void main(String[] a) throws Exception {\nfor (var f :"
        ' OddSigns.class.getFields()) System.out.println(f.getName() + " " + ((String)'
        " f.get(null)).codePointAt(0)); } }",
        encoding="utf-8",
    )
    run(client("javac"), "-encoding", "UTF-8", "Main.java", cwd=tmp_path)
    said = dict(line.split() for line in run(client("java"), "Main", cwd=tmp_path).splitlines())
    assert said.pop("FAMILY") == str(ord("O")) and sorted(map(int, said.values())) == sorted(codes(nasty).values())
    assert (
        int(said["TIDE_LOW"]) == int(said["EBB"]) == codes(nasty)["tide-low"]
        and "_3_MASTS" in said
        and "@Deprecated" in source
    )


STUBS = {
    "java": {
        "android/content/Context.java": (
            "package android.content; public class Context { public android.content.res.AssetManager getAssets() {"
            " return null; } }"
        ),
        "android/content/res/AssetManager.java": "package android.content.res; public class AssetManager { }",
        "android/graphics/Typeface.java": (
            "package android.graphics; public class Typeface { public static Typeface"
            " createFromAsset(android.content.res.AssetManager m, String p) { return null; } }"
        ),
    }
}


@pytest.mark.parametrize("kind", ["java", "kotlin"])
def test_typeface_holders_compile(project: ProjectFolder, client: Callable[[str], str], kind: str) -> None:
    text = (
        CONFIG
        + f'[bundle.app]\ninto = "out"\nfonts = ["ttf"]\noutputs = [{{ kind = "{kind}", package = "harbour.signs",'
        " typeface = true }]\n"
    )
    project.config(text).build()
    for path, stub in STUBS["java"].items():
        (project.root / "out" / path).parent.mkdir(parents=True, exist_ok=True)
        (project.root / "out" / path).write_text(stub)
    run(
        client("javac"),
        "-d",
        "classes",
        *STUBS["java"],
        *(["OddSigns.java"] if kind == "java" else []),
        cwd=project.root / "out",
    )
    if kind == "kotlin":
        run(client("kotlinc"), "-cp", "classes", "OddSigns.kt", "-d", "out.jar", cwd=project.root / "out")
    assert "harbour.signs" in project.read(f"out/OddSigns.{'kt' if kind == 'kotlin' else 'java'}")


def test_kotlin_compiles_and_holds_every_codepoint(
    nasty: ProjectFolder, client: Callable[[str], str], tmp_path: Path
) -> None:
    run(client("kotlinc"), nasty.root / "out/OddSigns.kt", "-d", "out.jar", cwd=tmp_path)
    found = values(nasty.read("out/OddSigns.kt"), r'const val (?!FAMILY:)\w+: String = (".*")', from_json)
    assert sorted(found) == sorted(codes(nasty).values())


def test_csharp_compiles_and_runs(nasty: ProjectFolder, client: Callable[[str], str], tmp_path: Path) -> None:
    (tmp_path / "Main.cs").write_text(
        "public static class Main_ { public static void Main() { foreach (var f in typeof(OddSigns).GetFields())\n"
        'System.Console.WriteLine(f.Name + " " + char.ConvertToUtf32((string)f.GetRawConstantValue(), 0)); } }'
    )
    run(client("mcs"), "-out:main.exe", "Main.cs", nasty.root / "out/OddSigns.cs", cwd=tmp_path)
    said = dict(line.split() for line in run(client("mono"), "main.exe", cwd=tmp_path).splitlines())
    said.pop("Family")
    assert (
        sorted(map(int, said.values())) == sorted(codes(nasty).values()) and int(said["Class"]) == codes(nasty)["class"]
    )


def test_python_enum_and_a_glyph_in_a_window(nasty: ProjectFolder, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.syspath_prepend(str(nasty.root / "out"))
    module = importlib.import_module("odd_signs")
    found = {name: ord(value) for name, value in module.OddSigns.__members__.items()}
    assert sorted(found.values()) == sorted(codes(nasty).values()) and found["PASS"] == codes(nasty)["pass"]
    script = (
        "import sys; sys.path.insert(0, sys.argv[1])\nfrom odd_signs import FAMILY, OddSigns\nfrom PySide6.QtGui import"
        " QFont, QFontDatabase, QGuiApplication, QImage, QPainter, QRawFont\napp = QGuiApplication([])\nnumber ="
        " QFontDatabase.addApplicationFont(sys.argv[1] + '/odd_signs.ttf')\nassert"
        " QFontDatabase.applicationFontFamilies(number) == [FAMILY]\nimage = QImage(64, 64,"
        " QImage.Format.Format_Grayscale8); image.fill(255)\npainter = QPainter(image); font = QFont(FAMILY);"
        " font.setPixelSize(48)\npainter.setFont(font); painter.drawText(8, 52, str(OddSigns.TIDE_LOW));"
        " painter.end()\nassert QRawFont.fromFont(font).supportsCharacter(ord(OddSigns.TIDE_LOW))\nink ="
        " sum(image.pixelColor(x, y).red() < 128 for x in range(64) for y in range(64)); print(ink)\n"
    )
    (
        pytest.importorskip("PySide6.QtGui")
        if os.environ.get("ODDPEG_REQUIRE_CLIENTS") != "1"
        else importlib.import_module("PySide6.QtGui")
    )
    ink = int(run(sys.executable, "-c", script, nasty.root / "out", cwd=nasty.root, QT_QPA_PLATFORM="offscreen"))
    assert 300 < ink < 2000


@pytest.mark.parametrize("compiler", ["gcc", "g++"])
def test_c_header_compiles_and_holds_utf8(
    nasty: ProjectFolder, client: Callable[[str], str], tmp_path: Path, compiler: str
) -> None:
    header = nasty.read("out/odd_signs.h")
    names = [n for n in re.findall(r"#define (ODD_SIGNS_\w+) \"", header) if n != "ODD_SIGNS_FAMILY"]
    body = "".join(f'  puts("{n} " {n});\n' for n in names)
    (tmp_path / "main.c").write_text(
        f'#include <stdio.h>\n#include "odd_signs.h"\nint main(void) {{\n{body}  return ODD_SIGNS_FIRST >'
        " ODD_SIGNS_LAST;\n}\n"
    )
    run(client(compiler), "-Wall", "-Wextra", "-Werror", "-I", nasty.root / "out", "main.c", "-o", "main", cwd=tmp_path)
    said = dict(line.split() for line in run(tmp_path / "main", cwd=tmp_path).splitlines())
    assert (
        sorted(map(ord, said.values())) == sorted(codes(nasty).values())
        and ord(said["ODD_SIGNS_TIDE_LOW"]) == codes(nasty)["tide-low"]
    )


@pytest.mark.parametrize(
    ("language", "file", "pattern"),
    [
        ("swift", "OddSigns.swift", r'case \S+ = "(?:\\u\{(\w+)\}|(.))"'),
        ("dart", "odd_signs.dart", r"IconData \w+ = IconData\(0x(\w+)()"),
    ],
)
def test_swift_and_dart_parse(nasty: ProjectFolder, language: str, file: str, pattern: str) -> None:
    tree_sitter = (
        importlib.import_module("tree_sitter")
        if os.environ.get("ODDPEG_REQUIRE_CLIENTS") == "1"
        else pytest.importorskip("tree_sitter")
    )
    grammar = importlib.import_module(f"tree_sitter_{language}")
    text = nasty.read(f"out/{file}")
    tree = tree_sitter.Parser(tree_sitter.Language(grammar.language())).parse(text.encode())
    assert not tree.root_node.has_error
    wanted = set(codes(nasty).values()) if language == "swift" else codes(nasty).values()  # there aliases are no cases
    found = [int(code, 16) if code else ord(mark) for code, mark in re.findall(pattern, text)]
    assert sorted(found) == sorted(wanted)
    names = re.findall(r"(?:case|let|IconData) `?(\w+)`? =", text)
    assert len(set(names)) == len(names)


def test_android_strings_and_font_name_are_legal(nasty: ProjectFolder) -> None:
    root = etree.fromstring(nasty.bytes("out/odd_signs.xml"))
    names = [attribute(e, "name") for e in root]
    assert all(re.fullmatch(r"[a-z][a-z0-9_]*", n) for n in names) and len(set(names)) == len(names)
    texts = [re.sub(r"\\u([0-9a-f]{4})", lambda m: chr(int(m[1], 16)), text_of(e)) for e in root]
    assert sorted(map(ord, texts)) == sorted(codes(nasty).values())
    assert {p.name for p in (nasty.root / "out").glob("*.ttf")} == {"odd_signs.ttf"}


def test_xaml_uses_the_family_name(nasty: ProjectFolder) -> None:
    root = etree.fromstring(nasty.bytes("out/OddSigns.xaml"))
    family, *strings = root
    assert (
        family.text
        == "pack://application:,,,/Fonts/#Odd $Signs"
        == "pack://application:,,,/Fonts/#" + str(TTFont(nasty.root / "out/odd_signs.ttf")["name"].getDebugName(1))
    )
    assert sorted(ord(text_of(e)) for e in strings) == sorted(codes(nasty).values())


@pytest.mark.parametrize("kind", ["scss", "less"])
def test_scss_and_less_compile(nasty: ProjectFolder, client: Callable[[str], str], kind: str) -> None:
    used = (
        ['.save { @include od.before("tide-low"); }', '.odd { @include od.before("潮"); }']
        if kind == "scss"
        else ['.save { .od-before("tide-low"); }', '.odd { .od-before("n3-masts"); }']
    )
    head = '@use "odd-signs-mixins" as od;' if kind == "scss" else '@import "odd-signs.less";'
    (nasty.root / f"out/use.{kind}").write_text("\n".join([head, *used]), encoding="utf-8")
    text = run(client("sass" if kind == "scss" else "lessc"), f"use.{kind}", cwd=nasty.root / "out")
    rules = tinycss2.parse_stylesheet(text.removeprefix("\ufeff"), skip_comments=True, skip_whitespace=True)
    found = {
        tinycss2.serialize(r.prelude).strip(): tinycss2.serialize(r.content)
        for r in rules
        if r.type == "qualified-rule"
    }
    token = next(
        t
        for t in tinycss2.parse_component_value_list(found[".save::before"].split("content:")[1])
        if t.type == "string"
    )
    assert ord(token.value) == codes(nasty)["tide-low"] and '"Odd $Signs"' in found[".odd::before"]
    (nasty.root / f"out/wrong.{kind}").write_text(
        head + ('.x { @include od.before("ancor"); }' if kind == "scss" else '.x { .od-before("ancor"); }')
    )
    wrong = subprocess.run(
        [client("sass" if kind == "scss" else "lessc"), f"wrong.{kind}"],
        cwd=nasty.root / "out",
        capture_output=True,
        text=True,
        check=False,
    )
    assert wrong.returncode != 0, "an unknown icon is an error"


def test_javascript_runs_and_types_check(nasty: ProjectFolder, client: Callable[[str], str], tmp_path: Path) -> None:
    script = (
        'import { oddSignsPegs as p } from "./odd-signs.mjs"; console.log(JSON.stringify(Object.entries(p).map(([k, v])'
        " => [k, v.codepoint, v.character.codePointAt(0)])));"
    )
    said = json.loads(run(client("node"), "--input-type=module", "-e", script, cwd=nasty.root / "out"))
    assert {name: code for name, code, _ in said} == codes(nasty) and all(a == b for _, a, b in said)
    run(client("tsc"), "--strict", "--noEmit", "--target", "es2022", "odd-signs.ts", cwd=nasty.root / "out")
    run(
        client("tsc"),
        "--strict",
        "--noEmit",
        "--allowJs",
        "--checkJs",
        "--target",
        "es2022",
        "--module",
        "es2022",
        "--lib",
        "es2022,dom,dom.iterable",
        "odd-signs-element.mjs",
        "odd-signs.mjs",
        cwd=nasty.root / "out",
    )


def test_constants_show_the_icon_in_the_editors_hover(nasty: ProjectFolder) -> None:
    text = nasty.read("out/odd-signs.ts")
    picture = re.search(r"!\[tide-low\]\(data:image/svg\+xml,([^) ]*)\)", text)
    assert picture, text[:2000]
    svg = unquote(picture[1])
    assert etree.fromstring(svg).get("height") == "48"
    drawing = nasty.read("icons/tide-low.svg")
    assert wrong_share(drawing_mask(drawing, 96, 96), drawing_mask(svg.replace("gray", "black"), 96, 96)) < 0.005
    assert "![" not in nasty.read("out/odd-signs.mjs")


def test_maps_read_back_in_pandas(nasty: ProjectFolder) -> None:
    pandas = (
        importlib.import_module("pandas")
        if os.environ.get("ODDPEG_REQUIRE_CLIENTS") == "1"
        else pytest.importorskip("pandas")
    )
    table = pandas.read_csv(nasty.root / "out/odd-signs.csv", keep_default_na=False)
    icons = pandas.DataFrame(json.loads(nasty.read("out/odd-signs.json"))["icons"])
    assert (
        table["name"].tolist() == icons["name"].tolist() and table["codepoint"].tolist() == icons["codepoint"].tolist()
    )
    assert [ord(c) for c in table["character"]] == icons["codepoint"].tolist()


def test_csv_reads_back(nasty: ProjectFolder) -> None:
    rows = list(csv.DictReader(io.StringIO(nasty.read("out/odd-signs.csv"))))
    assert {r["name"]: int(r["codepoint"]) for r in rows}.items() <= codes(nasty).items()
    assert all(ord(r["character"]) == int(r["codepoint"]) == int(r["hex"], 16) for r in rows)
    assert next(r for r in rows if r["name"] == "ripple")["aliases"] == "lambda; wave"


def test_sprite_has_a_symbol_for_every_name(nasty: ProjectFolder) -> None:
    root = etree.fromstring(nasty.bytes("out/odd-signs-sprite.svg"))
    assert {s.get("id") for s in root if isinstance(s.tag, str)} == set(codes(nasty))


def test_markdown_is_one_table_of_text_and_pictures(nasty: ProjectFolder) -> None:
    from markdown_it import MarkdownIt

    page = etree.HTML(MarkdownIt("commonmark", {"html": True}).enable("table").render(nasty.read("out/odd-signs.md")))
    rows = elements(page, "//tbody/tr")
    own = {n for n in codes(nasty) if n not in ("ebb", "lambda", "wave")}
    assert {text_of(r[1]) for r in rows} == own
    images = elements(page, "//td/img")
    assert all((nasty.root / "out" / unquote(attribute(img, "src"))).is_file() for img in images) and len(
        images
    ) == len(own)
    assert all("*/ $x {} \\u0022 <!--" in text_of(r[5]) for r in rows)


def test_base64_is_a_module_where_its_name_says_so(project: ProjectFolder, client: Callable[[str], str]) -> None:
    text = (
        CONFIG
        + '[bundle.pdf]\ninto = "out"\nfonts = []\noutputs = [{ kind = "base64", to = "files.mjs", format = "woff2"'
        " }]\n"
    )
    project.config(text).build()
    script = (
        'import files from "./files.mjs"; console.log(Buffer.from(files["odd-signs.woff2"], "base64").subarray(0,'
        " 4).toString());"
    )
    assert run(client("node"), "--input-type=module", "-e", script, cwd=project.root / "out").strip() == "wOF2"


def test_base64_carries_the_font_into_a_pdf(nasty: ProjectFolder, client: Callable[[str], str], tmp_path: Path) -> None:
    files = json.loads(nasty.read("out/odd-signs-files.json"))
    assert base64.b64decode(files["odd_signs.ttf"]) == nasty.bytes("out/odd_signs.ttf")
    pdfmetrics = (
        importlib.import_module("reportlab.pdfbase.pdfmetrics")
        if os.environ.get("ODDPEG_REQUIRE_CLIENTS") == "1"
        else pytest.importorskip("reportlab.pdfbase.pdfmetrics")
    )
    ttfonts, canvas = (
        importlib.import_module("reportlab.pdfbase.ttfonts"),
        importlib.import_module("reportlab.pdfgen.canvas"),
    )
    pdfmetrics.registerFont(ttfonts.TTFont("signs", io.BytesIO(base64.b64decode(files["odd_signs.ttf"]))))
    page: Any = canvas.Canvas(str(tmp_path / "page.pdf"), pagesize=(100, 100))
    page.setFont("signs", 80)
    page.drawString(10, 20, chr(codes(nasty)["class"]))
    page.save()
    run(client("pdftoppm"), "-r", "72", "-gray", "-singlefile", "page.pdf", "page", cwd=tmp_path)
    from PIL import Image

    ink = int((np.asarray(Image.open(tmp_path / "page.pgm")) < 128).sum())
    assert 500 < ink < 6000


CASES = [(upper, ()), (lower, ()), (camel, ("class",)), (pascal, ())]


@pytest.mark.parametrize(("form", "reserved"), CASES)
def test_thousands_of_identifiers_are_unique_legal_and_do_not_depend_on_each_other(
    form: Callable[[list[str]], str], reserved: tuple[str, ...]
) -> None:
    names = sorted(
        {
            *NAMES,
            *(
                f"{a}-{b}{n}"
                for n, (a, b) in enumerate(
                    itertools.islice(itertools.product(["tide", "潮", "3", "é"], range(2000)), 6500)
                )
            ),
        }
    )
    everything = icon_set([Icon(n, 0xF0000 + i, "", 0) for i, n in enumerate(names)], "Odd")
    found = {e.name: e.identifier for e in entries(everything, form, reserved)}
    assert len(found) > 6500 and len(set(found.values())) == len(names)
    assert all(i.isidentifier() and i.isascii() and i not in reserved for i in found.values())
    for part in (names[::2], names[1::3]):
        some = everything.select(set(part))
        again = {e.name: e.identifier for e in entries(some, form, reserved)}
        moved = [n for n in part if again[n] != found[n]]
        assert all(not n.isascii() for n in moved) and len(moved) < 5, (
            "only a name in letters of another script ever makes room"
        )
