"""An icon as a whole SVG file, for outputs that carry pictures."""

from __future__ import annotations

import base64

from oddpeg.iconset.model import Icon, IconSet


def icon_svg(icon_set: IconSet, icon: Icon, attributes: str = "") -> str:
    """Return an icon as a whole SVG file, on one line. attributes: more of them for the outermost element."""
    picture = icon_set.pictures[icon.name]
    frame = f"0 0 {picture.width} {picture.height}"
    return f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="{frame}"{attributes}><path d="{picture.path}"/></svg>'


def data_uri(icon_set: IconSet, icon: Icon, size: int, colour: str) -> str:
    """Return an icon as a data URI, `size` pixels high."""
    text = icon_svg(icon_set, icon, f' height="{size}" fill="{colour}"')
    return "data:image/svg+xml;base64," + base64.b64encode(text.encode()).decode()
