"""Declarations of `oddpeg.toml`: every key once, with its type, limits, default and documentation.

pydantic validates these dataclasses as they are. This module does not import it: a config that is known to be valid
needs no validation, and importing pydantic takes 0.2 s, a third of a small rebuild.
"""

from __future__ import annotations

from dataclasses import field, replace
from typing import Annotated, Any, Literal

from oddpeg.config.font_settings import AxisTable, FaceTable, FontTable, RepackTable
from oddpeg.config.keys import (
    CLASS_NAME,
    COLOUR,
    CSS_VALUE,
    FILLED,
    FINDING,
    FONT_FORMAT,
    OPTIONAL_CLASS_NAME,
    OUTPUT_KIND,
    RANGE,
    Rule,
    check_output,
    check_ranges,
    config_table,
    output_table,
)
from oddpeg.pegboard.codes import Codes

_range = range  # in PegsTable, `range` is a key


@config_table
class IconsTable:
    """Where drawings come from."""

    from_: Annotated[
        list[str],
        Rule(
            "list of globs, of SVG files and of fonts; outside of the project only where `oddpeg --also-read` allows"
            " it; none beside `[face.*]`"
        ),
    ] = field(default_factory=list)
    names: Annotated[
        str,
        Rule(
            "a map (JSON, CSV, or a font) that names the glyphs of the fonts among them, where their own names will not"
            " do"
        ),
    ] = ""
    translucent: Annotated[
        Literal["auto", "solid", "drop"],
        Rule(
            "paint of partial opacity: `auto`: it is omitted where it would hide opaque paint, and solid elsewhere;"
            " `solid`: always solid; `drop`: always omitted, also of layers of colour. A notice names the icon"
        ),
    ] = "auto"
    folders: Annotated[
        Literal["ignore", "prefix"],
        Rule(
            "whether folders are part of names: `ignore`: no; `prefix`: those below the glob's fixed part go before the"
            " name (`icons/deck/exit.svg` is `deck-exit`)"
        ),
    ] = "ignore"
    licences: Annotated[Literal["optional", "required"], Rule("`required`: an icon without a licence is an error")] = (
        "optional"
    )


@config_table
class ClassesTable:
    """Names in stylesheets."""

    prefix: Annotated[str, Rule("classes are `.PREFIX-NAME`", filled=True), CLASS_NAME] = "icon"
    base: Annotated[str, Rule("the class that every icon needs too; empty for `PREFIX-icon`"), OPTIONAL_CLASS_NAME] = ""
    sizes: Annotated[
        dict[Annotated[str, CLASS_NAME], Annotated[str, CSS_VALUE]],
        Rule("table of name = CSS value: classes `.PREFIX-size-NAME`"),
    ] = field(default_factory=dict)
    colours: Annotated[
        dict[Annotated[str, CLASS_NAME], Annotated[str, CSS_VALUE]],
        Rule("table of name = CSS value: classes `.PREFIX-colour-NAME`"),
    ] = field(default_factory=dict)
    mirrored: Annotated[
        list[Annotated[str, FILLED]],
        Rule("patterns of icons (of tags after a `#`) that face the other way in text from right to left"),
    ] = field(default_factory=list)


@config_table
class PegsTable:
    """How codepoints are given out."""

    assign: Annotated[
        Literal["next", "hashed"],
        Rule("`next`: the first free codepoint; `hashed`: from the icon's name, so that two branches rarely meet"),
    ] = "next"
    range: Annotated[
        str | list[str],
        Rule("codepoints that may be given out; or a list of ranges, which fill in order", check=check_ranges),
    ] = "U+E000-U+F8FF"

    def codes(self) -> Codes:
        """Return the codepoints that may be given out."""
        matches = [RANGE.fullmatch(text) for text in ([self.range] if isinstance(self.range, str) else self.range)]
        return Codes(tuple(_range(int(m[1], 16), int(m[2], 16) + 1) for m in matches if m))


@config_table
class OutputTable:
    """One output of a bundle."""

    kind: Annotated[str, Rule("a kind of output", choices=OUTPUT_KIND)]
    to: Annotated[str, Rule("its path, relative to the bundle's folder; empty for the kind's own name")] = ""
    options: Annotated[dict[str, Any], Rule("the keys that only this kind has")] = field(default_factory=dict)


@config_table
class BundleTable:
    """One delivery."""

    into: Annotated[
        str,
        Rule(
            "the folder to deliver into: within the project (the folder of `oddpeg.toml`), reached through no link, and"
            " not among the drawings",
            filled=True,
        ),
    ]
    only: Annotated[
        Literal["used"] | list[Annotated[str, FILLED]],
        Rule(
            'patterns of icons (of tags after a `#`) that the bundle holds; all where empty; or `"used"`: what'
            " `oddpeg usage` finds in the project's code"
        ),
    ] = field(default_factory=list)
    without: Annotated[
        list[Annotated[str, FILLED]], Rule("patterns of icons (of tags after a `#`) that the bundle leaves out")
    ] = field(default_factory=list)
    fonts: Annotated[
        list[Annotated[str, Rule(choices=FONT_FORMAT)]], Rule("of `woff2`, `woff`, `ttf`, and the legacy `eot`, `svg`")
    ] = field(default_factory=list)
    outputs: Annotated[
        list[Annotated[OutputTable, Rule(read=output_table, check=check_output)]],
        Rule(
            'kinds (see [outputs](outputs.md)), or tables `{ kind = "css", to = "../styles/icons.css" }`, `to` relative'
            " to the bundle's folder"
        ),
    ] = field(default_factory=list)
    faces: Annotated[
        list[Annotated[str, FILLED]],
        Rule("the faces that the bundle holds, `weight` for the variable font; all where empty"),
    ] = field(default_factory=list)
    draft: Annotated[bool, Rule("pack fonts fast rather than small")] = False
    colour: Annotated[
        bool | Literal["gradients"],
        Rule(
            "layers of colour beside the plain outlines (`COLR` 0, `CPAL`); `gradients`: with gradients and opacity"
            " (`COLR` 1)"
        ),
    ] = False
    hashed: Annotated[
        bool,
        Rule(
            "digests of their content in the names of fonts and of the files that pages load, every URL following, so"
            " that they may be cached for ever; the output `manifest` lists the names"
        ),
    ] = False

    @property
    def colour_mode(self) -> Literal["", "flat", "gradients"]:
        """The part of the drawings' colours that the bundle needs."""
        return "gradients" if self.colour == "gradients" else "flat" if self.colour else ""


@config_table
class UsageTable:
    """Where the project's own code names icons."""

    in_: Annotated[
        list[Annotated[str, FILLED]],
        Rule(
            "files and folders of code, relative to the project; what git knows of where empty, else the whole folder"
        ),
    ] = field(default_factory=list)
    keep: Annotated[
        list[Annotated[str, FILLED]],
        Rule("patterns of icons (of tags after a `#`) that are used in ways that no search can see"),
    ] = field(default_factory=list)


@config_table
class RightsRule:
    """Licence and credit of the drawings that a pattern names."""

    files: Annotated[str, Rule("a pattern for paths from the project, `*` standing for folders too", filled=True)]
    licence: Annotated[str, Rule("the licence of icons whose line in `icons.csv` names none")] = ""
    credit: Annotated[str, Rule("the credit of icons whose line in `icons.csv` names none")] = ""


@config_table
class CheckRule:
    """Another level for a finding, of all icons or of a pattern, with the reason. The last matching rule counts."""

    finding: Annotated[str, Rule("a finding of `check`", choices=FINDING)]
    level: Annotated[Literal["silent", "info", "warning", "error"], Rule("the level that it gets")]
    reason: Annotated[str, Rule("why", filled=True)]
    icons: Annotated[str, Rule("a pattern of icons (of tags after a `#`)", filled=True)] = "*"


@config_table
class Config:
    """The whole file."""

    font: Annotated[FontTable, Rule("what the font is and says of itself")]
    bundle: Annotated[dict[str, BundleTable], Rule("deliveries, by name", filled=True)]
    icons: Annotated[IconsTable, Rule("where drawings come from")] = IconsTable()
    face: Annotated[
        dict[Annotated[str, CLASS_NAME], FaceTable],
        Rule("faces of the family, by name, where drawings come in several weights or styles"),
    ] = field(default_factory=dict)
    classes: Annotated[ClassesTable, Rule("names in stylesheets")] = ClassesTable()
    pegs: Annotated[PegsTable, Rule("how codepoints are given out")] = PegsTable()
    axis: Annotated[
        dict[Annotated[str, CLASS_NAME], AxisTable],
        Rule(
            "one variable font in the place of single faces: `axis.weight`, `axis.size`, and states of any other name"
        ),
    ] = field(default_factory=dict)
    repack: Annotated[dict[str, RepackTable], Rule("fonts that exist, packed for the web in every build")] = field(
        default_factory=dict
    )
    palettes: Annotated[
        dict[Annotated[str, CLASS_NAME], dict[Annotated[str, CLASS_NAME], Annotated[str, COLOUR]]],
        Rule(
            "tables of name = CSS colour: the first names the colours of the drawings, further ones replace them; what"
            " one leaves out stays as in the first"
        ),
    ] = field(default_factory=dict)
    usage: Annotated[UsageTable, Rule("where the project's own code names icons")] = UsageTable()
    rights: Annotated[
        list[RightsRule], Rule("licences and credits of whole folders; the last rule that fits counts")
    ] = field(default_factory=list)
    checks: Annotated[list[CheckRule], Rule("other levels for findings; the last rule that fits counts")] = field(
        default_factory=list
    )
    synonyms: Annotated[
        dict[str, list[str]],
        Rule(
            "table of word = list of words that mean the same to `find`, in place of the built-in ones for that word;"
            " an empty list turns them off"
        ),
    ] = field(default_factory=dict)

    @property
    def colour_mode(self) -> Literal["", "flat", "gradients"]:
        """The part of the drawings' colours that the bundles need."""
        modes = [bundle.colour_mode for bundle in self.bundle.values()]
        return "gradients" if "gradients" in modes else "flat" if "flat" in modes else ""

    def drafted(self) -> Config:
        """Return the same with every bundle as a draft."""
        return replace(self, bundle={name: replace(table, draft=True) for name, table in self.bundle.items()})

    @property
    def base_class(self) -> str:
        """The class that every icon needs in addition to its own."""
        return self.classes.base or f"{self.classes.prefix}-icon"

    @property
    def patterns(self) -> list[str]:
        """The globs of all drawings."""
        sized = (p for axis in self.axis.values() for patterns in axis.drawings.values() for p in patterns)
        own = (p for face in self.face.values() for p in face.from_)
        return list(dict.fromkeys([*self.icons.from_, *own, *sized]))

    @property
    def bundles_of_used(self) -> list[str]:
        """The names of bundles that hold used icons only."""
        return [name for name, bundle in self.bundle.items() if bundle.only == "used"]

    @property
    def needs_usage(self) -> bool:
        """Whether the build depends on the icons that code uses."""
        return bool(self.bundles_of_used) or any(table.used for table in self.repack.values())

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
            face={name: FaceTable(**table) for name, table in values["face"].items()},
            bundle=bundles,
            classes=ClassesTable(**values["classes"]),
            pegs=PegsTable(**values["pegs"]),
            axis={name: AxisTable(**table) for name, table in values["axis"].items()},
            repack={name: RepackTable(**table) for name, table in values["repack"].items()},
            palettes=values["palettes"],
            usage=UsageTable(**values["usage"]),
            rights=[RightsRule(**rule) for rule in values["rights"]],
            checks=[CheckRule(**rule) for rule in values["checks"]],
            synonyms=values["synonyms"],
        )
