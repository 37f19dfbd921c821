"""The parts of a page or style sheet that a browser reads as code: no comments, and no text of a page.

Sources: HTML, tokenization (by `html.parser`); CSS Syntax 3, comments (by tinycss2).
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from html.parser import HTMLParser
from typing import Any

_LINE_END = re.compile(r"\r\n|\r|\f|\n")
_LARGEST = 2_000_000  # characters that are parsed; larger files are searched as a whole

Span = tuple[int, int]  # start and end, in characters


def code_spans(text: str, ending: str) -> list[Span] | None:
    """Return the parts of a text that are code; None for kinds of files that have no parser here. ending: of its
    name."""
    if len(text) > _LARGEST:
        return None
    if ending in (".html", ".htm"):
        page = _Page(text)
        page.feed(text)
        page.close()
        return page.spans
    return _without_comments(text) if ending == ".css" else None


class _Page(HTMLParser):
    """The search for start tags, and for the content of scripts and style sheets."""

    def __init__(self, text: str) -> None:
        super().__init__(convert_charrefs=False)
        self.spans: list[Span] = []
        self._starts = [0, *(match.end() for match in re.finditer("\n", text))]
        self._raw = False

    def handle_starttag(self, tag: str, attrs: Sequence[tuple[str, str | None]]) -> None:
        self._add(self.get_starttag_text() or "")
        self._raw = tag in ("script", "style")

    def handle_endtag(self, tag: str) -> None:
        self._raw = False

    def handle_data(self, data: str) -> None:
        if self._raw:
            self._add(data)

    def _add(self, text: str) -> None:
        line, column = self.getpos()
        at = self._starts[line - 1] + column
        self.spans.append((at, at + len(text)))


def _without_comments(text: str) -> list[Span]:
    import tinycss2

    starts = [0, *(match.end() for match in _LINE_END.finditer(text))]
    spans, at = [], 0
    for comment in _comments(tinycss2.parse_component_value_list(text)):
        begin = starts[comment.source_line - 1] + comment.source_column - 1
        spans.append((at, begin))
        end = text.find("*/", begin + 2)
        at = end + 2 if end >= 0 else len(text)
    return [*spans, (at, len(text))]


def _comments(nodes: Sequence[Any]) -> list[Any]:
    """Return the comments among nodes and in their blocks, in order."""
    found: list[Any] = []
    waiting = list(reversed(nodes))
    while waiting:
        node = waiting.pop()
        if node.type == "comment":
            found.append(node)
        waiting += reversed(getattr(node, "content", None) or getattr(node, "arguments", None) or [])
    return found
