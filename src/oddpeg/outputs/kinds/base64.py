"""Base64: font files as text, for tools that take a virtual file system (makers of PDFs among them)."""

from __future__ import annotations

import base64

from oddpeg.iconset.model import IconSet
from oddpeg.outputs.context import OutputContext, Snippet
from oddpeg.outputs.escape import script_string
from oddpeg.outputs.kind import Option, OutputKind
from oddpeg.outputs.scripts import json_text, module_path


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


def setup(icon_set: IconSet, context: OutputContext) -> list[Snippet]:
    """Return the import of the files; the path is relative to the project."""
    how = "" if context.file.endswith((".mjs", ".js", ".ts")) else ' with { type: "json" }'
    return [Snippet("base64", f"import fontFiles from {script_string(module_path(context.file))}{how};")]


KIND = OutputKind(
    "base64",
    "a font file as Base64 in JSON; a module where its name ends in .mjs, .js or .ts",
    "for tools with a virtual file system, such as makers of PDFs",
    "{stem}-files.json",
    write,
    setup=setup,
    rank=9,
    embeds=lambda options: (str(options["format"]),),
    options={"format": Option("ttf", "which font file: ttf, woff or woff2")},
)
