"""The faces of a family as the config has them: which drawings each is made of, and how."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from itertools import pairwise
from typing import NamedTuple

from oddpeg.config.font_settings import AxisTable, FaceTable
from oddpeg.config.settings import Config
from oddpeg.font.write.axes import REGULAR, Axis, SizeAxis, SizeStop, StateAxis, WeightStop, regions_of

ONLY = "regular"  # the name of the face where the config has no faces
WEIGHT, SIZE = "weight", "size"  # names of axes; any other is that of a state
_USUAL = (24, 32, 48, 64, 96, 128)  # sizes that drawings are made for


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
        size: optical size axis, of a variable font.
        states: further axes of a variable font.
        axes: names of its axes in the config.
        parts: drawings that take the place of its own along its axes.
        px: for such a part: the font size that it serves.
        state: for such a part: the state that it shows.
        taken_from: for a static face with the drawings of one size (`px`): the variable face that has them.
    """

    name: str
    weight: int
    root: str
    patterns: tuple[str, ...]
    strokes: float = 1.0
    axis: Axis | None = None
    stands_for: tuple[tuple[str, int], ...] = ()
    size: SizeAxis | None = None
    states: tuple[StateAxis, ...] = ()
    axes: tuple[str, ...] = ()
    parts: tuple[FacePlan, ...] = ()
    px: int = 0
    state: str = ""
    taken_from: str = ""

    @property
    def varies(self) -> bool:
        """Whether its font is a variable one."""
        return bool(self.axes)

    @property
    def masters(self) -> tuple[float, ...]:
        """The factors of stroke widths at which its outlines are made, besides 1."""
        return tuple(region.factor for region in regions_of(self.axis, self.size))

    @property
    def names(self) -> frozenset[str]:
        """The names by which a bundle asks for it."""
        return frozenset((self.name, *self.axes))


def face_plans(config: Config) -> tuple[FacePlan, ...]:
    """Return every face in the order of the config, which was found valid; the only one where it names none."""
    static = static_plans(config)
    by_face: dict[str, dict[str, AxisTable]] = {}
    for name, table in config.axis.items():
        by_face.setdefault(base_of(table) or static[0].name, {})[name] = table
    variable = [_variable(static, face, tables) for face, tables in by_face.items()]
    wanted = {name for bundle in config.bundle.values() for name in bundle.faces}
    sized = (_static_of_size(plan, px) for plan in variable if plan.size for px in plan.size.drawn)
    return (*static, *variable, *(plan for plan in sized if plan.name in wanted))


def base_of(table: AxisTable) -> str:
    """Return the face that an axis starts from; empty for the only one."""
    return next(iter(table.faces), table.of)


def static_plans(config: Config) -> tuple[FacePlan, ...]:
    """Return the faces that do not vary."""
    if not config.face:
        return (FacePlan(ONLY, REGULAR, ONLY, tuple(config.icons.from_)),)
    return tuple(_plan(config.face, name) for name in config.face)


def _variable(static: tuple[FacePlan, ...], face: str, tables: Mapping[str, AxisTable]) -> FacePlan:
    """Return the variable face that starts from a static one, along all of its axes."""
    usual = next((plan for plan in static if plan.name == face), static[0])
    plan = usual._replace(name=next(iter(tables)), axes=tuple(tables), stands_for=((usual.name, usual.weight),))
    if WEIGHT in tables:
        plan = _with_weights(plan, tables[WEIGHT], static)
    if SIZE in tables:
        plan = plan._replace(size=size_axis(tables[SIZE]))
    states = tuple(
        StateAxis(name, table.tag or tag_for(name), table.faces[1]) for name, table in tables.items() if table.faces
    )
    others = [next(other for other in static if other.name == state.face) for state in states]
    stands_for = dict(plan.stands_for) | {other.name: other.weight for other in others}
    plan = plan._replace(states=states, stands_for=tuple(stands_for.items()))
    parts = [_sized(plan, px, patterns) for px, patterns in tables[SIZE].drawings.items()] if SIZE in tables else []
    for state, other in zip(states, others, strict=True):
        name = f"{plan.name}:{state.name}"
        parts.append(other._replace(name=name, axis=plan.axis, size=plan.size, axes=plan.axes, state=state.name))
    return plan._replace(parts=tuple(parts))


def _with_weights(plan: FacePlan, table: AxisTable, static: tuple[FacePlan, ...]) -> FacePlan:
    """Return a face with a weight axis, and the static faces that lie on it."""
    stops = {WeightStop(int(weight), factor) for weight, factor in table.strokes.items()}
    stops.add(WeightStop(plan.weight, 1.0))
    axis = Axis(plan.weight, tuple(sorted(stops)))
    like = [other for other in static if other.root == plan.root]
    within = [other for other in like if axis.lightest.weight <= other.weight <= axis.heaviest.weight]
    return plan._replace(axis=axis, stands_for=tuple((other.name, other.weight) for other in within))


def _sized(plan: FacePlan, px: str, patterns: list[str]) -> FacePlan:
    """Return the part of a face that serves one size; it varies with the weight, not with the size."""
    name = sized_name(int(px))
    return plan._replace(
        name=f"{plan.name}:{px}", root=name, patterns=tuple(patterns), size=None, states=(), px=int(px), stands_for=()
    )


def static_size_names(config: Config) -> list[str]:
    """Return the names of the static faces that hold the drawings of one size each."""
    return [f"{SIZE}-{px}" for px in config.axis[SIZE].drawings] if SIZE in config.axis else []


def _static_of_size(plan: FacePlan, px: int) -> FacePlan:
    """Return the static face with the drawings of a size of a variable one, for programs without variations."""
    parts = tuple(part for part in plan.parts if part.px)
    name, strokes = f"{SIZE}-{px}", plan.strokes * (plan.size.factor_near(px) if plan.size else 1.0)
    return FacePlan(name, plan.weight, plan.root, plan.patterns, strokes, parts=parts, px=px, taken_from=plan.name)


def sized_name(px: int) -> str:
    """Return the name under which the drawings for a size are found; no face can have it."""
    return f"{px} px"


def size_axis(table: AxisTable) -> SizeAxis:
    """Return the axis of a table, which was found valid."""
    drawn = sorted(map(int, table.drawings))
    factors = {float(px): factor for px, factor in table.strokes.items()}
    known = [*drawn, *factors]
    own = table.own or next((px for px in _USUAL if px > max(drawn, default=0)), round(max(known, default=0) * 1.25))
    limits = [table.limits.get(str(px), (px + other) / 2) for px, other in pairwise([*drawn, own])]
    stops: dict[float, float] = {}
    if factors:
        ends = SizeAxis(own, tuple(drawn), stops=tuple(SizeStop(px, 1.0) for px in factors))
        stops = factors | {float(own): factors.get(float(own), 1.0)}
        axis = SizeAxis(own, stops=tuple(SizeStop(px, stops[px]) for px in sorted(stops)))
        stops |= {px: axis.factor(px) for px in (float(ends.least), float(ends.most))}
    return SizeAxis(own, tuple(drawn), tuple(limits), tuple(SizeStop(px, stops[px]) for px in sorted(stops)))


def tag_for(name: str) -> str:
    """Return a tag of four capitals for the axis of a state: its letters, without vowels after the first where
    enough are left."""
    letters = [c for c in name.upper() if c.isascii() and c.isalnum()]
    first, rest = letters[:1] if letters and letters[0].isalpha() else ["X"], letters[1:]
    short = [c for c in rest if c not in "AEIOU"]
    return "".join([*first, *(short if len(short) > 2 else rest), "X", "X", "X"])[:4]


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
