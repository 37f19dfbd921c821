"""Every property of SVG 2 and CSS that changes the rendering of an SVG drawing, and its treatment here.

Source: SVG 2 appendix G (property index), and the CSS modules that it names. `PROPERTIES` are implemented; `WARNED` are
ignored with a warning, unless the value has no effect; `UNSEEN` cannot change a silhouette.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from functools import lru_cache
from typing import NamedTuple

from oddpeg.svg.syntax import (
    COLOUR,
    DASHES,
    DISPLAY,
    NUMBER_OR_SHARE,
    ORIGIN,
    PAINT,
    PAINT_ORDER,
    PATH,
    RATIO,
    REFERENCE,
    ROTATE,
    SCALE,
    TRANSFORM,
    TRANSLATE,
    Syntax,
    keywords,
    lengths,
)
from oddpeg.svg.units import FONT_SIZES


class Property(NamedTuple):
    """A property that is implemented.

    Attributes:
        syntax: grammar of its values.
        inherited: children have the value of their parent (SVG 2 §6).
        attribute: there is a presentation attribute of this name. Geometry properties have attributes of their own.
        percentages: what 100 % is, empty where there are none.
        remark: for the documentation.
    """

    syntax: Syntax
    inherited: bool = False
    attribute: bool = True
    percentages: str = ""
    remark: str = ""


_WIDTH, _HEIGHT, _DIAGONAL = "width of the viewport", "height of the viewport", "diagonal of the viewport / √2"

PROPERTIES: Mapping[str, Property] = {
    "fill": Property(PAINT, True),
    "fill-rule": Property(keywords("nonzero", "evenodd"), True),
    "fill-opacity": Property(NUMBER_OR_SHARE, True, percentages="1", remark="partial opacity: see `icons.translucent`"),
    "stroke": Property(PAINT, True),
    "stroke-width": Property(lengths(least=0.0, plain=True), True, percentages=_DIAGONAL),
    "stroke-linecap": Property(keywords("butt", "round", "square"), True),
    "stroke-linejoin": Property(
        keywords("miter", "round", "bevel", "miter-clip", "arcs"), True, remark="`miter-clip` and `arcs` are mitred"
    ),
    "stroke-miterlimit": Property(RATIO, True),
    "stroke-dasharray": Property(DASHES, True, percentages=_DIAGONAL),
    "stroke-dashoffset": Property(lengths(plain=True), True, percentages=_DIAGONAL),
    "stroke-opacity": Property(NUMBER_OR_SHARE, True, percentages="1", remark="as `fill-opacity`"),
    "color": Property(COLOUR, True),
    "visibility": Property(keywords("visible", "hidden", "collapse"), True),
    "clip-rule": Property(keywords("nonzero", "evenodd"), True),
    "paint-order": Property(PAINT_ORDER, True),
    "font-size": Property(
        lengths(*FONT_SIZES, "smaller", "larger", least=0.0), True, percentages="font size of the parent"
    ),
    "marker-start": Property(REFERENCE, True),
    "marker-mid": Property(REFERENCE, True),
    "marker-end": Property(REFERENCE, True),
    "display": Property(DISPLAY, remark="`none` hides; `contents` hides shapes; all other values show"),
    "opacity": Property(NUMBER_OR_SHARE, percentages="1", remark="as `fill-opacity`"),
    "clip-path": Property(REFERENCE, remark="of a `clipPath`; basic shapes are ignored with a warning"),
    "mask": Property(REFERENCE, remark="of a `mask`; it shows where its luminance is more than one half"),
    "mask-image": Property(REFERENCE, attribute=False, remark="as `mask`"),
    "mask-type": Property(keywords("luminance", "alpha")),
    "filter": Property(REFERENCE, remark="ignored with a warning"),
    "vector-effect": Property(
        keywords("none", "non-scaling-stroke", "non-scaling-size", "non-rotation", "fixed-position"),
        remark="the last three are ignored with a warning",
    ),
    "overflow": Property(keywords("visible", "hidden", "scroll", "auto", "clip")),
    "stop-color": Property(COLOUR),
    "stop-opacity": Property(NUMBER_OR_SHARE, percentages="1"),
    "transform": Property(TRANSFORM, percentages="reference box"),
    "transform-origin": Property(ORIGIN, percentages="reference box"),
    "transform-box": Property(
        keywords("view-box", "fill-box", "stroke-box", "border-box", "content-box"),
        attribute=False,
        remark="`stroke-box` and `border-box` are taken as `fill-box`, with a warning",
    ),
    "translate": Property(TRANSLATE, attribute=False, percentages="reference box"),
    "rotate": Property(ROTATE, attribute=False),
    "scale": Property(SCALE, attribute=False, percentages="1"),
    "x": Property(lengths(), attribute=False, percentages=_WIDTH),
    "y": Property(lengths(), attribute=False, percentages=_HEIGHT),
    "width": Property(lengths("auto", least=0.0), attribute=False, percentages=_WIDTH),
    "height": Property(lengths("auto", least=0.0), attribute=False, percentages=_HEIGHT),
    "cx": Property(lengths(), attribute=False, percentages=_WIDTH),
    "cy": Property(lengths(), attribute=False, percentages=_HEIGHT),
    "r": Property(lengths(least=0.0), attribute=False, percentages=_DIAGONAL),
    "rx": Property(lengths("auto", least=0.0), attribute=False, percentages=_WIDTH),
    "ry": Property(lengths("auto", least=0.0), attribute=False, percentages=_HEIGHT),
    "d": Property(PATH, attribute=False),
}
GEOMETRY = frozenset(("x", "y", "width", "height", "rx", "ry", "cx", "cy", "r"))
# a shorthand for the three markers; it has no presentation attribute
SHORTHANDS: Mapping[str, tuple[str, ...]] = {"marker": ("marker-start", "marker-mid", "marker-end")}
INHERITED = frozenset(name for name, known in PROPERTIES.items() if known.inherited)
# individual transforms (CSS Transforms 2 §5)
TRANSFORMS = ("translate", "rotate", "scale")
HANDLED = frozenset((*PROPERTIES, *SHORTHANDS))

_NONE = frozenset(("none",))
_AUTO = frozenset(("auto",))
# by property: values that change nothing
WARNED: Mapping[str, frozenset[str]] = {
    "all": frozenset(),
    "animation": _NONE,
    "animation-name": _NONE,
    "backdrop-filter": _NONE,
    "background": frozenset(("none", "transparent", "0 0")),
    "background-color": frozenset(("transparent",)),
    "background-image": _NONE,
    "border": frozenset(("none", "0")),
    "border-image": _NONE,
    "border-style": _NONE,
    "box-shadow": _NONE,
    "clip": _AUTO,
    "content-visibility": frozenset(("visible", "auto")),
    "mask-border": _NONE,
    "mask-border-source": _NONE,
    "mask-clip": frozenset(("border-box", "fill-box", "no-clip")),
    "mask-composite": frozenset(("add",)),
    "mask-mode": frozenset(("match-source",)),
    "mask-origin": frozenset(("border-box", "fill-box")),
    "mask-position": frozenset(("0% 0%", "0 0")),
    "mask-repeat": frozenset(("repeat", "no-repeat")),
    "mask-size": _AUTO,
    "mix-blend-mode": frozenset(("normal",)),
    "offset": _NONE,
    "offset-path": _NONE,
    "outline": frozenset(("none", "0")),
    "outline-style": _NONE,
    "perspective": _NONE,
    "stroke-align": frozenset(("center",)),
    "stroke-alignment": frozenset(("center",)),
    "stroke-dash-corner": _NONE,
    "text-shadow": _NONE,
    "zoom": frozenset(("1", "100%", "normal")),
}
UNSEEN = frozenset(
    (
        "alignment-baseline", "animation-delay", "animation-direction", "animation-duration", "animation-fill-mode",
        "animation-iteration-count", "animation-play-state", "animation-timing-function", "baseline-shift",
        "color-adjust", "color-interpolation", "color-interpolation-filters", "color-rendering", "color-scheme",
        "contain", "cursor", "direction", "dominant-baseline", "enable-background", "flood-color", "flood-opacity",
        "font", "font-family", "font-feature-settings", "font-kerning", "font-size-adjust", "font-stretch",
        "font-style", "font-variant", "font-weight", "glyph-orientation-horizontal", "glyph-orientation-vertical",
        "image-rendering", "inline-size", "isolation", "kerning", "letter-spacing", "lighting-color", "line-height",
        "margin", "max-height", "max-width", "min-height", "min-width", "offset-anchor", "offset-distance",
        "offset-rotate", "padding", "perspective-origin", "pointer-events", "position", "shape-rendering",
        "shape-inside", "shape-margin", "shape-subtract", "solid-color", "solid-opacity",
        "text-align", "text-anchor", "text-decoration", "text-indent", "text-overflow", "text-rendering",
        "transform-style", "transition", "unicode-bidi", "user-select", "vertical-align", "white-space",
        "will-change", "word-spacing", "writing-mode", "backface-visibility", "print-color-adjust",
    )
)  # fmt: skip

BY_ATTRIBUTE = frozenset(name for name, known in PROPERTIES.items() if known.attribute) | {"clip", "mix-blend-mode"}
# of which an element keeps what is declared for it
KEPT = HANDLED | frozenset(WARNED)
DEFAULTING = frozenset(("initial", "unset", "revert", "revert-layer"))  # CSS Cascade 5 §7.3
WIDE = DEFAULTING | {"inherit"}
# attributes that older programs write and no browser paints by
_PREFIX = re.compile(r"-(?:webkit|moz|ms|o|inkscape)-")


def changes_nothing(name: str, value: str) -> bool:
    """Return whether a value of an ignored property leaves the drawing unchanged."""
    word = " ".join(value.lower().split())
    return word in ("", "initial", "unset", "inherit", "revert") or word in WARNED[name]


def canonical(name: str) -> str:
    """Return a property's name, without the prefix of one browser."""
    return _PREFIX.sub("", name, count=1) if name.startswith("-") and not name.startswith("--") else name


@lru_cache(maxsize=16384)
def valid_value(name: str, text: str, attribute: bool) -> str | None:
    """Return the normal form of a declared value, None where CSS ignores the declaration (CSS Syntax 3 §8).

    A value with var() is valid until the variable is replaced. attribute: it is that of a presentation attribute.
    """
    text = text.strip()
    if text.lower() in WIDE:
        return text.lower()
    known = PROPERTIES.get(SHORTHANDS.get(name, (name,))[0])
    if not text:
        return None
    return text if known is None or "var(" in text else known.syntax.read(text, attribute)
