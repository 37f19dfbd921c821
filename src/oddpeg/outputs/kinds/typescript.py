"""TypeScript: a union type of names and a constant map from name to codepoint and character; of sets that are not
large, each with its picture in the hover."""

from __future__ import annotations

from typing import NamedTuple

from oddpeg.iconset.model import Icon, IconSet
from oddpeg.outputs.context import OutputContext, Snippet
from oddpeg.outputs.escape import script_string
from oddpeg.outputs.icon_svg import data_uri
from oddpeg.outputs.kind import Option, OutputKind
from oddpeg.outputs.naming import camel, family_words, pascal
from oddpeg.outputs.render import render_kind

_MOST_HOVERED = 300  # icons; pictures are most of the file, and with more of them editors become slow


def has_hover(icon_set: IconSet, context: OutputContext) -> bool:
    """Return whether an output shows pictures in the hover: where the config does not say, in TypeScript for sets that
    are not large; never in drafts."""
    wanted = context.options.get("hover")
    return not context.draft and bool(len(icon_set.icons) <= _MOST_HOVERED if wanted is None else wanted)


def hover(icon_set: IconSet, icon: Icon) -> str:
    """Return the picture of an icon as editors show it when the mouse rests on its name."""
    return f"![{icon.name}]({data_uri(icon_set, icon, 48, 'gray')})" if icon.name in icon_set.thumbnails else ""


def names(icon_set: IconSet) -> dict[str, str]:
    """Return what the type and the map are called."""
    words = family_words(icon_set.family)
    small = words[0][:1].lower() + words[0][1:]
    return {"type_name": pascal(words) + "Name", "map_name": camel([small, *words[1:]]) + "Pegs"}


class ScriptModule(NamedTuple):
    """A module that exports the map.

    Attributes:
        name: the kind.
        typed: with the types of TypeScript, which compile under --strict.
    """

    name: str
    typed: bool

    def write(self, icon_set: IconSet, context: OutputContext) -> str:
        """Return a module without imports."""
        drawn = icon_set.icons if has_hover(icon_set, context) else ()
        pictures = {icon.name: hover(icon_set, icon) for icon in drawn}
        return render_kind("typescript.jinja", icon_set, pictures=pictures, typed=self.typed, **names(icon_set))

    def snippets(self, icon_set: IconSet, context: OutputContext, icon: Icon) -> list[Snippet]:
        """Return how code gets at the character."""
        return [Snippet(self.name, f"{names(icon_set)['map_name']}[{script_string(icon.name)}].character")]


_MODULE = ScriptModule("typescript", typed=True)

KIND = OutputKind(
    "typescript",
    "union type of names, constant map to codepoint and character",
    "import it where icons are used",
    "{stem}.ts",
    _MODULE.write,
    _MODULE.snippets,
    rank=2,
    shows_drawings=has_hover,
    options={"hover": Option(None, "pictures in the editor's hover; where left out, in sets of up to 300 icons")},
)
