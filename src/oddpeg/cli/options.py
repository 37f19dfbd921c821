"""Options that several commands have, and where the config is found. Does not know: any command."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

MOST_WRONG = 0.005  # share of an icon's ink

Quiet = Annotated[bool, typer.Option("--quiet", "-q", help="Print errors only.")]
Json = Annotated[bool, typer.Option("--json", help="Print one JSON document on stdout.")]
Force = Annotated[
    bool, typer.Option("--force", help="Replace files that Odd Peg did not write, or that were edited since.")
]
ConfigAt = Annotated[Path | None, typer.Option("--config", help="The oddpeg.toml, or the folder it is in.")]


def find_config(given: Path | None) -> Path:
    """Return the config named, or the nearest upwards from where we are."""
    from oddpeg.workspace.config import FILE

    if given is not None:
        return given / FILE if given.is_dir() else given
    here = Path.cwd()
    for folder in (here, *here.parents):
        if (folder / FILE).is_file():
            return folder / FILE
    return here / FILE
