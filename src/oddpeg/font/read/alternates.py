"""The glyphs that take the place of others in a part of a variable font's design space.

Source: OpenType specification, FeatureVariations, the features rvrn and rclt, avar.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

_FEATURES = ("rvrn", "rclt")
_MOST = 64  # conditions that are looked at; fonts of this program have one for each size and state


def alternates(font: Any) -> dict[str, dict[str, str]]:
    """Return the names of glyphs that replace others, by the part of the design space, such as "18 to 22 px"."""
    variations = getattr(font["GSUB"].table, "FeatureVariations", None) if "GSUB" in font and "fvar" in font else None
    found: dict[str, dict[str, str]] = {}
    for record in variations.FeatureVariationRecord[:_MOST] if variations else ():
        conditions = record.ConditionSet.ConditionTable
        if len(conditions) == 1:  # combinations show the same glyphs
            swapped = _swapped(font["GSUB"].table, record.FeatureTableSubstitution)
            found.setdefault(_label(font, conditions[0]), swapped)  # the first that applies is taken
    return found


def _swapped(table: Any, substitution: Any) -> dict[str, str]:
    features = table.FeatureList.FeatureRecord
    chosen = [r for r in substitution.SubstitutionRecord if features[r.FeatureIndex].FeatureTag in _FEATURES]
    return replacements(table, [number for record in chosen for number in record.Feature.LookupListIndex])


def replacements(table: Any, lookups: Sequence[int]) -> dict[str, str]:
    """Return the names of glyphs that replace others by single substitutions. table: GSUB; lookups: numbers."""
    replaced: dict[str, str] = {}
    for lookup in (table.LookupList.Lookup[number] for number in dict.fromkeys(lookups)):
        for sub in (getattr(sub, "ExtSubTable", sub) for sub in lookup.SubTable):
            replaced |= {old: new for old, new in getattr(sub, "mapping", {}).items() if isinstance(new, str)}
    return replaced


def _label(font: Any, condition: Any) -> str:
    """Return a condition on an axis as people say it."""
    axis = font["fvar"].axes[condition.AxisIndex]
    low, high = (_value(font, axis, end) for end in (condition.FilterRangeMinValue, condition.FilterRangeMaxValue))
    if axis.axisTag == "opsz":
        return f"under {high:g} px" if low <= axis.minValue else f"{low:g} to {high:g} px"
    name = font["name"].getDebugName(axis.axisNameID) or axis.axisTag
    return str(name).lower() if high >= axis.maxValue else f"{name} {low:g} to {high:g}".lower()


def _value(font: Any, axis: Any, place: float) -> float:
    """Return the value of an axis at a place between -1 and 1."""
    from fontTools.varLib.models import piecewiseLinearMap

    segments = font["avar"].segments.get(axis.axisTag) if "avar" in font else None
    if segments:
        place = piecewiseLinearMap(place, {to: start for start, to in segments.items()})
    end = axis.minValue if place < 0 else axis.maxValue
    return float(round(axis.defaultValue + abs(min(max(place, -1.0), 1.0)) * (end - axis.defaultValue), 1))
