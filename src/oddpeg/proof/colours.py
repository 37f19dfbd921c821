"""The proof of colours: the layers in finished fonts, one by one and all together, against the drawings."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import lru_cache
from itertools import product
from pathlib import Path
from typing import NamedTuple

from oddpeg.config.faces import FacePlan
from oddpeg.diagnostics import DrawingError
from oddpeg.font.read.colour import coloured_glyphs
from oddpeg.outline.model import ColourMode
from oddpeg.outline.translucent import read_settled
from oddpeg.outline.widened import widened
from oddpeg.project.snapshot import Snapshot
from oddpeg.proof.model import ProofTarget, RenderSettings
from oddpeg.raster.colours import PaintedLayer, compare_colours
from oddpeg.raster.coverage import Differences


class ColouredFont(NamedTuple):
    """A finished font with layers of colour."""

    plan: FacePlan
    mode: ColourMode
    path: Path


def coloured_fonts(snapshot: Snapshot, bundles: Sequence[str], faces: Sequence[str]) -> list[ColouredFont]:
    """Return the delivered fonts with layers of colour of the named bundles and faces (of any, where none is named):
    one for each face and each way in which it has colours."""
    chosen = [snapshot.project.config.bundle[name] for name in bundles or snapshot.project.config.bundle]
    plans = [plan for plan in snapshot.project.faces if plan.name in faces or not faces]
    fonts = []
    for plan, mode in product(plans, (ColourMode.FLAT, ColourMode.GRADIENTS)):
        path = snapshot.readable_font([bundle for bundle in chosen if bundle.colour_mode == mode.value], plan)
        if path is not None:
            fonts.append(ColouredFont(plan, mode, path))
    return fonts


def colour_differences(settings: RenderSettings, target: ProofTarget, px: int) -> Mapping[str, Differences]:
    """Return the differences between the colours of a glyph and of its drawing at px pixels to the em, by part; none
    where it has no colours."""
    try:
        as_drawn = read_settled(target.drawing, settings.options.translucent)
        (drawing,) = widened([as_drawn], settings.options.strokes)
    except DrawingError:
        return {}
    layers = _layers(settings.font).get(target.codepoint, [])
    return compare_colours(drawing, layers, settings.viewport(drawing, px), settings.colour is ColourMode.GRADIENTS)


@lru_cache(maxsize=2)
def _layers(font: bytes) -> dict[int, list[PaintedLayer]]:
    return coloured_glyphs(font)
