"""`oddpeg repack`: existing fonts packed for the web."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from oddpeg.cli.options import ConfigAt, Json, Quiet, ReplaceFile
from oddpeg.cli.printing import bytes_text, document, say, show_diagnostics
from oddpeg.cli.projects import snapshot
from oddpeg.diagnostics import Diagnostic, UsageError
from oddpeg.existing_fonts.notice import written_before
from oddpeg.existing_fonts.repack import FORMATS, Repacked, RepackOptions, RepackReport, labels_in, line_metrics_in
from oddpeg.existing_fonts.repack import repack as work
from oddpeg.sources.named_files import read_named_file
from oddpeg.store.delivery import NewFile, write_new
from oddpeg.usage.run import find_usage

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
    codes = _used_codes(config) if used else frozenset()
    labels = labels_in(read_named_file(names), str(names)) if names else {}
    like = line_metrics_in(read_named_file(metrics_of), str(metrics_of)) if metrics_of else None
    kept = (only or (), _text_of(text), codes)
    options = RepackOptions(_formats_of(formats), css, *kept, drop_layout, family, labels, like)
    repacked = work(fonts, options)
    if not dry_run:
        write_new(into, [file for one in repacked for file in one.files], force, written_before(into))
    if json:
        placed = [[NewFile((into / file.name).as_posix(), file.data) for file in one.files] for one in repacked]
        document(RepackReport([one._replace(files=files) for one, files in zip(repacked, placed, strict=True)]))
        return
    show_diagnostics(warning for one in repacked for warning in one.warnings)
    if not quiet:
        _show_repacked(repacked, into)
        if dry_run:
            say("nothing was written (--dry-run)")


def _formats_of(text: str) -> list[str]:
    """Return the formats of a list with commas; raise `UsageError` where it names another, or none."""
    kinds = [kind.strip() for kind in text.split(",") if kind.strip()]
    if wrong := [kind for kind in kinds if kind not in FORMATS] or ([] if kinds else [text]):
        message = f"--fonts knows no {wrong[0]!r}"
        raise UsageError(Diagnostic("bad-option", message, f"choose from {', '.join(FORMATS)}"))
    return kinds


def _show_repacked(repacked: list[Repacked], into: Path) -> None:
    """Print each packed font, with the size of its files compared with the original."""
    for result in repacked:
        part = f"{result.characters:,} of {result.had:,} characters" if result.characters < result.had else "whole"
        say(f"{result.path.name}: {result.facts.family} {result.facts.style}, {part}", "cyan")
        for file in result.files:
            is_font = Path(file.name).suffix[1:] in (*FORMATS, "otf")
            share = f"  {len(file.data) / max(result.facts.size, 1):.0%} of the original" if is_font else ""
            say(f"  {(into / file.name).as_posix():<44}{bytes_text(len(file.data)):>10}{share}")


def _text_of(text: str) -> str:
    """Return the text in a file of that name, else the text itself."""
    path = Path(text)
    try:
        is_file = bool(text) and len(text) < 1000 and path.is_file()
    except (OSError, ValueError):
        is_file = False
    return read_named_file(path).decode("utf-8-sig", "replace") if is_file else text


def _used_codes(config: Path | None) -> frozenset[int]:
    """Return the codepoints of the icons that the project's code uses."""
    now = snapshot(config)
    pegs = now.board.pegs
    return frozenset(pegs[name].codepoint for name in find_usage(now).needed() if name in pegs)
