"""The commands, as the program declares them."""

from __future__ import annotations

from collections.abc import Iterator

import typer
from typer.core import TyperGroup
from typer.main import get_command

from oddpeg.cli.app import app


def commands() -> Iterator[tuple[tuple[str, ...], typer.core.TyperCommand]]:
    """Yield every command with its path; groups too."""

    def walk(path: tuple[str, ...], command: object) -> Iterator[tuple[tuple[str, ...], typer.core.TyperCommand]]:
        if path:
            yield path, command  # type: ignore[misc]
        if isinstance(command, TyperGroup):
            for name in command.list_commands(typer.Context(command)):
                yield from walk((*path, name), command.get_command(typer.Context(command), name))

    yield from walk((), get_command(app))
