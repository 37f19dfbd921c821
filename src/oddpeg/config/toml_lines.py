"""Where in a TOML text each key stands.

Covers tables, keys, dotted and quoted keys, strings and arrays enough to step over them (TOML 1.0). The text is known
to be valid TOML.
"""

from __future__ import annotations

import re

KeyPath = tuple[str, ...]

_KEY = re.compile(r"""\s*(?:"((?:[^"\\]|\\.)*)"|'([^']*)'|([A-Za-z0-9_-]+))\s*""")
_STRING = re.compile(r'"""(?:[^\\]|\\.)*?"""|' + r"'''.*?'''|" + r'"(?:[^"\\\n]|\\.)*"|' + r"'[^'\n]*'|#[^\n]*", re.S)


def _read_key(text: str, at: int) -> tuple[KeyPath, int]:
    """Return a dotted key and the position after it."""
    parts: list[str] = []
    while match := _KEY.match(text, at):
        parts.append(next(group for group in match.groups() if group is not None))
        at = match.end()
        if text[at : at + 1] != ".":
            break
        at += 1
    return tuple(parts), at


def _skip_value(text: str, at: int) -> int:
    """Return the position after the value that starts at `at`: the end of its last line."""
    depth = 0
    while at < len(text):
        if match := _STRING.match(text, at):
            at = match.end()
            continue
        char = text[at]
        if char in "[{":
            depth += 1
        elif char in "]}":
            depth -= 1
        elif char == "\n" and depth <= 0:
            return at
        at += 1
    return at


def key_lines(text: str) -> dict[KeyPath, int]:
    """Return the line (from 1) of every table and key. Entries of arrays of tables carry their index."""
    lines: dict[KeyPath, int] = {}
    table: KeyPath = ()
    counts: dict[KeyPath, int] = {}
    at = 0
    while at < len(text):
        if text[at] in " \t\r\n":
            at += 1
            continue
        line = text.count("\n", 0, at) + 1
        if text[at] == "#":
            at = text.find("\n", at) % (len(text) + 1)
        elif text[at] == "[":
            double = text.startswith("[[", at)
            table, at = _read_key(text, at + 1 + double)
            if double:
                counts[table] = counts.get(table, -1) + 1
                table = (*table, str(counts[table]))
            lines.setdefault(table, line)
            at = _skip_line(text, at)
        else:
            key, at = _read_key(text, at)
            for size in range(1, len(key) + 1):
                lines.setdefault((*table, *key[:size]), line)
            at = _skip_value(text, at + 1)
    return lines


def _skip_line(text: str, at: int) -> int:
    end = text.find("\n", at)
    return len(text) if end < 0 else end


def line_of(lines: dict[KeyPath, int], path: KeyPath) -> int | None:
    """Return the line of a key, or of the nearest thing around it that the text names."""
    while path:
        if path in lines:
            return lines[path]
        path = path[:-1]
    return None
