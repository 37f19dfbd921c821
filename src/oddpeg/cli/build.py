"""`oddpeg build`: options, and the printed report."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, NamedTuple

import typer

from oddpeg.building.report import BuildOptions, BuildReport, BuiltFile
from oddpeg.building.run import build as run
from oddpeg.cli.options import Bundles, ConfigAt, Force, Json, Quiet
from oddpeg.cli.printing import bytes_text, document, exit_code, progress, say, show_diagnostics, warn
from oddpeg.cli.projects import opened
from oddpeg.diagnostic_codes import PROJECT_CODES, Level
from oddpeg.diagnostics import Diagnostic, counted
from oddpeg.project.snapshot import Snapshot

if TYPE_CHECKING:
    from oddpeg.outline.placement import Em
    from oddpeg.project.project import Project
    from oddpeg.proof.report import Figure, Proof

_MOST_PLACES = 4  # of a note; --json has all
_MOST_FILES = 12  # with one ending in one folder


class Shown(NamedTuple):
    """The parts of a report to print.

    Attributes:
        quiet: errors only.
        json: one document instead.
        notes: all notes on drawings.
        files: every file.
    """

    quiet: bool
    json: bool
    notes: bool = False
    files: bool = False


def build(
    bundles: Bundles = None,
    prove: Annotated[
        bool, typer.Option("--prove", help="Then compare every glyph that changed with its drawing.")
    ] = False,
    config: ConfigAt = None,
    frozen: Annotated[
        bool, typer.Option("--frozen", help="Change nothing; fail if anything would change. For CI.")
    ] = False,
    frozen_pegs: Annotated[
        bool, typer.Option("--frozen-pegs", help="Like --frozen, if delivered files are not committed: pegboard only.")
    ] = False,
    as_new: Annotated[
        bool, typer.Option("--as-new", help="Take a known drawing under a new name for a new icon.")
    ] = False,
    notes: Annotated[bool, typer.Option("--notes", help="List all warnings and notices on drawings.")] = False,
    files: Annotated[bool, typer.Option("--files", help="List every delivered file with its size.")] = False,
    force: Force = False,
    quiet: Quiet = False,
    json: Json = False,
) -> None:
    """Build the font and everything around it: the main job.

    Prints one line for each bundle.
    """
    frozen |= frozen_pegs
    project = opened(config, remember=not frozen)
    show = Shown(quiet, json, notes, files)
    run_build(project, BuildOptions(bundles or None, force, frozen, frozen_pegs, as_new), show, prove)


def run_build(project: Project, options: BuildOptions, shown: Shown, proving: bool = False) -> None:
    """Build, print the report, and exit."""
    quiet, json = shown.quiet, shown.json
    with progress(quiet or json) as bar:
        report = run(project, options, bar)
    if not json and not quiet:
        show_report(report, shown, options.frozen)
    if report.faults and not json:
        show_diagnostics(report.faults)
    would_change = report.outdated(options)
    if would_change and not json:
        _show_unfrozen(report, options.pegs_only)
    faults = list(report.faults)
    missed = False
    if proving and not would_change:
        proved = _prove_build(project, options, report.em.em, quiet, json)
        report.proof, missed = proved, bool(proved.missed())
        # what the build said already is not said again
        new = [d for d in proved.faults if d.code == "internal-error"]
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
        proved = prove_changes(Snapshot(project), options.bundles or [], em, not options.frozen, bar)
    missed = proved.missed()
    if not json and (missed or proved.disputed() or not quiet):
        _show_proof_of_changes(proved, missed)
    return proved


def _show_unfrozen(report: BuildReport, pegs_only: bool) -> None:
    """Print the changes that a frozen build refused."""
    changes = report.changes
    warn("frozen: this build would change", "bright_red")
    for word, names in (("added", changes.added), ("retired", changes.retired), ("restored", changes.restored)):
        if names:
            warn(f"  pegs {word}: {', '.join(names)}")
    done = report.delivered
    files = [("write", done.extra)] if pegs_only else [("write", done.extra + done.written), ("remove", done.removed)]
    for word, paths in files:
        for path in paths:
            warn(f"  {word} {path}")
    warn("  cure: run `oddpeg build` and commit what it changes")


def show_report(report: BuildReport, shown: Shown, frozen: bool = False) -> None:
    """Print the summary of a build. frozen: nothing was changed."""
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
    _show_bundles(report, frozen)
    if shown.files:
        _show_files(report, frozen)
    for path in report.delivered.removed:
        say(f"  {'would remove' if frozen else 'removed'} {path}: no longer asked for", "yellow")
    _show_notes([d for d in report.notes if d.code not in PROJECT_CODES], shown.notes)
    show_diagnostics(d for d in report.notes if d.code in PROJECT_CODES)
    say(f"{sum(report.seconds.values()):.2f} s")


def _show_bundles(report: BuildReport, frozen: bool) -> None:
    """Print a line for each bundle: number and size of its files, and how many changed."""
    bundles: dict[str, list[BuiltFile]] = {}
    for file in report.files:
        bundles.setdefault(file.bundle, []).append(file)
    width = max(map(len, bundles), default=0)
    for name, files in bundles.items():
        changed = sum(file.changed for file in files)
        state = "unchanged"
        if changed:
            state = f"{changed} {'would change' if frozen else 'written'}"
        size = bytes_text(sum(file.size for file in files))
        say(f"  {name:<{width}}  {counted(len(files), 'file'):>9}  {size:>11}  {state}")


def _show_files(report: BuildReport, frozen: bool) -> None:
    """Print every file; of many with one ending in one folder, the number."""
    groups: dict[tuple[str, str], list[BuiltFile]] = {}
    for file in report.files:
        folder, _, name = file.path.rpartition("/")
        groups.setdefault((folder, name.rpartition(".")[2]), []).append(file)
    rows: list[BuiltFile] = []
    for (folder, ending), files in groups.items():
        if len(files) <= _MOST_FILES:
            rows += files
        else:
            text = f"{folder}/*.{ending} ({counted(len(files), 'file')})"
            rows.append(BuiltFile(text, files[0].bundle, sum(f.size for f in files), any(f.changed for f in files)))
    width = max((len(row.path) for row in rows), default=0)
    for row in rows:
        state = ("  would change" if frozen else "") if row.changed else "  unchanged"
        say(f"  {row.path:<{width}}  {bytes_text(row.size):>10}{state}")


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


def _show_notes(notes: list[Diagnostic], everything: bool) -> None:
    """Print the number of files with warnings, or everything: the notes, by text."""
    if not everything:
        files = len({note.where for note in notes if note.level.rank >= Level.WARNING.rank})
        if files:
            say(f"warnings on {counted(files, 'file')}; list them with --notes", "yellow")
        return
    places: dict[str, list[str]] = {}
    for note in notes:
        places.setdefault(note.what, []).append(note.place)
    for text, where in places.items():
        more = f" and {len(where) - _MOST_PLACES} more" if len(where) > _MOST_PLACES else ""
        say(f"  {text}")
        say(f"    {', '.join(where[:_MOST_PLACES])}{more}")


def _show_proof_of_changes(proof: Proof, missed: list[Figure]) -> None:
    """Print the result of the proof after a build."""
    from oddpeg.cli.proof import witness_line

    count, disputed = len(proof.figures), proof.disputed()
    kept = f"; {proof.known} proved before" if proof.known else ""
    if missed:
        warn(f"proof: {len(missed)} of {count} changed glyphs do not show what was drawn{kept}", "bright_red")
        for figure in missed[:8]:
            warn(f"  {figure.icon}: {figure.wrong:.2%} wrong at {figure.px} px")
    elif not count:
        say(f"proof: nothing changed{kept}", "green")
    elif not disputed:
        say(f"proof: {count} changed {'glyph shows' if count == 1 else 'glyphs show'} what was drawn{kept}", "green")
    if disputed and proof.witness:
        warn(f"proof: {len(disputed)} of {count} changed glyphs disputed by {proof.witness.label}{kept}", "yellow")
        for figure in disputed[:8]:
            warn(f"  {figure.icon}: {figure.wrong:.2%} wrong, for the witness {figure.witness or 0:.2%}")
    if missed or disputed:
        names = " ".join(dict.fromkeys(figure.icon for figure in [*missed, *disputed][:3]))
        warn(f"look at them: oddpeg proof {names} --picture proof.png")
    if count:
        say(f"  {witness_line(proof)}")
