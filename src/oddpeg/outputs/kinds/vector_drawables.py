"""Vector drawables: a resource of Android for each icon, and an array of all of them. Source: Android, VectorDrawable;
its path data is that of SVG 2."""

from __future__ import annotations

from typing import NamedTuple

from oddpeg.iconset.model import IconSet
from oddpeg.outputs.context import OutputContext
from oddpeg.outputs.kind import Option, OutputKind, always
from oddpeg.outputs.language import Language
from oddpeg.outputs.naming import identifiers, lower
from oddpeg.outputs.render import render


class _Layer(NamedTuple):
    """A path with a fill as Android writes it: #AARRGGBB."""

    path: str
    fill: str


_LANGUAGE = Language(
    "vector-drawables",
    "vector_drawables.jinja",
    lower,
    call="@drawable/{id}",
    use='android:src="{}"',
    prefixed=True,
    endings=".xml .java .kt .kts",
)


def _names(icon_set: IconSet) -> dict[str, str]:
    return identifiers(_LANGUAGE.name, icon_set, _LANGUAGE.entries)


def _layers(icon_set: IconSet, name: str) -> list[_Layer]:
    """Return the paths from the ground up; the colour of the text is black, which a tint replaces."""
    layers = icon_set.coloured.get(name)
    if not layers:
        return [_Layer(icon_set.pictures[name].path, "#FF000000")]
    return [
        _Layer(one.path, f"#{round(one.alpha * 255):02X}{one.colour.hex[1:7].upper() if one.colour else '000000'}")
        for one in layers
    ]


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


KIND = OutputKind(
    "vector-drawables",
    "a drawable resource of Android for each icon, and an array of all",
    "deliver into the folder res of a module",
    "values/{under}_drawables.xml",
    _LANGUAGE.write,
    _LANGUAGE.snippets,
    companions=companions,
    references=_LANGUAGE.references,
    shows_drawings=always,
    rank=21,
    options={"size": Option("24", "height in dp")},
)
