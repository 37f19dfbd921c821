"""Specimen sheet: every icon on one picture, for README files and reviews. Source: PNG, third edition."""

from __future__ import annotations

from oddpeg.iconset.model import IconSet
from oddpeg.outputs.context import OutputContext
from oddpeg.outputs.kind import Option, OutputKind
from oddpeg.outputs.sheet_image import DARK, LIGHT, Heading, contact_sheet, ladder


def write(icon_set: IconSet, context: OutputContext) -> bytes:
    """Return the picture, drawn from the finished TrueType file."""
    count = len(icon_set.icons)
    subtitle = f"version {icon_set.version} · {count:,} icon{'s' if count != 1 else ''}"
    tones = DARK if context.options["dark"] else LIGHT
    heading = Heading(icon_set.family, subtitle)
    fonts = {face.name: face.files["ttf"] for face in context.faces}
    rungs = ladder(icon_set) if context.options["ladder"] else []
    return contact_sheet(icon_set, fonts, heading, tones, bool(context.options["names"]), rungs)


KIND = OutputKind(
    "specimen-sheet",
    "every icon on one picture (PNG)",
    "in a README file or a review",
    "{stem}-specimen.png",
    write,
    rank=5,
    embeds=lambda options: ("ttf",),
    is_picture=True,
    options={
        "dark": Option(False, "light icons on a dark ground"),
        "ladder": Option(False, "every icon at every weight and drawn size: of faces, and of a variable font"),
        "names": Option(True, "their names below them; up to 1,500 icons"),
    },
)
