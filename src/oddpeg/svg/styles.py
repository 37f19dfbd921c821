"""The styles of one document, as a walk over it meets them, and messages on what is not understood."""

from __future__ import annotations

import contextlib
from collections.abc import Iterator
from functools import cached_property
from typing import TYPE_CHECKING

from oddpeg.diagnostics import Diagnostic
from oddpeg.geometry.boxes import Box
from oddpeg.svg.cascade import Cascade, inherit
from oddpeg.svg.document import line_of, local_name
from oddpeg.svg.parsed import SvgDocument
from oddpeg.svg.properties import GEOMETRY, INHERITED, WARNED, WIDE, changes_nothing, valid_value
from oddpeg.svg.units import length
from oddpeg.svg.values import Variables
from oddpeg.svg.viewport import view_box

if TYPE_CHECKING:
    from lxml import etree

_NO_LENGTH = frozenset(("", "none", "auto", "normal"))
_LENGTHS = ("stroke-width", "stroke-dasharray", "stroke-dashoffset", "opacity", "fill-opacity", "stroke-opacity")
# by property: code of the message about a value that is not valid
_IGNORED_CODES = {
    "fill": "unknown-paint",
    "stroke": "unknown-paint",
    "transform": "bad-transform",
    **dict.fromkeys((*_LENGTHS, *GEOMETRY), "bad-length"),
}


class StyleReader:
    """Reads the properties of elements.

    Attributes:
        cascade: the styles at the place of the walk.
    """

    def __init__(self, document: SvgDocument, box: Box) -> None:
        """box: the drawing's frame."""
        self.document = document
        self.root = document.root
        self.box = box
        self.cascade = document.cascade
        self.notes: list[Diagnostic] = []
        self.variables = Variables()

    @contextlib.contextmanager
    def styled_by(self, cascade: Cascade) -> Iterator[None]:
        """Take declarations from another cascade for a while."""
        outer, self.cascade = self.cascade, cascade
        try:
            yield
        finally:
            self.cascade = outer

    @cached_property
    def ids(self) -> dict[str, etree._Element]:
        """Elements by id, the first where several share one."""
        by_id: dict[str, etree._Element] = {}
        for element in self.root.iter():
            if name := element.get("id"):
                by_id.setdefault(name, element)
        return by_id

    def declared(self, element: etree._Element, parent: dict[str, str]) -> dict[str, str]:
        """Return the declarations for an element, variables replaced; add notes on ignored ones. parent: the inherited
        properties."""
        declared = self.with_values(self.cascade.declared(element), parent)
        for name, text in self.cascade.ignored.get(element, ()):
            code = _IGNORED_CODES.get(name, "property-ignored")
            message = f"has a {name} that is not understood: {text[:60]!r}; it was ignored"
            self.note(code, message, "correct the value", element)
        for name in WARNED.keys() & declared.keys():
            if not changes_nothing(name, declared[name]):
                message = f"has the style property {name}: {declared[name][:60]}, which was ignored"
                code = "animation" if name.startswith("animation") else "property-ignored"
                self.note(code, message, "draw what it does, or remove it", element)
        return declared

    def with_values(self, declared: dict[str, str], parent: dict[str, str]) -> dict[str, str]:
        """Return declarations with variables replaced by their values, the element's own or inherited; a reference to
        an unknown variable makes a declaration invalid (CSS Variables 1 §3.1)."""
        if not any("var(" in value for value in declared.values()):
            return declared
        known = {**parent, **declared}
        substituted = {}
        for name, value in declared.items():
            if name.startswith("--") or "var(" not in value:
                substituted[name] = value
                continue
            text = self.variables.resolve(value, known)
            valid = None if text is None else valid_value(name, text, False)
            if valid is not None and (name in INHERITED or valid not in WIDE):
                substituted[name] = valid
        return substituted

    def length(
        self, name: str, text: str | None, whole: float, element: etree._Element, em: float = 16.0
    ) -> float | None:
        """Return a length in user units; None where it is absent, or not understood, which is noted."""
        value = length(text, whole, em)
        if value is None and text is not None and text.strip().lower() not in _NO_LENGTH:
            message = f"has a {name} that is not understood: {text[:60]!r}; it was ignored"
            self.note("bad-length", message, "write it as a plain number", element)
        return value

    def viewport_of(self, element: etree._Element) -> tuple[float, float]:
        """Return the size that percentages in a resource refer to: of the frame around it in the file."""
        frames = [e for e in element.iterancestors() if local_name(e) in ("svg", "symbol")]
        size = self.box.width, self.box.height
        for frame in reversed(frames[:-1]):
            box = view_box(frame)
            size = (
                (box.width, box.height)
                if box
                else (
                    length(frame.get("width") or "100%", size[0]) or 0.0,
                    length(frame.get("height") or "100%", size[1]) or 0.0,
                )
            )
        return size

    def note(self, code: str, text: str, cure: str = "", element: etree._Element | None = None) -> None:
        line = line_of(element) if element is not None else None
        if not any(n.code == code and n.what == text for n in self.notes):
            self.notes.append(Diagnostic(code, text, cure, line=line))

    def opacity(self, text: str, which: str, element: etree._Element) -> bool:
        """Whether something of this opacity paints at all; partial opacity is noted."""
        value = self.length(which, text, 1.0, element)
        if value is None or value >= 1:
            return True
        if value <= 0:
            return False
        self.note(
            "partial-opacity",
            f"has {which} {text.strip()}, and a font knows only ink",
            "make it solid or remove it, or set icons.translucent",
            element,
        )
        return True

    def around(self, element: etree._Element) -> dict[str, str]:
        """Return the properties that an element inherits from its ancestors in the file, wherever it is referred to
        from."""
        style: dict[str, str] = {}
        for ancestor in reversed([*element.iterancestors()]):
            declared = self.with_values(self.document.cascade.declared(ancestor), style)
            style = inherit(style, without_colour(declared) if ancestor is self.root else declared)
        return style

    def computed(self, element: etree._Element) -> dict[str, str]:
        """Return the properties of an element that is not painted itself: inherited and declared ones."""
        style, parent = self.around(element), element.getparent()
        declared = self.with_values(self.document.cascade.declared(element), style)
        above = {} if parent is None else self.document.cascade.declared(parent)
        taken = {name: above[name] for name, value in declared.items() if value == "inherit" and name in above}
        return {**inherit(style, declared), **declared, **taken}


def without_colour(declared: dict[str, str]) -> dict[str, str]:
    """Return the declarations for the outermost element without its `color`: it takes that of the text."""
    return {name: value for name, value in declared.items() if name != "color" or value == "transparent"}
