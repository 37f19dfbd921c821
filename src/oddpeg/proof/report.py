"""The report of a proof."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Annotated, NamedTuple

from oddpeg.config.faces import ONLY
from oddpeg.diagnostics import Diagnostic
from oddpeg.reports import Key, reported

TOLERANCE = 0.005  # wrong pixels that an icon may have, as a share of its ink


class Figure(NamedTuple):
    """The difference between one glyph and its drawing at one size."""

    icon: Annotated[str, Key("name of the icon")]
    px: Annotated[int, Key("pixels to the em")]
    wrong: float
    soft: float
    face: str = ONLY
    weight: Annotated[int | None, Key("weight at which a variable font was compared", optional=True)] = None
    part: Annotated[str, Key('part of a colour glyph: "layer 1", "layer 2" …, or "colours"', optional=True)] = ""

    @reported("face of the glyph, where there are several", name="face", optional=True)
    def face_name(self) -> str:
        """Face of the glyph, where there are several."""
        return "" if self.face == ONLY else self.face

    @reported("pixels that differ by more than half, as a share of the ink", name="wrong")
    def wrong_share(self) -> float:
        """Wrong pixels as a share of the ink, rounded. Of "colours": pixels with a channel off by over a quarter."""
        return round(self.wrong, 6)

    @reported("summed difference, as a share of the ink", name="soft")
    def soft_share(self) -> float:
        """Summed difference as a share of the ink, rounded."""
        return round(self.soft, 6)

    @property
    def label(self) -> str:
        """The icon's name, with face, weight or part where these are needed."""
        face = f"weight {self.weight}" if self.weight is not None else "" if self.face == ONLY else self.face
        told = ", ".join(filter(None, (face, self.part)))
        return f"{self.icon} ({told})" if told else self.icon


@dataclass(slots=True)
class Proof:
    """The result of a proof.

    Attributes:
        tolerance: wrong pixels that an icon may have, as a share of its ink.
    """

    font: Annotated[str, Key("file that was read, of the first face")] = ""
    fonts: dict[str, str] = field(default_factory=dict)
    figures: Annotated[list[Figure], Key("of each icon at each size")] = field(default_factory=list)
    missing: Annotated[list[str], Key("icons whose glyph the font lacks")] = field(default_factory=list)
    faults: Annotated[list[Diagnostic], Key("other errors")] = field(default_factory=list)
    known: Annotated[int, Key("glyphs that were skipped because they were proved before", name="proved_before")] = 0
    tolerance: float = TOLERANCE

    @reported("file of each face, by its name, where there are several", name="fonts", optional=True)
    def face_fonts(self) -> dict[str, str]:
        """File of each face, where there are several."""
        return self.fonts if len(self.fonts) > 1 else {}

    @reported("icons with more wrong pixels than is allowed", name="missed")
    def missed_icons(self) -> list[str]:
        """Icons with more wrong pixels than is allowed."""
        return [figure.icon for figure in self.missed(self.tolerance)]

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
