"""Several files as one change: all old, or on the way to all new, whenever the process ends.

Files are first written whole into `.oddpeg/stage/`, where the files that they replace get a second name. Then one file,
the journal, lists all moves and removals; only after that is anything moved. A process killed before the journal has
changed nothing; after it, the next command completes the change (`recover`). A change that cannot be completed is
rolled back, last step first. A lock lets one process at a time do this. The journal is sealed: one that came with a
folder is ignored.
"""

from __future__ import annotations

import contextlib
import errno
import hashlib
import json
import os
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from pathlib import Path
from typing import NamedTuple

from oddpeg.diagnostics import Diagnostic, OddPegError
from oddpeg.store.seals import is_sealed, seal
from oddpeg.store.state import CACHE, STAGE, STATE, remove_left_over, state_folder, write_fault
from oddpeg.store.tree import Kind, Tree, belongs_to_version_control

JOURNAL = f"{STATE}/journal.json"
RECORDS = frozenset(
    f"{STATE}/{name}.json" for name in ("delivered", "shapes", "placement", "arrivals", "shown", "seals")
)
_BACK = f"{STAGE}/journal-back"
_LARGEST_JOURNAL = 64_000_000  # bytes
_CHANGED = "it was changed by somebody else meanwhile"
PATIENCE = 120.0  # seconds to wait for another build


class FileStep(NamedTuple):
    """One part of a change.

    Attributes:
        target: a name in the project, with slashes.
        data: the new content; None removes the file.
        replaces: hash of the content that the file must have until then; None for any.
    """

    target: str
    data: bytes | None
    replaces: str | None = None


class _Planned(NamedTuple):
    """A step in the journal.

    Attributes:
        target: a name in the project, with slashes.
        before, after: hashes of the target's content; None if the file does not exist.
    """

    target: str
    before: str | None
    after: str | None


@contextmanager
def lock(root: Path, waiting: Callable[[], None] = lambda: None) -> Iterator[list[Diagnostic]]:
    """Lock the project; complete, or roll back, an interrupted change, and give messages about it. waiting: called once
    if another process is at work."""
    from filelock import FileLock, Timeout

    try:
        held = FileLock(state_folder(root) / "lock")
        try:
            held.acquire(timeout=0)
        except Timeout:
            waiting()
            held.acquire(timeout=PATIENCE)
    except Timeout:
        cure = "wait for it to finish, or end it"
        raise OddPegError(
            Diagnostic("project-busy", "another oddpeg is at work in this project", cure, STATE)
        ) from None
    except OSError as problem:
        raise write_fault(problem, root) from None
    try:
        yield recover(root)
    finally:
        held.release()


def interrupted(root: Path) -> bool:
    """Return whether a killed process left a change to be completed."""
    return _read_journal(Tree(root)) is not None


def recover(root: Path) -> list[Diagnostic]:
    """Complete a change whose process was killed after the journal, or roll it back; return messages. Raise
    `OddPegError` where neither is possible."""
    tree = Tree(root)
    messages: list[Diagnostic] = []
    try:
        if journal := _read_journal(tree):
            messages = _finish(tree, journal)
        elif tree.kind(JOURNAL) is not Kind.NOTHING:
            message = "tells of an unfinished change that was not begun here; it was not obeyed"
            messages.append(Diagnostic("journal-untrusted", message, "nothing needs to be done", JOURNAL))
            tree.remove_folder(JOURNAL)
        _clear(tree)
    except OSError as problem:
        raise write_fault(problem, root) from None
    return messages


class _Journal(NamedTuple):
    """An unfinished change.

    Attributes:
        steps: in the order of doing them.
        forward: whether to complete the change or to roll it back.
    """

    steps: list[_Planned]
    forward: bool


def _journal_bytes(root: Path, journal: _Journal) -> bytes:
    body = json.dumps({"steps": journal.steps, "forward": journal.forward})
    return json.dumps({"body": body, "seal": seal(root, "journal", body.encode())}).encode()


def _read_journal(tree: Tree) -> _Journal | None:
    """Return the journal, None where there is none with a valid seal."""
    try:
        document = json.loads(tree.read(JOURNAL, _LARGEST_JOURNAL))
        body = document["body"]
        if not is_sealed(tree.root, "journal", body.encode(), document["seal"]):
            return None
        values = json.loads(body)
        return _Journal([_Planned(*step) for step in values["steps"]], bool(values["forward"]))
    except (OSError, ValueError, KeyError, TypeError, AttributeError, RecursionError):
        return None


def _finish(tree: Tree, journal: _Journal) -> list[Diagnostic]:
    """Complete a change; where that fails, take it back and return why. Raise `OSError` where that fails, too."""
    if journal.forward:
        try:
            _complete(tree, journal.steps)
            tree.remove(JOURNAL)
            return []
        except OSError as problem:
            tree.move(_BACK, JOURNAL)
            _take_back(tree, journal.steps)
            tree.remove(JOURNAL)
            fault = write_fault(problem, tree.root).diagnostics[0]
            message = f"{fault.what}; the whole change was rolled back"
            return [fault._replace(what=message)]
    _take_back(tree, journal.steps)
    tree.remove(JOURNAL)
    return []


def _complete(tree: Tree, steps: Sequence[_Planned]) -> None:
    for number, step in enumerate(steps):
        _require_permitted(step.target)
        if step.after is None:
            if tree.digest(step.target) == step.before:  # else somebody changed it since, and it is theirs
                tree.remove(step.target)
                tree.remove_empty_parents(step.target)
        elif tree.kind(_staged(number)) is Kind.FILE:
            on_disk = tree.digest(step.target)
            if on_disk == step.before or tree.kind(step.target) is Kind.NOTHING:
                tree.move(_staged(number), step.target)
            elif on_disk != step.after:
                raise OSError(errno.EEXIST, _CHANGED, step.target)


def _take_back(tree: Tree, steps: Sequence[_Planned]) -> None:
    for number, step in reversed(list(enumerate(steps))):
        _require_permitted(step.target)
        if tree.digest(step.target) != step.after and tree.kind(step.target) is not Kind.NOTHING:
            continue  # not yet done, or changed by somebody since
        if step.before is None:
            tree.remove(step.target)
            tree.remove_empty_parents(step.target)
        elif tree.kind(_kept(number)) is Kind.FILE:
            tree.move(_kept(number), step.target)


def _staged(number: int) -> str:
    return f"{STAGE}/{number}"


def _kept(number: int) -> str:
    return f"{STAGE}/{number}-before"


def _require_permitted(target: str) -> None:
    """Raise `OSError` for paths that are never written or removed."""
    is_record = target in RECORDS
    if not is_record and (target.split("/")[0].casefold() == STATE or belongs_to_version_control(target)):
        raise OSError(errno.EPERM, "is no place for delivered files", target)


def change_all(root: Path, steps: Sequence[FileStep]) -> None:
    """Do steps as one change, in their order; the lock must be held. A target may come more than once. Raise
    `OddPegError`, with everything as it was, where one of them cannot be done."""
    if not steps:
        return
    tree = Tree(root)
    try:
        try:
            planned = _prepare(tree, steps)
            forward, back = (_journal_bytes(root, _Journal(planned, way)) for way in (True, False))
            tree.write_new(_BACK, back)
            tree.write_new(f"{STAGE}/journal", forward)
        except OSError:
            for step in reversed(steps):
                tree.remove_empty_parents(step.target)
            raise
        tree.move(f"{STAGE}/journal", JOURNAL)
        if faults := _finish(tree, _Journal(planned, True)):
            raise OddPegError(*faults)
    except OSError as problem:
        fault = write_fault(problem, root)
        if interrupted(root):
            message = "only part of the files could be put in place"
            cure = "once the cause is gone, run any command: it puts everything right"
            fault.diagnostics.append(Diagnostic("change-incomplete", message, cure))
        raise fault from None
    finally:
        if not interrupted(root):
            with contextlib.suppress(OSError):
                _clear(tree)


def _prepare(tree: Tree, steps: Sequence[FileStep]) -> list[_Planned]:
    """Write the new files, keep the files to be replaced, and create the folders. Raise `OSError` for every error that
    can be found before the first move."""
    planned: list[_Planned] = []
    latest: dict[str, str] = {}  # by target: the file that holds what an earlier step puts there
    digests: dict[str, str | None] = {}
    tree.remove_folder(STAGE)
    for number, (target, data, replaces) in enumerate(steps):
        _require_permitted(target)
        before = digests[target] if target in digests else tree.digest(target)
        if replaces not in (None, before):
            raise OSError(errno.EEXIST, _CHANGED, target)
        after = None if data is None else hashlib.sha256(data).hexdigest()
        tree.make_parents(target)
        _require_replaceable(tree, target)
        if before is not None:
            tree.keep(latest.get(target, target), _kept(number))
        if data is not None:
            tree.write_new(_staged(number), data, mode=tree.mode(target))
            latest[target] = _staged(number)
        digests[target] = after
        planned.append(_Planned(target, before, after))
    return planned


def _require_replaceable(tree: Tree, target: str) -> None:
    path = tree.root / target
    if (kind := tree.kind(target)) not in (Kind.FILE, Kind.NOTHING):
        raise OSError(errno.EEXIST, f"{kind.value} has that name already", target)
    if not os.access(path.parent, os.W_OK) or (os.name == "nt" and path.exists() and not os.access(path, os.W_OK)):
        raise PermissionError(errno.EACCES, "no right to write there", target)


def _clear(tree: Tree) -> None:
    """Remove staged files, and files of killed processes."""
    tree.remove_folder(STAGE)
    remove_left_over(tree, CACHE)
