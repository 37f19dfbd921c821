"""The locations in the design space of a face's font that are proved: its default, every size and every state."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from oddpeg.config.faces import FacePlan
from oddpeg.outline.placement import Em
from oddpeg.project.snapshot import Snapshot
from oddpeg.proof.model import ProofTarget


class Location(NamedTuple):
    """One location in the design space of a font.

    Attributes:
        plan: the face, or part of a face, whose drawings the font shows there.
        label: what figures call it.
        coordinates: values of axes, by tag; the weight is chosen apart.
        factor: of stroke widths at the size.
        sized: names under which drawings for that very size are found, which do not vary.
    """

    plan: FacePlan
    label: str
    coordinates: tuple[tuple[str, float], ...] = ()
    factor: float = 1.0
    sized: tuple[str, ...] = ()

    def font(self, data: bytes) -> bytes:
        """Return the font at this location."""
        from oddpeg.font.read.instances import instance_at

        return instance_at(data, dict(self.coordinates)) if self.coordinates else data

    def em(self, em: Em) -> Em:
        """Return the em on which the drawings stand there. em: of the font."""
        px = self.plan.px
        return em.at_size(px) if px else em

    @property
    def ends(self) -> list[int]:
        """The weights at both ends; none where the weight does not vary."""
        axis = self.plan.axis
        return [] if axis is None else [axis.lightest.weight, axis.heaviest.weight]

    def without_drawing(self, snapshot: Snapshot, targets: Sequence[ProofTarget]) -> list[ProofTarget]:
        """Return the targets that have no drawing of their own for the size."""
        drawn = {source.name for name in self.sized for source in snapshot.face_sources[name].found}
        return [target for target in targets if target.icon not in drawn]


def locations_of(plan: FacePlan) -> list[Location]:
    """Return every location at which the font of a face has other outlines; one for a static face."""
    if plan.taken_from:  # the drawings of the size, and its own where there is none for any
        sized = tuple(part.root for part in plan.parts)
        drawn = [Location(part, plan.name) for part in plan.parts if part.px == plan.px]
        return [*drawn, Location(plan, plan.name, sized=sized)]
    locations = [Location(plan, plan.name)]
    size = plan.size
    tags = {state.name: state.tag for state in plan.states}
    for part in plan.parts:
        if part.px and size is not None:
            locations.append(Location(part, f"{plan.name} at {part.px} px", (("opsz", part.px),)))
        elif part.state:  # alone, at every size, and with all that come after it, which it wins over
            on = ((tags[part.state], 1.0),)
            after = [(state.name, (state.tag, 1.0)) for state in plan.states[list(tags).index(part.state) + 1 :]]
            locations.append(Location(part, f"{plan.name} {part.state}", on))
            for px in size.drawn if size is not None else ():
                locations.append(Location(part, f"{plan.name} {part.state} at {px} px", (*on, ("opsz", px))))
            if after:
                names, places = zip(*after, strict=True)
                locations.append(Location(part, " ".join((plan.name, part.state, *names)), (*on, *places)))
    for stop in size.masters if size is not None else ():
        served = [part.root for part in plan.parts if part.px and size is not None and size.served(stop.px) == part.px]
        label = f"{plan.name} with strokes of {stop.px:g} px"
        locations.append(Location(plan, label, (("opsz", stop.px),), stop.factor, tuple(served)))
    return locations
