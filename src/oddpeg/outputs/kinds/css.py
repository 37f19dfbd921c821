"""Stylesheet: the font face, one base class, one class per icon. Source: CSS Fonts 4, CSS Content 3 §1.2."""

from __future__ import annotations

import base64
import re

from oddpeg.iconset.model import Catalogue, Icon, Surroundings
from oddpeg.outputs.escape import css_character
from oddpeg.outputs.kind import Kind, Line, Option
from oddpeg.outputs.render import render_kind


def sources(around: Surroundings) -> dict[str, str]:
    """Return font format → URL, in the order to offer them; one data URI where the font is to be carried within."""
    if around.options.get("embed"):
        return {"woff2": "data:font/woff2;base64," + base64.b64encode(around.embed).decode()}
    return around.urls


def css(catalogue: Catalogue, around: Surroundings) -> str:
    """Return the stylesheet; fonts are offered in the order of `around.urls`."""
    text = render_kind("css.jinja", catalogue, urls=sources(around), options={**KIND.defaults(), **around.options})
    return minified(text) if around.options.get("minified") else text


def minified(text: str) -> str:
    """Return our own stylesheet without what browsers do not need; strings are left alone."""
    parts = re.split(r'("[^"]*")', re.sub(r"/\*.*?\*/", "", text, flags=re.DOTALL))
    for i in range(0, len(parts), 2):
        plain = re.sub(r"\s+", " ", parts[i])
        parts[i] = re.sub(r" ?([{};,]) ?|: ", lambda m: m[1] or ":", plain).replace(";}", "}")
    return "".join(parts).strip() + "\n"


def lines(catalogue: Catalogue, around: Surroundings, icon: Icon) -> list[Line]:
    """Return what to paste into a page, and into a rule of one's own."""
    family = catalogue.family.replace("\\", "\\\\").replace('"', '\\"')
    base = "" if around.options.get("self_contained") else f"{catalogue.base_class} "
    return [
        Line("html", f'<span class="{base}{catalogue.prefix}-{icon.name}"></span>'),
        Line("css", f'font-family: "{family}"; content: {css_character(icon.codepoint)};'),
    ]


KIND = Kind(
    "css",
    "stylesheet: font face, base class, one class per icon",
    "link it from the page",
    "{stem}.css",
    css,
    lines,
    rank=1,
    carries=lambda options: ("woff2",) if options["embed"] else (),
    options={
        "minified": Option(False, "without comments and blanks"),
        "embed": Option(False, "carry the font within it, as a data URI"),
        "self_contained": Option(
            False, "every class works without the base class, for hosts that scope or rename classes"
        ),
    },
)
