"""What `oddpeg.toml` says, as plain values.

Knows: the tables and what follows from them. Does not know: what is allowed in them, or how they are read. Named
tuples: their classes are made in a tenth of the time, at every start.
"""

from __future__ import annotations

import re
from typing import Any, NamedTuple

from oddpeg.pegboard.board import Codes

RANGE = re.compile(r"\s*U\+([0-9A-Fa-f]{1,6})\s*-\s*U\+([0-9A-Fa-f]{1,6})\s*")
_range = range  # in PegsTable, `range` is a key


class FontTable(NamedTuple):
    """[font]: what the font is and says of itself."""

    family: str
    version: str
    copyright: str
    licence: str
    licence_url: str
    designer: str
    embedding: str
    ligatures: bool
    units_per_em: str | int
    fit: str
    drop: float


class IconsTable(NamedTuple):
    """[icons]: where drawings come from."""

    from_: list[str]
    faint: str
    folders: str
    licences: str

    @property
    def keep_faint(self) -> bool:
        """Whether paint of partial opacity counts as solid ink."""
        return self.faint == "keep"


class ClassesTable(NamedTuple):
    """[classes]: names in stylesheets. sizes, colours: name → value; mirrored: patterns of icons, or of tags after a
    `#`, that face the other way in text from right to left."""

    prefix: str
    base: str
    sizes: dict[str, str]
    colours: dict[str, str]
    mirrored: list[str]


class PegsTable(NamedTuple):
    """[pegs]: how codepoints are given out."""

    assign: str
    range: str | list[str]

    def codes(self) -> Codes:
        """Return the codepoints that may be given out."""
        matches = [RANGE.fullmatch(text) for text in ([self.range] if isinstance(self.range, str) else self.range)]
        return Codes(tuple(_range(int(m[1], 16), int(m[2], 16) + 1) for m in matches if m))


class OutputTable(NamedTuple):
    """One output of a bundle. to: its path relative to the bundle's folder; options: the keys that this kind has."""

    kind: str
    to: str
    options: dict[str, str | bool]


class BundleTable(NamedTuple):
    """[bundle.NAME]: one delivery. only, without: patterns of icons' names, or of tags after a `#`; draft: pack fonts
    fast rather than small."""

    into: str
    only: list[str]
    without: list[str]
    fonts: list[str]
    outputs: list[OutputTable]
    draft: bool


class RightsRule(NamedTuple):
    """One of [[rights]]: licence and credit of the drawings that a pattern names. files: compared with paths from the
    project, `*` standing for anything, folders included."""

    files: str
    licence: str
    credit: str


class CheckRule(NamedTuple):
    """One of [[checks]]: another level for a finding, for all icons or those that a pattern names, and why."""

    finding: str
    level: str
    icons: str
    reason: str


class Config(NamedTuple):
    """The whole file."""

    font: FontTable
    icons: IconsTable
    classes: ClassesTable
    pegs: PegsTable
    rights: list[RightsRule]
    checks: list[CheckRule]
    synonyms: dict[str, list[str]]
    bundle: dict[str, BundleTable]

    @property
    def base_class(self) -> str:
        return self.classes.base or f"{self.classes.prefix}-icon"

    def values(self) -> dict[str, Any]:
        """Return everything as dicts and lists, for `from_values`."""
        bundles = {
            name: {**bundle._asdict(), "outputs": [output._asdict() for output in bundle.outputs]}
            for name, bundle in self.bundle.items()
        }
        return {
            "font": self.font._asdict(),
            "icons": self.icons._asdict(),
            "classes": self.classes._asdict(),
            "pegs": self.pegs._asdict(),
            "rights": [rule._asdict() for rule in self.rights],
            "checks": [rule._asdict() for rule in self.checks],
            "synonyms": self.synonyms,
            "bundle": bundles,
        }

    @classmethod
    def from_values(cls, values: dict[str, Any]) -> Config:
        """Return the config in dicts and lists that were found valid, every key present."""
        bundles = {
            name: BundleTable(**{**table, "outputs": [OutputTable(**output) for output in table["outputs"]]})
            for name, table in values["bundle"].items()
        }
        return cls(
            FontTable(**values["font"]),
            IconsTable(**values["icons"]),
            ClassesTable(**values["classes"]),
            PegsTable(**values["pegs"]),
            [RightsRule(**rule) for rule in values["rights"]],
            [CheckRule(**rule) for rule in values["checks"]],
            values["synonyms"],
            bundles,
        )
