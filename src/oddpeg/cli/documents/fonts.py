"""What `inspect` and `repack` print as JSON."""

from __future__ import annotations

from typing import NotRequired, TypedDict

from oddpeg.diagnostics import DiagnosticDocument


class LineMetrics(TypedDict):
    """One of a font's sets of metrics, font units.

    Attributes:
        ascender: above the baseline.
        descender: below it, negative.
        gap: between lines.
    """

    ascender: int
    descender: int
    gap: int


class NamedCodepoint(TypedDict):
    """A glyph at a private codepoint.

    Attributes:
        codepoint: as a number.
        name: empty where the font tells none.
    """

    codepoint: int
    name: str


class FontAxis(TypedDict):
    """An axis of a variable font.

    Attributes:
        tag: of four letters.
        minimum: least value.
        default: value where none is asked for.
        maximum: largest value.
    """

    tag: str
    minimum: float
    default: float
    maximum: float


class InspectedFont(TypedDict):
    """What one font says.

    Attributes:
        file: its path.
        number: within a collection.
        format: TTF, OTF, TTC, WOFF, WOFF2, EOT or SVG.
        outlines: TrueType, CFF, CFF2, SVG, or bitmaps.
        family: the name to type in stylesheets and programs.
        style: within the family.
        weight: within the family.
        names: what else it is called, and by whom it is, by what that is.
        units_per_em: font units.
        metrics: all sets of them, by table.
        metrics_agree: whether all sets give lines the same height.
        glyphs: how many there are.
        icons: glyphs at private codepoints.
        blocks: how many characters it has of each Unicode block.
        axes: of a variable font.
        palettes: how many.
        ligatures: as typed, as far as they are letters, with their codepoints, or 0 where they have none.
        embedding: what documents may do with it, in words.
        reserved_name: whether the licence keeps the font's name for unmodified versions.
        tables: bytes of each, the largest first.
        bytes: of the file ("now"), and that it would take, by format.
        complaints: what is odd about it.
    """

    file: str
    number: NotRequired[int]
    format: str
    outlines: str
    family: str
    style: str
    weight: int
    names: dict[str, str]
    units_per_em: int
    metrics: dict[str, LineMetrics]
    metrics_agree: bool
    glyphs: int
    icons: list[NamedCodepoint]
    blocks: dict[str, int]
    axes: list[FontAxis]
    palettes: int
    ligatures: dict[str, int]
    embedding: str
    reserved_name: bool
    tables: dict[str, int]
    bytes: dict[str, int]
    complaints: list[str]


class InspectDocument(TypedDict):
    """What font files say of themselves.

    Attributes:
        fonts: of every file, those of a collection one by one.
    """

    fonts: list[InspectedFont]


class WrittenFile(TypedDict):
    """A file that was written, or would be.

    Attributes:
        path: with slashes.
        bytes: its size.
    """

    path: str
    bytes: int


class RepackedFont(TypedDict):
    """What became of a font.

    Attributes:
        file: its path.
        family: of what was written.
        characters: that it keeps.
        had: characters before.
        bytes: of the file before.
        files: what was written, or would be.
        warnings: what its owner should know.
    """

    file: str
    family: str
    characters: int
    had: int
    bytes: int
    files: list[WrittenFile]
    warnings: list[DiagnosticDocument]


class RepackDocument(TypedDict):
    """Fonts, packed for the web.

    Attributes:
        fonts: each of them.
    """

    fonts: list[RepackedFont]
