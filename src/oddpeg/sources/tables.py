"""The tables `icons.csv` next to the drawings, on disk."""

from __future__ import annotations

import contextlib
from collections.abc import Callable, Collection, Iterable, Sequence

from oddpeg.iconset.metadata import IconFile, Metadata, Rights, renamed_in_table
from oddpeg.sources.drawings import Source
from oddpeg.sources.globs import clean_pattern, fixed_part

FILE = "icons.csv"


def table_places(patterns: Iterable[str]) -> list[str]:
    """Return the possible paths of tables: next to the drawings of every glob, relative to the project."""
    folders = dict.fromkeys(fixed_part(clean_pattern(pattern)) for pattern in patterns)
    return [f"{folder}/{FILE}".removeprefix("/") for folder in folders]


def load_metadata(
    read: Callable[[str], bytes], patterns: Iterable[str], sources: Collection[Source], older: Collection[str]
) -> Metadata:
    """Return everything known of the icons in `sources`. read: gives the bytes of a file of the project; older: names
    that the pegboard keeps for icons renamed."""
    metadata = Metadata()
    for where in table_places(patterns):
        try:
            text = read(where).decode("utf-8-sig").replace("\r\n", "\n").replace("\r", "\n")
        except FileNotFoundError:
            continue
        except (OSError, UnicodeDecodeError) as problem:
            cure = "save it as UTF-8 text, and check the file's rights"
            why = problem.strerror if isinstance(problem, OSError) else problem
            metadata.add("table-unreadable", "", f"cannot be read: {why}", cure, where)
            continue
        metadata.read_table(text, where)
    known = {s.name for s in sources}
    metadata.refuse_unknown(known)
    metadata.settle_aliases(known, older)
    return metadata


def apply_rights(metadata: Metadata, sources: Collection[Source], rules: Sequence[Rights], required: bool) -> Metadata:
    """Add the licences and credits of rules for files. required: an icon without a licence is an error."""
    cure = f"name it in {FILE}, or for its folder in [[rights]]"
    metadata.apply_rights([IconFile(s.name, s.where) for s in sources], rules, required, cure)
    return metadata


def renamed_tables(read: Callable[[str], bytes], patterns: Iterable[str], old: str, new: str) -> dict[str, bytes]:
    """Return the new content of every table in which an icon gets another name."""
    changed: dict[str, bytes] = {}
    for where in table_places(patterns):
        with contextlib.suppress(OSError):
            text = read(where).decode("utf-8", "surrogateescape")
            renamed = renamed_in_table(text, old, new)
            if renamed != text:
                changed[where] = renamed.encode("utf-8", "surrogateescape")
    return changed
