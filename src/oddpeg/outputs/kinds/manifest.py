"""Manifest: the name that every file has really, by the name that it would have without a digest."""

from __future__ import annotations

from oddpeg.iconset.model import IconSet
from oddpeg.outputs.context import OutputContext
from oddpeg.outputs.kind import OutputKind
from oddpeg.outputs.scripts import json_text


def write(icon_set: IconSet, context: OutputContext) -> str:
    """Return a JSON object; paths are relative to it."""
    files = {file.name: file.url for file in context.delivered if file.hash_in_name}
    made_by = f"Odd Peg, for {icon_set.family} {icon_set.version}"
    return json_text({"files": dict(sorted(files.items())), "generated": made_by})


KIND = OutputKind(
    "manifest",
    "the real name of every file, for servers and templates; of use in a bundle with `hashed = true`",
    "read it where pages are made",
    "{stem}-manifest.json",
    write,
    needs_final_names=True,
    rank=9,
)
