"""Layers of colour of fonts that exist, as COLR and CPAL have them. Source: OpenType specification, COLR versions 0 and
1, CPAL; of version 1 the paints that our own fonts have."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import numpy as np

from oddpeg.font.read.glyphs import glyph_edges, opened
from oddpeg.font.write.colour import SPREADS, TEXT
from oddpeg.geometry.matrix import Matrix
from oddpeg.raster.colours import TEXT_COLOUR, PaintedLayer
from oddpeg.raster.paints import LinearGradient, Painting, RadialGradient, Ramp, RampStop, Rgba, Solid

_LAYERS, _SOLID, _LINEAR, _RADIAL, _GLYPH, _TRANSFORM = 1, 2, 4, 6, 10, 12  # formats of paints
_MOST_PAINTS = 10_000  # of a glyph


def coloured_glyphs(data: bytes, palette: int = 0) -> dict[int, list[PaintedLayer]]:
    """Return the layers of every glyph that has some, from the ground up, by codepoint, in the colours of a palette,
    counted from 0. Raise ValueError where the bytes are no font, or paint in a way that is not known here."""
    with opened(data, lazy=False) as font:
        if "COLR" not in font:
            return {}
        reader, glyphs = _Reader(font, palette), {}
        for code, name in (font.getBestCmap() or {}).items():
            layers = list(reader.layers(name))
            if layers:
                glyphs[code] = layers
        return glyphs


def palette_count(data: bytes) -> int:
    """Return how many palettes a font has, 0 without layers of colour; raise ValueError where the bytes are no font."""
    with opened(data, lazy=True) as font:
        return len(font["CPAL"].palettes) if "COLR" in font and "CPAL" in font else 0


class _Reader:
    """Reads the paints of one font."""

    def __init__(self, font: Any, palette: int) -> None:
        self.font, self.units = font, font["head"].unitsPerEm
        colours = font["CPAL"].palettes[palette]
        self.palette = [(c.red / 255, c.green / 255, c.blue / 255, c.alpha / 255) for c in colours]
        self.paints = 0
        table = font["COLR"]
        self.plain: dict[str, list[tuple[str, int]]] = {}
        self.rich: dict[str, Any] = {}
        self.list: list[Any] = []
        if table.version == 0:
            self.plain = {name: [(la.name, la.colorID) for la in layers] for name, layers in table.ColorLayers.items()}
        else:
            self._read_rich(table.table)

    def _read_rich(self, table: Any) -> None:
        if table.BaseGlyphRecordArray:
            records = table.LayerRecordArray.LayerRecord
            for record in table.BaseGlyphRecordArray.BaseGlyphRecord:
                layer_records = records[record.FirstLayerIndex : record.FirstLayerIndex + record.NumLayers]
                self.plain[record.BaseGlyph] = [(layer.LayerGlyph, layer.PaletteIndex) for layer in layer_records]
        self.rich = {record.BaseGlyph: record.Paint for record in table.BaseGlyphList.BaseGlyphPaintRecord}
        self.list = table.LayerList.Paint if table.LayerList else []

    def layers(self, name: str) -> Iterator[PaintedLayer]:
        """Yield the layers of a glyph."""
        self.paints = 0
        if name in self.rich:
            yield from self._painted(self.rich[name])
        for glyph, entry in self.plain.get(name, []):
            yield self._layer(glyph, Solid(self._colour(entry, 1.0)))

    def _painted(self, paint: Any) -> Iterator[PaintedLayer]:
        self.paints += 1
        if self.paints > _MOST_PAINTS:  # lists of layers can hold each other
            raise ValueError(f"a glyph has more than {_MOST_PAINTS:,} paints")
        if paint.Format == _LAYERS:
            for layer in self.list[paint.FirstLayerIndex : paint.FirstLayerIndex + paint.NumLayers]:
                yield from self._painted(layer)
        elif paint.Format == _GLYPH:
            yield self._layer(paint.Glyph, self._fill(paint.Paint))
        else:
            raise ValueError(f"it has a paint of format {paint.Format}, which is not known here")

    def _layer(self, glyph: str, paint: Painting) -> PaintedLayer:
        return PaintedLayer(*glyph_edges(self.font, glyph), paint)

    def _colour(self, entry: int, alpha: float) -> Rgba:
        red, green, blue, alpha_of_entry = TEXT_COLOUR if entry == TEXT else self.palette[entry]
        return red, green, blue, alpha_of_entry * alpha

    def _fill(self, paint: Any, matrix: Matrix | None = None) -> Painting:
        scale = 1 / self.units
        to_em = Matrix(scale, 0, 0, scale, 0, 0).compose(matrix or Matrix())
        if paint.Format == _SOLID:
            return Solid(self._colour(paint.PaletteIndex, paint.Alpha))
        if paint.Format == _TRANSFORM:
            t = paint.Transform
            return self._fill(paint.Paint, (matrix or Matrix()).compose(Matrix(t.xx, t.yx, t.xy, t.yy, t.dx, t.dy)))
        if paint.Format == _RADIAL:
            inner, outer = complex(paint.x0, paint.y0), complex(paint.x1, paint.y1)
            return RadialGradient(self._ramp(paint.ColorLine), inner, paint.r0, outer, paint.r1, to_em)
        if paint.Format == _LINEAR:
            points = ((paint.x0, paint.y0), (paint.x1, paint.y1), (paint.x2, paint.y2))
            z = np.array([complex(*to_em.apply(x, y)) for x, y in points])
            across = 1j * (z[2] - z[0])  # lines of one colour lead from the first point to the third
            reach = ((z[1] - z[0]) * np.conj(across)).real
            return LinearGradient(self._ramp(paint.ColorLine), complex(z[0]), complex(across / reach))
        raise ValueError(f"it has a paint of format {paint.Format}, which is not known here")

    def _ramp(self, line: Any) -> Ramp:
        stops = (RampStop(s.StopOffset, self._colour(s.PaletteIndex, s.Alpha)) for s in line.ColorStop)
        return Ramp(tuple(stops), SPREADS[int(line.Extend)])
