"""The inputs of a comparison between a glyph and its drawing."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from oddpeg.outline.model import ColourMode, Options
from oddpeg.outline.window import ink_windows
from oddpeg.proof.report import Witness
from oddpeg.raster.colours import Viewport
from oddpeg.svg.model import Drawing


class ProofTarget(NamedTuple):
    """A glyph to compare with its drawing."""

    icon: str
    drawing: bytes
    codepoint: int


class ProofOptions(NamedTuple):
    """The parts of a proof.

    Attributes:
        icons: names; all where none is given.
        sizes: pixels to the em.
        faces: names; all where none is given.
        weights: of variable fonts; every named one where none is given.
        witness: name of a renderer, or "none"; empty for the first that is installed.
    """

    icons: Sequence[str] = ()
    sizes: Sequence[int] = (128,)
    faces: Sequence[str] = ()
    weights: Sequence[int] = ()
    witness: str = ""


class RenderSettings(NamedTuple):
    """The settings by which a glyph and its drawing are rendered for comparison."""

    font: bytes
    options: Options
    face: str
    weight: int | None = None
    fixed: frozenset[int] = frozenset()  # codepoints that do not vary
    placed_at: float | None = None  # the width of strokes at which ink is placed, where that is not their own
    colour: ColourMode = ColourMode.NONE  # which of its layers are looked at; NONE for its plain glyphs
    witness: Witness | None = None  # which renders plain drawings too

    def viewport(self, placed: Drawing, px: int) -> Viewport:
        """Return the viewport that shows a drawing and its glyph alike at px pixels to the em. placed: the drawing with
        the stroke widths at which it is placed."""
        options = self.options
        window = (ink_windows([placed], options)[0] if options.fit == "ink" else None) or placed.placed
        frame, square = window.width / window.height, options.fit == "square"
        width = px if square else max(1, round(px * frame))
        return Viewport(px, width, options.em.drop, window, (1 - frame) / 2 if square else 0.0)
