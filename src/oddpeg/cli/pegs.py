"""Look at the pegboard, and change it by hand."""

from __future__ import annotations

from dataclasses import dataclass
from fnmatch import fnmatchcase
from pathlib import Path
from typing import Annotated, NamedTuple

import typer

from oddpeg.cli.completion import complete_pegs, complete_states
from oddpeg.cli.options import ConfigAt, Json, Quiet
from oddpeg.cli.printing import WAITING, document, say, some
from oddpeg.cli.projects import opened, snapshot
from oddpeg.diagnostics import Diagnostic, UsageError, counted
from oddpeg.pegboard.adoption import Adoption, Refused
from oddpeg.pegboard.board import CodepointMove, Peg, Pegboard
from oddpeg.pegboard.codes import Codes, spell
from oddpeg.pegboard.settle import Dropped
from oddpeg.pegboard.states import State
from oddpeg.pegs import (
    AdoptOptions,
    adopt_codepoints,
    rename_icon,
    restore_icons,
    retire_icons,
    set_codepoint,
    settle_board,
    still_named,
)
from oddpeg.reports import Key

pegs = typer.Typer(add_completion=False, no_args_is_help=True, help=__doc__, rich_markup_mode=None)

_NEXT = "next: oddpeg build"


class ShownPeg(NamedTuple):
    """A name and its codepoint."""

    icon: Annotated[str, Key("name")]
    codepoint: Annotated[int, Key("codepoint")]
    hex: Annotated[str, Key("codepoint as four or more hexadecimal digits")]
    state: Annotated[State, Key("state of the peg")]
    of: Annotated[str | None, Key("icon that an alias is another name of; null otherwise")]


@dataclass
class PegsReport:
    """Icons and their codepoints."""

    pegs: Annotated[list[ShownPeg], Key("pegs that were asked for")]
    count: Annotated[dict[str, int], Key("pegs of the whole board, by state")]
    free: Annotated[int, Key("free codepoints")]
    ranges: Annotated[str, Key("ranges that new icons get codepoints from")]


@dataclass
class ChangeReport:
    """A change of the pegboard."""

    said: Annotated[list[str], Key("messages")]


@dataclass
class RenameReport(ChangeReport):
    """An icon under another name."""

    icon: Annotated[str, Key("its name now")]
    codepoint: Annotated[int, Key("its codepoint")]


@dataclass
class SettleReport(ChangeReport):
    """A pegboard after a merge."""

    moved: Annotated[list[CodepointMove], Key("newcomers that gave way")]
    dropped: Annotated[list[Dropped], Key("lines that are gone")]
    markers: Annotated[int, Key("conflict markers that were removed")]


class KeptPeg(NamedTuple):
    """An icon that keeps its codepoint, though a file has another one."""

    icon: Annotated[str, Key("name")]
    codepoint: Annotated[int, Key("codepoint that it keeps")]
    found: Annotated[int, Key("codepoint in the file")]


@dataclass
class AdoptReport(ChangeReport):
    """Codepoints that were taken over."""

    taken: Annotated[list[str], Key("icons that now hold the codepoint of the file")]
    same: Annotated[list[str], Key("icons that held it already")]
    moved: Annotated[list[CodepointMove], Key("icons that gave up another codepoint")]
    stays: Annotated[list[KeptPeg], Key("icons that kept their own codepoint")]
    reserved: Annotated[list[str], Key("names without a drawing")]
    near: Annotated[dict[str, list[str]], Key("names without a drawing, and the icons that each may mean")]
    refused: Annotated[list[Refused], Key("skipped codepoints")]
    waiting: Annotated[list[str], Key("icons that the file does not have")]


def _done(report: ChangeReport, quiet: bool, json: bool) -> None:
    if json:
        document(report)
    elif not quiet:
        for line in report.said:
            say(line)


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
    """Show icons and their codepoints, and how many codepoints are free."""
    states = [s.value for s in State]
    if state and state not in states:
        raise UsageError(Diagnostic("bad-option", f"{state!r} is not a state", f"one of: {', '.join(states)}"))
    now = snapshot(config)
    board = now.board
    wanted = board.in_state(*(s for s in State if not state or s.value == state))
    shown = [p for p in wanted if not patterns or any(fnmatchcase(p.icon, t) for t in patterns)]
    _show_pegs(board, shown, now.project.config.pegs.codes(), json)


def _show_pegs(board: Pegboard, shown: list[Peg], codes: Codes, json: bool) -> None:
    """Print pegs, and totals of the pegboard."""
    free = board.free(codes)
    count = {state.value: len(board.in_state(state)) for state in State}
    names = {p.icon: board.holder(p.codepoint) for p in shown if p.state is State.ALIAS}
    if json:
        rows = [ShownPeg(p.icon, p.codepoint, f"{p.codepoint:04x}", p.state, names.get(p.icon)) for p in shown]
        document(PegsReport(rows, count, free, str(codes)))
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
    board, messages = rename_icon(project, old, new, alias, WAITING)
    _done(RenameReport([*messages, *still, _NEXT], new, board.pegs[new].codepoint), quiet, json)


@pegs.command("set", epilog="Example: oddpeg pegs set ferry U+E100")
def set_peg(
    name: Annotated[str, typer.Argument(help="The icon.", autocompletion=complete_pegs)],
    codepoint: Annotated[str, typer.Argument(help="Its codepoint, such as U+E100.")],
    move: Annotated[
        bool, typer.Option("--move", help="Even if the icon was delivered: what uses its codepoint shows nothing then.")
    ] = False,
    config: ConfigAt = None,
    quiet: Quiet = False,
    json: Json = False,
) -> None:
    """Give an icon a certain codepoint before it is delivered."""
    _done(ChangeReport([*set_codepoint(opened(config), name, codepoint, move, WAITING).said, _NEXT]), quiet, json)


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
    _done(ChangeReport([*retire_icons(project, names, WAITING).said, *still, _NEXT]), quiet, json)


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
    _done(ChangeReport([*restore_icons(opened(config), names, WAITING).said, _NEXT]), quiet, json)


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
    """Resolve a pegboard after a merge: icons that were shipped first keep their codepoints, newcomers move."""
    result = settle_board(opened(config), ignore_history, WAITING)
    messages = result.said() or ["the pegboard is sound: nothing to settle"]
    if result.moved:
        messages.append("next: oddpeg build, and tell those who use the icons that moved")
    _done(SettleReport(messages, result.moved, result.dropped, result.marks), quiet, json)


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
    names: Annotated[
        Path | None, typer.Option("--names", help="A map that names codepoints without a name: JSON, CSV, or a font.")
    ] = None,
    dry: Annotated[bool, typer.Option("--dry-run", help="Only report; change nothing.")] = False,
    config: ConfigAt = None,
    quiet: Quiet = False,
    json: Json = False,
) -> None:
    """Take codepoints over from a font or a map, so that existing references go on working."""
    options = AdoptOptions(strip, move, reserve, dry, names)
    result, total = adopt_codepoints(opened(config), file, options, WAITING)
    messages = [
        f"{file.name}: {counted(total, 'codepoint')}; assigned to {counted(len(result.taken), 'icon')},"
        f" {len(result.same)} had theirs already"
    ]
    messages += [*_adoption_lines(result), "nothing was changed" if dry else _NEXT]
    stays = [KeptPeg(*move) for move in result.stays]
    lists = (result.reserved, result.near, result.refused, result.waiting)
    _done(AdoptReport(messages, result.taken, result.same, result.moved, stays, *lists), quiet, json)
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
