"""The faces of a family as the config has them: which drawings each is made of, and how."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import NamedTuple

from oddpeg.config.font_settings import AxisTable, FaceTable
from oddpeg.config.settings import Config
from oddpeg.font.write.axes import REGULAR, Axis, WeightStop

ONLY = "regular"  # the name of the face where the config has no faces


class FacePlan(NamedTuple):
    """The plan of a face.

    Attributes:
        name: its name in the config.
        weight: CSS font-weight.
        root: name of the face that provides its drawings, often itself.
        patterns: globs of its drawings.
        strokes: factor of stroke widths.
        axis: weight axis, of a variable font.
        stands_for: static faces that a variable face replaces in bundles that name no faces.
    """

    name: str
    weight: int
    root: str
    patterns: tuple[str, ...]
    strokes: float = 1.0
    axis: Axis | None = None
    stands_for: tuple[tuple[str, int], ...] = ()


def face_plans(config: Config) -> tuple[FacePlan, ...]:
    """Return every face in the order of the config, which was found valid; the only one where it names none."""
    static = static_plans(config)
    return (*static, *(_axis_plan(static, name, table) for name, table in config.axis.items()))


def static_plans(config: Config) -> tuple[FacePlan, ...]:
    """Return the faces that do not vary."""
    if not config.face:
        return (FacePlan(ONLY, REGULAR, ONLY, tuple(config.icons.from_)),)
    return tuple(_plan(config.face, name) for name in config.face)


def _axis_plan(static: tuple[FacePlan, ...], name: str, table: AxisTable) -> FacePlan:
    plan_of_face = next((plan for plan in static if plan.name == table.of), static[0])
    stops = {WeightStop(int(weight), factor) for weight, factor in table.strokes.items()}
    stops.add(WeightStop(plan_of_face.weight, 1.0))
    axis = Axis(plan_of_face.weight, tuple(sorted(stops)))
    like = [plan for plan in static if plan.root == plan_of_face.root]
    within = [plan for plan in like if axis.lightest.weight <= plan.weight <= axis.heaviest.weight]
    stands_for = tuple((plan.name, plan.weight) for plan in within)
    return plan_of_face._replace(name=name, axis=axis, stands_for=stands_for)


def _plan(faces: Mapping[str, FaceTable], name: str) -> FacePlan:
    strokes = 1.0
    for root in chain(faces, name):
        strokes *= faces[root].strokes
    return FacePlan(name, faces[name].weight, root, tuple(faces[root].from_), strokes)


def chain(faces: Mapping[str, FaceTable], name: str) -> Iterator[str]:
    """Yield a face, the face it is made of, and so on; ends where that leads nowhere, or comes round."""
    seen: set[str] = set()
    while name in faces and name not in seen:
        yield name
        seen.add(name)
        name = faces[name].of
