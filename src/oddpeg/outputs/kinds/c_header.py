"""C and C++: UTF-8 string literals, and the range of codepoints to load. Source: ISO C §6.4."""

from __future__ import annotations

from oddpeg.outputs.kind import OutputKind
from oddpeg.outputs.language import Language
from oddpeg.outputs.naming import upper

_RESERVED = "H FIRST LAST FAMILY"

_LANGUAGE = Language("c-header", "c_header.jinja", upper, call="{MACRO}_{id}", digit="", reserved=_RESERVED.split())

KIND = OutputKind(
    "c-header",
    "UTF-8 literals and the range of codepoints",
    "include it; load the font with those codepoints",
    "{under}.h",
    _LANGUAGE.write,
    _LANGUAGE.snippets,
    rank=20,
)
