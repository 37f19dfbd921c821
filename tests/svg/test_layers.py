"""Paint survives reading: colours, what they do, and the layers that are outlined one by one."""

from __future__ import annotations

import numpy as np
import pytest

from oddpeg.outline.batch import outline_layers
from oddpeg.outline.model import Options
from oddpeg.outline.placement import Em
from oddpeg.outline.window import outline_drawings
from oddpeg.svg.layers import paint_layers, silhouette
from oddpeg.svg.model import Colour, Effect
from oddpeg.svg.reader import read_drawing

OPTIONS = Options(Em(1008))


def drawing(body: str) -> bytes:
    return f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24">{body}</svg>'.encode()


THREE = (
    '<path fill="#c00" d="M2 2h8v8H2z"/><path fill="#c00" d="M2 12h8v8H2z"/>'
    '<path fill="teal" stroke="#fff" stroke-width="2" d="M12 2h8v8h-8z"/><path d="M12 14h4v4h-4z"/>'
)


def test_shapes_keep_their_colours() -> None:
    fills = [shape.fill for shape in read_drawing(drawing(THREE)).shapes]
    assert [fill.colour for fill in fills if fill] == [Colour(204, 0, 0)] * 2 + [Colour(0, 128, 128), None]
    assert all(fill and fill.effect is Effect.INK for fill in fills)
    (follows,) = read_drawing(drawing('<path fill="currentColor" d="M2 2h8v8H2z"/>')).shapes
    assert follows.fill and follows.fill.colour is None


def test_a_gradient_keeps_its_name() -> None:
    body = '<linearGradient id="dusk"/><path fill="url(#dusk)" d="M2 2h8v8H2z"/>'
    (shape,) = read_drawing(drawing(body)).shapes
    assert shape.fill and shape.fill.server == "dusk"


def test_runs_of_one_paint_are_one_layer_in_paint_order() -> None:
    layers = paint_layers(read_drawing(drawing(THREE)), False)
    assert [(layer.fill and layer.fill.colour, len(layer.shapes)) for layer in layers] == [
        (Colour(204, 0, 0), 2),
        (Colour(0, 128, 128), 1),
        (Colour(255, 255, 255), 1),
        (None, 1),
    ]
    turned = THREE.replace("stroke-width", 'paint-order="stroke" stroke-width')
    colours = [layer.fill and layer.fill.colour for layer in paint_layers(read_drawing(drawing(turned)), False)]
    assert colours[1:3] == [Colour(255, 255, 255), Colour(0, 128, 128)]


@pytest.mark.parametrize("first", ["#c00", "#fff"])
def test_the_silhouette_is_one_layer_and_what_a_font_without_colours_shows(first: str) -> None:
    source = read_drawing(drawing(THREE.replace("#c00", first)))
    (whole,) = outline_drawings([source], OPTIONS)
    (layer,) = outline_layers([silhouette(source)], OPTIONS)
    assert len(whole.on) and np.array_equal(whole.xy, layer.xy) and np.array_equal(whole.ends, layer.ends)


def test_layers_of_one_paint_each_are_outlined_by_themselves() -> None:
    source = read_drawing(drawing(THREE))
    made = outline_layers(paint_layers(source, False), OPTIONS)
    assert [len(outline.ends) for outline in made] == [2, 1, 2, 1], "two squares, one, a stroke round it, one"
    assert len(made[3].on) == 4
