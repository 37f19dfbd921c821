"""The command line: options that all commands share, and exit codes."""

from __future__ import annotations

import errno
import os
import sys
from collections.abc import Callable
from io import TextIOWrapper
from pathlib import Path
from typing import Annotated, Any, NoReturn

import typer

from oddpeg._version import __version__
from oddpeg.cli.commands import InOrderOfWork
from oddpeg.cli.options import AlsoRead
from oddpeg.cli.printing import document, show_diagnostics, warn, write_log
from oddpeg.cli.projects import also_read
from oddpeg.diagnostics import Diagnostic, Failure, OddPegError, UsageError

app = typer.Typer(
    name="oddpeg",
    cls=InOrderOfWork,
    add_completion=True,
    no_args_is_help=True,
    pretty_exceptions_enable=False,
    rich_markup_mode=None,
    help="A folder of SVG icons becomes an icon font whose codepoints never move.",
)


@app.callback(invoke_without_command=True)
def about(
    ctx: typer.Context,
    version: Annotated[bool, typer.Option("--version", help="Print the version and stop.", is_eager=True)] = False,
    outside: AlsoRead = None,
) -> None:
    also_read.extend(outside or [])
    if version:
        typer.echo(f"oddpeg {__version__}")
        raise typer.Exit


def _guarded(run: Callable[[], Any]) -> int:
    """Run a command; return its exit code. Our own bugs end as 70 with a log, never as a traceback."""
    try:
        _require_folder()
        run()
        return 0
    except SystemExit as end:  # how a command ends, well or with wrong use
        return end.code if isinstance(end.code, int) else 0
    except OddPegError as found:
        if "--json" in sys.argv:
            document(Failure(found.diagnostics))
        show_diagnostics(found.diagnostics)
        return found.exit_code
    except BrokenPipeError:  # the reader of the pipe has enough
        return 0
    except OSError as problem:
        if problem.filename is not None or problem.errno not in (errno.ENOSPC, errno.EIO):
            return _log_bug()
        return _unwritable(problem)
    except KeyboardInterrupt:
        warn("stopped; nothing half-written is left")
        return 1
    except Exception:
        return _log_bug()


def _require_folder() -> None:
    """Raise `UsageError` where the folder that we were started in is gone."""
    try:
        Path.cwd()
    except OSError:
        cure = "change to a folder that exists"
        raise UsageError(Diagnostic("not-a-folder", "the current folder does not exist any more", cure)) from None


def _unwritable(problem: OSError) -> int:
    """Print that the output cannot be written; return the exit code."""
    warn(f"the output cannot be written: {problem.strerror}", "bright_red")
    return 1


def _log_bug() -> int:
    """Write a traceback into a log; return the exit code."""
    import traceback

    write_log(traceback.format_exc())
    return 70


def run() -> NoReturn:
    """Run the command that the arguments of the process name, and end the process."""
    for stream in (sys.stdout, sys.stderr):
        if isinstance(stream, TextIOWrapper):  # a terminal that lacks a character gets its escape
            stream.reconfigure(errors="backslashreplace")
    command = typer.main.get_command(app)
    code = _guarded(lambda: command(prog_name="oddpeg"))
    for stream in (sys.stdout, sys.stderr):
        try:
            stream.flush()
        except BrokenPipeError:
            pass  # the reader of the pipe has ended
        except OSError as problem:
            code = code or _unwritable(problem)
        except (ValueError, AttributeError):
            pass  # closed, or never open
    os._exit(code)  # everything is written and closed; freeing a large build piece by piece only takes time
