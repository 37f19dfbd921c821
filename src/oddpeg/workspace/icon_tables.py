"""The tables `icons.csv` beside the drawings, on disk."""

from __future__ import annotations

from collections.abc import Collection
from pathlib import Path

from oddpeg.iconset.metadata import Drawn, Metadata, Rights, renamed_in_table
from oddpeg.workspace.settings import Config
from oddpeg.workspace.sources import Source, clean_pattern, fixed_part

FILE = "icons.csv"


def table_places(config: Config) -> list[str]:
    """Return where tables may be: beside the drawings of every glob, relative to the project."""
    folders = dict.fromkeys(fixed_part(clean_pattern(pattern)) for pattern in config.icons.from_)
    return [f"{folder}/{FILE}".removeprefix("/") for folder in folders]


def load_metadata(root: Path, config: Config, sources: Collection[Source], older: Collection[str]) -> Metadata:
    """Return everything known of the icons in `sources`. older: names that the pegboard keeps for icons renamed."""
    found = Metadata()
    for where in table_places(config):
        try:
            text = (root / where).read_text(encoding="utf-8-sig")
        except FileNotFoundError:
            continue
        except (OSError, UnicodeDecodeError) as problem:
            cure = "save it as UTF-8 text, and check the file's rights"
            found.add("table-unreadable", "", f"cannot be read: {problem}", cure, where)
            continue
        found.read_table(text, where)
    known = {s.name for s in sources}
    found.refuse_unknown(known)
    found.settle_aliases(known, older)
    drawn = [Drawn(s.name, s.where) for s in sources]
    rules = [Rights(rule.files, rule.licence, rule.credit) for rule in config.rights]
    cure = f"name it in {FILE}, or for its folder in [[rights]]"
    found.apply_rights(drawn, rules, config.icons.licences == "required", cure)
    return found


def renamed_tables(root: Path, config: Config, old: str, new: str) -> dict[Path, bytes]:
    """Return the new content of every table in which an icon gets another name."""
    changed: dict[Path, bytes] = {}
    for where in table_places(config):
        path = root / where
        if path.is_file():
            text = path.read_bytes().decode("utf-8", "surrogateescape")
            renamed = renamed_in_table(text, old, new)
            if renamed != text:
                changed[path] = renamed.encode("utf-8", "surrogateescape")
    return changed
