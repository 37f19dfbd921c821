"""Names that generated scripts share, and their common parts, in the form that formatters of scripts give them: lines
of at most `WIDTH` columns, keys without needless quotes."""

from __future__ import annotations

import json
import posixpath
import re
from collections.abc import Sequence

from oddpeg.iconset.model import IconSet
from oddpeg.outputs.escape import script_string
from oddpeg.outputs.naming import camel, family_words, pascal

WIDTH = 80  # columns; formatters break longer lines, and join shorter ones
_NAME = re.compile("[A-Za-z_$][A-Za-z0-9_$]*")


def script_names(icon_set: IconSet) -> dict[str, str]:
    """Return the names in scripts: they contain the family, so that one module can export several fonts."""
    words = family_words(icon_set.family)
    camel_name = camel([words[0][:1].lower() + words[0][1:], *words[1:]])
    return {"Type": pascal(words), "own": camel_name}


def declarations_name(file: str) -> str:
    """Return the name of the file that declares the types of a script (TypeScript, module resolution)."""
    name = posixpath.basename(file)
    stem, _, ending = name.rpartition(".")
    return f"{stem}.d.{'mts' if ending == 'mjs' else 'ts'}"


def module_path(file: str) -> str:
    """Return the path of a file as imports have it: a relative one begins with a full stop."""
    return file if file.startswith("../") else f"./{file}"


def script_key(name: str) -> str:
    """Return a key of an object."""
    return name if _NAME.fullmatch(name) else script_string(name)


def union(head: str, texts: Sequence[str], end: str = ";") -> str:
    """Return a union of literal types after a head, such as `export type X =`."""
    quoted = [script_string(text) for text in texts]
    line = f"{head} {' | '.join(quoted)}{end}"
    if len(line) <= WIDTH:
        return line
    indent = " " * (len(head) - len(head.lstrip()) + 2)
    return f"{head}\n" + "\n".join(f"{indent}| {text}" for text in quoted) + end


def sequence(head: str, texts: Sequence[str], end: str) -> str:
    """Return an array of strings between two texts."""
    quoted = [script_string(text) for text in texts]
    line = f"{head}[{', '.join(quoted)}]{end}"
    return line if len(line) <= WIDTH else f"{head}[\n" + "".join(f"  {text},\n" for text in quoted) + f"]{end}"


def fitting(line: str, broken: str) -> str:
    """Return a line, or its broken form if it is too long."""
    return line if len(line) <= WIDTH else broken


def assignment(head: str, value: str) -> str:
    """Return a statement that gives a name a value."""
    line = f"{head} = {value};"
    return line if len(line) <= WIDTH else f"{head} =\n  {value};"


def json_text(value: object) -> str:
    """Return a JSON file as formatters have it: lists of plain values on one line where they fit."""
    return _json(value, "", 0) + "\n"


def _json(value: object, indent: str, taken: int) -> str:
    """Return a JSON value. indent: of its line; taken: columns of that line before it, and the comma after it."""
    inner = indent + "  "
    if isinstance(value, dict) and value:
        rows = [f"{_plain(key)}: " for key in value]
        comma = [1] * (len(rows) - 1) + [0]
        rows = [
            inner + row + _json(item, inner, len(inner) + len(row) + more)
            for row, item, more in zip(rows, value.values(), comma, strict=True)
        ]
        return "{\n" + ",\n".join(rows) + f"\n{indent}}}"
    if isinstance(value, list) and value:
        line = "" if isinstance(value[0], dict | list) else f"[{', '.join(map(_plain, value))}]"
        if line and taken + len(line) <= WIDTH:
            return line
        return "[\n" + ",\n".join(inner + _json(item, inner, len(inner)) for item in value) + f"\n{indent}]"
    return _plain(value)


def _plain(value: object) -> str:
    return json.dumps(value, ensure_ascii=False)


Argument = str | Sequence["Argument"]  # code, or an array


def call(head: str, arguments: Sequence[Argument]) -> str:
    """Return a statement that calls a function."""
    line = f"{head}({', '.join(map(_line, arguments))});"
    if len(line) <= WIDTH:
        return line
    *before, last = arguments
    begin = f"{head}({', '.join(map(_line, before))}, "
    if not isinstance(last, str) and len(begin) < WIDTH:
        return begin + _broken(last, "") + ");"
    return f"{head}(\n" + "".join(f"  {_broken(argument, '  ')},\n" for argument in arguments) + ");"


def _line(argument: Argument) -> str:
    return argument if isinstance(argument, str) else f"[{', '.join(map(_line, argument))}]"


def _broken(argument: Argument, indent: str) -> str:
    """Return an argument; an array that does not fit on the line has a line for each of its items."""
    line, several = _line(argument), not isinstance(argument, str) and not isinstance(argument[0], str)
    if isinstance(argument, str) or (len(indent) + len(line) < WIDTH and not (several and len(argument) > 1)):
        return line
    inner = indent + "  "
    return "[\n" + "".join(f"{inner}{_broken(item, inner)},\n" for item in argument) + f"{indent}]"
