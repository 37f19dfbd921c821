"""JavaScript: the same map as for TypeScript, as a plain module with types in its comments."""

from __future__ import annotations

from oddpeg.iconset.model import Catalogue, Icon, Surroundings
from oddpeg.outputs.escape import script_string
from oddpeg.outputs.kind import Kind, Line
from oddpeg.outputs.kinds.typescript import hover, names
from oddpeg.outputs.render import render_kind


def write(catalogue: Catalogue, around: Surroundings) -> str:
    """Return an ES module without imports."""
    pictures = {icon.name: hover(catalogue, around, icon) for icon in catalogue.icons}
    return render_kind("typescript.jinja", catalogue, pictures=pictures, typed=False, **names(catalogue))


def lines(catalogue: Catalogue, around: Surroundings, icon: Icon) -> list[Line]:
    """Return how code gets at the character."""
    return [Line("javascript", f"{names(catalogue)['map_name']}[{script_string(icon.name)}].character")]


KIND = Kind(
    "javascript",
    "constant map from name to codepoint and character",
    "import it where icons are used",
    "{stem}.mjs",
    write,
    lines,
    rank=3,
    pictures=True,
)
