"""C and C++: UTF-8 string literals, and the ranges of codepoints to load. Source: ISO C §6.4."""

from __future__ import annotations

from oddpeg.iconset.model import IconSet
from oddpeg.outputs.context import OutputContext, Snippet
from oddpeg.outputs.kind import OutputKind, needs
from oddpeg.outputs.language import Language
from oddpeg.outputs.naming import upper
from oddpeg.outputs.ranges import runs_of

_RESERVED = "H FIRST LAST FAMILY COUNT RANGES RANGE_COUNT"

_LANGUAGE = Language(
    "c-header",
    "c_header.jinja",
    upper,
    call="{MACRO}_{id}",
    digit="",
    reserved=_RESERVED.split(),
    endings=".c .h .cc .cpp .cxx .hpp .hh .m .mm .ino",
)


def write(icon_set: IconSet, context: OutputContext) -> str:
    """Return the header."""
    return _LANGUAGE.write(icon_set, context, runs=runs_of(icon.codepoint for icon in icon_set.icons))


def setup(icon_set: IconSet, context: OutputContext) -> list[Snippet]:
    """Return what includes the header; its path is that from the project."""
    return [Snippet("c-header", f'#include "{context.file}"')]


KIND = OutputKind(
    "c-header",
    "UTF-8 literals and the ranges of codepoints",
    "include it; load the font with those codepoints",
    "{under}.h",
    write,
    _LANGUAGE.snippets,
    setup=setup,
    needs=needs("ttf"),
    references=_LANGUAGE.references,
    rank=20,
)
