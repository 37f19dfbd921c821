"""One icon's journey: SVG bytes → outline and notes; the unit of caching, testing and parallel work.

Knows: drawing and outline. Does not know: files, codepoints, fonts. Batches are only for speed: what comes
out for an icon depends on its bytes and the options alone.
"""

from __future__ import annotations

import io
import math
import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np

from oddpeg.diagnostics import Diagnostic, DrawingError
from oddpeg.geometry.arrays import Bools, Ints
from oddpeg.outline.messages import refusal, remarks
from oddpeg.outline.model import Made, Options, Outline
from oddpeg.outline.placement import Em, auto_units
from oddpeg.svg.model import Drawing

BATCH = 500  # icons outlined at once: arrays long enough to pay, short enough to stay near the processor
_VIEW_BOX = re.compile(
    rb"""(?:(?:<\?[^>]{,200}>|<!--(?:(?!-->)[^\0]){,400}-->)\s*){,4}"""
    rb"""<svg\b[^<>]*?\sviewBox=["']\s*[-.\d]+ [-.\d]+ \d+ (\d+)["'][^<>]*>"""
)


@dataclass(slots=True)
class OutlineResult:
    """What became of one file.

    outline: None where `problem` is set; diagnostics: what whoever drew it should know; problem: why it makes no glyph;
    title, description: the file's own.
    """

    outline: Outline | None
    diagnostics: list[Diagnostic]
    problem: Diagnostic | None = None
    title: str = ""
    description: str = ""

    def take(self, outline: Outline) -> None:
        """Keep an outline, or why it makes no glyph."""
        self.problem = refusal(outline)
        if self.problem is None:
            self.diagnostics += remarks(outline)
            self.outline = outline


def frame_height(data: bytes) -> float | None:
    """Return the height of a file's frame in user units without reading its shapes; None where it has none."""
    match = _VIEW_BOX.match(data)
    if match:  # as nearly every drawing begins; anything else is parsed
        return _positive(float(match[1]))
    from lxml import etree

    from oddpeg.svg.viewport import drawing_box

    try:
        for _, root in etree.iterparse(io.BytesIO(data), events=("start",), no_network=True, load_dtd=False):
            return _positive(drawing_box(root)[0][3])
    except (etree.XMLSyntaxError, DrawingError):
        return None
    return None


def _positive(height: float) -> float | None:
    return height if 0 < height < math.inf else None


def em_for(units: int | str, drop: float, files: Iterable[bytes]) -> tuple[Em, bool]:
    """Return the em that drawings stand on, and whether all their grids fall on whole units. units: "auto" to suit
    them."""
    if isinstance(units, int):
        return Em(units, drop), True
    found, fits = auto_units(h for h in map(frame_height, files) if h is not None)
    return Em(found, drop), fits


def outline_files(files: Sequence[bytes], options: Options) -> list[OutlineResult]:
    """Return one result per file, in order."""
    from oddpeg.outline.batch import outline_drawings
    from oddpeg.svg.reader import read_drawing  # only where there is work

    drawings: list[Drawing] = []
    results: list[OutlineResult] = []
    drawn: list[OutlineResult] = []
    for data in files:
        try:
            drawing = read_drawing(data, options.keep_faint)
        except DrawingError as problem:
            results.append(OutlineResult(None, [], problem.diagnostic))
            continue
        drawings.append(drawing)
        results.append(OutlineResult(None, drawing.notes, title=drawing.title, description=drawing.description))
        drawn.append(results[-1])
    for result, outline in zip(drawn, outline_drawings(drawings, options), strict=True):
        result.take(outline)
    return results


# Between processes a batch travels as a few long arrays: thousands of short ones cost more than some icons.

Packed = tuple[list[OutlineResult], list[int], list[tuple[int, int, int, bool, Made]], Ints, Bools, Ints]


def outline_files_packed(files: Sequence[bytes], options: Options) -> Packed:
    """Return results without outlines, which of them have one, (points, contours, advance, cut, made) of each, all
    points."""
    results = outline_files(files, options)
    drawn = [i for i, r in enumerate(results) if r.outline is not None]
    outlines = [r.outline for r in results if r.outline is not None]
    for result in results:
        result.outline = None
    sizes = [(len(o.on), len(o.ends), o.advance, o.cut, o.made) for o in outlines]
    xy = np.concatenate([np.zeros((0, 2), dtype=np.int64), *(o.xy for o in outlines)])
    on = np.concatenate([np.zeros(0, dtype=bool), *(o.on for o in outlines)])
    ends = np.concatenate([np.zeros(0, dtype=np.int64), *(o.ends for o in outlines)])
    return results, drawn, sizes, xy, on, ends


def unpack(packed: Packed) -> list[OutlineResult]:
    results, drawn, sizes, xy, on, ends = packed
    p = e = 0
    for number, (points, contours, advance, cut, made) in zip(drawn, sizes, strict=True):
        results[number].outline = Outline(
            xy[p : p + points], on[p : p + points], ends[e : e + contours], advance, cut, made
        )
        p, e = p + points, e + contours
    return results
