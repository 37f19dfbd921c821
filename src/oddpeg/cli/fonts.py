"""`oddpeg inspect` and `oddpeg repack`: font files that exist."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from oddpeg.cli.options import ConfigAt, Json, Quiet, ReplaceFile, is_page
from oddpeg.cli.printing import bytes_text, document, say, show_diagnostics
from oddpeg.diagnostics import Diagnostic, UsageError

if TYPE_CHECKING:
    from oddpeg.cli.documents.fonts import InspectDocument, InspectedFont, RepackDocument, RepackedFont
    from oddpeg.existing_fonts.inspect import Inspected
    from oddpeg.existing_fonts.repack import Repacked
    from oddpeg.font.read.inspection import FontFacts

_NARROW = 34  # characters of a column, where several files stand side by side


def inspect(
    fonts: Annotated[list[Path], typer.Argument(metavar="FONT...", help="TTF, OTF, TTC, WOFF, WOFF2, EOT, SVG fonts.")],
    sheet: Annotated[
        Path | None, typer.Option("--sheet", help="Write a picture (.png) or page (.html) of what is in them.")
    ] = None,
    names: Annotated[
        Path | None, typer.Option("--names", help="A map that names glyphs which have no names: JSON, CSV, or a font.")
    ] = None,
    force: ReplaceFile = False,
    quiet: Quiet = False,
    json: Json = False,
) -> None:
    """Show what font files say of themselves, and what is in them."""
    from oddpeg.existing_fonts.inspect import inspect_files, sheet_page, sheet_picture
    from oddpeg.pegboard.maps import map_names
    from oddpeg.sources.named_files import read_named_file
    from oddpeg.store.delivery import NewFile, write_new

    if sheet is not None and not is_page(sheet) and len(fonts) > 1:
        what, cure = "a picture shows one font", "name one, or write a page (.html)"
        raise UsageError(Diagnostic("bad-option", what, cure))
    found = inspect_files(fonts, map_names(read_named_file(names), str(names)) if names else {})
    if sheet is not None:
        data = sheet_page(found) if is_page(sheet) else sheet_picture(found[0])
        write_new(sheet.parent, [NewFile(sheet.name, data)], force)
    if json:
        values: InspectDocument = {"fonts": [font_values(one.path, facts) for one in found for facts in one.fonts]}
        document(values)
    elif not quiet:
        _show(found)
        if sheet is not None:
            say(f"sheet: {sheet}", "cyan")


def font_values(path: Path, facts: FontFacts) -> InspectedFont:
    """Return what a font says as plain values."""
    values: InspectedFont = {
        "file": str(path).replace("\\", "/"),
        "format": facts.file_format,
        "outlines": facts.outlines,
        "family": facts.family,
        "style": facts.style,
        "weight": facts.weight,
        "names": facts.names,
        "units_per_em": facts.units,
        "metrics": {m.table: {"ascender": m.ascender, "descender": m.descender, "gap": m.gap} for m in facts.metrics},
        "metrics_agree": facts.metrics_agree,
        "glyphs": facts.glyphs,
        "icons": [{"codepoint": code, "name": name} for code, name in facts.icons],
        "blocks": facts.blocks,
        "axes": [{"tag": a.tag, "minimum": a.minimum, "default": a.default, "maximum": a.maximum} for a in facts.axes],
        "palettes": facts.palettes,
        "ligatures": facts.ligatures,
        "embedding": facts.embedding,
        "reserved_name": facts.reserves_its_name,
        "tables": facts.tables,
        "bytes": {"now": facts.size, **facts.packed},
        "complaints": facts.complaints,
    }
    if facts.number is not None:
        values["number"] = facts.number
    return values


def _show(found: list[Inspected]) -> None:
    """Print one font line by line, several side by side."""
    from oddpeg.existing_fonts.inspect import rows

    fonts = [(one.path, facts) for one in found for facts in one.fonts]
    if len(fonts) > 1:
        _show_beside(fonts)
        return
    path, facts = fonts[0]
    say(f"{path}: {facts.family}", "cyan")
    if facts.family and _letters(facts.family) not in _letters(path.stem):
        say(f"  in stylesheets and programs it is {facts.family!r}, whatever its file is called")
    for what, text in rows(facts):
        say(f"  {what:<21}{text}")
    sizes = [f"{bytes_text(facts.size)} now", *(f"{bytes_text(size)} as {f}" for f, size in facts.packed.items())]
    say(f"  {'size':<21}{', '.join(sizes)}")
    largest = [f"{tag.strip()} {size:,}" for tag, size in list(facts.tables.items())[:8]]
    if largest:
        say(f"  {'tables':<21}{', '.join(largest)}")
    if facts.icons:
        _show_icons(facts)
    for complaint in facts.complaints:
        say(f"  odd: {complaint}", "yellow")


def _letters(text: str) -> str:
    return "".join(character for character in text.lower() if character.isalnum())


def _show_icons(facts: FontFacts) -> None:
    say(f"  {'icons':<21}" + ", ".join(f"U+{code:04X} {name}".strip() for code, name in facts.icons[:8])
        + (f" and {len(facts.icons) - 8:,} more; --json has them all" if len(facts.icons) > 8 else ""))  # fmt: skip


def _show_beside(fonts: list[tuple[Path, FontFacts]]) -> None:
    """Print the facts in which files may differ, one column for each; sizes as shares of the first as well."""
    first = fonts[0][1]
    lines: dict[str, list[str]] = {"": [path.name for path, _ in fonts]}
    lines["family"] = [f.family for _, f in fonts]
    lines["style, weight"] = [f"{f.style}, {f.weight}" for _, f in fonts]
    lines["version"] = [f.names.get("version", "") for _, f in fonts]
    lines["format"] = [f"{f.file_format}, {f.outlines}" for _, f in fonts]
    lines["units to the em"] = [str(f.units) for _, f in fonts]
    lines["glyphs, icons"] = [f"{f.glyphs:,}, {len(f.icons):,}" for _, f in fonts]
    lines["metrics"] = ["agree" if f.metrics_agree else "differ" for _, f in fonts]
    lines["axes"] = [", ".join(a.tag for a in f.axes) or "–" for _, f in fonts]
    lines["embedding"] = [f.embedding for _, f in fonts]
    lines["size"] = [f"{bytes_text(f.size)} ({f.size / max(first.size, 1):.0%})" for _, f in fonts]
    for kind in ("WOFF2", "WOFF"):
        lines[f"as {kind}"] = [bytes_text(f.packed[kind]) if kind in f.packed else "–" for _, f in fonts]
    lines["odd"] = [str(len(f.complaints)) for _, f in fonts]
    width = min(_NARROW, max(len(text) for texts in lines.values() for text in texts) + 2)
    for what, texts in lines.items():
        cut = (text if len(text) < width else text[: width - 2] + "…" for text in texts)
        say(f"{what:<17}" + "".join(f"{text:<{width}}" for text in cut).rstrip(), "cyan" if not what else "")


_Repacked = Annotated[list[Path], typer.Argument(metavar="FONT...", help="TTF, OTF, TTC, WOFF, WOFF2 or EOT fonts.")]
_Into = Annotated[Path, typer.Option("--into", metavar="DIR", help="The folder that the files go into.")]
_Formats = Annotated[str, typer.Option("--fonts", help="Formats with commas between: woff2, woff, ttf.")]
_Css = Annotated[bool, typer.Option("--css", help="Write a stylesheet beside each.")]
_Only = Annotated[
    list[str] | None,
    typer.Option(
        "--only",
        metavar="PATTERN",
        help="What to keep: glyph names, U+E000, U+E000-E0FF, blocks such as latin; may be given several times.",
    ),
]
_Text = Annotated[str, typer.Option("--text", help="Keep the characters of a text, or of a file of that name.")]
_Used = Annotated[bool, typer.Option("--used", help="Keep the icons that the project's own code uses.")]
_DropLayout = Annotated[
    bool, typer.Option("--drop-layout", help="Leave out substitution and positioning: icons need neither.")
]
_Family = Annotated[str, typer.Option("--family", help="Give the font another family name.")]
_Names = Annotated[
    Path | None, typer.Option("--names", help="A map whose names and tags --only may ask for: JSON, CSV, or a font.")
]
_MetricsOf = Annotated[
    Path | None,
    typer.Option(
        "--metrics-of", metavar="FONT", help="Let the stylesheet make lines and small letters as high as this font's."
    ),
]
_DryRun = Annotated[bool, typer.Option("--dry-run", help="Say what would be written, and write nothing.")]


def repack(
    fonts: _Repacked,
    into: _Into,
    formats: _Formats = "woff2,woff",
    css: _Css = False,
    only: _Only = None,
    text: _Text = "",
    used: _Used = False,
    drop_layout: _DropLayout = False,
    family: _Family = "",
    names: _Names = None,
    metrics_of: _MetricsOf = None,
    dry_run: _DryRun = False,
    config: ConfigAt = None,
    force: ReplaceFile = False,
    quiet: Quiet = False,
    json: Json = False,
) -> None:
    """Pack fonts that exist for the web, whole or in part, with their names and rights kept."""
    from oddpeg.existing_fonts.repack import RepackOptions, labels_in, line_metrics_in
    from oddpeg.existing_fonts.repack import repack as work
    from oddpeg.sources.named_files import read_named_file
    from oddpeg.store.delivery import write_new

    codes = _used_codes(config) if used else frozenset()
    labels = labels_in(read_named_file(names), str(names)) if names else {}
    like = line_metrics_in(read_named_file(metrics_of), str(metrics_of)) if metrics_of else None
    kept = (only or (), _text_of(text), codes)
    options = RepackOptions(_formats_of(formats), css, *kept, drop_layout, family, labels, like)
    found = work(fonts, options)
    if not dry_run:
        write_new(into, [file for one in found for file in one.files], force)
    if json:
        values: RepackDocument = {"fonts": [_repacked_values(one, into) for one in found]}
        document(values)
        return
    show_diagnostics(warning for one in found for warning in one.warnings)
    if not quiet:
        _show_repacked(found, into)
        if dry_run:
            say("nothing was written (--dry-run)")


def _formats_of(text: str) -> list[str]:
    """Return the formats of a list with commas; raise `UsageError` where it names another, or none."""
    from oddpeg.existing_fonts.repack import FORMATS

    kinds = [kind.strip() for kind in text.split(",") if kind.strip()]
    if wrong := [kind for kind in kinds if kind not in FORMATS] or ([] if kinds else [text]):
        what = f"--fonts knows no {wrong[0]!r}"
        raise UsageError(Diagnostic("bad-option", what, f"choose from {', '.join(FORMATS)}"))
    return kinds


def _show_repacked(found: list[Repacked], into: Path) -> None:
    """Print what became of each font, and of font files how large they are beside the original."""
    from oddpeg.existing_fonts.repack import FORMATS

    for one in found:
        part = f"{one.characters:,} of {one.had:,} characters" if one.characters < one.had else "whole"
        say(f"{one.path.name}: {one.facts.family} {one.facts.style}, {part}", "cyan")
        for file in one.files:
            is_font = Path(file.name).suffix[1:] in (*FORMATS, "otf")
            share = f"  {len(file.data) / max(one.facts.size, 1):.0%} of the original" if is_font else ""
            say(f"  {(into / file.name).as_posix():<44}{bytes_text(len(file.data)):>10}{share}")


def _text_of(text: str) -> str:
    """Return the text in a file of that name, else the text itself."""
    from oddpeg.sources.named_files import read_named_file

    path = Path(text)
    try:
        is_file = bool(text) and len(text) < 1000 and path.is_file()
    except (OSError, ValueError):
        is_file = False
    return read_named_file(path).decode("utf-8-sig", "replace") if is_file else text


def _used_codes(config: Path | None) -> frozenset[int]:
    """Return the codepoints of the icons that the project's code uses."""
    from oddpeg.cli.projects import snapshot
    from oddpeg.usage.run import find_usage

    now = snapshot(config)
    pegs = now.board.pegs
    return frozenset(pegs[name].codepoint for name in find_usage(now).needed() if name in pegs)


def _repacked_values(one: Repacked, into: Path) -> RepackedFont:
    """Return what became of a font as plain values."""
    return {
        "file": str(one.path).replace("\\", "/"),
        "family": one.facts.family,
        "characters": one.characters,
        "had": one.had,
        "bytes": one.facts.size,
        "files": [{"path": (into / file.name).as_posix(), "bytes": len(file.data)} for file in one.files],
        "warnings": [d.as_dict() for d in one.warnings],
    }
