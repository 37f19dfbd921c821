"""The faces of a family: its icons at several weights."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from typing import TYPE_CHECKING, NamedTuple, Protocol, TypeVar

from oddpeg.font.write.axes import REGULAR, regions_of

if TYPE_CHECKING:  # finding icons needs neither, and they take longer to load than a search
    from oddpeg.font.write.axes import Axis, SizeAxis, StateAxis
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
        size: optical size axis, of a variable font.
        states: further axes of a variable font.
        parts: outlines that take the place of its own along its axes.
        px: for such a part, or for a static face: the font size that it serves.
        state: for such a part: the state that it shows.
    """

    em: Em
    outlines: Mapping[str, Outline]
    name: str = "regular"
    weight: int = REGULAR
    layers: Mapping[str, Sequence[ColourLayer]] = {}
    axis: Axis | None = None
    masters: Mapping[str, Sequence[Outline]] = {}
    stands_for: tuple[tuple[str, int], ...] = ()
    size: SizeAxis | None = None
    states: tuple[StateAxis, ...] = ()
    parts: tuple[Face, ...] = ()
    px: int = 0
    state: str = ""

    @property
    def varies(self) -> bool:
        """Whether its font is a variable one."""
        return self.axis is not None or self.size is not None or bool(self.states)

    @property
    def design(self) -> tuple[object, ...]:
        """What tells it from other faces, without its icons."""
        return self.name, self.weight, self.em, self.axis, self.stands_for, self.size, self.states

    def flattened(self) -> Face:
        """Return the same face with mean colours in the place of gradients."""
        layers = {
            name: tuple(layer._replace(fill=layer.fill.flattened()) for layer in those)
            for name, those in self.layers.items()
        }
        coloured = {name: those for name, those in layers.items() if not all(one.fill.follows_text for one in those)}
        return self._replace(layers=coloured, parts=tuple(part.flattened() for part in self.parts))

    def with_part(self, part: Face) -> Face:
        """Return the same face with a part more. An icon that only a state has is shown in every state."""
        whole = self._replace(parts=(*self.parts, part))
        if not part.state:
            return whole
        return whole._replace(
            outlines={**part.outlines, **self.outlines},
            layers={**part.of_icons(part.outlines.keys() - self.outlines.keys()).layers, **self.layers},
            masters={**part.of_icons(part.outlines.keys() - self.outlines.keys()).masters, **self.masters},
        )

    def sized_part(self, name: str, px: int) -> Face | None:
        """Return the part whose drawing of an icon serves a drawn size; None for its own drawing. Without a drawing for
        that size it is the nearest one, unless its strokes vary with the size."""
        sized = {part.px: part for part in self.parts if part.px and name in part.outlines}
        if px in sized or self.size is None or self.size.stops:
            return sized.get(px)
        return sized.get(self.size.nearest(px, list(sized)))

    def at_size(self, px: float) -> Face:
        """Return the same face with the drawings that serve at a font size, standing on its own baseline. Strokes that
        vary have the width of the nearest size that the config names."""
        size = self.size
        if size is None:
            return self
        outlines, layers = dict(self.outlines), dict(self.layers)
        regions = regions_of(self.axis, size)
        sizes = {region.px: number for number, region in enumerate(regions) if region.weight == 0 and region.px}
        number = sizes.get(min((*sizes, size.own), key=lambda other: abs(other - px)))
        for name in self.outlines:
            part = self.sized_part(name, size.served(px))
            if part is not None:
                up = part.em.depth - self.em.depth
                outlines[name] = part.outlines[name].raised(up)
                own = part.layers.get(name, ())
                layers[name] = tuple(layer._replace(outline=layer.outline.raised(up)) for layer in own)
            elif number is not None and name in self.masters:
                outlines[name] = self.masters[name][number]
        return self._replace(outlines=outlines, layers={name: own for name, own in layers.items() if own})

    def static_at(self, name: str, px: int) -> Face:
        """Return a static face with the drawings that serve at a size, on the em on which these stand."""
        whole, em = self.at_size(px), self.em.at_size(px)
        up = self.em.depth - em.depth
        outlines = {icon: outline.raised(up) for icon, outline in whole.outlines.items()}
        layers = {
            i: tuple(one._replace(outline=one.outline.raised(up)) for one in own) for i, own in whole.layers.items()
        }
        return Face(em, outlines, name, self.weight, layers, px=px)

    def plain(self) -> Face:
        """Return the same face without layers of colour."""
        return self._replace(layers={}, parts=tuple(part.plain() for part in self.parts))

    def of_icons(self, names: Collection[str]) -> Face:
        """Return the same face with these icons only."""
        outlines = {name: outline for name, outline in self.outlines.items() if name in names}
        layers = {name: those for name, those in self.layers.items() if name in names}
        masters = {name: those for name, those in self.masters.items() if name in names}
        parts = tuple(part.of_icons(names) for part in self.parts)
        return self._replace(outlines=outlines, layers=layers, masters=masters, parts=parts)


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
