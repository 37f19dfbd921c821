"""XAML: a resource dictionary. Its font family goes by the family name, which the file name need not be. Source:
[MS-XAML]."""

from __future__ import annotations

from oddpeg.outputs.kind import Option, OutputKind
from oddpeg.outputs.language import Language
from oddpeg.outputs.naming import pascal

_LANGUAGE = Language("xaml", "xaml.jinja", pascal, call="{{StaticResource {Type}.{id}}}")

KIND = OutputKind(
    "xaml",
    "resource dictionary: font family and characters",
    "merge it into the resources of the app",
    "{Type}.xaml",
    _LANGUAGE.write,
    _LANGUAGE.snippets,
    rank=20,
    options={"folder": Option("/Fonts", "where the font lies in the app")},
)
