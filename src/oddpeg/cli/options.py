"""Options that several commands have."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from oddpeg.cli.completion import complete_bundles
from oddpeg.diagnostics import Diagnostic, UsageError

Quiet = Annotated[bool, typer.Option("--quiet", "-q", help="Print errors only.")]
Json = Annotated[bool, typer.Option("--json", help="Print one JSON document on stdout.")]
Force = Annotated[
    bool, typer.Option("--force", help="Replace files that Odd Peg did not write, or that were edited since.")
]
ReplaceFile = Annotated[bool, typer.Option("--force", help="Replace files that are there and differ.")]
ConfigAt = Annotated[Path | None, typer.Option("--config", help="The oddpeg.toml, or the folder it is in.")]
Bundles = Annotated[
    list[str] | None,
    typer.Argument(
        metavar="[BUNDLE]...", help="Bundles to build; all where none is named.", autocompletion=complete_bundles
    ),
]
AlsoRead = Annotated[
    list[Path] | None,
    typer.Option(
        "--also-read",
        metavar="FOLDER",
        envvar="ODDPEG_ALSO_READ",
        help="A folder outside of the project that inputs may be read from; must precede the command.",
    ),
]

_PAGES = (".html", ".htm")


def is_page(sheet: Path) -> bool:
    """Return whether a sheet is to be a page, not a picture; raise `UsageError` where its name says neither."""
    ending = sheet.suffix.lower()
    if ending not in (".png", *_PAGES):
        message = f"{sheet.name} is neither a .png nor an .html file"
        raise UsageError(Diagnostic("bad-option", message, "give the sheet one of these endings"))
    return ending in _PAGES
