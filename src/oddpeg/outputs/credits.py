"""Credits: authors and licences of the icons, as a text file and as one sentence for the font itself."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from oddpeg.iconset.model import Icon, IconSet
from oddpeg.outputs.context import OutputContext
from oddpeg.outputs.render import render

_UNSAID = "no licence named"


def by_licence(icons: Iterable[Icon], whole: str) -> dict[str, dict[str, list[Icon]]]:
    """Return icons by licence, then by credit, both in descending order of count. whole: the font's own licence, which
    applies to icons without one."""
    groups: dict[str, dict[str, list[Icon]]] = {}
    for icon in icons:
        groups.setdefault(icon.licence or whole or _UNSAID, {}).setdefault(icon.credit, []).append(icon)
    ordered = sorted(groups.items(), key=lambda pair: (-sum(map(len, pair[1].values())), pair[0]))
    return {name: dict(sorted(part.items(), key=lambda pair: (-len(pair[1]), pair[0]))) for name, part in ordered}


def licence_text(whole: str, icons: Sequence[Icon]) -> str:
    """Return the licence field of the font: its own licence, and where icons have others, those."""
    if not any(icon.licence for icon in icons):
        return whole
    parts = by_licence(icons, whole)
    if len(parts) == 1:
        credit = ", ".join(c for c in next(iter(parts.values())) if c)
        return next(iter(parts)) + (f" ({credit})" if credit else "")
    lines = []
    for name, by_credit in parts.items():
        credit = ", ".join(c for c in by_credit if c)
        count = sum(map(len, by_credit.values()))
        lines.append(f"{name}: {count} icon{'s' if count > 1 else ''}" + (f" ({credit})" if credit else ""))
    return "; ".join(lines)


def credits(icon_set: IconSet, context: OutputContext) -> str:
    """Return the credits as plain text, icon by icon."""
    return render("credits.txt.jinja", c=icon_set, licences=by_licence(icon_set.icons, icon_set.licence))
