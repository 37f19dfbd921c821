"""`oddpeg init`: a config for a folder of icons or a font."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated, NamedTuple

import typer

from oddpeg.cli.options import Json, Quiet
from oddpeg.cli.printing import document, say
from oddpeg.config.loading import FILE, load_config
from oddpeg.config.platforms import PLATFORMS
from oddpeg.config.starter import make_start, start_from_font
from oddpeg.diagnostics import Diagnostic, OddPegError, UsageError, counted
from oddpeg.reports import Key
from oddpeg.sources.fonts import is_font_file
from oddpeg.suggestions import did_you_mean


class InitReport(NamedTuple):
    """A project that was begun."""

    config: Annotated[str, Key("file that was written")]
    drawings: Annotated[int, Key("number of drawings found")]
    patterns: Annotated[list[str], Key("patterns or font files that they were found by", name="from")]
    platform: Annotated[str, Key("platform that the bundle is for")]


def init(
    directory: Annotated[
        Path, typer.Argument(metavar="[DIR]", help="The folder that holds the icons, or a font file.")
    ] = Path(),
    platform: Annotated[
        str | None,
        typer.Option(
            "--for",
            metavar="PLATFORM",
            help=f"What the bundle is for; default: what the folder tells. One of {', '.join(PLATFORMS)}.",
        ),
    ] = None,
    force: Annotated[bool, typer.Option("--force", help="Replace an oddpeg.toml that is there.")] = False,
    quiet: Quiet = False,
    json: Json = False,
) -> None:
    """Write an oddpeg.toml that builds at once, for a folder of icons or a font."""
    if platform is not None and platform not in PLATFORMS:
        hint = did_you_mean(platform, PLATFORMS, f"it is one of {', '.join(PLATFORMS)}")
        raise UsageError(Diagnostic("unknown-platform", f"there is no platform {platform!r}", hint))
    if directory.is_file() and is_font_file(directory.name):
        start = start_from_font(directory, platform or "")
    else:
        start = make_start(directory, platform or "")
    path = start.root / FILE
    if path.exists() and not force:
        message, cure = f"there is already a {FILE}", "edit it, or run again with --force to replace it"
        raise UsageError(Diagnostic("config-exists", message, cure, str(path)))
    _write_text(path, start.text)
    load_config(path, remember=True)  # writes the schema that the file names for editors
    if json:
        document(InitReport(str(path), start.count, start.patterns, start.project.platform))
    elif not quiet:
        say(f"wrote {path}: {counted(start.count, 'drawing')} in {', '.join(start.patterns)}")
        if start.project.file:
            say(f"the bundle fits {start.project.file}: {start.project.platform} (--for chooses another platform)")
        if start.faces:
            say(f"faces of one family, by their folders: {', '.join(start.faces)}")
        if start.prefixed:
            say('folders are parts of names (folders = "prefix"), since files in two of them have the same name')
        say("next: oddpeg build" if start.root == Path() else f"next: cd {start.root} && oddpeg build")


def _write_text(path: Path, text: str) -> None:
    try:
        path.write_text(text, encoding="utf-8", newline="\n")
    except OSError as problem:
        message = f"cannot be written: {problem.strerror}"
        raise OddPegError(Diagnostic("write-failed", message, "check the folder's rights", str(path))) from None
