"""Colours: layers of glyphs and the palettes that fill them.

Source: OpenType specification, COLR (versions 0 and 1) and CPAL (version 1).
"""

from __future__ import annotations

import struct
from collections.abc import Mapping, Sequence
from typing import NamedTuple

from oddpeg.font.write.palettes import PaletteEntry, Palettes, is_light
from oddpeg.geometry.matrix import Matrix
from oddpeg.svg.layers import Fill
from oddpeg.svg.model import Colour, Gradient

TEXT = 0xFFFF  # the palette entry for the colour of the text
_NO_LABEL = 0xFFFF
_MOST_LAYERS = 255  # of one paint; more are grouped
SPREADS = ("pad", "repeat", "reflect")  # as ColorLine numbers them
_REACH = 32_000  # of coordinates, in 16 bits
_STEEP = 1024  # length of a line whose repetitions would show that its ends are rounded
_RADIUS = 4096  # of a radial gradient's outer circle, in units of its own


class LayerGlyph(NamedTuple):
    """One layer of a glyph. glyph: the number of the glyph that has its outline."""

    glyph: int
    fill: Fill


Layered = Mapping[int, Sequence[LayerGlyph]]  # the layers of glyphs, from the ground up, by glyph number


def colours_of(fill: Fill) -> list[Colour]:
    """Return the palette entries that a fill needs, transparent as version 0 needs them."""
    if fill.gradient is not None:
        return [stop.colour for stop in fill.gradient.stops if stop.colour is not None]
    if fill.colour is None:
        return []
    return [fill.colour._replace(alpha=fill.alpha)]


def colr(layered: Layered, entries: Mapping[Colour, int]) -> bytes:
    """Return the COLR table: version 0 where it can hold everything, otherwise version 1 with version 0 records where
    possible. entries: number of each colour in the palettes."""
    plain = {glyph: layers for glyph, layers in layered.items() if all(map(_is_plain, layers))}
    rich = {glyph: layers for glyph, layers in layered.items() if glyph not in plain}
    records, layer_records = b"", b""
    for glyph in sorted(plain):
        records += struct.pack(">3H", glyph, len(layer_records) // 4, len(plain[glyph]))
        for number, fill in plain[glyph]:
            colour = colours_of(fill)
            layer_records += struct.pack(">2H", number, entries[colour[0]] if colour else TEXT)
    count = len(layer_records) // 4
    size = 34 if rich else 14
    head = struct.pack(">2HIIH", int(bool(rich)), len(plain), size, size + len(records), count)
    if not rich:
        return head + records + layer_records
    bases, layers = _paint_lists(rich, entries)
    at = size + len(records) + len(layer_records)
    return head + struct.pack(">5I", at, at + len(bases), 0, 0, 0) + records + layer_records + bases + layers


def _is_plain(layer: LayerGlyph) -> bool:
    fill = layer.fill
    return fill.gradient is None and (fill.colour is not None or fill.alpha >= 1)


def _paint_lists(layered: Layered, entries: Mapping[Colour, int]) -> tuple[bytes, bytes]:
    """Return BaseGlyphList and LayerList."""
    paints: list[bytes] = []  # of all layers
    roots: dict[int, bytes] = {}
    for glyph in sorted(layered):
        paints_of_glyph = [_glyph_paint(layer, entries) for layer in layered[glyph]]
        while len(paints_of_glyph) > _MOST_LAYERS:
            paints_of_glyph = [
                _group(paints, paints_of_glyph[low : low + _MOST_LAYERS])
                for low in range(0, len(paints_of_glyph), _MOST_LAYERS)
            ]
        roots[glyph] = _group(paints, paints_of_glyph)
    records, body = b"", b""
    first = 4 + 6 * len(roots)
    for glyph, paint in roots.items():
        records += struct.pack(">HI", glyph, first + len(body))
        body += paint
    bases = struct.pack(">I", len(roots)) + records + body
    offsets, layers = b"", b""
    at: dict[bytes, int] = {}  # equal paints stand once
    for paint in paints:
        if paint not in at:
            at[paint] = len(layers)
            layers += paint
        offsets += struct.pack(">I", 4 + 4 * len(paints) + at[paint])
    return bases, struct.pack(">I", len(paints)) + offsets + layers


def _group(paints: list[bytes], some: list[bytes]) -> bytes:
    """Return PaintColrLayers of paints, which join the list of all layers."""
    first = len(paints)
    paints += some
    return struct.pack(">2BI", 1, len(some), first)


def _glyph_paint(layer: LayerGlyph, entries: Mapping[Colour, int]) -> bytes:
    """Return PaintGlyph with its fill."""
    return b"\x0a" + _offset24(6) + struct.pack(">H", layer.glyph) + _fill_paint(layer.fill, entries)


def _fill_paint(fill: Fill, entries: Mapping[Colour, int]) -> bytes:
    gradient = fill.gradient
    if gradient is None:
        entry = TEXT if fill.colour is None else entries[fill.colour._replace(alpha=fill.alpha)]
        return struct.pack(">BHh", 2, entry, _f2dot14(fill.alpha if fill.colour is None else 1.0))
    line = _colour_line(gradient, fill.alpha, entries)
    if gradient.radial:
        return _radial(gradient, fill.matrix, line)
    return _linear(gradient, fill.matrix, line)


def _colour_line(gradient: Gradient, alpha: float, entries: Mapping[Colour, int]) -> bytes:
    """Return ColorLine. A repeating gradient repeats from the first stop to the last; in SVG it repeats from 0 to 1.
    Engines paint one colour only where all stops are at one place."""
    stops = list(gradient.stops)
    if gradient.spread != "pad" or stops[0].offset == stops[-1].offset:
        stops = [stops[0]._replace(offset=0.0), *stops, stops[-1]._replace(offset=1.0)]
    line = struct.pack(">BH", SPREADS.index(gradient.spread), len(stops))
    for stop in stops:
        entry = TEXT if stop.colour is None else entries[stop.colour]
        line += struct.pack(">hHh", _f2dot14(stop.offset), entry, _f2dot14(stop.alpha * alpha))
    return line


def _linear(gradient: Gradient, m: Matrix, line: bytes) -> bytes:
    """Return PaintLinearGradient. Lines of one colour are upright on its own in
    the gradient's units, and lead from the first to the third point on the em."""
    x1, y1, x2, y2 = gradient.points
    points = [m.apply(x, y) for x, y in ((x1, y1), (x2, y2), (x1 - (y2 - y1), y1 + (x2 - x1)))]
    numbers = [value for point in points for value in point]
    steep = gradient.spread != "pad" and abs(complex(*numbers[2:4]) - complex(*numbers[:2])) < _STEEP
    if max(map(abs, numbers)) <= _REACH and not steep:
        return b"\x04" + _offset24(16) + struct.pack(">6h", *map(round, numbers)) + line
    span = max(abs(x2 - x1), abs(y2 - y1))
    scale = _RADIUS / span
    own_transform = (0, 0, (x2 - x1) * scale, (y2 - y1) * scale, -(y2 - y1) * scale, (x2 - x1) * scale)
    inner = b"\x04" + _offset24(16) + struct.pack(">6h", *map(round, own_transform)) + line
    return _transformed(m.compose(Matrix(1 / scale, 0, 0, 1 / scale, x1, y1)), inner)


def _radial(gradient: Gradient, m: Matrix, line: bytes) -> bytes:
    """Return PaintRadialGradient within the transform that leads from the gradient's units to the em's, the centre of
    the outer circle being the origin."""
    fx, fy, fr, cx, cy, r = gradient.points
    focus = (fx - cx, fy - cy, fr)
    scale = min(_RADIUS / r, _REACH / max(*map(abs, focus), 1e-9))
    circles = *(round(value * scale) for value in focus), 0, 0, round(r * scale)
    inner = b"\x06" + _offset24(16) + struct.pack(">2hH2hH", *circles) + line
    return _transformed(m.compose(Matrix(1 / scale, 0, 0, 1 / scale, cx, cy)), inner)


def _transformed(m: Matrix, paint: bytes) -> bytes:
    """Return PaintTransform."""
    fixed = [max(-(2**31), min(2**31 - 1, round(value * 65536))) for value in m]
    return b"\x0c" + _offset24(7 + 24) + _offset24(7) + struct.pack(">6i", *fixed) + paint


def _f2dot14(value: float) -> int:
    return round(value * 16384)


def _offset24(value: int) -> bytes:
    return value.to_bytes(3, "big")


class Labels(NamedTuple):
    """Name IDs of the palettes and of their entries."""

    palettes: list[int]
    entries: list[int]
    texts: dict[int, str]


def labels(palettes: Palettes) -> Labels:
    """Return name IDs from 256 on for all names."""
    labelled = Labels([], [], {})
    for names, numbers in ((palettes.names, labelled.palettes), ([e.name for e in palettes.entries], labelled.entries)):
        for name in names:
            if name:
                labelled.texts[256 + len(labelled.texts)] = name
                numbers.append(255 + len(labelled.texts))
            else:
                numbers.append(_NO_LABEL)
    return labelled


def cpal(palettes: Palettes) -> bytes:
    """Return the table, with names, and whether a palette suits a light ground or a dark one. Engines refuse palettes
    without entries, so where every layer has the colour of the text there is one that no layer uses."""
    if not palettes.entries:
        palettes = palettes._replace(entries=(PaletteEntry("", (Colour(0, 0, 0),) * len(palettes.names)),))
    named, count = labels(palettes), len(palettes.entries)
    columns = [[entry.colours[number] for entry in palettes.entries] for number in range(len(palettes.names))]
    head = 12 + 2 * len(columns) + 12
    colours = b"".join(_bgra(colour) for column in columns for colour in column)
    types = head + len(colours)
    palette_labels = types + 4 * len(columns)
    entry_labels = palette_labels + 2 * len(columns)
    return (
        struct.pack(">4HI", 1, count, len(columns), count * len(columns), head)
        + struct.pack(f">{len(columns)}H", *(number * count for number in range(len(columns))))
        + struct.pack(">3I", types, palette_labels, entry_labels)
        + colours
        + struct.pack(f">{len(columns)}I", *(2 if is_light(column) else 1 for column in columns))
        + struct.pack(f">{len(columns)}H", *named.palettes)
        + struct.pack(f">{count}H", *named.entries)
    )


def _bgra(colour: Colour) -> bytes:
    return bytes([colour.blue, colour.green, colour.red, round(colour.alpha * 255)])
