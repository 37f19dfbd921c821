"""Which value each style property has on an element.

Covers presentation attributes, `style`, `<style>` sheets, specificity, `!important`, inheritance (SVG 2 §6, CSS
Cascade 4 §6, selectors by cssselect2).
"""

from __future__ import annotations

import contextlib
import re
from collections.abc import Iterable
from typing import TYPE_CHECKING, Any

from oddpeg.diagnostics import Diagnostic, DrawingError
from oddpeg.svg.document import SVG
from oddpeg.svg.properties import BY_ATTRIBUTE, INHERITED, KEPT, canonical

if TYPE_CHECKING:
    from lxml import etree

_SIMPLE = re.compile(r"""[^"'\\]*""")
_DEFAULTING = frozenset(("inherit", "unset", "", "initial", "revert"))
_IMPORTANT = re.compile(r"!\s*important\s*$", re.I)

MAX_STYLE_WORK = 1_000_000  # selectors times elements; a large drawing has some ten thousand
_LONGEST_SELECTOR = 2000  # characters, and
_DEEPEST_SELECTOR = 16  # brackets in brackets, or parts in a row

Declarations = list[tuple[str, str, bool]]


def parse_declarations(text: str) -> Declarations:
    """Return (property, value, important) for each declaration of a `style` attribute."""
    if "/*" in text or "url(data" in text or not _SIMPLE.fullmatch(text):
        return _parse_with_library(text)
    declarations: Declarations = []
    for part in text.split(";"):
        name, colon, value = part.partition(":")
        if not colon:
            continue
        important = "!" in value
        if important:
            value = _IMPORTANT.sub("", value)
        declarations.append((name.strip().lower(), value.strip(), important))
    return declarations


def _parse_with_library(content: Any) -> Declarations:
    import tinycss2

    return _declarations(tinycss2.parse_declaration_list(content, skip_comments=True, skip_whitespace=True))


def _declarations(items: Iterable[Any]) -> Declarations:
    import tinycss2

    declarations: Declarations = []
    for item in items:
        with contextlib.suppress(RecursionError):  # brackets in brackets by the thousand: no value of any property
            if item.type == "declaration":
                declarations.append((item.lower_name, tinycss2.serialize(item.value).strip(), item.important))
    return declarations


def _is_excessive(selector: str) -> bool:
    """Return whether a selector is longer or deeper than any drawing needs, and than can be matched in no time."""
    deepest = depth = 0
    for character in selector[: _LONGEST_SELECTOR + 1]:
        depth += (character == "(") - (character == ")")
        deepest = max(deepest, depth)
    parts = max(len(re.split(r"[\s>+~]+", one.strip())) for one in selector.split(","))
    return len(selector) > _LONGEST_SELECTOR or deepest > _DEEPEST_SELECTOR or parts > 4 * _DEEPEST_SELECTOR


class Cascade:
    """The declarations of every element of one document; `unread` collects skipped at-rules."""

    def __init__(self, root: etree._Element) -> None:
        self.unread: set[str] = set()
        self._cache: dict[etree._Element, dict[str, str]] = {}
        self._rules: dict[etree._Element, list[tuple[Any, Declarations]]] = {}
        elements = root.iter("style", f"{{{SVG}}}style")
        sheets = [e for e in elements if (e.get("type") or "text/css") == "text/css"]
        if sheets:
            self._match_sheets(root, "\n".join("".join(str(part) for part in s.itertext()) for s in sheets))

    def _match_sheets(self, root: etree._Element, text: str) -> None:
        import cssselect2
        import tinycss2

        matcher = cssselect2.Matcher()
        elements, selectors_seen = sum(1 for _ in root.iter()), 0
        for rule in tinycss2.parse_stylesheet(text, skip_comments=True, skip_whitespace=True):
            if rule.type == "at-rule":
                if rule.lower_at_keyword not in ("charset", "font-face", "namespace"):
                    self.unread.add("@" + rule.lower_at_keyword)
                continue
            if rule.type != "qualified-rule":
                continue
            items = tinycss2.parse_blocks_contents(rule.content, skip_comments=True, skip_whitespace=True)
            declarations, prelude = _declarations(items), "one nested too deeply"
            try:
                prelude = tinycss2.serialize(rule.prelude).strip()
                if _is_excessive(prelude):
                    raise cssselect2.SelectorError
                selectors = cssselect2.compile_selector_list(rule.prelude)
            except (cssselect2.SelectorError, RecursionError):
                self.unread.add(prelude[:80])
                continue
            if any(item.type in ("at-rule", "qualified-rule") for item in items):
                self.unread.add(f"rules within {prelude[:80]}")
            selectors_seen += len(selectors) * (elements if ":has(" in prelude else 1)
            if selectors_seen * elements > MAX_STYLE_WORK:
                message = f"has more style rules than can be matched with its {elements:,} elements"
                raise DrawingError(
                    Diagnostic("runaway", message, "simplify the drawing, or write its styles as attributes")
                )
            for selector in selectors:
                if selector.pseudo_element is None:
                    matcher.add_selector(selector, declarations)
        for wrapper in cssselect2.ElementWrapper.from_xml_root(root).iter_subtree():
            matches = sorted(matcher.match(wrapper), key=lambda hit: (hit[0], hit[1]))
            if matches:
                self._rules[wrapper.etree_element] = [(hit[0], hit[3]) for hit in matches]

    def declared(self, element: etree._Element) -> dict[str, str]:
        """Return the winning declared value of each property on the element itself."""
        known = self._cache.get(element)
        if known is not None:
            return known
        # lxml's stubs allow bytes here, which never come
        style: dict[str, str] = {k: v for k, v in element.items() if k in BY_ATTRIBUTE}  # type: ignore[misc]
        rules, attribute = self._rules.get(element), element.get("style")
        if rules or attribute:
            declarations = [one for _, several in rules or () for one in several]
            declarations += parse_declarations(attribute) if attribute else []
            for late in (False, True):
                style |= {
                    name: v
                    for k, v, important in declarations
                    for name in [canonical(k)]
                    if important == late and (name in KEPT or name.startswith("--"))
                }
        self._cache[element] = style
        return style


def inherit(parent: dict[str, str], declared: dict[str, str]) -> dict[str, str]:
    """Return the inherited properties that hold on an element, given its parent's."""
    if not declared:
        return parent
    style = dict(parent)
    style |= {name: value for name, value in declared.items() if name.startswith("--")}
    for name in INHERITED.intersection(declared):
        value = declared[name]
        word = value.strip().lower()
        if word not in _DEFAULTING:
            style[name] = value
        elif word in ("initial", "revert"):
            style.pop(name, None)
    return style
