"""`oddpeg pegs …`: look at the pegboard and change it by hand. Knows: options and printing. Does not know: the
rules."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

import typer

from oddpeg.cli.options import ConfigAt, Json, Quiet, find_config

if TYPE_CHECKING:
    from oddpeg.pegboard.adoption import Adoption
    from oddpeg.pegboard.board import Pegboard
    from oddpeg.workspace.settings import Config
    from oddpeg.workspace.sources import Source

pegs = typer.Typer(no_args_is_help=True, help="Look at the pegboard, and change it by hand.", rich_markup_mode=None)


class _Desk:
    """A project's pegboard, open to be changed."""

    def __init__(self, root: Path, settings: Config) -> None:
        from oddpeg.pegboard.board import FILE

        self.root, self.settings = root, settings
        self.path = root / FILE

    def board(self) -> Pegboard:
        from oddpeg.workspace.board_file import load_board

        return load_board(self.path)

    def drawings(self) -> dict[str, Source]:
        """Return the drawings that are there, by icon name; none where the globs find none."""
        from oddpeg.diagnostics import OddPegError
        from oddpeg.workspace.sources import find_sources

        try:
            return {
                s.name: s for s in find_sources(self.root, self.settings.icons.from_, self.settings.icons.folders)[0]
            }
        except OddPegError:
            return {}

    def save(self, board: Pegboard) -> None:
        from oddpeg.workspace.transaction import change_all

        change_all(self.root, {self.path: board.text().encode()}, [])


@contextmanager
def _desk(config: Path | None) -> Iterator[_Desk]:
    from oddpeg.cli.printing import another_is_at_work
    from oddpeg.workspace.config import load_config
    from oddpeg.workspace.transaction import lock

    path = find_config(config)
    settings = load_config(path)
    root = path.resolve().parent
    with lock(root, another_is_at_work):
        yield _Desk(root, settings)


def _done(said: list[str], quiet: bool, json: bool, **values: Any) -> None:
    from oddpeg.cli import printing as show

    if json:
        show.document({"said": said, **values})
    elif not quiet:
        for line in said:
            show.say(line)


@pegs.command("list", epilog="Example: oddpeg pegs list 'tide-*' --state live")
def list_pegs(
    patterns: Annotated[
        list[str] | None, typer.Argument(metavar="PATTERN", help="Names, with * and ?; all where none is given.")
    ] = None,
    state: Annotated[str, typer.Option("--state", help="Only live, retired, withdrawn or alias.")] = "",
    config: ConfigAt = None,
    json: Json = False,
) -> None:
    """Show who holds which codepoint, and how many are free."""
    from fnmatch import fnmatchcase

    from oddpeg.cli import printing as show
    from oddpeg.diagnostics import Diagnostic, UsageError
    from oddpeg.pegboard.board import FILE, STATES
    from oddpeg.workspace.board_file import load_board
    from oddpeg.workspace.config import load_config

    if state and state not in STATES:
        raise UsageError(Diagnostic("bad-option", f"{state!r} is not a state", f"one of: {', '.join(STATES)}"))
    path = find_config(config)
    settings = load_config(path)
    board = load_board(path.resolve().parent / FILE)
    shown = [
        p
        for _, p in sorted(board.pegs.items())
        if (not state or p.state == state) and (not patterns or any(fnmatchcase(p.icon, t) for t in patterns))
    ]
    codes = settings.pegs.codes()
    show.show_pegs(board, shown, board.free(codes), codes, json)


@pegs.command(epilog="Example: oddpeg pegs rename ebb tide-low")
def rename(
    old: Annotated[str, typer.Argument(metavar="OLD", help="The icon's name now.")],
    new: Annotated[str, typer.Argument(metavar="NEW", help="The name it gets.")],
    alias: Annotated[bool, typer.Option("--alias/--no-alias", help="Keep the old name as an alias in outputs.")] = True,
    config: ConfigAt = None,
    quiet: Quiet = False,
    json: Json = False,
) -> None:
    """Give an icon another name; its codepoint stays. Its drawing is renamed too, if it still bears the old name."""

    from oddpeg.diagnostics import Diagnostic, UsageError
    from oddpeg.iconset.names import icon_name
    from oddpeg.pegboard import changes as peg_moves
    from oddpeg.workspace.metadata import rename_in_tables
    from oddpeg.workspace.sources import renamed_file

    if icon_name(new) != new:
        near = icon_name(new)
        raise UsageError(
            Diagnostic(
                "bad-name",
                f"{new!r} is not a name as icons have them",
                f"write it {near!r}" if near else "use letters, digits and hyphens",
            )
        )
    with _desk(config) as desk:
        drawings = desk.drawings()
        board, said = peg_moves.rename(desk.board(), old, new, set(drawings), alias)
        source = drawings.get(old)
        if source is not None:
            target = renamed_file(source, new)
            if target is None:
                raise UsageError(
                    Diagnostic(
                        "folder-in-name",
                        f"folders are part of names here, and {source.where} is not in the folder for {new!r}",
                        "move the drawing and rename it yourself, then build",
                        source.where,
                    )
                )
            if target.exists():
                raise UsageError(
                    Diagnostic(
                        "file-exists",
                        f"{target.name} is there already",
                        "rename one of the files yourself",
                        source.where,
                    )
                )
            source.path.rename(target)
            said.append(f"renamed {source.where} to {target.name}")
        said += [f"renamed it in {table}" for table in rename_in_tables(desk.root, desk.settings, old, new)]
        desk.save(board)
    _done([*said, "next: oddpeg build"], quiet, json, icon=new, codepoint=board.pegs[new].codepoint)


@pegs.command(epilog="Example: oddpeg pegs retire gull")
def retire(
    names: Annotated[list[str], typer.Argument(metavar="NAME", help="Icons to take out, or aliases to drop.")],
    config: ConfigAt = None,
    quiet: Quiet = False,
    json: Json = False,
) -> None:
    """Take icons out of the font, drawing or not; their codepoints stay reserved. Drops aliases."""
    _each("retire", names, config, quiet, json)


@pegs.command(epilog="Example: oddpeg pegs restore gull")
def restore(
    names: Annotated[list[str], typer.Argument(metavar="NAME", help="Icons that were taken out.")],
    config: ConfigAt = None,
    quiet: Quiet = False,
    json: Json = False,
) -> None:
    """Let icons that were taken out by hand be built again, on their old codepoints."""
    _each("restore", names, config, quiet, json)


def _each(what: str, names: list[str], config: Path | None, quiet: bool, json: bool) -> None:
    from oddpeg.pegboard import changes as peg_moves

    move = {"retire": peg_moves.retire, "restore": peg_moves.restore}[what]
    with _desk(config) as desk:
        board, drawings = desk.board(), set(desk.drawings())
        said: list[str] = []
        for name in names:
            board, lines = move(board, name, drawings)
            said += lines
        desk.save(board)
    _done([*said, "next: oddpeg build"], quiet, json)


@pegs.command(epilog="Example: git merge; oddpeg pegs settle")
def settle(config: ConfigAt = None, quiet: Quiet = False, json: Json = False) -> None:
    """Make one sound pegboard after a merge: what was shipped first stays, newcomers move."""
    from oddpeg.diagnostics import Diagnostic, OddPegError
    from oddpeg.pegboard.merge import settle as run
    from oddpeg.workspace.git_history import History

    with _desk(config) as desk:
        try:
            text = desk.path.read_text(encoding="utf-8-sig")
        except (OSError, UnicodeDecodeError) as problem:
            raise OddPegError(
                Diagnostic(
                    "pegboard-unreadable",
                    f"cannot be read: {problem}",
                    "there is nothing to settle before the first build",
                    desk.path.name,
                )
            ) from None
        table = desk.settings.pegs
        result = run(text, table.codes(), table.assign, History(desk.path).shipped)
        if result.board.text() != text:
            desk.save(result.board)
    said = result.said() or ["the pegboard is sound: nothing to settle"]
    if result.moved:
        said.append("next: oddpeg build, and tell those who use the icons that moved")
    _done(
        said,
        quiet,
        json,
        moved=[{"icon": i, "from": a, "to": b} for i, a, b in result.moved],
        dropped=[{"icon": i, "codepoint": a, "kept": b} for i, a, b in result.dropped],
        markers=result.marks,
    )


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
    from oddpeg.diagnostics import Diagnostic, OddPegError
    from oddpeg.pegboard.adoption import adopt as run
    from oddpeg.pegboard.maps import read_names

    try:
        data = file.read_bytes()
    except OSError as problem:
        raise OddPegError(
            Diagnostic("file-unreadable", f"cannot be read: {problem.strerror}", "check the path", str(file))
        ) from None
    found = read_names(data, str(file))
    with _desk(config) as desk:
        result = run(desk.board(), found, set(desk.drawings()), strip, move, reserve)
        if not dry:
            desk.save(result.board)
    _done(
        _adoption_lines(result, file.name, len(found), dry),
        quiet,
        json,
        taken=result.taken,
        same=result.same,
        moved=[{"icon": i, "from": a, "to": b} for i, a, b in result.moved],
        stays=[{"icon": i, "codepoint": a, "found": b} for i, a, b in result.stays],
        reserved=result.reserved,
        near=result.near,
        refused=[{"name": n, "codepoint": c, "why": w} for n, c, w in result.refused],
        waiting=result.waiting,
    )
    if result.stays or result.refused:
        raise typer.Exit(1)


def _adoption_lines(result: Adoption, name: str, count: int, dry: bool) -> list[str]:
    from oddpeg.pegboard.board import spell

    lines = [f"{name}: {count} codepoints; {len(result.taken)} icons take theirs, {len(result.same)} had it already"]
    lines += [f"MOVED {i}: {spell(a)} → {spell(b)}" for i, a, b in result.moved]
    lines += [f"{i} stays on {spell(a)} (the file says {spell(b)}); --move moves it" for i, a, b in result.stays]
    lines += [f"{n} on {spell(c)} was passed over: it {w}" for n, c, w in result.refused]
    lines += [f"{n!r} has no drawing; did it mean {', '.join(near)}?" for n, near in result.near.items()]
    if result.nameless:
        lines.append(f"{result.nameless} codepoints have no names in the file; a desktop font or a map would tell them")
    if result.reserved:
        lines.append(f"reserved without a drawing: {_some(result.reserved)}")
    if result.waiting:
        lines.append(f"not in the file: {_some(result.waiting)}")
    return [*lines, "nothing was changed" if dry else "next: oddpeg build"]


def _some(names: list[str], most: int = 12) -> str:
    return ", ".join(names[:most]) + (f" and {len(names) - most} more" if len(names) > most else "")
