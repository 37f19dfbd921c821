"""`oddpeg find` and `oddpeg use`: icons by words, and what to paste for one."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated

import typer

from oddpeg.cli.completion import complete_faces, complete_icons, complete_places
from oddpeg.cli.options import ConfigAt, Json
from oddpeg.cli.printing import document, say, warn
from oddpeg.cli.projects import snapshot
from oddpeg.diagnostics import Diagnostic, UsageError

if TYPE_CHECKING:
    from oddpeg.cli.documents.use import FindDocument, FoundIcon, UseDocument, UseLine
    from oddpeg.iconset.model import Icon
    from oddpeg.iconset.search import Hit
    from oddpeg.lookup.use import Use
    from oddpeg.project.project import Project


def find(
    words: Annotated[
        list[str],
        typer.Argument(
            metavar="WORD...", help="Words of its name, aliases, tags, title or description; or a codepoint."
        ),
    ],
    limit: Annotated[int, typer.Option("--limit", min=1, help="How many to show.")] = 20,
    face: Annotated[
        str, typer.Option("--face", help="Only icons that this face has.", autocompletion=complete_faces)
    ] = "",
    config: ConfigAt = None,
    json: Json = False,
) -> None:
    """Find icons by half-remembered words, best first.

    Where none has all of them, the nearest are shown, and the exit code is 1.
    """
    from oddpeg.lookup.find import find as search

    now = snapshot(config)
    _require_face(now.project, face)
    hits = search(now, " ".join(words), face)
    whole = any(hit.whole for hit in hits)
    if json:
        values: FindDocument = {"icons": [_values(hit) for hit in hits], "whole": whole}
        document(values)
    else:
        if not hits:
            query = " ".join(words)
            warn(f"nothing fits {query!r}; try fewer words, or say in icons.csv what the icon is called")
        elif not whole:
            warn("nothing has all of these; nearest:")
        _show_hits(hits, limit)
    if not whole:
        raise typer.Exit(1)


def _require_face(project: Project, face: str) -> None:
    """Raise `UsageError` where a face is asked for that there is not."""
    from oddpeg.suggestions import did_you_mean

    known = [plan.name for plan in project.faces]
    if face and face not in known:
        cure = did_you_mean(face, known, f"faces are: {', '.join(known)}")
        raise UsageError(Diagnostic("bad-option", f"there is no face {face!r}", cure))


def _values(hit: Hit) -> FoundIcon:
    icon = hit.icon
    return {
        "name": icon.name,
        "codepoint": icon.codepoint,
        "hex": icon.hex,
        "title": icon.title,
        "source": icon.source,
        "aliases": list(icon.aliases),
        "tags": list(icon.tags),
        "faces": list(icon.faces),
        "score": round(hit.score, 3),
    }


def _show_hits(hits: list[Hit], limit: int) -> None:
    width = max((len(h.icon.name) for h in hits[:limit]), default=0)
    for icon, _, by, _ in hits[:limit]:
        others = [w for w in by if w not in icon.name.split("-")]
        matched = f"  ({', '.join(others)})" if others else ""
        faces = f"  [{' '.join(icon.faces)}]" if icon.faces else ""
        say(f"{icon.name:<{width}}  U+{icon.hex.upper()}  {icon.title}{matched}{faces}")
    if len(hits) > limit:
        say(f"and {len(hits) - limit} more; --limit {len(hits)} shows them all")


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
    config: ConfigAt = None,
    json: Json = False,
) -> None:
    """Print exactly the lines to paste for an icon, for one place or all of them.

    For one place that is what each use needs, unless --once asks for the other part.
    """
    from oddpeg.lookup.use import icon_named, uses
    from oddpeg.project.icon_sets import known_icons

    now = snapshot(config)
    icons = known_icons(now)
    found = icon_named(icons, icon)
    lines = uses(now, icons, found)
    if place is not None:
        lines = _of_place(lines, place)
        each = each or not (once or json)
    if once != each:
        lines = [line for line in lines if line.once == once]
    if json:
        document(_use_values(found, lines))
    elif place is not None:
        for text in dict.fromkeys(line.text for line in lines):
            say(text)
    else:
        _show_lines(lines)


def _use_values(icon: Icon, lines: list[Use]) -> UseDocument:
    rows: list[UseLine] = [
        {"place": line.place, "text": line.text, "bundle": line.bundle, "file": line.file, "once": line.once}
        for line in lines
    ]
    return {"icon": icon.name, "codepoint": icon.codepoint, "lines": rows}


def _of_place(lines: list[Use], place: str) -> list[Use]:
    """Return the lines of one place; raise `UsageError` where no bundle serves it."""
    found = [line for line in lines if line.place == place]
    if not found:
        places = dict.fromkeys(line.place for line in lines)
        cure = f"places are: {', '.join(places)}; `oddpeg outputs` lists what a bundle can hold"
        raise UsageError(Diagnostic("unknown-place", f"no bundle serves the place {place!r}", cure))
    return found


def _show_lines(lines: list[Use]) -> None:
    width = max((len(line.place) for line in lines), default=0)
    last = None
    for line in dict.fromkeys(lines):
        head = f"{line.file} (bundle {line.bundle})" if line.file else "anywhere"
        if head != last:
            say(head, "cyan")
            last = head
        first, *rest = line.text.splitlines()
        say(f"  {line.place:<{width}}  {'once  ' if line.once else 'each  ' if line.file else ''}{first}")
        for text in rest:
            say(f"  {'':<{width}}  {'      ' if line.file else ''}{text}")
