"""Look at the pegboard, and change it by hand."""

from __future__ import annotations

from fnmatch import fnmatchcase
from pathlib import Path
from typing import Annotated

import typer

from oddpeg.cli.completion import complete_pegs, complete_states
from oddpeg.cli.documents.maintain import (
    AdoptDocument,
    MovedPeg,
    PegsChangeDocument,
    PegsDocument,
    RenameDocument,
    SettleDocument,
    ShownPeg,
)
from oddpeg.cli.options import ConfigAt, Json, Quiet
from oddpeg.cli.printing import WAITING, document, say, some
from oddpeg.cli.projects import opened, snapshot
from oddpeg.diagnostics import Diagnostic, UsageError, counted
from oddpeg.pegboard.adoption import Adoption
from oddpeg.pegboard.board import CodepointMove, Peg, Pegboard
from oddpeg.pegboard.codes import Codes, spell
from oddpeg.pegboard.states import State
from oddpeg.pegs import (
    AdoptOptions,
    adopt_codepoints,
    rename_icon,
    restore_icons,
    retire_icons,
    settle_board,
    still_named,
)

pegs = typer.Typer(add_completion=False, no_args_is_help=True, help=__doc__, rich_markup_mode=None)

_NEXT = "next: oddpeg build"


def _done(values: PegsChangeDocument, quiet: bool, json: bool) -> None:
    if json:
        document(values)
    elif not quiet:
        for line in values["said"]:
            say(line)


def _moves(moves: list[CodepointMove]) -> list[MovedPeg]:
    return [{"icon": m.icon, "from": m.before, "to": m.after} for m in moves]


@pegs.command("list", epilog="Example: oddpeg pegs list 'tide-*' --state live")
def list_pegs(
    patterns: Annotated[
        list[str] | None,
        typer.Argument(
            metavar="[PATTERN]...", help="Names, with * and ?; all where none is given.", autocompletion=complete_pegs
        ),
    ] = None,
    state: Annotated[
        str, typer.Option("--state", help="Only live, retired, withdrawn or alias.", autocompletion=complete_states)
    ] = "",
    config: ConfigAt = None,
    json: Json = False,
) -> None:
    """Show who holds which codepoint, and how many are free."""
    states = [s.value for s in State]
    if state and state not in states:
        raise UsageError(Diagnostic("bad-option", f"{state!r} is not a state", f"one of: {', '.join(states)}"))
    now = snapshot(config)
    board = now.board
    wanted = board.in_state(*(s for s in State if not state or s.value == state))
    shown = [p for p in wanted if not patterns or any(fnmatchcase(p.icon, t) for t in patterns)]
    _show_pegs(board, shown, now.project.config.pegs.codes(), json)


def _show_pegs(board: Pegboard, shown: list[Peg], codes: Codes, json: bool) -> None:
    """Print pegs, and what the board holds in all."""
    free = board.free(codes)
    count = {state.value: len(board.in_state(state)) for state in State}
    names = {p.icon: board.holder(p.codepoint) for p in shown if p.state is State.ALIAS}
    if json:
        rows: list[ShownPeg] = [
            {
                "icon": p.icon,
                "codepoint": p.codepoint,
                "hex": f"{p.codepoint:04x}",
                "state": p.state.value,
                "of": names.get(p.icon),
            }
            for p in shown
        ]
        values: PegsDocument = {"pegs": rows, "count": count, "free": free, "ranges": str(codes)}
        document(values)
        return
    width = max((len(p.icon) for p in shown), default=0)
    for peg in shown:
        of = f" of {names[peg.icon]}" if peg.icon in names else ""
        style = {State.LIVE: "", State.ALIAS: "cyan"}.get(peg.state, "yellow")
        say(f"{peg.icon:<{width}}  {spell(peg.codepoint):<8}  {peg.state.value}{of}", style)
    total = ", ".join(f"{n} {state}" for state, n in count.items() if n) or "no pegs yet"
    say(f"{total}; {free:,} codepoints free in {codes}")


@pegs.command(epilog="Example: oddpeg pegs rename ebb tide-low")
def rename(
    old: Annotated[str, typer.Argument(metavar="OLD", help="The icon's name now.", autocompletion=complete_pegs)],
    new: Annotated[str, typer.Argument(metavar="NEW", help="The name it gets.")],
    alias: Annotated[bool, typer.Option("--alias/--no-alias", help="Keep the old name as an alias in outputs.")] = True,
    config: ConfigAt = None,
    quiet: Quiet = False,
    json: Json = False,
) -> None:
    """Give an icon another name; its codepoint stays. Its drawing is renamed too, if it still has the old name."""
    project = opened(config)
    still = still_named(project, [old])
    board, said = rename_icon(project, old, new, alias, WAITING)
    values: RenameDocument = {"said": [*said, *still, _NEXT], "icon": new, "codepoint": board.pegs[new].codepoint}
    _done(values, quiet, json)


@pegs.command(epilog="Example: oddpeg pegs retire gull")
def retire(
    names: Annotated[
        list[str],
        typer.Argument(metavar="NAME...", help="Icons to take out, or aliases to drop.", autocompletion=complete_pegs),
    ],
    config: ConfigAt = None,
    quiet: Quiet = False,
    json: Json = False,
) -> None:
    """Take icons out of the font, drawing or not; their codepoints stay reserved. Drops aliases."""
    project = opened(config)
    still = still_named(project, names)
    _done({"said": [*retire_icons(project, names, WAITING).said, *still, _NEXT]}, quiet, json)


@pegs.command(epilog="Example: oddpeg pegs restore gull")
def restore(
    names: Annotated[
        list[str], typer.Argument(metavar="NAME...", help="Icons that were taken out.", autocompletion=complete_pegs)
    ],
    config: ConfigAt = None,
    quiet: Quiet = False,
    json: Json = False,
) -> None:
    """Let icons that were taken out by hand be built again, on their old codepoints."""
    _done({"said": [*restore_icons(opened(config), names, WAITING).said, _NEXT]}, quiet, json)


@pegs.command(epilog="Example: git merge; oddpeg pegs settle")
def settle(
    ignore_history: Annotated[
        bool,
        typer.Option("--ignore-history", help="Let the alphabet decide, not what version control says was shipped."),
    ] = False,
    config: ConfigAt = None,
    quiet: Quiet = False,
    json: Json = False,
) -> None:
    """Make one sound pegboard after a merge: what was shipped first stays, newcomers move."""
    result = settle_board(opened(config), ignore_history, WAITING)
    said = result.said() or ["the pegboard is sound: nothing to settle"]
    if result.moved:
        said.append("next: oddpeg build, and tell those who use the icons that moved")
    values: SettleDocument = {
        "said": said,
        "moved": _moves(result.moved),
        "dropped": [{"icon": d.icon, "codepoint": d.codepoint, "kept": d.kept} for d in result.dropped],
        "markers": result.marks,
    }
    _done(values, quiet, json)


@pegs.command(epilog="Example: oddpeg pegs adopt old-icons.woff2 --strip sm-")
def adopt(
    file: Annotated[
        Path,
        typer.Argument(
            metavar="FILE", help="A font (TTF, OTF, WOFF, WOFF2, SVG), or a JSON or CSV map of names to codepoints."
        ),
    ],
    strip: Annotated[str, typer.Option("--strip", help="A prefix that the names in the file carry.")] = "",
    move: Annotated[bool, typer.Option("--move", help="Move icons that hold another codepoint already.")] = False,
    reserve: Annotated[
        bool, typer.Option("--reserve/--no-reserve", help="Reserve codepoints of names that have no drawing.")
    ] = True,
    dry: Annotated[bool, typer.Option("--dry-run", help="Only report; change nothing.")] = False,
    config: ConfigAt = None,
    quiet: Quiet = False,
    json: Json = False,
) -> None:
    """Take codepoints over from a font or a map, so that what refers to them goes on working."""
    options = AdoptOptions(strip, move, reserve, dry)
    result, total = adopt_codepoints(opened(config), file, options, WAITING)
    said = [
        f"{file.name}: {counted(total, 'codepoint')}; assigned to {counted(len(result.taken), 'icon')},"
        f" {len(result.same)} had theirs already"
    ]
    said += [*_adoption_lines(result), "nothing was changed" if dry else _NEXT]
    values: AdoptDocument = {
        "said": said,
        "taken": result.taken,
        "same": result.same,
        "moved": _moves(result.moved),
        "stays": [{"icon": m.icon, "codepoint": m.before, "found": m.after} for m in result.stays],
        "reserved": result.reserved,
        "near": result.near,
        "refused": [{"name": r.name, "codepoint": r.codepoint, "why": r.why} for r in result.refused],
        "waiting": result.waiting,
    }
    _done(values, quiet, json)
    if result.stays or result.refused:
        raise typer.Exit(1)


def _adoption_lines(result: Adoption) -> list[str]:
    lines = [f"MOVED {i}: {spell(a)} → {spell(b)}" for i, a, b in result.moved]
    lines += [f"{i} stays on {spell(a)} (the file says {spell(b)}); --move moves it" for i, a, b in result.stays]
    lines += [f"{n} on {spell(c)} was passed over: it {w}" for n, c, w in result.refused]
    lines += [f"{n!r} has no drawing; did it mean {', '.join(near)}?" for n, near in result.near.items()]
    if result.nameless:
        lines.append(f"{result.nameless} codepoints have no names in the file; a desktop font or a map would tell them")
    if result.reserved:
        lines.append(f"reserved without a drawing: {some(result.reserved)}")
    if result.waiting:
        lines.append(f"not in the file: {some(result.waiting)}")
    return lines
