"""CSS values to compute: `calc()` and other math functions, and variables.

Covers the math functions of CSS Values 4 §10 that SVG lengths and numbers need, and `var()` of CSS Variables 1.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from typing import Any

from oddpeg.diagnostics import Diagnostic, DrawingError

MAX_VALUE = 20_000  # characters of a value that is computed
MAX_SUBSTITUTIONS = 20_000  # of variables, in one drawing
_DEEPEST = 32  # brackets in brackets, and variables in variables

Measure = Callable[[float, str], float | None]  # (value, unit) → number; unit "" for none, "%" for a share


def work_out(text: str, measure: Measure) -> float | None:
    """Return the value of a math function, None where it is invalid. measure: the value of a number with a unit."""
    import tinycss2

    if len(text) > MAX_VALUE:
        return None
    tokens = [t for t in tinycss2.parse_component_value_list(text, skip_comments=True) if t.type != "whitespace"]
    if len(tokens) != 1:
        return None
    try:
        return _finite(_term(tokens[0], measure, _DEEPEST))
    except (ArithmeticError, ValueError):
        return None


def _finite(value: float | None) -> float | None:
    return value if value is not None and math.isfinite(value) else None


def _term(token: Any, measure: Measure, depth: int) -> float | None:
    if depth <= 0:
        return None
    match token.type:
        case "number":
            return measure(float(token.value), "")
        case "percentage":
            return measure(float(token.value), "%")
        case "dimension":
            return measure(float(token.value), token.lower_unit)
        case "ident" if token.lower_value in ("pi", "e"):
            return math.pi if token.lower_value == "pi" else math.e
        case "() block":
            return _sum(token.content, measure, depth - 1)
        case "function":
            return _function(token, measure, depth - 1)
        case _:
            return None


def _function(token: Any, measure: Measure, depth: int) -> float | None:
    values = [_sum(part, measure, depth) for part in split_at_commas(token.arguments)]
    if any(value is None for value in values):
        return None
    known = [value for value in values if value is not None]
    match token.lower_name, len(known):
        case "calc", 1:
            return known[0]
        case (("min" | "max"), count) if count:
            return min(known) if token.lower_name == "min" else max(known)
        case "clamp", 3:
            return max(known[0], min(known[1], known[2]))
        case "abs", 1:
            return abs(known[0])
        case "sign", 1:
            return math.copysign(1.0, known[0]) if known[0] else 0.0
        case "sqrt", 1:
            return math.sqrt(known[0])
        case "hypot", count if count:
            return math.hypot(*known)
        case _:
            return None


def split_at_commas(tokens: Sequence[Any]) -> list[list[Any]]:
    """Return the arguments of a function: lists of component values."""
    parts: list[list[Any]] = [[]]
    for token in tokens:
        if token.type == "literal" and token.value == ",":
            parts.append([])
        else:
            parts[-1].append(token)
    return parts


def _sum(tokens: Sequence[Any], measure: Measure, depth: int) -> float | None:
    """Return the value of terms joined by + - * /, products first."""
    items = [token for token in tokens if token.type not in ("whitespace", "comment")]
    if len(items) % 2 == 0:
        return None
    total, product = 0.0, _term(items[0], measure, depth)
    for sign, token in zip(items[1::2], items[2::2], strict=True):
        value = _term(token, measure, depth)
        if value is None or product is None or sign.type != "literal":
            return None
        match sign.value:
            case "*":
                product *= value
            case "/":
                product /= value
            case "+" | "-":
                total, product = total + product, value if sign.value == "+" else -value
            case _:
                return None
    return None if product is None else total + product


class Variables:
    """Replaces `var()` in the values of one drawing; how often in all is limited, since variables may double each
    other."""

    def __init__(self) -> None:
        self._left = MAX_SUBSTITUTIONS

    def resolve(self, text: str, known: Mapping[str, str], depth: int = _DEEPEST) -> str | None:
        """Return a value with every `var()` in it replaced, None where one has neither a value nor a fallback, or they
        lead back to themselves (CSS Variables 1 §3). Raise `DrawingError` where there are too many."""
        import tinycss2

        if depth <= 0 or len(text) > MAX_VALUE:
            return None
        tokens = tinycss2.parse_component_value_list(text, skip_comments=True)
        return self._joined([self._token(token, known, depth - 1) for token in tokens])

    def _token(self, token: Any, known: Mapping[str, str], depth: int) -> str | None:
        import tinycss2

        if token.type == "function" and token.lower_name == "var":
            self._left -= 1
            if self._left < 0:
                message, cure = (
                    "replaces more style variables than any drawing needs",
                    "write their values in their places",
                )
                raise DrawingError(Diagnostic("runaway", message, cure))
            name, *fallback = split_at_commas(token.arguments)
            key = tinycss2.serialize(name).strip()
            if key in known:
                return self.resolve(known[key], known, depth)
            rest = ",".join(map(tinycss2.serialize, fallback))
            return self.resolve(rest, known, depth) if fallback else None
        inner = {"function": "arguments", "() block": "content"}.get(token.type)
        if inner is None:
            return str(token.serialize())
        if depth <= 0:
            return None
        text = self._joined([self._token(one, known, depth - 1) for one in getattr(token, inner)])
        if text is None:
            return None
        return f"{token.name}({text})" if token.type == "function" else f"({text})"

    @staticmethod
    def _joined(parts: Sequence[str | None]) -> str | None:
        whole = [part for part in parts if part is not None]
        return "".join(whole) if len(whole) == len(parts) else None
