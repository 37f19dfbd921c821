"""`oddpeg inspect`: metadata and glyphs of font files."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from oddpeg.cli.options import Json, Quiet, ReplaceFile, is_page
from oddpeg.cli.printing import bytes_text, document, say
from oddpeg.diagnostics import Diagnostic, UsageError
from oddpeg.existing_fonts.inspect import Inspected, InspectReport, inspect_files, rows, sheet_page, sheet_picture
from oddpeg.font.read.inspection import FontFacts
from oddpeg.pegboard.maps import map_names
from oddpeg.sources.named_files import read_named_file
from oddpeg.store.delivery import NewFile, write_new

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
    """Show the metadata and the glyphs of font files."""
    if sheet is not None and not is_page(sheet) and len(fonts) > 1:
        message, cure = "a picture shows one font", "name one, or write a page (.html)"
        raise UsageError(Diagnostic("bad-option", message, cure))
    inspected = inspect_files(fonts, map_names(read_named_file(names), str(names)) if names else {})
    if sheet is not None:
        data = sheet_page(inspected) if is_page(sheet) else sheet_picture(inspected[0])
        write_new(sheet.parent, [NewFile(sheet.name, data)], force)
    if json:
        document(InspectReport([facts for one in inspected for facts in one.fonts]))
    elif not quiet:
        _show(inspected)
        if sheet is not None:
            say(f"sheet: {sheet}", "cyan")


def _show(inspected: list[Inspected]) -> None:
    """Print one font line by line, several side by side."""
    fonts = [(one.path, facts) for one in inspected for facts in one.fonts]
    if len(fonts) > 1:
        _show_beside(fonts)
        return
    path, facts = fonts[0]
    say(f"{path}: {facts.family}", "cyan")
    if facts.family and _letters(facts.family) not in _letters(path.stem):
        say(f"  in stylesheets and programs it is {facts.family!r}, regardless of the file name")
    for label, text in rows(facts):
        say(f"  {label:<21}{text}")
    sizes = [f"{bytes_text(facts.size)} now", *(f"{bytes_text(size)} as {f}" for f, size in facts.packed.items())]
    say(f"  {'size':<21}{', '.join(sizes)}")
    largest = [f"{tag.strip()} {size:,}" for tag, size in list(facts.tables.items())[:8]]
    if largest:
        say(f"  {'tables':<21}{', '.join(largest)}")
    if facts.icons:
        _show_icons(facts)
    for complaint in facts.complaints:
        say(f"  anomaly: {complaint}", "yellow")


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
    for label, texts in lines.items():
        cut = (text if len(text) < width else text[: width - 2] + "…" for text in texts)
        say(f"{label:<17}" + "".join(f"{text:<{width}}" for text in cut).rstrip(), "cyan" if not label else "")
