"""Files below one folder, reached without following a link in any component, so that the checked file is the one that
is used.

Names are relative to the folder, with slashes. Where the system opens files relative to folders (POSIX `openat`), each
component is opened from the one before it; elsewhere every component is checked before the whole path is used.
"""

from __future__ import annotations

import contextlib
import errno
import hashlib
import os
import re
import shutil
import stat
import unicodedata
from collections.abc import Iterator
from contextlib import contextmanager
from enum import Enum
from pathlib import Path
from typing import NamedTuple

_RELATIVE = os.open in os.supports_dir_fd and os.rename in os.supports_dir_fd and hasattr(os, "O_NOFOLLOW")
_FOLDER = os.O_RDONLY | getattr(os, "O_DIRECTORY", 0) | getattr(os, "O_NOFOLLOW", 0) | getattr(os, "O_CLOEXEC", 0)
_READ = (
    os.O_RDONLY
    | getattr(os, "O_NOFOLLOW", 0)
    | getattr(os, "O_NONBLOCK", 0)  # a pipe without a writer must not block
    | getattr(os, "O_CLOEXEC", 0)
    | getattr(os, "O_BINARY", 0)
)
_WRITE = os.O_WRONLY | os.O_CREAT | os.O_EXCL | getattr(os, "O_NOFOLLOW", 0) | getattr(os, "O_BINARY", 0)
_UPDATE = os.O_RDWR | getattr(os, "O_NOFOLLOW", 0) | getattr(os, "O_NONBLOCK", 0) | getattr(os, "O_BINARY", 0)

# folders of version control, as every file system may spell them
_VERSION_CONTROL = frozenset(
    (".hg", ".svn", ".bzr", ".jj", ".sl", ".pijul", "_darcs", "cvs", "_mtn", ".fslckout", "_fossil_", ".osc", ".repo")
)
_SHORT_NAME = re.compile(r"git~\d+|gi[0-9a-f]{4}~\d+")  # what Windows calls .git where it makes names of eight letters


class Kind(Enum):
    """The kind of entry at a name."""

    NOTHING = "nothing"
    FILE = "a file"
    FOLDER = "a folder"
    LINK = "a link"
    OTHER = "neither file nor folder"


def belongs_to_version_control(name: str) -> bool:
    """Return whether a component of a name is, or passes on some file system for, one that version control keeps to
    itself. Everything that begins with `.git` counts."""
    for part in name.replace("\\", "/").split("/"):
        # file systems drop characters that cannot be seen, letter case, and dots or spaces at the end
        seen = "".join(c for c in unicodedata.normalize("NFKC", part) if unicodedata.category(c) != "Cf")
        plain = seen.casefold().partition(":")[0].rstrip(". ")
        if plain.startswith(".git") or plain in _VERSION_CONTROL or _SHORT_NAME.fullmatch(plain):
            return True
    return False


class _Spot(NamedTuple):
    """A name in a folder.

    Attributes:
        fd: the folder, None where the system cannot open relative to it.
        path: the name to use with it.
    """

    fd: int | None
    path: str


class Tree:
    """The files below a folder. root: an absolute path, itself free of links."""

    def __init__(self, root: Path) -> None:
        self.root = root

    # -- looking --------------------------------------------------------------------------------

    def kind(self, name: str) -> Kind:
        """Return the kind of entry at a name; a link in a component before it makes it a LINK, too."""
        try:
            with self._at(name) as spot:
                return _kind_of(os.lstat(spot.path, dir_fd=spot.fd).st_mode)
        except FileNotFoundError:
            return Kind.NOTHING
        except NotADirectoryError:
            return Kind.NOTHING if self.obstacle(name) is None else Kind.LINK
        except OSError as problem:
            if problem.errno in (errno.ELOOP, errno.EMLINK):
                return Kind.LINK
            raise

    def obstacle(self, name: str) -> str | None:
        """Return the first component on the way to a name that is a link, None where there is none."""
        path = str(self.root)
        parts = name.split("/")
        for number, part in enumerate(parts, 1):
            path = os.path.join(path, part)
            if _is_link(path):
                return "/".join(parts[:number])
        return None

    def read(self, name: str, limit: int) -> bytes:
        """Return a regular file's bytes; raise `OSError` where it is none, or holds more than `limit` bytes."""
        with self._at(name) as spot:
            return read_regular(spot.path, limit, spot.fd)

    def digest(self, name: str) -> str | None:
        """Return the digest of a regular file's content, None where there is none."""
        try:
            with self._at(name) as spot:
                fd = _open_regular(spot.path, spot.fd)
        except OSError:
            return None
        with os.fdopen(fd, "rb") as file:
            return hashlib.file_digest(file, "sha256").hexdigest()

    # -- changing -------------------------------------------------------------------------------

    def mode(self, name: str) -> int | None:
        """Return the rights of a regular file, None where there is none."""
        try:
            with self._at(name) as spot:
                mode = os.lstat(spot.path, dir_fd=spot.fd).st_mode
        except OSError:
            return None
        return stat.S_IMODE(mode) if stat.S_ISREG(mode) else None

    def write_new(self, name: str, data: bytes, durable: bool = True, mode: int | None = None) -> None:
        """Write a file that is not there yet. durable: have it on the disk before returning; mode: the rights it gets,
        else the usual ones."""
        with self._at(name, create=True) as spot:
            fd = os.open(spot.path, _WRITE, 0o666, dir_fd=spot.fd)
        with os.fdopen(fd, "wb") as out:
            out.write(data)
            if mode is not None and hasattr(os, "fchmod"):
                os.fchmod(out.fileno(), mode)
            if durable:
                out.flush()
                os.fsync(out.fileno())

    def append(self, name: str, data: bytes, at: int) -> None:
        """Write data into an existing file from byte `at` on; its content from there on is lost."""
        with self._at(name) as spot:
            fd = os.open(spot.path, _UPDATE, dir_fd=spot.fd)
        with os.fdopen(fd, "r+b") as file:
            file.truncate(at)
            file.seek(at)
            file.write(data)

    def move(self, source: str, target: str) -> None:
        """Replace a file by another in one step; across file systems it is first copied to a temporary name next to the
        target."""
        with self._at(source) as old, self._at(target, create=True) as new:
            try:
                os.replace(old.path, new.path, src_dir_fd=old.fd, dst_dir_fd=new.fd)
                return
            except OSError as problem:
                if problem.errno != errno.EXDEV:
                    raise
        temporary = _temporary_name(target)
        self.remove(temporary)
        self.write_new(temporary, self.read(source, _ANY_SIZE))
        with self._at(target) as new, self._at(temporary) as part:
            os.replace(part.path, new.path, src_dir_fd=part.fd, dst_dir_fd=new.fd)
        self.remove(source)

    def keep(self, source: str, copy: str) -> None:
        """Give a file a second name: the same file where the system can, else a copy."""
        no_link = contextlib.suppress(OSError, NotImplementedError)
        with self._at(source) as old, self._at(copy, create=True) as new, no_link:
            os.link(old.path, new.path, src_dir_fd=old.fd, dst_dir_fd=new.fd, follow_symlinks=False)
            return
        self.write_new(copy, self.read(source, _ANY_SIZE))

    def remove(self, name: str) -> None:
        """Remove a file, or a link as such; nothing where there is none."""
        with contextlib.suppress(FileNotFoundError), self._at(name) as spot:
            os.unlink(spot.path, dir_fd=spot.fd)

    def make_parents(self, name: str) -> None:
        """Make the folders that lead to a name."""
        with self._at(name, create=True):
            pass

    def remove_empty_parents(self, name: str) -> None:
        """Remove the folders that lead to a name, from the last, as long as they are empty."""
        parts = name.split("/")[:-1]
        while parts:
            try:
                with self._at("/".join(parts)) as spot:
                    os.rmdir(spot.path, dir_fd=spot.fd)
            except OSError:
                return
            parts.pop()

    def remove_folder(self, name: str) -> None:
        """Remove a folder and everything in it, without following links; nothing where there is none."""
        with contextlib.suppress(FileNotFoundError):
            if self.kind(name) is not Kind.FOLDER:
                self.remove(name)
                return
            with self._at(name) as spot:
                shutil.rmtree(spot.path, dir_fd=spot.fd)

    # -- getting there --------------------------------------------------------------------------

    @contextmanager
    def _at(self, name: str, create: bool = False) -> Iterator[_Spot]:
        """Give the folder that a name is in, opened component by component. create: make folders that are missing."""
        *folders, last = _parts(name)
        if not _RELATIVE:
            self._require_plain(folders, create)
            yield _Spot(None, os.path.join(self.root, *folders, last))
            return
        fd = os.open(self.root, _FOLDER & ~getattr(os, "O_NOFOLLOW", 0))
        try:
            for folder in folders:
                inner = _open_folder(folder, fd, create)
                os.close(fd)
                fd = inner
            yield _Spot(fd, last)
        finally:
            os.close(fd)

    def _require_plain(self, folders: list[str], create: bool) -> None:
        path = str(self.root)
        for folder in folders:
            path = os.path.join(path, folder)
            if _is_link(path):
                raise OSError(errno.ELOOP, "is a link", path)
            if create and not os.path.isdir(path):
                os.mkdir(path)


_ANY_SIZE = 1 << 40


def _temporary_name(target: str) -> str:
    """Return the name of a file's copy on its way into its place."""
    folder, _, last = target.rpartition("/")
    short = hashlib.sha256(last.encode("utf-8", "surrogateescape")).hexdigest()[:12]
    return f"{folder}/.oddpeg-{short}.part".removeprefix("/")


def read_regular(path: str, limit: int, fd: int | None = None) -> bytes:
    """Return a regular file's bytes; raise `OSError` for a missing file, a link, any other kind, or more than `limit`
    bytes. fd: the folder that the path is relative to."""
    opened = _open_regular(path, fd)
    try:
        size = os.fstat(opened).st_size
        data = os.read(opened, size + 1) if size <= limit else b""  # room is made for as much as is asked for
        while len(data) not in (0, size) and len(data) <= limit and (more := os.read(opened, 1 << 20)):
            data += more  # longer than the system reads at once, or growing meanwhile
    finally:
        os.close(opened)
    if size > limit or len(data) > limit:
        raise OSError(errno.EFBIG, f"holds more than {limit:,} bytes", path)
    return data


def _open_regular(path: str, fd: int | None) -> int:
    opened = os.open(path, _READ, dir_fd=fd)
    if not stat.S_ISREG(os.fstat(opened).st_mode):
        os.close(opened)
        raise OSError(errno.EINVAL, "is not a regular file", path)
    return opened


def _open_folder(name: str, fd: int, create: bool) -> int:
    try:
        return os.open(name, _FOLDER, dir_fd=fd)
    except FileNotFoundError:
        if not create:
            raise
    with contextlib.suppress(FileExistsError):
        os.mkdir(name, dir_fd=fd)
    return os.open(name, _FOLDER, dir_fd=fd)


def _parts(name: str) -> list[str]:
    parts = name.split("/")
    if any(part in ("", ".", "..") or "\0" in part or (os.sep != "/" and os.sep in part) for part in parts):
        raise OSError(errno.EINVAL, "is not a name below the folder", name)
    return parts


def _is_link(path: str) -> bool:
    return os.path.islink(path) or bool(getattr(os.path, "isjunction", lambda _: False)(path))


def _kind_of(mode: int) -> Kind:
    for test, kind in ((stat.S_ISREG, Kind.FILE), (stat.S_ISDIR, Kind.FOLDER), (stat.S_ISLNK, Kind.LINK)):
        if test(mode):
            return kind
    return Kind.OTHER
