"""JavaScript: the same map as for TypeScript, as a plain module with types in its comments."""

from __future__ import annotations

from oddpeg.iconset.model import Icon, IconSet
from oddpeg.outputs.context import OutputContext, Snippet
from oddpeg.outputs.escape import script_string
from oddpeg.outputs.kind import OutputKind
from oddpeg.outputs.kinds.typescript import hover, names
from oddpeg.outputs.render import render_kind


def write(icon_set: IconSet, context: OutputContext) -> str:
    """Return an ES module without imports."""
    pictures = {icon.name: hover(icon_set, context, icon) for icon in icon_set.icons}
    return render_kind("typescript.jinja", icon_set, pictures=pictures, typed=False, **names(icon_set))


def snippets(icon_set: IconSet, context: OutputContext, icon: Icon) -> list[Snippet]:
    """Return how code gets at the character."""
    return [Snippet("javascript", f"{names(icon_set)['map_name']}[{script_string(icon.name)}].character")]


KIND = OutputKind(
    "javascript",
    "constant map from name to codepoint and character",
    "import it where icons are used",
    "{stem}.mjs",
    write,
    snippets,
    rank=3,
    pictures=True,
)
