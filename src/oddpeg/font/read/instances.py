"""Instances of a variable font as text shapers show them: to be compared, not to be delivered.

Source: OpenType specification, FeatureVariations and the feature rvrn, which applies before all others.
"""

from __future__ import annotations

import io
from collections.abc import Mapping
from typing import Any

from oddpeg.font.read.alternates import replacements
from oddpeg.font.read.glyphs import opened


def instance_at(data: bytes, location: Mapping[str, float]) -> bytes:
    """Return a font pinned at a location, with characters mapped to the glyphs that replace theirs there. Other axes
    stay. location: values of axes by tag. Raise ValueError where the font is damaged or has no such axis."""
    from fontTools.varLib import instancer

    with opened(data, lazy=False) as font:
        tags = {axis.axisTag for axis in font["fvar"].axes}
        if not location.keys() <= tags:
            raise ValueError(f"it has no axis {min(location.keys() - tags)}")
        pinned = instancer.instantiateVariableFont(font, dict(location))
        swapped = _substitutions(pinned)
        for table in pinned["cmap"].tables:
            table.cmap = {code: swapped.get(name, name) for code, name in table.cmap.items()}
        target = io.BytesIO()
        pinned.save(target)
    return target.getvalue()


def _substitutions(font: Any) -> dict[str, str]:
    """Return the glyphs that the required variations replace, by name."""
    if "GSUB" not in font:
        return {}
    table = font["GSUB"].table
    numbers = [n for r in table.FeatureList.FeatureRecord if r.FeatureTag == "rvrn" for n in r.Feature.LookupListIndex]
    return replacements(table, numbers)
