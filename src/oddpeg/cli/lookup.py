"""`oddpeg find` and `oddpeg use`. Knows: options and printing. Does not know: how icons are found or named."""

from __future__ import annotations

import difflib
from typing import TYPE_CHECKING, Annotated

import typer

from oddpeg.cli.options import ConfigAt, Json, find_config

if TYPE_CHECKING:
    from oddpeg.tasks.lookup import Use

_MOST = 20


def find(
    words: Annotated[
        list[str], typer.Argument(metavar="WORDS", help="Words of its name, aliases, tags or title; or a codepoint.")
    ],
    most: Annotated[int, typer.Option("--most", min=1, help="How many to show.")] = _MOST,
    config: ConfigAt = None,
    json: Json = False,
) -> None:
    """Find icons by half-remembered words, best first."""
    from oddpeg.cli import printing as show
    from oddpeg.iconset.search import find as search
    from oddpeg.tasks.lookup import shelf
    from oddpeg.workspace.config import load_config

    path = find_config(config)
    settings = load_config(path)
    hits = search(shelf(path.resolve().parent, settings).catalogue.icons, " ".join(words), settings.synonyms)
    if json:
        show.document(
            {
                "icons": [
                    {
                        "name": h.icon.name,
                        "codepoint": h.icon.codepoint,
                        "hex": h.icon.hex,
                        "title": h.icon.title,
                        "source": h.icon.source,
                        "aliases": list(h.icon.aliases),
                        "tags": list(h.icon.tags),
                        "score": round(h.score, 3),
                    }
                    for h in hits
                ]
            }
        )
    else:
        wide = max((len(h.icon.name) for h in hits[:most]), default=0)
        for hit in hits[:most]:
            others = [w for w in hit.by if w not in hit.icon.name.split("-")]
            show.say(
                f"{hit.icon.name:<{wide}}  U+{hit.icon.hex.upper()}  {hit.icon.title}"
                + (f"  ({', '.join(others)})" if others else "")
            )
        if len(hits) > most:
            show.say(f"and {len(hits) - most} more; --most shows them")
        if not hits:
            show.warn(f"nothing fits {' '.join(words)!r}; try fewer words, or tell icons.csv what the icon is called")
    if not hits:
        raise typer.Exit(1)


def use(
    icon: Annotated[str, typer.Argument(metavar="ICON", help="The icon's name, an alias, or its codepoint.")],
    place: Annotated[
        str | None, typer.Option("--in", metavar="PLACE", help="One place only: html, css, entity, kotlin …")
    ] = None,
    config: ConfigAt = None,
    json: Json = False,
) -> None:
    """Print exactly the lines to paste for an icon, for one place or all of them."""
    from oddpeg.cli import printing as show
    from oddpeg.diagnostics import Diagnostic, OddPegError, UsageError
    from oddpeg.iconset.search import find as search
    from oddpeg.tasks.lookup import shelf, uses
    from oddpeg.workspace.config import load_config

    path = find_config(config)
    settings, root = load_config(path), path.resolve().parent
    there = shelf(root, settings)
    by_name = {
        name: i for i in there.catalogue.icons for name in (i.name, *i.aliases, f"U+{i.hex.upper()}", i.character)
    }
    found = by_name.get(icon) or by_name.get(icon.upper())
    if found is None:
        near = difflib.get_close_matches(icon, by_name, n=3) or [
            h.icon.name for h in search(there.catalogue.icons, icon, settings.synonyms)[:3]
        ]
        raise OddPegError(
            Diagnostic(
                "unknown-icon",
                f"there is no icon {icon!r}",
                (
                    f"did you mean {', '.join(near)}?"
                    if near
                    else "`oddpeg find` looks by words; a new drawing needs `oddpeg build` first"
                ),
            )
        )
    lines = uses(root, settings, there, found)
    places = list(dict.fromkeys(line.place for line in lines))
    if place is not None:
        if place not in places:
            raise UsageError(
                Diagnostic(
                    "unknown-place",
                    f"no bundle serves the place {place!r}",
                    f"places are: {', '.join(places)}; `oddpeg outputs` lists what a bundle can hold",
                )
            )
        lines = [line for line in lines if line.place == place]
    if json:
        show.document(
            {
                "icon": found.name,
                "codepoint": found.codepoint,
                "lines": [{"place": li.place, "text": li.text, "bundle": li.bundle, "file": li.file} for li in lines],
            }
        )
    elif place is not None:
        for text in dict.fromkeys(line.text for line in lines):
            show.say(text)
    else:
        _show(lines)


def _show(lines: list[Use]) -> None:
    from oddpeg.cli import printing as show

    wide = max(len(line.place) for line in lines)
    last = None
    for line in dict.fromkeys(lines):
        head = f"{line.file} (bundle {line.bundle})" if line.file else "anywhere"
        if head != last:
            show.say(f"{head}", "cyan")
            last = head
        show.say(f"  {line.place:<{wide}}  {line.text}")
