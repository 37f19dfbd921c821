"""TypeScript: a union type of names and a constant map from name to codepoint and character."""

from __future__ import annotations

from oddpeg.font.facts import ascii_words
from oddpeg.outputs.catalogue import Catalogue, Surroundings
from oddpeg.outputs.escape import camel, pascal
from oddpeg.outputs.render import render


def typescript(catalogue: Catalogue, around: Surroundings) -> str:
    """Return a module without imports that compiles under --strict."""
    words = ascii_words(catalogue.family)
    names = [name for icon in catalogue.icons for name in (icon.name, *icon.aliases)]
    return render("typescript.jinja", c=catalogue, names=names, type_name=pascal(words) + "Name", map_name=camel(words) + "Pegs")
