"""`oddpeg build`: options, and the printed report."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated

import typer

from oddpeg.building.report import BuildOptions, BuildReport
from oddpeg.building.run import build as run
from oddpeg.cli.options import Bundles, ConfigAt, Force, Json, Quiet
from oddpeg.cli.printing import bytes_text, document, exit_code, progress, say, show_diagnostics, warn
from oddpeg.cli.projects import opened
from oddpeg.diagnostic_codes import PROJECT_CODES
from oddpeg.diagnostics import Diagnostic, counted
from oddpeg.project.snapshot import Snapshot

if TYPE_CHECKING:
    from oddpeg.outline.placement import Em
    from oddpeg.project.project import Project
    from oddpeg.proof.report import Figure, Proof

_MOST_NOTES = 12  # kinds of note; the rest is counted, --json has them all
_MOST_PLACES = 4


def build(
    bundles: Bundles = None,
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
    project = opened(config, remember=not frozen)
    run_build(project, BuildOptions(bundles or None, force, frozen, as_new), quiet, json, prove)


def run_build(project: Project, options: BuildOptions, quiet: bool, json: bool, proving: bool = False) -> None:
    """Build, print the report, and exit."""
    with progress(quiet or json) as bar:
        report = run(project, options, bar)
    if not json and not quiet:
        show_report(report, options.frozen)
    if report.faults and not json:
        show_diagnostics(report.faults)
    would_change = options.frozen and bool(report.delivered.changes())
    if would_change and not json:
        _show_unfrozen(report)
    faults = list(report.faults)
    missed = False
    if proving and not would_change:
        found = _prove_build(project, options, report.em.em, quiet, json)
        report.proof, missed = found, bool(found.missed())
        # what the build said already is not said again
        new = [d for d in found.faults if d.code == "internal-error"]
        if new and not json:
            show_diagnostics(new)
        faults += new
    if json:
        document(report)
    if faults or missed or would_change:
        raise typer.Exit(exit_code(faults))


def _prove_build(project: Project, options: BuildOptions, em: Em, quiet: bool, json: bool) -> Proof:
    """Prove the changes of a build; return the proof."""
    from oddpeg.proof.run import prove_changes  # much to load, for `--prove` alone

    with progress(quiet or json) as bar:
        found = prove_changes(Snapshot(project), options.bundles or [], em, not options.frozen, bar)
    missed = found.missed()
    if not json and (missed or not quiet):
        _show_proof_of_changes(found, missed)
    return found


def _show_unfrozen(report: BuildReport) -> None:
    """Print the changes that a frozen build refused."""
    changes = report.changes
    warn("frozen: this build would change", "bright_red")
    for word, names in (("added", changes.added), ("retired", changes.retired), ("restored", changes.restored)):
        if names:
            warn(f"  pegs {word}: {', '.join(names)}")
    done = report.delivered
    for word, paths in (("write", [*done.extra, *done.written]), ("remove", done.removed)):
        for path in paths:
            warn(f"  {word} {path}")
    warn("  cure: run `oddpeg build` and commit what it changes")


def show_report(report: BuildReport, frozen: bool = False) -> None:
    """Print the summary of a build. frozen: nothing of it was done."""
    chosen = report.em
    grid = {
        True: "grid-aligned",
        False: "grids too different to fit all lines on whole units",
        None: "every icon as large as its ink allows",
    }[chosen.on_grid]
    if chosen.grid:
        grid += f"; baseline on line {round(chosen.grid * chosen.em.drop)} of {chosen.grid}"
    say(f"{report.family}: {counted(report.icons, 'icon')}, {report.units_per_em} units per em ({grid})", "cyan")
    _show_pegs(report)
    width = max((len(f.path) for f in report.files), default=0)
    for bundle in dict.fromkeys(f.bundle for f in report.files):
        say(f"\n{bundle}")
        for file in report.files:
            if file.bundle == bundle:
                would = "  would change" if frozen else ""
                state = would if file.path in report.delivered.written else "  unchanged"
                say(f"  {file.path:<{width}}  {bytes_text(file.size):>10}{state}")
    for path in report.delivered.removed:
        say(f"  {'would remove' if frozen else 'removed'} {path}: no longer asked for", "yellow")
    _show_notes([d for d in report.notes if d.code not in PROJECT_CODES])
    show_diagnostics(d for d in report.notes if d.code in PROJECT_CODES)
    say(f"\n{sum(report.seconds.values()):.2f} s")


def _show_pegs(report: BuildReport) -> None:
    changes = report.changes
    known = report.icons - len(changes.added) - len(changes.restored)
    if changes.added:
        say(f"pegs: {len(changes.added)} new, {max(known, 0)} unchanged")
    else:
        say("pegs: all unchanged")
    if changes.restored:
        say(f"pegs: back on their old codepoints: {', '.join(changes.restored)}", "green")
    if changes.withdrawn:
        say(f"pegs: withdrawn, though their drawings are there: {', '.join(changes.withdrawn)}", "yellow")
    if changes.retired:
        say(f"pegs: RETIRED, their drawings are gone: {', '.join(changes.retired)}", "yellow")
        say("  their codepoints stay reserved; put a drawing back to restore its icon")


def _show_notes(notes: list[Diagnostic]) -> None:
    if not notes:
        return
    places: dict[str, list[str]] = {}
    for note in notes:
        places.setdefault(note.what, []).append(note.place)
    say(f"\nnotes on {counted(len({note.where for note in notes}), 'file')}")
    for text, where in list(places.items())[:_MOST_NOTES]:
        more = f" and {len(where) - _MOST_PLACES} more" if len(where) > _MOST_PLACES else ""
        say(f"  {text}")
        say(f"    {', '.join(where[:_MOST_PLACES])}{more}")
    if len(places) > _MOST_NOTES:
        say(f"  and {len(places) - _MOST_NOTES} more kinds; --json lists them all")


def _show_proof_of_changes(proof: Proof, missed: list[Figure]) -> None:
    """Print the result of the proof after a build."""
    count = len(proof.figures)
    kept = f"; {proof.known} proved before" if proof.known else ""
    if missed:
        warn(f"proof: {len(missed)} of {count} changed glyphs do not show what was drawn{kept}", "bright_red")
        for figure in missed[:8]:
            warn(f"  {figure.icon}: {figure.wrong:.2%} wrong at {figure.px} px")
        warn(f"look at them: oddpeg proof {' '.join(f.icon for f in missed[:3])} --picture proof.png")
    elif count:
        say(f"proof: {count} changed {'glyph shows' if count == 1 else 'glyphs show'} what was drawn{kept}", "green")
    else:
        say(f"proof: nothing changed{kept}", "green")
