"""Conflicts between keys of `oddpeg.toml` that are valid one by one."""

from __future__ import annotations

from collections.abc import Collection, Iterator
from itertools import pairwise
from typing import NamedTuple

from oddpeg.config.faces import SIZE, WEIGHT, chain, size_axis, static_size_names, tag_for
from oddpeg.config.font_settings import AxisTable
from oddpeg.config.settings import Config
from oddpeg.font.write.axes import REGULAR
from oddpeg.suggestions import did_you_mean
from oddpeg.svg.paint import colour_of

_MOST_STATES = 3  # every combination of states and sizes takes a table


class Conflict(NamedTuple):
    """Keys that contradict each other.

    Attributes:
        code: code of the diagnostic.
        key: path of the key to change.
        what, cure: texts of the diagnostic.
    """

    code: str
    key: tuple[str, ...]
    what: str
    cure: str


def conflicts(config: Config) -> Iterator[Conflict]:
    """Yield everything that does not go together."""
    yield from _drawings(config)
    yield from _faces(config)
    yield from _palettes(config)
    yield from _axes(config)
    names, sized = [*config.face, *config.axis], static_size_names(config)
    if config.font.default and config.font.default not in names:
        yield _unknown_face(("font", "default"), config.font.default, names)
    for name, bundle in config.bundle.items():
        for face in bundle.faces:
            if face not in (*names, *sized):
                yield _unknown_face(("bundle", name, "faces"), face, [*names, *sized])
        if bundle.outputs and len(bundle.faces) > 1 and (alone := set(bundle.faces) & set(sized)):
            message = f"has {min(alone)!r} beside other faces, whose weight it has, so that outputs could not tell them"
            cure = "give it a bundle of its own, or let this one have no outputs"
            yield Conflict("config-value", ("bundle", name, "faces"), message, cure)
        legacy = [f for f in bundle.fonts if f in ("eot", "svg")]
        if legacy and config.axis and (not bundle.faces or set(bundle.faces) & set(config.axis)):
            message = f"{' and '.join(legacy)} cannot hold a variable font"
            cure = "leave that out, or name static faces in the bundle's `faces`"
            yield Conflict("config-value", ("bundle", name, "fonts"), message, cure)


def _drawings(config: Config) -> Iterator[Conflict]:
    if not config.icons.from_ and not config.face:
        cure = "add from to [icons]"
        yield Conflict("config-missing-key", ("icons", "from"), "is missing", cure)
    if config.icons.from_ and config.face:
        message = "stands beside faces, which say themselves where their drawings are"
        yield Conflict("config-value", ("icons", "from"), message, "move its globs into a [face.*] table")


def _faces(config: Config) -> Iterator[Conflict]:
    weights: dict[int, str] = {}
    for name, face in config.face.items():
        at = ("face", name)
        if bool(face.from_) == bool(face.of):
            message = "has both `from` and `of`" if face.from_ else "has no drawings"
            yield Conflict("config-value", at, message, "give it either `from` (globs) or `of` (another face)")
        elif face.of and face.of not in config.face:
            yield _unknown_face((*at, "of"), face.of, list(config.face))
        elif face.of and _goes_round(config, name):
            message = f"leads back to {name!r}: {' → '.join([*chain(config.face, name), name])}"
            yield Conflict("config-value", (*at, "of"), message, "one of them needs drawings of its own (`from`)")
        if face.strokes != 1 and not face.of:
            cure = "make a face of its own: of = …, strokes = …"
            yield Conflict("config-value", (*at, "strokes"), "changes the strokes of the face's own drawings", cure)
        if face.weight in weights:
            message = (
                f"{face.weight} is the weight of {weights[face.weight]!r} too, so that no page could tell them apart"
            )
            yield Conflict("config-value", (*at, "weight"), message, "give each face a weight of its own")
        weights.setdefault(face.weight, name)


def _axes(config: Config) -> Iterator[Conflict]:
    states = [name for name, axis in config.axis.items() if axis.faces]
    if len(states) > _MOST_STATES:
        cure = "leave one out, or make it a face"
        yield Conflict("config-value", ("axis", states[-1]), f"is a state more than {_MOST_STATES}", cure)
    for name, axis in config.axis.items():
        at = ("axis", name)
        for face in sorted(config.face.keys() & {name, *(static_size_names(config) if name == SIZE else ())}):
            message = "is called like the axis" if face == name else "is called like the static face of a size"
            yield Conflict("config-value", ("face", face), message, "give the face another name")
        allowed = {WEIGHT: ("strokes", "of"), SIZE: ("strokes", "of", "drawings", "limits", "own")}
        keys = allowed.get(name, ("faces", "tag"))
        given = [key for key in ("strokes", "of", "drawings", "limits", "own", "faces", "tag") if getattr(axis, key)]
        if wrong := next((key for key in given if key not in keys), ""):
            kind = "the axis of a state" if name not in allowed else f"axis.{name}"
            homes = [home for home, theirs in allowed.items() if wrong in theirs]
            cure = f"write it in [axis.{homes[0]}]" if homes else "write it in an axis of another name"
            yield Conflict("config-value", (*at, wrong), f"is no key of {kind}", cure)
            continue
        if name not in allowed:
            yield from _state(config, at, axis)
            continue
        if axis.of and axis.of not in config.face:
            yield _unknown_face((*at, "of"), axis.of, list(config.face))
        elif not axis.of and len(config.face) > 1:
            yield Conflict("config-missing-key", (*at, "of"), "is missing", f"name one of: {', '.join(config.face)}")
        else:
            yield from _sizes(at, axis) if name == SIZE else _stops(config, at, axis)


def _state(config: Config, at: tuple[str, ...], axis: AxisTable) -> Iterator[Conflict]:
    """Yield the errors in the axis of a state."""
    if len(axis.faces) != 2 or axis.faces[0] == axis.faces[-1]:
        cure = 'name the usual face and the other one: faces = ["line", "solid"]'
        yield Conflict("config-value", (*at, "faces"), "is not two faces", cure)
    for face in axis.faces:
        if face not in config.face:
            yield _unknown_face((*at, "faces"), face, list(config.face))
    name, families = at[-1], ("size", "colour", "face", "palette", "drawn")
    entries = {entry for palette in config.palettes.values() for entry in palette}
    if f"{config.classes.prefix}-{name}" == config.base_class or name.partition("-")[0] in families or name in entries:
        yield Conflict("config-value", at, "is the name of other classes or colours", "give the state another name")
    tags = {name: other.tag or tag_for(name) for name, other in config.axis.items() if other.faces}
    clash = next((name for name, tag in tags.items() if name != at[-1] and tag == tags.get(at[-1])), "")
    if clash:
        message = f"is {tags[at[-1]]}, like that of {clash!r}"
        yield Conflict("config-value", (*at, "tag"), message, "give one of them another tag")


def _sizes(at: tuple[str, ...], axis: AxisTable) -> Iterator[Conflict]:
    """Yield the errors in the axis of optical sizes."""
    for key, values in (("drawings", axis.drawings), ("strokes", axis.strokes), ("limits", axis.limits)):
        for text in values:
            if not (text.isascii() and text.isdigit() and 1 <= int(text) <= 1000):
                cure = "write a whole number of CSS pixels, from 1 to 1000"
                yield Conflict("config-value", (*at, key, text), "is no size", cure)
                return
    if not axis.drawings and not axis.strokes:
        cure = 'add drawings = { 16 = ["icons/16/*.svg"] }, or strokes = { 16 = 1.2 }'
        yield Conflict("config-missing-key", (*at, "drawings"), "is missing, and strokes too", cure)
        return
    if unknown := next((px for px in axis.limits if px not in axis.drawings), ""):
        yield Conflict("config-value", (*at, "limits", unknown), "has no drawings", "name a size of drawings")
        return
    size = size_axis(axis)
    if axis.own and axis.own <= max(size.drawn, default=0):
        cure = "drawings for a size serve below it; leave the largest ones to the face itself"
        yield Conflict("config-value", (*at, "own"), f"is not above {size.drawn[-1]}", cure)
    elif size.least == size.most:
        yield Conflict("config-value", at, "has one size only", "name a second one")
    if axis.strokes.get(str(size.own), 1.0) != 1:
        cure = "set `own` to the size that the drawings are made for, or leave it out"
        yield Conflict("config-value", (*at, "strokes", str(size.own)), "is the drawings' own size", cure)
    ends = [size.least, *size.limits, size.own]
    if any(low >= high for low, high in pairwise(ends)):
        message = f"do not rise: {', '.join(f'{limit:g}' for limit in size.limits)}"
        yield Conflict("config-value", (*at, "limits"), message, "let each lie above its size and below the next")


def _stops(config: Config, at: tuple[str, ...], axis: AxisTable) -> Iterator[Conflict]:
    """Yield the errors in the weights of an axis."""
    face = axis.of or next(iter(config.face), "")
    drawn_weight = config.face[face].weight if face else REGULAR
    known = {drawn_weight: 1.0}
    for text, factor in axis.strokes.items():
        key = (*at, "strokes", text)
        if not (text.isascii() and text.isdigit() and 1 <= int(text) <= 1000):
            yield Conflict("config-value", key, "is no weight", "write a whole number from 1 to 1000")
        elif int(text) == drawn_weight and factor != 1:
            cure = f"set face.{face}.weight to the weight that the drawings have" if face else "leave it out"
            yield Conflict(
                "config-value", key, f"is the weight of the drawings, where the factor is 1, not {factor}", cure
            )
        else:
            known[int(text)] = factor
    factors = [known[weight] for weight in sorted(known)]
    if len(known) > 1 and any(low >= high for low, high in pairwise(factors)):
        listed = ", ".join(f"{weight} = {known[weight]:g}" for weight in sorted(known))
        cure = "let the factor rise with every weight"
        yield Conflict("config-value", (*at, "strokes"), f"does not get wider with the weight: {listed}", cure)
    if not axis.strokes:
        yield Conflict("config-missing-key", (*at, "strokes"), "is missing", "add strokes = { 700 = 1.5 }")
    elif len(known) == 1:
        yield Conflict("config-value", (*at, "strokes"), "has no weight but that of the drawings", "add another one")


def _goes_round(config: Config, name: str) -> bool:
    *_, last = chain(config.face, name)
    return config.face[last].of in config.face


def _palettes(config: Config) -> Iterator[Conflict]:
    named: dict[str, str] = {}
    for number, (palette, colours) in enumerate(config.palettes.items()):
        for entry, text in colours.items():
            key = ("palettes", palette, entry)
            if number == 0:
                colour = colour_of(text)
                other = named.setdefault(colour.hex if colour else text, entry)
                if other != entry:
                    message = f"is the colour of {other!r} too, so that no paint can belong to it"
                    yield Conflict("config-value", key, message, "name a colour once")
            elif entry not in next(iter(config.palettes.values())):
                first = next(iter(config.palettes))
                cure = did_you_mean(entry, config.palettes[first], f"add it to [palettes.{first}]", 1, 0.5)
                yield Conflict("config-value", key, f"names no colour of the drawings, since {first!r} has none", cure)


def _unknown_face(key: tuple[str, ...], name: str, known: Collection[str]) -> Conflict:
    listed = f"faces are: {', '.join(known)}" if known else "there are no faces"
    cure = did_you_mean(name, known, listed, 1, 0.5)
    return Conflict("config-value", key, f"there is no face {name!r}", cure)
