"""Names that generated scripts share, and their common parts."""

from __future__ import annotations

import posixpath

from oddpeg.iconset.model import IconSet
from oddpeg.outputs.naming import camel, family_words, pascal


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
