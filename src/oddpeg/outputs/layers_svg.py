"""An icon as SVG elements: one path in the colour of the text, or its layers of colour."""

from __future__ import annotations

from typing import TYPE_CHECKING

from oddpeg.iconset.model import IconSet
from oddpeg.outputs.escape import css_identifier, xml_text

if TYPE_CHECKING:  # finding icons needs none, and they take longer to load than a search
    from oddpeg.iconset.pictures import LayerPicture


def svg_body(icon_set: IconSet, name: str) -> str:
    """Return the elements. Layers whose colour has a name take the custom property of that name, --PREFIX-NAME, so
    that pages can change it."""
    layers = icon_set.coloured.get(name)
    if not layers:
        return f'<path fill="currentColor" d="{icon_set.pictures[name].path}"/>'
    return "".join(f'<path fill="{layer_fill(icon_set, layer)}" d="{layer.path}"/>' for layer in layers)


def layer_fill(icon_set: IconSet, layer: LayerPicture) -> str:
    """Return a layer's colour, and opacity where there is one, as attributes have them after `fill="`."""
    alpha = f'" fill-opacity="{round(layer.alpha, 3):g}' if layer.alpha < 1 else ""
    return xml_text(layer_colour(icon_set, layer)) + alpha


def layer_colour(icon_set: IconSet, layer: LayerPicture) -> str:
    """Return a layer's colour as CSS has it."""
    if layer.colour is None:
        return "currentColor"
    if not layer.entry:
        return layer.colour.hex
    return f"var(--{css_identifier(f'{icon_set.prefix}-{layer.entry}')}, {layer.colour.hex})"
