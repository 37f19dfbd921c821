"""Parts of parsed documents, with the types that tests need."""

from __future__ import annotations

from lxml import etree


def elements(root: etree._Element, path: str) -> list[etree._Element]:
    """Return the elements that an XPath selects."""
    found = root.xpath(path)
    assert isinstance(found, list)
    return [item for item in found if isinstance(item, etree._Element)]


def text_of(element: etree._Element) -> str:
    """Return all text in an element."""
    return "".join(str(part) for part in element.itertext())


def attribute(element: etree._Element, name: str) -> str:
    """Return an attribute that must be there."""
    value = element.get(name)
    assert value is not None, f"no {name} on <{element.tag!r}>"
    return value
