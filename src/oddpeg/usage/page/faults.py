"""The faults of the icons on a page, from the observations of a browser."""

from __future__ import annotations

import io
from collections.abc import Iterator, Mapping, Sequence
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from oddpeg.font.read.glyphs import codepoints
from oddpeg.suggestions import did_you_mean
from oddpeg.usage.page.report import PageFault, PagePosition
from oddpeg.usage.page.visit import Seen, Visit

_CLIPPED = 0.9  # the share of its box that an element shows at least
_DIFFERENT = 8  # of 255: what two pixels differ by at least
_CONTROLS = frozenset(("button", "link", "menuitem", "tab", "checkbox", "radio", "switch", "option"))

Pixels = NDArray[np.int16]


class Expectation(NamedTuple):
    """The project's font: its family, the icons by codepoint, the base class, and what its files are called."""

    family: str
    names: Mapping[int, str]
    base: str
    stem: str


class Judge:
    """The search for faults on one visited page."""

    def __init__(self, visit: Visit, expected: Expectation) -> None:
        self._visit, self._expected = visit, expected
        self._before, self._after = (_pixels(png) for png in visit.pictures)
        self._characters: set[int] = set()
        for data in visit.font_data:
            try:
                self._characters |= codepoints(data)
            except ValueError:
                continue  # the browser refused it, too
        self._loads = "loaded" in visit.faces

    def faults(self) -> list[PageFault]:
        """Return the faults, in order of the page."""
        found = [fault for seen in self._visit.seen for fault in self._of(seen)]
        return [*found, *self._unnamed()]

    def _of(self, seen: Seen) -> Iterator[PageFault]:
        facts = seen.facts
        if facts["hidden"]:
            return
        if not facts["text"]:
            yield self._without_character(seen)
        elif not facts["ours"]:
            without = f"give the element the class {self._expected.base}"
            cure = "remove the rule that changes its family" if facts["base"] else without
            yield self._fault(seen, "page-other-family", f"is drawn in {facts['family'][:100]}", cure)
        elif facts["wanted"] and facts["text"] != [facts["wanted"]]:
            shown = " ".join(f"U+{code:04X}" for code in facts["text"][:4])
            cure = "one element shows one icon; look for a rule that sets content, or a second icon's class"
            yield self._fault(seen, "page-other-character", f"shows {shown}, not U+{facts['wanted']:04X}", cure)
        elif fault := self._font(seen):
            yield fault
        elif not facts["size"] or 0 in facts["box"][2:]:
            cure = "give it a font-size, and a box that is not 0 pixels wide or high"
            yield self._fault(seen, "page-no-size", f"is {facts['size']:g} px large and has no area", cure)
        elif facts["shown"] < _CLIPPED:
            cure = "make the box that clips it larger, or the icon smaller"
            yield self._fault(seen, "page-clipped", f"only {facts['shown']:.0%} of its box shows", cure)
        elif self._paints_nothing(facts["box"]):
            yield self._unseen(seen)

    def _without_character(self, seen: Seen) -> PageFault:
        sheets = [one for one in self._visit.requests if one.kind == "Stylesheet" and one.problem]
        if sheets:
            text, cure = (
                f"no rule gives it a character: {sheets[0].url} failed, {sheets[0].problem}",
                "correct its link",
            )
        elif seen.facts["icon"]:
            text, cure = "no rule gives it a character", "load the delivered stylesheet on this page"
        elif word := seen.facts["word"].partition("-")[2]:
            text, cure = f"there is no icon {word[:100]!r}", "draw it, or correct the name"
            cure = did_you_mean(word, self._expected.names.values(), cure, 1)
        else:
            text, cure = "it has no icon", "add the class of an icon, or a name"
        return self._fault(seen, "page-no-character", text, cure)

    def _font(self, seen: Seen) -> PageFault | None:
        """Return the fault of an element that the font does not draw."""
        missing = [code for code in seen.facts["text"] if code > 0x7F and code not in self._characters]
        others = [name for name in seen.fonts if not name.startswith("*")]
        if not others and not (missing and self._characters and seen.fonts):
            return None
        if self._loads and missing and self._characters:
            code = missing[0]
            cure = "the font of this page is another build, or holds fewer icons: deliver and load the current one"
            return self._fault(seen, "page-no-glyph", f"the font has no glyph for U+{code:04X}", cure)
        drawn = others[0] if others else "another font"
        why, cure = self._why_no_font()
        return self._fault(seen, "page-fallback", f"is drawn with {drawn}: {why}", cure)

    def _why_no_font(self) -> tuple[str, str]:
        """Return why the family's font is not there, and the cure."""
        visit = self._visit
        ours = [one for one in visit.requests if one.kind == "Font" and self._expected.stem in one.url]
        fonts = ours or [one for one in visit.requests if one.kind == "Font"]
        if not visit.faces:
            sheets = [one for one in visit.requests if one.kind == "Stylesheet" and one.problem]
            if sheets:
                return (
                    f"no stylesheet with its @font-face: {sheets[0].url} failed, {sheets[0].problem}",
                    "correct its link",
                )
            return f"no @font-face on this page names {self._expected.family}", "load the delivered stylesheet"
        failed = next((one for one in fonts if one.problem), None)
        if failed:
            return f"{failed.url} failed, {failed.problem}", _font_cure(failed.problem)
        said = next((text for text in visit.messages if "font" in text.lower()), "")
        if "error" in visit.faces and fonts:
            kind = fonts[0].mime or "no type"
            return (
                f"{fonts[0].url} is no font that the browser accepts ({kind}; {said})",
                "deliver the file again, unmodified",
            )
        if "error" in visit.faces:
            return f"its font is not accepted ({said or 'no reason given'})", "correct the address in @font-face"
        if "loading" in visit.faces:
            return "its font is still loading", "look for a server that does not answer"
        return "no rule of the page loads its font at this weight", "look at font-weight, and at unicode-range"

    def _paints_nothing(self, box: Sequence[float]) -> bool:
        """Return whether the page looks the same without the element's characters."""
        area = _area(box, self._before.shape)
        if area is None:
            return False  # beyond the part that was looked at
        return bool(np.abs(self._before[area] - self._after[area]).max(initial=0) < _DIFFERENT)

    def _unseen(self, seen: Seen) -> PageFault:
        area = _area(seen.facts["box"], self._before.shape)
        pixels = self._before[area] if area else self._before[:0]
        colour = np.array(_rgb(seen.facts["colour"]))
        plain = bool(pixels.size) and bool(np.abs(pixels - colour).max() < _DIFFERENT)
        if plain:
            text, cure = f"has the colour of its ground, {seen.facts['colour']}", "give it another colour"
            return self._fault(seen, "page-same-colour", text, cure)
        cure = "look for an element above it, a clip-path, or an indent that moves it away"
        return self._fault(seen, "page-covered", "paints no pixel where it stands", cure)

    # -- assistive technology ---------------------------------------------------------------------

    def _unnamed(self) -> Iterator[PageFault]:
        """Yield controls whose only content is an icon, without a name, and characters that are read out."""
        nodes = {node["nodeId"]: node for node in self._visit.accessible}
        by_element = {seen.node: seen for seen in self._visit.seen if not seen.facts["hidden"]}
        for node in nodes.values():
            if node.get("ignored"):
                continue
            name, role = _value(node, "name"), _value(node, "role")
            inside = [by_element[one] for one in _elements_in(node, nodes) if one in by_element]
            private = name != "" and all(ord(letter) in self._expected.names or letter.isspace() for letter in name)
            if role in _CONTROLS and inside and (not name.strip() or private):
                cure = "give the control a text or an aria-label that says what it does"
                yield self._fault(inside[0], "page-control-unnamed", f"is all that a {role} says", cure)
            elif role == "StaticText" and private and not self._in_control(node, nodes):
                owner = next((by_element[one] for one in _owners(node, nodes) if one in by_element), None)
                if owner:
                    cure = 'add aria-hidden="true", or role="img" and an aria-label'
                    yield self._fault(owner, "page-announced", "is read out as a character without a name", cure)

    def _in_control(self, node: Mapping[str, Any], nodes: Mapping[str, Mapping[str, Any]]) -> bool:
        """Return whether a text is in a control, which is reported itself."""
        at: Mapping[str, Any] | None = node
        while at is not None:
            if _value(at, "role") in _CONTROLS:
                return True
            at = nodes.get(at.get("parentId", ""))
        return False

    def _fault(self, seen: Seen, code: str, text: str, cure: str) -> PageFault:
        facts = seen.facts
        known = self._expected.names.get(facts["text"][0], "") if len(facts["text"]) == 1 else ""
        return PageFault(
            code, text, cure, facts["selector"], facts["icon"] or known, PagePosition(*map(float, facts["box"]))
        )


def _font_cure(problem: str) -> str:
    if "CORS" in problem:
        return "serve it from the page's own origin, or with Access-Control-Allow-Origin"
    if "Content-Security-Policy" in problem:
        return "allow the origin of the font in font-src"
    if "not connected to" in problem:
        return "if that is meant, allow the origin: --allow ORIGIN"
    return "correct the address in @font-face, or deliver the font there"


def _value(node: Mapping[str, Any], key: str) -> str:
    return str(node.get(key, {}).get("value", ""))


def _elements_in(node: Mapping[str, Any], nodes: Mapping[str, Mapping[str, Any]]) -> Iterator[int]:
    """Yield the numbers of the elements in a part of the accessibility tree, the node's own first."""
    waiting, known = [node], set()
    while waiting:
        one = waiting.pop()
        if one["nodeId"] in known:
            continue
        known.add(one["nodeId"])
        if "backendDOMNodeId" in one:
            yield one["backendDOMNodeId"]
        waiting += [nodes[number] for number in reversed(one.get("childIds", [])) if number in nodes]


def _owners(node: Mapping[str, Any], nodes: Mapping[str, Mapping[str, Any]]) -> Iterator[int]:
    """Yield the numbers of a node's element and of the elements around it."""
    at: Mapping[str, Any] | None = node
    while at is not None:
        if "backendDOMNodeId" in at:
            yield at["backendDOMNodeId"]
        at = nodes.get(at.get("parentId", ""))


def _pixels(png: bytes) -> Pixels:
    with Image.open(io.BytesIO(png), formats=["PNG"]) as image:
        return np.asarray(image.convert("RGB")).astype(np.int16)


def _area(box: Sequence[float], shape: Sequence[int]) -> tuple[slice, slice] | None:
    """Return the pixels of a box, a pixel wider all around; None where it lies outside of a picture."""
    left, top, width, height = box
    rows = slice(max(int(top) - 1, 0), min(int(top + height) + 2, shape[0]))
    columns = slice(max(int(left) - 1, 0), min(int(left + width) + 2, shape[1]))
    return (rows, columns) if rows.start < rows.stop and columns.start < columns.stop else None


def _rgb(colour: str) -> tuple[float, ...]:
    """Return the channels of a computed colour, 0 to 255; far outside where it is written in another way."""
    numbers = colour.partition("(")[2].rstrip(")").replace(",", " ").split("/")[0].split()[:3]
    try:
        return tuple(float(number) for number in numbers) if colour.startswith("rgb") else (-999.0,) * 3
    except ValueError:
        return (-999.0,) * 3
