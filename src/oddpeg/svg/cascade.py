"""Which value each style property has on an element.

Covers presentation attributes, `style`, `<style>` sheets, specificity, `!important`, inheritance (SVG 2 §6, CSS
Cascade 4 §6, selectors by cssselect2).
"""

from __future__ import annotations

import re
from typing import TYPE_CHECKING, Any

from oddpeg.svg.document import SVG

if TYPE_CHECKING:
    from lxml import etree

INHERITED = frozenset(
    [
        "fill",
        "fill-rule",
        "fill-opacity",
        "stroke",
        "stroke-width",
        "stroke-linecap",
        "stroke-linejoin",
        "stroke-miterlimit",
        "stroke-dasharray",
        "stroke-dashoffset",
        "stroke-opacity",
        "color",
        "visibility",
        "clip-rule",
        "paint-order",
        "font-size",
        "marker",
        "marker-start",
        "marker-mid",
        "marker-end",
    ]
)
# geometry properties (SVG 2 §7), which are attributes of their own and no presentation attributes
_GEOMETRY = frozenset(("x", "y", "width", "height", "rx", "ry", "cx", "cy", "r", "d"))
OWN = frozenset(
    [
        "display",
        "opacity",
        "clip-path",
        "mask",
        "filter",
        "vector-effect",
        "overflow",
        "transform",
        "transform-origin",
        "transform-box",
        "marker",
        *_GEOMETRY,
    ]
)
_BY_ATTRIBUTE = (INHERITED | OWN) - _GEOMETRY - {"transform-box", "marker"}
_SIMPLE = re.compile(r"""[^"'\\]*""")
_DEFAULTING = frozenset(("inherit", "unset", "", "initial", "revert"))
_IMPORTANT = re.compile(r"!\s*important\s*$", re.I)

Declarations = list[tuple[str, str, bool]]


def parse_declarations(text: str) -> Declarations:
    """Return (property, value, important) for each declaration of a `style` attribute."""
    if "/*" in text or "url(data" in text or not _SIMPLE.fullmatch(text):
        return _parse_with_library(text)
    found: Declarations = []
    for part in text.split(";"):
        name, colon, value = part.partition(":")
        if not colon:
            continue
        important = "!" in value
        if important:
            value = _IMPORTANT.sub("", value)
        found.append((name.strip().lower(), value.strip(), important))
    return found


def _parse_with_library(content: Any) -> Declarations:
    import tinycss2

    return [
        (item.lower_name, tinycss2.serialize(item.value).strip(), item.important)
        for item in tinycss2.parse_declaration_list(content, skip_comments=True, skip_whitespace=True)
        if item.type == "declaration"
    ]


class Cascade:
    """Answers for every element of one document; `unread` collects at-rules that were passed over."""

    def __init__(self, root: etree._Element) -> None:
        self.unread: set[str] = set()
        self._cache: dict[etree._Element, dict[str, str]] = {}
        self._rules: dict[etree._Element, list[tuple[Any, Declarations]]] = {}
        found = root.iter("style", f"{{{SVG}}}style")
        sheets = [e for e in found if (e.get("type") or "text/css") == "text/css"]
        if sheets:
            self._match_sheets(root, "\n".join("".join(str(part) for part in s.itertext()) for s in sheets))

    def _match_sheets(self, root: etree._Element, text: str) -> None:
        import cssselect2
        import tinycss2

        matcher = cssselect2.Matcher()
        for rule in tinycss2.parse_stylesheet(text, skip_comments=True, skip_whitespace=True):
            if rule.type == "at-rule":
                if rule.lower_at_keyword not in ("charset", "font-face", "namespace"):
                    self.unread.add("@" + rule.lower_at_keyword)
                continue
            if rule.type != "qualified-rule":
                continue
            declarations = _parse_with_library(rule.content)
            try:
                selectors = cssselect2.compile_selector_list(rule.prelude)
            except cssselect2.SelectorError:
                self.unread.add(tinycss2.serialize(rule.prelude).strip())
                continue
            for selector in selectors:
                if selector.pseudo_element is None:
                    matcher.add_selector(selector, declarations)
        for wrapper in cssselect2.ElementWrapper.from_xml_root(root).iter_subtree():
            found = sorted(matcher.match(wrapper), key=lambda hit: (hit[0], hit[1]))
            if found:
                self._rules[wrapper.etree_element] = [(hit[0], hit[3]) for hit in found]

    def declared(self, element: etree._Element) -> dict[str, str]:
        """Return the winning declared value of each property on the element itself."""
        known = self._cache.get(element)
        if known is not None:
            return known
        # lxml's stubs allow bytes here, which never come
        style: dict[str, str] = {k: v for k, v in element.items() if k in _BY_ATTRIBUTE}  # type: ignore[misc]
        rules, own = self._rules.get(element), element.get("style")
        if rules or own:
            declarations = [one for _, several in rules or () for one in several]
            declarations += parse_declarations(own) if own else []
            for late in (False, True):
                style |= {
                    k: v for k, v, important in declarations if important == late and (k in INHERITED or k in OWN)
                }
        self._cache[element] = style
        return style


def inherit(parent: dict[str, str], declared: dict[str, str]) -> dict[str, str]:
    """Return the inherited properties that hold on an element, given its parent's."""
    if not declared:
        return parent
    style = dict(parent)
    for name in INHERITED.intersection(declared):
        value = declared[name]
        word = value.strip().lower()
        if word not in _DEFAULTING:
            style[name] = value
        elif word in ("initial", "revert"):
            style.pop(name, None)
    return style
