"""The commands in the order of work, each named as "module:function" and imported when it is run: importing all of them
takes longer than most commands."""

from __future__ import annotations

import ast
import inspect
from importlib import import_module
from importlib.util import find_spec
from pathlib import Path
from typing import Any, NamedTuple

import typer
from typer.core import TyperCommand, TyperGroup


class Entry(NamedTuple):
    """One command.

    Attributes:
        target: "module:name" of the function that runs it, or of a group of commands.
        example: a line that runs in the demo project; empty for a group.
    """

    target: str
    example: str = ""

    @property
    def summary(self) -> str:
        """The first paragraph of its help, read from the source without importing it."""
        module, _, name = self.target.partition(":")
        spec = find_spec(module)
        assert spec is not None and spec.origin is not None
        tree = ast.parse(Path(spec.origin).read_text(encoding="utf-8"))
        function = next((node for node in tree.body if isinstance(node, ast.FunctionDef) and node.name == name), None)
        text = ast.get_docstring(function or tree) or ""
        return text.partition("\n\n")[0].replace("\n", " ")

    @property
    def help(self) -> str:
        """The help text; the first paragraph is the summary."""
        action = self._action()
        return self.summary if isinstance(action, typer.Typer) else inspect.cleandoc(action.__doc__ or "")

    def ready(self, name: str) -> Any:
        """Return the command with its options, ready to run."""
        action = self._action()
        if isinstance(action, typer.Typer):
            return typer.main.get_command(action)
        alone = typer.Typer(add_completion=False, pretty_exceptions_enable=False, rich_markup_mode=None)
        alone.command(name, epilog=f"Example: {self.example}")(action)
        return typer.main.get_command(alone)

    def _action(self) -> Any:
        module, _, name = self.target.partition(":")
        return getattr(import_module(module), name)


GROUPS: dict[str, dict[str, Entry]] = {
    "Begin": {
        "demo": Entry("oddpeg.cli.demo:demo", "oddpeg demo saltmarsh"),
        "init": Entry("oddpeg.cli.init:init", "oddpeg init saltmarsh"),
        "config": Entry("oddpeg.cli.config:config", "oddpeg config --schema > oddpeg.schema.json"),
        "outputs": Entry("oddpeg.cli.outputs:outputs", "oddpeg outputs"),
    },
    "Build": {
        "check": Entry("oddpeg.cli.check:check", "oddpeg check --strict"),
        "build": Entry("oddpeg.cli.build:build", "oddpeg build web"),
        "watch": Entry("oddpeg.cli.watch:watch", "oddpeg watch web"),
        "proof": Entry("oddpeg.cli.proof:proof", "oddpeg proof anchor --picture proof.png"),
    },
    "Use": {
        "find": Entry("oddpeg.cli.find:find", "oddpeg find boat oar"),
        "use": Entry("oddpeg.cli.use:use", "oddpeg use anchor --in html"),
        "usage": Entry("oddpeg.cli.usage:usage", "oddpeg usage src templates"),
    },
    "Maintain": {
        "pegs": Entry("oddpeg.cli.pegs:pegs"),
        "compare": Entry("oddpeg.cli.compare:compare", "oddpeg compare shipped/dist dist/web --allow minor"),
    },
    "Fonts that exist": {
        "inspect": Entry("oddpeg.cli.inspect:inspect", "oddpeg inspect harbour.ttf --sheet harbour.html"),
        "repack": Entry("oddpeg.cli.repack:repack", "oddpeg repack harbour.ttf --into public/fonts --only latin --css"),
    },
}
_ENTRIES = {name: entry for entries in GROUPS.values() for name, entry in entries.items()}


class InOrderOfWork(TyperGroup):
    """Commands in the order in which they are needed, in groups."""

    def __init__(self, **attributes: Any) -> None:
        super().__init__(**attributes)
        self.commands = {name: TyperCommand(name) for name in _ENTRIES}

    def get_command(self, ctx: Any, cmd_name: str) -> Any:
        entry = _ENTRIES.get(cmd_name)
        return entry and entry.ready(cmd_name)

    def format_commands(self, ctx: Any, formatter: Any) -> None:
        width = max(map(len, self.commands))
        for title, entries in GROUPS.items():
            with formatter.section(title):
                formatter.write_dl([(f"{name:<{width}}", entry.summary) for name, entry in entries.items()])
