"""The notice beside a repacked font: changes, rights, and the hashes of its files."""

from __future__ import annotations

import hashlib
import re
from collections.abc import Sequence
from pathlib import Path

from oddpeg._version import __version__
from oddpeg.font.read.inspection import FontFacts
from oddpeg.store.delivery import NewFile
from oddpeg.store.tree import read_regular

CHANGES = "-changes.txt"
_SEAL = "written: this file (SHA-256 of the lines above "
_WRITTEN = re.compile(r"^written: ([^/\\\n]+) \(SHA-256 ([0-9a-f]{64})\)$", re.M)
_LARGEST_NOTICE = 1_000_000  # bytes
_RIGHTS = ("version", "copyright", "licence", "licence's address", "trademark", "designer", "maker")


def notice_of(path: Path, data: bytes, facts: FontFacts, done: Sequence[str]) -> str:
    """Return the notice: the changes, the program, the original file, and the font's own rights."""
    rights = [f"{what}: {text}" for what, text in facts.names.items() if what in _RIGHTS]
    lines = [
        f"{facts.family} {facts.style}: changed by Odd Peg {__version__}",
        *(f"- {what}" for what in done),
        f"from the file {path.name} (SHA-256 {hashlib.sha256(data).hexdigest()})",
        *rights,
        f"embedding: {facts.embedding}",
    ]
    return "\n".join(lines) + "\n"


def sealed(notice: str, files: Sequence[NewFile]) -> bytes:
    """Return the notice with the hashes of the files, and last the hash of all that."""
    lines = [f"written: {name} (SHA-256 {hashlib.sha256(data).hexdigest()})" for name, data in files]
    text = "\n".join([notice.rstrip("\n"), *lines]) + "\n"
    return f"{text}{_SEAL}{hashlib.sha256(text.encode()).hexdigest()})\n".encode()


def written_before(folder: Path) -> dict[str, str]:
    """Return the hashes of the files that earlier runs wrote into a folder, by name, as their notices tell."""
    known: dict[str, str] = {}
    for path in sorted(folder.glob(f"*{CHANGES}")) if folder.is_dir() else []:
        try:
            data = read_regular(str(path), _LARGEST_NOTICE)
        except OSError:
            continue
        text, _, seal = data.decode("utf-8", "replace").rpartition(_SEAL)
        if seal.strip() == f"{hashlib.sha256(text.encode()).hexdigest()})":  # else it was edited
            known |= dict(_WRITTEN.findall(text))
            known[path.name] = hashlib.sha256(data).hexdigest()
    return known
