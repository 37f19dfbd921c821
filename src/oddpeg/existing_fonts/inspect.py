"""Metadata of font files, and a picture or page of their glyphs."""

from __future__ import annotations

import base64
from collections.abc import Iterator, Mapping, Sequence
from contextlib import contextmanager
from pathlib import Path
from typing import Annotated, NamedTuple

from oddpeg.diagnostics import Diagnostic, OddPegError
from oddpeg.font.read.containers import damage, format_of, read_tables
from oddpeg.font.read.glyphs import ForeignGlyph, glyph_names
from oddpeg.font.read.inspection import FontFacts, inspect_font, is_private, shown_name
from oddpeg.font.read.packing import packed
from oddpeg.iconset.font_names import ClassNames, Naming
from oddpeg.iconset.model import Icon, IconSet
from oddpeg.outputs.render import render
from oddpeg.outputs.sheet_image import LIGHT, Heading, contact_sheet
from oddpeg.reports import Key
from oddpeg.sources.named_files import read_named_file

_NO_NAMES: Mapping[int, str] = {}
_MOST_SHOWN = 6000  # glyphs on a sheet
_MOST_BLOCKS = 8  # named in a line
_LONGEST = 120  # characters of a line


class InspectReport(NamedTuple):
    """The metadata of font files."""

    fonts: Annotated[list[FontFacts], Key("fonts of every file, those of a collection one by one")]


class Inspected(NamedTuple):
    """An inspected file.

    Attributes:
        path: as given on the command line.
        data: bytes of the file.
        fonts: one font, or all fonts of a collection.
    """

    path: Path
    data: bytes
    fonts: list[FontFacts]


def inspect_files(paths: Sequence[Path], names: Mapping[int, str] = _NO_NAMES) -> list[Inspected]:
    """Return the metadata of font files; raise `OddPegError` with every error in any of them. names: for glyphs without
    names, by codepoint."""
    inspected: list[Inspected] = []
    faults: list[Diagnostic] = []
    for path in paths:
        try:
            data = read_named_file(path)
            with damage():
                fonts = inspect_font(data)
        except OddPegError as problem:
            faults += problem.diagnostics
            continue
        except ValueError as problem:
            cure = "give a TTF, OTF, TTC, WOFF, WOFF2, EOT or SVG font; download it again if it is one"
            faults.append(Diagnostic("bad-font", str(problem), cure, str(path)))
            continue
        for facts in fonts:
            facts.file = str(path).replace("\\", "/")
            facts.icons = [ForeignGlyph(code, name or names.get(code, "")) for code, name in facts.icons]
            try:
                facts.packed = packed_sizes(data, facts)
            except ValueError as problem:  # the readable part is still reported
                facts.complaints.append(f"is damaged and cannot be packed: {problem}")
        inspected.append(Inspected(path, data, fonts))
    if faults:
        raise OddPegError(*faults)
    return inspected


def packed_sizes(data: bytes, facts: FontFacts) -> dict[str, int]:
    """Return the bytes that a font would take, by format; nothing for fonts that have no tables."""
    if facts.file_format == "SVG":
        return {}
    with damage():
        tables = read_tables(data)[facts.number or 0]
        return {kind.upper(): len(packed(tables, kind)) for kind in ("woff2", "woff")}


def _glyphs(font: Inspected) -> list[ForeignGlyph]:
    """Return the glyphs of a sheet: icons, otherwise every character that is drawn."""
    if format_of(font.data) == "SVG":
        return font.fonts[0].icons
    lent = dict(font.fonts[0].icons)
    names = glyph_names(read_tables(font.data)[0].sfnt)
    glyphs = [ForeignGlyph(code, name or lent.get(code, "")) for code, name in names]
    icons = [glyph for glyph in glyphs if is_private(glyph.codepoint)]
    return (icons or glyphs)[:_MOST_SHOWN]


def _icon_set(font: Inspected, glyphs: Sequence[ForeignGlyph]) -> IconSet:
    facts = font.fonts[0]
    icons = tuple(Icon(shown_name(code, name), code, "", 0) for code, name in glyphs)
    naming = Naming(facts.family or font.path.stem, facts.names.get("version", ""), font.path.stem)
    ascender = max((m.ascender for m in facts.metrics), default=facts.units)
    descender = min((m.descender for m in facts.metrics), default=0)
    drop = -descender / max(ascender - descender, 1)
    return IconSet(naming, ClassNames("icon", "icon-icon"), icons, drop=drop)


def sheet_picture(font: Inspected) -> bytes:
    """Return a PNG of a font's icons, else of its characters. Raise `OddPegError` for fonts that cannot be drawn."""
    with _undrawable(font):
        glyphs = _glyphs(font)
    if not glyphs or format_of(font.data) == "SVG":
        message, cure = "has nothing that can be drawn on a sheet", "give a font with characters, in another format"
        raise OddPegError(Diagnostic("bad-font", message, cure, str(font.path)))
    facts = font.fonts[0]
    heading = Heading(facts.family or font.path.stem, f"{facts.style} · {len(glyphs):,} of {facts.glyphs:,} glyphs")
    with _undrawable(font):
        return contact_sheet(_icon_set(font, glyphs), {"": read_tables(font.data)[0].sfnt}, heading, LIGHT, True)


@contextmanager
def _undrawable(font: Inspected) -> Iterator[None]:
    """Raise `OddPegError` for every error that a damaged font causes when it is drawn or packed."""
    try:
        with damage():
            yield
    except (ValueError, OSError) as problem:
        message = f"cannot be drawn: {problem}"
        cure = "run `oddpeg inspect` without --sheet, or download the font again"
        raise OddPegError(Diagnostic("bad-font", message, cure, str(font.path))) from None


def sheet_page(inspected: Sequence[Inspected]) -> bytes:
    """Return a page with the metadata of every file and its glyphs, drawn by the font itself."""
    fonts = []
    for font in inspected:
        is_svg = format_of(font.data) == "SVG"
        with _undrawable(font):
            data = b"" if is_svg else packed(read_tables(font.data)[0], "woff")
        fonts.append({
            "path": font.path.name,
            "facts": font.fonts[0],
            "rows": rows(font.fonts[0]),
            "data": base64.b64encode(data).decode(),
            "glyphs": [(chr(code), f"{code:04X}", shown_name(code, name)) for code, name in _glyphs(font)],
        })  # fmt: skip
    return render("inspect-sheet.html.jinja", fonts=fonts).encode()


class FactRow(NamedTuple):
    """One line of a font's metadata."""

    what: str
    text: str


def _blocks(facts: FontFacts) -> str:
    """Return the largest blocks of a font's characters, with how many it has of each."""
    largest = sorted(facts.blocks.items(), key=lambda pair: -pair[1])
    rest = f" and {len(largest) - _MOST_BLOCKS} more blocks" if len(largest) > _MOST_BLOCKS else ""
    return ", ".join(f"{name} {count:,}" for name, count in largest[:_MOST_BLOCKS]) + rest or "none"


def _short(text: str) -> str:
    """Return the beginning of a long text: licences may be pages."""
    return text if len(text) <= _LONGEST else f"{text[:_LONGEST].rsplit(' ', 1)[0]} …"


def rows(facts: FontFacts) -> list[FactRow]:
    """Return a font's metadata as lines of text."""
    number = "" if facts.number is None else f", number {facts.number + 1} of its collection"
    fact_rows = [
        FactRow("family to type", facts.family or "none"),
        FactRow("style and weight", f"{facts.style}, {facts.weight}{number}"),
        FactRow("format", f"{facts.file_format}, {facts.outlines} outlines, {facts.units} units to the em"),
        FactRow("glyphs", f"{facts.glyphs:,}, of which {len(facts.icons):,} at private codepoints"),
        FactRow("characters", _blocks(facts)),
    ]
    if facts.axes:
        axes = (f"{a.tag} {a.minimum:g} to {a.maximum:g} (default {a.default:g})" for a in facts.axes)
        fact_rows.append(FactRow("axes", ", ".join(axes)))
    if facts.palettes:
        fact_rows.append(FactRow("palettes", str(facts.palettes)))
    if facts.ligatures:
        some = list(facts.ligatures)[:4]
        fact_rows.append(FactRow("ligatures", f"{len(facts.ligatures):,}: {', '.join(some)}, …"))
    agree = "agree" if facts.metrics_agree else "differ"
    lines = ", ".join(f"{m.table} {m.ascender}/{m.descender}" for m in facts.metrics)
    fact_rows.append(FactRow("metrics", f"{lines}: they {agree}" if len(facts.metrics) > 1 else lines))
    if facts.embedding:
        fact_rows.append(FactRow("embedding", facts.embedding))
    fact_rows += [FactRow(what, _short(text)) for what, text in facts.names.items() if what != "full name"]
    if facts.reserves_its_name:
        fact_rows.append(FactRow("the name", "is reserved for unmodified versions; a changed font needs another one"))
    return fact_rows
