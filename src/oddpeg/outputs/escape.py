"""Names and texts, made safe for where they land.

Covers CSS identifiers and strings (CSS Syntax 3 §4, CSSOM §2.1), JavaScript strings, comments, URLs.
"""

from __future__ import annotations

import base64
import hashlib
import json
import re
from collections.abc import Callable
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
        elif (
            code < 0x20 or code == 0x7F or (char.isdigit() and code < 0x80 and (i == 0 or (i == 1 and text[0] == "-")))
        ):
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


def style_string(text: str) -> str:
    """Return a quoted string for SCSS and Less, which replace `#{…}` and `@{…}` in strings."""
    return re.sub(r"[#@](?=\{)", lambda m: f"\\{ord(m[0]):x} ", css_string(text))


def css_character(codepoint: int) -> str:
    """Return a quoted CSS string holding one character, in ASCII."""
    return f'"\\{codepoint:x}"'


def script_string(text: str) -> str:
    """Return a quoted JavaScript string in ASCII, safe inside a page's script too."""
    return json.dumps(text).replace("<", "\\u003c")


def rust_string(text: str) -> str:
    """Return a quoted string for Rust."""
    return _quoted(text, '"\\', lambda code: f"\\u{{{code:x}}}")


def ruby_string(text: str) -> str:
    """Return a quoted string for Ruby, in which `#{…}`, `#@…` and `#$…` mean something."""
    return _quoted(text, '"\\#', lambda code: f"\\u{{{code:x}}}")


def go_string(text: str) -> str:
    """Return a quoted string for Go."""
    return _quoted(text, '"\\', lambda code: f"\\u{code:04x}" if code < 0x10000 else f"\\U{code:08x}")


def php_string(text: str) -> str:
    """Return a quoted string for PHP, in which `$` and `{` mean something."""
    return _quoted(text, '"\\$', lambda code: f"\\u{{{code:x}}}")


def _quoted(text: str, special: str, form: Callable[[int], str]) -> str:
    """Return a string in quotes, in printable ASCII. special: characters that get a backslash; form: of others."""
    parts = (f"\\{c}" if c in special else c if " " <= c <= "~" else form(ord(c)) for c in text)
    return f'"{"".join(parts)}"'


def single_quoted(text: str) -> str:
    """Return a JavaScript string in single quotes, for a text with double quotes in it."""
    return "'" + script_string(text)[1:-1].replace('\\"', '"').replace("'", "\\'") + "'"


def comment(text: str) -> str:
    """Return a text that can neither end the block comment it stands in nor begin another, on one line."""
    return " ".join(text.split()).replace("*/", "* /").replace("/*", "/ *").replace("\\u", "\\ u")


def documented(text: str) -> str:
    """Return a text for a documentation comment of Java, Kotlin, Dart or Swift: HTML, `@` tags and Markdown are escaped
    as character references."""
    return re.sub(r"[<>&@\[\]*_`{}\\]", lambda match: f"&#{ord(match[0])};", comment(text))


def android_string(text: str) -> str:
    """Return a text for a string resource of Android, in which quotes, `@`, `?`, backslashes and spaces mean something:
    those as escapes, all else outside of ASCII as character references. Source: Android string resources."""
    special = "'\"\\@?<>& \n\t"
    return "".join(f"\\u{ord(c):04x}" if c in special else c if "!" <= c <= "~" else f"&#x{ord(c):x};" for c in text)


def url_path(path: str) -> str:
    """Return a relative path as a URL."""
    return quote(path, safe="/.-_~")


def dollar_string(text: str) -> str:
    """Return a quoted string in ASCII for languages in which `$` begins something (Kotlin, Dart)."""
    return json.dumps(text).replace("$", "\\$")


def python_string(text: str) -> str:
    """Return a quoted Python string in ASCII."""
    return ascii(text) if '"' in text else f'"{ascii(text)[1:-1]}"'


def swift_string(text: str) -> str:
    """Return a quoted Swift string in ASCII."""
    return '"' + "".join(c if " " <= c <= "~" and c not in '"\\' else f"\\u{{{ord(c):x}}}" for c in text) + '"'


def utf8_string(text: str) -> str:
    """Return a quoted C string holding UTF-8, in ASCII."""
    return '"' + "".join(chr(b) if 0x20 <= b < 0x7F and b not in b'"\\?' else f"\\{b:03o}" for b in text.encode()) + '"'


def xml_text(text: str) -> str:
    """Return a text for XML, in ASCII, for elements and quoted attributes alike."""
    kept = (c for c in text if (c >= " " or c in "\t\n") and not "\ud800" <= c <= "\udfff" and c not in "\ufffe\uffff")
    return "".join(c if " " <= c <= "~" and c not in "<>&\"'" else f"&#x{ord(c):x};" for c in kept)


def xml_comment(text: str) -> str:
    """Return a text that cannot end the XML comment it stands in, on one line."""
    return re.sub("-(?=-)", "- ", " ".join(text.split())).removesuffix("-")


def policy_digest(text: str) -> str:
    """Return the hash source of an inline script or style sheet for a page's content security policy (CSP Level 3
    §2.3.1)."""
    return f"'sha256-{base64.b64encode(hashlib.sha256(text.encode()).digest()).decode('ascii')}'"
