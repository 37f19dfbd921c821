"""What `oddpeg.toml` may say: every key once, with its type, limits, default and meaning.

Named tuples, since their classes are made in a tenth of the time at every start; their annotations are only evaluated
where a file has to be validated or explained (`config_validation`).
"""

from __future__ import annotations

from typing import Annotated, Any, Literal, NamedTuple

from oddpeg.pegboard.codes import Codes
from oddpeg.workspace.keys import (
    CLASS_NAME,
    CSS_VALUE,
    FILLED,
    FINDING,
    FONT_FORMAT,
    OPTIONAL_CLASS_NAME,
    OUTPUT_KIND,
    RANGE,
    Key,
    check_family,
    check_ranges,
)

_range = range  # in PegsTable, `range` is a key


class FontTable(NamedTuple):
    """What the font is and says of itself."""

    family: Annotated[
        str,
        Key(
            "the family name, at most 63 characters, at least one letter; file names derive from it", check=check_family
        ),
    ]
    version: Annotated[
        str,
        Key(
            "a number, a point, up to three digits",
            pattern=r"\d{1,4}(\.\d{1,3})?",
            hint='must look like "1.0": a number, a point, up to three digits',
        ),
    ] = "1.0"
    copyright: Annotated[str, Key("the copyright line in the font's name table")] = ""
    licence: Annotated[str, Key("the licence in the font's name table")] = ""
    licence_url: Annotated[str, Key("where the licence can be read, in the font's name table")] = ""
    designer: Annotated[str, Key("the designer in the font's name table")] = ""
    embedding: Annotated[
        Literal["installable", "editable", "preview", "restricted"],
        Key("what documents may do with the font (OS/2 fsType); `preview` includes printing"),
    ] = "installable"
    ligatures: Annotated[
        bool,
        Key(
            "typing a name (or alias) in the font shows its icon; adds letters that draw nothing. Names of one letter"
            " cannot be typed"
        ),
    ] = False
    units_per_em: Annotated[
        Literal["auto"] | int,
        Key(
            "16 to 16384, or `auto`: 1024 if every drawing's height divides it; else the smallest multiple, from 1000"
            " up, of 8 and of every height, if that is at most 2048; else 1024",
            least=16,
            most=16384,
        ),
    ] = "auto"
    fit: Annotated[
        Literal["frame", "square", "ink"],
        Key(
            "`frame`: the viewBox height is 1 em, advance as wide as the viewBox; `square`: the same, centred on an"
            " advance of 1 em; `ink`: what is black, centred on an advance of 1 em and as large as it can be"
        ),
    ] = "frame"
    padding: Annotated[
        float, Key("share of the em left free on each side where `fit` is `ink`", least=0, most=0.45)
    ] = 1 / 12
    drop: Annotated[
        Literal["auto"] | float,
        Key(
            "share of the em below the baseline, 0 to 0.5, or `auto`: nearest to 1/8 on a line of the drawings'"
            " commonest grid, so that edges fall on whole pixels at its size",
            least=0,
            most=0.5,
        ),
    ] = "auto"
    precision: Annotated[
        float,
        Key(
            "how far curves may be off their drawings, in thousandths of the em, besides what whole units cost; more"
            " makes smaller fonts",
            least=0.05,
            most=5,
        ),
    ] = 0.3


class IconsTable(NamedTuple):
    """Where drawings come from."""

    from_: Annotated[
        list[str], Key("list of globs; outside of the project only where `oddpeg --also-read` allows it", filled=True)
    ]
    faint: Annotated[
        Literal["keep", "drop"],
        Key(
            "what paint of partial opacity counts as: `keep`: solid ink, since a faint layer usually carries part of"
            " the shape and a hole nobody asked for is worse than a solid patch; `drop`: nothing. Noted on the icon"
            " either way"
        ),
    ] = "keep"
    folders: Annotated[
        Literal["ignore", "prefix"],
        Key(
            "whether folders are part of names: `ignore`: no; `prefix`: those below the glob's fixed part go before the"
            " name (`icons/deck/exit.svg` is `deck-exit`)"
        ),
    ] = "ignore"
    licences: Annotated[Literal["optional", "required"], Key("`required`: an icon without a licence is an error")] = (
        "optional"
    )

    @property
    def keep_faint(self) -> bool:
        """Whether paint of partial opacity counts as solid ink."""
        return self.faint == "keep"


class ClassesTable(NamedTuple):
    """Names in stylesheets."""

    prefix: Annotated[str, Key("classes are `.PREFIX-NAME`", filled=True), CLASS_NAME] = "icon"
    base: Annotated[str, Key("the class that every icon needs too; empty for `PREFIX-icon`"), OPTIONAL_CLASS_NAME] = ""
    sizes: Annotated[
        dict[Annotated[str, CLASS_NAME], Annotated[str, CSS_VALUE]],
        Key("table of name = CSS value: classes `.PREFIX-size-NAME`"),
    ] = {}
    colours: Annotated[
        dict[Annotated[str, CLASS_NAME], Annotated[str, CSS_VALUE]],
        Key("table of name = CSS value: classes `.PREFIX-colour-NAME`"),
    ] = {}
    mirrored: Annotated[
        list[Annotated[str, FILLED]],
        Key("patterns of icons (of tags after a `#`) that face the other way in text from right to left"),
    ] = []


class PegsTable(NamedTuple):
    """How codepoints are given out."""

    assign: Annotated[
        Literal["next", "hashed"],
        Key("`next`: the first free codepoint; `hashed`: from the icon's name, so that two branches rarely meet"),
    ] = "next"
    range: Annotated[
        str | list[str],
        Key("codepoints that may be given out; or a list of ranges, which fill in order", check=check_ranges),
    ] = "U+E000-U+F8FF"

    def codes(self) -> Codes:
        """Return the codepoints that may be given out."""
        matches = [RANGE.fullmatch(text) for text in ([self.range] if isinstance(self.range, str) else self.range)]
        return Codes(tuple(_range(int(m[1], 16), int(m[2], 16) + 1) for m in matches if m))


class OutputTable(NamedTuple):
    """One output of a bundle."""

    kind: Annotated[str, Key("a kind of output", choices=OUTPUT_KIND)]
    to: Annotated[str, Key("its path, relative to the bundle's folder; empty for the kind's own name")] = ""
    options: Annotated[dict[str, Any], Key("the keys that only this kind has")] = {}


class BundleTable(NamedTuple):
    """One delivery."""

    into: Annotated[
        str,
        Key(
            "the folder to deliver into: within the project (the folder of `oddpeg.toml`), reached through no link, and"
            " not among the drawings",
            filled=True,
        ),
    ]
    only: Annotated[
        Literal["used"] | list[Annotated[str, FILLED]],
        Key(
            'patterns of icons (of tags after a `#`) that the bundle holds; all where empty; or `"used"`: what'
            " `oddpeg usage` finds in the project's code"
        ),
    ] = []
    without: Annotated[
        list[Annotated[str, FILLED]], Key("patterns of icons (of tags after a `#`) that the bundle leaves out")
    ] = []
    fonts: Annotated[
        list[Annotated[str, Key(choices=FONT_FORMAT)]], Key("of `woff2`, `woff`, `ttf`, and the legacy `eot`, `svg`")
    ] = []
    outputs: Annotated[
        list[OutputTable],
        Key(
            'kinds (see [outputs](outputs.md)), or tables `{ kind = "css", to = "../styles/icons.css" }`, `to` relative'
            " to the bundle's folder"
        ),
    ] = []
    draft: Annotated[bool, Key("pack fonts fast rather than small")] = False
    hashed: Annotated[
        bool,
        Key(
            "digests of their content in the names of fonts and of the files that pages load, every URL following, so"
            " that they may be cached for ever; the output `manifest` lists the names"
        ),
    ] = False


class UsageTable(NamedTuple):
    """Where the project's own code names icons."""

    in_: Annotated[
        list[Annotated[str, FILLED]],
        Key("files and folders of code, relative to the project; what git knows of where empty, else the whole folder"),
    ] = []
    keep: Annotated[
        list[Annotated[str, FILLED]],
        Key("patterns of icons (of tags after a `#`) that are used in ways that no search can see"),
    ] = []


class RightsRule(NamedTuple):
    """Licence and credit of the drawings that a pattern names."""

    files: Annotated[str, Key("a pattern for paths from the project, `*` standing for folders too", filled=True)]
    licence: Annotated[str, Key("the licence of icons whose line in `icons.csv` names none")] = ""
    credit: Annotated[str, Key("the credit of icons whose line in `icons.csv` names none")] = ""


class CheckRule(NamedTuple):
    """Another level for a finding, for all icons or those that a pattern names, and why. The last rule that fits
    counts."""

    finding: Annotated[str, Key("a finding of `check`", choices=FINDING)]
    level: Annotated[Literal["silent", "info", "warning", "error"], Key("the level that it gets")]
    reason: Annotated[str, Key("why", filled=True)]
    icons: Annotated[str, Key("a pattern of icons (of tags after a `#`)", filled=True)] = "*"


class Config(NamedTuple):
    """The whole file."""

    font: Annotated[FontTable, Key("what the font is and says of itself")]
    icons: Annotated[IconsTable, Key("where drawings come from")]
    bundle: Annotated[dict[str, BundleTable], Key("deliveries, by name", filled=True)]
    classes: Annotated[ClassesTable, Key("names in stylesheets")] = ClassesTable()
    pegs: Annotated[PegsTable, Key("how codepoints are given out")] = PegsTable()
    usage: Annotated[UsageTable, Key("where the project's own code names icons")] = UsageTable()
    rights: Annotated[
        list[RightsRule], Key("licences and credits of whole folders; the last rule that fits counts")
    ] = []
    checks: Annotated[list[CheckRule], Key("other levels for findings; the last rule that fits counts")] = []
    synonyms: Annotated[dict[str, list[str]], Key("table of word = list of words that mean the same to `find`")] = {}

    @property
    def base_class(self) -> str:
        """The class that every icon needs beside its own."""
        return self.classes.base or f"{self.classes.prefix}-icon"

    @property
    def bundles_of_used(self) -> list[str]:
        """The names of bundles that hold only what the project's code uses."""
        return [name for name, bundle in self.bundle.items() if bundle.only == "used"]

    @classmethod
    def from_values(cls, values: dict[str, Any]) -> Config:
        """Return the config in dicts and lists that were found valid, every key present."""
        bundles = {
            name: BundleTable(**{**table, "outputs": [OutputTable(**output) for output in table["outputs"]]})
            for name, table in values["bundle"].items()
        }
        return cls(
            font=FontTable(**values["font"]),
            icons=IconsTable(**values["icons"]),
            bundle=bundles,
            classes=ClassesTable(**values["classes"]),
            pegs=PegsTable(**values["pegs"]),
            usage=UsageTable(**values["usage"]),
            rights=[RightsRule(**rule) for rule in values["rights"]],
            checks=[CheckRule(**rule) for rule in values["checks"]],
            synonyms=values["synonyms"],
        )
