"""Keys of `oddpeg.toml` that were renamed. The old names work for one version, with a notice."""

from __future__ import annotations

import tomllib
from collections.abc import Mapping
from pathlib import Path
from typing import Any, NamedTuple

from oddpeg.config.loading import key_line
from oddpeg.diagnostics import Diagnostic


class RenamedKey(NamedTuple):
    """A renamed key. values: old value → new value, of values that were renamed too."""

    table: str
    old: str
    new: str
    values: Mapping[str, str] = {}


RENAMED = (RenamedKey("font", "drop", "descent"), RenamedKey("icons", "faint", "translucent", {"keep": "solid"}))


def with_new_keys(values: dict[str, Any]) -> dict[str, Any]:
    """Return the values of a config with renamed keys under their new names, where those are not set as well."""
    renamed = dict(values)
    for key in RENAMED:
        table = renamed.get(key.table)
        if isinstance(table, dict) and key.old in table and key.new not in table:
            value = table[key.old]
            value = key.values.get(value, value) if isinstance(value, str) else value
            rest = {name: given for name, given in table.items() if name != key.old}
            renamed[key.table] = {**rest, key.new: value}
    return renamed


def renamed_keys(path: Path) -> list[Diagnostic]:
    """Return a notice for every renamed key in a valid config file."""
    try:
        values = tomllib.loads(path.read_text(encoding="utf-8-sig"))
    except (OSError, ValueError):
        return []
    notices = []
    for key in RENAMED:
        if key.old in values.get(key.table, {}):
            message = f"{key.table}.{key.old}: this key is called {key.new} now"
            new = key.values.get(str(values[key.table][key.old]))
            value = f' = "{new}"' if new else ""
            cure = f"rename it to {key.new}{value}; the old name stops working in the next version"
            line = key_line(path, f"{key.table}.{key.old}")
            notices.append(Diagnostic("config-renamed", message, cure, path.name, line))
    return notices
