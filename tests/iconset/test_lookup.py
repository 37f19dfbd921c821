"""`use` and `find`: what to paste for an icon, and the icon for half-remembered words."""

from __future__ import annotations

import json
import re
from pathlib import Path

import pytest

from oddpeg.iconset.model import Icon
from oddpeg.iconset.search import SearchIndex, find
from support.project import CONFIG, REPOSITORY, RING, SQUARE, ProjectFolder, oddpeg


def found(demo: ProjectFolder, *words: str) -> list[str]:
    result = demo.run("find", *words, "--json")
    return [i["name"] for i in json.loads(result.stdout)["icons"]]


@pytest.mark.parametrize(
    ("words", "first"),
    [
        (["anchor"], "anchor"),
        (["seagull"], "gull"),
        (["low", "tide"], "tide-low"),
        (["weelchair"], "step-free"),
        (["LIFE", "jack"], "life-jacket"),
        (["price", "kid"], "child-fare"),
        (["cafe"], "cafe"),
        (["café"], "cafe"),
        (["way", "out"], "exit"),
        (["safety", "buoy"], "life-ring"),
    ],
)
def test_half_remembered_words_find_the_icon(demo: ProjectFolder, words: list[str], first: str) -> None:
    assert found(demo, *words)[0] == first


def test_codepoints_find_the_icon_in_any_spelling(demo: ProjectFolder) -> None:
    icons = {i["name"]: i for i in json.loads(demo.read("dist/web/saltmarsh-signs.json"))["icons"]}
    code = icons["ferry"]["hex"]
    for spelling in (code, f"U+{code.upper()}", f"0x{code}", f"\\{code}", chr(icons["ferry"]["codepoint"])):
        assert found(demo, spelling) == ["ferry"]


def test_better_fits_come_first_and_all_words_must_fit() -> None:
    icons = [
        Icon(n, 0xE000 + i, "", 0, tags=t)
        for i, (n, t) in enumerate(
            [("boat", ()), ("boathouse", ()), ("lifeboat", ()), ("oar", ("boat",)), ("boats-two", ()), ("pier", ())]
        )
    ]
    index = SearchIndex.of(icons)
    assert [h.icon.name for h in find(index, "boat", {})] == ["boat", "boathouse", "boats-two", "oar", "lifeboat"]
    assert (
        [h.icon.name for h in find(index, "boat two", {})] == ["boats-two"]
        and not any(hit.whole for hit in find(index, "boat pier", {}))
        and not find(index, "…", {})
    )
    assert [h.icon.name for h in find(index, "boat pier", {})[:2]] == ["boat", "pier"], (
        "the nearest, where none has all"
    )
    assert find(index, "vessel", {"vessel": ["boat"]})[0].icon.name == "boat"


def test_nothing_found_says_what_to_do(demo: ProjectFolder) -> None:
    result = demo.run("find", "zeppelin")
    assert result.returncode == 1 and "icons.csv" in result.stderr


def test_every_line_of_use_stands_in_the_file_it_names(tmp_path: Path) -> None:
    kinds = [
        "css",
        "scss",
        "less",
        "typescript",
        "kotlin",
        "java",
        "swift",
        "csharp",
        "python",
        "dart",
        "c-header",
        "android-xml",
        "xaml",
        "sprite",
    ]
    project = ProjectFolder(tmp_path / "set").config(
        CONFIG.replace('["css", "typescript", "json", "specimen"]', json.dumps(kinds))
    )
    project.icon("tide-low", RING).icon("class").icon("3-masts", SQUARE.replace("16", "9")).build()
    for icon in ("tide-low", "class", "3-masts"):
        lines = json.loads(project.run("use", icon, "--json").stdout)["lines"]
        assert {li["place"] for li in lines} >= {*kinds, "html", "entity", "escape", "character", "codepoint"} - {"css"}
        for line in (li for li in lines if li["file"] and not li["once"]):
            own = [
                t
                for t in re.findall(r"[\w-]+", line["text"])
                if re.sub(r"[\W_]", "", icon) in re.sub(r"[\W_]", "", t).lower()
            ]
            text = project.read(line["file"]).replace("\\33 ", "3")
            assert (own and all(t in text for t in own)) or (line["place"] == "css" and "content: " in text), line
        assert next(li["text"] for li in lines if li["place"] == "entity") == f"&#x{lines[-1]['text'][2:].lower()};"


def test_use_prints_only_what_to_paste_where_a_place_is_named(demo: ProjectFolder) -> None:
    assert demo.run("use", "gull", "--in", "html").stdout == '<span class="salt-icon salt-gull"></span>\n'
    assert demo.run("use", "seagull", "--in", "html").stdout == '<span class="salt-icon salt-gull"></span>\n', (
        "by an alias"
    )


def test_use_names_the_nearest_and_the_places_there_are(demo: ProjectFolder) -> None:
    wrong = demo.run("use", "ancor")
    assert wrong.returncode == 1 and "did you mean anchor" in wrong.stderr
    wrong = demo.run("use", "anchor", "--in", "python")
    assert wrong.returncode == 2 and "html" in wrong.stderr


def test_bundles_leave_out_icons_by_name_and_tag(project: ProjectFolder) -> None:
    (project.root / "icons/icons.csv").write_text("icon,tags\nbuoy,sea\n", encoding="utf-8")
    text = (
        CONFIG.replace("[bundle.web]", '[bundle.web]\nwithout = ["#sea"]')
        + '\n[bundle.sea]\ninto = "sea"\nonly = ["#se?"]\nfonts = ["woff2"]\noutputs = ["json", "css"]\n'
    )
    project.config(text).build()
    names = [{i["name"] for i in json.loads(project.read(f"{d}/tide-marks.json"))["icons"]} for d in ("dist", "sea")]
    assert names == [{"anchor"}, {"buoy"}] and project.bytes("sea/tide-marks.woff2") != project.bytes(
        "dist/tide-marks.woff2"
    )
    assert {li["bundle"] for li in json.loads(project.run("use", "buoy", "--json").stdout)["lines"]} == {"sea", ""}
    wrong = project.config(text.replace('"#se?"', '"zeppelin"')).build(code=1)
    assert "bundle.sea leaves out every icon" in wrong.stderr


def test_a_template_of_ones_own_gets_the_catalogue(project: ProjectFolder) -> None:
    (project.root / "list.jinja").write_text(
        "{% for i in icons %}{{ i.name|script_string }}={{ i.hex }}\n{% endfor %}", encoding="utf-8"
    )
    text = CONFIG.replace('"json"', '{ kind = "template", to = "list.txt", template = "list.jinja" }')
    project.config(text).build()
    assert project.read("dist/list.txt") == '"anchor"=e000\n"buoy"=e001\n'
    for body, line in (
        ("a\n{{ nothing }}\n", 2),
        ("a\nb\n{% for %}\n", 3),
        ("{{ icons.__class__.__mro__ }}", 1),
        ("{{ ''.__class__.__base__.__subclasses__() }}", 1),
    ):
        (project.root / "list.jinja").write_text(body, encoding="utf-8")
        wrong = project.build(code=1)
        assert f"list.jinja:{line}: " in wrong.stderr and "cure" in wrong.stderr
    project.config(text.replace("list.jinja", "gone.jinja"))
    assert "gone.jinja: cannot be read" in project.build(code=1).stderr


@pytest.mark.parametrize(
    ("output", "told"),
    [
        ('{ kind = "css", minifed = true }', "did you mean 'minified'"),
        ('{ kind = "css", minified = "yes" }', "true or false"),
        ('{ kind = "json", package = "x" }', "json has no key 'package'"),
    ],
)
def test_keys_of_a_kind_are_checked(project: ProjectFolder, output: str, told: str) -> None:
    wrong = project.config(CONFIG.replace('"json"', output)).build(code=2)
    assert told in wrong.stderr and "oddpeg.toml:" in wrong.stderr


def test_a_new_kind_needs_one_module_and_one_template(tmp_path: Path) -> None:
    """A copy of the package, one module and one template more: it is listed and built like all others."""
    import os
    import shutil
    import subprocess
    import sys

    import oddpeg as package

    home = tmp_path / "site/oddpeg"
    shutil.copytree(Path(package.__file__).parent, home, ignore=shutil.ignore_patterns("__pycache__"))
    (home / "outputs/templates/roll.jinja").write_text("{{ header }}\n{% for i in c.icons %}{{ i.name }}\n{% endfor %}")
    (home / "outputs/kinds/roll.py").write_text(
        "from oddpeg.outputs.kind import OutputKind\nfrom oddpeg.outputs.render import render_kind\n"
        'KIND = OutputKind("roll", "the roll of icons", "anywhere", "{stem}.roll",\n'
        '                  lambda c, context: render_kind("roll.jinja", c))\n'
    )
    project = ProjectFolder(tmp_path / "set").config(CONFIG.replace('"json"', '"roll"')).icon("anchor")
    for command in (["outputs"], ["build"]):
        done = subprocess.run(
            [sys.executable, "-c", "from oddpeg.cli.entry import main; main()", *command],
            cwd=project.root,
            capture_output=True,
            text=True,
            env={**os.environ, "PYTHONPATH": str(tmp_path / "site")},
            check=False,
        )
        assert done.returncode == 0 and "roll" in done.stdout, done.stderr
    assert project.read("dist/tide-marks.roll").splitlines()[1:] == ["anchor"]


def test_every_kind_and_every_key_is_documented() -> None:
    from oddpeg.outputs.registry import FONT_KINDS, KINDS

    parts = dict(
        re.findall(
            r"(?ms)^## `([\w-]+)`\n(.*?)(?=^## |\Z)", (REPOSITORY / "docs/outputs.md").read_text(encoding="utf-8")
        )
    )
    assert set(parts) == set(KINDS)
    for name, kind in KINDS.items():
        assert kind.place in parts[name] and all(f"| `{key}` |" in parts[name] for key in kind.options)
    assert all(f"| `{kind}` |" in (REPOSITORY / "docs/outputs.md").read_text(encoding="utf-8") for kind in FONT_KINDS)


def test_one_among_thousands_is_found_by_its_tag() -> None:
    icons = [
        Icon(f"sign-{i}-{w}", 0xF0000 + i, "", 0, tags=(f"tag{i}", "harbour"))
        for i, w in enumerate(["pier", "buoy", "mast"] * 2000)
    ]
    index = SearchIndex.of(icons)
    hits = find(index, "tag4321", {})
    assert [h.icon.codepoint for h in hits] == [0xF0000 + 4321] and len(
        find(SearchIndex.of(icons), "harbour mast", {})
    ) == 2000


def test_a_wrong_place_to_stand_is_said(tmp_path: Path) -> None:
    assert oddpeg("find", "x", cwd=tmp_path).returncode == 2
