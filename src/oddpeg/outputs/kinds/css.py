"""Stylesheet: the font face, one base class, one class per icon. Source: CSS Fonts 4, CSS Content 3 §1.2."""

from __future__ import annotations

import re

from oddpeg.iconset.model import Icon, IconSet
from oddpeg.outputs.context import OutputContext, Snippet
from oddpeg.outputs.escape import css_character, css_identifier, url_path, xml_text
from oddpeg.outputs.face_rules import face_values, font_sources
from oddpeg.outputs.kind import FONT_OPTIONS, Option, OutputKind, embedded_formats, needs_unless_embedded
from oddpeg.outputs.references import NameShape, ReferenceForm
from oddpeg.outputs.render import render_kind

_DISPLAYS = ("block", "swap", "fallback", "optional", "auto")


def css(icon_set: IconSet, context: OutputContext) -> str:
    """Return the stylesheet; fonts are offered in the order of `context.urls`."""
    options = KIND.options_with_defaults(context.options)
    text = render_kind(
        "css.jinja",
        icon_set,
        **face_values(icon_set, font_sources(context)),
        options=options,
        display=options["display"],
        layer=_layers(icon_set, context),
    )
    return minified(text) if context.options.get("minified") else text


_STRING = re.compile(r'("(?:[^"\\]|\\.)*")', re.DOTALL)
_STRING_OR_COMMENT = re.compile(_STRING.pattern + r"|/\*.*?\*/", re.DOTALL)


def minified(text: str) -> str:
    """Return a generated stylesheet without comments and needless whitespace; strings do not change."""
    without = _STRING_OR_COMMENT.sub(lambda m: m[1] or "", text)
    parts = _STRING.split(without)
    for i in range(0, len(parts), 2):
        plain = re.sub(r"\s+", " ", parts[i])
        parts[i] = re.sub(r" ?([{};,]) ?|: ", lambda m: m[1] or ":", plain).replace(";}", "}")
    return "".join(parts).strip() + "\n"


def setup(icon_set: IconSet, context: OutputContext) -> list[Snippet]:
    """Return the link to the stylesheet; its path is relative to the project."""
    return [Snippet("html", f'<link rel="stylesheet" href="{xml_text(url_path(context.file))}">')]


def _layers(icon_set: IconSet, context: OutputContext) -> str:
    """Return the cascade layer's name as CSS writes it, "" for none."""
    return ".".join(css_identifier(part) for part in str(context.options.get("layer") or "").split(".") if part)


def snippets(icon_set: IconSet, context: OutputContext, icon: Icon) -> list[Snippet]:
    """Return the lines for a page, and for a rule of the user's stylesheet."""
    family = icon_set.family.replace("\\", "\\\\").replace('"', '\\"')
    base = "" if context.options.get("self_contained") else f"{icon_set.base_class} "
    classes = f"{base}{icon_set.prefix}-{icon.name}"
    others = [f"{classes} {icon_set.prefix}-face-{face}" for face in icon.faces if face != icon_set.default]
    others += [f"{classes} {icon_set.prefix}-{state}" for state in icon_set.classes.states]
    return [
        *(Snippet("html", f'<span class="{names}"></span>') for names in (classes, *others)),
        Snippet("css", f'font-family: "{family}"; content: {css_character(icon.codepoint)};'),
    ]


def references(icon_set: IconSet, context: OutputContext) -> list[ReferenceForm]:
    """Return the classes."""
    lead = f"{icon_set.prefix}-"
    reserved = {icon_set.base_class.removeprefix(lead), "icon", "before", "map", "family", "mirrored", "font-path"}
    reserved |= {f"face-{face}" for icon in icon_set.icons for face in icon.faces}
    reserved |= {*icon_set.classes.states, *(f"drawn-{px}" for px in icon_set.classes.drawn)}
    return [ReferenceForm(NameShape.CLASS, lead, icon_set.spelled, frozenset(reserved))]


KIND = OutputKind(
    "css",
    "stylesheet: font face, base class, one class per icon",
    "link it from the page",
    "{stem}.css",
    css,
    snippets,
    setup=setup,
    needs=needs_unless_embedded("woff2", "woff", "ttf", "eot", "svg"),
    hash_in_name=True,
    references=references,
    rank=1,
    embeds=embedded_formats,
    options={
        "minified": Option(False, "without comments and whitespace"),
        **FONT_OPTIONS,
        "self_contained": Option(
            False, "every class works without the base class, for hosts that scope or rename classes"
        ),
        "layer": Option("", "the cascade layer that all rules are in"),
        "display": Option("block", "what shows until the font is there (`font-display`)", _DISPLAYS),
        "variables": Option(False, "a custom property for every icon, `--PREFIX-NAME`, to use as `content`"),
    },
)
