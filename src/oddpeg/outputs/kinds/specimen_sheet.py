"""Specimen sheet: every icon on one picture, for README files and reviews. Source: PNG, third edition."""

from __future__ import annotations

from oddpeg.iconset.model import Catalogue, Surroundings
from oddpeg.outputs.kind import Kind, Option
from oddpeg.outputs.sheet_image import DARK, LIGHT, contact_sheet


def write(catalogue: Catalogue, around: Surroundings) -> bytes:
    """Return the picture, drawn from the finished TrueType file."""
    count = len(catalogue.icons)
    told = f"version {catalogue.version} · {count:,} icon{'s' if count != 1 else ''}"
    tones = DARK if around.options["dark"] else LIGHT
    return contact_sheet(
        around.files["ttf"],
        catalogue.icons,
        catalogue.family,
        told,
        catalogue.drop,
        tones,
        bool(around.options["names"]),
    )


KIND = Kind(
    "specimen-sheet",
    "every icon on one picture (PNG)",
    "in a README file or a review",
    "{stem}-specimen.png",
    write,
    rank=5,
    carries=lambda options: ("ttf",),
    options={
        "dark": Option(False, "light icons on a dark ground"),
        "names": Option(True, "their names below them; up to 1,500 icons"),
    },
)
