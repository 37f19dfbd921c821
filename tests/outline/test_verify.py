"""The look at finished outlines: what it notices, and what it lets pass."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import pytest

from oddpeg.outline.collect import Step
from oddpeg.outline.verify import Drawn, Painted, disagree

Corners = Sequence[complex]


def box(left: float, bottom: float, right: float, top: float) -> Corners:
    return [complex(left, bottom), complex(right, bottom), complex(right, top), complex(left, top)]


WIDE = (-3000.0, -3000.0, 3000.0, 3000.0)


def painted(*icons: Sequence[tuple[Corners, str]], frame: tuple[float, ...] = WIDE) -> Painted:
    """Icons of regions, each a polygon and what it does: "ink", "white" or "within" (limits the next)."""
    xy: list[complex] = []
    sizes: list[int] = []
    icon: list[int] = []
    even_odd: list[bool] = []
    plans: list[list[Step]] = []
    for number, regions in enumerate(icons):
        plan: list[Step] = []
        limits: tuple[tuple[Step, ...], ...] = ()
        for corners, what in regions:
            region = len(sizes)
            xy += corners
            sizes.append(len(corners))
            icon.append(number)
            even_odd.append(False)
            if what == "within":
                limits = ((Step(region, False, False),),)
            else:
                plan.append(Step(region, what == "white", False, limits))
                limits = ()
        plans.append(plan)
    contour = np.repeat(np.arange(len(sizes)), sizes)
    frames = np.tile(frame, (len(icons), 1))
    return Painted(np.array(xy), contour, np.arange(len(sizes)), np.array(icon), np.array(even_odd), plans, frames)


def drawn(*icons: Sequence[Corners]) -> Drawn:
    corners = [c for outline in icons for c in outline]
    contour = np.repeat(np.arange(len(corners)), [len(c) for c in corners])
    icon = np.repeat(np.arange(len(icons)), [len(outline) for outline in icons])
    z = np.array([z for c in corners for z in c], dtype=np.complex128)
    return Drawn(z, np.ones(len(z), dtype=bool), contour.astype(np.int64), icon)


UNIT = 2.0  # font units, of an em of 2000
PLATE = box(300, 200, 1500, 1400)


@pytest.mark.parametrize(
    ("made", "differs"),
    [
        (PLATE, False),
        (box(300, 200, 1493.2, 1400), False),  # 4 thousandths along lines that lean by 0.53 radians: 6.9 across
        (box(300, 200, 1492.9, 1400), True),
        (box(306.8, 200, 1500, 1400), False),
        (box(307.1, 200, 1500, 1400), True),
        (box(300, 207.0, 1500, 1400), False),  # half as much where both lines 3 thousandths aside differ too: 7.2 down
        (box(300, 207.4, 1500, 1400), True),
        (box(300, 200, 1500, 1393.0), False),
        (box(300, 200, 1500, 1392.6), True),
    ],
)
def test_stretches_count_from_four_thousandths_on(made: Corners, differs: bool) -> None:
    for sides in ((made, PLATE), (PLATE, made)):
        assert disagree(painted([(sides[0], "ink")]), drawn([sides[1]]), UNIT).tolist() == [0] * differs


def test_an_edge_along_a_line_may_lie_on_either_side_of_it() -> None:
    def boot(height: float) -> Corners:
        """Its toe's upper edge runs along the line through its middle."""
        corners = [0, 1000, 1000 + height * 1j, 400 + height * 1j, 400 + 1000j, 1000j]
        return [z * np.exp(-0.53j) for z in corners]

    # the line is at 500; 3 thousandths aside are 6 units
    for here, there, differs in (
        (499, 501, False), (499, 505, False), (499, 507, True), (502, 492, True), (508, 498, True), (499, 491, False),
    ):  # fmt: skip
        found = disagree(painted([(boot(here), "ink")]), drawn([boot(there)]), UNIT)
        assert found.tolist() == [0] * differs, (here, there)
    both = painted([(boot(499), "ink")], [(boot(508), "ink")])
    assert disagree(both, drawn([boot(501)], [boot(498)]), UNIT).tolist() == [1], "each by its own lines"


def test_faults_are_found_wherever_they_are() -> None:
    for notch in (
        box(300, 200, 900, 300),
        box(300, 1300, 900, 1400),
        box(1400, 200, 1500, 900),
        box(300, 800, 400, 1400),
    ):
        assert disagree(painted([(PLATE, "ink"), (notch, "white")]), drawn([PLATE]), UNIT).tolist() == [0], notch
    small = [box(x, y, x + 20, y + 20) for x in range(-2000, 0, 500) for y in range(-2000, 2001, 1000)]
    crowd = [(PLATE, "ink"), *((one, "ink") for one in small)]
    scene = painted(*[crowd] * 4)
    whole = [PLATE, *small]
    assert disagree(scene, drawn(*[whole] * 4), UNIT).tolist() == []
    for lost in range(1, 21):
        made = [whole, whole, whole, [c for number, c in enumerate(whole) if number != lost]]
        assert disagree(scene, drawn(*made), UNIT).tolist() == [3], lost


def test_only_what_lies_within_the_frame_counts() -> None:
    frame = (400.0, 300.0, 1400.0, 1300.0)
    for made, differs in (
        (box(*frame), False),
        (box(390, 300, 1400, 1300), False),
        (box(410, 300, 1400, 1300), True),
        (box(400, 310, 1400, 1300), True),
        (box(400, 300, 1390, 1300), True),
        (box(400, 300, 1400, 1290), True),
        (box(200, 100, 1900, 1900), False),
    ):
        assert disagree(painted([(PLATE, "ink")], frame=frame), drawn([made]), UNIT).tolist() == [0] * differs, made


def test_every_icon_of_a_batch_is_looked_at_by_its_own_plan() -> None:
    hole = box(600, 500, 900, 800)
    icons = (
        [(PLATE, "ink")],
        [(PLATE, "ink"), (hole, "white")],
        [(hole, "within"), (PLATE, "ink")],
        [(hole, "white"), (PLATE, "ink")],
        [(hole, "ink"), (PLATE, "white"), (hole, "ink")],
        [(box(0, 0, 0.2, 0.2), "ink"), (PLATE, "ink"), (hole, "white")],
    )
    right = ([PLATE], [PLATE, hole[::-1]], [hole], [PLATE], [hole], [PLATE, hole[::-1]])
    scene = painted(*icons)
    assert disagree(scene, drawn(*right), UNIT).tolist() == []
    for number in range(len(icons)):
        wrong = [other if k != number else [box(0, 0, 50, 50)] for k, other in enumerate(right)]
        assert disagree(scene, drawn(*wrong), UNIT).tolist() == [number]
    swapped = [PLATE], [PLATE, hole], [PLATE], [hole], [hole], [PLATE]
    assert disagree(scene, drawn(*swapped), UNIT).tolist() == [1, 2, 3, 5]
    assert disagree(scene, drawn([], [], [], [], [], []), UNIT).tolist() == [0, 1, 2, 3, 4, 5]
    none = np.zeros(0, dtype=np.int64)
    nothing = Painted(none.astype(complex), none, none, none, none.astype(bool), [[]], np.zeros((1, 4)))
    assert disagree(nothing, drawn([]), UNIT).tolist() == []


def test_curves_of_outlines_are_followed() -> None:
    t = np.linspace(0, 1, 400, endpoint=False)
    arcs = [
        (1 - t) ** 2 * a + 2 * t * (1 - t) * b + t * t * c
        for a, b, c in ((0, 600, 600 + 600j), (600 + 600j, 600 + 1200j, 1200j), (1200j, -600 + 600j, 0))
    ]
    scene = painted([(np.concatenate(arcs).tolist(), "ink")])
    z = np.array([0, 600, 600 + 600j, 600 + 1200j, 1200j, -600 + 600j], dtype=np.complex128)
    on = np.array([True, False] * 3)
    made = Drawn(z, on, np.zeros(6, dtype=np.int64), np.zeros(1, dtype=np.int64))
    assert disagree(scene, made, UNIT).tolist() == []
    for control in (1, 3, 5):
        moved = z.copy()
        moved[control] += 40 * (z[control] - (300 + 600j)) / abs(z[control] - (300 + 600j))
        assert disagree(scene, made._replace(z=moved), UNIT).tolist() == [0], control
