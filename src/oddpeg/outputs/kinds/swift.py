"""Swift: an enum whose cases are the characters. Source: The Swift Programming Language, lexical structure."""

from __future__ import annotations

from oddpeg.iconset.model import IconSet
from oddpeg.outputs.context import OutputContext, Snippet
from oddpeg.outputs.escape import swift_string
from oddpeg.outputs.kind import OutputKind, needs
from oddpeg.outputs.language import Language
from oddpeg.outputs.naming import camel

_RESERVED = (
    "associatedtype class deinit enum extension fileprivate func import init inout internal let open operator "
    "private precedencegroup protocol public rethrows static struct subscript typealias var break case catch "
    "continue default defer do else fallthrough for guard if in repeat return throw switch where while any as "
    "await false is nil self super throws true try"
)

_LANGUAGE = Language(
    "swift",
    "swift.jinja",
    camel,
    call="{Type}.{id}.rawValue",
    guard="`{}`",
    reserved=_RESERVED.split(),
    members=("family", "rawValue", "allCases", "hashValue", "description", "hash"),
    endings=".swift .m .mm",
)


def setup(icon_set: IconSet, context: OutputContext) -> list[Snippet]:
    """Return what registers the font, where Info.plist does not, and what chooses it."""
    url = f'Bundle.main.url(forResource: "{context.font_stem}", withExtension: "ttf")!'
    return [
        Snippet("swift", f"CTFontManagerRegisterFontsForURL({url} as CFURL, .process, nil)"),
        Snippet("swift", f".font(.custom({swift_string(icon_set.family)}, size: 24))"),
    ]


KIND = OutputKind(
    "swift",
    "enum of characters",
    "add it to the target; the font goes into the bundle",
    "{Type}.swift",
    _LANGUAGE.write,
    _LANGUAGE.snippets,
    setup=setup,
    needs=needs("ttf"),
    references=_LANGUAGE.references,
    rank=20,
)
