"""Base64: font files as text, for tools that take a virtual file system (makers of PDFs among them)."""

from __future__ import annotations

import base64

from oddpeg.iconset.model import IconSet
from oddpeg.outputs.context import OutputContext
from oddpeg.outputs.kind import Option, OutputKind
from oddpeg.outputs.scripts import json_text


def write(icon_set: IconSet, context: OutputContext) -> str:
    """Return a JSON object, or an ES module that exports it: file name → Base64."""
    kind = str(context.options["format"])
    several = len(context.faces) > 1
    names = {face.name: f"{icon_set.stem}-{face.name}.{kind}" for face in context.faces if several}
    data = {
        names.get(face.name, context.font_file(icon_set.stem, kind)): base64.b64encode(face.files[kind]).decode()
        for face in context.faces
    }
    text = json_text(data)
    return f"export default {text.rstrip()};\n" if context.file.endswith((".mjs", ".js", ".ts")) else text


KIND = OutputKind(
    "base64",
    "a font file as Base64 in JSON; a module where its name ends in .mjs, .js or .ts",
    "for tools with a virtual file system, such as makers of PDFs",
    "{stem}-files.json",
    write,
    rank=9,
    embeds=lambda options: (str(options["format"]),),
    options={"format": Option("ttf", "which font file: ttf, woff or woff2")},
)
