"""Wrong outlines do not pass: the check against the drawing's own winding, and what takes their place."""

from __future__ import annotations

import io
from collections.abc import Callable
from pathlib import Path

import numpy as np
import ots
import pytest
from fontTools.ttLib import TTFont

from oddpeg.font.write.compile import FontCompiler
from oddpeg.font.write.glyphset import Glyph
from oddpeg.font.write.info import FontInfo
from oddpeg.geometry.contours import Contours
from oddpeg.geometry.curves import Curves
from oddpeg.outline import batch as outliner
from oddpeg.outline import clip as clipping
from oddpeg.outline.model import Method, Options, Outline
from oddpeg.outline.pipeline import outline_files
from oddpeg.outline.placement import Em
from oddpeg.outline.retrace import Runs
from oddpeg.outline.window import outline_drawings
from oddpeg.svg.reader import read_drawing
from support.outlines import ink, outline
from support.project import SQUARE

BODY = (
    '<circle cx="12" cy="12" r="8" fill="none" stroke="#000" stroke-width="2"/><path d="M1 1h3v3z"/><path d="M2'
    ' 12h20v1H2z"/>'
)


def test_curves_that_went_astray_give_way_to_lines(monkeypatch: pytest.MonkeyPatch) -> None:
    good = outline(BODY)
    from oddpeg.outline.fit import fit as whole

    def lossy(runs: Runs, curves: Curves, tolerance: float) -> Contours:
        found = whole(runs, curves, tolerance)
        return found._replace(on=found.on | True)  # as if every control were a corner

    monkeypatch.setattr(outliner, "fit", lossy)
    mended = outline(BODY)
    assert good.made is Method.CURVES and mended.made is Method.LINES and mended.on.all()
    assert ink(mended) == pytest.approx(ink(good), rel=0.01)


Broken = Callable[[clipping.Silhouette, list[object]], clipping.Contours]


def losing(which: int) -> Broken:
    """A clipper that loses one contour of every silhouette."""
    whole = clipping.Silhouette.of

    def of(self: clipping.Silhouette, plan: list[object]) -> clipping.Contours:
        found = whole(self, plan)  # type: ignore[arg-type]
        return [c for i, c in enumerate(found) if i != which]

    return of


@pytest.mark.parametrize("which", [0, 1, 2])
def test_a_contour_lost_in_clipping_is_noticed_and_made_otherwise(monkeypatch: pytest.MonkeyPatch, which: int) -> None:
    good = outline(BODY)
    monkeypatch.setattr(clipping.Silhouette, "of", losing(which))
    mended = outline(BODY)
    assert mended.made is Method.OVERLAPPING
    overlap = 2 * 2 * 1.0  # the bar crosses the ring twice, and both are there in full
    assert ink(mended) == pytest.approx(ink(good) + overlap, rel=0.01)


def test_only_the_faulty_icon_of_a_batch_changes(monkeypatch: pytest.MonkeyPatch) -> None:
    bodies = [
        SQUARE,
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24">{BODY}</svg>',
        SQUARE.replace("M4 4", "M2 3"),
    ]
    drawings = [read_drawing(b.encode()) for b in bodies]
    good = outline_drawings(drawings, Options(Em(1008)))
    monkeypatch.setattr(clipping.Silhouette, "of", losing(1))  # squares have but one contour, number 0
    mended = outline_drawings(drawings, Options(Em(1008)))
    assert [o.made for o in mended] == [Method.CURVES, Method.OVERLAPPING, Method.CURVES]
    for k in (0, 2):
        assert np.array_equal(good[k].xy, mended[k].xy) and np.array_equal(good[k].ends, mended[k].ends)


def test_what_cannot_be_made_otherwise_is_said(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(clipping, "combine", lambda kind, subject, other, rule=0: subject)  # white erases nothing
    svg = (
        '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24"><path d="M2 2h20v20H2z"/><path fill="#fff" d="M6'
        ' 6h9v9H6z"/></svg>'
    )
    (result,) = outline_files([svg.encode()], Options(Em(1008)))
    assert result.outline is not None and result.outline.made is Method.DOUBTFUL
    assert any(note.code == "doubtful" and "oddpeg proof" in note.cure for note in result.diagnostics)


def flagged(font: TTFont) -> list[bool]:
    glyphs = [font["glyf"][name] for name in font.getGlyphOrder()]
    return [bool(g.numberOfContours and g.flags[0] & 0x40) for g in glyphs]


def test_fonts_say_which_glyphs_overlap(tmp_path: Path) -> None:
    shapes: list[Outline] = [outline(BODY), outline(BODY), outline(BODY)]
    glyphs = [Glyph(f"g{i}", 0xE000 + i, o.advance, o.xy, o.on, o.ends, i == 1) for i, o in enumerate(shapes)]
    compiler = FontCompiler(glyphs, FontInfo("Tide", "1.0", 1008, 882, -126))
    for kind in ("ttf", "woff", "woff2"):
        data = compiler.write(kind)
        assert flagged(TTFont(io.BytesIO(data))) == [False, False, False, True, False], kind
        (tmp_path / kind).write_bytes(data)
        assert ots.sanitize(str(tmp_path / kind), capture_output=True).returncode == 0
