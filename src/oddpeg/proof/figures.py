"""The figures of a proof: glyphs of a finished font against their drawings, as our reader and a witness see them."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from typing import NamedTuple

from oddpeg.diagnostics import Diagnostic, DrawingError
from oddpeg.isolation import map_isolating_failures
from oddpeg.outline.model import ColourMode
from oddpeg.outline.translucent import read_settled
from oddpeg.outline.widened import widened
from oddpeg.proof.colours import colour_differences
from oddpeg.proof.model import ProofTarget, RenderSettings
from oddpeg.proof.report import Figure
from oddpeg.proof.witness import WitnessView, witness_coverages
from oddpeg.raster.coverage import Coverage, Views, differences, drawing_coverage, glyph_coverage, load_font
from oddpeg.svg.model import Drawing, Effect, Translucent
from oddpeg.svg.stroke_widths import with_strokes


class TargetResult(NamedTuple):
    """The figures of one target, or the error that prevented them."""

    figures: list[Figure]
    problem: Diagnostic | None = None


class Rendered(NamedTuple):
    """A drawing and its glyph at one size.

    Attributes:
        views: both, the drawing painted by our own painter.
        for_witness: the drawing for a witness; None where it is not shown with the strokes that it has.
    """

    views: Views
    for_witness: WitnessView | None


def target_results(
    settings: RenderSettings, sizes: Sequence[int], targets: Sequence[ProofTarget]
) -> list[TargetResult]:
    """Return the figures of each target at each size, in pixels to the em."""

    def work(some: Sequence[ProofTarget]) -> list[TargetResult]:
        if settings.colour is not ColourMode.NONE:
            return [TargetResult(list(_colour_figures(settings, sizes, target))) for target in some]
        return [TargetResult(figures) for figures in _plain_figures(settings, sizes, some)]

    return map_isolating_failures(work, targets, failed_target)


def failed_target(target: ProofTarget, problem: Diagnostic) -> TargetResult:
    """Return the result for a target that caused an error."""
    return TargetResult([], problem._replace(where=target.icon))


def _colour_figures(settings: RenderSettings, sizes: Sequence[int], target: ProofTarget) -> Iterator[Figure]:
    mode = ", with gradients" if settings.colour is ColourMode.GRADIENTS else ""
    for px in sizes:
        for part, apart in colour_differences(settings, target, px).items():
            yield Figure(target.icon, px, *apart, settings.face, settings.weight, part + mode)


def _plain_figures(
    settings: RenderSettings, sizes: Sequence[int], targets: Sequence[ProofTarget]
) -> Iterator[list[Figure]]:
    """Yield the figures of each target."""
    rendered = [[(px, rendering(settings, target, px)) for px in sizes] for target in targets]
    both = [[(px, shown) for px, shown in row if shown is not None] for row in rendered]
    opinions = iter(opinions_on(settings, [shown for row in both for _, shown in row]))
    for target, row in zip(targets, both, strict=True):
        figures = []
        for px, (views, for_witness) in row:
            seen = next(opinions)
            witness = None if seen is None else differences(Views(seen, views.glyph)).wrong
            figure = Figure(target.icon, px, *differences(views), settings.face, settings.weight, witness=witness)
            asked = settings.witness is not None and for_witness is not None
            figures.append(figure._replace(unseen=asked and seen is None))
        yield figures


def rendering(settings: RenderSettings, target: ProofTarget, px: int) -> Rendered | None:
    """Return a drawing and its glyph at px pixels to the em, or None where the drawing cannot be used."""
    try:
        strokes = (settings.placed_at or 1.0) if target.codepoint in settings.fixed else settings.options.strokes
        as_drawn = read_settled(target.drawing, settings.options.translucent)
        (drawing,) = widened([as_drawn], strokes)
        placed = drawing if settings.placed_at is None else with_strokes(as_drawn, settings.placed_at)
    except DrawingError:
        return None
    exact = px * (1 - settings.options.em.drop)
    baseline = round(exact)
    viewport = settings.viewport(placed, px)
    shift = viewport.shift * px, baseline - exact
    scale = px / viewport.window.height
    margin = _margin(drawing, scale, px)
    wanted = drawing_coverage(drawing, px, viewport.width, shift, viewport.window, margin)
    font = load_font(settings.font, px, settings.weight)
    views = Views(wanted, glyph_coverage(font, target.codepoint, px, viewport.width, baseline, margin))
    left_out, kept = _faint_paint(drawing)
    if strokes != 1 or (left_out and kept):
        return Rendered(views, None)
    left, top = ((drawing.box[k] - viewport.window[k]) * scale + shift[k] + margin for k in (0, 1))
    noted = any(note.code == "partial-opacity" for note in drawing.notes)
    for_witness = WitnessView(
        target.drawing,
        drawing.box,
        left,
        top,
        scale,
        viewport.width + 2 * margin,
        px + 2 * margin,
        None if not noted else settings.options.translucent is not Translucent.DROP and not left_out,
    )
    return Rendered(views, for_witness)


def _faint_paint(drawing: Drawing) -> tuple[bool, bool]:
    """Return whether the silhouette of a drawing leaves out translucent paint, and whether it shows some."""
    faint = [paint.effect is Effect.NONE for shape in drawing.shapes for paint in shape.paints if paint.opacity < 1]
    return any(faint), not all(faint)


def _margin(drawing: Drawing, scale: float, px: int) -> int:
    """Return the pixels around the em in which a drawing that may reach beyond it has ink."""
    if drawing.em is None:
        return 0
    em, box = drawing.em, drawing.box
    before = max(em.x - box.x, em.y - box.y)
    behind = max(box.x + box.width - em.x - em.width, box.y + box.height - em.y - em.height)
    return min(math.ceil(max(before, behind, 0.0) * scale), 2 * px)


def opinions_on(settings: RenderSettings, rendered: Sequence[Rendered]) -> list[Coverage | None]:
    """Return the coverage of each drawing as the witness renders it; None where there is no witness, or it renders
    none."""
    opinions: list[Coverage | None] = [None] * len(rendered)
    asked = [number for number, shown in enumerate(rendered) if shown.for_witness is not None]
    if settings.witness is not None:
        views = [view for shown in rendered if (view := shown.for_witness) is not None]
        for number, coverage in zip(asked, witness_coverages(settings.witness, views), strict=True):
            opinions[number] = coverage
    return opinions
