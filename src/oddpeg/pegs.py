"""Changes of the pegboard by hand, each as one change on disk."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from fnmatch import fnmatchcase
from pathlib import Path
from typing import NamedTuple

from oddpeg.config.loading import key_line
from oddpeg.diagnostics import Diagnostic, OddPegError, UsageError
from oddpeg.iconset.names import icon_name
from oddpeg.pegboard import changes
from oddpeg.pegboard.adoption import Adoption, adopt
from oddpeg.pegboard.board import FILE, Pegboard
from oddpeg.pegboard.changes import Changed, assign_by_hand
from oddpeg.pegboard.file_format import board_text
from oddpeg.pegboard.maps import map_names, parse_codepoint, read_names
from oddpeg.pegboard.settle import Settled, settle
from oddpeg.progress import SILENT, Progress
from oddpeg.project.config_review import icon_patterns
from oddpeg.project.project import Project
from oddpeg.project.snapshot import Snapshot
from oddpeg.sources.drawings import Source, read_sources, renamed_file
from oddpeg.sources.git import History
from oddpeg.sources.named_files import read_named_file
from oddpeg.sources.tables import renamed_tables
from oddpeg.store.delivery import settled_records
from oddpeg.store.places import longest_name
from oddpeg.store.transaction import FileStep, change_all, lock

Change = Callable[[Pegboard, str, set[str]], Changed]


def _drawings(snapshot: Snapshot) -> dict[str, Source]:
    """Return the drawings that are there, by icon name; none where the globs find none."""
    try:
        return {s.name: s for s in snapshot.sources.found}
    except OddPegError:
        return {}


def _save(project: Project, board: Pegboard, others: Sequence[FileStep] = ()) -> None:
    change_all(project.root, [FileStep(project.relative(project.board_path), board_text(board).encode()), *others])


def rename_icon(project: Project, old: str, new: str, alias: bool = True, progress: Progress = SILENT) -> Changed:
    """Give an icon another name; its codepoint stays. Its drawing and its line in `icons.csv` are renamed too.

    alias: the old name goes on working. Raise `OddPegError` where something stands in the way; nothing is changed then.
    """
    if icon_name(new) != new or not new:
        near = icon_name(new)
        cure = f"write it {near!r}" if near else "use letters, digits and hyphens"
        raise UsageError(Diagnostic("bad-name", f"{new!r} is not a name as icons have them", cure))
    most = longest_name(project.root) - len(".svgz")
    if len(new.encode()) > most:
        message = f"is a name of {len(new.encode())} bytes, and a file's name has at most {most} before its ending"
        raise UsageError(Diagnostic("bad-name", message, "shorten it", f"{new[:40]}…"))
    with lock(project.root, progress.waiting):
        snapshot = Snapshot(project)
        drawings = _drawings(snapshot)
        board, messages = changes.rename(snapshot.board, old, new, set(drawings), alias)
        tables = renamed_tables(snapshot.read_input, project.config.patterns, old, new)
        messages += [f"renamed it in {table}" for table in tables]
        steps = [FileStep(table, data) for table, data in tables.items()]
        if source := drawings.get(old):
            target = _target(source, new)
            steps += [FileStep(project.relative(target), _drawing(source)), FileStep(source.where, None)]
            messages.append(f"renamed {source.where} to {target.name}")
        _save(project, board, steps)
    return Changed(board, messages + _affected_patterns(project, old, new, alias))


def _drawing(source: Source) -> bytes:
    """Return a drawing's bytes; raise `OddPegError` where it cannot be moved."""
    if source.path.is_symlink() or source.where.startswith("../"):
        message = "is a link or lies outside the project; it cannot be renamed from here"
        raise UsageError(Diagnostic("drawing-elsewhere", message, "rename the file itself, then build", source.where))
    read = read_sources([source])
    if read.problems:
        raise OddPegError(*read.problems)
    return read.drawings[0].data


def _target(source: Source, new: str) -> Path:
    """Return the file that makes a drawing the icon `new`; raise `UsageError` where there can be none."""
    if source.glyph is not None:
        message = f"{source.name!r} is a glyph of {source.where}, whose name the font has"
        cure = "give the icon another name beside its own, in the column aliases of icons.csv"
        raise OddPegError(Diagnostic("name-taken", message, cure, source.where))
    target = renamed_file(source, new)
    if target is None:
        message = f"folders are part of names here, and {source.where} is not in the folder for {new!r}"
        cure = "move the drawing and rename it yourself, then build"
        raise UsageError(Diagnostic("folder-in-name", message, cure, source.where))
    if target.exists():
        message, cure = f"{target.name} is there already", "rename one of the files yourself"
        raise UsageError(Diagnostic("file-exists", message, cure, source.where))
    return target


def _affected_patterns(project: Project, old: str, new: str, alias: bool) -> list[str]:
    """Return messages about lines of the config that name an icon by its old name."""
    messages = []
    for key, pattern in icon_patterns(project):
        if not pattern.startswith("#") and fnmatchcase(old, pattern) and not fnmatchcase(new, pattern):
            line = key_line(project.config_path, key)
            place = f"{project.config_path.name}:{line}" if line else project.config_path.name
            fate = f"matches it by its alias {old} only" if alias else "no longer matches it"
            messages.append(f"{place}: {key}: {pattern!r} {fate}; write {new}")
    return messages


def still_named(project: Project, names: Sequence[str]) -> list[str]:
    """Return messages about code that still refers to icons by these names. Only the places in `usage.in` are read."""
    if not project.config.usage.in_:
        return []
    from oddpeg.usage.run import find_usage

    report, wanted = find_usage(Snapshot(project)), set(names)
    places = [place for name in wanted for place in report.used.get(name, ())]
    places += [wrong.place for name in wanted for wrong in report.older.get(name, ())]
    shown = ", ".join(f"{place.file}:{place.line}" for place in sorted(set(places))[:4])
    more = f" and {len(set(places)) - 4} more" if len(set(places)) > 4 else ""
    return [f"code still refers to it: {shown}{more}"] if places else []


def retire_icons(project: Project, names: Sequence[str], progress: Progress = SILENT) -> Changed:
    """Take icons out of the font, drawing or not; their codepoints stay reserved. Aliases are dropped."""
    return _each(project, changes.retire, names, progress)


def restore_icons(project: Project, names: Sequence[str], progress: Progress = SILENT) -> Changed:
    """Let icons that were taken out by hand be built again, on their old codepoints."""
    return _each(project, changes.restore, names, progress)


def set_codepoint(
    project: Project, name: str, codepoint: str, move: bool = False, progress: Progress = SILENT
) -> Changed:
    """Give an icon a certain codepoint before it is delivered. codepoint: U+E001, 0xe001 or e001; move: also an icon
    that was delivered. Raise `OddPegError` where the codepoint is taken or unusable."""
    code = parse_codepoint(codepoint)
    if code is None:
        raise UsageError(Diagnostic("bad-codepoint", f"{codepoint!r:.40} is no codepoint", "write it as U+E001"))
    if icon_name(name) != name or not name:
        raise UsageError(Diagnostic("bad-name", f"{name!r:.40} is no name of an icon", f"write {icon_name(name)!r}"))
    with lock(project.root, progress.waiting):
        snapshot = Snapshot(project)
        peg = snapshot.board.pegs.get(name)
        delivered = peg is not None and snapshot.arrivals.knows(peg.codepoint) and not move
        done = assign_by_hand(snapshot.board, name, code, name in _drawings(snapshot), delivered)
        _save(project, done.board)
    return done


def _each(project: Project, change: Change, names: Sequence[str], progress: Progress) -> Changed:
    with lock(project.root, progress.waiting):
        snapshot = Snapshot(project)
        board, drawings = snapshot.board, set(_drawings(snapshot))
        messages: list[str] = []
        for name in names:
            board, lines = change(board, name, drawings)
            messages += lines
        _save(project, board)
    return Changed(board, messages)


def settle_board(project: Project, ignore_history: bool = False, progress: Progress = SILENT) -> Settled:
    """Resolve the pegboard after a merge: icons that were shipped first keep their codepoints, others move.

    ignore_history: decide by alphabetical order. Raise `OddPegError`, and change nothing, if version control cannot
    tell which icon was shipped first.
    """
    with lock(project.root, progress.waiting):
        snapshot = Snapshot(project)
        try:
            text = snapshot.board_text()
        except FileNotFoundError:
            cure = "there is nothing to settle before the first build"
            raise OddPegError(Diagnostic("pegboard-unreadable", "does not exist", cure, FILE)) from None
        history = History({}) if ignore_history else History.of(project.board_path)
        table = project.config.pegs
        result = settle(text, table.codes(), table.assign, history.shipped)
        records = settled_records(project.root, snapshot.ledger)
        result.delivered = records.merged
        if board_text(result.board) != text or records.files:
            _save(project, result.board, [FileStep(path, data) for path, data in records.files.items()])
    return result


class AdoptOptions(NamedTuple):
    """How codepoints are taken over.

    Attributes:
        strip: a prefix that the names in the file carry.
        move: icons that hold another codepoint move.
        reserve: names that have no drawing keep theirs from being given away.
        dry_run: change nothing.
        names: map, or font, that names codepoints which have no name in the file.
    """

    strip: str = ""
    move: bool = False
    reserve: bool = True
    dry_run: bool = False
    names: Path | None = None


_ADOPT = AdoptOptions()


class Adopted(NamedTuple):
    """The result of taking codepoints over from a file.

    Attributes:
        adoption: the result for each icon.
        total: how many codepoints the file holds.
    """

    adoption: Adoption
    total: int


def adopt_codepoints(
    project: Project, file: Path, options: AdoptOptions = _ADOPT, progress: Progress = SILENT
) -> Adopted:
    """Take codepoints over from a font or a map. Raise `OddPegError` where the file cannot be understood."""
    found = read_names(read_named_file(file), str(file))
    told = map_names(read_named_file(options.names), str(options.names)) if options.names else {}
    names = [(name or told.get(code, ""), code) for name, code in found]
    if not any(name for name, _ in names):
        cure = "give a map from names to codepoints with --names, or a font with glyph names"
        raise OddPegError(Diagnostic("map-nameless", "has codepoints, but no names for them", cure, str(file)))
    with lock(project.root, progress.waiting):
        snapshot = Snapshot(project)
        icons = set(_drawings(snapshot))
        adoption = adopt(snapshot.board, names, icons, options.strip, options.move, options.reserve)
        if not options.dry_run:
            _save(project, adoption.board)
    return Adopted(adoption, len(names))
