"""Findings: every code there is, how grave it is by itself, and whether it means that a drawing was mended.

Knows: the list. Does not know: how anything is found.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import Enum


class Level(Enum):
    """How grave a finding is; SILENT only ever by the config."""

    SILENT = "silent"
    INFO = "info"
    WARNING = "warning"
    ERROR = "error"


class Verdict(Enum):
    """What becomes of a drawing."""

    FITS = "fits"
    SANDED = "sanded"
    WONT_FIT = "won't fit"


@dataclass(frozen=True, slots=True)
class Kind:
    """One kind of finding. mends: the drawing is not used as it is drawn."""

    level: Level
    mends: bool
    summary: str


@dataclass(frozen=True, slots=True)
class Finding:
    """One finding on one drawing: what was found, and what to do (or what was done). reason: why the config changed its
    level, where it did."""

    code: str
    level: Level
    what: str
    cure: str = ""
    line: int | None = None
    reason: str = ""


_I, _W, _E = Level.INFO, Level.WARNING, Level.ERROR

KINDS: dict[str, Kind] = {
    # how the drawing is written
    "shapes-converted": Kind(_I, True, "rectangles, circles and the like became paths"),
    "strokes-outlined": Kind(_I, True, "strokes became filled outlines"),
    "transforms-flattened": Kind(_I, True, "transforms were worked into the coordinates"),
    "styles-resolved": Kind(_I, True, "style sheets and style attributes were worked out"),
    "uses-expanded": Kind(_I, True, "references were replaced by what they refer to"),
    "clip-resolved": Kind(_I, True, "clip paths and masks were cut out"),
    "colours-merged": Kind(_I, True, "several colours became one ink"),
    "editor-data": Kind(_I, True, "data that editors leave behind was dropped"),
    "empty-parts": Kind(_I, True, "groups and paths with nothing in them were dropped"),
    "hidden-parts": Kind(_I, True, "parts that never show were dropped"),
    "white-erases": Kind(_I, True, "white was taken as an eraser"),
    "white-ink": Kind(_I, True, "everything is white: white was taken as the ink"),
    "gradient": Kind(_I, True, "a gradient or pattern became solid ink"),
    "no-viewbox": Kind(_I, True, "there is no viewBox; width and height were taken"),
    # what could not be kept
    "partial-opacity": Kind(_W, True, "paint that lets the ground through became solid, or nothing"),
    "text": Kind(_W, True, "text was left out"),
    "bitmap": Kind(_W, True, "a bitmap was left out"),
    "filter": Kind(_W, True, "a filter was left out"),
    "animation": Kind(_W, True, "only the first frame of an animation was taken"),
    "unknown-element": Kind(_W, True, "an element that is not understood was left out"),
    "unknown-paint": Kind(_W, True, "a paint that is not understood was taken as ink"),
    "style-rule": Kind(_W, True, "a style rule that is not understood was left out"),
    "missing-reference": Kind(_W, True, "a reference leads nowhere"),
    "reference-loop": Kind(_W, True, "a reference leads back to itself"),
    "bad-path": Kind(_W, True, "path data is wrong; what comes before the fault was kept"),
    "bad-transform": Kind(_W, True, "a transform is not valid and was left out"),
    "bad-viewbox": Kind(_W, True, "the viewBox is not valid"),
    "odd-frame": Kind(_W, True, "the frame is given in a way that may surprise"),
    "outside-frame": Kind(_W, True, "shapes reach beyond the viewBox and were cut off"),
    "straight-lines": Kind(_W, True, "drawn with straight lines, since its curves could not be kept"),
    "overlapping": Kind(_W, True, "drawn with shapes that overlap"),
    "doubtful": Kind(_E, True, "the glyph differs from the drawing"),
    # how it looks
    "not-square": Kind(_I, False, "the frame is not square"),
    "off-centre": Kind(_I, False, "the ink lies off the middle of its frame"),
    "touches-frame": Kind(_I, False, "the ink touches the edge of its frame"),
    "small": Kind(_W, False, "far smaller than the other icons"),
    "large": Kind(_W, False, "far larger than the other icons"),
    "stroke-unlike": Kind(_W, False, "a stroke width that the other icons do not have"),
    "grid-unlike": Kind(_W, False, "drawn on another grid than the other icons"),
    "off-grid": Kind(_I, False, "straight edges lie between the pixels of the design size"),
    "many-points": Kind(_W, False, "far more points than an icon needs"),
    "fine-details": Kind(_I, False, "details finer than a pixel at 16 px"),
    "twin": Kind(_W, False, "the same outline as another icon"),
    # names
    "name-changed": Kind(_I, False, "the icon is not called what its file is called"),
    "name-alike": Kind(_W, False, "a name that is nearly another one"),
    "name-unlike": Kind(_W, False, "a name of another pattern than the other names"),
    # what is known of the icons
    "facts-unread": Kind(_W, False, "a table of facts cannot be read"),
    "facts-column": Kind(
        _W, False, "a table of facts has columns that mean nothing, or lacks the one that names icons"
    ),
    "facts-unknown": Kind(_W, False, "a table of facts speaks of an icon that there is not"),
    "facts-twice": Kind(_W, False, "a table of facts speaks of an icon twice"),
    "alias-clash": Kind(_W, False, "an alias that something else is called"),
    "no-licence": Kind(_E, False, "no licence, where the config asks for one"),
}
BROKEN = Kind(_E, False, "cannot become a glyph")


def kind_of(code: str) -> Kind:
    """Return what is known of a code; codes of drawings that cannot be used are all alike."""
    return KINDS.get(code, BROKEN)
