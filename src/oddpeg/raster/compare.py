"""Comparison of two states of a set of icons: new, gone, moved, renamed, redrawn and recoloured icons."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Annotated, NamedTuple

from oddpeg.raster.straight_glyph import StraightGlyph, colour_difference, difference
from oddpeg.reports import Key, reported

STEPS = ("none", "patch", "minor", "major")


@dataclass(slots=True)
class FontState:
    """The icons of one side of a comparison.

    Attributes:
        icons: codepoint by name.
        named: names are icon names, not spelled codepoints.
        aliases: alias → codepoint.
        facts: names and metrics.
        shapes: by codepoint; None without a font.
        sizes: bytes by file name.
        weight: weight of the face of `shapes`; 400 if unknown.
        faces: shapes of other faces, by file name without extension.
        alternates: shapes that take the place of others in a part of the design space, by what text says of it.
        unread_colours: why layers of colour could not be read; empty where they were.
    """

    icons: dict[str, int]
    named: bool = True
    aliases: dict[str, int] = field(default_factory=dict)
    facts: dict[str, str] = field(default_factory=dict)
    shapes: dict[int, StraightGlyph] | None = None
    sizes: dict[str, int] = field(default_factory=dict)
    weight: int = 400
    faces: dict[str, dict[int, StraightGlyph]] = field(default_factory=dict)
    alternates: dict[str, dict[int, StraightGlyph]] = field(default_factory=dict)
    unread_colours: str = ""

    def shape(self, code: int, face: str = "") -> StraightGlyph | None:
        """Return a glyph of a face, by default of the main one, or of that in a part of its design space; None where it
        does not exist."""
        if face in self.faces:
            return self.faces[face].get(code)
        usual = (self.shapes or {}).get(code)
        return self.alternates.get(face, {}).get(code, usual)


@dataclass(frozen=True, slots=True)
class Redrawn:
    """An icon with another outline.

    Attributes:
        share: of the ink of both that is not common.
        old, new: codepoints before and now.
    """

    icon: Annotated[str, Key("name")]
    share: float
    old: int
    new: int
    face: Annotated[str, Key("face, by the name of its file, or part of the design space", optional=True)] = ""

    @reported("share of the ink that differs", name="share")
    def rounded_share(self) -> float:
        """Share with five decimals."""
        return round(self.share, 5)

    @property
    def label(self) -> str:
        """The icon's name, and where it is not the usual one, its face."""
        return f"{self.icon} ({self.face})" if self.face else self.icon


@dataclass(frozen=True, slots=True)
class Recoloured(Redrawn):
    """An icon with other colours; the share is that of the ink of both that has another colour."""

    palette: Annotated[int, Key("first palette with other colours, from 0")] = 0

    @property
    def label(self) -> str:
        """The icon's name, and where they are not the usual ones, its face and palette."""
        special = [self.face] * bool(self.face) + [f"palette {self.palette}"] * bool(self.palette)
        return f"{self.icon} ({', '.join(special)})" if special else self.icon


class Moved(NamedTuple):
    """An icon on another codepoint."""

    icon: Annotated[str, Key("name")]
    before: Annotated[int, Key("codepoint before", name="from")]
    after: Annotated[int, Key("codepoint now", name="to")]


class Renamed(NamedTuple):
    """An icon under another name."""

    old: Annotated[str, Key("name before")]
    new: Annotated[str, Key("name now")]
    kept: Annotated[bool, Key("whether the old name still works", name="alias")]


class Resized(NamedTuple):
    """An icon with another advance, in ems."""

    icon: Annotated[str, Key("name")]
    before: Annotated[float, Key("advance before", name="from")]
    after: Annotated[float, Key("advance now", name="to")]


class Fact(NamedTuple):
    """A name or metric of the font that is another."""

    what: Annotated[str, Key("name or metric")]
    before: Annotated[str, Key("value before", name="from")]
    after: Annotated[str, Key("value now", name="to")]


class FileSize(NamedTuple):
    """The size of a file on both sides."""

    file: Annotated[str, Key("name")]
    before: Annotated[int | None, Key("bytes before; null where it was missing", name="from")]
    after: Annotated[int | None, Key("bytes now; null where it is missing", name="to")]


_BREAKING = ("family", "units_per_em", "ascender", "descender")  # facts that change how every icon is found or stands


@dataclass(slots=True)
class Comparison:
    """The changes between two builds of a set of icons."""

    added: Annotated[list[str], Key("new icons")] = field(default_factory=list)
    gone: Annotated[list[str], Key("icons that are gone")] = field(default_factory=list)
    left_out: Annotated[list[str], Key("icons omitted because code does not use them; they keep their codepoints")] = (
        field(default_factory=list)
    )
    moved: Annotated[list[Moved], Key("icons on another codepoint")] = field(default_factory=list)
    renamed: Annotated[list[Renamed], Key("icons under another name, on the same codepoint")] = field(
        default_factory=list
    )
    redrawn: Annotated[list[Redrawn], Key("icons with another outline")] = field(default_factory=list)
    recoloured: Annotated[list[Recoloured], Key("icons with other colours")] = field(default_factory=list)
    resized: Annotated[list[Resized], Key("icons with another advance")] = field(default_factory=list)
    facts: Annotated[list[Fact], Key("names and metrics that changed")] = field(default_factory=list)
    sizes: Annotated[list[FileSize], Key("sizes of files")] = field(default_factory=list)

    @property
    def pictured(self) -> list[Redrawn]:
        """The icons that look different: redrawn ones, then recoloured ones."""
        return [*self.redrawn, *self.recoloured]

    @reported('version step that follows: "none", "patch", "minor" or "major"')
    def step(self) -> str:
        """The version bump: breaking changes are major, additions minor, the rest a patch."""
        if (
            self.gone
            or self.moved
            or any(not r.kept for r in self.renamed)
            or any(f.what in _BREAKING for f in self.facts)
        ):
            return "major"
        if self.added or self.renamed or any(f.what == "colours" for f in self.facts):
            return "minor"
        return "patch" if self.redrawn or self.recoloured or self.resized or self.facts else "none"


def compare(old: FontState, new: FontState) -> Comparison:
    """Return the changes from `old` to `new`."""
    before, after = _same_names(old, new)
    comparison = Comparison()
    gone, fresh = before.keys() - after.keys(), after.keys() - before.keys()
    heirs = {after[name]: name for name in sorted(fresh)}
    for name in sorted(gone):
        heir = heirs.get(before[name])
        if heir is not None and heir in fresh:
            comparison.renamed.append(Renamed(name, heir, new.aliases.get(name) == before[name]))
            fresh = fresh - {heir}
        else:
            comparison.gone.append(name)
    comparison.added = sorted(fresh)
    comparison.moved = sorted(
        Moved(n, before[n], after[n]) for n in before.keys() & after.keys() if before[n] != after[n]
    )
    pairs = {n: (before[n], after[n]) for n in before.keys() & after.keys()}
    pairs |= {name: (before[was], after[name]) for was, name, _ in comparison.renamed}
    _compare_shapes(old, new, pairs, comparison)
    for fact in sorted(old.facts.keys() & new.facts.keys()):
        if old.facts[fact] != new.facts[fact]:
            comparison.facts.append(Fact(fact, old.facts[fact], new.facts[fact]))
    if len(old.sizes) == len(new.sizes) == 1:  # two files, under any names
        ((_, before_size),), ((name, after_size),) = old.sizes.items(), new.sizes.items()
        comparison.sizes = [FileSize(name, before_size, after_size)]
    else:
        comparison.sizes = [
            FileSize(f, old.sizes.get(f), new.sizes.get(f)) for f in sorted(old.sizes.keys() | new.sizes.keys())
        ]
    return comparison


def _same_names(old: FontState, new: FontState) -> tuple[dict[str, int], dict[str, int]]:
    """Return the icons of both sides; a side without glyph names uses those of the other."""
    sides = [old, new]
    names_by_font: list[dict[str, int]] = []
    for mine, other in (sides, sides[::-1]):
        names = {code: name for name, code in other.icons.items()} if other.named and not mine.named else {}
        names_by_font.append({names.get(code, name): code for name, code in mine.icons.items()})
    return names_by_font[0], names_by_font[1]


def _compare_shapes(old: FontState, new: FontState, pairs: dict[str, tuple[int, int]], comparison: Comparison) -> None:
    varied = old.alternates.keys() | new.alternates.keys()
    for face in ("", *sorted(old.faces.keys() & new.faces.keys()), *sorted(varied)):
        for name, (was, now) in sorted(pairs.items()):
            if face in varied and was not in old.alternates.get(face, {}) and now not in new.alternates.get(face, {}):
                continue
            a, b = old.shape(was, face), new.shape(now, face)
            if a is None or b is None:
                continue
            if abs(a.advance - b.advance) > 0.001 and not face:
                comparison.resized.append(Resized(name, round(a.advance, 4), round(b.advance, 4)))
            share = difference(a, b)
            if share:
                comparison.redrawn.append(Redrawn(name, share, was, now, face))
            shares = (colour_difference(a, b, palette) for palette in range(max(len(a.palettes), len(b.palettes))))
            changed = next(((palette, share) for palette, share in enumerate(shares) if share), None)
            if changed is not None:
                comparison.recoloured.append(Recoloured(name, changed[1], was, now, face, changed[0]))
    comparison.redrawn.sort(key=lambda r: (-r.share, r.icon, r.face))
    comparison.recoloured.sort(key=lambda r: (-r.share, r.icon, r.face, r.palette))
