"""Every property of SVG 2 and CSS that changes the rendering of an SVG drawing, and its treatment here.

Source: SVG 2 appendix G (property index), and the CSS modules that it names. `HANDLED` are implemented; `WARNED` are
ignored with a warning, unless the value has no effect; `UNSEEN` cannot change a silhouette.
"""

from __future__ import annotations

import re
from collections.abc import Mapping

# inherited (SVG 2 §6)
INHERITED = frozenset(
    (
        "fill", "fill-rule", "fill-opacity", "stroke", "stroke-width", "stroke-linecap", "stroke-linejoin",
        "stroke-miterlimit", "stroke-dasharray", "stroke-dashoffset", "stroke-opacity", "color", "visibility",
        "clip-rule", "paint-order", "font-size", "marker", "marker-start", "marker-mid", "marker-end",
    )
)  # fmt: skip
# geometry properties (SVG 2 §7), which are attributes of their own and no presentation attributes
GEOMETRY = frozenset(("x", "y", "width", "height", "rx", "ry", "cx", "cy", "r", "d"))
# individual transforms (CSS Transforms 2 §5): no presentation attributes either
TRANSFORMS = ("translate", "rotate", "scale")
_OWN = frozenset(
    (
        "display", "opacity", "clip-path", "mask", "mask-image", "mask-type", "filter", "vector-effect", "overflow",
        "transform", "transform-origin", "transform-box",
    )
)  # fmt: skip
HANDLED = INHERITED | GEOMETRY | _OWN | frozenset(TRANSFORMS)

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
        "shape-inside", "shape-margin", "shape-subtract", "solid-color", "solid-opacity", "stop-color", "stop-opacity",
        "text-align", "text-anchor", "text-decoration", "text-indent", "text-overflow", "text-rendering",
        "transform-style", "transition", "unicode-bidi", "user-select", "vertical-align", "white-space",
        "will-change", "word-spacing", "writing-mode", "backface-visibility", "print-color-adjust",
    )
)  # fmt: skip

BY_ATTRIBUTE = (INHERITED | _OWN) - {"transform-box", "marker", "mask-image", "mask-type"} | {
    "clip",
    "mix-blend-mode",
    "mask-type",
}
# of which an element keeps what is declared for it
KEPT = HANDLED | frozenset(WARNED)
# attributes that older programs write and no browser paints by
_PREFIX = re.compile(r"-(?:webkit|moz|ms|o|inkscape)-")


def changes_nothing(name: str, value: str) -> bool:
    """Return whether a value of an ignored property leaves the drawing unchanged."""
    word = " ".join(value.lower().split())
    return word in ("", "initial", "unset", "inherit", "revert") or word in WARNED[name]


def canonical(name: str) -> str:
    """Return a property's name, without the prefix of one browser."""
    return _PREFIX.sub("", name, count=1) if name.startswith("-") and not name.startswith("--") else name
