"""The report of a proof."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field
from typing import Annotated, NamedTuple

from oddpeg.config.faces import ONLY
from oddpeg.diagnostics import Diagnostic
from oddpeg.reports import Key, reported

TOLERANCE = 0.005  # wrong pixels that an icon may have, as a share of its ink


class Witness(NamedTuple):
    """A renderer that is installed.

    Attributes:
        path: of its program; empty for a package.
    """

    name: Annotated[str, Key("name of the renderer: resvg, chromium or rsvg-convert")]
    version: Annotated[str, Key("its version")]
    path: str = ""

    @property
    def label(self) -> str:
        """Name and version."""
        return f"{self.name} {self.version}"


class Figure(NamedTuple):
    """The difference between one glyph and its drawing at one size."""

    icon: Annotated[str, Key("name of the icon")]
    px: Annotated[int, Key("pixels to the em")]
    wrong: float
    soft: float
    face: str = ONLY
    weight: Annotated[int | None, Key("weight at which a variable font was compared", optional=True)] = None
    part: Annotated[str, Key('part of a colour glyph: "layer 1", "layer 2" …, or "colours"', optional=True)] = ""
    witness: float | None = None
    unseen: Annotated[
        bool, Key("whether the witness failed to render the drawing", name="witness_failed", optional=True)
    ] = False

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

    @reported("wrong pixels against the picture of the witness; null where it did not look", name="witness_wrong")
    def witness_share(self) -> float | None:
        """Wrong pixels against the picture of the witness, rounded."""
        return None if self.witness is None else round(self.witness, 6)

    @property
    def glyph(self) -> tuple[str, str, int | None, bool]:
        """Icon, face and weight, and whether its colours were compared."""
        return self.icon, self.face, self.weight, bool(self.part)

    def is_missed(self, tolerance: float) -> bool:
        """Return whether the glyph is wrong, for our own reader and for the witness if there is one."""
        return self.wrong > tolerance and (self.witness is None or self.witness > tolerance)

    def is_disputed(self, tolerance: float) -> bool:
        """Return whether our own reader and the witness disagree about the glyph."""
        return self.witness is not None and (self.wrong > tolerance) != (self.witness > tolerance)

    @property
    def label(self) -> str:
        """The icon's name, with face, weight or part where these are needed."""
        face = "" if self.face == ONLY else self.face
        if self.weight is not None:
            face = f"{face} {self.weight}" if face == "weight" else f"{face}, weight {self.weight}"
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
    witness: Annotated[Witness | None, Key("renderer that gave a second opinion; null where none is installed")] = None
    tolerance: float = TOLERANCE

    @reported("file of each face, by its name, where there are several", name="fonts", optional=True)
    def face_fonts(self) -> dict[str, str]:
        """File of each face, where there are several."""
        return self.fonts if len(self.fonts) > 1 else {}

    @reported("icons with more wrong pixels than is allowed", name="missed")
    def missed_icons(self) -> list[str]:
        """Icons with more wrong pixels than is allowed."""
        return [figure.icon for figure in self.missed(self.tolerance)]

    @reported(
        "icons that are right for one of our own reader and the witness, and wrong for the other", name="disputed"
    )
    def disputed_icons(self) -> list[str]:
        """Icons about which our own reader and the witness disagree."""
        return [figure.icon for figure in self.disputed(self.tolerance)]

    def worst(self) -> list[Figure]:
        """Return the worst figure of each icon in each face, plain and in colours, worst first."""
        return _worst(self.figures)

    def missed(self, tolerance: float = TOLERANCE) -> list[Figure]:
        """Return the worst figure of each icon that has more wrong pixels than `tolerance`."""
        return _worst(figure for figure in self.figures if figure.is_missed(tolerance))

    def disputed(self, tolerance: float = TOLERANCE) -> list[Figure]:
        """Return the worst figure of each icon about which our own reader and the witness disagree."""
        missed = {figure.glyph for figure in self.missed(tolerance)}
        disputed = _worst(figure for figure in self.figures if figure.is_disputed(tolerance))
        return [figure for figure in disputed if figure.glyph not in missed]


def _worst(figures: Iterable[Figure]) -> list[Figure]:
    """Return the worst figure of each glyph, worst first."""

    def badness(figure: Figure) -> tuple[float, float]:
        return max(figure.wrong, figure.witness or 0.0), figure.soft

    by_glyph: dict[tuple[str, str, int | None, bool], Figure] = {}
    for figure in figures:
        worst = by_glyph.get(figure.glyph)
        if worst is None or badness(figure) > badness(worst):
            by_glyph[figure.glyph] = figure
    return sorted(by_glyph.values(), key=lambda f: (*(-value for value in badness(f)), f.icon, f.face))
