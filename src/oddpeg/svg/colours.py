"""Colours as CSS writes them → red, green, blue, alpha.

Covers CSS Color 4 (through tinycss2; spaces are converted by coloraide) and of CSS Color 5 `color-mix()`,
`light-dark()` and relative colours.
"""

from __future__ import annotations

import re
from typing import Any, NamedTuple

from oddpeg.svg.values import split_at_commas, work_out

_LONGEST = 2000  # characters of a colour
_DEEPEST = 8  # colours in colours
_CHANNELS = {
    "rgb": ("srgb", "rgb"), "rgba": ("srgb", "rgb"), "hsl": ("hsl", "hsl"), "hsla": ("hsl", "hsl"),
    "hwb": ("hwb", "hwb"), "lab": ("lab", "lab"), "lch": ("lch", "lch"), "oklab": ("oklab", "lab"),
    "oklch": ("oklch", "lch"),
}  # fmt: skip  # by function: the space it names, and the letters of its channels


class Rgba(NamedTuple):
    """A colour in sRGB, each channel 0 to 1; red, green and blue lie outside of that where no screen shows them."""

    red: float
    green: float
    blue: float
    alpha: float


def parse_colour(text: str) -> Rgba | None:
    """Return a colour, None for other texts, and for colours relative to an unknown one."""
    if len(text) > _LONGEST:
        return None
    try:
        if plain := _plain_srgb(text):
            return plain
        parsed = _parsed(text, _DEEPEST)
        if parsed is None:
            return None
        red, green, blue = (0.0 if v != v else float(v) for v in parsed.convert("srgb").coords())
        alpha = float(parsed.alpha(nans=False))
    except (ValueError, ArithmeticError, RecursionError, TypeError):
        return None
    return Rgba(red, green, blue, alpha)


def _plain_srgb(text: str) -> Rgba | None:
    """Return a colour that needs no conversion between spaces, as most do; None for all others."""
    from tinycss2.color4 import parse_color

    parsed = parse_color(text)
    if parsed is None or isinstance(parsed, str) or parsed.space not in ("srgb", "hsl", "hwb"):
        return None
    red, green, blue = (0.0 if v != v else float(v) for v in parsed.to("srgb").coordinates)
    return Rgba(red, green, blue, float(parsed.alpha))


def _parsed(text: str, depth: int) -> Any:
    """Return a colour of coloraide, or None."""
    import tinycss2
    from coloraide import Color
    from tinycss2.color5 import parse_color

    if depth <= 0:
        return None
    tokens = [t for t in tinycss2.parse_component_value_list(text, skip_comments=True) if t.type != "whitespace"]
    if len(tokens) != 1:
        return None
    token = tokens[0]
    if token.type == "function" and token.lower_name == "color-mix":
        return _mixed(token, depth - 1)
    if token.type == "function" and _starts_with(token.arguments, "from"):
        return _relative(token, depth - 1)
    if token.type == "function" and token.lower_name == "light-dark":
        return _parsed(tinycss2.serialize(split_at_commas(token.arguments)[0]), depth - 1)
    parsed = parse_color(_without_calc(token))
    if parsed is None or isinstance(parsed, str):
        return None
    coords = [float("nan") if v is None else float(v) for v in parsed.coordinates]
    if parsed.space in ("hsl", "hwb"):
        coords = [float(v) for v in parsed.to("srgb").coordinates]
        return Color("srgb", coords, float(parsed.alpha))
    return Color(_space(parsed.space), coords, float(parsed.alpha))


def _space(name: str) -> str:
    return {"xyz": "xyz-d65"}.get(name, name)


def _starts_with(tokens: list[Any], word: str) -> bool:
    first = next((t for t in tokens if t.type not in ("whitespace", "comment")), None)
    return first is not None and first.type == "ident" and first.lower_value == word


def _without_calc(token: Any) -> str:
    """Return a colour's text with its math functions computed."""
    import tinycss2

    if token.type != "function":
        return str(tinycss2.serialize([token]))
    parts = []
    for inner in token.arguments:
        value = work_out(tinycss2.serialize([inner]), _plain) if inner.type == "function" else None
        parts.append(tinycss2.serialize([inner]) if value is None else f"{value:.9g}")
    return f"{token.name}({''.join(parts)})"


def _plain(value: float, unit: str) -> float | None:
    return value if unit == "" else None


def _mixed(token: Any, depth: int) -> Any:
    """Return color-mix(in SPACE [HUE hue], COLOUR [SHARE%], COLOUR [SHARE%]) (CSS Color 5 §3)."""
    import tinycss2

    parts = split_at_commas(token.arguments)
    if len(parts) != 3 or not _starts_with(parts[0], "in"):
        return None
    how = [t.lower_value for t in parts[0] if t.type == "ident"][1:]
    colours, shares = [], []
    for part in parts[1:]:
        shares.append(next((float(t.value) / 100 for t in part if t.type == "percentage"), None))
        colours.append(_parsed(tinycss2.serialize([t for t in part if t.type != "percentage"]), depth))
    if not how or any(colour is None for colour in colours):
        return None
    first, second = shares
    if first is None:
        first = 0.5 if second is None else 1 - second
    if second is None:
        second = 1 - first
    if first < 0 or second < 0 or first + second <= 0:
        return None
    hue = how[1] if len(how) > 1 and how[1] in ("shorter", "longer", "increasing", "decreasing") else "shorter"
    mixed = colours[0].mix(colours[1], second / (first + second), space=_space(how[0]), hue=hue, out_space="srgb")
    mixed["alpha"] = mixed.alpha(nans=False) * min(first + second, 1.0)
    return mixed


def _relative(token: Any, depth: int) -> Any:
    """Return a colour made from another one's channels, like rgb(from teal r g calc(b * 2) / 50%) (CSS Color 5 §4)."""
    import tinycss2
    from coloraide import Color

    parts = [t for t in token.arguments if t.type not in ("whitespace", "comment")][1:]
    name = token.lower_name
    origin = _parsed(tinycss2.serialize(parts[:1]), depth) if parts else None
    if origin is None:
        return None
    rest = parts[1:]
    if name == "color" and rest and rest[0].type == "ident":
        space = _space(rest.pop(0).lower_value)
        letters = "xyz" if space.startswith("xyz") else "rgb"
    elif name in _CHANNELS:
        space, letters = _CHANNELS[name]
    else:
        return None
    source = origin.convert(space)
    # channels of rgb() run to 255, the shares of hsl() and hwb() to 100
    units = [255.0] * 3 if name.startswith("rgb") else [1.0, 100.0, 100.0] if space in ("hsl", "hwb") else [1.0] * 3
    known = {k: v * u for k, v, u in zip(letters, source.coords(nans=False), units, strict=True)}
    known["alpha"] = source.alpha(nans=False)
    slash = next((i for i, t in enumerate(rest) if t.type == "literal" and t.value == "/"), len(rest))
    whole = {"rgb": 255.0, "rgba": 255.0}.get(name, 100.0 if space in ("hsl", "hwb", "lab", "lch") else 1.0)
    values = [_channel(t, known, whole) for t in rest[:slash]]
    alpha = _channel(rest[slash + 1], known, 1.0) if slash + 1 < len(rest) else known["alpha"]
    if len(values) != 3 or alpha is None or any(v is None for v in values):
        return None
    return Color(space, [v / u for v, u in zip(values, units, strict=True) if v is not None], min(max(alpha, 0.0), 1.0))


def _channel(token: Any, known: dict[str, float], whole: float) -> float | None:
    """Return one channel of a relative colour. known: the other colour's channels; whole: the value of 100 %."""
    import tinycss2

    if token.type == "ident" and token.lower_value == "none":
        return 0.0
    text = str(tinycss2.serialize([token]))
    for word, value in known.items():
        text = re.sub(rf"(?<![\w-]){word}(?![\w-])", f"{value:.9f}", text)
    return work_out(text, lambda v, unit: v * whole / 100 if unit == "%" else v if unit in ("", "deg") else None)
