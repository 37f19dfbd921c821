"""Drawings made up from the grammar of SVG and CSS: how paint, size, place and order are written, not what is drawn.

`drawing(seed)` returns one SVG file, the same for a seed at every run. A browser is the reference
(`fuzz/in_browser.py`), so a drawing has dark paint on nothing, no partial opacity and a square frame. With colours it
has paint of any kind.
"""

from __future__ import annotations

from random import Random
from typing import NamedTuple

import paints

SIZE = 24.0
_BLACKS = (
    "black", "BLACK", "#000", "#000f", "#000000", "#000000FF", "rgb(0,0,0)", "rgb(0 0 0)", "rgba(0,0,0,1)",
    "rgb(0% 0% 0% / 100%)", "hsl(0,0%,0%)", "hsl(120deg 0% 0%)", "hwb(0 0% 100%)", "lab(0% 0 0)", "oklch(0 0 0)",
    "currentColor", "currentcolor", "color(srgb 0 0 0)", "navy", "#100", "var(--ink, black)", "var(--none, #000)",
)  # fmt: skip
_UNITS = {"": 1.0, "px": 1.0, "pt": 4 / 3, "pc": 16.0, "mm": 96 / 25.4, "cm": 96 / 2.54, "in": 96.0, "Q": 96 / 101.6,
          "em": 16.0, "PX": 1.0}  # fmt: skip
_KEYWORDS = {
    "fill-rule": ("nonzero", "evenodd"),
    "clip-rule": ("nonzero", "evenodd"),
    "stroke-linecap": ("butt", "round", "square"),
    "stroke-linejoin": ("miter", "round", "bevel"),
    "visibility": ("visible", "visible", "visible", "hidden", "collapse"),
    "paint-order": ("normal", "stroke", "fill", "stroke fill", "markers stroke", "fill stroke markers"),
    "vector-effect": ("none", "non-scaling-stroke"),
    "display": ("inline", "block", "inline", "none"),
}
_WIDE = ("inherit", "initial", "unset", "revert", "INHERIT")
_WRONG = ("bogus", "12 bogus", "-", "#12", "10 10 10 10 10", "")
_ORIGINS = (
    "top", "bottom", "left", "right", "center", "center bottom", "top right", "right 4px", "4px top", "25% 75%",
    "12px 12px", "0 0", "left 30%", "50% bottom", "6px", "TOP LEFT", "center center", "12 12",
)  # fmt: skip


class _Pen(NamedTuple):
    """The state of one drawing. random: of the seed; rules: of its style sheet; defs: elements for reference; colours:
    its kinds of paint, "" (ink alone), "flat" (solid colours) or "gradients"."""

    random: Random
    rules: list[str]
    defs: list[str]
    colours: str = ""

    def chance(self, share: float) -> bool:
        """Return true in a share of the calls."""
        return self.random.random() < share

    def between(self, low: float, high: float) -> float:
        return round(self.random.uniform(low, high), 2)

    def name(self) -> str:
        return f"n{len(self.defs)}x{self.random.randrange(10**6)}"


def _length(pen: _Pen, value: float, whole: float, style: bool = False) -> str:
    """Return a length of about this many user units. whole: length of 100 %; style: units are required."""
    way = pen.random.random()
    if way < 0.15:
        return f"{round(value * 100 / whole, 3)}%"
    if way < 0.22:
        return f"calc({round(value - 1, 2)}px + 1px)"
    units = [unit for unit in _UNITS if unit or not style] if way < 0.5 else ["px" if style else ""]
    unit = pen.random.choice(units)
    return f"{round(value / _UNITS[unit], 4)}{unit}"


def _case(pen: _Pen, text: str) -> str:
    """Return a keyword, at times in other letters."""
    return pen.random.choice((text, text, text, text.upper(), text.title()))


def _declarations(pen: _Pen) -> dict[str, str]:
    """Return some properties of paint, with their values."""
    made: dict[str, str] = {}
    if pen.chance(0.5):
        made["fill"] = pen.random.choice((*_BLACKS, "none", "NONE", "transparent", *_WIDE))
    if pen.chance(0.5):
        made["stroke"] = pen.random.choice((*_BLACKS, "none", *_WIDE))
        made["stroke-width"] = _length(pen, pen.between(0.5, 4), SIZE)
    if pen.colours:
        made |= {name: paints.paint(pen, pen.colours == "flat") for name in ("fill", "stroke") if name in made}
        made |= paints.opacities(pen)
    for name, values in _KEYWORDS.items():
        if pen.chance(0.1):
            made[name] = _case(pen, pen.random.choice(values)) if pen.chance(0.9) else pen.random.choice(_WIDE)
    if pen.chance(0.1):
        made["stroke-dasharray"] = pen.random.choice((" ", ", ")).join(
            _length(pen, pen.between(0.5, 6), SIZE) for _ in range(pen.random.randint(1, 4))
        )
        made["stroke-dashoffset"] = _length(pen, pen.between(-5, 5), SIZE)
    if pen.chance(0.05):
        made["stroke-miterlimit"] = str(pen.random.choice((1, 2, 4, 10)))
    if pen.chance(0.06):
        made[pen.random.choice(("opacity", "fill-opacity", "stroke-opacity"))] = pen.random.choice(
            ("1", "100%", "0", "0%", "2", "-1", "initial", "calc(1)")
        )
    if pen.chance(0.05):
        made["color"] = pen.random.choice(
            ("tomato", "#093", "inherit") if pen.colours else ("black", "#000", "navy", "inherit", "rgb(0 0 0)")
        )
    if pen.chance(0.04):
        made["font-size"] = pen.random.choice(("12px", "2em", "150%", "initial"))
    return made


def _transform(pen: _Pen) -> str:
    """Return a list of transforms that stays near its place."""
    calls = []
    for _ in range(pen.random.randint(1, 2)):
        calls.append(
            pen.random.choice((
                f"translate({pen.between(-3, 3)} {pen.between(-3, 3)})", f"translate({pen.between(-3, 3)})",
                f"rotate({pen.between(-40, 40)},12,12)", f"scale({pen.between(0.6, 1.2)})",
                f"scale({pen.between(0.6, 1.2)},{pen.between(0.6, 1.2)})", f"skewX({pen.between(-20, 20)})",
                f"matrix(1 0.1 -.1 1 {pen.between(-2, 2)} 0)", f"skewY( {pen.between(-15, 15)} )",
            ))
        )  # fmt: skip
    return pen.random.choice((" ", ",", "")).join(calls)


def _style_transforms(pen: _Pen, boxes: bool) -> dict[str, str]:
    """Return transforms as CSS properties. boxes: they may refer to the box of the content."""
    made = {pen.random.choice(("transform", "transform", "rotate", "scale", "translate")): ""}
    for name in made:
        made[name] = pen.random.choice({
            "transform": (f"rotate({pen.between(-60, 60)}deg)", f"translate({pen.between(-4, 4)}px, 2px)",
                          f"translateX(10%) scale({pen.between(0.6, 1.2)})", "scaleX(.8)", "translate(10%, -5%)",
                          f"rotate({pen.between(-0.1, 0.1)}turn)", f"skew({pen.between(-15, 15)}deg)", "NONE"),
            "rotate": (f"{pen.between(-50, 50)}deg", "0.1turn", "none", ".3rad"),
            "scale": ("0.8", "80%", "0.7 1.1", "none"),
            "translate": ("2px", "2px -3px", "10% 5%", "none"),
        }[name])  # fmt: skip
    if pen.chance(0.6):
        made["transform-origin"] = pen.random.choice(_ORIGINS)
    if pen.chance(0.4):
        made["transform-box"] = pen.random.choice(
            ("fill-box", "view-box", "fill-box", "Fill-Box", "content-box") if boxes else ("view-box", "View-Box")
        )
    return made


def _selector(pen: _Pen, tag: str, name: str, anywhere: bool) -> str:
    """Return a selector that matches an element. anywhere: it may match others too."""
    narrow = (
        f".{name}", f"#{name}", f"[id={name}]", f"[id='{name}']", f"{tag}.{name}", f"*#{name}", f":is(.{name})",
        f":where(#{name})", f"svg .{name}", f"svg > #{name}", f"{tag}.{name}:not(.q)", f".{name}:first-child",
        f"* > .{name}", f".{name}:nth-child(n)", f"g .{name}", f":root .{name}", f"{tag}[class~={name}]",
        f"style ~ #{name}",
    )  # fmt: skip
    return pen.random.choice((*narrow, tag, f"{tag}:not(.q)", "*") if anywhere else narrow)


def _rule(pen: _Pen, selector: str, body: str) -> str:
    way = pen.random.random()
    if way < 0.08:
        query = pen.random.choice(("all", "screen", "print", "not print", "(min-width: 1px)"))
        return f"@media {query}{{{selector}{{{body}}}}}"
    if way < 0.11:
        return (
            f"@supports {pen.random.choice(('(fill: red)', '(bogus: 1)', 'not (bogus: 1)'))} {{{selector}{{{body}}}}}"
        )
    return f"{selector}{{{body}}}"


def _attributes(pen: _Pen, tag: str, attributes: dict[str, str], properties: dict[str, str]) -> str:
    """Return the attributes of an element, its properties in any of the places where they may stand."""
    name, inline = pen.name(), []
    for key, value in properties.items():
        if pen.chance(0.12):  # a declaration that loses, or an invalid one
            other = pen.random.choice((*_WRONG, value, *_KEYWORDS.get(key, ())))
            if pen.chance(0.5) and "--" not in key and key not in ("rx", "ry"):  # wrong radii: Chromium draws nothing
                attributes[key] = other.replace('"', "")
            else:
                inline.append(f"{key}:{other}")
        important = "!important" if pen.chance(0.08) else ""
        way = pen.random.random()
        if way < 0.4 and not key.startswith(("transform-box", "rotate", "scale", "translate")) and "--" not in key:
            attributes[key] = value
        elif way < 0.7:
            inline.append(f"{key}{pen.random.choice((':', ': ', ' : '))}{value}{important}")
        else:
            key = _case(pen, key) if not key.startswith("--") else key
            # a clip path for all elements would clip itself; colours for all would make masks grey, and gradients turn
            anywhere = "url" not in value and not pen.colours
            pen.rules.append(_rule(pen, _selector(pen, tag, name, anywhere), f"{key}:{value}{important}"))
    if inline:
        attributes["style"] = pen.random.choice((";", "; ", ";;")).join(inline)
    texts = " ".join(f'{key}="{value}"' for key, value in attributes.items())
    return f'id="{name}" class="{name}" {texts}'


def _shape(pen: _Pen) -> str:
    """Return a shape with paint; its lengths are written in any way."""
    tag = pen.random.choice(("rect", "circle", "ellipse", "line", "polyline", "polygon", "path", "path", "rect"))
    x, y, w, h = pen.between(1, 12), pen.between(1, 12), pen.between(4, 11), pen.between(4, 11)
    sized: dict[str, float] = {}
    attributes: dict[str, str] = {}
    match tag:
        case "rect":
            sized = {"x": x, "y": y, "width": w, "height": h}
            if pen.chance(0.4):
                attributes[pen.random.choice(("rx", "ry"))] = pen.random.choice(("2", "10%", "-1", "3px"))
        case "circle":
            sized = {"cx": x + 4, "cy": y + 4, "r": w / 2}
        case "ellipse":
            sized = {"cx": x + 4, "cy": y + 4, "rx": w / 2, "ry": h / 2}
            if pen.chance(0.2):
                del sized["ry"]
        case "line":
            sized = {"x1": x, "y1": y, "x2": x + w, "y2": y + h}
        case "path":
            attributes["d"] = pen.random.choice((
                f"M{x} {y}h{w}v{h}z", f"M{x},{y}L{x + w} {y + h} {x} {y + h}Z", f"m{x} {y}q{w} 0 {w} {h}t-6-4",
                f"M{x} {y}a{w / 2} {h / 2} 30 0 1 {w} 2L{x} {y + h}z", f"M{x} {y}c2-4 6 8 {w} {h}s-4 2-7-3",
                f"M{x} {y}h{w}v{h}h-{w}zM{x + 1} {y + 1}h{w - 2}v{h - 2}h-{w - 2}z",
            ))  # fmt: skip
        case _:
            attributes["points"] = pen.random.choice((" ", ",")).join(
                f"{round(v, 2)}" for v in (x, y, x + w, y, x + w, y + h, x + 1, y + h - 2)
            )
    properties = _declarations(pen)
    if tag in ("line", "polyline") and pen.chance(0.8):
        ink = paints.paint(pen, pen.colours == "flat") if pen.colours else "black"
        properties |= {"stroke": ink, "stroke-width": _length(pen, pen.between(1, 4), SIZE)}
    for key, value in sized.items():
        styled = key[-1] not in "12" and pen.chance(0.15)
        (properties if styled else attributes)[key] = _length(pen, value, SIZE, styled)
    if tag in ("rect", "line", "polyline", "polygon") and pen.chance(0.08):  # browsers measure curves roughly
        attributes["pathLength"] = pen.random.choice(("10", "100", "0", "-1"))
    _effects(pen, attributes, properties)
    if tag in ("line", "polyline", "polygon", "path") and pen.chance(0.1):
        properties[pen.random.choice(("marker", "marker-start", "marker-mid", "marker-end"))] = f"url(#{_marker(pen)})"
    return f"<{tag} {_attributes(pen, tag, attributes, properties)}/>"


def _effects(pen: _Pen, attributes: dict[str, str], properties: dict[str, str], inner: str = "") -> None:
    """Add transforms, clips and masks. inner: content of the element. Browsers differ in the box around turned content:
    units of a box are not used there."""
    boxes = not any(word in inner + " ".join(pen.rules) for word in ("rotate", "skew", "matrix", "ROTATE", "Rotate"))
    if pen.chance(0.15):
        attributes["transform"] = _transform(pen) if pen.chance(0.9) else "NONE"
        if pen.chance(0.3):
            properties["transform-origin"] = pen.random.choice(_ORIGINS)
    elif pen.chance(0.12):
        properties |= _style_transforms(pen, boxes)
    if pen.chance(0.08):
        properties["clip-path"] = f"url(#{_clip(pen, boxes)})" if pen.chance(0.9) else _case(pen, "none")
    if pen.chance(0.06):
        properties["mask"] = f"url(#{_mask(pen, boxes)})" if pen.chance(0.9) else _case(pen, "none")


def _unit_shape(pen: _Pen, whole: float) -> str:
    """Return a shape that fills a good part of a square of this size."""
    a, b = round(pen.between(0, 0.3) * whole, 3), round(pen.between(0.6, 1) * whole, 3)
    side, half = f"{b - a:g}", f"{b / 2:g}"
    return pen.random.choice((
        f'<rect x="{a}" y="{a}" width="{side}" height="{side}"/>',
        f'<circle cx="{half}" cy="{half}" r="{half}"/>',
        f'<path d="M{a} {a}L{b} {a} {b} {b}z"/>',
        f'<path d="M{a} {a}h{side}v{side}h-{side}z" clip-rule="evenodd"/>',
    ))  # fmt: skip


def _clip(pen: _Pen, boxes: bool) -> str:
    name, units = pen.name(), pen.random.choice(("", "userSpaceOnUse", *(("objectBoundingBox",) if boxes else ())))
    inner = "".join(
        _unit_shape(pen, 1 if units == "objectBoundingBox" else SIZE) for _ in range(pen.random.randint(1, 2))
    )
    extra = f' clipPathUnits="{units}"' if units else ""
    if pen.chance(0.15):
        extra += f' transform="{_transform(pen)}"' if units != "objectBoundingBox" else ' transform="scale(.8)"'
    if pen.chance(0.1):
        extra += f' clip-path="url(#{_clip(pen, boxes)})"'
    if pen.chance(0.2):
        inner = inner.replace(
            "/>", pen.random.choice((' display="none"/>', ' visibility="hidden"/>', ' stroke="black"/>')), 1
        )
    pen.defs.append(f'<clipPath id="{name}"{extra}>{inner}</clipPath>')
    return name


def _mask(pen: _Pen, boxes: bool) -> str:
    name, units = pen.name(), pen.random.choice(("", "userSpaceOnUse", *(("objectBoundingBox",) if boxes else ())))
    inner = _unit_shape(pen, 1 if units == "objectBoundingBox" else SIZE)
    extra = f' maskContentUnits="{units}"' if units else ""
    if pen.chance(0.2):
        extra += pen.random.choice((
            ' maskUnits="userSpaceOnUse" x="2" y="2" width="18" height="20"', ' x="0" y="0" width="1" height="1"',
            ' mask-type="alpha"', ' x="10%" width=".5"',
        ))  # fmt: skip
    pen.defs.append(
        f'<mask id="{name}"{extra}><g fill="{pen.random.choice(("white", "#fff", "WHITE"))}">{inner}</g></mask>'
    )
    return name


def _marker(pen: _Pen) -> str:
    name = pen.name()
    extra = "".join(
        text
        for text in (
            f' orient="{pen.random.choice(("auto", "auto-start-reverse", "45", "0.1turn", "90deg", "-30"))}"',
            ' markerUnits="userSpaceOnUse"', ' viewBox="0 0 4 4"', ' refX="2" refY="2"',
            f' markerWidth="{pen.between(2, 6)}" markerHeight="5"', ' overflow="visible"', ' style="overflow:VISIBLE"',
            ' preserveAspectRatio="xMinYMax slice"',
        )
        if pen.chance(0.3)
    )  # fmt: skip
    pen.defs.append(f'<marker id="{name}"{extra}>{_unit_shape(pen, 4)}</marker>')
    return name


def _frame(pen: _Pen, tag: str, depth: int, attributes: dict[str, str]) -> str:
    """Return a nested `svg` or a `symbol`."""
    if pen.chance(0.7):
        attributes["viewBox"] = pen.random.choice(("0 0 24 24", "0 0 12 24", "2 2 20 20", "0,0,32,16", "-4 -4 32 32"))
    if pen.chance(0.4):
        attributes["preserveAspectRatio"] = pen.random.choice(
            ("none", "xMinYMin", "xMaxYMax meet", "xMidYMin slice", "xMinYMid  slice", "bogus")
        )
    properties = _declarations(pen) if pen.chance(0.3) else {}
    if pen.chance(0.3):
        properties["overflow"] = _case(pen, pen.random.choice(("visible", "hidden", "auto", "scroll", "inherit")))
    return f"<{tag} {_attributes(pen, tag, attributes, properties)}>{_nodes(pen, depth + 1, 1, 2)}</{tag}>"


def _sizes(pen: _Pen, share: float) -> dict[str, str]:
    """Return x, y, width and height, each in a share of the calls."""
    values = {
        "x": pen.between(-2, 6),
        "y": pen.between(-2, 6),
        "width": pen.between(10, 24),
        "height": pen.between(10, 24),
    }
    return {key: _length(pen, value, SIZE) for key, value in values.items() if pen.chance(share)}


def _use(pen: _Pen, depth: int) -> str:
    kind, name = pen.random.random(), pen.name()
    if kind < 0.4:
        target = f'<g id="{name}">{_nodes(pen, depth + 1, 1, 2)}</g>'
    elif kind < 0.7:
        target = f"<g><g>{_frame(pen, 'symbol', depth, _sizes(pen, 0.2))}</g></g>"
        name = target.split('id="', 1)[1].split('"', 1)[0]
    else:
        target = _frame(pen, "svg", depth, _sizes(pen, 0.5))
        name = target.split('id="', 1)[1].split('"', 1)[0]
    pen.defs.append(target)
    attributes = {pen.random.choice(("href", "xlink:href")): f"#{name}", **_sizes(pen, 0.4)}
    properties = _declarations(pen) if pen.chance(0.4) else {}
    _effects(pen, attributes, properties, "".join(pen.defs))
    return f"<use {_attributes(pen, 'use', attributes, properties)}/>"


def _group(pen: _Pen, depth: int) -> str:
    attributes: dict[str, str] = {}
    properties = _declarations(pen) if pen.chance(0.7) else {}
    if pen.chance(0.1):
        properties["--ink"] = "#000"
    inner = _nodes(pen, depth + 1, 1, 3)
    _effects(pen, attributes, properties, inner + "".join(pen.defs))
    return f"<g {_attributes(pen, 'g', attributes, properties)}>{inner}</g>"


def _switch(pen: _Pen, depth: int) -> str:
    conditions = ('systemLanguage="xx"', 'systemLanguage="en"', 'systemLanguage="xx, en-GB"', 'requiredExtensions="http://example.com/x"',
                  'systemLanguage=""', 'requiredExtensions=""', "")  # fmt: skip
    inner = "".join(
        f"<g {pen.random.choice(conditions)}>{_nodes(pen, depth + 1, 1, 1)}</g>"
        for _ in range(pen.random.randint(1, 3))
    )
    return f"<switch>{inner}</switch>"


def _nodes(pen: _Pen, depth: int, least: int, most: int) -> str:
    parts = []
    for _ in range(pen.random.randint(least, most)):
        way = pen.random.random() if depth < 3 else 0.0
        if way < 0.6:
            parts.append(_shape(pen))
        elif way < 0.75:
            parts.append(_group(pen, depth))
        elif way < 0.87:
            parts.append(_use(pen, depth))
        elif way < 0.95:
            parts.append(_frame(pen, "svg", depth, _sizes(pen, 0.6)))
        else:
            parts.append(_switch(pen, depth))
    return "".join(parts)


def drawing(seed: int, colours: str = "") -> str:
    """Return a drawing as SVG. colours: its kinds of paint, "" (ink alone), "flat" (solid colours) or "gradients"."""
    pen = _Pen(Random(seed), [], [], colours)
    body = _nodes(pen, 0, 1, 3)
    sheet = f"<style>{' '.join(pen.rules)}</style>" if pen.rules else ""
    text = f"{sheet}<defs>{''.join(pen.defs)}</defs>{body}"
    for sign, escaped in (("&", "&amp;"),):
        text = text.replace(sign, escaped)
    head = 'xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" viewBox="0 0 24 24"'
    return f'<svg {head} width="24" height="24">{text}</svg>'
