"""Drawings that lie on whole font units keep their points, and no others do."""

from __future__ import annotations

from oddpeg.outline.model import Options, Outline
from oddpeg.outline.placement import Em
from oddpeg.outline.window import outline_drawings
from support.outlines import drawing, ink

CLIP = '<clipPath id="c"><path d="M0 0h900v900H0z"/></clipPath>'
# a parabola in two parts: an outline that is made anew has one, whose control is (300, 100)
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
        assert ink(glyph) > 0
