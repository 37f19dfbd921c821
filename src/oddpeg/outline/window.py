"""Windows: squares around the ink, which take the place of frames so that every icon is as large as it can be."""

from __future__ import annotations

from collections.abc import Sequence

from oddpeg.geometry.boxes import Box
from oddpeg.geometry.outlines import FlatOutlines
from oddpeg.outline.batch import outline_layers
from oddpeg.outline.model import ColourLayer, ColourMode, Method, Options, Outline
from oddpeg.outline.placement import Em, place
from oddpeg.svg.layers import Layer, paint_layers, silhouette
from oddpeg.svg.model import Drawing

_FINE = Em(16384, 0.0)  # rounding to its units is far below what glyphs on any em can show, even of tiny ink


def ink_windows(drawings: Sequence[Drawing], options: Options) -> list[Box | None]:
    """Return for each drawing, in user units, the square around the middle of its ink in which the ink's longer side
    leaves `options.padding` on both sides; None where there is no ink. Paint outside the frame and erased paint are
    no ink."""
    outlines = outline_layers([silhouette(d) for d in drawings], options._replace(em=_FINE, fit="frame"))
    inked = [i for i, outline in enumerate(outlines) if len(outline.on)]
    windows: list[Box | None] = [None] * len(drawings)
    if inked:
        bounds = FlatOutlines.join([outlines[i] for i in inked]).bounds() / _FINE.units
        for i, (left, bottom, right, top) in zip(inked, bounds.tolist(), strict=True):
            frame = drawings[i].placed
            side = max(right - left, top - bottom) * frame.height / (1 - 2 * options.padding)
            x, y = frame.x + (left + right) / 2 * frame.height, frame.y + (1 - (bottom + top) / 2) * frame.height
            windows[i] = Box(x - side / 2, y - side / 2, side, side)
    return windows


def windowed_layers(drawings: Sequence[Drawing], options: Options) -> list[Layer]:
    """Return the silhouette of each drawing, in the window that the options ask for."""
    layers = [silhouette(drawing) for drawing in drawings]
    if options.fit != "ink":
        return layers
    windows = ink_windows(drawings, options)
    return [layer._replace(window=window or layer.window) for layer, window in zip(layers, windows, strict=True)]


def outline_colours(drawings: Sequence[Drawing], options: Options) -> list[list[ColourLayer] | None]:
    """Return the layers of colour of each drawing, in paint order; an empty list where it has no colour but the text's,
    None where they are too tangled."""
    gradients = options.colour is ColourMode.GRADIENTS
    layers: list[Layer] = []
    owner: list[int] = []
    windows = ink_windows(drawings, options) if options.fit == "ink" else [None] * len(drawings)
    for number, (drawing, window) in enumerate(zip(drawings, windows, strict=True)):
        painted = paint_layers(drawing, gradients)
        layers += [layer._replace(window=window or layer.window) for layer in painted]
        owner += [number] * len(painted)
    result: list[list[ColourLayer] | None] = [[] for _ in drawings]
    for number, layer, outline in zip(owner, layers, outline_layers(layers, options), strict=True):
        known = result[number]
        if outline.made is Method.TANGLED or known is None:
            result[number] = None
        elif layer.fill is not None and len(outline.on):
            matrix, _ = place(layer.window or layer.box, options.em, options.fit)
            fill = layer.fill._replace(matrix=matrix.compose(layer.fill.matrix)) if layer.fill.gradient else layer.fill
            known.append(ColourLayer(fill, outline))
    return result


def outline_drawings(drawings: Sequence[Drawing], options: Options) -> list[Outline]:
    """Return the silhouette of each drawing as one outline, in order."""
    return outline_layers(windowed_layers(drawings, options), options)
