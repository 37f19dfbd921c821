"""Axes of a variable font: weight, optical size, states. Imports no arrays, since finding icons needs them too."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Sequence
from typing import NamedTuple

REGULAR, BOLD = 400, 700  # CSS font-weight of a family's usual face, and of that which a button for bold text shows
_STYLES = {
    100: "Thin", 200: "Extra Light", 300: "Light", 400: "Regular", 500: "Medium", 600: "Semi Bold", 700: "Bold",
    800: "Extra Bold", 900: "Black",
}  # fmt: skip


class WeightStop(NamedTuple):
    """A weight and its stroke factor."""

    weight: int
    factor: float


class Axis(NamedTuple):
    """A weight axis.

    Attributes:
        default: the weight that the outlines of the font have; as drawn, or the lightest one.
        stops: in rising order of weights and factors, the default among them.
    """

    default: int
    stops: tuple[WeightStop, ...]

    @property
    def lightest(self) -> WeightStop:
        """The lower end."""
        return self.stops[0]

    @property
    def heaviest(self) -> WeightStop:
        """The upper end."""
        return self.stops[-1]

    @property
    def masters(self) -> tuple[float, ...]:
        """The factors at the ends, without the default."""
        return tuple(stop.factor for stop in (self.lightest, self.heaviest) if stop.weight != self.default)

    def factor(self, weight: float) -> float:
        """Return how many times as wide strokes are at a weight."""
        weights = [stop.weight for stop in self.stops]
        at = min(max(bisect_right(weights, weight) - 1, 0), len(weights) - 2)
        low, high = self.stops[at], self.stops[at + 1]
        share = min(max((weight - low.weight) / (high.weight - low.weight), 0.0), 1.0)
        return low.factor + share * (high.factor - low.factor)

    @property
    def base(self) -> float:
        """The factor at the default."""
        return self.factor(self.default)

    def style(self, weight: int) -> str:
        """Return the name of a weight."""
        return _STYLES.get(weight, f"Weight {weight}")


class SizeStop(NamedTuple):
    """A font size in CSS pixels and its stroke factor."""

    px: float
    factor: float


class SizeAxis(NamedTuple):
    """An optical size axis (`opsz`): browsers set it to the font size in CSS pixels.

    Attributes:
        own: the size of the face's own drawings, which serve above all others; the default of the axis.
        drawn: sizes that have drawings of their own, in rising order.
        limits: for each of them the size from which the next larger one serves.
        stops: stroke factors in rising order of sizes, from one end of the axis to the other; empty where strokes keep
            their width.
    """

    own: int
    drawn: tuple[int, ...] = ()
    limits: tuple[float, ...] = ()
    stops: tuple[SizeStop, ...] = ()

    @property
    def least(self) -> float:
        """The lower end."""
        return min([self.own, *self.drawn, *(stop.px for stop in self.stops)])

    @property
    def most(self) -> float:
        """The upper end."""
        return max([self.own, *(stop.px for stop in self.stops)])

    @property
    def classes(self) -> tuple[int, ...]:
        """The sizes of all drawings."""
        return (*self.drawn, self.own)

    @property
    def masters(self) -> tuple[SizeStop, ...]:
        """The stops whose strokes are not as drawn."""
        return tuple(stop for stop in self.stops if stop.px != self.own)

    def factor(self, px: float) -> float:
        """Return how many times as wide strokes are at a size."""
        if not self.stops:
            return 1.0
        sizes = [stop.px for stop in self.stops]
        at = min(max(bisect_right(sizes, px) - 1, 0), max(len(sizes) - 2, 0))
        low, high = self.stops[at], self.stops[min(at + 1, len(sizes) - 1)]
        share = min(max((px - low.px) / (high.px - low.px), 0.0), 1.0) if high.px > low.px else 0.0
        return low.factor + share * (high.factor - low.factor)

    def factor_near(self, px: float) -> float:
        """Return how many times as wide strokes are at the nearest stop."""
        return min(self.stops, key=lambda stop: abs(stop.px - px), default=SizeStop(px, 1.0)).factor

    def served(self, px: float) -> int:
        """Return the size whose drawing serves at a font size."""
        return next((size for size, limit in zip(self.drawn, self.limits, strict=True) if px < limit), self.own)

    def nearest(self, size: int, having: Sequence[int]) -> int:
        """Return which of the sizes that an icon has is nearest to one; the larger of two. The own size counts too."""
        return min((*having, self.own), key=lambda other: (abs(other - size), -other))


class StateAxis(NamedTuple):
    """A state of icons: an axis from 0 to 1 in whose middle another face's drawing takes the place of the usual one.

    Attributes:
        name: in the config, and in classes.
        tag: of the axis, four capitals or digits.
        face: name of the other face.
    """

    name: str
    tag: str
    face: str


class Region(NamedTuple):
    """A place of the design space at which strokes have another width.

    Attributes:
        weight: -1 for the lightest weight, 1 for the heaviest, 0 for the default.
        px: font size; None for the default.
        factor: of stroke widths there.
    """

    weight: int
    px: float | None
    factor: float


def regions_of(axis: Axis | None, size: SizeAxis | None) -> tuple[Region, ...]:
    """Return every place but the default: those of weights first, then those of sizes, then of both together."""
    ends = [] if axis is None else [(-1, axis.lightest), (1, axis.heaviest)]
    weights = [(side, stop.factor) for side, stop in ends if axis is not None and stop.weight != axis.default]
    sizes = size.masters if size is not None else ()
    alone = [Region(side, None, factor) for side, factor in weights]
    return (
        *alone,
        *(Region(0, stop.px, stop.factor) for stop in sizes),
        *(Region(side, stop.px, factor * stop.factor) for side, factor in weights for stop in sizes),
    )
