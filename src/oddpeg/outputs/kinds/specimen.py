"""Specimen: one self-contained page to look at every icon, find it by words, and leave with the right line."""

from __future__ import annotations

import base64
import json
import re
from collections.abc import Sequence
from typing import Any, NamedTuple

from oddpeg.iconset.model import Icon, IconSet
from oddpeg.iconset.search import RULES, icon_text
from oddpeg.iconset.synonyms import relevant
from oddpeg.outputs.context import OutputContext
from oddpeg.outputs.escape import css_identifier, policy_digest
from oddpeg.outputs.face_rules import default_weight, face_classes, face_rules, palette_rules
from oddpeg.outputs.kind import OutputKind
from oddpeg.outputs.render import render, source

_LARGEST = 32_000  # characters of a drawing that the page carries
_SPLIT = "\0"  # between what lists an icon and what its panel says
_INCLUDE = {
    "css": ('<link rel="stylesheet" href="{}">', "link"),
    "scss": ('@use "{}" as {};', "scss rule"),
    "less": ('@import "{}";', "less rule"),
}


# stand in the page for what it knows of the icons, which is nearly all of a large one: what is needed to list and find
# them, and what its panel says of one, which is only read when that one is chosen
_ICONS, _DETAILS = "@ICONS@", "@DETAILS@"


def write(icon_set: IconSet, context: OutputContext) -> bytes:
    """Return the page; the font and the drawings are carried inside it, so it works from disk and offline. Its one
    style sheet and its one script are named by their digests in the page's own security policy (CSP Level 3), so
    nothing else can run.
    """
    script = "".join(source(f"specimen/{name}.js") for name in ("search", "panel", "page"))
    script = script.replace("@RULES@", json.dumps(RULES))
    style = source("specimen/look.css").replace("@WEIGHT@", default_weight(icon_set))
    style = style.replace("@FACES@", _face_rules(icon_set, context))
    page = render(
        "specimen/page.html.jinja",
        c=icon_set,
        sizes=context.sizes if len(context.faces) < 2 else {},
        files=_files(context),
        faces=face_classes(icon_set),
        palettes=palette_rules(icon_set),
        states=[state for face in icon_set.faces for state in face.states],
        weight=default_weight(icon_set),
        axis=_reach(icon_set),
        stem=icon_set.stem,
        includes=_includes(icon_set, context),
        desktop=context.urls.get("ttf", ""),
        data=_script_json(_facts(icon_set)).removesuffix("]}"),
        end="]}",
        icons=_ICONS,
        details=_DETAILS,
        style=style,
        style_digest=policy_digest(style),
        script=script,
        script_digest=policy_digest(script),
    )
    before, between, after = re.split(f"{_ICONS}|{_DETAILS}", page)
    # bytes: in a text, one character beyond the first plane would make all others take four times as much room
    known = context.prerendered or write_icons(icon_set, context, icon_set.icons)
    icons = ",".join(one.partition(_SPLIT)[0] for one in known)
    details = "\n".join(one.partition(_SPLIT)[2] for one in known)
    return b"".join(part.encode() for part in (before, icons, between, details, after))


def _facts(icon_set: IconSet) -> dict[str, Any]:
    """Return the data of the whole set for the page's script; the icons come last, in the list."""
    return {
        "drop": icon_set.drop,
        "synonyms": relevant(icon_set.synonyms, [icon_text(icon) for icon in icon_set.icons]),
        "retired": [_retired(name, code) for name, code in icon_set.retired],
        "icons": [],
    }


class _File(NamedTuple):
    """A font file as the page lists it. size: in bytes."""

    format: str
    url: str
    size: int


def _files(context: OutputContext) -> list[_File]:
    """Return the font files of every face, as far as they are ready."""
    return [
        _File(f, url, len(face.files[f])) for face in context.faces for f, url in face.urls.items() if f in face.files
    ]


def _reach(icon_set: IconSet) -> tuple[int, int] | None:
    """Return the weights from and to which the page's slider leads; None where no font is variable."""
    axes = [face.axis for face in icon_set.faces if face.axis]
    if not axes:
        return None
    weights = [face.weight for face in icon_set.faces]
    weights += [stop.weight for axis in axes for stop in (axis.lightest, axis.heaviest)]
    return min(weights), max(weights)


def _face_rules(icon_set: IconSet, context: OutputContext) -> str:
    """Return the rules that load the fonts out of the page itself."""
    files = {face.name: face.files.get("woff2", b"") for face in context.faces}
    urls = {
        name: {"woff2": f"data:font/woff2;base64,{base64.b64encode(data).decode()}"} for name, data in files.items()
    }
    palettes = "".join(
        f'\n@font-palette-values --specimen-{at} {{ font-family: "specimen face"; base-palette: {at}; }}'
        for at in range(len(palette_rules(icon_set)))
    )
    return palettes + "\n".join(
        f'@font-face {{ font-family: "specimen face"; src: url("{rule.urls.get("woff2", "")}") format("woff2");'
        f" font-weight: {rule.weight}; font-display: block;"
        + (f" unicode-range: {rule.ranges};" if rule.ranges else "")
        + " }"
        for rule in face_rules(icon_set, urls)
    )


def write_icons(icon_set: IconSet, context: OutputContext, icons: Sequence[Icon]) -> list[str]:
    """Return the data of each icon for the page: two JSON objects."""
    shown = icon_set.select({icon.name for icon in icons})  # so that only their ink is measured
    return [
        f"{_script_json(_row(shown, icon))}{_SPLIT}{_script_json(_details(shown, context, icon))}" for icon in icons
    ]


def _script_json(value: object) -> str:
    """Return JSON as a script element may hold it."""
    return json.dumps(value, separators=(",", ":")).replace("<", "\\u003c")


def _row(icon_set: IconSet, icon: Icon) -> dict[str, Any]:
    """Return the data to list and find an icon, without empty values. wide: its advance in ems."""
    values = {
        "name": icon.name,
        "code": icon.codepoint,
        "title": icon.title,
        "text": icon.description,
        "aliases": icon.aliases,
        "tags": icon.tags,
        "since": icon.since,
        "wide": round((icon.advance or 0) / icon_set.units_per_em, 4),
        "findings": [(d.level.value, d.what, d.cure) for d in icon_set.findings.get(icon.name, ())],
    }
    return {key: value for key, value in values.items() if value not in ("", (), [])}


def _details(icon_set: IconSet, context: OutputContext, icon: Icon) -> dict[str, Any]:
    """Return further data of an icon for the panel. grid: the height of its drawing, in its own units; ink: in ems,
    from the upper left corner."""
    drawing = icon_set.clean_copy(icon.name)
    carried = drawing is not None and len(drawing.svg) <= _LARGEST
    small = {px: icon_set.clean_copy(icon.name, px) for px in icon.sizes}
    return {
        "licence": icon.licence,
        "credit": icon.credit,
        "source": icon.source,
        "lines": context.snippets(icon.name),
        "ink": [round(edge, 4) for edge in icon_set.ink.get(icon.name, ())],
        "svg": drawing.svg if drawing and carried else "",
        "grid": drawing.height if drawing else 0,
        **(
            {"small": [(px, d.svg, d.height) for px, d in small.items() if d and len(d.svg) <= _LARGEST]}
            if small
            else {}
        ),
    }


def _retired(name: str, codepoint: int) -> dict[str, Any]:
    return {"name": name, "code": codepoint, "retired": True}


def _includes(icon_set: IconSet, context: OutputContext) -> list[tuple[str, str]]:
    """Return (line, description) of every stylesheet in the bundle, for Sass with the namespace of icon lines."""
    prefix = css_identifier(icon_set.prefix)
    return [
        (_INCLUDE[other.kind][0].format(other.url, prefix), _INCLUDE[other.kind][1])
        for other in context.sibling_outputs
        if other.kind in _INCLUDE
    ]


KIND = OutputKind(
    "specimen",
    "one page to look, search and copy; works from disk",
    "open it in a browser",
    "{stem}-specimen.html",
    write,
    rank=5,
    findings=True,
    needs_final_names=True,
    write_icons=write_icons,
    embeds=lambda options: ("woff2",),
)
