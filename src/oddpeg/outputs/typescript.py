"""TypeScript: a union type of names and a constant map from name to codepoint and character."""

from __future__ import annotations

from oddpeg.font.facts import ascii_words
from oddpeg.outputs.catalogue import Catalogue, Surroundings
from oddpeg.outputs.escape import camel, pascal
from oddpeg.outputs.render import render


def typescript(catalogue: Catalogue, around: Surroundings) -> str:
    """Return a module without imports that compiles under --strict."""
    words = ascii_words(catalogue.family)
    return render("typescript.jinja", c=catalogue, type_name=pascal(words) + "Name", map_name=camel(words) + "Pegs")
