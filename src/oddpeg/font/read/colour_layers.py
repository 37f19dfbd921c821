"""Layers of colour of an existing font, for some of its glyphs.

The library parses and serialises the table. Source: OpenType, COLR versions 0 and 1.
"""

from __future__ import annotations

from collections.abc import Collection, Iterator
from typing import Any

from oddpeg.font.read.glyphs import opened

_PAINT_LAYERS = 1  # format of a paint that refers to others in the list of layers
_PAINT_GLYPH = 11  # format of a paint that is the whole of another glyph's
_MOST_PAINTS = 100_000


def pruned_colours(sfnt: bytes, kept: Collection[int]) -> bytes:
    """Return the COLR table of a font for some of its glyphs, by their numbers; b"" where none has layers. Raise
    ValueError where it is damaged."""
    with opened(sfnt, lazy=False) as font:
        order, colr = font.getGlyphOrder(), font["COLR"]
        names = {order[number] for number in kept if number < len(order)}
        if colr.version == 0:
            colr.ColorLayers = {name: layers for name, layers in colr.ColorLayers.items() if name in names}
            left = bool(colr.ColorLayers)
        else:
            left = _prune_flat(colr.table, names) + _prune_paints(colr.table, names) > 0
        return bytes(colr.compile(font)) if left else b""


def _prune_flat(table: Any, names: set[str]) -> int:
    """Keep the layers of one colour of some glyphs; return how many glyphs have them."""
    if not table.BaseGlyphRecordArray or not table.LayerRecordArray:
        return 0
    records = table.LayerRecordArray.LayerRecord
    layers: list[Any] = []
    bases = [base for base in table.BaseGlyphRecordArray.BaseGlyphRecord if base.BaseGlyph in names]
    for base in bases:
        own = records[base.FirstLayerIndex : base.FirstLayerIndex + base.NumLayers]
        base.FirstLayerIndex = len(layers)
        layers += own
    table.BaseGlyphRecordArray.BaseGlyphRecord, table.BaseGlyphRecordCount = bases, len(bases)
    table.LayerRecordArray.LayerRecord, table.LayerRecordCount = layers, len(layers)
    return len(bases)


def _prune_paints(table: Any, names: set[str]) -> int:
    """Keep the paints of some glyphs, and the runs of the list of layers that they refer to; return how many glyphs
    have them."""
    records = [record for record in table.BaseGlyphList.BaseGlyphPaintRecord if record.BaseGlyph in names]
    table.BaseGlyphList.BaseGlyphPaintRecord, table.BaseGlyphList.BaseGlyphCount = records, len(records)
    if table.ClipList:
        table.ClipList.clips = {name: clip for name, clip in table.ClipList.clips.items() if name in names}
    if not table.LayerList:
        return len(records)
    old: list[Any] = table.LayerList.Paint
    new: list[Any] = []
    places: dict[tuple[int, int], int] = {}
    references = []
    waiting = [record.Paint for record in records]
    count = 0
    while waiting:
        count += 1
        if count > _MOST_PAINTS:
            raise ValueError("it is no sound font (its paints refer to each other)")
        paint = waiting.pop()
        waiting += _inner(paint)
        if paint.Format == _PAINT_LAYERS:
            run = paint.FirstLayerIndex, paint.NumLayers
            references.append((paint, run))
            if run not in places:
                places[run] = len(new)
                layers = old[run[0] : run[0] + run[1]]
                new += layers
                waiting += layers
    for paint, run in references:
        paint.FirstLayerIndex = places[run]
    table.LayerList.Paint, table.LayerList.LayerCount = new, len(new)
    return len(records)


def _inner(paint: Any) -> Iterator[Any]:
    """Yield the paints that a paint has within it."""
    for name in ("Paint", "SourcePaint", "BackdropPaint"):
        if getattr(paint, name, None) is not None:
            yield getattr(paint, name)


def fault_of_paints(colr: Any) -> str:
    """Return the first fault in the references between paints of a parsed COLR table; empty for none."""
    if colr.version == 0 or not colr.table.BaseGlyphList:
        return ""
    glyphs = {record.BaseGlyph: record.Paint for record in colr.table.BaseGlyphList.BaseGlyphPaintRecord}
    layers = colr.table.LayerList.Paint if colr.table.LayerList else []
    done: set[int] = set()
    above: set[int] = set()
    waiting: list[tuple[Any, bool]] = [(paint, False) for paint in glyphs.values()]  # and whether all within it is done
    while waiting:
        paint, left = waiting.pop()
        if left:
            above.discard(id(paint))
            done.add(id(paint))
        elif id(paint) in above:
            return "its paints refer to each other"
        elif id(paint) not in done:
            above.add(id(paint))
            waiting.append((paint, True))
            within = list(_inner(paint))
            if paint.Format == _PAINT_LAYERS:
                within += layers[paint.FirstLayerIndex : paint.FirstLayerIndex + paint.NumLayers]
            elif paint.Format == _PAINT_GLYPH:
                if paint.Glyph not in glyphs:
                    return "a paint refers to a glyph without paints"
                within.append(glyphs[paint.Glyph])
            waiting += [(other, False) for other in within]
    return ""
