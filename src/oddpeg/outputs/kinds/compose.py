"""Compose: a font family and a composable for Kotlin's declarative toolkit. Source: Kotlin grammar; the toolkit's own
interface.
"""

from __future__ import annotations

from oddpeg.iconset.model import Icon, IconSet
from oddpeg.outputs.context import OutputContext, Snippet
from oddpeg.outputs.kind import Option, OutputKind, needs
from oddpeg.outputs.language import Language
from oddpeg.outputs.naming import family_words, pascal

_LANGUAGE = Language(
    "compose",
    "compose.jinja",
    pascal,
    call="{Type}Icon.{id}",
    members=["named"],
    reserved=["Companion", "Family"],
    endings=".kt .kts",
)

_THEMES = ("material3", "material", "none")


def write(icon_set: IconSet, context: OutputContext) -> str:
    """Return the file."""
    return _LANGUAGE.write(icon_set, context, resources=str(context.options["resources"]))


def setup(icon_set: IconSet, context: OutputContext) -> list[Snippet]:
    """Return where the font goes: its name is legal as a resource."""
    return [Snippet("compose", f"app/src/main/res/font/{context.font_file(icon_set.stem)}")]


def snippets(icon_set: IconSet, context: OutputContext, icon: Icon) -> list[Snippet]:
    """Return the composable."""
    return [
        line._replace(text=f"{pascal(family_words(icon_set.family))}({line.text})")
        for line in _LANGUAGE.snippets(icon_set, context, icon)
    ]


KIND = OutputKind(
    "compose",
    "font family, icons and composable, with content description and mirroring",
    "put it with the sources of the package it names; the font goes into res/font",
    "{Type}Icons.kt",
    write,
    snippets,
    references=_LANGUAGE.references,
    setup=setup,
    needs=needs("ttf"),
    rank=20,
    resource_names=True,
    options={
        "package": Option("", "the package that the file begins with"),
        "resources": Option("", "the package of the app's class R, where it is another one"),
        "theme": Option(
            "material3", "the library whose content colour icons have: material3, material or none", _THEMES
        ),
    },
)
