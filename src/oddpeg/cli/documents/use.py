"""What `find`, `use` and `usage` print as JSON."""

from __future__ import annotations

from typing import TypedDict


class FoundIcon(TypedDict):
    """An icon that a search found.

    Attributes:
        name: its name.
        codepoint: as a number.
        hex: as four or more hexadecimal digits.
        title: what it shows.
        source: its drawing, relative to the project.
        aliases: other names.
        tags: words to find it by.
        faces: that have it, where there are several.
        score: how well it fits; the best first.
    """

    name: str
    codepoint: int
    hex: str
    title: str
    source: str
    aliases: list[str]
    tags: list[str]
    faces: list[str]
    score: float


class FindDocument(TypedDict):
    """What a search found.

    Attributes:
        icons: the best first.
        whole: whether any has all of the words; the nearest are listed otherwise.
    """

    icons: list[FoundIcon]
    whole: bool


class UseLine(TypedDict):
    """What to paste for an icon.

    Attributes:
        place: what it is for.
        text: what to paste.
        bundle: whose output it refers to; empty for what works without any.
        file: of that bundle; empty likewise.
        once: needed once in each page or program, not for each icon.
    """

    place: str
    text: str
    bundle: str
    file: str
    once: bool


class UseDocument(TypedDict):
    """How to use an icon.

    Attributes:
        icon: its name.
        codepoint: as a number.
        lines: for each place.
    """

    icon: str
    codepoint: int
    lines: list[UseLine]


class CodePlace(TypedDict):
    """A place in code.

    Attributes:
        file: relative to the project, with slashes.
        line: from 1.
        column: from 1, in characters.
    """

    file: str
    line: int
    column: int


class UsedIcon(TypedDict):
    """An icon that code refers to.

    Attributes:
        name: its name.
        places: where.
    """

    name: str
    places: list[CodePlace]


class UndecidablePlace(CodePlace):
    """A place that puts a name together.

    Attributes:
        file: relative to the project, with slashes.
        line: from 1.
        column: from 1, in characters.
        text: as it stands there.
    """

    text: str


class UnknownName(UndecidablePlace):
    """A name that looks like an icon's, and is none.

    Attributes:
        file: relative to the project, with slashes.
        line: from 1.
        column: from 1, in characters.
        text: as it stands there.
        nearest: as code would write the nearest one, or empty.
    """

    nearest: str


class UsageDocument(TypedDict):
    """What code says of icons.

    Attributes:
        used: most used first.
        unused: icons that nothing refers to.
        unknown: names of no icon.
        undecidable: places that put a name together.
    """

    used: list[UsedIcon]
    unused: list[str]
    unknown: list[UnknownName]
    undecidable: list[UndecidablePlace]
