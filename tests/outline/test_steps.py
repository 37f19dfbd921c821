"""Steps of outlining by themselves, at the limits of what each promises."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

import numpy as np
import pyclipper
import pytest

from oddpeg.diagnostics import Diagnostic
from oddpeg.geometry.boxes import Box
from oddpeg.outline.clip import Contours, Silhouette, combine, unite
from oddpeg.outline.collect import Step
from oddpeg.outline.dashes import Dashed, dash_all
from oddpeg.outline.masters import can_vary, varying_outlines
from oddpeg.outline.model import ColourMode, Options, Outline
from oddpeg.outline.pipeline import OutlineResult
from oddpeg.outline.placement import Em, Grids
from oddpeg.outline.polygons import GRID, Polygons
from oddpeg.outline.regions import regions_of
from oddpeg.outline.retrace import chained
from oddpeg.outline.rounding import keep_within, settle
from oddpeg.outline.verify import Drawn, Painted, disagree
from oddpeg.outline.window import ink_windows, outline_colours, outline_drawings, windowed_layers
from oddpeg.svg.layers import Fill
from oddpeg.svg.model import Colour, Drawing
from oddpeg.svg.reader import read_drawing
from support.fonts import square
from support.outlines import contours

# -- windows ------------------------------------------------------------------------------


def drawing(shapes: str, frame: str = "0 0 24 24") -> Drawing:
    return read_drawing(f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="{frame}">{shapes}</svg>'.encode())


INKED = {
    "ten wide, four high": ('<path d="M20 24h10v4H20z"/>', "10 20 48 24", (18.75, 19.75, 12.5)),
    "no ink": ('<path d="M1 1h2"/>', "0 0 24 24", None),
    "white on top": (
        '<path d="M2 3h6v12H2z"/><path fill="#fff" d="M2 3h6v4H2z"/>', "0 0 24 24", (0, 6, 10),
    ),
    "beyond its frame": ('<path d="M-9 4h12v2H-9z"/>', "0 0 24 24", (-0.375, 3.125, 3.75)),
}  # fmt: skip


def test_windows_are_squares_around_the_ink() -> None:
    drawings = [drawing(shapes, frame) for shapes, frame, _ in INKED.values()]
    options = Options(Em(1000), fit="ink", padding=0.1)
    found = ink_windows(drawings, options)
    for window, (what, (_, _, wanted)) in zip(found, INKED.items(), strict=True):
        if wanted is None:
            assert window is None, what
        else:
            assert window == pytest.approx(Box(*wanted, wanted[2]), abs=0.004), what
    assert [layer.window for layer in windowed_layers(drawings, options)] == found
    assert [layer.window for layer in windowed_layers(drawings, options._replace(fit="frame"))] == [None] * 4


def extent(outlines: Sequence[Outline]) -> list[int]:
    xy = np.concatenate([outline.xy for outline in outlines])
    return [*xy.min(axis=0).tolist(), *xy.max(axis=0).tolist()]


def test_layers_of_colour_share_the_window_of_their_drawing() -> None:
    shade = (
        '<linearGradient id="g" gradientUnits="userSpaceOnUse" x1="4" x2="12"><stop stop-color="red"/>'
        '<stop offset="1" stop-color="blue"/></linearGradient>'
    )
    drawings = [
        drawing('<path fill="#c00" d="M4 4h8v4H4z"/><path fill="#00c" d="M4 8h8v4H4z"/>'),
        drawing('<path d="M4 4h8v8H4z"/>'),
        drawing(f'{shade}<path fill="url(#g)" d="M4 4h8v8H4z"/><path fill="#0c0" d="M7 7h2v2H7z"/>'),
    ]
    options = Options(Em(1000, 0.25), fit="ink", padding=0.1, colour=ColourMode.GRADIENTS)
    two, plain, shaded = outline_colours(drawings, options)
    assert [layer.fill.colour for layer in two] == [Colour(204, 0, 0), Colour(0, 0, 204)]
    assert plain == [], "its colour is the text's"
    for layers in (two, shaded):
        assert extent([layer.outline for layer in layers]) == [100, -150, 900, 650]
    matrix = shaded[0].fill.matrix  # of the gradient, to font units
    assert [matrix.a * x + matrix.c * 4 + matrix.e for x in (4, 12)] == pytest.approx([100, 900], abs=0.5)
    assert [matrix.b * 4 + matrix.d * y + matrix.f for y in (4, 12)] == pytest.approx([650, -150], abs=0.5)
    flat = outline_colours(drawings, options._replace(colour=ColourMode.FLAT, fit="frame"))
    assert flat[2][0].fill.gradient is None and extent([flat[2][0].outline]) == [167, 250, 500, 583]


def test_frames_cut_wherever_they_begin() -> None:
    options = Options(Em(1000, 0.25))
    for beyond in ("M-90 -90h300v300h-300z", "M9 19h26v26h-26z"):
        glyph = outline_drawings([drawing(f'<path d="{beyond}"/>', "10 20 24 24")], options)[0]
        assert glyph.cut and extent([glyph]) == [0, -250, 1000, 750] and len(glyph.xy) == 4
    tall = drawing('<path d="M-9 4h12v2H-9z"/>')  # its window reaches to the left of its frame, where no ink may be
    assert extent(outline_drawings([tall], options._replace(fit="ink", padding=0.1))) == [100, -17, 900, 517]


@pytest.mark.parametrize("side", ["M-6 8h9v8h-9z", "M21 8h9v8h-9z", "M8 -6h8v9h-8z", "M8 21h8v9h-8z"])
def test_what_white_hides_beyond_the_frame_is_not_cut(side: str) -> None:
    body = f'<path d="M0 0h24v24H0z"/><path d="{side}"/><path fill="#fff" d="{side}"/>'
    hidden, shown = outline_drawings([drawing(body), drawing(f'<path d="{side}"/>')], Options(Em(1008)))
    assert not hidden.cut and shown.cut


def test_narrow_frames_stand_in_the_middle_of_a_square() -> None:
    shade = (
        '<linearGradient id="g" gradientUnits="userSpaceOnUse" x2="12"><stop stop-color="red"/>'
        '<stop offset="1" stop-color="blue"/></linearGradient>'
    )
    narrow = drawing(f'{shade}<path fill="url(#g)" stroke="#000" stroke-width="2" d="M3 3h6v18H3z"/>', "0 0 12 24")
    options = Options(Em(960, 0.25), fit="square", colour=ColourMode.GRADIENTS, masters=(1.0,))
    (glyph,), (layers,) = outline_drawings([narrow], options), outline_colours([narrow], options)
    (varying,) = varying_outlines([narrow], options)
    assert varying is not None and glyph.advance == 960 == varying.outline.advance
    wanted = [240 + 80, -240 + 80, 240 + 400, 720 - 80]
    assert extent([glyph]) == wanted == extent([varying.outline]) == extent([layer.outline for layer in layers])
    matrix = layers[0].fill.matrix
    assert [matrix.a * x + matrix.e for x in (0, 12)] == pytest.approx([240, 720])


def test_what_has_nothing_to_vary_does_not() -> None:
    dot, line_ = (
        drawing(f'<path d="M2 2h9v9z"/><path fill="none" stroke="#000" stroke-linecap="{cap}" d="M5 15h0"/>')
        for cap in ("butt", "round")
    )
    none, some = varying_outlines([dot, line_], Options(Em(960), masters=(0.5, 2.0)))
    assert none is None and some is not None and len(some.masters) == 2


# -- points kept as drawn -----------------------------------------------------------------

# a parabola in two parts: an outline that is made anew has one, whose control is (300, 100)
CLIP = '<clipPath id="c"><path d="M0 0h900v900H0z"/></clipPath>'
CURVE = "M100 100Q200 100 275 125Q350 150 400 200"
ON_GRID = f"{CURVE}v200h-300z"
FULL = [(100, 100), (200, 100), (350, 150), (400, 200), (400, 400), (100, 400)]  # without the point that is implied
KEPT = {
    "as drawn": (f'<path d="{ON_GRID}"/>', FULL),
    "moved": (f'<path transform="translate(3 -4)" d="{ON_GRID}"/>', [(x + 3, y - 4) for x, y in FULL]),
    "turned": (f'<path transform="matrix(0 1 -1 0 1000 0)" d="{ON_GRID}"/>', [(1000 - y, x) for x, y in FULL]),
    "open": (f'<path d="{CURVE}v200h-300"/>', FULL),
    "closed twice": (f'<path d="{CURVE}v200h-300v-300z"/>', FULL),
    "a point twice": (f'<path d="{CURVE}v200l0 0h-300z"/>', FULL),
    "implied on half a unit": (
        '<path d="M100 100Q200 100 275.5 125Q351 150 401 200v200h-301z"/>',
        [(100, 100), (200, 100), (351, 150), (401, 200), (401, 400), (100, 400)],
    ),
    "nothing but implied points": (
        '<path d="M300 200Q400 200 400 300Q400 400 300 400Q200 400 200 300Q200 200 300 200z"/>',
        [(300, 200), (400, 200), (400, 400), (200, 400), (200, 200)],
    ),
    "two contours": (
        f'<path d="{ON_GRID}M500 100Q600 100 675 125Q750 150 800 200h-300z"/>',
        [*FULL, (500, 100), (600, 100), (750, 150), (800, 200), (500, 200)],
    ),
}
MADE = {
    "the first point is off": '<path d="M100.4 100Q200 100 275 125Q350 150 400 200v200h-299.6z"/>',
    "the height of one is off": f'<path d="{CURVE}v200.4h-300z"/>',
    "a late point is off": f'<path d="{ON_GRID}' + "M500 500h9v9z" * 5 + 'M600 500h9.6v9z"/>',
    "one halfway, but of lines": f'<path d="{CURVE}v200h-100.5h-199.5z"/>',
    "wound the other way": '<path d="M100 400h300v-200Q350 150 275 125Q200 100 100 100z"/>',
    "even-odd": f'<path fill-rule="evenodd" d="{ON_GRID}"/>',
    "stroked": f'<path fill="none" stroke="#000" d="{ON_GRID}"/>',
    "filled and stroked": f'<path stroke="#000" d="{ON_GRID}"/>',
    "two paths": f'<path d="{ON_GRID}"/><path d="M500 100h9v9z"/>',
    "overlapping": f'<path d="{ON_GRID}M150 390h100v100h-100z"/>',
    "cubics": f'<path d="{CURVE}C400 250 400 300 400 400h-300z"/>',
    "cut by the frame": f'<path d="{CURVE}v200h-410z"/>',
    "clipped": f'{CLIP}<path clip-path="url(#c)" d="{ON_GRID}"/>',
}


def spots(glyph: Outline) -> list[tuple[int, int]]:
    """The points of a glyph, as the drawing's coordinates name them."""
    return sorted((x, 896 - y) for x, y in glyph.xy.tolist())


def test_drawings_on_whole_units_keep_their_points() -> None:
    bodies = MADE | {what: body for what, (body, _) in KEPT.items()}
    drawings = [drawing(body, "0 0 1024 1024") for body in bodies.values()]
    together = outline_drawings(drawings, Options(Em(1024)))
    for what, one, glyph in zip(bodies, drawings, together, strict=True):
        alone = outline_drawings([one], Options(Em(1024)))[0]
        assert (alone.xy == glyph.xy).all() and (alone.ends == glyph.ends).all(), what
        if what in KEPT:
            assert spots(glyph) == sorted(KEPT[what][1]), what
        else:
            assert (200, 100) not in spots(glyph), what
        assert sum(np.sum(c[:, 0] * np.roll(c[:, 1], -1) - c[:, 1] * np.roll(c[:, 0], -1)) for c in contours(glyph)) < 0


# -- the look at finished outlines --------------------------------------------------------

Corners = Sequence[complex]


def box(left: float, bottom: float, right: float, top: float) -> Corners:
    return [complex(left, bottom), complex(right, bottom), complex(right, top), complex(left, top)]


WIDE = (-3000.0, -3000.0, 3000.0, 3000.0)


def painted(*icons: Sequence[tuple[Corners, str]], frame: tuple[float, ...] = WIDE) -> Painted:
    """Icons of regions, each a polygon and what it does: "ink", "white" or
    "within" (limits the next)."""
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

    for height, differs in ((499, False), (501, False), (505.0, False), (495.0, False), (509, True), (491, True)):
        found = disagree(painted([(boot(498), "ink")]), drawn([boot(height)]), UNIT)
        assert found.tolist() == [0] * (abs(height - 498) > 8 and differs), height
    for here, there in ((502, 492), (508, 498)):  # 6 units below the line, or above it
        assert disagree(painted([(boot(here), "ink")]), drawn([boot(there)]), UNIT).tolist() == [0]
    both = painted([(boot(499), "ink")], [(boot(508), "ink")])
    assert disagree(both, drawn([boot(501)], [boot(498)]), UNIT).tolist() == [1], "each by its own lines"
    for height, differs in ((505.0, False), (507.0, True)):  # 3 thousandths aside are 6 units
        found = disagree(painted([(boot(499), "ink")]), drawn([boot(height)]), UNIT)
        assert found.tolist() == [0] * differs, height


def test_faults_are_found_wherever_they_are() -> None:
    for notch in (
        box(300, 200, 900, 300),
        box(300, 1300, 900, 1400),
        box(1400, 200, 1500, 900),
        box(300, 800, 400, 1400),
    ):
        assert disagree(painted([(PLATE, "ink"), (notch, "white")]), drawn([PLATE]), UNIT).tolist() == [0], notch
    spots_ = [box(x, y, x + 20, y + 20) for x in range(-2000, 0, 500) for y in range(-2000, 2001, 1000)]
    crowd = [(PLATE, "ink"), *((spot, "ink") for spot in spots_)]
    scene = painted(*[crowd] * 4)
    whole = [PLATE, *spots_]
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


# -- dashes -------------------------------------------------------------------------------


def line(*points: complex) -> list[list[complex]]:
    return [[a, a + (b - a) / 3, b - (b - a) / 3, b] for a, b in pairwise(points)]


def dashed(*lines: list[list[complex]], pattern: tuple[float, ...], offset: float = 0, closed: bool = False) -> Dashed:
    control = np.array([c for one in lines for c in one])
    starts = np.cumsum([0, *(len(one) for one in lines[:-1])]).tolist()
    return Dashed(control, np.ones(len(control), int), starts, [closed] * len(lines), pattern, offset, 0.1)


def ends_of(path: Dashed) -> list[list[tuple[complex, complex]]]:
    """The two ends of every piece, by dash."""
    (found,) = dash_all([path])
    assert found is not None
    rows = [(complex(np.round(a, 5)), complex(np.round(b, 5))) for a, b in found.control[:, [0, 3]].tolist()]
    bounds = [*found.starts, len(rows)]
    return [rows[low:high] for low, high in pairwise(bounds)]


def test_dashes_are_where_their_lengths_say() -> None:
    ten, nothing = line(0, 10), line(3 + 3j, 3 + 3j)
    assert ends_of(dashed(ten, pattern=(3, 2))) == [[(0, 3)], [(5, 8)]]
    assert ends_of(dashed(ten, pattern=(3, 2), offset=1)) == [[(0, 2)], [(4, 7)], [(9, 10)]]
    assert ends_of(dashed(ten, pattern=(3, 2), offset=-1)) == [[(1, 4)], [(6, 9)]]
    assert ends_of(dashed(ten, pattern=(3, 2), offset=3)) == [[(2, 5)], [(7, 10)]]
    assert ends_of(dashed(ten, pattern=(5, 5))) == [[(0, 5)]], "none that begins where the way ends"
    assert ends_of(dashed(ten, pattern=(2, 3, 1, 1))) == [[(0, 2)], [(5, 6)], [(7, 9)]]
    assert ends_of(dashed(nothing, ten, pattern=(3, 2))) == [[(0, 3)], [(5, 8)]], "a path without length has none"
    assert ends_of(dashed(ten, line(2j, 4 + 2j), pattern=(3, 2))) == [[(0, 3)], [(5, 8)], [(2j, 3 + 2j)]]
    around = line(0, 6, 6 + 6j, 6j, 0)
    assert ends_of(dashed(around, pattern=(8, 4))) == [[(0, 6), (6, 6 + 2j)], [(6 + 6j, 6j), (6j, 4j)]]
    glued = ends_of(dashed(around, pattern=(8, 4), offset=4, closed=True))
    assert glued == [[(6 + 2j, 6 + 6j), (6 + 6j, 2 + 6j)], [(4j, 0), (0, 4)]], "one dash across the start"
    alone = ends_of(dashed(around, pattern=(12, 12), offset=6, closed=True))
    assert alone == [[(6j, 0), (0, 6)]], "and if it is the only one"
    dots = ends_of(dashed(line(0, 6, 6 + 6j, 6j), pattern=(0, 4)))
    assert np.array(dots)[:, 0, 1] == pytest.approx(np.array([0, 4, 6 + 2j, 6 + 6j, 2 + 6j]), abs=1e-4)


def test_dashes_finer_than_any_glyph_leave_the_line_whole() -> None:
    ten = line(0, 10)
    finest, fine = dash_all([dashed(ten, pattern=(0.00249, 0.0025)), dashed(ten, pattern=(0.0026, 0.0026))])
    assert fine is not None and len(fine.control) == 1924 and finest is None
    short = ends_of(dashed(line(0, 0.5), pattern=(0.2, 0.1)))
    assert short == [[(0, 0.2)], [(0.3, 0.5)]]


# -- clipping and regions -----------------------------------------------------------------


def test_limits_count_wherever_they_wind() -> None:
    plate: Contours = [[[0, 0], [90, 0], [90, 90], [0, 90]]]
    twice: Contours = [[[10, 10], [50, 10], [50, 50], [10, 50]], [[30, 30], [70, 30], [70, 70], [30, 70]]]
    for kind, wanted in ((pyclipper.CT_INTERSECTION, 2800), (pyclipper.CT_DIFFERENCE, 8100 - 2800)):
        assert sum(map(pyclipper.Area, combine(kind, plate, twice))) == wanted
    assert combine(pyclipper.CT_INTERSECTION, plate, []) == [] == combine(pyclipper.CT_DIFFERENCE, [], plate)
    flat: Contours = [[[0, 0], [9, 0]]]
    assert combine(pyclipper.CT_DIFFERENCE, plate, flat) and unite(flat, pyclipper.PFT_NONZERO, []) == []
    assert sum(map(pyclipper.Area, unite(twice, pyclipper.PFT_EVENODD, []))) == 3200 - 800


def test_plans_paint_in_their_order() -> None:
    plate: Contours = [[[0, 0], [90, 0], [90, 90], [0, 90]]]
    hole: Contours = [[[30, 30], [60, 30], [60, 60], [30, 60]]]
    ink, white = Step(0, False, False), Step(1, True, False)
    limit = ((Step(1, False, False),),)
    plans = {
        (ink,): 8100,
        (ink, white): 7200,
        (white, ink): 8100,
        (ink, white, Step(1, False, False)): 8100,
        (Step(0, False, False, limit),): 900,
        (Step(0, False, False, limit), white): 0,
        (ink, Step(0, True, False, limit)): 7200,
    }
    for sound in (set[int](), {0, 1}):
        silhouette = Silhouette({0: plate, 1: hole}, sound, {0, 1})
        for plan, area in plans.items():
            assert sum(map(pyclipper.Area, silhouette.of(plan))) == area, plan


def test_rings_are_wound_as_silhouettes() -> None:
    outer, inner = box(0, 0, 90, 90), box(20, 20, 70, 70)
    for first, second in ((outer, inner), (outer[::-1], inner), (inner, outer), (inner, outer[::-1])):
        xy, contour = np.array([*first, *second]), np.repeat([0, 1], 4)
        zeros = np.zeros(8)
        polygons = Polygons(xy, np.full(8, -1), zeros, zeros, contour, np.zeros(2, int))
        found = regions_of(polygons, [True], set())
        areas = [pyclipper.Area(c) / GRID**2 for c in found.contours[0]]
        assert found.sound == {0} == found.clean and sorted(areas) == [-2500, 8100]


def test_rings_whose_edges_nearly_touch_are_clipped() -> None:
    for gap, clean in ((0.002, False), (0.006, True)):
        reach = 50 - gap
        diamond = [50 + reach + 50j, 50 + (50 + reach) * 1j, 50 - reach + 50j, 50 + (50 - reach) * 1j]
        xy, zeros = np.array([*box(0, 0, 100, 100), *diamond]), np.zeros(8)
        polygons = Polygons(xy, np.full(8, -1), zeros, zeros, np.repeat([0, 1], 4), np.zeros(2, int))
        assert bool(regions_of(polygons, [True], set()).clean) is clean


def test_polygons_are_numbered_anew_when_joined() -> None:
    def part(*regions: int) -> Polygons:
        count, contour = 3 * len(regions), np.repeat(np.arange(len(regions)), 3)
        return Polygons(
            np.zeros(count, dtype=np.complex128),
            np.full(count, -1),
            np.zeros(count),
            np.ones(count),
            contour,
            np.array(regions),
        )

    found = Polygons.join([part(4, 4), part(7), part(1, 2)])
    assert found.contour.tolist() == np.repeat(np.arange(5), 3).tolist() and found.region.tolist() == [4, 4, 7, 1, 2]


def test_chains_begin_where_something_ends() -> None:
    contour = np.array([0, 0, 0, 1, 1, 1, 1, 2])
    goes_on = np.array([True, True, True, True, False, True, False, True])
    found = chained(contour, goes_on)
    assert found.rows.tolist() == [0, 1, 2, 4, 5, 6, 3, 7]
    assert found.first.tolist() == [0, 3, 5, 7] and found.last.tolist() == [2, 4, 6, 7]


def test_fills_and_strokes_are_painted_in_their_order() -> None:
    white_stroke = '<path stroke="#fff" stroke-width="4" {}d="M4 4h16v16H4z"/>'
    above, below = (
        outline_drawings([drawing(white_stroke.format(order))], Options(Em(1008)))[0]
        for order in ("", 'paint-order="stroke" ')
    )
    assert extent([above]) == [6 * 42, 882 - 18 * 42, 18 * 42, 882 - 6 * 42]
    assert extent([below]) == [4 * 42, 882 - 20 * 42, 20 * 42, 882 - 4 * 42]


def test_points_a_hair_outside_are_moved_to_the_edge() -> None:
    z = np.array([-1 + 5j, 5 - 1j, 12 + 5j, 5 + 12j, -9 + 5j, 5 + 30j, 4.4 + 4.6j])
    found = keep_within(z, np.tile([0.0, 0.0, 11.0, 11.0], (7, 1)))
    assert found.tolist() == [5j, 5, 11 + 5j, 5 + 11j, -9 + 5j, 5 + 30j, 4 + 5j]


def test_points_between_two_controls_are_implied() -> None:
    leaf = np.array([4 + 4j, 6 + 4j, 8 + 0j, 0 + 0j, 2 + 4j])  # the first is midway between the last and the second
    on = np.array([True, False, True, True, False])
    for first in range(5):
        found = settle(np.roll(leaf, -first) * 10, np.roll(on, -first), np.zeros(5, dtype=np.int64))
        assert found.z.tolist() == [0, 20 + 40j, 60 + 40j, 80] and found.on.tolist() == [True, False, False, True]
    drop = np.array([5 + 5j, 8 + 5j, 5 + 0j, 2 + 5j]) * 10  # one point is left, which is not implied
    found = settle(drop, np.array([True, False, True, False]), np.zeros(4, dtype=np.int64))
    assert sorted(found.z.tolist(), key=str) == [20 + 50j, 50 + 0j, 80 + 50j]


# -- results and placement ----------------------------------------------------------------


def test_a_result_keeps_what_was_said_of_it() -> None:
    said = Diagnostic("no-ink", "draws nothing")
    found = OutlineResult(None, [said], said, "Buoy", "Floats").with_outlines([square(9), square(8)], [Fill()], 0)
    assert (found.problem, found.diagnostics, found.title, found.description) == (said, [said], "Buoy", "Floats")
    assert found.outline is not None and [layer.fill for layer in found.layers] == [Fill()]


@pytest.mark.parametrize(
    ("shapes", "able"),
    [
        ('<path d="M2 2h9v9z"/>', False),
        ('<path d="M2 2h9v9z" stroke="#000"/>', True),
        ('<path d="M2 2h9v9z" stroke="#000"/><path fill="#fff" d="M2 2h9v9z"/>', False),
        ('<path d="M2 2h9v9z" stroke="#fff"/>', False),
        (f'{CLIP}<path clip-path="url(#c)" d="M2 2h9v9z" stroke="#000"/>', False),
        (f'{CLIP}<path clip-path="url(#c)" d="M2 2h9v9z"/><path d="M2 2h9v9z" stroke="#000"/>', True),
    ],
)
def test_what_can_vary_along_an_axis(shapes: str, able: bool) -> None:
    assert can_vary(drawing(shapes)) is able


def test_grids_are_counted() -> None:
    found = Grids.of([24, 24 + 9e-7, 16, 1, 1])
    assert found.whole == {24: 2, 16: 1, 1: 2} and not found.broken
    assert Grids.of([24.000002]) == ({}, True) == Grids.of([0.4]) and Grids.of([24, 0.0]) == ({24: 1}, True)
