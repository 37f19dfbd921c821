"""Declarations of `oddpeg.toml`: the font, its faces and axes (see `settings`)."""

from __future__ import annotations

from dataclasses import field
from typing import Annotated, Literal

from oddpeg.config.keys import FILLED, REPACK_FORMAT, Rule, check_family, config_table

SMALL_PRECISION = 1.0  # thousandths of the em, on a small em


@config_table
class FontTable:
    """The font and its metadata."""

    family: Annotated[
        str,
        Rule(
            "the family name, at most 63 characters, at least one letter; file names derive from it", check=check_family
        ),
    ]
    version: Annotated[
        str,
        Rule(
            "a number, a point, up to three digits",
            pattern=r"\d{1,4}(\.\d{1,3})?",
            hint='must look like "1.0": a number, a point, up to three digits',
        ),
    ] = "1.0"
    copyright: Annotated[str, Rule("the copyright line in the font's name table")] = ""
    licence: Annotated[str, Rule("the licence in the font's name table")] = ""
    licence_url: Annotated[str, Rule("where the licence can be read, in the font's name table")] = ""
    designer: Annotated[str, Rule("the designer in the font's name table")] = ""
    embedding: Annotated[
        Literal["installable", "editable", "preview", "restricted"],
        Rule("what documents may do with the font (OS/2 fsType); `preview` includes printing"),
    ] = "installable"
    ligatures: Annotated[
        bool,
        Rule(
            "typing a name (or alias) in the font shows its icon; adds letters that draw nothing. Names of one letter"
            " cannot be typed"
        ),
    ] = False
    units_per_em: Annotated[
        Literal["auto", "small"] | int,
        Rule(
            "16 to 16384, or `auto`: 1024 if every drawing's height divides it; else the smallest multiple, from 1000"
            " up, of 8 and of every height, if that is at most 2048; else 1024. `small`: about 20 for each line of the"
            " drawings' grid, and curves may be off by a thousandth of the em. An eighth less to load, and edges off by"
            " up to 1/40 of a grid line. The first delivery pins it (`oddpeg config --repin`)",
            least=16,
            most=16384,
        ),
    ] = "auto"
    fit: Annotated[
        Literal["frame", "square", "ink"],
        Rule(
            "`frame`: the viewBox height is 1 em, advance as wide as the viewBox; `square`: the same, centred on an"
            " advance of 1 em; `ink`: what is black, centred on an advance of 1 em and as large as it can be"
        ),
    ] = "frame"
    padding: Annotated[
        float, Rule("share of the em left free on each side where `fit` is `ink`", least=0, most=0.45)
    ] = 1 / 12
    descent: Annotated[
        Literal["auto"] | float,
        Rule(
            "share of the em below the baseline, 0 to 0.5, or `auto`: nearest to 1/8 on a line of the drawings'"
            " commonest grid, so that edges fall on whole pixels at its size. The first delivery pins it",
            least=0,
            most=0.5,
        ),
    ] = "auto"
    precision: Annotated[
        float,
        Rule(
            "how far curves may be off their drawings, in thousandths of the em, besides what whole units cost; more"
            " makes smaller fonts",
            least=0.05,
            most=5,
        ),
    ] = 0.3
    default: Annotated[
        str, Rule("the face that shows where none is chosen; the one whose weight is nearest to 400 where empty")
    ] = ""

    @property
    def curve_precision(self) -> float:
        """How far curves may be off, in thousandths of the em."""
        return max(self.precision, SMALL_PRECISION) if self.units_per_em == "small" else self.precision


@config_table
class FaceTable:
    """One face of the family: the icons at one weight. Names of icons, and so codepoints, are shared by all faces."""

    from_: Annotated[list[Annotated[str, FILLED]], Rule("globs of the face's own drawings, as in `icons.from`")] = (
        field(default_factory=list)
    )
    of: Annotated[str, Rule("the face whose drawings it has, in place of `from`")] = ""
    strokes: Annotated[
        float, Rule("with `of`: how many times as wide strokes are as they are drawn", least=0.05, most=20)
    ] = 1.0
    weight: Annotated[int, Rule("CSS font-weight, 1 to 1000", least=1, most=1000)] = 400


@config_table
class AxisTable:
    """An axis of a variable font: of weight or optical size, along which strokes get wider, or between two states."""

    strokes: Annotated[
        dict[str, Annotated[float, Rule(least=0.05, most=20)]],
        Rule(
            "table of how many times as wide strokes are as drawn. `axis.weight`: by weight; the face's own weight"
            " has 1. `axis.size`: by font size in CSS pixels, for icons without a drawing for that size"
        ),
    ] = field(default_factory=dict)
    of: Annotated[str, Rule("the face that varies; the only one where empty")] = ""
    drawings: Annotated[
        dict[str, list[Annotated[str, FILLED]]],
        Rule(
            "of `axis.size`: table of size in CSS pixels = globs of the drawings for it; the face's own serve above."
            " A size at the end of a file's name (`anchor-16.svg`, `_16`, `@16`) is no part of the icon's name"
        ),
    ] = field(default_factory=dict)
    limits: Annotated[
        dict[str, Annotated[float, Rule(least=1, most=1000)]],
        Rule(
            "of `axis.size`: table of size = the font size from which the next larger drawing serves; half-way by"
            " default"
        ),
    ] = field(default_factory=dict)
    own: Annotated[
        int,
        Rule(
            "of `axis.size`: the size of the face's own drawings; by default the first of 24, 32, 48, 64, 96 and"
            " 128 above all others",
            least=0,
            most=1000,
        ),
    ] = 0
    faces: Annotated[
        list[Annotated[str, FILLED]],
        Rule("of a state (`axis.NAME`): two faces, the usual one and the one that takes its place"),
    ] = field(default_factory=list)
    tag: Annotated[
        str,
        Rule(
            "of a state: the axis in the font, four capitals or digits, a capital first; derived from its name by"
            " default",
            pattern=r"([A-Z][A-Z0-9]{3})?",
            hint="must be four capitals or digits, a capital first",
        ),
    ] = ""


@config_table
class RepackTable:
    """A font that exists, packed for the web in every build."""

    font: Annotated[str, Rule("the font file, relative to the project", filled=True)]
    into: Annotated[str, Rule("the folder that its files go into, as a bundle's", filled=True)]
    fonts: Annotated[
        list[Annotated[str, Rule(choices=REPACK_FORMAT)]], Rule("of `woff2`, `woff`, `ttf`", filled=True)
    ] = field(default_factory=lambda: ["woff2", "woff"])
    css: Annotated[bool, Rule("a stylesheet for them, in the same folder")] = True
    only: Annotated[
        list[Annotated[str, FILLED]], Rule("what to keep: glyph names, codepoints, ranges, blocks; all where empty")
    ] = field(default_factory=list)
    text: Annotated[str, Rule("characters to keep besides")] = ""
    used: Annotated[bool, Rule("keep the icons that `oddpeg usage` finds in the project's code")] = False
    drop_layout: Annotated[bool, Rule("leave out substitution and positioning")] = False
    family: Annotated[str, Rule("another family name")] = ""
    names: Annotated[str, Rule("a map (JSON, CSV, or a font) with names, and tags, that `only` may ask for")] = ""
    metrics_of: Annotated[
        str, Rule("a font whose line height the stylesheet's rule takes over, and the height of its small letters")
    ] = ""
