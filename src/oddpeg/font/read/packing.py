"""Fonts that exist, packed: as the files that are delivered, and to tell how large those would be."""

from __future__ import annotations

from oddpeg.font.read.containers import FontTables
from oddpeg.font.read.subset import without_names
from oddpeg.font.read.woff2 import as_woff2
from oddpeg.font.write.sfnt import Tables, ttf, with_adjustment
from oddpeg.font.write.woff import woff

_EFFORT = 9  # of zlib
_NAMED = 32  # bytes of a table of glyph names, at least


def packed(font: FontTables, kind: str) -> bytes:
    """Return a font as "ttf" (a bare font with any outlines), "woff" or "woff2". Web files omit glyph names and
    signatures. Raise ValueError where it is damaged."""
    tables = {tag: data for tag, data in font.tables.items() if tag != "DSIG"}
    if ("glyf" in tables) != ("loca" in tables):
        raise ValueError("it is no sound font (of glyf and loca, only one is there)")
    if kind == "ttf":
        return ttf(with_adjustment(tables, font.flavour), font.flavour)
    nameless = font._replace(tables=_without_names(tables))
    if kind == "woff2":
        return as_woff2(nameless)
    return woff(with_adjustment(nameless.tables, font.flavour), _EFFORT, font.flavour)


def _without_names(tables: Tables) -> Tables:
    post = tables.get("post", b"")
    return {**tables, "post": without_names(post)} if len(post) >= _NAMED else tables
