"""A weight axis: weights, and the stroke factor at each. Imports no arrays, since finding icons needs it too."""

from __future__ import annotations

from bisect import bisect_right
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
