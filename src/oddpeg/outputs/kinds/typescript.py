"""TypeScript: a union type of names and a constant map from name to codepoint and character, each with its picture in
the hover."""

from __future__ import annotations

from oddpeg.iconset.model import Catalogue, Icon, Surroundings
from oddpeg.outputs.escape import script_string
from oddpeg.outputs.kind import Kind, Line
from oddpeg.outputs.naming import camel, family_words, pascal
from oddpeg.outputs.pictures import data_uri
from oddpeg.outputs.render import render_kind


def hover(catalogue: Catalogue, around: Surroundings, icon: Icon) -> str:
    """Return the picture of an icon as editors show it when the mouse rests on its name; none in drafts."""
    drawn = not around.draft and icon.name in catalogue.pictures
    return f"![{icon.name}]({data_uri(catalogue, icon, 48, '#808080')})" if drawn else ""


def names(catalogue: Catalogue) -> dict[str, str]:
    """Return what the type and the map are called."""
    words = family_words(catalogue.family)
    small = words[0][:1].lower() + words[0][1:]
    return {"type_name": pascal(words) + "Name", "map_name": camel([small, *words[1:]]) + "Pegs"}


def write(catalogue: Catalogue, around: Surroundings) -> str:
    """Return a module without imports that compiles under --strict."""
    pictures = {icon.name: hover(catalogue, around, icon) for icon in catalogue.icons}
    return render_kind("typescript.jinja", catalogue, pictures=pictures, typed=True, **names(catalogue))


def lines(catalogue: Catalogue, around: Surroundings, icon: Icon) -> list[Line]:
    """Return how code gets at the character."""
    return [Line("typescript", f"{names(catalogue)['map_name']}[{script_string(icon.name)}].character")]


KIND = Kind(
    "typescript",
    "union type of names, constant map to codepoint and character",
    "import it where icons are used",
    "{stem}.ts",
    write,
    lines,
    rank=2,
    pictures=True,
)
