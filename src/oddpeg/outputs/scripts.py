"""Names that generated scripts share, and their common parts, in the form that formatters of scripts give them: lines
of at most `WIDTH` columns, keys without needless quotes."""

from __future__ import annotations

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


def assignment(head: str, value: str) -> str:
    """Return a statement that gives a name a value."""
    line = f"{head} = {value};"
    return line if len(line) <= WIDTH else f"{head} =\n  {value};"


def call(head: str, arguments: Sequence[str]) -> str:
    """Return a statement that calls a function."""
    line = f"{head}({', '.join(arguments)});"
    if len(line) <= WIDTH:
        return line
    return f"{head}(\n" + "".join(f"  {argument},\n" for argument in arguments) + ");"
