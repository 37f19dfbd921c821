"""One file, parsed once, for everyone who reads something out of it."""

from __future__ import annotations

from functools import cached_property
from typing import TYPE_CHECKING

from oddpeg.svg.cascade import Cascade
from oddpeg.svg.document import parse_document

if TYPE_CHECKING:
    from lxml import etree


class SvgDocument:
    """An SVG file's element tree and styles. Readers must not change the tree."""

    def __init__(self, data: bytes) -> None:
        """data: the file's bytes. Raise `DrawingError` where they are not an SVG document."""
        self.root: etree._Element = parse_document(data)
        self.links_styles = b"<?xml-stylesheet" in data

    @cached_property
    def cascade(self) -> Cascade:
        """The style of every element."""
        return Cascade(self.root)
