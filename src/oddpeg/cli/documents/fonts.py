"""What `inspect` and `repack` print as JSON."""

from __future__ import annotations

from typing import Annotated, NotRequired, TypedDict

from oddpeg.diagnostics import DiagnosticDocument


class MetricsDocument(TypedDict):
    """One of a font's sets of metrics, font units."""

    ascender: Annotated[int, "above the baseline"]
    descender: Annotated[int, "below it, negative"]
    gap: Annotated[int, "between lines"]


class NamedCodepoint(TypedDict):
    """A glyph at a private codepoint."""

    codepoint: Annotated[int, "as a number"]
    name: Annotated[str, "empty where the font tells none"]


class FontAxis(TypedDict):
    """An axis of a variable font."""

    tag: Annotated[str, "of four letters"]
    minimum: Annotated[float, "least value"]
    default: Annotated[float, "value where none is asked for"]
    maximum: Annotated[float, "largest value"]


class InspectedFont(TypedDict):
    """What one font says."""

    file: Annotated[str, "its path"]
    number: NotRequired[Annotated[int, "within a collection"]]
    format: Annotated[str, "TTF, OTF, TTC, WOFF, WOFF2, EOT or SVG"]
    outlines: Annotated[str, "TrueType, CFF, CFF2, SVG, or bitmaps"]
    family: Annotated[str, "the name to type in stylesheets and programs"]
    style: Annotated[str, "within the family"]
    weight: Annotated[int, "within the family"]
    names: Annotated[dict[str, str], "what else it is called, and by whom it is, by what that is"]
    units_per_em: Annotated[int, "font units"]
    metrics: Annotated[dict[str, MetricsDocument], "all sets of them, by table"]
    metrics_agree: Annotated[bool, "whether all sets give lines the same height"]
    glyphs: Annotated[int, "how many there are"]
    icons: Annotated[list[NamedCodepoint], "glyphs at private codepoints"]
    blocks: Annotated[dict[str, int], "how many characters it has of each Unicode block"]
    axes: Annotated[list[FontAxis], "of a variable font"]
    palettes: Annotated[int, "how many"]
    ligatures: Annotated[dict[str, int], "as typed, as far as they are letters, with their codepoints"]
    embedding: Annotated[str, "what documents may do with it, in words"]
    reserved_name: Annotated[bool, "whether the licence keeps the font's name for unmodified versions"]
    tables: Annotated[dict[str, int], "bytes of each, the largest first"]
    bytes: Annotated[dict[str, int], 'of the file ("now"), and that it would take, by format']
    complaints: Annotated[list[str], "what is odd about it"]


class InspectDocument(TypedDict):
    """What font files say of themselves."""

    fonts: Annotated[list[InspectedFont], "of every file, those of a collection one by one"]


class WrittenFile(TypedDict):
    """A file that was written, or would be."""

    path: Annotated[str, "with slashes"]
    bytes: Annotated[int, "its size"]


class RepackedFont(TypedDict):
    """What became of a font."""

    file: Annotated[str, "its path"]
    family: Annotated[str, "of what was written"]
    characters: Annotated[int, "that it keeps"]
    had: Annotated[int, "characters before"]
    bytes: Annotated[int, "of the file before"]
    files: Annotated[list[WrittenFile], "what was written, or would be"]
    warnings: Annotated[list[DiagnosticDocument], "what its owner should know"]


class RepackDocument(TypedDict):
    """Fonts, packed for the web."""

    fonts: Annotated[list[RepackedFont], "each of them"]
