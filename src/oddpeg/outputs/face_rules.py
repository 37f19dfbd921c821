"""The `@font-face` rules of a family: one face for each weight, and substitutes for missing icons.

Source: CSS Fonts 4 §4.5, composite faces by `unicode-range`.
"""

from __future__ import annotations

import base64
import posixpath
from collections.abc import Iterable, Mapping
from typing import NamedTuple

from oddpeg.font.write.palettes import DEFAULT
from oddpeg.iconset.faces import Face
from oddpeg.iconset.model import IconSet
from oddpeg.outputs.context import OutputContext
from oddpeg.outputs.escape import css_identifier
from oddpeg.outputs.ranges import css_ranges


class FaceRule(NamedTuple):
    """One `@font-face` rule.

    Attributes:
        weight: its `font-weight`.
        urls: font format → URL, in order of preference.
        ranges: its `unicode-range`; empty for all characters.
        face: name of the face.
    """

    weight: str
    urls: Mapping[str, str]
    ranges: str
    face: str


class FaceClass(NamedTuple):
    """The declarations of a class that chooses a face."""

    name: str
    weight: str


def face_rules(icon_set: IconSet, urls: Mapping[str, Mapping[str, str]]) -> list[FaceRule]:
    """Return the rules of all faces. A face that lacks icons shows them from the nearest face that has them, by further
    rules of its own weight. urls: of each face's files, by its name."""
    rules = []
    for face in icon_set.faces:
        # without a range: browsers take the height of lines from the font that has the space
        rules.append(FaceRule(weight_of(face), urls.get(face.name, {}), "", face.name))
        for other, names in icon_set.stand_ins(face):  # later rules come first where ranges overlap
            lacking = css_ranges(_codes(icon_set, names))
            rules.append(FaceRule(weight_of(face), urls.get(other.name, {}), lacking, other.name))
    return rules or [FaceRule("400", next(iter(urls.values()), {}), "", "")]


def face_urls(context: OutputContext) -> dict[str, Mapping[str, str]]:
    """Return for each face font format → URL, in the order to offer them."""
    return {face.name: face.urls for face in context.faces}


def font_sources(context: OutputContext) -> dict[str, Mapping[str, str]]:
    """Return for each face font format → URL, in the order to offer them: at the address of the output's key `url`
    where it has one; one data URI where the font is to be carried within."""
    if context.options.get("embed"):
        files = {face.name: base64.b64encode(face.files.get("woff2", b"")).decode() for face in context.faces}
        return {name: {"woff2": f"data:font/woff2;base64,{text}"} for name, text in files.items()}
    address = str(context.options.get("url") or "")
    return {name: {f: served(address, url) for f, url in urls.items()} for name, urls in face_urls(context).items()}


def served(address: str, url: str) -> str:
    """Return the URL of a font file under an address; the URL itself if there is no address."""
    if not address:
        return url
    file = posixpath.basename(url)
    return address.replace("{file}", file) if "{file}" in address else f"{address.rstrip('/')}/{file}"


def face_values(icon_set: IconSet, urls: Mapping[str, Mapping[str, str]]) -> dict[str, object]:
    """Return the values of faces for templates of stylesheets. urls: of each face's files, by its name."""
    return {
        "rules": face_rules(icon_set, urls),
        "faces": face_classes(icon_set),
        "weight": default_weight(icon_set),
        "inherits": inherits_weight(icon_set),
        "palettes": palette_rules(icon_set),
        "states": state_rules(icon_set),
        "settings": axis_settings(icon_set),
        "drawn": drawn_sizes(icon_set),
    }


class StateRule(NamedTuple):
    """A state in a stylesheet.

    Attributes:
        name: its name in the config.
        property: the custom property that turns it on, where it is 1.
        face: the face that shows in it.
        usual: the face that shows otherwise.
    """

    name: str
    property: str
    face: str
    usual: str


def state_rules(icon_set: IconSet) -> list[StateRule]:
    """Return the states of the variable faces."""
    return [
        StateRule(state.name, f"--{icon_set.prefix}-{state.name}", state.face, face.stands_for[0][0])
        for face in icon_set.faces
        for state in face.states
    ]


def axis_settings(icon_set: IconSet) -> str:
    """Return the value of `font-variation-settings` that keeps the axes of states at their custom properties."""
    states = [state for face in icon_set.faces for state in face.states]
    properties = (f"--{css_identifier(f'{icon_set.prefix}-{state.name}')}" for state in states)
    return ", ".join(f'"{s.tag}" var({name}, 0)' for s, name in zip(states, properties, strict=True))


def drawn_sizes(icon_set: IconSet) -> list[int]:
    """Return the sizes between which a class can choose: those with drawings of their own, and the face's own."""
    return sorted({px for face in icon_set.faces if face.size and face.size.drawn for px in face.size.classes})


class PaletteRule(NamedTuple):
    """One palette in a stylesheet.

    Attributes:
        name: its name in the config.
        number: its index in the font.
        entries: name → CSS colour, of entries with a name.
        numbers: name → index of the entry in the palette.
    """

    name: str
    number: int
    entries: Mapping[str, str]
    numbers: Mapping[str, int]


def palette_rules(icon_set: IconSet) -> list[PaletteRule]:
    """Return the palettes that the config names, if the fonts have colours."""
    palettes = icon_set.palettes
    if palettes is None or palettes.names == (DEFAULT,):
        return []
    named = {entry.name: number for number, entry in enumerate(palettes.entries) if entry.name}
    return [
        PaletteRule(name, at, {n: palettes.entries[number].colours[at].hex for n, number in named.items()}, named)
        for at, name in enumerate(palettes.names)
    ]


def weight_of(face: Face) -> str:
    """Return a face's `font-weight`: a range where it varies."""
    return f"{face.axis.lightest.weight} {face.axis.heaviest.weight}" if face.axis else str(face.weight)


def default_weight(icon_set: IconSet) -> str:
    """Return the `font-weight` of icons for which no face is chosen."""
    return str(icon_set.face.weight) if icon_set.face else "400"


def inherits_weight(icon_set: IconSet) -> bool:
    """Return whether icons are as heavy as the text around them, where no face is chosen: those of a variable font."""
    return icon_set.face is not None and icon_set.face.axis is not None


def face_classes(icon_set: IconSet) -> list[FaceClass]:
    """Return the classes that choose a face by its weight; none where there is one."""
    faces = icon_set.faces
    in_states = {(face.name, state.face) for face in faces for state in face.states}
    pairs = [
        FaceClass(name, str(at))
        for face in faces
        for name, at in face.stands_for or ((face.name, face.weight),)
        if (face.name, name) not in in_states
    ]
    return pairs if len(pairs) > 1 else []


def _codes(icon_set: IconSet, names: Iterable[str]) -> list[int]:
    wanted = set(names)
    return [icon.codepoint for icon in icon_set.icons if icon.name in wanted]
