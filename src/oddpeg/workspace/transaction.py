"""Several files as one change: all old, or on the way to all new, whenever the process ends.

Files are first written whole into `.oddpeg/stage/`; then one file, the journal, says what is to be moved where and
what is to be removed; only then are they moved. Who is killed before the journal has changed nothing; who is killed
after it is completed by the next command (`recover`). A lock lets one process at a time do this.
"""

from __future__ import annotations

import contextlib
import errno
import json
import os
import shutil
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path

from oddpeg.diagnostics import Diagnostic, OddPegError

STATE = ".oddpeg"
_IGNORED = (  # all but the records of what was delivered and when it came
    "lock\nstage/\ncache/\njournal.json\nproved.json\ndrawings.json\n"
)
PATIENCE = 120.0  # seconds to wait for another build


def relative(path: Path, root: Path) -> str:
    """Return a path as messages and records show it: relative to the project, with slashes."""
    return os.path.relpath(path, root).replace(os.sep, "/")


def _fault(problem: OSError, root: Path) -> OddPegError:
    place = relative(Path(str(problem.filename or root)), root)
    return OddPegError(
        Diagnostic(
            "write-failed",
            f"cannot be written: {problem.strerror}",
            "check the rights of the folder and the space on the disk",
            place,
        )
    )


def state_folder(root: Path) -> Path:
    """Return the project's state folder, made if it is missing, with what version control leaves out of it."""
    folder = root / STATE
    folder.mkdir(exist_ok=True)
    if not (folder / ".gitignore").exists():
        (folder / ".gitignore").write_text(_IGNORED, encoding="utf-8", newline="\n")
    return folder


@contextmanager
def lock(root: Path, waiting: Callable[[], None] = lambda: None) -> Iterator[None]:
    """Hold the project alone; complete what a killed process left. `waiting` is called once if another one is at
    work."""
    from filelock import FileLock, Timeout

    try:
        held = FileLock(state_folder(root) / "lock")
        try:
            held.acquire(timeout=0)
        except Timeout:
            waiting()
            held.acquire(timeout=PATIENCE)
    except Timeout:
        raise OddPegError(
            Diagnostic(
                "project-busy",
                "another oddpeg is at work in this project",
                "wait for it to finish, or end it",
                relative(root / STATE, root),
            )
        ) from None
    except OSError as problem:
        raise _fault(problem, root) from None
    try:
        recover(root)
        yield
    finally:
        held.release()


def recover(root: Path) -> None:
    """Complete a change whose process was killed between the journal and its last move."""
    journal = root / STATE / "journal.json"
    with contextlib.suppress(FileNotFoundError):
        try:
            values = json.loads(journal.read_text(encoding="utf-8"))
            moves = [(str(a), str(b)) for a, b in values["moves"]]
            removals = [str(p) for p in values["remove"]]
        except (ValueError, KeyError, TypeError):
            moves, removals = [], []
        try:
            _complete(root, moves, removals)
        except OSError as problem:
            raise _fault(problem, root) from None
    shutil.rmtree(root / STATE / "stage", ignore_errors=True)


def interrupted(root: Path) -> bool:
    """Whether a killed process left a change to be completed."""
    return (root / STATE / "journal.json").exists()


def _complete(root: Path, moves: list[tuple[str, str]], removals: list[str]) -> None:
    inside = root.resolve()
    for staged, target in moves:
        source, place = root / STATE / "stage" / Path(staged).name, root / target
        if source.exists() and place.resolve().is_relative_to(inside):
            _move(source, place)
    for name in removals:
        place = root / name
        if place.parent.resolve().is_relative_to(inside):
            place.unlink(missing_ok=True)
            _remove_empty(place.parent, root)
    (root / STATE / "journal.json").unlink(missing_ok=True)


def _move(source: Path, place: Path) -> None:
    place.parent.mkdir(parents=True, exist_ok=True)
    try:
        source.replace(place)
    except OSError as problem:
        if problem.errno != errno.EXDEV:
            raise
        beside = place.with_name(
            f".{place.name}.part"
        )  # another file system: copied first, so that the last step is a rename
        shutil.copyfile(source, beside)
        beside.replace(place)
        source.unlink()


def change_all(root: Path, files: dict[Path, bytes], removals: list[Path]) -> None:
    """Write and remove files as one change; the lock must be held. They are moved in the order given, removals last."""
    if not files and not removals:
        return
    stage = root / STATE / "stage"
    moves: list[tuple[str, str]] = []
    try:
        stage.mkdir(parents=True, exist_ok=True)
        for number, (path, data) in enumerate(files.items()):
            path.parent.mkdir(parents=True, exist_ok=True)
            _require_rights(path)
            _write(stage / str(number), data)
            moves.append((str(number), relative(path, root)))
        for path in removals:
            _require_rights(path)
        gone = [relative(path, root) for path in removals]
        _write(stage / "journal", json.dumps({"moves": moves, "remove": gone}).encode())
        (stage / "journal").replace(root / STATE / "journal.json")
        _complete(root, moves, gone)
    except OSError as problem:
        found = _fault(problem, root)
        if interrupted(root):
            found.diagnostics.append(
                Diagnostic(
                    "change-incomplete",
                    "only part of the files could be put in place",
                    "once the cause is gone, run any command: it completes the rest",
                )
            )
        raise found from None
    finally:
        if not interrupted(root):
            shutil.rmtree(stage, ignore_errors=True)


def _require_rights(path: Path) -> None:
    """Refuse now what the move would stumble over when others have been made."""
    if not os.access(path.parent, os.W_OK) or (os.name == "nt" and path.exists() and not os.access(path, os.W_OK)):
        raise PermissionError(errno.EACCES, "no right to write there", str(path))


def _write(path: Path, data: bytes) -> None:
    with path.open("wb") as out:
        out.write(data)
        out.flush()
        os.fsync(out.fileno())


def write_files(files: dict[Path, bytes], root: Path) -> None:
    """Write files, each whole or not at all, but not all as one. root: what paths in messages are relative to."""
    ready: list[tuple[Path, Path]] = []
    try:
        for path, data in files.items():
            path.parent.mkdir(parents=True, exist_ok=True)
            temporary = path.with_name(f".{path.name}.{os.getpid()}.part")
            ready.append((temporary, path))
            temporary.write_bytes(data)
        for temporary, path in ready:
            temporary.replace(path)
    except OSError as problem:
        raise _fault(problem, root) from None
    finally:
        for temporary, _ in ready:
            with contextlib.suppress(OSError):
                temporary.unlink(missing_ok=True)


def _remove_empty(folder: Path, root: Path) -> None:
    """Remove folders that a removal left empty, up to the project's own."""
    while folder != root and root in folder.parents:
        try:
            folder.rmdir()
        except OSError:
            return
        folder = folder.parent
