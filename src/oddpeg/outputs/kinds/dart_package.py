"""Dart package: the pubspec.yaml that makes of a bundle's folder a package with the font in it. Source: the pubspec
file format; YAML 1.2.
"""

from __future__ import annotations

import json

from oddpeg.iconset.model import IconSet
from oddpeg.outputs.context import OutputContext, Snippet
from oddpeg.outputs.escape import comment
from oddpeg.outputs.kind import Option, OutputKind, needs
from oddpeg.outputs.naming import family_words, lower, semantic_version


def _name(icon_set: IconSet, context: OutputContext) -> str:
    return str(context.options["name"]) or lower(family_words(icon_set.family))


def write(icon_set: IconSet, context: OutputContext) -> str:
    """Return the file. Texts are JSON, which YAML reads alike."""
    return f"""\
# {comment(icon_set.family)} {comment(icon_set.version)}. Written by Odd Peg.
name: {_name(icon_set, context)}
description: {json.dumps(f"The icon font {icon_set.family}.")}
version: {semantic_version(icon_set.version)}
publish_to: none

environment:
  sdk: ">=3.0.0 <4.0.0"

dependencies:
  flutter:
    sdk: flutter

flutter:
  fonts:
    - family: {json.dumps(icon_set.family)}
      fonts:
{_assets(icon_set, context)}"""


def _assets(icon_set: IconSet, context: OutputContext) -> str:
    """Return the list of font files; with weights where there are several faces."""
    weights = {face.name: face.weight for face in icon_set.faces} if len(context.faces) > 1 else {}
    lines = ""
    for face in context.faces:
        lines += f"        - asset: {json.dumps(face.urls.get('ttf', ''))}\n"
        if face.name in weights:  # hundreds only, in this format
            lines += f"          weight: {min(900, max(100, round(weights[face.name] / 100) * 100))}\n"
    return lines


def setup(icon_set: IconSet, context: OutputContext) -> list[Snippet]:
    """Return the dependency on the package."""
    folder = context.file.rpartition("/")[0] or "."
    return [Snippet("dart-package", f"dependencies:\n  {_name(icon_set, context)}:\n    path: {folder}")]


KIND = OutputKind(
    "dart-package",
    "pubspec.yaml, which makes the bundle's folder a package",
    "depend on the bundle's folder; put the output `dart` at lib/NAME.dart with `package` set to the same name",
    "pubspec.yaml",
    write,
    setup=setup,
    needs=needs("ttf"),
    needs_final_names=True,
    rank=20,
    options={"name": Option("", "the package's name; default: that of the family")},
)
