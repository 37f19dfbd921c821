"""Which value each style property has on an element.

Covers presentation attributes, `style`, `<style>` sheets, specificity, `!important`, inheritance (SVG 2 §6, CSS
Cascade 4 §6, selectors by cssselect2).
"""

from __future__ import annotations

import contextlib
import copy
import re
from collections.abc import Iterable, Iterator
from typing import TYPE_CHECKING, Any

from oddpeg.diagnostics import Diagnostic, DrawingError
from oddpeg.svg.conditions import Screen, media_applies, supports
from oddpeg.svg.document import SVG, local_name
from oddpeg.svg.properties import BY_ATTRIBUTE, DEFAULTING, INHERITED, KEPT, SHORTHANDS, canonical, valid_value
from oddpeg.svg.units import absolute, computed_font_size

if TYPE_CHECKING:
    from lxml import etree

_SIMPLE = re.compile(r"""[^"'\\]*""")
_DEEPEST_RULE = 8  # conditions in conditions
_IMPORTANT = re.compile(r"!\s*important\s*$", re.I)

MAX_STYLE_WORK = 1_000_000  # selectors times elements; a large drawing has some ten thousand
_LONGEST_SELECTOR = 2000  # characters, and
_DEEPEST_SELECTOR = 16  # brackets in brackets, or parts in a row

_CONTEXT = re.compile(r"[\s>+~:]")  # in a selector that may depend on other elements

Declarations = list[tuple[str, str, bool]]
_FONT_UNITS = re.compile(r"\d(?:em|ex|ch)\b", re.I)
_LENGTHS = frozenset(("stroke-width", "stroke-dasharray", "stroke-dashoffset"))


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
    """The declarations of every element of one document.

    Attributes:
        unread: rules that were skipped.
        ignored: declarations with values that are not valid, by element.
    """

    def __init__(self, root: etree._Element) -> None:
        self.unread: set[str] = set()
        self.ignored: dict[etree._Element, list[tuple[str, str]]] = {}
        self._cache: dict[etree._Element, dict[str, str]] = {}
        self._rules: dict[etree._Element, list[tuple[Any, Declarations]]] = {}
        self._instance_matcher: Any = None  # of the selectors that can match in an instance, where it differs
        self._instances: dict[etree._Element, Cascade] = {}
        elements = root.iter("style", f"{{{SVG}}}style")
        sheets = [e for e in elements if (e.get("type") or "text/css") == "text/css"]
        if sheets:
            self._match_sheets(root, "\n".join("".join(str(part) for part in s.itertext()) for s in sheets))

    def _match_sheets(self, root: etree._Element, text: str) -> None:
        import cssselect2
        import tinycss2

        matcher, inner = cssselect2.Matcher(), cssselect2.Matcher()
        elements, selectors_seen = sum(1 for _ in root.iter()), 0
        sheet = tinycss2.parse_stylesheet(text, skip_comments=True, skip_whitespace=True)
        for rule in self._rules_in(sheet, Screen.of(root), _DEEPEST_RULE):
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
                    if ":root" not in prelude.lower():
                        inner.add_selector(selector, declarations)
            if _CONTEXT.search(prelude):
                self._instance_matcher = inner
        self._apply(matcher, root)

    def _apply(self, matcher: Any, root: etree._Element) -> None:
        """Note the rules of every element in a tree, by rising precedence."""
        import cssselect2

        for wrapper in cssselect2.ElementWrapper.from_xml_root(root).iter_subtree():
            matches = sorted(matcher.match(wrapper), key=lambda hit: (hit[0], hit[1]))
            if matches:
                self._rules[wrapper.etree_element] = [(hit[0], hit[3]) for hit in matches]

    def within(self, target: etree._Element) -> Cascade:
        """Return the declarations in an instance of an element that a `use` makes: there the element is the root of a
        tree of its own, so that selectors do not see its ancestors and siblings (SVG 2 §5.5.2)."""
        if self._instance_matcher is None:
            return self
        if target not in self._instances:
            instance = copy.copy(self)
            instance._cache, instance._rules = {}, {}
            instance._apply(self._instance_matcher, target)
            self._instances[target] = instance
        return self._instances[target]

    def _rules_in(self, sheet: Iterable[Any], screen: Screen, depth: int) -> Iterator[Any]:
        """Yield the style rules of a sheet, with the ones of conditions that hold (CSS Conditional 3)."""
        import tinycss2

        for rule in sheet:
            if rule.type == "qualified-rule":
                yield rule
            elif rule.type == "at-rule":
                name = rule.lower_at_keyword
                if name in ("media", "supports") and rule.content is not None and depth:
                    holds = media_applies(rule.prelude, screen) if name == "media" else supports(rule.prelude)
                    inner = tinycss2.parse_rule_list(rule.content, skip_comments=True, skip_whitespace=True)
                    yield from self._rules_in(inner, screen, depth - 1) if holds else ()
                elif name not in ("charset", "font-face", "namespace"):
                    self.unread.add("@" + name)

    def declared(self, element: etree._Element) -> dict[str, str]:
        """Return the winning declared value of each property on the element itself."""
        known = self._cache.get(element)
        if known is not None:
            return known
        # lxml's stubs allow bytes here, which never come
        style = self._valid(element, ((k, v) for k, v in element.items() if k in BY_ATTRIBUTE), True)  # type: ignore[misc]
        rules, attribute = self._rules.get(element), element.get("style")
        if rules or attribute:
            declarations = [one for _, several in rules or () for one in several]
            declarations += parse_declarations(attribute) if attribute else []
            for late in (False, True):
                wanted = ((canonical(k), v) for k, v, important in declarations if important == late)
                style |= self._valid(element, wanted, False)
        for name in [name for name, value in style.items() if name not in INHERITED and name[:2] != "--"]:
            self._settle(element, style, name)
        self._cache[element] = style
        return style

    def _valid(
        self, element: etree._Element, declarations: Iterable[tuple[str, str]], attribute: bool
    ) -> dict[str, str]:
        """Return the last valid value of each property that is kept. attribute: of presentation attributes."""
        style: dict[str, str] = {}
        for name, text in declarations:
            if name.startswith("--"):
                style[name] = text
            elif name in KEPT:
                value = valid_value(name, text, attribute)
                if value is None:
                    self.ignored.setdefault(element, []).append((name, text))
                else:
                    style |= dict.fromkeys(SHORTHANDS.get(name, (name,)), value)
        return style

    def _settle(self, element: etree._Element, style: dict[str, str], name: str) -> None:
        """Replace the keywords that every property has, for a property that is not inherited (CSS Cascade 5 §7.3)."""
        if style[name] in DEFAULTING:
            del style[name]
        elif style[name] == "inherit":
            parent = element.getparent()
            value = self.declared(parent).get(name) if parent is not None else None
            if value is None and name == "overflow" and (parent is None or not _is_frame(parent)):
                value = "visible"
            if value is None:
                del style[name]
            else:
                style[name] = value


def _is_frame(element: etree._Element) -> bool:
    """Return whether an element cuts its content by default (SVG 2 §3.6)."""
    nested = element.getparent() is not None
    return local_name(element) in ("symbol", "marker", "pattern", "image") or (local_name(element) == "svg" and nested)


def inherit(parent: dict[str, str], declared: dict[str, str]) -> dict[str, str]:
    """Return the inherited properties that hold on an element, given its parent's. Lengths in units of the font are
    computed."""
    if not declared:
        return parent
    style = dict(parent)
    style |= {name: value for name, value in declared.items() if name.startswith("--")}
    for name in INHERITED.intersection(declared):
        value = declared[name]
        if value == "initial":
            style.pop(name, None)
        elif value != "inherit" and value not in DEFAULTING:
            style[name] = value
    if "font-size" in declared and style.get("font-size") != parent.get("font-size"):
        style["font-size"] = f"{computed_font_size(style.get('font-size', 'medium'), size_of_font(parent)):.9g}px"
    for name in _LENGTHS.intersection(declared):
        if name in style and _FONT_UNITS.search(style[name]):
            style[name] = absolute(style[name], size_of_font(style))
    return style


def size_of_font(style: dict[str, str]) -> float:
    """Return the font size in px of an element with these inherited properties."""
    return computed_font_size(style.get("font-size", "medium"), 16.0)
