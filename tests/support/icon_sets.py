"""Icon sets out of nothing."""

from __future__ import annotations

from collections.abc import Sequence

from oddpeg.iconset.faces import Face
from oddpeg.iconset.font_names import ClassNames, Naming
from oddpeg.iconset.model import Icon, IconSet
from oddpeg.outline.placement import Em


def icon_set(
    icons: Sequence[Icon | str], family: str = "Tide Marks", version: str = "1.0", licence: str = ""
) -> IconSet:
    """Return a set of icons, or of icons with these names."""
    made = [Icon(i, 0xE000 + n, f"icons/{n}.svg", 1000) if isinstance(i, str) else i for n, i in enumerate(icons)]
    naming = Naming(family, version, "tide-marks", licence=licence)
    return IconSet(naming, ClassNames("tm", "tm-icon"), tuple(made), (Face(Em(1000), {}),))
