"""C#: a class of string constants. Source: C# language specification, lexical structure."""

from __future__ import annotations

from oddpeg.outputs.kind import Option, OutputKind, needs
from oddpeg.outputs.language import Language
from oddpeg.outputs.naming import pascal

_RESERVED = "Family Equals ReferenceEquals GetType ToString GetHashCode MemberwiseClone Finalize"

_LANGUAGE = Language("csharp", "csharp.jinja", pascal, reserved=_RESERVED.split(), endings=".cs .fs .vb .razor .cshtml")

KIND = OutputKind(
    "csharp",
    "class of string constants",
    "add it to the project",
    "{Type}.cs",
    _LANGUAGE.write,
    _LANGUAGE.snippets,
    needs=needs("ttf"),
    references=_LANGUAGE.references,
    rank=20,
    options={"package": Option("", "the namespace that the class is in")},
)
