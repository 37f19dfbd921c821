"""Dart: a class of constant icon data. Source: Dart language specification, reserved words."""

from __future__ import annotations

from oddpeg.iconset.model import IconSet
from oddpeg.outputs.context import OutputContext, Snippet
from oddpeg.outputs.kind import Option, OutputKind, needs
from oddpeg.outputs.language import Language
from oddpeg.outputs.naming import camel

_RESERVED = (
    "abstract as assert async await base break case catch class const continue covariant default deferred do "
    "dynamic else enum export extends extension external factory false final finally for get hide if "
    "implements import in interface is late library mixin new null of on operator part required rethrow return "
    "sealed set show static super switch sync this throw true try typedef var void when while with yield "
    "family package hashCode runtimeType toString noSuchMethod"
)

_LANGUAGE = Language("dart", "dart.jinja", camel, digit="n", reserved=_RESERVED.split(), endings=".dart")


def setup(icon_set: IconSet, context: OutputContext) -> list[Snippet]:
    """Return what pubspec.yaml has to say."""
    file = context.font_file(icon_set.stem)
    font = f"fonts:\n    - family: {icon_set.family}\n      fonts:\n        - asset: fonts/{file}"
    return [Snippet("dart", f"flutter:\n  {font}")]


KIND = OutputKind(
    "dart",
    "class of constant icon data",
    "put it into lib; the font goes into the app or a package",
    "{under}.dart",
    _LANGUAGE.write,
    _LANGUAGE.snippets,
    setup=setup,
    needs=needs("ttf", "woff2", "woff"),
    references=_LANGUAGE.references,
    rank=20,
    options={"package": Option("", "the package that holds the font, where it is not the app itself")},
)
