"""`oddpeg find`: icons by half-remembered words."""

from __future__ import annotations

from typing import Annotated, NamedTuple

import typer

from oddpeg.cli.completion import complete_faces
from oddpeg.cli.options import ConfigAt, Json
from oddpeg.cli.printing import document, say, warn
from oddpeg.cli.projects import snapshot
from oddpeg.diagnostics import Diagnostic, UsageError
from oddpeg.iconset.search import Hit
from oddpeg.lookup.find import find as search
from oddpeg.project.project import Project
from oddpeg.reports import Key, reported
from oddpeg.suggestions import did_you_mean


class FindReport(NamedTuple):
    """The report of a search."""

    icons: Annotated[list[Hit], Key("the best first")]

    @reported("whether any icon has all of the words; otherwise the nearest are listed")
    def whole(self) -> bool:
        """Whether any icon has all of the words."""
        return any(hit.whole for hit in self.icons)


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
    now = snapshot(config)
    _require_face(now.project, face)
    hits = search(now, " ".join(words), face)
    whole = any(hit.whole for hit in hits)
    if json:
        document(FindReport(hits))
    else:
        if not hits:
            query = " ".join(words)
            warn(f"no match for {query!r}; try fewer words, or add aliases and tags to icons.csv")
        elif not whole:
            warn("nothing has all of these; nearest:")
        _show_hits(hits, limit)
    if not whole:
        raise typer.Exit(1)


def _require_face(project: Project, face: str) -> None:
    """Raise `UsageError` where a face is asked for that there is not."""
    known = [plan.name for plan in project.faces]
    if face and face not in known:
        cure = did_you_mean(face, known, f"faces are: {', '.join(known)}")
        raise UsageError(Diagnostic("bad-option", f"there is no face {face!r}", cure))


def _show_hits(hits: list[Hit], limit: int) -> None:
    width = max((len(h.icon.name) for h in hits[:limit]), default=0)
    for icon, _, by, _ in hits[:limit]:
        others = [w for w in by if w not in icon.name.split("-")]
        matched = f"  ({', '.join(others)})" if others else ""
        faces = f"  [{' '.join(icon.faces)}]" if icon.faces else ""
        sizes = f"  drawn for {', '.join(map(str, icon.sizes))} px" if icon.sizes else ""
        say(f"{icon.name:<{width}}  U+{icon.hex.upper()}  {icon.title}{matched}{faces}{sizes}")
    if len(hits) > limit:
        say(f"and {len(hits) - limit} more; --limit {len(hits)} shows them all")
