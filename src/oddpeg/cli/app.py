"""The command line: which commands there are, and how a command ends."""

from __future__ import annotations

import errno
import os
import sys
from collections.abc import Callable
from io import TextIOWrapper
from pathlib import Path
from typing import Annotated, Any, ClassVar, NoReturn

import typer
from typer.core import TyperGroup

from oddpeg._version import __version__
from oddpeg.cli.build import build
from oddpeg.cli.check import check
from oddpeg.cli.compare import compare
from oddpeg.cli.fonts import inspect, repack
from oddpeg.cli.lookup import find, use
from oddpeg.cli.options import AlsoRead
from oddpeg.cli.pegs import pegs
from oddpeg.cli.printing import document, show_diagnostics, warn, write_log
from oddpeg.cli.projects import also_read
from oddpeg.cli.proof import proof
from oddpeg.cli.setup import config, demo, init, outputs
from oddpeg.cli.usage import usage
from oddpeg.cli.watch import watch
from oddpeg.diagnostics import Diagnostic, OddPegError, UsageError


class _InOrderOfWork(TyperGroup):
    """Commands in the order in which they are needed, in groups."""

    groups: ClassVar = {
        "Begin": ("demo", "init", "config", "outputs"),
        "Build": ("check", "build", "watch", "proof"),
        "Use": ("find", "use", "usage"),
        "Maintain": ("pegs", "compare"),
        "Fonts that exist": ("inspect", "repack"),
    }

    def list_commands(self, ctx: Any) -> list[str]:
        return [name for names in self.groups.values() for name in names]

    def format_commands(self, ctx: Any, formatter: Any) -> None:
        width = max(map(len, self.commands))
        for title, names in self.groups.items():
            with formatter.section(title):
                rows = ((name, (self.commands[name].help or "").partition("\n\n")[0]) for name in names)
                formatter.write_dl([(f"{name:<{width}}", text.replace("\n", " ")) for name, text in rows])


app = typer.Typer(
    name="oddpeg",
    cls=_InOrderOfWork,
    add_completion=True,
    no_args_is_help=True,
    pretty_exceptions_enable=False,
    rich_markup_mode=None,
    help="A folder of SVG icons becomes an icon font whose codepoints never move.",
)

app.command(epilog="Example: oddpeg demo saltmarsh")(demo)
app.command(epilog="Example: oddpeg init saltmarsh")(init)
app.command(epilog="Example: oddpeg config --schema > oddpeg.schema.json")(config)
app.command(epilog="Example: oddpeg outputs")(outputs)
app.command(epilog="Example: oddpeg check --strict")(check)
app.command(epilog="Example: oddpeg build web")(build)
app.command(epilog="Example: oddpeg watch web")(watch)
app.command(epilog="Example: oddpeg proof anchor --picture proof.png")(proof)
app.command(epilog="Example: oddpeg find boat oar")(find)
app.command(epilog="Example: oddpeg use anchor --in html")(use)
app.command(epilog="Example: oddpeg usage src templates")(usage)
app.add_typer(pegs, name="pegs")
app.command(epilog="Example: oddpeg compare shipped/dist dist/web --allow minor")(compare)
app.command(epilog="Example: oddpeg inspect harbour.ttf --sheet harbour.html")(inspect)
app.command(epilog="Example: oddpeg repack harbour.ttf --into public/fonts --only latin --css")(repack)


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
            document({"faults": [d.as_dict() for d in found.diagnostics]})
        show_diagnostics(found.diagnostics)
        return found.exit_code
    except BrokenPipeError:  # whoever read our output has what it wanted
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
    """Say that what we print cannot be written; return the exit code."""
    warn(f"the output cannot be written: {problem.strerror}", "bright_red")
    return 1


def _log_bug() -> int:
    """Write what went wrong into a log; return the exit code."""
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
            pass  # whoever read our output has gone
        except OSError as problem:
            code = code or _unwritable(problem)
        except (ValueError, AttributeError):
            pass  # closed, or never open
    os._exit(code)  # everything is written and closed; freeing a large build piece by piece only takes time
