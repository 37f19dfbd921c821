"""`oddpeg outputs`: the kinds of output."""

from __future__ import annotations

from typing import Annotated, NamedTuple

from oddpeg.cli.options import Json
from oddpeg.cli.printing import document, say
from oddpeg.outputs.registry import FONT_KINDS, KINDS
from oddpeg.reports import Key


class FileKind(NamedTuple):
    """A kind of file that a bundle can hold."""

    name: Annotated[str, Key("name in the config")]
    summary: Annotated[str, Key("what it is")]
    place: Annotated[str, Key("where it goes")]


class OutputsReport(NamedTuple):
    """The kinds of file that bundles can hold."""

    fonts: Annotated[list[FileKind], Key("formats of fonts")]
    outputs: Annotated[list[FileKind], Key("kinds of other files")]


def outputs(json: Json = False) -> None:
    """List the kinds of file that a bundle can hold, and the place of each."""
    fonts = [FileKind(name, *about) for name, about in FONT_KINDS.items()]
    kinds = [FileKind(kind.name, kind.summary, kind.place) for kind in KINDS.values()]
    if json:
        document(OutputsReport(fonts, kinds))
        return
    for title, rows in (('fonts = ["woff2", …]', fonts), ('outputs = ["css", …]', kinds)):
        say(title, "cyan")
        for name, summary, place in rows:
            say(f"  {name:<15}{summary}")
            say(f"  {'':<15}{place}")
