"""A drawing for publication: the designer's own shapes, without scripts and data of editors.

SVG 2 §5.6 to 5.8, §16.
"""

from __future__ import annotations

import re
from typing import NamedTuple

from lxml import etree

from oddpeg.svg.document import SVG, local_name, parse_document
from oddpeg.svg.viewport import drawing_box

_HREFS = ("href", "{http://www.w3.org/1999/xlink}href")
_SPACE = "{http://www.w3.org/XML/1998/namespace}space"
# what draws, and what says what is drawn (SVG 2, appendix F); nothing that runs, loads, links or moves
_ELEMENT_NAMES = """
svg g defs symbol use switch title desc style path rect circle ellipse line polyline polygon text tspan textPath
clipPath mask marker linearGradient radialGradient stop pattern filter feBlend feColorMatrix feComponentTransfer
feComposite feConvolveMatrix feDiffuseLighting feDisplacementMap feDistantLight feDropShadow feFlood feFuncA feFuncB
feFuncG feFuncR feGaussianBlur feMerge feMergeNode feMorphology feOffset fePointLight feSpecularLighting feSpotLight
feTile feTurbulence
"""
_ATTRIBUTE_NAMES = """
id class style lang viewBox width height x y x1 y1 x2 y2 cx cy r rx ry fx fy fr d points pathLength dx dy rotate
textLength lengthAdjust startOffset method spacing side transform preserveAspectRatio version baseProfile
systemLanguage refX refY markerWidth markerHeight markerUnits orient clipPathUnits maskUnits maskContentUnits
gradientUnits gradientTransform spreadMethod offset patternUnits patternContentUnits patternTransform filterUnits
primitiveUnits in in2 result type media values mode operator k1 k2 k3 k4 order kernelMatrix divisor bias targetX
targetY edgeMode preserveAlpha surfaceScale diffuseConstant specularConstant specularExponent limitingConeAngle
azimuth elevation pointsAtX pointsAtY pointsAtZ z xChannelSelector yChannelSelector scale stdDeviation radius
baseFrequency numOctaves seed stitchTiles tableValues slope intercept amplitude exponent role aria-label aria-hidden
aria-labelledby focusable alignment-baseline baseline-shift clip clip-path clip-rule color color-interpolation
color-interpolation-filters color-rendering cursor direction display dominant-baseline fill fill-opacity fill-rule
filter flood-color flood-opacity font-family font-size font-size-adjust font-stretch font-style font-variant
font-weight image-rendering letter-spacing lighting-color marker marker-end marker-mid marker-start mask mask-type
opacity overflow paint-order pointer-events shape-rendering stop-color stop-opacity stroke stroke-dasharray
stroke-dashoffset stroke-linecap stroke-linejoin stroke-miterlimit stroke-opacity stroke-width text-anchor
text-decoration text-rendering transform-box transform-origin unicode-bidi vector-effect visibility white-space
word-spacing writing-mode
"""
_ELEMENTS = frozenset(_ELEMENT_NAMES.split())
_ATTRIBUTES = frozenset(_ATTRIBUTE_NAMES.split())
_LOADS = re.compile(
    r"""url\(\s*["']?\s*(?!#|["']?\s*#)|@import|\bimage(-set)?\(|expression\(|javascript:|-moz-binding""", re.I
)
_DOUBTFUL = re.compile(r"url|@|image|expression|javascript|binding|\\|/\*", re.I)  # without any of these none of those
_PLAIN = re.compile(
    rb"""\s*<svg\b(?=[^<>]{0,2000}?\sxmlns="http://www\.w3\.org/2000/svg")"""
    rb"""[^<>]{0,2000}?\sviewBox="[-.\d]+ [-.\d]+ ([.\d]+) ([.\d]+)"[^<>]{0,2000}>"""
)
_ELEMENT = re.compile(rb"</?([A-Za-z]+)")
_ATTRIBUTE = re.compile(rb"""[\s"'/]([A-Za-z][-\w:.]*)\s*=""")
_UNUSUAL = (
    b"<!", b"<?", b"<style", b"xmlns:", b"xlink:", b"xml:", b"\r", b"&", b"@", b"\\", b"/*", b"javascript",
    b"expression", b"image", b"binding",
)  # fmt: skip
_PLAIN_ELEMENTS = frozenset(name.encode() for name in _ELEMENTS - {"style"})
_PLAIN_ATTRIBUTES = frozenset(name.encode() for name in _ATTRIBUTES) | {b"xmlns", b"href"}


class CleanCopy(NamedTuple):
    """A drawing to look at and to copy.

    Attributes:
        svg: the drawing as text.
        width, height: of its frame, in its own units.
    """

    svg: str
    width: float
    height: float


def clean_copy(data: bytes) -> CleanCopy:
    """Return a drawing's own shapes as text; raise `DrawingError` where there is none. It has a viewBox and the
    namespace of SVG even where the file left them out."""
    match = _PLAIN.match(data)
    if match and _is_clean(data):  # as nearly every drawing is: parsing it would change nothing
        return CleanCopy(data.decode().strip(), float(match[1]), float(match[2]))
    root = parse_document(data)
    box, _ = drawing_box(root)
    for element in list(root.iter()):
        parent = element.getparent()
        if local_name(element) == "a":  # its content is drawn; its target does not matter here
            element.tag = "g" if element.tag == "a" else f"{{{SVG}}}g"
        if parent is not None and local_name(element) not in _ELEMENTS:
            _drop(element, parent)
        else:
            _clean(element)
    if not root.get("viewBox"):
        root.set("viewBox", " ".join(f"{v:g}" for v in box))
    etree.cleanup_namespaces(root)
    text = etree.tostring(root, encoding="unicode", with_tail=False)
    if root.tag[0] != "{":
        text = text.replace("<svg", f'<svg xmlns="{SVG}"', 1)
    return CleanCopy(text, box[2], box[3])


def _is_clean(data: bytes) -> bool:
    """Return whether a drawing plainly holds only permitted constructs. A doubtful one is parsed."""
    low = data.lower()
    return (
        data.isascii()
        and not any(part in low for part in _UNUSUAL)
        and low.count(b"url") == low.count(b"url(#")
        and low.count(b"href") == low.count(b'href="#') + low.count(b"href='#")
        and _PLAIN_ELEMENTS.issuperset(_ELEMENT.findall(data))
        and _PLAIN_ATTRIBUTES.issuperset(_ATTRIBUTE.findall(data))
    )


def _clean(element: etree._Element) -> None:
    """Remove attributes that may run or load something from an element."""
    for name, value in list(element.attrib.items()):
        key, text = str(name), str(value)
        if key in _HREFS:
            kept = text.strip().startswith("#")
        else:
            kept = (key in _ATTRIBUTES or key == _SPACE) and not _loads(text)
        if not kept:
            del element.attrib[name]
    if local_name(element) == "style" and _loads("".join(map(str, element.itertext()))):
        element.clear()


def _loads(text: str) -> bool:
    """Return whether a value may load or run something."""
    return _DOUBTFUL.search(text) is not None and _LOADS.search(_unescaped(text)) is not None


def _unescaped(text: str) -> str:
    """Return a piece of CSS with its escapes resolved and without its comments (CSS Syntax 3 §4.3.7)."""
    text = re.sub(r"/\*.*?\*/", "", text, flags=re.S)
    return re.sub(r"\\([0-9a-fA-F]{1,6})\s?", lambda m: chr(min(int(m[1], 16), 0x10FFFF)), text).replace("\\", "")


def _drop(element: etree._Element, parent: etree._Element) -> None:
    """Remove an element, but not the text after it."""
    if element.tail and element.tail.strip():
        before = element.getprevious()
        if before is None:
            parent.text = (parent.text or "") + element.tail
        else:
            before.tail = (before.tail or "") + element.tail
    parent.remove(element)
