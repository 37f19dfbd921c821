"""Bytes → a safe element tree.

Nothing outside the bytes is ever read: no network, no external entities, no DTD.
"""

from __future__ import annotations

import gzip
import io
import re
import zlib
from functools import lru_cache

from lxml import etree

from oddpeg.diagnostics import Diagnostic, DrawingError

SVG = "http://www.w3.org/2000/svg"
XLINK_HREF = "{http://www.w3.org/1999/xlink}href"
GZIP = b"\x1f\x8b"  # what packed files begin with
MAX_BYTES = 8_000_000
MAX_ATTRIBUTES = 1000  # of one element: finding one takes time with their number
_PARSER = etree.XMLParser(
    resolve_entities="internal",  # type: ignore[arg-type]  # newer than its stubs
    no_network=True,
    load_dtd=False,
    remove_comments=True,
    remove_pis=True,
    huge_tree=False,
)
_AT = re.compile(r",? ?line \d+, column \d+( \(.*\))?$")


def unpacked(data: bytes) -> bytes:
    """Return the XML bytes of a plain or gzip-packed file, refusing what unpacks too large."""
    if data[:2] == GZIP:
        try:
            with gzip.GzipFile(fileobj=io.BytesIO(data)) as packed:
                data = packed.read(MAX_BYTES + 1)
        except (OSError, EOFError, zlib.error) as problem:
            raise DrawingError(
                Diagnostic("broken-gzip", f"cannot be unpacked: {problem}", "save the drawing again, as plain .svg")
            ) from None
    if len(data) > MAX_BYTES:
        raise DrawingError(
            Diagnostic(
                "too-large",
                f"is larger than {MAX_BYTES:,} bytes",
                "simplify the drawing; an icon needs a few kilobytes",
            )
        )
    return data


def line_of(element: etree._Element) -> int | None:
    """Return the line an element starts on."""
    return element.sourceline if isinstance(element.sourceline, int) else None


def local_name(element: etree._Element) -> str:
    """Return the element's SVG name, or "" for elements that are not SVG (editors' own)."""
    tag = element.tag
    return _local(tag) if isinstance(tag, str) else ""


@lru_cache(maxsize=4096)
def _local(tag: str) -> str:
    if tag[0] != "{":
        return tag
    space, _, name = tag[1:].partition("}")
    return name if space == SVG else ""


def _unreadable(problem: etree.XMLSyntaxError) -> Diagnostic:
    message, line = problem.msg or "cannot be parsed", problem.lineno or None
    if "amplification" in message or "entity reference loop" in message:
        text, cure = "its entities expand without end", "remove the DOCTYPE and its entities"
        return Diagnostic("runaway", text, cure, line=line)
    if "Excessive depth" in message:
        text, cure = "nests its elements deeper than 256 levels", "ungroup what need not be grouped"
        return Diagnostic("runaway", text, cure, line=line)
    text = f"is not well-formed XML: {_AT.sub('', message)}"
    return Diagnostic("broken-xml", text, "correct the file at that line, or export it again", line=line)


def parse_document(data: bytes) -> etree._Element:
    """Return the root `svg` element; raise `DrawingError` where the bytes are not an SVG document."""
    data = unpacked(data)
    if not data.strip(b"\x00\r\n\t \xef\xbb\xbf"):
        raise DrawingError(Diagnostic("empty-file", "the file is empty", "export the drawing again"))
    try:
        root = etree.fromstring(data, _PARSER)
    except etree.XMLSyntaxError as problem:
        raise DrawingError(_unreadable(problem)) from None
    if local_name(root) != "svg":
        raise DrawingError(
            Diagnostic(
                "not-svg",
                f"is XML, but its outermost element is <{etree.QName(root).localname}>, not <svg>",
                "export the drawing as SVG",
                line=line_of(root),
            )
        )
    if len(data) > 10 * MAX_ATTRIBUTES and any(len(element.attrib) > MAX_ATTRIBUTES for element in root.iter()):
        message, cure = f"has an element with more than {MAX_ATTRIBUTES:,} attributes", "remove what no drawing needs"
        raise DrawingError(Diagnostic("runaway", message, cure))
    return root


def reference(element: etree._Element) -> str:
    """Return the id that an element's href points to within the file, or ""."""
    href = element.get("href") or element.get(XLINK_HREF) or ""
    return href[1:] if href.startswith("#") else ""
