"""The contact sheet as a page: the same tiles as the picture, with everything that was found, to be filtered by how
grave it is.

Values in, HTML out.
"""

from __future__ import annotations

from dataclasses import dataclass

from oddpeg.checking.contact_sheet import FINEST, ranked
from oddpeg.checking.normalize import PlainPath, plain_path
from oddpeg.checking.review import ReviewedDrawing
from oddpeg.checking.verdict import Verdict
from oddpeg.diagnostics import Diagnostic
from oddpeg.outline.placement import Em
from oddpeg.outputs.render import render


@dataclass(frozen=True, slots=True)
class Panel:
    """One icon on the page.

    Attributes:
        name: name of the icon.
        verdict: verdict on its drawing.
        mark: "error", "warning" or "fine"; selects the colour.
        grid: height of its frame, in user units.
        shape: width of the frame and path, in units of `grid`; None without a glyph.
        box: box of the ink, in the same units: left, top, width, height.
        findings: the most severe first.
    """

    name: str
    verdict: str
    mark: str
    grid: float
    shape: PlainPath | None
    box: tuple[float, float, float, float]
    findings: list[Diagnostic]


def contact_page(title: str, drawings: list[ReviewedDrawing], em: Em) -> str:
    """Return an HTML page without external resources."""
    panels = [_panel(drawing, em) for drawing in ranked(drawings)]
    counts = {mark: sum(p.mark == mark for p in panels) for mark in ("error", "warning", "fine")}
    return render("check-sheet.html.jinja", title=title, panels=panels, counts=counts, finest=FINEST)


def _panel(drawing: ReviewedDrawing, em: Em) -> Panel:
    result, m = drawing.examined, drawing.examined.measures
    mark = "error" if result.verdict is Verdict.REJECTED else result.worst.value
    shape, grid, box = None, 0.0, (0.0, 0.0, 0.0, 0.0)
    if result.outline is not None and m is not None:
        shape, grid = plain_path(result.outline, em, m.grid), m.grid
        wide = grid * m.ratio
        box = (m.box[0] * wide, (1 - m.box[3]) * grid, (m.box[2] - m.box[0]) * wide, (m.box[3] - m.box[1]) * grid)
    findings = sorted(result.diagnostics, key=lambda d: -d.level.rank)
    return Panel(
        drawing.label,
        result.verdict.value,
        mark if mark in ("error", "warning") else "fine",
        grid,
        shape,
        box,
        findings,
    )
