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
    """One value in force."""

    key: Annotated[str, "its path, with dots"]
    value: Annotated[Any, "as TOML has it"]
    line: Annotated[int | None, "where the file says it; null where it is the default"]


class ConfigDocument(TypedDict):
    """The configuration in force."""

    config: Annotated[str, "the file"]
    settings: Annotated[list[SettingInForce], "every value"]


class KindOfFile(TypedDict):
    """What a bundle can hold."""

    name: Annotated[str, "as the config has it"]
    summary: Annotated[str, "what it is"]
    place: Annotated[str, "where it goes"]


class OutputsDocument(TypedDict):
    """What bundles can hold."""

    fonts: Annotated[list[KindOfFile], "formats of fonts"]
    outputs: Annotated[list[KindOfFile], "kinds of other files"]


class ShownPeg(TypedDict):
    """A name and its codepoint."""

    icon: Annotated[str, "the name"]
    codepoint: Annotated[int, "as a number"]
    hex: Annotated[str, "as four or more hexadecimal digits"]
    state: Annotated[str, "of the peg"]
    of: Annotated[str | None, "the icon that an alias is another name of; null otherwise"]


class PegsDocument(TypedDict):
    """Who holds which codepoint."""

    pegs: Annotated[list[ShownPeg], "those that were asked for"]
    count: Annotated[dict[str, int], "of the whole board, by state"]
    free: Annotated[int, "codepoints that are left"]
    ranges: Annotated[str, "that new icons get theirs from"]


class PegsChangeDocument(TypedDict):
    """What was done to the pegboard."""

    said: Annotated[list[str], "in words, a line each"]


class RenameDocument(PegsChangeDocument):
    """An icon under another name."""

    icon: Annotated[str, "its name now"]
    codepoint: Annotated[int, "as a number"]


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
    """An icon that stays where it is, though a file has it elsewhere."""

    icon: Annotated[str, "its name"]
    codepoint: Annotated[int, "that it keeps"]
    found: Annotated[int, "that the file has"]


class DroppedPeg(TypedDict):
    """A line that is gone."""

    icon: Annotated[str, "its name"]
    codepoint: Annotated[int, "that it had"]
    kept: Annotated[int | None, "that the icon holds; null where it was an alias that no icon goes by"]


class SettleDocument(PegsChangeDocument):
    """A pegboard after a merge."""

    moved: Annotated[list[MovedPeg], "newcomers that gave way"]
    dropped: Annotated[list[DroppedPeg], "lines that are gone"]
    markers: Annotated[int, "how many conflict markers were removed"]


class RefusedName(TypedDict):
    """A codepoint that was passed over."""

    name: Annotated[str, "that the file has for it"]
    codepoint: Annotated[int, "as a number"]
    why: Annotated[str, "in words"]


class AdoptDocument(PegsChangeDocument):
    """Codepoints that were taken over."""

    taken: Annotated[list[str], "icons that now hold the codepoint of the file"]
    same: Annotated[list[str], "that held it already"]
    moved: Annotated[list[MovedPeg], "that gave up another one"]
    stays: Annotated[list[KeptPeg], "that kept their own"]
    reserved: Annotated[list[str], "names without a drawing"]
    near: Annotated[dict[str, list[str]], "names without a drawing, and the icons that each may mean"]
    refused: Annotated[list[RefusedName], "codepoints that were passed over"]
    waiting: Annotated[list[str], "icons that the file does not know"]


class RenamedIcon(TypedDict):
    """An icon under another name."""

    old: Annotated[str, "its name before"]
    new: Annotated[str, "its name now"]
    alias: Annotated[bool, "whether the old one still works"]


class RedrawnIcon(TypedDict):
    """An icon whose outline is another."""

    icon: Annotated[str, "its name"]
    face: NotRequired[Annotated[str, "in which, by the name of its file, where there are several"]]
    share: Annotated[float, "of the ink of both that is not common"]


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
    """What became of a set of icons."""

    step: Annotated[str, 'the version step that follows: "none", "patch", "minor" or "major"']
    added: Annotated[list[str], "icons that are new"]
    gone: Annotated[list[str], "icons that are no longer in it"]
    left_out: Annotated[list[str], "not in it, as code does not use them; their codepoints are still theirs"]
    moved: Annotated[list[MovedPeg], "on another codepoint"]
    renamed: Annotated[list[RenamedIcon], "the same codepoint under another name"]
    redrawn: Annotated[list[RedrawnIcon], "with another outline"]
    resized: Annotated[list[ResizedIcon], "with another advance"]
    facts: Annotated[list[ChangedFact], "names and metrics that changed"]
    sizes: Annotated[list[ComparedFile], "of files"]
    allowed: Annotated[bool, "whether the step is no larger than was allowed"]
