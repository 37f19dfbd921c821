"""`use` and `find`: what to paste for an icon, and the icon for half-remembered words."""

from __future__ import annotations

import json
import re
from pathlib import Path

import pytest

from support.data import table
from support.project import CONFIG, REPOSITORY, RING, SQUARE, ProjectFolder

DATA = table("lookup")


def found(demo: ProjectFolder, *words: str) -> list[str]:
    result = demo.run("find", *words, "--json")
    return [i["name"] for i in json.loads(result.stdout)["icons"]]


@pytest.mark.parametrize(("words", "first"), DATA["half_remembered_words_find_the_icon"])
def test_half_remembered_words_find_the_icon(demo: ProjectFolder, words: list[str], first: str) -> None:
    assert found(demo, *words)[0] == first


def test_codepoints_find_the_icon_in_any_spelling(demo: ProjectFolder) -> None:
    icons = {i["name"]: i for i in demo.read_json("dist/web/saltmarsh-signs.json")["icons"]}
    code = icons["ferry"]["hex"]
    for spelling in (code, f"U+{code.upper()}", f"0x{code}", f"\\{code}", chr(icons["ferry"]["codepoint"])):
        assert found(demo, spelling) == ["ferry"]


def test_nothing_found_says_what_to_do(demo: ProjectFolder) -> None:
    result = demo.run("find", "zeppelin")
    assert result.returncode == 1 and "icons.csv" in result.stderr


def test_every_line_of_use_stands_in_the_file_it_names(tmp_path: Path) -> None:
    kinds = ["css", "scss", "less", "typescript", "kotlin", "java", "swift", "csharp", "python"]
    kinds += ["dart", "c-header", "android-xml", "xaml", "sprite"]
    project = ProjectFolder(tmp_path / "set").config(
        CONFIG.replace('["css", "typescript", "json", "specimen"]', json.dumps(kinds))
    )
    project.icon("tide-low", RING).icon("class").icon("3-masts", SQUARE.replace("16", "9")).deliver()
    for icon in ("tide-low", "class", "3-masts"):
        lines = project.json("use", icon)["lines"]
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


def test_bundles_leave_out_icons_by_name_and_tag(project: ProjectFolder) -> None:
    (project.root / "icons/icons.csv").write_text("icon,tags\nbuoy,sea\n", encoding="utf-8")
    text = (
        CONFIG.replace("[bundle.web]", '[bundle.web]\nwithout = ["#sea"]')
        + '\n[bundle.sea]\ninto = "sea"\nonly = ["#se?"]\nfonts = ["woff2"]\noutputs = ["json", "css"]\n'
    )
    project.config(text).deliver()
    names = [{i["name"] for i in project.read_json(f"{d}/tide-marks.json")["icons"]} for d in ("dist", "sea")]
    assert names == [{"anchor"}, {"buoy"}] and project.bytes("sea/tide-marks.woff2") != project.bytes(
        "dist/tide-marks.woff2"
    )
    assert {li["bundle"] for li in project.json("use", "buoy")["lines"]} == {"sea", ""}
    wrong = project.config(text.replace('"#se?"', '"zeppelin"')).build(code=1)
    assert "bundle.sea leaves out every icon" in wrong.stderr


def test_a_template_of_ones_own_gets_the_catalogue(project: ProjectFolder) -> None:
    (project.root / "list.jinja").write_text(
        "{% for i in icons %}{{ i.name|script_string }}={{ i.hex }}\n{% endfor %}", encoding="utf-8"
    )
    text = CONFIG.replace('"json"', '{ kind = "template", to = "list.txt", template = "list.jinja" }')
    project.config(text).deliver()
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


def test_everyday_words_find_icons_of_other_names(project: ProjectFolder) -> None:
    names = {"home": "house", "settings": "gear", "trash": "bins", "envelope": "mail", "user": "person"}
    for number, name in enumerate(names):
        project.icon(name, RING.replace('"8"', f'"{number + 2}"'))
    project.deliver()
    for name, word in names.items():
        assert project.json("find", word)["icons"][0]["name"] == name
    project.config(CONFIG + '\n[synonyms]\ngear = ["buoy"]\nhouse = []\n')
    assert project.json("find", "gear")["icons"][0]["name"] == "buoy"
    assert "home" not in project.run("find", "house").stdout
