"""A drawing's own `title` and `desc` (SVG 2 §5.8)."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from oddpeg.diagnostics import one_line

if TYPE_CHECKING:
    from lxml import etree


class OwnTexts(NamedTuple):
    """The title and description of a drawing; empty where it has none."""

    title: str
    description: str


def texts_of(root: etree._Element) -> OwnTexts:
    """Return the texts of the root element's own first `title` and `desc`."""
    from oddpeg.svg.document import SVG, local_name

    texts: dict[str, str] = {}
    for child in root.iterchildren("title", "desc", f"{{{SVG}}}title", f"{{{SVG}}}desc"):
        texts.setdefault(local_name(child), one_line("".join(str(part) for part in child.itertext())))
    return OwnTexts(texts.get("title", ""), texts.get("desc", ""))


def own_texts(data: bytes) -> OwnTexts:
    """Return the texts of a file; none where it is not an SVG document. Files without any are not parsed."""
    if b"title" not in data and b"desc" not in data and data[:2] != b"\x1f\x8b":
        return OwnTexts("", "")
    from oddpeg.svg.document import parse_document

    try:
        return texts_of(parse_document(data))
    except Exception:  # a check or a build reports the error
        return OwnTexts("", "")
