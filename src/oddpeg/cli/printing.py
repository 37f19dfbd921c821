"""How anything is printed: lines, diagnostics, JSON documents, progress."""

from __future__ import annotations

import json
import os
import shutil
import sys
import textwrap
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from typing import TextIO

import typer

from oddpeg._version import __version__
from oddpeg.diagnostic_codes import Level
from oddpeg.diagnostics import UNPRINTABLE, Diagnostic
from oddpeg.progress import Progress
from oddpeg.reports import as_json


def say(text: str = "", style: str = "") -> None:
    """Print a line on stdout, wrapped between words to the width of a terminal. style: a colour, for terminals."""
    typer.echo(_styled(_wrapped(plain(text), sys.stdout), style, sys.stdout))


def paste(text: str) -> None:
    """Print lines to paste on stdout, never wrapped."""
    typer.echo(plain(text))


def warn(text: str, style: str = "") -> None:
    """Print a line on stderr, wrapped like `say`. style: a colour, for terminals."""
    typer.echo(_styled(_wrapped(plain(text), sys.stderr), style, sys.stderr), err=True)


def _wrapped(text: str, stream: TextIO | None) -> str:
    """Return a text with lines no longer than the terminal is wide; unchanged where the stream is no terminal."""
    if stream is None or not stream.isatty():
        return text
    width = shutil.get_terminal_size().columns
    if len(text) <= width:
        return text
    indent = " " * (len(text) - len(text.lstrip()) + 2)
    return textwrap.fill(
        text, width, subsequent_indent=indent, break_long_words=False, break_on_hyphens=False, drop_whitespace=True
    )


def plain(text: str) -> str:
    """Return a text with terminal control characters escaped."""
    return UNPRINTABLE.sub(lambda match: match[0].encode("unicode-escape", "surrogatepass").decode(), text)


def _styled(text: str, style: str, stream: TextIO | None) -> str:
    coloured = bool(style) and stream is not None and stream.isatty() and "NO_COLOR" not in os.environ
    return typer.style(text, fg=style) if coloured else text


def document(report: object) -> None:
    """Print a report as one JSON document on stdout."""
    typer.echo(json.dumps(as_json(report), ensure_ascii=True, indent=1))


def show_diagnostics(diagnostics: Iterable[Diagnostic]) -> None:
    """Print diagnostics on stderr, each with its cure."""
    for diagnostic in diagnostics:
        head, _, cure = diagnostic.text().partition("\n")
        warn(head, "bright_red" if diagnostic.level is Level.ERROR else "yellow")
        if cure:
            warn(cure)


def exit_code(diagnostics: Iterable[Diagnostic]) -> int:
    """Return the exit code for errors: 70 for an internal error, after writing a log, otherwise 1."""
    internal = [d for d in diagnostics if d.code == "internal-error"]
    if not internal:
        return 1
    write_log("\n".join(f"{d.text()}\n{d.trace}" for d in internal))
    return 70


def write_log(text: str) -> None:
    """Write an internal error into a new file that only its owner can read, and print its path."""
    import tempfile

    text = f"oddpeg {__version__}\n{sys.argv}\n{text}"
    try:
        with tempfile.NamedTemporaryFile("wb", prefix="oddpeg-error-", suffix=".log", delete=False) as log:
            log.write(text.encode("utf-8", "backslashreplace"))
    except OSError as problem:
        warn(f"this is a bug in Odd Peg, not in your files; no log could be written: {problem.strerror}", "bright_red")
        return
    warn(f"this is a bug in Odd Peg, not in your files; please report it with {log.name}", "bright_red")


def bytes_text(size: int) -> str:
    """Return a size in kilobytes, as people read it."""
    return f"{size / 1000:,.1f} kB"


def some(names: list[str], limit: int = 12) -> str:
    """Return names in a row, the rest counted."""
    rest = f" and {len(names) - limit} more" if len(names) > limit else ""
    return ", ".join(names[:limit]) + rest


def another_is_at_work() -> None:
    """Say why nothing happens."""
    warn("another oddpeg is at work in this project; waiting for it")


WAITING = Progress(waiting=another_is_at_work)


@contextmanager
def progress(quiet: bool) -> Iterator[Progress]:
    """Give the progress callbacks of a bar on stderr; silent ones where stderr is no terminal."""
    if quiet or sys.stderr is None or not sys.stderr.isatty():
        yield WAITING
        return
    from rich.console import Console
    from rich.progress import BarColumn, MofNCompleteColumn, TextColumn
    from rich.progress import Progress as Bar

    column = BarColumn(complete_style="cyan", finished_style="cyan")
    console = Console(stderr=True)
    with Bar(
        TextColumn("{task.description}"),
        column,
        MofNCompleteColumn(),
        console=console,
        transient=True,
        auto_refresh=False,
    ) as bar:
        task = bar.add_task("drawing", total=None)

        def begin(total: int) -> None:
            bar.update(task, total=total, refresh=True)

        def advance(count: int) -> None:
            bar.update(task, advance=count, refresh=True)

        def phase(name: str) -> None:
            bar.update(task, description=name, refresh=True)

        yield Progress(begin, advance, another_is_at_work, phase)
