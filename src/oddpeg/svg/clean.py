"""A drawing as others may see it: the designer's own shapes, without what editors leave behind.

SVG 2 §5.6 to 5.8, §16.
"""

from __future__ import annotations

import re
from typing import NamedTuple

from lxml import etree

from oddpeg.svg.document import SVG, local_name, parse_document
from oddpeg.svg.viewport import drawing_box

_KEPT_SPACES = ("http://www.w3.org/1999/xlink", "http://www.w3.org/XML/1998/namespace")
_GONE = ("metadata", "script")
_PLAIN = re.compile(
    rb"""\s*<svg\b(?=[^<>]*\sxmlns="http://www\.w3\.org/2000/svg")"""
    rb"""[^<>]*\sviewBox="[-.\d]+ [-.\d]+ ([.\d]+) ([.\d]+)"[^<>]*>"""
)
_CLUTTER = re.compile(rb"<!|<\?|xmlns:|<metadata|<script|\son[a-z]+\s*=|\r")
_HANDLER = re.compile(r"on[a-z]+")


class CleanCopy(NamedTuple):
    """A drawing to look at and to copy. width, height: of its frame, in its own units."""

    svg: str
    width: float
    height: float


def clean_copy(data: bytes) -> CleanCopy:
    """Return a drawing's own shapes as text; raise `DrawingError` where there is none. It has a viewBox and the
    namespace of SVG even where the file left them out."""
    match = _PLAIN.match(data)
    if (
        match and data.isascii() and not _CLUTTER.search(data)
    ):  # as nearly every drawing is: parsing it would change nothing
        return CleanCopy(data.decode().strip(), float(match[1]), float(match[2]))
    root = parse_document(data)
    box, _ = drawing_box(root)
    for element in list(root.iter()):
        parent = element.getparent()
        if parent is not None and (not local_name(element) or local_name(element) in _GONE):
            _drop(element, parent)
            continue
        for name in element.attrib:
            space = str(name)[1:].partition("}")[0] if str(name)[0] == "{" else ""
            if (space and space not in _KEPT_SPACES) or _HANDLER.fullmatch(str(name)):
                del element.attrib[name]
    if not root.get("viewBox"):
        root.set("viewBox", " ".join(f"{v:g}" for v in box))
    etree.cleanup_namespaces(root)
    text = etree.tostring(root, encoding="unicode", with_tail=False)
    if root.tag[0] != "{":
        text = text.replace("<svg", f'<svg xmlns="{SVG}"', 1)
    return CleanCopy(text, box[2], box[3])


def _drop(element: etree._Element, parent: etree._Element) -> None:
    """Remove an element, but not the text after it."""
    if element.tail and element.tail.strip():
        before = element.getprevious()
        if before is None:
            parent.text = (parent.text or "") + element.tail
        else:
            before.tail = (before.tail or "") + element.tail
    parent.remove(element)
