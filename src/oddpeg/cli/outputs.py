"""`oddpeg outputs`: the kinds of output."""

from __future__ import annotations

from oddpeg.cli.documents.maintain import KindOfFile, OutputsDocument
from oddpeg.cli.options import Json
from oddpeg.cli.printing import document, say
from oddpeg.outputs.registry import FONT_KINDS, KINDS


def outputs(json: Json = False) -> None:
    """List what a bundle can hold, and where each thing goes."""
    fonts = [(name, *about) for name, about in FONT_KINDS.items()]
    kinds = [(kind.name, kind.summary, kind.place) for kind in KINDS.values()]
    if json:
        tables: list[list[KindOfFile]] = [
            [{"name": name, "summary": summary, "place": place} for name, summary, place in rows]
            for rows in (fonts, kinds)
        ]
        values: OutputsDocument = {"fonts": tables[0], "outputs": tables[1]}
        document(values)
        return
    for title, rows in (('fonts = ["woff2", …]', fonts), ('outputs = ["css", …]', kinds)):
        say(title, "cyan")
        for name, summary, place in rows:
            say(f"  {name:<15}{summary}")
            say(f"  {'':<15}{place}")
