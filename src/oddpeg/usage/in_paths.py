"""Paths in code that should lead to delivered files. Sources: HTML, links; CSS Cascade 5, @import; RFC 3986."""

from __future__ import annotations

import posixpath
import re
from collections.abc import Iterable, Iterator
from urllib.parse import unquote

from oddpeg.usage.problem import PAGES, STYLES, Expected, Problem

_URL = re.compile(
    r"""(?:\b(?:href|src)\s{0,9}=\s{0,9}|@(?:import|use|forward)\s{1,9}(?:url\(\s{0,9})?|\burl\(\s{0,9}|\bfrom\s{1,9}"""
    r"""|\bimport\s{1,9}|\b(?:require|import)\(\s{0,9})(["']?)([^"'\s)<>{}$]{1,500})\1"""
)
_ASSET = re.compile(r"""["']([\w./@-]{1,300}\.(?:ttf|otf|woff2?))["']""")
_DIGEST = re.compile(r"[._][0-9a-f]{10}(?=\.\w+$)")


def _plain_name(name: str) -> str:
    """Return a file name without what people mistake in it."""
    return _DIGEST.sub("", name).lower().replace("_", "-").lstrip("-")


def stems_of(files: Iterable[str]) -> tuple[str, ...]:
    """Return what the names of files begin with, none that begins with another."""
    stems: list[str] = []
    for stem in sorted({_plain_name(name).partition(".")[0] for name in files}):
        if not (stems and stem.startswith(stems[-1])):
            stems.append(stem)
    return tuple(stems)


def endings_of(files: Iterable[str]) -> str:
    """Return an expression for what follows a stem in the names of files: a digest perhaps, and their endings."""
    endings = {re.escape(_plain_name(name).rpartition(".")[2]) for name in files}
    return rf"[\w.-]{{0,80}}\.(?:{'|'.join(sorted(endings))})\b"


def mentions(expected: Expected, text: str) -> bool:
    """Return whether a text names a delivered file: with any digest, in any case, and with hyphens and underscores for
    each other."""
    plain = text.lower().replace("_", "-")
    ending = re.compile(expected.endings)
    for stem in expected.stems:
        at = plain.find(stem)
        while at >= 0:
            if ending.match(plain, at + len(stem)):
                return True
            at = plain.find(stem, at + len(stem))
    return False


def in_paths(expected: Expected, text: str, where: str, ending: str) -> Iterator[Problem]:
    """Yield paths that name a delivered file and lead to none. where: of the text; ending: of its name."""
    by_plain: dict[str, set[str]] = {}
    for name in expected.files:
        by_plain.setdefault(_plain_name(name), set()).add(name)
    seen: dict[str, str] = {}
    for match in _URL.finditer(text):
        path = unquote(re.split(r"[?#]", match[2], maxsplit=1)[0])
        if not path or "://" in path or path.startswith(("//", "data:", "@", "~", "#", "mailto:")):
            continue
        name = posixpath.basename(path)
        files = by_plain.get(_plain_name(name), set())
        module = match[0].startswith(("from", "import", "require")) and not path.startswith(".")
        if module or not files or "." not in name:
            continue
        begin = match.start(2)
        if name not in expected.files:
            yield _outdated(files, name, begin + match[2].rfind(name) if name in match[2] else begin)
        elif problem := _unresolved(expected, path, name, where, begin, len(match[2])):
            yield problem
        elif ending in PAGES and name.endswith(".css") and seen.setdefault(name, path) != path:
            cure = "load one of them"
            yield Problem("loaded-twice", f"{name} is loaded from {seen[name]} as well", cure, begin, len(match[2]))
    for match in _ASSET.finditer(text) if ending not in (*STYLES, *PAGES) else ():
        name = posixpath.basename(match[1])
        files = by_plain.get(_plain_name(name), set())
        if files and name not in expected.files:
            yield _outdated(files, name, match.start(1) + match[1].rfind(name))


def _outdated(files: set[str], name: str, at: int) -> Problem:
    right = min(files) if len(files) == 1 else ""
    cure = f"the file is called {' or '.join(sorted(files))}"
    code, what = (
        ("link-outdated", "is of an earlier build") if _DIGEST.search(name) else ("link-broken", "is not delivered")
    )
    return Problem(code, f"{name} {what}", cure, at, len(name), right)


def _unresolved(expected: Expected, path: str, name: str, where: str, at: int, length: int) -> Problem | None:
    """Return the problem of a path that leads to no delivered file. where: of the text."""
    delivered = expected.files[name]
    folder = posixpath.dirname(where)
    if path.startswith("/"):
        wanted = path.lstrip("/")
        if any(real == wanted or real.endswith(f"/{wanted}") for real in delivered):
            return None
    elif posixpath.normpath(posixpath.join(folder, path)) in delivered:
        return None
    right = posixpath.relpath(delivered[0], folder or ".") if len(delivered) == 1 else ""
    right = f"./{right}" if right and path.startswith("./") and not right.startswith("../") else right
    cure = f"the file is {' or '.join(delivered)}" + (f": write {right}" if right else "")
    return Problem("link-broken", f"{path} leads to no delivered file", cure, at, length, right)
