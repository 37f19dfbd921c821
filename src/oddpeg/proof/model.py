"""What a proof looks at, and what it finds."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import NamedTuple

from oddpeg.config.faces import ONLY
from oddpeg.diagnostics import Diagnostic
from oddpeg.outline.model import ColourMode, Options
from oddpeg.outline.window import ink_windows
from oddpeg.raster.colours import Viewport
from oddpeg.svg.model import Drawing

TOLERANCE = 0.005  # wrong pixels that an icon may have, as a share of its ink


class Figure(NamedTuple):
    """How far one glyph is from its drawing at one size.

    Attributes:
        icon: its name.
        px: pixels of the em.
        wrong: pixels that differ by more than half, as a share of the ink.
        soft: summed difference, as a share of the ink.
        face: that the glyph is of.
        weight: of a variable font, at which it was looked at.
        part: what was compared of a glyph in colours: "layer 1", "layer 2" …, or "colours", the whole of it, where
            wrong pixels are those with a channel that is off by more than a quarter; empty for the plain glyph.
    """

    icon: str
    px: int
    wrong: float
    soft: float
    face: str = ONLY
    weight: int | None = None
    part: str = ""

    @property
    def label(self) -> str:
        """The icon's name, with what was looked at where that is not the only face and the plain glyph."""
        face = f"weight {self.weight}" if self.weight is not None else "" if self.face == ONLY else self.face
        told = ", ".join(filter(None, (face, self.part)))
        return f"{self.icon} ({told})" if told else self.icon


@dataclass(slots=True)
class Proof:
    """What a proof found.

    Attributes:
        font: the file that was read, of the first face.
        fonts: the file of each face, by its name.
        figures: of each icon at each size.
        missing: icons whose glyph the font lacks.
        faults: what is wrong besides.
        known: how many glyphs were passed over because they were proved before.
    """

    font: str = ""
    fonts: dict[str, str] = field(default_factory=dict)
    figures: list[Figure] = field(default_factory=list)
    missing: list[str] = field(default_factory=list)
    faults: list[Diagnostic] = field(default_factory=list)
    known: int = 0

    def worst(self) -> list[Figure]:
        """Return the worst figure of each icon in each face, plain and in colours, worst first."""
        by_glyph: dict[tuple[str, str, int | None, bool], Figure] = {}
        for figure in self.figures:
            glyph = figure.icon, figure.face, figure.weight, bool(figure.part)
            best = by_glyph.get(glyph)
            if best is None or (figure.wrong, figure.soft) > (best.wrong, best.soft):
                by_glyph[glyph] = figure
        return sorted(by_glyph.values(), key=lambda f: (-f.wrong, -f.soft, f.icon, f.face))

    def missed(self, tolerance: float = TOLERANCE) -> list[Figure]:
        """Return the worst figure of each icon that has more wrong pixels than `tolerance`."""
        return [figure for figure in self.worst() if figure.wrong > tolerance]


class ProofTarget(NamedTuple):
    """A glyph to compare with its drawing."""

    icon: str
    drawing: bytes
    codepoint: int


class RenderSettings(NamedTuple):
    """The settings by which a glyph and its drawing are rendered for comparison."""

    font: bytes
    options: Options
    face: str
    weight: int | None = None
    fixed: frozenset[int] = frozenset()  # codepoints that do not vary
    placed_at: float | None = None  # the width of strokes at which ink is placed, where that is not their own
    colour: ColourMode = ColourMode.NONE  # which of its layers are looked at; NONE for its plain glyphs

    def viewport(self, placed: Drawing, px: int) -> Viewport:
        """Return the viewport that shows a drawing and its glyph alike at px pixels to the em. placed: the drawing with
        strokes as wide as they are where it is placed."""
        options = self.options
        window = (ink_windows([placed], options)[0] if options.fit == "ink" else None) or placed.box
        frame, square = window.width / window.height, options.fit == "square"
        width = px if square else max(1, round(px * frame))
        return Viewport(px, width, options.em.drop, window, (1 - frame) / 2 if square else 0.0)
