"""Files in a project's state folder (`.oddpeg/`), and single files written whole.

Records are read with a limit and without following a link; an unreadable one counts as missing.
"""

from __future__ import annotations

import contextlib
import errno
import os
from collections.abc import Mapping
from pathlib import Path

from oddpeg.diagnostics import Diagnostic, OddPegError
from oddpeg.store.tree import Kind, Tree

STATE = ".oddpeg"
CACHE = f"{STATE}/cache"
STAGE = f"{STATE}/stage"
_IGNORED = (  # all but the records of what was delivered and when it came
    "lock\nstage/\ncache/\njournal.json\nproved.json\nshown.json\nseals.json\n"
)


def relative(path: Path, root: Path) -> str:
    """Return a path as messages and records show it: relative to the project, with slashes."""
    return os.path.relpath(path, root).replace(os.sep, "/")


def write_fault(problem: OSError, root: Path) -> OddPegError:
    """Return the error for a file that cannot be written."""
    place = relative(Path(os.path.join(root, os.fsdecode(problem.filename or root))), root)
    cure = "check the rights of the folder and the space on the disk"
    if problem.errno in (errno.ELOOP, errno.EMLINK, errno.ENOTDIR):
        cure = "Odd Peg writes through no link; put a folder there, or change the place in oddpeg.toml"
    message = f"cannot be written: {problem.strerror or problem}"
    return OddPegError(Diagnostic("write-failed", message, cure, place))


def state_folder(root: Path) -> Path:
    """Return the project's state folder, created if it is missing, with its ignore file. Raise `OddPegError` where it
    is a link or no folder."""
    folder, tree = root / STATE, Tree(root)
    for name in (STATE, CACHE, STAGE, f"{STATE}/lock"):
        wanted = Kind.FILE if name.endswith("lock") else Kind.FOLDER
        if (kind := tree.kind(name)) not in (wanted, Kind.NOTHING):
            message = f"is {kind.value}, but {wanted.value} of Odd Peg's own is needed there"
            raise OddPegError(Diagnostic("state-folder", message, "remove it, then run the command again", name))
    folder.mkdir(exist_ok=True)
    _write_ignored(tree)
    return folder


def _write_ignored(tree: Tree) -> None:
    """Write the ignore file for version control; the shorter list of an earlier version is replaced."""
    name = f"{STATE}/.gitignore"
    kind = tree.kind(name)
    if kind is Kind.FILE:
        current = tree.read(name, 10_000).decode("utf-8", "replace")
        if not current.startswith("lock\n") or set(current.split()) >= set(_IGNORED.split()):
            return
        tree.remove(name)
    elif kind is not Kind.NOTHING:
        return
    tree.write_new(name, _IGNORED.encode())


def write_files(files: Mapping[Path, bytes], root: Path, durable: bool = True) -> None:
    """Write files, each whole or not at all, but not as one change; replaced files keep their rights. root: the folder
    that contains all; durable: flush them to the disk before returning."""
    tree = Tree(root)
    ready: list[tuple[str, str]] = []
    try:
        root.mkdir(parents=True, exist_ok=True)
        for folder in {relative(path.parent, root) for path in files}:
            remove_left_over(tree, folder.removeprefix("."))
        for number, (path, data) in enumerate(files.items()):
            name = relative(path, root)
            temporary = f"{name.rpartition('/')[0]}/.oddpeg-{os.getpid()}-{number}.part".removeprefix("/")
            tree.remove(temporary)
            ready.append((temporary, name))
            tree.write_new(temporary, data, durable, tree.mode(name))
        for temporary, name in ready:
            tree.move(temporary, name)
    except OSError as problem:
        raise write_fault(problem, root) from None
    finally:
        for temporary, _ in ready:
            with contextlib.suppress(OSError):
                tree.remove(temporary)


def write_caches(files: Mapping[str, bytes], root: Path) -> None:
    """Write files of the state folder that may be lost at any time; errors are ignored. files: by name in that folder;
    root: of the project."""
    with contextlib.suppress(OSError, OddPegError):
        write_files({root / STATE / name: data for name, data in files.items()}, root, durable=False)


def remove_left_over(tree: Tree, folder: str) -> None:
    """Remove the temporary files of processes that are gone. folder: in the tree, "" for the tree's own."""
    with contextlib.suppress(OSError):
        for path in (tree.root / folder).glob(".oddpeg-*-*.part"):
            pid = path.name.split("-")[1]
            if pid.isdigit() and not _is_running(int(pid)):
                tree.remove(f"{folder}/{path.name}".removeprefix("/"))


def _is_running(pid: int) -> bool:
    if os.name == "nt":  # asking would end it there
        return True
    try:
        os.kill(pid, 0)
    except (ProcessLookupError, OverflowError):
        return False
    except OSError:
        return True
    return True


def read_state(root: Path, name: str, limit: int = 1 << 30) -> bytes | None:
    """Return a file of the state folder, None where it cannot be read. name: within that folder; limit: bytes."""
    try:
        return Tree(root).read(f"{STATE}/{name}", limit)
    except OSError:
        return None
