"""What `init`, `config`, `outputs`, `pegs` and `compare` print as JSON."""

from __future__ import annotations

from typing import Annotated, Any, NotRequired, TypedDict

InitDocument = TypedDict(
    "InitDocument",
    {
        "config": Annotated[str, "the file that was written"],
        "drawings": Annotated[int, "how many it finds"],
        "from": Annotated[list[str], "where: patterns, or font files"],
    },
)
InitDocument.__doc__ = """A project that was begun."""


class SettingInForce(TypedDict):
    """One value in force.

    Attributes:
        key: its path, with dots.
        value: as TOML has it.
        line: where the file says it; null where it is the default.
    """

    key: str
    value: Any
    line: int | None


class ConfigDocument(TypedDict):
    """The configuration in force.

    Attributes:
        config: the file.
        settings: every value.
    """

    config: str
    settings: list[SettingInForce]


class KindOfFile(TypedDict):
    """What a bundle can hold.

    Attributes:
        name: as the config has it.
        summary: what it is.
        place: where it goes.
    """

    name: str
    summary: str
    place: str


class OutputsDocument(TypedDict):
    """What bundles can hold.

    Attributes:
        fonts: formats of fonts.
        outputs: kinds of other files.
    """

    fonts: list[KindOfFile]
    outputs: list[KindOfFile]


class ShownPeg(TypedDict):
    """A name and its codepoint.

    Attributes:
        icon: the name.
        codepoint: as a number.
        hex: as four or more hexadecimal digits.
        state: of the peg.
        of: the icon that an alias is another name of; null otherwise.
    """

    icon: str
    codepoint: int
    hex: str
    state: str
    of: str | None


class PegsDocument(TypedDict):
    """Who holds which codepoint.

    Attributes:
        pegs: those that were asked for.
        count: of the whole board, by state.
        free: codepoints that are left.
        ranges: that new icons get theirs from.
    """

    pegs: list[ShownPeg]
    count: dict[str, int]
    free: int
    ranges: str


class PegsChangeDocument(TypedDict):
    """What was done to the pegboard.

    Attributes:
        said: in words, a line each.
    """

    said: list[str]


class RenameDocument(PegsChangeDocument):
    """An icon under another name.

    Attributes:
        said: in words, a line each.
        icon: its name now.
        codepoint: as a number.
    """

    icon: str
    codepoint: int


MovedPeg = TypedDict(
    "MovedPeg",
    {
        "icon": Annotated[str, "its name"],
        "from": Annotated[int, "its codepoint before"],
        "to": Annotated[int, "its codepoint now"],
    },
)
MovedPeg.__doc__ = """An icon on another codepoint."""


class KeptPeg(TypedDict):
    """An icon that stays where it is, though a file has it elsewhere.

    Attributes:
        icon: its name.
        codepoint: that it keeps.
        found: that the file has.
    """

    icon: str
    codepoint: int
    found: int


class DroppedPeg(TypedDict):
    """A line that is gone.

    Attributes:
        icon: its name.
        codepoint: that it had.
        kept: the codepoint that the icon holds; null where it was an alias of a codepoint that no icon holds.
    """

    icon: str
    codepoint: int
    kept: int | None


class SettleDocument(PegsChangeDocument):
    """A pegboard after a merge.

    Attributes:
        said: in words, a line each.
        moved: newcomers that gave way.
        dropped: lines that are gone.
        markers: how many conflict markers were removed.
    """

    moved: list[MovedPeg]
    dropped: list[DroppedPeg]
    markers: int


class RefusedName(TypedDict):
    """A codepoint that was passed over.

    Attributes:
        name: that the file has for it.
        codepoint: as a number.
        why: in words.
    """

    name: str
    codepoint: int
    why: str


class AdoptDocument(PegsChangeDocument):
    """Codepoints that were taken over.

    Attributes:
        said: in words, a line each.
        taken: icons that now hold the codepoint of the file.
        same: that held it already.
        moved: that gave up another one.
        stays: that kept their own.
        reserved: names without a drawing.
        near: names without a drawing, and the icons that each may mean.
        refused: codepoints that were passed over.
        waiting: icons that the file does not know.
    """

    taken: list[str]
    same: list[str]
    moved: list[MovedPeg]
    stays: list[KeptPeg]
    reserved: list[str]
    near: dict[str, list[str]]
    refused: list[RefusedName]
    waiting: list[str]


class RenamedIcon(TypedDict):
    """An icon under another name.

    Attributes:
        old: its name before.
        new: its name now.
        alias: whether the old one still works.
    """

    old: str
    new: str
    alias: bool


class RedrawnIcon(TypedDict):
    """An icon whose outline is another.

    Attributes:
        icon: its name.
        face: in which, by the name of its file, where there are several.
        share: of the ink of both that is not common.
    """

    icon: str
    face: NotRequired[str]
    share: float


ResizedIcon = TypedDict(
    "ResizedIcon",
    {
        "icon": Annotated[str, "its name"],
        "from": Annotated[float, "its advance before, in ems"],
        "to": Annotated[float, "its advance now, in ems"],
    },
)
ResizedIcon.__doc__ = """An icon with another advance."""

ChangedFact = TypedDict(
    "ChangedFact", {"what": Annotated[str, "what it is"], "from": Annotated[str, "before"], "to": Annotated[str, "now"]}
)
ChangedFact.__doc__ = """A name or metric of the font that is another."""

ComparedFile = TypedDict(
    "ComparedFile",
    {
        "file": Annotated[str, "its name"],
        "from": Annotated[int | None, "bytes before; null where it was not there"],
        "to": Annotated[int | None, "bytes now; null where it is not there"],
    },
)
ComparedFile.__doc__ = """A file on both sides."""


class CompareDocument(TypedDict):
    """What became of a set of icons.

    Attributes:
        step: the version step that follows: "none", "patch", "minor" or "major".
        added: icons that are new.
        gone: icons that are no longer in it.
        left_out: not in it, as code does not use them; their codepoints are still theirs.
        moved: on another codepoint.
        renamed: the same codepoint under another name.
        redrawn: with another outline.
        resized: with another advance.
        facts: names and metrics that changed.
        sizes: of files.
        allowed: whether the step is no larger than was allowed.
    """

    step: str
    added: list[str]
    gone: list[str]
    left_out: list[str]
    moved: list[MovedPeg]
    renamed: list[RenamedIcon]
    redrawn: list[RedrawnIcon]
    resized: list[ResizedIcon]
    facts: list[ChangedFact]
    sizes: list[ComparedFile]
    allowed: bool
