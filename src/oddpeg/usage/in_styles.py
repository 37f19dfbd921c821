"""Mistakes in style sheets, and family names in code. Sources: CSS Syntax 3; CSS Fonts 4; CSS Content 3 §1.2."""

from __future__ import annotations

import difflib
import posixpath
import re
from collections.abc import Iterator

from oddpeg.usage.in_classes import swapped
from oddpeg.usage.problem import HOLE, Expected, Problem

_GENERIC = ("icon", "icons", "font", "glyphs", "symbols")
_BLOCK = re.compile(r"\{([^{}]{0,20000})\}")
_LOOKED_AT = re.compile("font|content|text-transform|letter-spacing")
_SELECTOR = 2000  # characters before a block that are looked at
_DECLARATION = re.compile(r"([\w-]{2,40})\s{0,9}:\s{0,9}([^;{}]{1,2000})")
_FAMILY_NAME = re.compile(r"""(["'])([^"'\n]{1,100})\1|[^,"']{1,100}""")
_CODE_FAMILY = re.compile(
    r"""(?:[fF]ont_?[fF]amily["']?\s{0,9}[:=(]\s{0,9}(?:const\s)?|\.custom\(\s{0,9})(["'])(?:[^"'#\n]{0,200}\#)?([^"'\n]{1,100})\1"""
)
_LOST = re.compile(r"""^["']([0-9a-fA-F]{4,6})["']""")
_ESCAPED = re.compile(r"""^["']\\([0-9a-fA-F]{4,6})\s?["']""")
_CHANGED = frozenset(("font-family", "font", "font-weight", "content", "text-transform", "letter-spacing",
                      "-webkit-font-smoothing"))  # fmt: skip
_PRIVATE = range(0xE000, 0xF900)


def _near_family(expected: Expected, name: str) -> bool:
    """Return whether a family name is ours with a mistake."""
    if name.lower() in {family.lower() for family in expected.families}:
        return False
    family = expected.families[0]
    plain, ours = (re.sub(r"[^a-z0-9]", "", text.lower()) for text in (name, family))
    words = family.split()
    initials = "".join(word[0] for word in words).lower() if len(words) > 2 else ""
    stripped = next((plain.removesuffix(word) for word in _GENERIC if plain.endswith(word) and plain != word), plain)
    if plain in (ours, re.sub(r"[^a-z0-9]", "", expected.stem.lower())) or stripped in (ours, initials or ours):
        return True
    if len(plain) > 2 and plain in swapped(ours):
        return True
    return len(plain) > 5 and difflib.SequenceMatcher(None, plain, ours).ratio() >= 0.88


def _wrong_family(expected: Expected, name: str, at: int) -> Problem:
    family = expected.families[0]
    return Problem("family-unknown", f"the family is not called {name!r}", f"write {family}", at, len(name), family)


def in_styles(expected: Expected, text: str) -> Iterator[Problem]:
    """Yield the mistakes in the innermost blocks of a style sheet: families, codepoints, overriding declarations."""
    for block in _BLOCK.finditer(text):
        if not _LOOKED_AT.search(block[1]):
            continue
        before = text[max(block.start() - _SELECTOR, 0) : block.start()]
        selector = re.split(r"[{};]", before)[-1].strip()
        declared = [(m[1].lower(), m[2].strip(), block.start(1) + m.start(2)) for m in _DECLARATION.finditer(block[1])]
        families = [value for key, value, _ in declared if key in ("font-family", "font")]
        ours = any(family in value for value in families for family in expected.families)
        ours = ours or _is_ours(expected, selector)
        if "@font-face" in selector:
            yield from _of_face(expected, declared)
        for key, value, at in declared:
            if key == "font-family":
                for part in _FAMILY_NAME.finditer(value):
                    name = (part[2] or part[0]).strip()
                    if name and _near_family(expected, name):
                        yield _wrong_family(expected, name, at + value.index(name))
            elif key == "content":
                yield from _of_content(expected, value, at, ours)
        yield from _overrides(expected, selector, declared)


def _is_ours(expected: Expected, selector: str) -> bool:
    return re.search(rf"\.{re.escape(expected.prefix)}-[\w-]", selector) is not None


def _of_content(expected: Expected, value: str, at: int, ours: bool) -> Iterator[Problem]:
    if (lost := _LOST.match(value)) and int(lost[1], 16) in expected.codepoints:
        fix = f"\\{lost[1]}"
        yield Problem(
            "content-backslash", f"{lost[1]} is shown as it stands", f"write \\{lost[1]}", at + 1, len(lost[1]), fix
        )
    if escaped := _ESCAPED.match(value):
        code = int(escaped[1], 16)
        if ours and code not in expected.codepoints and (code in _PRIVATE or code > 0xEFFFF):
            cure = "`oddpeg use NAME` prints the codepoint of an icon; a class needs none"
            yield Problem(
                "codepoint-unknown", f"no icon has the codepoint {escaped[1]}", cure, at + 1, len(escaped[1]) + 1
            )


def _of_face(expected: Expected, declared: list[tuple[str, str, int]]) -> Iterator[Problem]:
    """Yield a rule that gives our family another file."""
    values = {key: (value, at) for key, value, at in declared}
    name, at = values.get("font-family", ("", 0))
    name = name.strip("\"' ")
    urls = re.findall(r"""url\(\s*["']?([^"')]+)""", values.get("src", ("", 0))[0])
    if name.lower() != expected.families[0].lower() or not urls or any(HOLE.search(url) for url in urls):
        return
    if not any(posixpath.basename(url.partition("?")[0]) in expected.files for url in urls):
        cure = "load the delivered stylesheet, and remove this rule"
        yield Problem("family-redefined", f"{name} is another font here: {urls[0]}", cure, at, len(name))


def _overrides(expected: Expected, selector: str, declared: list[tuple[str, str, int]]) -> Iterator[Problem]:
    """Yield declarations of the project that change how icons are drawn."""
    lead = re.escape(expected.prefix)
    for part in (one.strip() for one in selector.rsplit("*/", 1)[-1].split(",")):
        before = part.endswith(("::before", ":before", "::after"))
        whole = part.removesuffix("::before").removesuffix(":before").strip() in ("*", "")
        named = re.search(rf"""\.{lead}-[\w-]+(?:::?before)?$|\[class[*^~|]?=["']?{lead}-""", part) is not None
        for key, value, at in declared:
            important = "!important" in value
            if key not in _CHANGED or any(family in value for family in expected.families):
                continue
            if key == "content" and (not before or _ESCAPED.match(value)):
                continue
            universal = whole and part and important and key in ("font-family", "font")
            if universal or (named and (before or important or key in ("font-family", "font"))):
                cure = f"leave out icons: :not(.{expected.base}), or remove the declaration"
                yield Problem("style-override", f"{part} changes {key} of icons", cure, at, len(value))


def in_code(expected: Expected, text: str) -> Iterator[Problem]:
    """Yield family names in code that nearly match."""
    for match in _CODE_FAMILY.finditer(text):
        if _near_family(expected, match[2]):
            yield _wrong_family(expected, match[2], match.start(2))
