"""`oddpeg use`: the lines to paste for an icon."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from oddpeg.cli.completion import complete_icons, complete_places
from oddpeg.cli.options import ConfigAt, Json
from oddpeg.cli.printing import document, paste, say
from oddpeg.cli.projects import snapshot
from oddpeg.diagnostics import Diagnostic, UsageError
from oddpeg.lookup.use import Use, UseReport, icon_named, uses
from oddpeg.project.icon_sets import known_icons


def use(
    icon: Annotated[
        str,
        typer.Argument(
            metavar="ICON", help="The icon's name, an alias, or its codepoint.", autocompletion=complete_icons
        ),
    ],
    place: Annotated[
        str | None,
        typer.Option(
            "--in", metavar="PLACE", help="One place only: html, css, entity, kotlin …", autocompletion=complete_places
        ),
    ] = None,
    once: Annotated[
        bool, typer.Option("--once", help="Only what each page or program needs once: links, imports, registration.")
    ] = False,
    each: Annotated[bool, typer.Option("--each", help="Only what each use needs.")] = False,
    user: Annotated[
        str | None, typer.Option("--from", metavar="FILE", help="The file to paste into; paths are relative to it.")
    ] = None,
    config: ConfigAt = None,
    json: Json = False,
) -> None:
    """Print the lines to paste for an icon, for one place or all of them.

    For one place these are the lines of each use, unless --once asks for the other part.
    """
    now = snapshot(config)
    icons = known_icons(now)
    resolved = icon_named(icons, icon)
    lines = uses(now, icons, resolved, now.project.relative(Path(user).resolve()) if user else "")
    if place is not None:
        lines = _of_place(lines, place)
        each = each or not (once or json)
    if once != each:
        lines = [line for line in lines if line.once == once]
    if json:
        document(UseReport(resolved.name, resolved.codepoint, lines))
    elif place is not None:
        for text in dict.fromkeys(line.text for line in lines):
            paste(text)
    else:
        _show_lines(lines)


def _of_place(lines: list[Use], place: str) -> list[Use]:
    """Return the lines of one place; raise `UsageError` where no bundle serves it."""
    matching = [line for line in lines if line.place == place]
    if not matching:
        places = dict.fromkeys(line.place for line in lines)
        cure = f"places are: {', '.join(places)}; `oddpeg outputs` lists what a bundle can hold"
        raise UsageError(Diagnostic("unknown-place", f"no bundle serves the place {place!r}", cure))
    return matching


def _show_lines(lines: list[Use]) -> None:
    width = max((len(line.place) for line in lines), default=0)
    last = None
    for line in dict.fromkeys(lines):
        head = f"{line.file} (bundle {line.bundle})" if line.file else "anywhere"
        if head != last:
            say(head, "cyan")
            last = head
        first, *rest = line.text.splitlines()
        paste(f"  {line.place:<{width}}  {'once  ' if line.once else 'each  ' if line.file else ''}{first}")
        for text in rest:
            paste(f"  {'':<{width}}  {'      ' if line.file else ''}{text}")
