"""Web component: a custom element with name, size and colour. Its font face is registered on the document, since a
face declared inside a shadow root does not load. Source: HTML, custom elements; CSS Font Loading 3.
"""

from __future__ import annotations

from oddpeg.iconset.model import Icon, IconSet
from oddpeg.outputs.context import OutputContext, Snippet
from oddpeg.outputs.escape import xml_text
from oddpeg.outputs.kind import OutputKind
from oddpeg.outputs.naming import family_words, lower, words
from oddpeg.outputs.render import render_kind


def element(icon_set: IconSet) -> str:
    """Return the element's name: small ASCII letters and a hyphen."""
    parts = words(icon_set.prefix)
    return "-".join(["x" + parts[0] if parts[0][0].isdigit() else parts[0], *parts[1:], "icon"])


def write(icon_set: IconSet, context: OutputContext) -> str:
    """Return a module that defines the element when it is loaded."""
    return render_kind(
        "web_component.jinja",
        icon_set,
        element=element(icon_set),
        urls=context.urls,
        names=lower(family_words(icon_set.family)),
    )


def snippets(icon_set: IconSet, context: OutputContext, icon: Icon) -> list[Snippet]:
    """Return the element."""
    name = element(icon_set)
    return [Snippet("web-component", f'<{name} name="{xml_text(icon.name)}"></{name}>')]


KIND = OutputKind(
    "web-component",
    "custom element with name, size and colour",
    "load it as a module",
    "{stem}-element.mjs",
    write,
    snippets,
    rank=8,
)
