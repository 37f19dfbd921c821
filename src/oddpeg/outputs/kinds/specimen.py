"""Specimen: one self-contained page to look at every icon, find it by words, and leave with the right line."""

from __future__ import annotations

import base64
import json
from typing import Any

from oddpeg.iconset.model import Catalogue, Icon, Surroundings
from oddpeg.outputs.escape import policy_digest
from oddpeg.outputs.kind import Kind
from oddpeg.outputs.render import render, source

_LARGEST = 32_000  # characters of a drawing that the page carries
_INCLUDE = {
    "css": ('<link rel="stylesheet" href="{}">', "link"),
    "scss": ('@use "{}";', "scss rule"),
    "less": ('@import "{}";', "less rule"),
}


def write(catalogue: Catalogue, around: Surroundings) -> str:
    """Return the page; the font and the drawings are carried inside it, so it works from disk and offline. Its one
    style sheet and its one script are named by their digests in the page's own security policy (CSP Level 3), so
    nothing else can run.
    """
    script = "".join(source(f"specimen/{name}.js") for name in ("search", "panel", "page"))
    style = source("specimen/look.css").replace("@FONT@", base64.b64encode(around.embed).decode("ascii"))
    data = {
        "drop": catalogue.drop,
        "synonyms": dict(catalogue.synonyms),
        "icons": [_icon(catalogue, around, icon) for icon in catalogue.icons],
        "retired": [_retired(name, code) for name, code in catalogue.retired],
    }
    return render(
        "specimen/page.html.jinja",
        c=catalogue,
        sizes=around.sizes,
        urls=around.urls,
        stem=catalogue.stem,
        includes=_includes(around),
        desktop=around.urls.get("ttf", ""),
        data=json.dumps(data, separators=(",", ":")).replace("<", "\\u003c"),
        style=style,
        style_digest=policy_digest(style),
        script=script,
        script_digest=policy_digest(script),
    )


def _icon(catalogue: Catalogue, around: Surroundings, icon: Icon) -> dict[str, Any]:
    """Return what the page knows of an icon. wide: its advance in ems; grid: the height of its drawing, in its own
    units; ink: in ems, from the upper left corner."""
    drawing, picture = catalogue.original(icon.name), catalogue.pictures.get(icon.name)
    carried = drawing is not None and len(drawing.svg) <= _LARGEST
    return {
        "name": icon.name,
        "character": icon.character,
        "hex": icon.hex,
        "code": icon.codepoint,
        "title": icon.title,
        "text": icon.description,
        "aliases": icon.aliases,
        "tags": icon.tags,
        "licence": icon.licence,
        "credit": icon.credit,
        "source": icon.source,
        "since": icon.since,
        "wide": round(icon.advance / catalogue.units_per_em, 4),
        "lines": around.lines(icon.name),
        "findings": [(d.level.value, d.what, d.cure) for d in catalogue.findings.get(icon.name, ())],
        "ink": [round(v / picture.height, 4) for v in picture.ink] if picture else [],
        "svg": drawing.svg if drawing and carried else "",
        "grid": drawing.height if drawing else 0,
    }


def _retired(name: str, codepoint: int) -> dict[str, Any]:
    return {
        "name": name,
        "character": "",
        "hex": f"{codepoint:04x}",
        "code": codepoint,
        "title": "",
        "text": "",
        "aliases": [],
        "tags": [],
        "findings": [],
        "since": "",
        "retired": True,
    }


def _includes(around: Surroundings) -> list[tuple[str, str]]:
    """Return (line, what it is) for every stylesheet beside the page."""
    return [(_INCLUDE[kind][0].format(path), _INCLUDE[kind][1]) for kind, path in around.beside if kind in _INCLUDE]


KIND = Kind(
    "specimen",
    "one page to look, search and copy; works from disk",
    "open it in a browser",
    "{stem}-specimen.html",
    write,
    rank=5,
    findings=True,
    carries=lambda options: ("woff2",),
)
