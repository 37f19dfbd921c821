"""The command line: commands and their options; thin. Knows: what users type. Does not know: how work is done."""

from __future__ import annotations

import contextlib
import gc
import os
import sys
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

import typer

from oddpeg import __version__
from oddpeg.cli.check import check
from oddpeg.cli.compare import compare
from oddpeg.cli.lookup import find, use
from oddpeg.cli.options import MOST_WRONG, ConfigAt, Force, Json, Quiet, find_config
from oddpeg.cli.pegs import pegs
from oddpeg.cli.watch import watch
from oddpeg.diagnostics import Diagnostic, OddPegError, UsageError

if TYPE_CHECKING:
    from oddpeg.tasks.build import Wishes

app = typer.Typer(
    name="oddpeg",
    add_completion=True,
    no_args_is_help=True,
    pretty_exceptions_enable=False,
    rich_markup_mode=None,
    help="A folder of SVG icons becomes an icon font whose codepoints never move.",
)

app.command(epilog="Example: oddpeg check --strict")(check)
app.command(epilog="Example: oddpeg watch web")(watch)
app.command(epilog="Example: oddpeg compare shipped/dist dist/web --allow minor")(compare)
app.command(epilog="Example: oddpeg find boat oar")(find)
app.command(epilog="Example: oddpeg use anchor --in html")(use)
app.add_typer(pegs, name="pegs")


@app.callback(invoke_without_command=True)
def about(
    ctx: typer.Context,
    version: Annotated[bool, typer.Option("--version", help="Print the version and stop.", is_eager=True)] = False,
) -> None:
    if version:
        typer.echo(f"oddpeg {__version__}")
        raise typer.Exit


@app.command(epilog="Example: oddpeg init saltmarsh")
def init(
    directory: Annotated[Path, typer.Argument(metavar="DIR", help="The folder that holds the icons.")] = Path(),
    force: Annotated[bool, typer.Option("--force", help="Replace an oddpeg.toml that is there.")] = False,
    quiet: Quiet = False,
    json: Json = False,
) -> None:
    """Look at what is in a folder and write an oddpeg.toml that builds as it is."""
    from oddpeg.cli import printing as show
    from oddpeg.workspace.config import FILE
    from oddpeg.workspace.starter import make_start

    path = directory / FILE
    start = make_start(directory)
    if path.exists() and not force:
        raise UsageError(
            Diagnostic(
                "config-exists",
                f"there is already a {FILE}",
                "edit it, or run again with --force to replace it",
                str(path),
            )
        )
    _write_text(path, start.text)
    if json:
        show.document({"config": str(path), "drawings": start.count, "from": start.patterns})
    elif not quiet:
        show.say(f"wrote {path}: {start.count} drawings in {', '.join(start.patterns)}")
        show.say("next: oddpeg build" if directory == Path() else f"next: cd {directory} && oddpeg build")


def _write_text(path: Path, text: str) -> None:
    try:
        path.write_text(text, encoding="utf-8", newline="\n")
    except OSError as problem:
        raise OddPegError(
            Diagnostic("write-failed", f"cannot be written: {problem.strerror}", "check the folder's rights", str(path))
        ) from None


@app.command(epilog="Example: oddpeg build web")
def build(
    bundles: Annotated[
        list[str] | None, typer.Argument(metavar="BUNDLE", help="Bundles to build; all where none is named.")
    ] = None,
    prove: Annotated[
        bool, typer.Option("--prove", help="Then compare every glyph that changed with its drawing.")
    ] = False,
    config: ConfigAt = None,
    frozen: Annotated[
        bool, typer.Option("--frozen", help="Change nothing; fail if anything would change. For CI.")
    ] = False,
    as_new: Annotated[
        bool, typer.Option("--as-new", help="Take a known drawing under a new name for a new icon.")
    ] = False,
    force: Force = False,
    quiet: Quiet = False,
    json: Json = False,
) -> None:
    """Build the font and everything around it: the main job."""
    from oddpeg.tasks.build import Wishes
    from oddpeg.workspace.config import load_config

    path = find_config(config)
    settings = load_config(path, remember=not frozen)
    _run_build(path.resolve().parent, settings, Wishes(bundles or None, force, frozen, as_new), quiet, json, prove)


def _run_build(root: Path, settings: Any, wishes: Wishes, quiet: bool, json: bool, proving: bool = False) -> None:
    from oddpeg.cli import printing as show
    from oddpeg.tasks.build import Listener
    from oddpeg.tasks.build import build as run

    with show.progress(quiet or json) as (begin, advance):
        report = run(root, settings, wishes, Listener(begin, advance, show.another_is_at_work))
    values = show.report_values(report)
    if not json and not quiet:
        show.show_report(report, wishes.frozen)
    if report.faults and not json:
        show.show_faults(report.faults)
    would_change = wishes.frozen and bool(report.delivered.changes())
    if would_change and not json:
        show.show_unfrozen(report)
    missed = (
        proving
        and not would_change
        and _prove_build(root, settings, wishes, report.units_per_em, quiet, values if json else None)
    )
    if json:
        show.document(values)
    if report.faults or missed or would_change:
        raise typer.Exit(1)


def _prove_build(
    root: Path, settings: Any, wishes: Wishes, units: int, quiet: bool, values: dict[str, Any] | None
) -> bool:
    """Prove what a build changed; return whether a glyph missed. The figures go into `values`, where there are any."""
    from oddpeg.cli import printing as show
    from oddpeg.tasks import prove

    with show.progress(quiet or values is not None) as (begin, advance):
        found = prove.prove_changes(
            root, settings, wishes.bundles or [], units, MOST_WRONG, not wishes.frozen, begin, advance
        )
    missed = [f for f in found.worst() if f.wrong > MOST_WRONG]
    if values is not None:
        values["proof"] = show.proof_values(found, missed)
    elif missed or not quiet:
        show.show_proof_of_changes(found, missed)
    return bool(missed)


@app.command(epilog="Example: oddpeg outputs")
def outputs(json: Json = False) -> None:
    """List what a bundle can hold, and where each thing goes."""
    from oddpeg.cli import printing as show
    from oddpeg.outputs.registry import FONT_KINDS, KINDS

    fonts = [(name, summary, place) for name, (summary, place) in FONT_KINDS.items()]
    kinds = [(kind.name, kind.summary, kind.place) for kind in KINDS.values()]
    if json:
        keys = ("name", "summary", "place")
        show.document(
            {
                "fonts": [dict(zip(keys, f, strict=True)) for f in fonts],
                "outputs": [dict(zip(keys, k, strict=True)) for k in kinds],
            }
        )
        return
    for title, rows in (('fonts = ["woff2", …]', fonts), ('outputs = ["css", …]', kinds)):
        show.say(title, "cyan")
        for name, summary, place in rows:
            show.say(f"  {name:<15}{summary}")
            show.say(f"  {'':<15}{place}")


@app.command(epilog="Example: oddpeg demo saltmarsh")
def demo(
    directory: Annotated[Path, typer.Argument(metavar="DIR", help="Where to write the project.")] = Path(
        "saltmarsh-ferries"
    ),
    force: Force = False,
    quiet: Quiet = False,
    json: Json = False,
) -> None:
    """Write the Saltmarsh Ferries example project into a folder and build it."""
    from oddpeg.cli import printing as show
    from oddpeg.demo.sample import sample_files
    from oddpeg.tasks.build import Wishes
    from oddpeg.workspace.config import FILE, load_config
    from oddpeg.workspace.delivery import write_new

    write_new(directory, sample_files(), force)
    settings = load_config(directory / FILE)
    _run_build(directory.resolve(), settings, Wishes(force=force), quiet, json)
    if not quiet and not json:
        page = directory / "dist" / "web" / "saltmarsh-signs-specimen.html"
        show.say(f"\nopen {page}")


@app.command(epilog="Example: oddpeg proof anchor --picture proof.png")
def proof(
    icons: Annotated[
        list[str] | None, typer.Argument(metavar="ICON", help="Icons to prove; all where none is named.")
    ] = None,
    size: Annotated[
        list[int] | None,
        typer.Option("--size", min=16, max=1024, help="Pixels to the em; may be given several times. [default: 128]"),
    ] = None,
    most: Annotated[
        float, typer.Option("--most", min=0.0, max=1.0, help="The share of wrong pixels that an icon may have.")
    ] = MOST_WRONG,
    picture: Annotated[
        Path | None, typer.Option("--picture", help="Write a PNG of the worst, or of the icons named.")
    ] = None,
    config: ConfigAt = None,
    force: Annotated[bool, typer.Option("--force", help="Replace a picture that is there.")] = False,
    quiet: Quiet = False,
    json: Json = False,
) -> None:
    """Compare every glyph of the finished font with its drawing."""
    from oddpeg.cli import printing as show
    from oddpeg.tasks import prove
    from oddpeg.workspace.config import load_config
    from oddpeg.workspace.delivery import write_new

    path = find_config(config)
    settings = load_config(path)
    root = path.resolve().parent
    with show.progress(quiet or json) as (begin, advance):
        found = prove.prove(root, settings, icons or [], size or [128], begin, advance)
    if picture is not None and found.figures:
        write_new(picture.parent, [(picture.name, prove.picture(root, settings, found, icons or []))], force)
    missed = [f for f in found.worst() if f.wrong > most]
    if json:
        show.document(show.proof_values(found, missed))
    elif not quiet:
        show.show_proof(found, missed, most, picture)
    if found.faults and not json:
        show.show_faults(found.faults)
    if missed or found.faults:
        raise typer.Exit(1)


def _guarded(run: Callable[[], Any]) -> int:
    """Run a command; return its exit code. Our own bugs end as 70 with a log, never as a traceback."""
    from oddpeg.cli import printing as show

    try:
        run()
        return 0
    except SystemExit as end:  # how a command ends, well or with wrong use
        return end.code if isinstance(end.code, int) else 0
    except OddPegError as found:
        if "--json" in sys.argv:
            show.document({"faults": [f.as_dict() for f in found.diagnostics]})
        show.show_faults(found.diagnostics)
        return found.exit_code
    except KeyboardInterrupt:
        show.warn("stopped; nothing half-written is left")
        return 1
    except Exception:
        import tempfile
        import traceback

        log = Path(tempfile.gettempdir()) / "oddpeg-error.log"
        log.write_text(f"oddpeg {__version__}\n{sys.argv}\n{traceback.format_exc()}", encoding="utf-8")
        show.warn(f"this is a bug in Odd Peg, not in your files; please report it with {log}", "bright_red")
        return 70


def main() -> None:
    """Entry point of the `oddpeg` command."""
    os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")  # no large matrix in here; starting threads for them takes time
    gc.disable()  # a short life, and hardly a cycle in it: collecting took a sixth of a large build
    command = typer.main.get_command(app)
    code = _guarded(lambda: command(prog_name="oddpeg"))
    with contextlib.suppress(OSError):  # whoever read our output may have gone
        sys.stdout.flush()
        sys.stderr.flush()
    os._exit(code)  # everything is written and closed; freeing a large build piece by piece only takes time
