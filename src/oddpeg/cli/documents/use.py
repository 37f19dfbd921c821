"""What `find`, `use` and `usage` print as JSON."""

from __future__ import annotations

from typing import Annotated, TypedDict


class FoundIcon(TypedDict):
    """An icon that a search found."""

    name: Annotated[str, "its name"]
    codepoint: Annotated[int, "as a number"]
    hex: Annotated[str, "as four or more hexadecimal digits"]
    title: Annotated[str, "what it shows"]
    source: Annotated[str, "its drawing, relative to the project"]
    aliases: Annotated[list[str], "other names"]
    tags: Annotated[list[str], "words to find it by"]
    faces: Annotated[list[str], "that have it, where there are several"]
    score: Annotated[float, "how well it fits; the best first"]


class FindDocument(TypedDict):
    """What a search found."""

    icons: Annotated[list[FoundIcon], "the best first"]
    whole: Annotated[bool, "whether any has all of the words; the nearest are listed otherwise"]


class UseLine(TypedDict):
    """What to paste for an icon."""

    place: Annotated[str, "what it is for"]
    text: Annotated[str, "what to paste"]
    bundle: Annotated[str, "whose output it refers to; empty for what works without any"]
    file: Annotated[str, "of that bundle; empty likewise"]
    once: Annotated[bool, "needed once in each page or program, not for each icon"]


class UseDocument(TypedDict):
    """How to use an icon."""

    icon: Annotated[str, "its name"]
    codepoint: Annotated[int, "as a number"]
    lines: Annotated[list[UseLine], "for each place"]


class CodePlace(TypedDict):
    """A place in code."""

    file: Annotated[str, "relative to the project, with slashes"]
    line: Annotated[int, "from 1"]
    column: Annotated[int, "from 1, in characters"]


class UsedIcon(TypedDict):
    """An icon that code refers to."""

    name: Annotated[str, "its name"]
    places: Annotated[list[CodePlace], "where"]


class UndecidablePlace(CodePlace):
    """A place that puts a name together."""

    text: Annotated[str, "as it stands there"]


class UnknownName(UndecidablePlace):
    """A name that looks like an icon's, and is none."""

    nearest: Annotated[str, "as code would write the nearest one, or empty"]


class UsageDocument(TypedDict):
    """What code says of icons."""

    used: Annotated[list[UsedIcon], "most used first"]
    unused: Annotated[list[str], "icons that nothing refers to"]
    unknown: Annotated[list[UnknownName], "names of no icon"]
    undecidable: Annotated[list[UndecidablePlace], "places that put a name together"]
