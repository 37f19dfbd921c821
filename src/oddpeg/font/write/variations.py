"""The axes of a variable font: weight, optical size, and states.

Source: OpenType specification, fvar, avar, STAT, and the common formats of font variations. Where widths do not grow
evenly with weights, avar bends the scale. Sizes keep an even scale, since substitutions depend on it.
"""

from __future__ import annotations

import struct
from collections.abc import Mapping, Sequence
from functools import cached_property
from typing import NamedTuple

from oddpeg.font.write.axes import BOLD, REGULAR, Axis, Region, SizeAxis, StateAxis, regions_of
from oddpeg.font.write.glyphset import Glyph
from oddpeg.font.write.gsub import Condition
from oddpeg.font.write.info import postscript_name, postscript_prefix, style_name

FIRST_NAME = 300  # name IDs of axes, styles and instances; below are those of palettes
_PREFIX = 25  # name ID of the PostScript name of the family
_LATER = 1 / 64  # px: engines round coordinates, and a size at a limit belongs above it
_ELIDABLE = 2

Tent = Sequence[tuple[float, float, float]]  # for each axis: normalized coordinates where deltas begin, are whole, end


class Part(NamedTuple):
    """Glyphs that take the place of others: for a font size, in some states, or both.

    Attributes:
        px: the size; 0 for every size.
        states: names of the states.
        glyphs: by the codepoint of the glyph that they replace.
    """

    px: int
    states: tuple[str, ...]
    glyphs: Mapping[int, Glyph]


class FontAxis(NamedTuple):
    """One axis of the font. least, default, most: in user coordinates."""

    tag: str
    least: float
    default: float
    most: float
    name: str

    def normalized(self, value: float) -> float:
        """Return where a value lies, -1 to 1, the default being 0."""
        value = min(max(value, self.least), self.most)
        if value == self.default:
            return 0.0
        end = self.least if value < self.default else self.most
        return (value - self.default) / abs(end - self.default)


class Instance(NamedTuple):
    """A named location in the design space. coordinates: of the user, axis by axis."""

    style: str
    coordinates: tuple[float, ...]


class Variations:
    """The varying part of a font.

    Attributes:
        axis: of weight, if it has one.
        styles: the name of the style at each of the weight's stops, or the only one.
        size, states: further axes.
        parts: glyphs that take the place of others, in the order in which they are tried.
    """

    def __init__(
        self,
        axis: Axis | None,
        styles: Sequence[str],
        size: SizeAxis | None = None,
        states: Sequence[StateAxis] = (),
        parts: Sequence[Part] = (),
    ) -> None:
        self.axis, self.styles, self.size, self.states, self.parts = axis, styles, size, states, parts
        self.regions = regions_of(axis, size)

    @cached_property
    def axes(self) -> list[FontAxis]:
        """The axes in the order of `fvar`."""
        axes = []
        if self.axis is not None:
            ends = self.axis.lightest.weight, self.axis.default, self.axis.heaviest.weight
            axes.append(FontAxis("wght", *ends, "Weight"))
        if self.size is not None:
            axes.append(FontAxis("opsz", self.size.least, self.size.own, self.size.most, "Optical Size"))
        return axes + [FontAxis(state.tag, 0, 0, 1, style_name(state.name)) for state in self.states]

    @cached_property
    def instances(self) -> list[Instance]:
        """Every named weight, and every state."""
        usual = [axis.default for axis in self.axes]
        weights = [] if self.axis is None else [stop.weight for stop in self.axis.stops]
        named = [Instance(style, (weight, *usual[1:])) for style, weight in zip(self.styles, weights, strict=False)]
        named = named or [Instance(self.styles[0], tuple(usual))]
        first = len(self.axes) - len(self.states)
        for number, state in enumerate(self.states):
            location = [*usual[: first + number], 1.0, *usual[first + number + 1 :]]
            named.append(Instance(style_name(state.name), tuple(location)))
        return named

    @cached_property
    def values(self) -> list[tuple[int, float, float, float, str]]:
        """Named values of sizes and states: number of the axis, least, nominal and greatest value, name."""
        rows: list[tuple[int, float, float, float, str]] = []
        if self.size is not None:
            number = int(self.axis is not None)
            sizes = [*self.size.drawn, self.size.own]
            ends = [self.size.least, *self.size.limits, max(self.size.most, self.size.own + 1)]
            if not self.size.drawn:
                sizes, ends = [self.size.own], [self.size.least, self.size.most]
            rows = [
                (number, low, size, high, f"{size} px") for size, low, high in zip(sizes, ends, ends[1:], strict=False)
            ]
        first = len(self.axes) - len(self.states)
        for number, state in enumerate(self.states):
            rows += [(first + number, 0, 0, 0, "Usual"), (first + number, 1, 1, 1, style_name(state.name))]
        return rows

    def tent(self, region: Region) -> Tent:
        """Return where the deltas of a place apply."""
        rows = []
        for axis in self.axes:
            if axis.tag == "wght":
                rows.append((min(region.weight, 0.0), float(region.weight), max(region.weight, 0.0)))
            elif axis.tag == "opsz" and region.px is not None and self.size is not None:
                rows.append(_between(axis, [stop.px for stop in self.size.stops], region.px))
            else:
                rows.append((0.0, 0.0, 0.0))
        return rows

    def conditions(self, part: Part) -> list[Condition]:
        """Return when the glyphs of a part take the place of others."""
        tags = [axis.tag for axis in self.axes]
        on = [state.tag for state in self.states if state.name in part.states]
        some = [Condition(tags.index(tag), f2dot14(0.5), f2dot14(1)) for tag in on]
        if part.px and self.size is not None:
            number = tags.index("opsz")
            at = self.size.drawn.index(part.px)
            low, high = [None, *self.size.limits][at], self.size.limits[at]
            least = f2dot14(-1) if low is None else self._limit(number, low)
            some.append(Condition(number, least, self._limit(number, high) - 1))
        return some

    def _limit(self, number: int, px: float) -> int:
        return f2dot14(self.axes[number].normalized(px - _LATER))

    def names(self, family: str) -> dict[int, str]:
        """Return the texts that fvar and STAT refer to, by name ID, and the prefix of PostScript names."""
        ids = self.name_ids
        axes, instances = self.axes, self.instances
        texts = {_PREFIX: postscript_prefix(family)}
        texts |= {ids.axis(number): axis.name for number, axis in enumerate(axes)}
        texts |= {ids.style(number): one.style for number, one in enumerate(instances)}
        texts |= {ids.postscript(number): postscript_name(family, one.style) for number, one in enumerate(instances)}
        return texts | {ids.value(number): name for number, (*_, name) in enumerate(self.values)}

    @property
    def name_ids(self) -> NameIds:
        """The name IDs of its texts."""
        return NameIds(len(self.axes), len(self.instances))


class NameIds(NamedTuple):
    """Name IDs: the first axis, styles, PostScript names, the other axes, values.

    Attributes:
        axes, instances: how many there are.
    """

    axes: int
    instances: int

    def axis(self, number: int) -> int:
        """Return the ID of an axis's name."""
        return FIRST_NAME + (2 * self.instances + number if number else 0)

    def style(self, number: int) -> int:
        """Return the ID of an instance's style."""
        return FIRST_NAME + 1 + number

    def postscript(self, number: int) -> int:
        """Return the ID of an instance's PostScript name."""
        return FIRST_NAME + 1 + self.instances + number

    def value(self, number: int) -> int:
        """Return the ID of a value's name."""
        return FIRST_NAME + 2 * self.instances + self.axes + number


def _between(axis: FontAxis, stops: Sequence[float], px: float) -> tuple[float, float, float]:
    """Return where the deltas of one of several sizes begin, are whole, and end. stops: in rising order."""
    at = stops.index(px)
    around = stops[max(at - 1, 0)], px, stops[min(at + 1, len(stops) - 1)]
    low, peak, high = (axis.normalized(value) for value in around)
    return (low, peak, min(high, 0.0)) if peak < 0 else (max(low, 0.0), peak, high)


def fvar(variations: Variations) -> bytes:
    """Return the table."""
    axes, instances, ids = variations.axes, variations.instances, variations.name_ids
    records = b"".join(
        struct.pack(">4s3i2H", axis.tag.encode(), *map(_fixed, axis[1:4]), 0, ids.axis(number))
        for number, axis in enumerate(axes)
    )
    rows = b"".join(
        struct.pack(f">2H{len(axes)}iH", ids.style(number), 0, *map(_fixed, one.coordinates), ids.postscript(number))
        for number, one in enumerate(instances)
    )
    return struct.pack(">8H", 1, 0, 16, 2, len(axes), 20, len(instances), 6 + 4 * len(axes)) + records + rows


def avar(variations: Variations) -> bytes | None:
    """Return the table; None where widths grow evenly with weights on each side of the default."""
    axis = variations.axis
    if axis is None:
        return None
    pairs = [(variations.axes[0].normalized(stop.weight), _share(axis, stop.factor)) for stop in axis.stops]
    if all(abs(a - b) < 1e-4 for a, b in pairs):
        return None
    known = dict(pairs) | {-1.0: -1.0, 0.0: 0.0, 1.0: 1.0}
    body = _segments(known) + _segments({-1.0: -1.0, 0.0: 0.0, 1.0: 1.0}) * (len(variations.axes) - 1)
    return struct.pack(">4H", 1, 0, 0, len(variations.axes)) + body


def _segments(known: Mapping[float, float]) -> bytes:
    return struct.pack(">H", len(known)) + b"".join(
        struct.pack(">2h", f2dot14(a), f2dot14(known[a])) for a in sorted(known)
    )


def _share(axis: Axis, factor: float) -> float:
    """Return how much of the way to the end of its side a width is, -1 to 1."""
    base = axis.base
    end = axis.lightest.factor if factor < base else axis.heaviest.factor
    return 0.0 if factor == base else (factor - base) / abs(end - base)


def stat(variations: Variations) -> bytes:
    """Return the table, version 1.1, with a name for every named weight, size and state. The name of Regular is
    optional; it is linked with Bold, if both are there, for programs with a button for bold text."""
    ids, axes = variations.name_ids, variations.axes
    design = b"".join(
        struct.pack(">4s2H", axis.tag.encode(), ids.axis(number), number) for number, axis in enumerate(axes)
    )
    values = [*_weights(variations)]
    for number, (axis, low, value, high, _) in enumerate(variations.values):
        flags, name = _ELIDABLE * (value == axes[axis].default), ids.value(number)
        if low < high:
            values.append(struct.pack(">4H3i", 2, axis, flags, name, _fixed(value), _fixed(low), _fixed(high)))
        else:
            values.append(struct.pack(">4Hi", 1, axis, flags, name, _fixed(value)))
    offsets, at = b"", 2 * len(values)
    for record in values:
        offsets += struct.pack(">H", at)
        at += len(record)
    head = struct.pack(">4HIHIH", 1, 1, 8, len(axes), 20, len(values), 20 + len(design), 2)
    return head + design + offsets + b"".join(values)


def _weights(variations: Variations) -> Sequence[bytes]:
    """Return the values of named weights."""
    axis, ids = variations.axis, variations.name_ids
    if axis is None:
        return []
    is_linked = {REGULAR, BOLD} <= {stop.weight for stop in axis.stops}
    rows = []
    for number, stop in enumerate(axis.stops):
        fields = 0, _ELIDABLE * (stop.weight == REGULAR), ids.style(number), _fixed(stop.weight)
        if stop.weight == REGULAR and is_linked:
            rows.append(struct.pack(">4H2i", 3, *fields, _fixed(BOLD)))
        else:
            rows.append(struct.pack(">4Hi", 1, *fields))
    return rows


def _fixed(value: float) -> int:
    return round(value * 65536)


def f2dot14(value: float) -> int:
    """Return a normalized coordinate in units of 1/16384."""
    return round(value * 16384)
