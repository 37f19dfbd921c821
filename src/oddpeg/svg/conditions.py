"""Conditions of style rules: `@media` for a screen of the drawing's size, and `@supports`.

Source: Media Queries 4 §2 and §3, CSS Conditional 3 §6. A query that is not understood does not hold.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING, Any, NamedTuple

from oddpeg.svg.properties import PROPERTIES, UNSEEN, WARNED, valid_value
from oddpeg.svg.units import length, numbers
from oddpeg.svg.values import split_at_commas
from oddpeg.svg.viewport import view_box

if TYPE_CHECKING:
    from lxml import etree

_DEEPEST = 16  # brackets in brackets
# by feature: the value on a screen that nothing is known about, where an icon is drawn
_FEATURES = {
    "any-hover": "hover", "any-pointer": "fine", "color-gamut": "srgb", "dynamic-range": "standard",
    "forced-colors": "none", "grid": "0", "hover": "hover", "inverted-colors": "none", "monochrome": "0",
    "pointer": "fine",
    "prefers-color-scheme": "light", "prefers-contrast": "no-preference", "prefers-reduced-motion": "no-preference",
    "prefers-reduced-transparency": "no-preference", "scripting": "none", "update": "fast",
}  # fmt: skip


class Screen(NamedTuple):
    """The area that a drawing is shown in, in px."""

    width: float
    height: float

    @classmethod
    def of(cls, root: etree._Element) -> Screen:
        """Return the size that a drawing has without a page around it (SVG 2 §8.2)."""
        box = view_box(root)
        width, height = (box.width, box.height) if box else (300.0, 150.0)
        return cls(length(root.get("width"), width) or width, length(root.get("height"), height) or height)


def media_applies(prelude: Sequence[Any], screen: Screen) -> bool:
    """Return whether one of the media queries in a list holds."""
    tokens = [token for token in prelude if token.type not in ("whitespace", "comment")]
    queries = split_at_commas(tokens)
    return not tokens or any(_query(query, screen) for query in queries)


def _query(tokens: Sequence[Any], screen: Screen) -> bool:
    """Return whether a media query holds: a type, conditions, or both."""
    words = [token.lower_value if token.type == "ident" else "" for token in tokens]
    negated = words[:1] == ["not"] and len(words) > 1 and words[1] != ""
    start = 1 if negated or words[:1] == ["only"] else 0
    if start < len(words) and words[start]:
        holds = words[start] in ("all", "screen")
        rest = tokens[start + 1 :]
        if rest:
            inner = _condition(rest[1:], lambda block: _feature(block, screen)) if words[start + 1] == "and" else None
            holds = holds and bool(inner)
        return holds != negated
    return bool(_condition(tokens, lambda block: _feature(block, screen)))


def supports(prelude: Sequence[Any]) -> bool:
    """Return whether the condition of `@supports` holds: declarations of properties whose values are valid."""
    tokens = [token for token in prelude if token.type not in ("whitespace", "comment")]
    return bool(_condition(tokens, _is_supported))


def _condition(tokens: Sequence[Any], leaf: Callable[[Any], bool | None], depth: int = _DEEPEST) -> bool | None:
    """Return the value of terms joined by `and` or `or`; None where it is not understood."""
    words = [token.lower_value if token.type == "ident" else "" for token in tokens]
    if depth <= 0 or not tokens:
        return None
    if words[0] == "not":
        inner = _term(tokens[1], leaf, depth) if len(tokens) == 2 else None
        return None if inner is None else not inner
    joints = set(words[1::2])
    if len(tokens) % 2 == 0 or not (joints <= {"and"} or joints <= {"or"}):
        return None
    values = [_term(token, leaf, depth) for token in tokens[::2]]
    if joints <= {"and"}:
        return False if False in values else None if None in values else True
    return True if True in values else None if None in values else False


def _term(token: Any, leaf: Callable[[Any], bool | None], depth: int) -> bool | None:
    if token.type != "() block":
        return leaf(token)
    inside = [one for one in token.content if one.type not in ("whitespace", "comment")]
    nested = bool(inside) and (
        inside[0].type == "() block" or (inside[0].type == "ident" and inside[0].lower_value == "not")
    )
    return _condition(inside, leaf, depth - 1) if nested else leaf(token)


def _is_supported(token: Any) -> bool | None:
    import tinycss2

    if token.type != "() block":
        return None
    declaration = tinycss2.parse_one_declaration(token.content, skip_comments=True)
    if declaration.type != "declaration":
        return None
    name, text = declaration.lower_name, tinycss2.serialize(declaration.value).strip()
    if name in PROPERTIES:
        return valid_value(name, text, False) is not None
    return name.startswith("--") or name in WARNED or name in UNSEEN


def _feature(token: Any, screen: Screen) -> bool | None:
    """Return whether a media feature in brackets has a value; None for a feature that is not known."""
    import tinycss2

    if token.type != "() block":
        return None
    text: str = tinycss2.serialize(token.content).lower()
    name, wanted = (part.strip() for part in (text.partition(":")[0], text.partition(":")[2]))
    if name in _FEATURES:
        return _FEATURES[name] == wanted if wanted else _FEATURES[name] not in ("none", "0", "no-preference")
    kind, _, side = name.partition("-") if name[:4] in ("min-", "max-") else ("", "", name)
    if side == "orientation":
        return wanted == ("portrait" if screen.height >= screen.width else "landscape")
    actual = {"width": screen.width, "height": screen.height, "aspect-ratio": screen.width / screen.height}.get(side)
    if actual is None:
        return None
    if not wanted:
        return actual > 0
    parts = numbers(wanted)
    value = parts[0] / (parts[1] if len(parts) > 1 else 1.0) if side == "aspect-ratio" and parts else length(wanted)
    if value is None:
        return None
    return actual >= value if kind == "min" else actual <= value if kind == "max" else abs(actual - value) < 1e-9
