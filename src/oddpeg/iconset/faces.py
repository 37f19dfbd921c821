"""The faces of a family: its icons at several weights."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from typing import TYPE_CHECKING, NamedTuple, Protocol, TypeVar

from oddpeg.font.write.axes import REGULAR

if TYPE_CHECKING:  # finding icons needs neither, and they take longer to load than a search
    from oddpeg.font.write.axes import Axis
    from oddpeg.outline.model import ColourLayer, Outline
    from oddpeg.outline.placement import Em


class Face(NamedTuple):
    """The icons at one weight.

    Attributes:
        em: the square that glyphs are drawn on.
        outlines: by icon name.
        name: its name in the config.
        weight: CSS font-weight.
        layers: colour layers in paint order, by icon name.
        axis: weight axis, of a variable font.
        masters: outlines at the ends of the axis, by name of each icon that varies.
        stands_for: names and weights of the static faces that it replaces.
    """

    em: Em
    outlines: Mapping[str, Outline]
    name: str = "regular"
    weight: int = REGULAR
    layers: Mapping[str, Sequence[ColourLayer]] = {}
    axis: Axis | None = None
    masters: Mapping[str, Sequence[Outline]] = {}
    stands_for: tuple[tuple[str, int], ...] = ()

    def flattened(self) -> Face:
        """Return the same face with mean colours in the place of gradients."""
        layers = {
            name: tuple(layer._replace(fill=layer.fill.flattened()) for layer in those)
            for name, those in self.layers.items()
        }
        coloured = {name: those for name, those in layers.items() if not all(one.fill.follows_text for one in those)}
        return self._replace(layers=coloured)

    def of_icons(self, names: Collection[str]) -> Face:
        """Return the same face with these icons only."""
        outlines = {name: outline for name, outline in self.outlines.items() if name in names}
        layers = {name: those for name, those in self.layers.items() if name in names}
        masters = {name: those for name, those in self.masters.items() if name in names}
        return self._replace(outlines=outlines, layers=layers, masters=masters)


class StandIn(NamedTuple):
    """A face from which another one's missing icons are shown.

    Attributes:
        face: that has them.
        icons: their names.
    """

    face: Face
    icons: tuple[str, ...]


class OfWeight(Protocol):
    """A face, or the plan of one."""

    @property
    def name(self) -> str:
        """As the config calls it."""

    @property
    def weight(self) -> int:
        """CSS font-weight."""

    @property
    def stands_for(self) -> tuple[tuple[str, int], ...]:
        """Names and weights of the static faces that it replaces."""


_OfWeight = TypeVar("_OfWeight", bound=OfWeight)


def default_face(faces: Sequence[_OfWeight], name: str) -> _OfWeight:
    """Return the face of that name, or the variable face that replaces it; otherwise the one nearest to the regular
    weight, the lighter of two."""
    nearest = min(faces, key=lambda face: (abs(face.weight - REGULAR), face.weight))
    return next((face for face in faces if name == face.name or name in dict(face.stands_for)), nearest)


def stand_ins(face: Face, faces: Sequence[Face], icons: Sequence[str]) -> list[StandIn]:
    """Return the faces from which icons are shown that a face lacks, the nearest in weight first."""
    missing = {name for name in icons if name not in face.outlines}
    pairs = []
    for other in sorted(faces, key=lambda candidate: (abs(candidate.weight - face.weight), candidate.weight)):
        if names := tuple(name for name in icons if name in missing and name in other.outlines):
            pairs.append(StandIn(other, names))
            missing.difference_update(names)
    return pairs
