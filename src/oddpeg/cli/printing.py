"""Everything that is printed: reports, faults, progress. Knows: terminals. Does not know: how results come about."""

from __future__ import annotations

import json
import os
import sys
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import TYPE_CHECKING, Any

import typer

from oddpeg.diagnostics import Diagnostic

if TYPE_CHECKING:
    from pathlib import Path

    from oddpeg.pegboard.board import Codes, Peg, Pegboard
    from oddpeg.tasks.build import Report
    from oddpeg.tasks.prove import Figure, Proof

MOST_NOTES = 12  # kinds of note; the rest is counted, --json has them all
MOST_PLACES = 4


def say(text: str = "", style: str = "") -> None:
    """Print a line on stdout."""
    typer.echo(typer.style(text, fg=style or None, bold=style == "bold") if _colour(sys.stdout, style) else text)


def warn(text: str, style: str = "") -> None:
    """Print a line on stderr."""
    typer.echo(typer.style(text, fg=style) if _colour(sys.stderr, style) else text, err=True)


def _colour(stream: Any, style: str) -> bool:
    return bool(style) and style != "bold" and stream.isatty() and "NO_COLOR" not in os.environ


def document(values: dict[str, Any]) -> None:
    """Print one JSON document on stdout."""
    typer.echo(json.dumps(values, ensure_ascii=True, indent=1))


def show_faults(faults: list[Diagnostic]) -> None:
    """Print faults on stderr, each with its cure."""
    for fault in faults:
        head, _, cure = fault.text().partition("\n")
        warn(head, "bright_red")
        warn(cure)


def bytes_text(size: int) -> str:
    return f"{size / 1000:,.1f} kB"


@contextmanager
def progress(quiet: bool) -> Iterator[tuple[Callable[[int], None], Callable[[int], None]]]:
    """Give (begin, advance) that drive a bar on stderr; nothing where stderr is no terminal."""
    if quiet or not sys.stderr.isatty():
        yield (lambda total: None), (lambda count: None)
        return
    from rich.console import Console
    from rich.progress import BarColumn, MofNCompleteColumn, Progress, TextColumn

    bar = Progress(
        TextColumn("drawing"),
        BarColumn(complete_style="cyan", finished_style="cyan"),
        MofNCompleteColumn(),
        console=Console(stderr=True),
        transient=True,
        auto_refresh=False,
    )
    with bar:
        task = bar.add_task("drawing", total=None)

        def begin(total: int) -> None:
            bar.update(task, total=total, refresh=True)

        def advance(count: int) -> None:
            bar.update(task, advance=count, refresh=True)

        yield begin, advance


def report_values(report: Report) -> dict[str, Any]:
    """Return a build report as plain values."""
    done, changes = report.delivered, report.changes
    return {
        "family": report.family,
        "icons": report.icons,
        "units_per_em": report.units_per_em,
        "grid_fits": report.on_grid,
        "fallbacks": report.fallbacks,
        "reused": report.reused,
        "pegs": {
            "added": changes.added,
            "retired": changes.retired,
            "restored": changes.restored,
            "withdrawn": changes.withdrawn,
        },
        "changes": done.changes(),
        "files": [
            {"path": p, "bundle": b, "bytes": n, "changed": p in done.written} for p, (b, n) in report.files.items()
        ],
        "removed": done.removed,
        "faults": [f.as_dict() for f in report.faults],
        "notes": [f.as_dict() for f in report.notes],
        "seconds": report.seconds,
    }


def another_is_at_work() -> None:
    """Say why nothing happens."""
    warn("another oddpeg is at work in this project; waiting for it")


def show_unfrozen(report: Report) -> None:
    """Print what a frozen build would have changed."""
    changes = report.changes
    warn("frozen: this build would change", "bright_red")
    for word, names in (("added", changes.added), ("retired", changes.retired), ("restored", changes.restored)):
        if names:
            warn(f"  pegs {word}: {', '.join(names)}")
    for word, paths in (
        ("write", [*report.delivered.extra, *report.delivered.written]),
        ("remove", report.delivered.removed),
    ):
        for path in paths:
            warn(f"  {word} {path}")
    warn("  cure: run `oddpeg build` and commit what it changes")


def show_report(report: Report, frozen: bool = False) -> None:
    """Print the summary of a build. frozen: nothing of it was done."""
    grid = (
        "every grid line on a whole unit" if report.on_grid else "grids too different to fit all lines on whole units"
    )
    say(f"{report.family}: {report.icons} icons, {report.units_per_em} units per em ({grid})", "cyan")
    _show_pegs(report)
    width = max(map(len, report.files), default=0)
    for bundle in dict.fromkeys(b for b, _ in report.files.values()):
        say(f"\n{bundle}")
        for path, (owner, size) in report.files.items():
            if owner == bundle:
                fresh = ("  would change" if frozen else "") if path in report.delivered.written else "  unchanged"
                say(f"  {path:<{width}}  {bytes_text(size):>10}{fresh}")
    for path in report.delivered.removed:
        say(f"  {'would remove' if frozen else 'removed'} {path}: no longer asked for", "yellow")
    _show_notes(report.notes)
    say(f"\n{sum(report.seconds.values()):.2f} s")


def _show_pegs(report: Report) -> None:
    changes = report.changes
    known = report.icons - len(changes.added) - len(changes.restored)
    if changes.added:
        say(f"pegs: {len(changes.added)} new, {max(known, 0)} kept where they were")
    else:
        say("pegs: all kept where they were")
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
    say(f"\nnotes on {len({note.where for note in notes})} drawings")
    for text, where in list(places.items())[:MOST_NOTES]:
        more = f" and {len(where) - MOST_PLACES} more" if len(where) > MOST_PLACES else ""
        say(f"  {text}")
        say(f"    {', '.join(where[:MOST_PLACES])}{more}")
    if len(places) > MOST_NOTES:
        say(f"  and {len(places) - MOST_NOTES} more kinds; --json lists them all")


def proof_values(proof: Proof, missed: list[Figure]) -> dict[str, Any]:
    """Return a proof as plain values."""
    return {
        "font": proof.font,
        "proved_before": proof.known,
        "missed": [f.icon for f in missed],
        "missing": proof.missing,
        "figures": [
            {"icon": f.icon, "px": f.px, "wrong": round(f.wrong, 6), "soft": round(f.soft, 6)} for f in proof.figures
        ],
        "faults": [f.as_dict() for f in proof.faults],
    }


def show_proof(proof: Proof, missed: list[Figure], most: float, picture: Path | None) -> None:
    """Print the figures of a proof, the worst first."""
    worst = proof.worst()
    say(f"{proof.font}: {len(worst)} glyphs compared with their drawings", "cyan")
    if worst:
        mean = sum(f.wrong for f in worst) / len(worst)
        say(f"wrong pixels: mean {mean:.3%}, worst {worst[0].wrong:.2%}; allowed {most:.2%}")
    width = max((len(f.icon) for f in worst[:8]), default=0)
    for figure in worst[:8]:
        mark = "  MISSED" if figure in missed else ""
        say(f"  {figure.icon:<{width}}  {figure.wrong:>7.2%} wrong  {figure.soft:>7.2%} soft  at {figure.px} px{mark}")
    if len(missed) > 8:
        say(f"  {len(missed)} icons missed in all; --json lists them")
    if picture is not None and worst:
        say(f"picture: {picture}")
    say("every glyph shows what was drawn" if worst and not missed and not proof.missing else "", "green")


def show_proof_of_changes(proof: Proof, missed: list[Figure]) -> None:
    """Print what the proof after a build found."""
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


def show_pegs(board: Pegboard, shown: list[Peg], free: int, codes: Codes, as_json: bool) -> None:
    """Print pegs, and what the board holds in all."""
    from oddpeg.pegboard.board import ALIAS, STATES, spell

    count = {state: sum(p.state == state for p in board.pegs.values()) for state in STATES}
    names = {p.icon: board.holder(p.codepoint) for p in shown if p.state == ALIAS}
    if as_json:
        rows = [
            {
                "icon": p.icon,
                "codepoint": p.codepoint,
                "hex": f"{p.codepoint:04x}",
                "state": p.state,
                "of": names.get(p.icon),
            }
            for p in shown
        ]
        document({"pegs": rows, "count": count, "free": free, "ranges": str(codes)})
        return
    width = max((len(p.icon) for p in shown), default=0)
    for peg in shown:
        of = f" of {names[peg.icon]}" if peg.icon in names else ""
        style = {"live": "", "alias": "cyan"}.get(peg.state, "yellow")
        say(f"{peg.icon:<{width}}  {spell(peg.codepoint):<8}  {peg.state}{of}", style)
    say(
        f"{', '.join(f'{n} {state}' for state, n in count.items() if n) or 'no pegs yet'}; {free:,} codepoints free in"
        f" {codes}"
    )
