"""Every kind of output, in one place: its name, what it is for, its file, who writes it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from oddpeg.outputs.catalogue import Catalogue, Surroundings
from oddpeg.outputs.credits import credits
from oddpeg.outputs.css import css
from oddpeg.outputs.json_map import json_map
from oddpeg.outputs.specimen import specimen
from oddpeg.outputs.typescript import typescript


@dataclass(frozen=True, slots=True)
class Kind:
    """One kind of output. file: its default name, {stem} standing for the family's file name."""

    name: str
    summary: str
    place: str
    file: str
    write: Callable[[Catalogue, Surroundings], str]
    embeds: bool = False


KINDS: dict[str, Kind] = {
    kind.name: kind
    for kind in (
        Kind("css", "stylesheet: font face, base class, one class per icon", "link it from the page", "{stem}.css", css),
        Kind("typescript", "union type of names, constant map to codepoint and character",
             "import it where icons are used", "{stem}.ts", typescript),
        Kind("json", "glyph map: names, codepoints, sources, advances", "for scripts and other tools", "{stem}.json", json_map),
        Kind("specimen", "one page that shows every icon; works from disk", "open it in a browser",
             "{stem}-specimen.html", specimen, embeds=True),
        Kind("credits", "who made the icons, and what may be done with them", "ship it with the font", "{stem}-credits.txt", credits),
    )
}  # fmt: skip

FONT_KINDS: dict[str, tuple[str, str]] = {
    "ttf": ("TrueType, with glyph names", "install it on a desktop, or bundle it with an app"),
    "woff": ("deflated, for browsers from before 2016", "beside the stylesheet"),
    "woff2": ("smallest, for every current browser", "beside the stylesheet"),
}
