"""Counts of the constructs in a drawing that have to be converted."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass, field
from typing import TYPE_CHECKING

from oddpeg.svg.document import local_name
from oddpeg.svg.model import Effect
from oddpeg.svg.paint import parse_paint
from oddpeg.svg.parsed import SvgDocument
from oddpeg.svg.shapes import SHAPES

if TYPE_CHECKING:
    from lxml import etree

_SILENT = frozenset(
    ["style", "title", "desc", "metadata", "script", "linearGradient", "radialGradient", "pattern", "filter"]
)


@dataclass(slots=True)
class Survey:
    """Counts of constructs in a file.

    Attributes:
        shapes: basic shapes by name.
        colours: paints that are ink, as written.
        strokes: elements that are stroked.
        transforms: elements that have one.
        hidden: elements that never show.
        empty: groups and paths with nothing in them.
        foreign: elements and attributes of editors.
        ids: that elements carry.
        styled: elements with a style or class, and style sheets.
        clips: elements that are clipped.
        uses: elements that repeat others.
    """

    shapes: Counter[str] = field(default_factory=Counter)
    colours: set[str] = field(default_factory=set)
    strokes: int = 0
    transforms: int = 0
    hidden: int = 0
    empty: int = 0
    foreign: int = 0
    ids: int = 0
    styled: int = 0
    clips: int = 0
    uses: int = 0


def survey(document: SvgDocument) -> Survey:
    """Return how a file is written."""
    facts, cascade = Survey(), document.cascade
    for element in document.root.iter():
        name = local_name(element)
        if not name:
            facts.foreign += isinstance(element.tag, str)
            continue
        facts.foreign += sum(
            1
            for key in element.attrib
            if str(key).startswith("{") and "xlink" not in str(key) and "/XML/" not in str(key)
        )
        facts.foreign += name == "metadata"
        facts.ids += "id" in element.attrib
        if name in _SILENT:
            facts.styled += name == "style"
            continue
        _element(element, name, cascade.declared(element), facts)
    return facts


def _element(element: etree._Element, name: str, declared: dict[str, str], facts: Survey) -> None:
    facts.styled += "style" in element.attrib or "class" in element.attrib
    facts.transforms += "transform" in declared
    facts.clips += any(declared.get(key, "none").strip() not in ("none", "") for key in ("clip-path", "mask"))
    facts.uses += name == "use"
    facts.hidden += declared.get("display", "").strip() == "none" or declared.get("visibility", "").strip() == "hidden"
    facts.empty += (name in ("g", "defs") and not len(element)) or (
        name == "path" and not (element.get("d") or "").strip()
    )
    facts.strokes += declared.get("stroke", "none").strip() not in ("none", "", "inherit")
    if name in SHAPES and name != "path":
        facts.shapes[name] += 1
    for key in ("fill", "stroke"):
        text = declared.get(key, "").strip().lower()
        if not text or text in ("inherit", "none", "currentcolor"):
            continue
        paint = parse_paint(text, "black")
        if paint.effect is Effect.INK and not paint.server:
            facts.colours.add(text)
