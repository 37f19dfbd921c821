"""Names and texts, made safe for where they land.

Knows: CSS identifiers and strings (CSS Syntax 3 §4, CSSOM §2.1), JavaScript strings, comments, URLs.
"""

from __future__ import annotations

import json
import re
from urllib.parse import quote

_PLAIN = re.compile(r"[A-Za-z_][A-Za-z0-9_-]*")


def css_identifier(text: str) -> str:
    """Return a name as a CSS identifier (CSSOM "serialize an identifier")."""
    if _PLAIN.fullmatch(text):
        return text
    out: list[str] = []
    for i, char in enumerate(text):
        code = ord(char)
        if code == 0:
            out.append("\ufffd")
        elif code < 0x20 or code == 0x7F or (char.isdigit() and code < 0x80 and (i == 0 or (i == 1 and text[0] == "-"))):
            out.append(f"\\{code:x} ")
        elif char == "-" and len(text) == 1:
            out.append("\\-")
        elif code >= 0x80 or char in "-_" or char.isalnum():
            out.append(char)
        else:
            out.append("\\" + char)
    return "".join(out)


def css_string(text: str) -> str:
    """Return a quoted CSS string."""
    inner = re.sub(r'["\\<\x00-\x1f\x7f]', lambda m: f"\\{ord(m[0]):x} ", text)
    return f'"{inner}"'


def css_character(codepoint: int) -> str:
    """Return a quoted CSS string holding one character, in ASCII."""
    return f'"\\{codepoint:x}"'


def script_string(text: str) -> str:
    """Return a quoted JavaScript string in ASCII, safe inside a page's script too."""
    return json.dumps(text).replace("<", "\\u003c")


def comment(text: str) -> str:
    """Return a text that cannot end the block comment it stands in, on one line."""
    return " ".join(text.split()).replace("*/", "* /")


def url_path(path: str) -> str:
    """Return a relative path as a URL."""
    return quote(path, safe="/.-_~")


def pascal(words: list[str]) -> str:
    """Return words as one identifier with capitals; a leading digit gets an underscore."""
    name = "".join(w[:1].upper() + w[1:] for w in words)
    return "_" + name if name[:1].isdigit() else name


def camel(words: list[str]) -> str:
    """Return words as one identifier that starts small."""
    name = pascal(words)
    return name[:1].lower() + name[1:]
