"""Swift: an enum whose cases are the characters. Source: The Swift Programming Language, lexical structure."""

from __future__ import annotations

from oddpeg.outputs.kind import OutputKind
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
)

KIND = OutputKind(
    "swift",
    "enum of characters",
    "add it to the target; the font goes into the bundle",
    "{Type}.swift",
    _LANGUAGE.write,
    _LANGUAGE.snippets,
    rank=20,
)
