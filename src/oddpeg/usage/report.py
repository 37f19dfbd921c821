"""The report of `oddpeg usage`."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass, field
from typing import Annotated, NamedTuple

from oddpeg.diagnostic_codes import CODES, Level
from oddpeg.reports import Key, reported
from oddpeg.sources.code import PassedOver

UNKNOWN_CURE = "correct the name, or draw the icon"
UNDECIDABLE_CURE = "name what it uses in a comment next to it, `oddpeg: uses NAME-*`, or in usage.keep"


class CodePosition(NamedTuple):
    """A position in code.

    Attributes:
        text: the code at that position.
        part: offset and length of the name itself within the file.
    """

    file: Annotated[str, Key("relative to the project, with slashes")]
    line: Annotated[int, Key("from 1")]
    column: Annotated[int, Key("from 1, in characters")]
    text: str
    part: tuple[int, int] = (0, 0)


class UsedIcon(NamedTuple):
    """An icon that code refers to."""

    name: Annotated[str, Key("name of the icon")]
    places: Annotated[list[CodePosition], Key("positions of the references")]


class DynamicName(NamedTuple):
    """A name that is put together at run time."""

    text: Annotated[str, Key("the code that does it")]
    place: Annotated[CodePosition, Key("its position", merged=True)]


class WrongName(NamedTuple):
    """A name that looks like an icon's and is unknown, or one from before a rename.

    Attributes:
        name: as code writes it.
    """

    name: str
    nearest: Annotated[str, Key("the right or the nearest name as code would write it, or empty")]
    place: Annotated[CodePosition, Key("its position", merged=True)]

    @reported("the code at that position")
    def text(self) -> str:
        """The code at that position."""
        return self.place.text


class CodeProblem(NamedTuple):
    """A mistake that keeps an icon from showing, although its name is right."""

    code: Annotated[str, Key("its diagnostic code")]
    text: Annotated[str, Key("the mistake")]
    place: Annotated[CodePosition, Key("its position", merged=True)]
    cure: Annotated[str, Key("how to mend it")]
    fix: Annotated[str, Key("the text that belongs there, empty where that cannot be told")]

    @property
    def level(self) -> Level:
        """How serious it is."""
        return CODES[self.code].level


@dataclass(slots=True)
class UsageReport:
    """The references to icons in the code of a project.

    Attributes:
        used: positions by icon, most used first.
        undecidable: positions where a name is put together.
        older: names from before a rename, by the icon's name now.
        kept: unused icons that are allowlisted by the config or a comment.
        unattributed: codepoints of icons in code that nowhere names the font or an icon.
        problems: other mistakes that keep icons from showing, in order of files.
        files: number of files that were read.
        skipped: number of files that were not, by reason.
    """

    used: dict[str, list[CodePosition]] = field(default_factory=dict)
    unused: Annotated[list[str], Key("icons that nothing refers to")] = field(default_factory=list)
    unknown: Annotated[list[WrongName], Key("names that match no icon")] = field(default_factory=list)
    undecidable: list[CodePosition] = field(default_factory=list)
    older: dict[str, list[WrongName]] = field(default_factory=dict)
    kept: list[str] = field(default_factory=list)
    unattributed: list[CodePosition] = field(default_factory=list)
    problems: Annotated[list[CodeProblem], Key("other mistakes that keep icons from showing")] = field(
        default_factory=list
    )
    files: int = 0
    skipped: Counter[PassedOver] = field(default_factory=Counter)

    @reported("icons that code refers to, most used first", name="used")
    def used_icons(self) -> list[UsedIcon]:
        """Icons that code refers to, most used first."""
        return [UsedIcon(name, places) for name, places in self.used.items()]

    @reported("names that are put together at run time", name="undecidable")
    def dynamic_names(self) -> list[DynamicName]:
        """Names that are put together at run time."""
        return [DynamicName(place.text, place) for place in self.undecidable]

    def needed(self) -> frozenset[str]:
        """Return the icons that a bundle of used icons has to hold."""
        return frozenset((*self.used, *self.kept))
