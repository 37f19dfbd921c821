"""Which glyphs of a font that exists are needed to show some characters. Source: OpenType, GSUB, COLR, glyf."""

from __future__ import annotations

import struct
from collections.abc import Collection, Iterable
from typing import Any

from oddpeg.font.read.containers import FontTables
from oddpeg.font.read.glyf import component_records, glyph_data
from oddpeg.font.read.glyphs import opened


def glyphs_for(font: FontTables, codes: Collection[int], layout: bool) -> set[int]:
    """Return the numbers of the glyphs of some characters, with all glyphs that can replace them or are components of
    them.

    Args:
        codes: codepoints that the font has.
        layout: follow substitutions; otherwise only the character map and components.

    Raise ValueError if the font is damaged.
    """
    with opened(font.sfnt, lazy=True) as read:
        cmap = read.getBestCmap() or {}
        names = {cmap[code] for code in codes if code in cmap}
        if layout and "GSUB" in read:
            _substitute(read["GSUB"].table, names)
        if "COLR" in read:
            names |= _layers(read["COLR"], names)
        kept = {0, *(read.getGlyphID(name) for name in names)}
    if "glyf" in font.tables:
        _compose(font, kept)
    return kept


def _substitute(table: Any, names: set[str]) -> None:
    """Add everything that substitutions can make of glyphs, again and again until nothing comes any more. Contexts are
    taken for granted."""
    lookups = [s for lookup in table.LookupList.Lookup for s in lookup.SubTable] if table and table.LookupList else []
    subtables = [getattr(sub, "ExtSubTable", sub) for sub in lookups]
    before = -1
    while len(names) != before:
        before = len(names)
        for sub in subtables:
            names.update(_made_by(sub, names))


def _made_by(sub: Any, names: set[str]) -> Iterable[str]:
    """Yield the glyphs that one subtable makes of some."""
    mapping = getattr(sub, "mapping", None)  # single, multiple
    if mapping is not None:
        for name, out in mapping.items():
            if name in names:
                yield from [out] if isinstance(out, str) else out
    for name, others in (getattr(sub, "alternates", None) or {}).items():
        if name in names:
            yield from others
    for first, ligatures in (getattr(sub, "ligatures", None) or {}).items():
        if first in names:
            yield from (one.LigGlyph for one in ligatures if names.issuperset(one.Component))
    if getattr(sub, "Substitute", None) and getattr(sub, "Coverage", None):  # reverse chaining
        pairs = zip(sub.Coverage.glyphs, sub.Substitute, strict=False)
        yield from (out for name, out in pairs if name in names)


def _layers(colr: Any, names: set[str]) -> set[str]:
    """Return the glyphs that are layers of colour of some."""
    if colr.version == 0:
        return {layer.name for name in names for layer in colr.ColorLayers.get(name, ())}
    layer_glyphs: set[str] = set()
    table = colr.table
    records = table.BaseGlyphList.BaseGlyphPaintRecord if table.BaseGlyphList else []
    waiting = [record.Paint for record in records if record.BaseGlyph in names]
    seen: set[int] = set()  # paints may be shared, and damaged ones may hold each other
    while waiting:
        paint = waiting.pop()
        if id(paint) not in seen:
            seen.add(id(paint))
            layer_glyphs.update([paint.Glyph] if hasattr(paint, "Glyph") else ())
            waiting += paint.getChildren(table)
    if table.BaseGlyphRecordArray:
        for base in table.BaseGlyphRecordArray.BaseGlyphRecord:
            if base.BaseGlyph in names:
                first = base.FirstLayerIndex
                layers = table.LayerRecordArray.LayerRecord[first : first + base.NumLayers]
                layer_glyphs |= {layer.LayerGlyph for layer in layers}
    return layer_glyphs


def _compose(font: FontTables, kept: set[int]) -> None:
    """Add the glyphs that others are made of."""
    data = glyph_data(font.tables)
    waiting = list(kept)
    while waiting:
        glyph = data[waiting.pop()] if waiting[-1] < len(data) else (waiting.pop(), b"")[1]
        if len(glyph) >= 10 and struct.unpack(">h", glyph[:2])[0] < 0:
            try:
                parts = {number for number, _ in component_records(glyph[10:])}
            except (struct.error, IndexError):
                raise ValueError("it is no sound font (a glyph ends too early)") from None
            if any(part >= len(data) for part in parts):
                raise ValueError("it is no sound font (a glyph is made of one that is not there)")
            waiting += parts - kept
            kept |= parts
