"""Drawings that lie on whole font units keep their points, and no others do."""

from __future__ import annotations

from oddpeg.outline.model import Options, Outline
from oddpeg.outline.placement import Em
from oddpeg.outline.window import outline_drawings
from support.data import table
from support.outlines import drawing, ink

DATA = table("preserve")

KEPT = DATA["kept"]
MADE = DATA["made"]


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
            assert spots(glyph) == sorted(map(tuple, KEPT[what][1])), what
        else:
            assert (200, 100) not in spots(glyph), what
        assert ink(glyph) > 0
