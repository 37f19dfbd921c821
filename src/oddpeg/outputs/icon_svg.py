"""An icon as a whole SVG file, for outputs that carry pictures."""

from __future__ import annotations

import re

from oddpeg.iconset.model import Icon, IconSet
from oddpeg.outputs.layers_svg import svg_body


def icon_svg(icon_set: IconSet, icon: Icon, attributes: str = "") -> str:
    """Return an icon as a whole SVG file, on one line. attributes: more of them for the outermost element."""
    picture = icon_set.pictures[icon.name]
    frame = f"0 0 {picture.width} {picture.height}"
    body = svg_body(icon_set, icon.name) if icon.name in icon_set.coloured else f'<path d="{picture.path}"/>'
    return f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="{frame}"{attributes}>{body}</svg>'


def data_uri(icon_set: IconSet, icon: Icon, size: int, colour: str) -> str:
    """Return an icon as a data URI, `size` pixels high, with the detail that this size shows. Only characters that a
    URI or a Markdown link cannot hold are escaped, which is shorter than base64 (RFC 2397, RFC 3986 §2)."""
    picture = icon_set.thumbnails[icon.name]
    path = picture.path.replace(" ", ",").replace(",-", "-")
    frame = f"0,0,{picture.width},{picture.height}"
    shape = f"<path fill='{colour}' d='{path}'/>"
    text = f"<svg xmlns='http://www.w3.org/2000/svg' height='{size}' viewBox='{frame}'>{shape}</svg>"
    return "data:image/svg+xml," + re.sub("[<> ]", lambda match: f"%{ord(match[0]):X}", text)
