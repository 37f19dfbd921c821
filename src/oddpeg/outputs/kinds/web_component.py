"""Web component: a custom element with name, size and colour. Its font face is registered on the document, since a
face declared inside a shadow root does not load. Source: HTML, custom elements; CSS Font Loading 3.
"""

from __future__ import annotations

from oddpeg.iconset.model import Catalogue, Icon, Surroundings
from oddpeg.outputs.escape import xml_text
from oddpeg.outputs.kind import Kind, Line
from oddpeg.outputs.naming import family_words, lower, words
from oddpeg.outputs.render import render_kind


def element(catalogue: Catalogue) -> str:
    """Return the element's name: small ASCII letters and a hyphen."""
    parts = words(catalogue.prefix)
    return "-".join(["x" + parts[0] if parts[0][0].isdigit() else parts[0], *parts[1:], "icon"])


def write(catalogue: Catalogue, around: Surroundings) -> str:
    """Return a module that defines the element when it is loaded."""
    return render_kind(
        "web_component.jinja",
        catalogue,
        element=element(catalogue),
        urls=around.urls,
        names=lower(family_words(catalogue.family)),
    )


def lines(catalogue: Catalogue, around: Surroundings, icon: Icon) -> list[Line]:
    """Return the element."""
    name = element(catalogue)
    return [Line("web-component", f'<{name} name="{xml_text(icon.name)}"></{name}>')]


KIND = Kind(
    "web-component",
    "custom element with name, size and colour",
    "load it as a module",
    "{stem}-element.mjs",
    write,
    lines,
    rank=8,
)
