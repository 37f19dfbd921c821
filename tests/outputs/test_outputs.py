"""Generated text: parsed by real parsers, compiled by real compilers, safe for any name."""

from __future__ import annotations

import json
import re

import pytest
import tinycss2
from jsonschema import Draft202012Validator

from oddpeg.outputs.escape import comment, css_identifier, css_string, style_string
from oddpeg.outputs.kinds.css import minified
from support.project import CONFIG, REPOSITORY, ProjectFolder

NASTY = ["a", "class", "3-masts", "潮", "-", "--x", "</script><b>", '"*/}', "a b", "é.ü", "\\", "constructor"]


def css_rules(text: str) -> dict[str, dict[str, list[str]]]:
    """Selector → property → values; any parse error fails."""
    rules: dict[str, dict[str, list[str]]] = {}
    text = re.sub(r"(?m)^(\..*)::before, /\*.*\n", "", text)  # aliases share the rule that follows
    for rule in tinycss2.parse_stylesheet(text, skip_comments=True, skip_whitespace=True):
        assert rule.type in ("qualified-rule", "at-rule"), rule
        name = "".join(t.value if t.type == "ident" else t.serialize() for t in rule.prelude).strip()
        found = rules.setdefault(name if rule.type == "qualified-rule" else "@" + rule.at_keyword, {})
        for item in tinycss2.parse_declaration_list(rule.content, skip_comments=True, skip_whitespace=True):
            assert item.type == "declaration", item
            found.setdefault(item.name, []).append(tinycss2.serialize(item.value).strip())
    return rules


def test_stylesheet_has_a_class_for_every_icon_and_offers_woff2_first(demo: ProjectFolder) -> None:
    rules = css_rules(demo.read("dist/web/saltmarsh-signs.css"))
    icons = demo.read_json("dist/web/saltmarsh-signs.json")["icons"]
    for icon in icons:
        code = f'"{chr(icon["codepoint"])}"'
        assert rules[f".salt-{icon['name']}::before"]["content"] == [code, f'{code} / ""']
    assert demo.read("dist/web/saltmarsh-signs.css").isascii()
    source = rules["@font-face"]["src"][0]
    assert (
        0
        <= source.index('url("saltmarsh-signs-line.woff2") format("woff2")')
        < source.index('url("saltmarsh-signs-line.woff")')
    )
    assert rules["@font-face"]["font-family"] == ['"Saltmarsh Signs"']


@pytest.mark.parametrize("to", ["styles/icons.css", "../styles/icons.css", "../../odd place/ü.css", "icons.css"])
def test_urls_are_right_from_wherever_the_stylesheet_lands(project: ProjectFolder, to: str) -> None:
    from urllib.parse import unquote

    project.config(
        CONFIG.replace('"css"', f'{{ kind = "css", to = "{to}" }}').replace('"dist"', '"out/web fonts"')
    ).deliver()
    sheet = project.root / "out/web fonts" / to
    source = css_rules(sheet.read_text(encoding="utf-8"))["@font-face"]["src"][0]
    for part in ("woff2", "woff", "ttf"):
        url = next(
            t.arguments[0].value
            for t in tinycss2.parse_component_value_list(source)
            if t.type == "function" and t.name == "url" and t.arguments[0].value.endswith("." + part)
        )
        assert (sheet.parent / unquote(url)).is_file()


def test_escapes_read_back_as_the_text() -> None:
    for text in [*NASTY, "1", "-1", "a\x01", "x\x7f"]:
        token, *rest = tinycss2.parse_component_value_list(css_identifier(text))
        assert (token.type, token.value, rest) == ("ident", text, [])
        token, *rest = tinycss2.parse_component_value_list(css_string(text + "\n\\"))
        assert (token.type, token.value, rest) == ("string", text + "\n\\", [])
        token, *rest = tinycss2.parse_component_value_list(style_string(text + "@{a} #{b}"))
        assert (token.type, token.value, rest) == ("string", text + "@{a} #{b}", [])
    assert not {"@{", "#{"} & set(re.findall("[@#]{", style_string("@{a} #{b}"))), "no compiler fills these in"
    assert "*/" not in comment("a */ b")


def test_json_map_has_exactly_the_agreed_keys(project: ProjectFolder) -> None:
    project.deliver()
    found = project.read_json("dist/tide-marks.json")
    assert list(found) == ["family", "version", "units_per_em", "schema", "icons"]
    form = json.loads((REPOSITORY / "docs/glyph-map.schema.json").read_text(encoding="utf-8"))
    Draft202012Validator.check_schema(form)
    Draft202012Validator(form).validate(found)
    assert found["schema"] == form["properties"]["schema"]["const"]
    assert found["icons"][0] == {
        "name": "anchor",
        "codepoint": 0xE000,
        "hex": "e000",
        "source": "icons/anchor.svg",
        "aliases": [],
        "tags": [],
        "advance": 1008,
    }


def test_generated_text_ends_lines_with_lf_only(demo: ProjectFolder) -> None:
    for name in demo.files("dist/web"):
        if not name.endswith(("woff", "woff2", "png")):
            assert b"\r" not in demo.bytes(f"dist/web/{name}")


def test_minifying_leaves_strings_alone() -> None:
    sheet = '/* ours */\n.a {\n  font-family: "A/* x */B \\" ; { /* c";\n}\n'
    assert minified(sheet) == '.a{font-family:"A/* x */B \\" ; { /* c"}\n'
