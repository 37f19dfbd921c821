"""Stylesheets and the custom element in Chromium: self-contained, embedded, mirrored, named sizes; and the map as
pandas would read it."""

from __future__ import annotations

import base64
import io
import json
import re
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np
import pytest
import tinycss2
from PIL import Image

from support.clients import serving
from support.project import CONFIG, RING, ProjectFolder

LOOK = """
[classes]
prefix = "tm"
mirrored = ["ahead"]
[classes.sizes]
big = "2.5rem"
[classes.colours]
warn = "rgb(200 10 20)"
"""
OUTPUTS = """[
 "css", "web-component", "sprite",
 { kind = "css", to = "small.css", minified = true },
 { kind = "css", to = "alone.css", self_contained = true, embed = true },
]"""
ARROW = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24"><path d="M2 2h8v20h-8z"/></svg>'


@pytest.fixture(scope="module")
def styled(tmp_path_factory: pytest.TempPathFactory) -> ProjectFolder:
    text = re.sub(r'\[classes\]\nprefix = "tm"\n', LOOK, CONFIG).replace(
        '["css", "typescript", "json", "specimen"]', OUTPUTS
    )
    project = (
        ProjectFolder(tmp_path_factory.mktemp("styled") / "set")
        .config(text)
        .icon("anchor")
        .icon("buoy", RING)
        .icon("ahead", ARROW)
    )
    project.build()
    return project


@pytest.fixture(scope="module")
def server(styled: ProjectFolder) -> Iterator[str]:
    """The project over HTTP on loopback: modules do not load from disk."""
    with serving(styled.root) as (address, _):
        yield address


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


def test_a_minified_sheet_says_the_same(styled: ProjectFolder) -> None:
    plain, small = styled.read("dist/tide-marks.css"), styled.read("dist/small.css")
    assert rules(plain) == rules(small) and len(small) < 0.8 * len(plain) and "/*" not in small


def page(browser: Any, styled: ProjectFolder, name: str, body: str) -> None:
    path = styled.root / "dist/page.html"
    path.write_text(
        f'<!doctype html><meta charset="utf-8"><link rel="stylesheet" href="{name}"><body>{body}', encoding="utf-8"
    )
    browser.get(path.as_uri())
    browser.execute_async_script("const done = arguments[0]; document.fonts.ready.then(() => done())")


def look(browser: Any, selector: str, key: str, part: str = "::before") -> str:
    return str(
        browser.execute_script(
            "return getComputedStyle(document.querySelector(arguments[0]), arguments[2])[arguments[1]]",
            selector,
            key,
            part,
        )
    )


def test_named_sizes_colours_and_mirrored_icons(browser: Any, styled: ProjectFolder) -> None:
    page(
        browser,
        styled,
        "tide-marks.css",
        '<i class="tm-icon tm-ahead tm-size-big tm-colour-warn"></i><p dir="rtl"><b class="tm-icon tm-ahead"></b><u'
        ' class="tm-icon tm-anchor"></u></p>',
    )
    assert look(browser, "i", "fontSize") == "40px" and look(browser, "i", "color") == "rgb(200, 10, 20)"
    assert (
        look(browser, "i", "scale") == "none"
        and look(browser, "b", "scale") == "-1 1"
        and look(browser, "u", "scale") == "none"
    )


def test_a_self_contained_class_works_without_the_base_class_or_any_file(
    browser: Any, styled: ProjectFolder, tmp_path: Path
) -> None:
    alone = tmp_path / "elsewhere"
    alone.mkdir()
    (alone / "alone.css").write_text(styled.read("dist/alone.css"), encoding="utf-8")
    (alone / "page.html").write_text(
        '<!doctype html><link rel="stylesheet" href="alone.css"><i class="tm-buoy"></i>', encoding="utf-8"
    )
    browser.get((alone / "page.html").as_uri())
    loaded = browser.execute_async_script(
        "const done = arguments[0]; document.fonts.ready.then(() => done([...document.fonts].map(f => f.status)))"
    )
    assert (
        loaded == ["loaded"]
        and look(browser, "i", "fontFamily") == '"Tide Marks"'
        and look(browser, "i", "display") == "inline-block"
    )


ELEMENT = """<!doctype html><meta charset="utf-8"><script type="module" src="dist/tide-marks-element.mjs"></script>
<tm-icon name="buoy" size="30px" color="rgb(1, 2, 3)" label="Buoy"></tm-icon>
<tm-icon name="bouy"></tm-icon><tm-icon name="constructor"></tm-icon>"""


def test_the_custom_element_shows_icons_and_owns_up_to_unknown_ones(
    browser: Any, styled: ProjectFolder, server: str
) -> None:
    (styled.root / "element.html").write_text(ELEMENT, encoding="utf-8")
    browser.get(f"{server}/element.html")
    said = browser.execute_async_script(
        """const done = arguments[0], inside = (e) => e.shadowRoot.querySelector("span");
        const loaded = () => document.fonts.load('16px "Tide Marks"', "\\ue002");
        customElements.whenDefined("tm-icon").then(loaded).then(faces => {
        const [good, bad, odd] = document.querySelectorAll("tm-icon");
        const span = inside(good), look = getComputedStyle(span);
        done({faces: faces.map(f => f.status), size: look.fontSize, color: look.color,
              text: span.textContent, bad: inside(bad).textContent, odd: inside(odd).className,
              back: getComputedStyle(inside(bad)).backgroundColor}); })"""
    )
    assert said == {
        "faces": ["loaded"],
        "size": "30px",
        "color": "rgb(1, 2, 3)",
        "text": "\ue002",
        "bad": "bouy?",
        "odd": "unknown",
        "back": "rgb(176, 42, 32)",
    }
    good = browser.find_element("css selector", "tm-icon")
    assert (good.aria_role, good.accessible_name) == ("image", "Buoy")
    messages = [e["message"] for e in browser.get_log("browser")]
    assert any('there is no icon \\"bouy\\"' in m for m in messages)
    changed = browser.execute_script(
        'const e = document.querySelector("tm-icon"); e.setAttribute("name", "anchor"); return'
        ' e.shadowRoot.querySelector("span").textContent'
    )
    assert changed == "\ue001"


def test_the_sprite_shows_icons_in_the_colour_of_the_text(browser: Any, styled: ProjectFolder, server: str) -> None:
    (styled.root / "sprite.html").write_text(
        '<!doctype html><body style="margin:0;color:rgb(200,10,20)"><svg width="96" height="96"><use'
        ' href="dist/tide-marks-sprite.svg#anchor"/></svg>',
        encoding="utf-8",
    )
    browser.get(f"{server}/sprite.html")
    browser.execute_async_script(
        "const done = arguments[0]; setTimeout(() => requestAnimationFrame(() => done()), 400)"
    )
    shown = np.asarray(Image.open(io.BytesIO(base64.b64decode(browser.get_screenshot_as_base64()))).convert("RGB"))[
        :96, :96
    ]
    red = (np.abs(shown.astype(int) - [200, 10, 20]).sum(axis=2) < 12).sum()
    assert red == pytest.approx((16 * 4) ** 2, abs=80), "the square of the drawing, four pixels to the unit"


def test_a_class_that_two_things_want_is_refused(project: ProjectFolder) -> None:
    project.config(CONFIG.replace('prefix = "tm"', 'prefix = "tm"\nsizes = { big = "2em" }')).icon("size-big")
    assert "would be the class of a size" in project.build(code=1).stderr
    wrong = project.config(
        CONFIG.replace('prefix = "tm"', 'prefix = "tm"\nsizes = { big = "2em; } body { color: red" }')
    ).build(code=2)
    assert "must be a CSS value" in wrong.stderr and json.dumps("oddpeg.toml")[1:-1] in wrong.stderr
