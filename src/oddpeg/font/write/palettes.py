"""Palettes: the colours of a family's icons, by name, and their alternatives."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import NamedTuple

from oddpeg.svg.model import Colour

DEFAULT = "default"  # the name of the only palette where the config has none


class PaletteEntry(NamedTuple):
    """One colour of the drawings.

    Attributes:
        name: as the config calls it; empty where it names none of that colour.
        colours: of each palette, in their order.
    """

    name: str
    colours: tuple[Colour, ...]


class Palettes(NamedTuple):
    """The palettes of a family.

    Attributes:
        names: of the palettes; the first has the colours of the drawings.
        entries: of all palettes; those with a name in the config come first.
    """

    names: tuple[str, ...]
    entries: tuple[PaletteEntry, ...]

    @staticmethod
    def of(named: Mapping[str, Mapping[str, Colour]], colours: Iterable[Colour]) -> Palettes:
        """Return the palettes of a config, with an entry for each colour of the drawings that no palette names. named:
        palette → entry → colour. A partly transparent colour follows the entry of the same opaque colour."""
        names = tuple(named) or (DEFAULT,)
        first = next(iter(named.values()), {})
        entries = [PaletteEntry(name, _in_all(named, name, colour)) for name, colour in first.items()]
        known = {entry.colours[0]: entry for entry in entries}
        for colour in sorted({c for c in colours if c not in known}):
            like = known.get(colour._replace(alpha=1.0))
            if like is None:
                entries.append(PaletteEntry("", (colour,) * len(names)))
            else:
                # the first is the drawings' own, by which it is found
                others = (shade._replace(alpha=shade.alpha * colour.alpha) for shade in like.colours[1:])
                entries.append(PaletteEntry("", (colour, *others)))
        return Palettes(names, tuple(entries))

    def numbers(self) -> dict[Colour, int]:
        """Return the number of each colour's entry."""
        return {entry.colours[0]: number for number, entry in enumerate(self.entries)}


def _in_all(named: Mapping[str, Mapping[str, Colour]], name: str, colour: Colour) -> tuple[Colour, ...]:
    return tuple(palette.get(name, colour) for palette in named.values())


def nearest_entry(colour: Colour, entries: Mapping[str, Colour]) -> str:
    """Return the name of the entry whose colour is nearest."""

    def distance(name: str) -> float:
        other = entries[name]
        # weighted as eyes see differences in sRGB, roughly
        red, green, blue = (a - b for a, b in zip(colour[:3], other[:3], strict=True))
        return 3.0 * red * red + 4.0 * green * green + 2.0 * blue * blue

    return min(entries, key=distance)


def is_light(colours: Sequence[Colour]) -> bool:
    """Return whether colours show on a dark ground rather than on a light one, by their mean luminance (WCAG 2.2)."""
    if not colours:
        return False
    return sum(map(luminance, colours)) / len(colours) > 0.4


def luminance(colour: Colour) -> float:
    """Return relative luminance, 0 to 1 (WCAG 2.2)."""
    linear = [c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in (v / 255 for v in colour[:3])]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]
