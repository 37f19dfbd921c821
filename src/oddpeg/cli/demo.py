"""`oddpeg demo`: the example project."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from oddpeg.building.report import BuildOptions
from oddpeg.cli.build import Shown, run_build
from oddpeg.cli.options import Force, Json, Quiet
from oddpeg.cli.printing import say
from oddpeg.cli.projects import opened
from oddpeg.demo.sample import sample_files
from oddpeg.store.delivery import NewFile, write_new


def demo(
    directory: Annotated[Path, typer.Argument(metavar="[DIR]", help="Where to write the project.")] = Path(
        "saltmarsh-ferries"
    ),
    force: Force = False,
    quiet: Quiet = False,
    json: Json = False,
) -> None:
    """Write the Saltmarsh Ferries example project into a folder and build it."""
    write_new(directory, [NewFile(*file) for file in sample_files()], force)
    project = opened(directory, remember=True)
    run_build(project, BuildOptions(force=force), Shown(quiet, json))
    if not quiet and not json:
        say(f"\nopen {directory / 'dist' / 'web' / 'saltmarsh-signs-specimen.html'}")
