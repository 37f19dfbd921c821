"""Existing fonts, whole or in part, in formats for the web, with a stylesheet and a notice."""

from __future__ import annotations

import re
import struct
from collections.abc import Collection, Container, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from fnmatch import fnmatchcase
from pathlib import Path
from typing import Annotated, NamedTuple

from oddpeg.diagnostics import Diagnostic, OddPegError, UsageError
from oddpeg.existing_fonts.notice import CHANGES, notice_of, sealed
from oddpeg.font.read.cff import CffNames, with_names
from oddpeg.font.read.containers import FontTables, damage, read_tables
from oddpeg.font.read.glyphs import glyph_names
from oddpeg.font.read.inspection import FontFacts, block_of, facts_of
from oddpeg.font.read.line_metrics import LineMetrics
from oddpeg.font.read.packing import packed
from oddpeg.font.read.renaming import with_family
from oddpeg.font.read.soundness import sound
from oddpeg.font.read.subset import subset
from oddpeg.font.write.info import file_stem, postscript_name
from oddpeg.font.write.sfnt import OPENTYPE, Tables
from oddpeg.outputs.escape import css_string
from oddpeg.outputs.ranges import css_ranges
from oddpeg.pegboard.maps import map_names, map_tags
from oddpeg.reports import Key, reported
from oddpeg.sources.named_files import read_named_file
from oddpeg.store.delivery import NewFile
from oddpeg.suggestions import did_you_mean

FORMATS = ("woff2", "woff", "ttf")
_RANGE = re.compile(r"U\+([0-9A-Fa-f]{1,6})(?:-(?:U\+)?([0-9A-Fa-f]{1,6}))?")
_GROUPS = {
    "latin": ("Basic Latin", "Latin-1 Supplement", "Latin Extended-A", "General Punctuation", "Currency Symbols"),
    "private": ("Private Use Area", "Supplementary Private Use Area-A", "Supplementary Private Use Area-B"),
}
_RESTRICTED, _NO_PARTS, _BITMAPS = 0x2, 0x100, 0x200


@dataclass(frozen=True)
class RepackOptions:
    """Options of repacking.

    Attributes:
        formats: of the files, in the order of the stylesheet.
        css: write a stylesheet.
        only: glyphs to keep: glyph names, codepoints, ranges, blocks; empty keeps all.
        text: characters to keep in addition.
        codes: codepoints to keep in addition.
        drop_layout: drop tables of substitution and positioning.
        family: new family name.
        labels: names and tags of glyphs: codepoints by word.
        like: font whose line height the stylesheet uses; None for the font's own.
    """

    formats: Sequence[str] = ("woff2", "woff")
    css: bool = False
    only: Sequence[str] = ()
    text: str = ""
    codes: frozenset[int] = frozenset()
    drop_layout: bool = False
    family: str = ""
    labels: Mapping[str, Collection[int]] = field(default_factory=dict)
    like: LineMetrics | None = None

    @property
    def is_part(self) -> bool:
        """Whether only a part of the font is asked for."""
        return bool(self.only or self.text or self.codes)


class Repacked(NamedTuple):
    """A font, packed.

    Attributes:
        facts: metadata of the original.
    """

    path: Path
    files: Annotated[list[NewFile], Key("files that were written, or would be")]
    facts: FontFacts
    characters: Annotated[int, Key("characters that the files have")]
    had: Annotated[int, Key("characters of the original")]
    warnings: Annotated[list[Diagnostic], Key("warnings for the person who ships it")]

    @reported("path of the original")
    def file(self) -> str:
        """Path of the original, with slashes."""
        return self.path.as_posix()

    @reported("family name of the original")
    def family(self) -> str:
        """Family name of the original."""
        return self.facts.family

    @reported("bytes of the original", name="bytes")
    def size(self) -> int:
        """Bytes of the original."""
        return self.facts.size


class RepackReport(NamedTuple):
    """Fonts, packed for the web."""

    fonts: Annotated[list[Repacked], Key("each of them")]


def labels_in(data: bytes, where: str) -> dict[str, set[int]]:
    """Return the codepoints of every name and tag in a map; raise `OddPegError` where it cannot be understood."""
    labels = map_tags(data)
    for code, name in map_names(data, where).items():
        labels.setdefault(name, set()).add(code)
    return labels


def line_metrics_in(data: bytes, where: str) -> LineMetrics:
    """Return the line height of a font file; raise `OddPegError` for other files."""
    try:
        with damage():
            return LineMetrics.of(read_tables(data)[0])
    except ValueError as problem:
        raise OddPegError(Diagnostic("bad-font", str(problem), "give a TTF, OTF, WOFF or WOFF2 font", where)) from None


def repack(paths: Sequence[Path], options: RepackOptions) -> list[Repacked]:
    """Return each font, packed; raise `OddPegError` where one cannot be read, or its rights forbid it."""
    repacked = [one for path in paths for one in repack_data(path, read_named_file(path), options)]
    names = [file.name for one in repacked for file in one.files]
    if twice := sorted({name for name in names if names.count(name) > 1}):
        cure = "repack them into folders of their own, or give one another --family"
        raise UsageError(Diagnostic("bad-option", f"two fonts would both be {twice[0]}", cure))
    return repacked


def repack_data(path: Path, data: bytes, options: RepackOptions) -> list[Repacked]:
    """Return every font in a file, packed; raise `OddPegError` as `repack` does."""
    try:
        with damage():
            return [_repacked(path, data, font, options) for font in read_tables(data)]
    except ValueError as problem:
        cure = "give a TTF, OTF, TTC, WOFF, WOFF2 or EOT font; download it again if it is one"
        raise OddPegError(Diagnostic("bad-font", str(problem), cure, str(path))) from None


def _repacked(path: Path, data: bytes, font: FontTables, options: RepackOptions) -> Repacked:
    facts = facts_of(font)
    facts.size = len(data)
    _check_rights(path, font, options)
    glyphs = glyph_names(font.sfnt)
    codes = {glyph.codepoint for glyph in glyphs} | {0x20, 0xA0}
    had = len(codes)
    if options.is_part:
        codes &= _wanted(path, glyphs, options)
        if not codes - {0x20, 0xA0}:
            raise OddPegError(Diagnostic("nothing-left", "has nothing of what is asked for", "ask for less", str(path)))
        font = subset(font, codes, options.drop_layout)
    elif options.drop_layout:
        font = subset(font, codes, drop_layout=True)
    family = options.family or facts.family
    if options.family:
        font = font._replace(tables=_renamed(font, facts, options.family))
    font, mended = sound(font)
    stem = _stem(family, facts, font)
    files = [NewFile(f"{stem}.{_ending(kind, font)}", packed(font, kind)) for kind in options.formats]
    notice = notice_of(path, data, facts, [*_changes(facts, options, len(codes), had), *mended])
    if options.css:
        rule = _FontFaceRule(family, sorted(codes) if options.is_part else [], _overrides(font, options))
        css = _stylesheet(rule, facts, files, notice)
        files.append(NewFile(f"{stem}.css", css.encode()))
    files.append(NewFile(f"{stem}{CHANGES}", sealed(notice, files)))
    return Repacked(path, files, facts, len(codes), had, list(_warnings(path, facts, options)))


def _renamed(font: FontTables, facts: FontFacts, family: str) -> Tables:
    """Return a font's tables with another family name."""
    tables = {**font.tables, "name": with_family(font.tables.get("name", b""), facts.family, family)}
    if "CFF " in tables:
        names = CffNames(postscript_name(family, facts.style), f"{family} {facts.style}".strip(), family)
        tables["CFF "] = with_names(tables["CFF "], names)
    return tables


def _stem(family: str, facts: FontFacts, font: FontTables) -> str:
    style = "" if facts.style.lower() in ("", "regular", "book", "normal") else facts.style
    number = "" if font.number is None else f" {font.number + 1}"
    return file_stem(f"{family} {style}{number}") or "font"


def _ending(kind: str, font: FontTables) -> str:
    return "otf" if kind == "ttf" and font.flavour == OPENTYPE else kind


def _check_rights(path: Path, font: FontTables, options: RepackOptions) -> None:
    """Raise `OddPegError` where the font's own rights forbid the change. Source: OpenType, OS/2 fsType."""
    os2 = font.tables.get("OS/2", b"")
    rights = struct.unpack(">H", os2[8:10])[0] if len(os2) >= 10 else 0
    why = cure = ""
    if rights & 0xE == _RESTRICTED:
        why = "may not be embedded or changed without its owner's leave (OS/2 fsType: restricted)"
        cure = "ask the owner for a licence for the web, and for a file that says so"
    elif rights & _BITMAPS:
        why = "may only be embedded as bitmaps (OS/2 fsType)"
        cure = "ask the owner for a licence for the web, and for a file that says so"
    elif rights & _NO_PARTS and options.is_part:
        why = "may not be cut down to a part (OS/2 fsType: no subsetting)"
        cure = "repack it whole, or ask the owner for leave, and for a file that says so"
    if why:
        raise OddPegError(Diagnostic("font-rights", why, cure, str(path)))


def _warnings(path: Path, facts: FontFacts, options: RepackOptions) -> Iterable[Diagnostic]:
    changed = options.is_part or options.drop_layout
    if facts.reserves_its_name and changed and not options.family:
        message = f"its licence reserves the name {facts.family!r} for unmodified versions, and this one is changed"
        yield Diagnostic("font-name-reserved", message, "give it another one with --family", str(path))


def _wanted(path: Path, glyphs: Sequence[tuple[int, str]], options: RepackOptions) -> set[int]:
    """Return the codepoints that are asked for; raise `OddPegError` where something asked for is not there."""
    kept = {ord(character) for character in options.text} | set(options.codes) | {0x20, 0xA0}
    blocks = {code: block_of(code) for code, _ in glyphs}
    for pattern in options.only:
        matched = set(_matching(pattern, glyphs, blocks)) | _labelled(pattern, options.labels, blocks)
        if not matched:
            known = [*_GROUPS, *sorted({_plain(block) for block in blocks.values()}), *(n for _, n in glyphs if n)]
            known += options.labels
            cure = did_you_mean(_plain(pattern), known, "`oddpeg inspect` lists its glyphs", 1, 0.5)
            raise OddPegError(Diagnostic("nothing-left", f"no match for {pattern!r}", cure, str(path)))
        kept |= matched
    return kept


def _plain(text: str) -> str:
    return text.lower().replace(" ", "-").replace("_", "-")


def _matching(pattern: str, glyphs: Sequence[tuple[int, str]], blocks: dict[int, str]) -> Iterable[int]:
    if match := _RANGE.fullmatch(pattern):
        low, high = int(match[1], 16), int(match[2] or match[1], 16)
        return (code for code, _ in glyphs if low <= code <= high)
    plain = _plain(pattern)
    if plain in _GROUPS:
        return (code for code, block in blocks.items() if block in _GROUPS[plain])
    if any(_plain(block) == plain for block in blocks.values()):
        return (code for code, block in blocks.items() if _plain(block) == plain)
    return (code for code, name in glyphs if name and fnmatchcase(name, pattern))


def _labelled(pattern: str, labels: Mapping[str, Collection[int]], present: Container[int]) -> set[int]:
    """Return the codepoints whose names or tags in a map match a pattern."""
    matched = (codes for word, codes in labels.items() if fnmatchcase(word, pattern))
    return {code for codes in matched for code in codes if code in present}


def _changes(facts: FontFacts, options: RepackOptions, left: int, had: int) -> list[str]:
    done = ["packed for the web; glyph names removed from WOFF and WOFF2 files"]
    if options.is_part:
        done.append(f"cut down to {left:,} of {had:,} characters; outlines of others emptied, glyph numbers kept")
    if options.drop_layout:
        done.append("tables of substitution and positioning removed")
    if options.family:
        done.append(f"family renamed from {facts.family} to {options.family}")
    return done


class _FontFaceRule(NamedTuple):
    """The values of a font's @font-face rule.

    Attributes:
        family: its name.
        codes: that are in it, empty where that is everything.
        overrides: descriptors that make its lines as high as another font's.
    """

    family: str
    codes: Sequence[int]
    overrides: Mapping[str, str]


def _overrides(font: FontTables, options: RepackOptions) -> dict[str, str]:
    return LineMetrics.of(font).descriptors(options.like) if options.like else {}


def _stylesheet(rule: _FontFaceRule, facts: FontFacts, files: Sequence[NewFile], notice: str) -> str:
    """Return the rule that loads the files."""
    order = {
        "woff2": 'format("woff2")',
        "woff": 'format("woff")',
        "ttf": 'format("truetype")',
        "otf": 'format("opentype")',
    }
    urls = [f'url("{f.name}") {order[f.name.rpartition(".")[2]]}' for f in files]
    weights = [axis for axis in facts.axes if axis.tag == "wght"]
    weight = f"{weights[0].minimum:g} {weights[0].maximum:g}" if weights else str(facts.weight)
    style = "italic" if "italic" in facts.style.lower() or "oblique" in facts.style.lower() else "normal"
    sources = ",\n       ".join(urls)
    more = "".join(f"\n  {name}: {value};" for name, value in rule.overrides.items())
    more += f"\n  unicode-range: {css_ranges(rule.codes)};" if rule.codes else ""
    comment = notice.strip().replace("*/", "* /").replace("\n", "\n   ")
    return (
        f"/* {comment} */\n@font-face {{\n  font-family: {css_string(rule.family)};\n  src: {sources};\n"
        f"  font-weight: {weight};\n  font-style: {style};\n  font-display: swap;{more}\n}}\n"
    )
