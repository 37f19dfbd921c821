"""The commands in the order of work. Each is made ready when it is asked for: to read the options of all of them
takes longer than what most commands do."""

from __future__ import annotations

import inspect as introspection
from collections.abc import Callable
from typing import Any, NamedTuple

import typer
from typer.core import TyperCommand, TyperGroup

from oddpeg.cli.build import build
from oddpeg.cli.check import check
from oddpeg.cli.compare import compare
from oddpeg.cli.fonts import inspect, repack
from oddpeg.cli.lookup import find, use
from oddpeg.cli.pegs import pegs
from oddpeg.cli.proof import proof
from oddpeg.cli.setup import config, demo, init, outputs
from oddpeg.cli.usage import usage
from oddpeg.cli.watch import watch


class Entry(NamedTuple):
    """One command.

    Attributes:
        action: the function that runs it, or the group of commands that it stands for.
        example: a line that runs in the demo project; empty for a group.
    """

    action: Callable[..., None] | typer.Typer
    example: str = ""

    @property
    def help(self) -> str:
        """What it does; the first paragraph is the summary."""
        if isinstance(self.action, typer.Typer):
            return str(self.action.info.help)
        return introspection.cleandoc(self.action.__doc__ or "")

    def ready(self, name: str) -> Any:
        """Return the command with its options, ready to run."""
        if isinstance(self.action, typer.Typer):
            return typer.main.get_command(self.action)
        alone = typer.Typer(add_completion=False, pretty_exceptions_enable=False, rich_markup_mode=None)
        alone.command(name, epilog=f"Example: {self.example}")(self.action)
        return typer.main.get_command(alone)


GROUPS: dict[str, dict[str, Entry]] = {
    "Begin": {
        "demo": Entry(demo, "oddpeg demo saltmarsh"),
        "init": Entry(init, "oddpeg init saltmarsh"),
        "config": Entry(config, "oddpeg config --schema > oddpeg.schema.json"),
        "outputs": Entry(outputs, "oddpeg outputs"),
    },
    "Build": {
        "check": Entry(check, "oddpeg check --strict"),
        "build": Entry(build, "oddpeg build web"),
        "watch": Entry(watch, "oddpeg watch web"),
        "proof": Entry(proof, "oddpeg proof anchor --picture proof.png"),
    },
    "Use": {
        "find": Entry(find, "oddpeg find boat oar"),
        "use": Entry(use, "oddpeg use anchor --in html"),
        "usage": Entry(usage, "oddpeg usage src templates"),
    },
    "Maintain": {"pegs": Entry(pegs), "compare": Entry(compare, "oddpeg compare shipped/dist dist/web --allow minor")},
    "Fonts that exist": {
        "inspect": Entry(inspect, "oddpeg inspect harbour.ttf --sheet harbour.html"),
        "repack": Entry(repack, "oddpeg repack harbour.ttf --into public/fonts --only latin --css"),
    },
}
_ENTRIES = {name: entry for entries in GROUPS.values() for name, entry in entries.items()}


class InOrderOfWork(TyperGroup):
    """Commands in the order in which they are needed, in groups."""

    def __init__(self, **attributes: Any) -> None:
        super().__init__(**attributes)
        self.commands = {name: TyperCommand(name, help=entry.help) for name, entry in _ENTRIES.items()}

    def get_command(self, ctx: Any, cmd_name: str) -> Any:
        entry = _ENTRIES.get(cmd_name)
        return entry and entry.ready(cmd_name)

    def format_commands(self, ctx: Any, formatter: Any) -> None:
        width = max(map(len, self.commands))
        for title, entries in GROUPS.items():
            with formatter.section(title):
                rows = ((name, entry.help.partition("\n\n")[0]) for name, entry in entries.items())
                formatter.write_dl([(f"{name:<{width}}", text.replace("\n", " ")) for name, text in rows])
