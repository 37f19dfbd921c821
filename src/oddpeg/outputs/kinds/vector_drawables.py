"""Vector drawables: a resource of Android for each icon, and an array of all of them. Source: Android, VectorDrawable;
its path data is that of SVG 2."""

from __future__ import annotations

from typing import NamedTuple

from oddpeg.iconset.model import Icon, IconSet
from oddpeg.outputs.context import OutputContext, Snippet
from oddpeg.outputs.kind import Option, OutputKind, always
from oddpeg.outputs.naming import Constant, entries, family_words, identifiers, lower, words
from oddpeg.outputs.references import NameShape, ReferenceForm
from oddpeg.outputs.render import render, render_kind


class _Layer(NamedTuple):
    """A path with a fill as Android writes it: #AARRGGBB."""

    path: str
    fill: str


def _entries(icon_set: IconSet) -> list[Constant]:
    before = words(icon_set.prefix)
    return entries(icon_set, lambda parts: lower([*before, *parts]))


def _names(icon_set: IconSet) -> dict[str, str]:
    return identifiers("vector-drawables", icon_set, _entries)


def _layers(icon_set: IconSet, name: str) -> list[_Layer]:
    """Return the paths from the ground up; the colour of the text is black, which a tint replaces."""
    layers = icon_set.coloured.get(name)
    if not layers:
        return [_Layer(icon_set.pictures[name].path, "#FF000000")]
    return [
        _Layer(one.path, f"#{round(one.alpha * 255):02X}{one.colour.hex[1:7].upper() if one.colour else '000000'}")
        for one in layers
    ]


def write(icon_set: IconSet, context: OutputContext) -> str:
    """Return the array of all drawables."""
    array = lower(family_words(icon_set.family))
    return render_kind("vector_drawables.jinja", icon_set, array=array, names=_names(icon_set))


def companions(icon_set: IconSet, context: OutputContext) -> dict[str, str]:
    """Return the drawables, in a folder `drawable` next to the folder of the array."""
    files, names, size = {}, _names(icon_set), str(context.options["size"])
    for icon in icon_set.icons:
        picture = icon_set.pictures[icon.name]
        wide = round(float(size) * picture.width / picture.height, 2)
        files[f"../drawable/{names[icon.name]}.xml"] = render(
            "vector_drawable.jinja",
            picture=picture,
            layers=_layers(icon_set, icon.name),
            width=f"{wide:g}",
            height=size,
            tinted=icon.name not in icon_set.coloured,
            turned=icon.name in icon_set.turned,
        )
    return files


def snippets(icon_set: IconSet, context: OutputContext, icon: Icon) -> list[Snippet]:
    """Return the attribute of a view."""
    return [Snippet("vector-drawables", f'android:src="@drawable/{_names(icon_set)[icon.name]}"')]


def references(icon_set: IconSet, context: OutputContext) -> list[ReferenceForm]:
    """Return the resources, in XML and in code."""
    ours = lower(words(icon_set.prefix)) + "_"
    names = {identifier.removeprefix(ours): name for name, identifier in _names(icon_set).items()}
    leads, endings = (f"@drawable/{ours}", f"R.drawable.{ours}"), frozenset((".xml", ".java", ".kt", ".kts"))
    return [ReferenceForm(NameShape.WORD, lead, names, frozenset(), endings) for lead in leads]


KIND = OutputKind(
    "vector-drawables",
    "a drawable resource of Android for each icon, and an array of all",
    "deliver into the folder res of a module",
    "values/{under}_drawables.xml",
    write,
    snippets,
    companions=companions,
    references=references,
    shows_drawings=always,
    rank=21,
    options={"size": Option("24", "height in dp")},
)
