"""One icon: SVG bytes → outline and notes; the unit of caching, testing and parallel work.

Batches are for speed only: the result for an icon depends on its bytes and the options alone.
"""

from __future__ import annotations

import io
import math
import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from functools import partial
from itertools import islice
from typing import Literal, NamedTuple

from oddpeg.diagnostics import Diagnostic, DrawingError
from oddpeg.geometry.outlines import FlatOutlines
from oddpeg.isolation import map_isolating_failures
from oddpeg.outline.messages import TANGLED, colour_remarks, refusal, remarks
from oddpeg.outline.model import ColourLayer, ColourMode, Method, Options, Outline
from oddpeg.outline.placement import USUAL_DROP, ChosenEm, Em, Grids, drop_on
from oddpeg.svg.document import GZIP, unpacked
from oddpeg.svg.layers import Fill
from oddpeg.svg.model import Drawing
from oddpeg.svg.viewport import EM_BOX, drawing_box, em_box

BATCH = 500  # icons outlined at once: arrays long enough to pay, short enough to stay near the processor
_VIEW_BOX = re.compile(
    rb"""(?:(?:<\?[^>]{,200}>|<!--(?:(?!-->)[^\0]){,400}-->)\s*){,4}"""
    rb"""<svg\b[^<>]*?\sviewBox=["']\s*[-.\d]+ [-.\d]+ \d+ (\d+)["'][^<>]*>"""
)


@dataclass(slots=True)
class OutlineResult:
    """The result of outlining one file.

    Attributes:
        outline: None if there is a problem.
        diagnostics: notices for the designer.
        problem: the error that excludes the icon.
        title, description: from the file.
        layers: colour layers in paint order, if requested.
        masters: outlines at the ends of an axis, if requested and the icon varies.
    """

    outline: Outline | None
    diagnostics: list[Diagnostic]
    problem: Diagnostic | None = None
    title: str = ""
    description: str = ""
    layers: tuple[ColourLayer, ...] = ()
    masters: tuple[Outline, ...] = ()

    @property
    def outlines(self) -> list[Outline]:
        """All of them: its own, if it has one, those of layers, and those at the ends of an axis."""
        if self.outline is None:
            return []
        return [self.outline, *(layer.outline for layer in self.layers), *self.masters]

    def with_outlines(self, outlines: Iterable[Outline], fills: Sequence[Fill], masters: int) -> OutlineResult:
        """Return the same result with its outlines, in the order that `outlines` has them. masters: how many."""
        rest = iter(outlines)
        outline = next(rest, None)
        layers = tuple(ColourLayer(fill, next(rest)) for fill in fills)
        own_masters = tuple(islice(rest, masters))
        # written out: `replace` looks at every field by its name, which shows in a rebuild of thousands
        return OutlineResult(outline, self.diagnostics, self.problem, self.title, self.description, layers, own_masters)

    def take(self, outline: Outline) -> None:
        """Keep an outline, or why it makes no glyph."""
        self.problem = refusal(outline)
        if self.problem is None:
            self.diagnostics += remarks(outline)
            self.outline = outline


def frame_height(data: bytes) -> float | None:
    """Return the height of a file's frame in user units without reading its shapes; None where it has none."""
    if data[:2] == GZIP:
        try:
            data = unpacked(data)
        except DrawingError:
            return None
    match = _VIEW_BOX.match(data[:2048])  # its work may grow with the square of what it looks at
    if match and EM_BOX.encode() not in data[:2048]:  # as nearly every drawing begins; anything else is parsed
        return _positive(float(match[1]))
    from lxml import etree

    try:
        for _, root in etree.iterparse(io.BytesIO(data), events=("start",), no_network=True, load_dtd=False):
            return _positive((em_box(root) or drawing_box(root).box).height)
    except Exception:  # the reader reports the error
        return None
    return None


def _positive(height: float) -> float | None:
    return height if 0 < height < math.inf else None


def em_for(units: int | Literal["auto", "small"], drop: float | Literal["auto"], files: Iterable[bytes]) -> ChosenEm:
    """Return the em that drawings are placed on. units: per em; drop: share of the em below the baseline; "auto" for
    the value that suits the drawings, "small" for few units."""
    if isinstance(units, int) and drop != "auto":
        return ChosenEm(Em(units, drop), True)
    grids = grids_of(files)
    if units == "auto":
        chosen, fits = grids.units()
    else:
        chosen, fits = grids.few_units() if units == "small" else (units, True)
    grid = grids.commonest() if drop == "auto" else None
    share = drop if drop != "auto" else drop_on(grid) if grid else USUAL_DROP
    return ChosenEm(Em(chosen, share), fits, grid)


def kept_em(chosen: ChosenEm, kept: Em, files: Iterable[bytes]) -> ChosenEm:
    """Return an em of an earlier choice, with what the present one would be. files: the drawings."""
    if kept.places_like(chosen.em):
        return chosen
    on_line = chosen.grid is not None and abs(chosen.grid * kept.drop - round(chosen.grid * kept.drop)) < 1e-6
    on_grid = None if chosen.on_grid is None else grids_of(files).fit(kept.units)
    return ChosenEm(kept, on_grid, chosen.grid if on_line else None, chosen.em)


def grids_of(files: Iterable[bytes]) -> Grids:
    """Return the grids of drawings."""
    return Grids.of(h for h in map(frame_height, files) if h is not None)


def outline_files(files: Sequence[bytes], options: Options) -> list[OutlineResult]:
    """Return one result per file, in order."""
    return map_isolating_failures(
        partial(_outline_files, options), files, lambda _, problem: OutlineResult(None, [], problem)
    )


def _outline_files(options: Options, files: Sequence[bytes]) -> list[OutlineResult]:
    from oddpeg.outline.translucent import settle_translucent
    from oddpeg.outline.widened import overhang_notes, widened
    from oddpeg.outline.window import outline_colours, outline_drawings  # only where there is work

    results, as_drawn = _read(files, options)
    drawn = [result for result in results if result.problem is None]
    settle_translucent(as_drawn, options.translucent)
    drawings = widened(as_drawn, options.strokes)
    for result, outline in zip(drawn, outline_drawings(drawings, options), strict=True):
        result.take(outline)
    inked = [pair for pair in zip(drawn, drawings, strict=True) if pair[0].outline is not None]
    shown = [drawing for _, drawing in inked]
    if options.colour is not ColourMode.NONE:
        for (result, drawing), layers in zip(inked, outline_colours(shown, options), strict=True):
            if layers is None:
                result.outline, result.problem = None, TANGLED
            else:
                result.layers = tuple(layers)
                result.diagnostics += colour_remarks(drawing, options.colour)
        inked = [pair for pair in inked if pair[0].outline is not None]
        shown = [drawing for _, drawing in inked]
    if options.masters:
        from oddpeg.outline.masters import varying_outlines

        for (result, _), varying in zip(inked, varying_outlines(shown, options), strict=True):
            # what its frame cuts off would show again
            if varying is not None and not (result.outline and result.outline.cut):
                result.outline, result.masters = varying
    for result, drawing in zip(drawn, drawings, strict=True):
        result.diagnostics += overhang_notes(drawing, result.outlines, options)
    return results


def _read(files: Sequence[bytes], options: Options) -> tuple[list[OutlineResult], list[Drawing]]:
    """Return one result per file, without an outline yet, and all readable drawings."""
    from oddpeg.svg.reader import read_drawing
    from oddpeg.svg.stroke_widths import has_strokes

    results: list[OutlineResult] = []
    drawings: list[Drawing] = []
    for data in files:
        try:
            drawing = read_drawing(data)
        except DrawingError as problem:
            results.append(OutlineResult(None, [], problem.diagnostic))
            continue
        if options.strokes != 1 and not has_strokes(drawing):
            drawing.notes.append(
                Diagnostic("no-strokes", "has no strokes to be made wider or narrower; it stays as it is")
            )
        drawings.append(drawing)
        results.append(OutlineResult(None, drawing.notes, title=drawing.title, description=drawing.description))
    return results, drawings


class PackedResults(NamedTuple):
    """Results as they travel between processes: thousands of short arrays cost more than some icons.

    Attributes:
        results: without outlines.
        drawn: which of them have one.
        fills: of the layers of each of those.
        masters: how many of them each of those has.
        made: (advance, cut, method) of each outline, those of layers and masters after their icon's.
        outlines: all points.
    """

    results: list[OutlineResult]
    drawn: list[int]
    fills: list[tuple[Fill, ...]]
    masters: list[int]
    made: list[tuple[int, bool, Method]]
    outlines: FlatOutlines

    @staticmethod
    def pack(results: list[OutlineResult]) -> PackedResults:
        """Return the results as they travel."""
        drawn = [i for i, r in enumerate(results) if r.outline is not None]
        outlines = [outline for result in results for outline in result.outlines]
        fills = [tuple(layer.fill for layer in results[i].layers) for i in drawn]
        masters = [len(results[i].masters) for i in drawn]
        made = [(o.advance, o.cut, o.made) for o in outlines]
        bare = [replace(result, outline=None, layers=(), masters=()) for result in results]
        return PackedResults(bare, drawn, fills, masters, made, FlatOutlines.join(outlines))

    def unpack(self) -> list[OutlineResult]:
        """Return the results with their outlines."""
        pairs = zip(self.outlines.split(), self.made, strict=True)
        outlines = (Outline(*arrays, *made) for arrays, made in pairs)
        for number, fills, masters in zip(self.drawn, self.fills, self.masters, strict=True):
            outlines_of_icon = islice(outlines, 1 + len(fills) + masters)
            self.results[number] = self.results[number].with_outlines(outlines_of_icon, fills, masters)
        return self.results
