"""The proof of colours: the layers in finished fonts, one by one and all together, against the drawings."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import lru_cache
from itertools import product
from pathlib import Path
from typing import NamedTuple

from oddpeg.diagnostics import DrawingError
from oddpeg.font.foreign_colour import coloured_glyphs
from oddpeg.outline.model import ColourMode
from oddpeg.outline.window import ink_windows
from oddpeg.raster.colours import PaintedLayer, Sight, compare_colours
from oddpeg.raster.coverage import Differences
from oddpeg.svg.reader import read_drawing
from oddpeg.svg.stroke_widths import with_strokes
from oddpeg.tasks.proof_model import Candidate, Look
from oddpeg.workspace.faces import FacePlan
from oddpeg.workspace.project import Project


class ColouredFont(NamedTuple):
    """A finished font with layers of colour."""

    plan: FacePlan
    mode: ColourMode
    path: Path


def coloured_fonts(project: Project, bundles: Sequence[str], faces: Sequence[str]) -> list[ColouredFont]:
    """Return the delivered fonts with layers of colour of the named bundles and faces (of any, where none is named):
    one for each face and each way in which it has colours."""
    found: dict[tuple[str, ColourMode], ColouredFont] = {}
    chosen = [project.config.bundle[name] for name in bundles or project.config.bundle]
    for bundle, plan in product((b for b in chosen if b.colour), project.faces):
        if plan not in project.faces_of(bundle) or (faces and plan.name not in faces):
            continue
        mode = ColourMode.GRADIENTS if bundle.colour == "gradients" else ColourMode.FLAT
        for file_format in ("ttf", "woff", "woff2"):
            path = project.finished_font(bundle, file_format, plan.name)
            if file_format in bundle.fonts and path is not None:
                found.setdefault((plan.name, mode), ColouredFont(plan, mode, path))
    return list(found.values())


def colour_differences(look: Look, candidate: Candidate, px: int) -> Mapping[str, Differences]:
    """Return how far the colours of a glyph are from its drawing's at px pixels to the em, by what was compared;
    nothing where there are none."""
    try:
        drawing = with_strokes(read_drawing(candidate.drawing, look.options.keep_faint), look.options.strokes)
    except DrawingError:
        return {}
    window = (ink_windows([drawing], look.options)[0] if look.options.fit == "ink" else None) or drawing.box
    frame, square = window.width / window.height, look.options.fit == "square"
    width = px if square else max(1, round(px * frame))
    sight = Sight(px, width, look.options.em.drop, window, (1 - frame) / 2 if square else 0.0)
    layers = _layers(look.font).get(candidate.codepoint, [])
    return compare_colours(drawing, layers, sight, look.colour is ColourMode.GRADIENTS)


@lru_cache(maxsize=2)
def _layers(font: bytes) -> dict[int, list[PaintedLayer]]:
    return coloured_glyphs(font)
