"""Mistakes in code that keep an icon from showing, although its name is right: classes, families, codepoints, paths.

Texts are searched tolerantly, since templates are no documents; what a template puts together at run time is left to
`oddpeg: uses` comments. Every check needs one of the font's names next to what it reports, so that other people's code
gets no report. Sources: HTML, class attribute; CSS Syntax 3; CSS Fonts 4.
"""

from __future__ import annotations

import difflib
import posixpath
import re
from collections.abc import Iterable, Iterator, Mapping
from typing import NamedTuple
from urllib.parse import unquote

from oddpeg.suggestions import nearest

_GENERIC = ("icon", "icons", "font", "glyphs", "symbols")
_HOLE = re.compile(r"[{}<>$%]|#\{")
_CLASSES = re.compile(r"""\bclass(?:Name)?\s{0,9}=\s{0,9}\{?\s{0,9}(["'])([^"'`]{1,2000})\1""")
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
_URL = re.compile(
    r"""(?:\b(?:href|src)\s{0,9}=\s{0,9}|@(?:import|use|forward)\s{1,9}(?:url\(\s{0,9})?|\burl\(\s{0,9}|\bfrom\s{1,9}"""
    r"""|\bimport\s{1,9}|\b(?:require|import)\(\s{0,9})(["']?)([^"'\s)<>{}$]{1,500})\1"""
)
_ASSET = re.compile(r"""["']([\w./@-]{1,300}\.(?:ttf|otf|woff2?))["']""")
_DIGEST = re.compile(r"[._][0-9a-f]{10}(?=\.\w+$)")
_STYLES = (".css", ".scss", ".sass", ".less", ".styl", ".pcss")
_PAGES = (".html", ".htm", ".vue", ".svelte", ".astro", ".php", ".erb", ".ejs", ".hbs", ".twig", ".cshtml", ".razor")
_CHANGED = frozenset(("font-family", "font", "font-weight", "content", "text-transform", "letter-spacing",
                      "-webkit-font-smoothing"))  # fmt: skip
_PRIVATE = range(0xE000, 0xF900)


class Expected(NamedTuple):
    """What code may rightly name.

    Attributes:
        prefix, base: of classes.
        needs_base: classes of icons work with the base class only.
        names: of icons, aliases too.
        others: sizes, colours, faces and palettes, by the word in their classes.
        families: names of the family; the first one is that of stylesheets.
        stem: of font files.
        codepoints: of icons.
        files: paths of delivered files relative to the project, by name.
        mention: expression that finds their names, also with the usual mistakes.
    """

    prefix: str
    base: str
    needs_base: bool
    names: frozenset[str]
    others: Mapping[str, tuple[str, ...]]
    families: tuple[str, ...]
    stem: str
    codepoints: frozenset[int]
    files: Mapping[str, tuple[str, ...]]
    mention: str = ""


class Problem(NamedTuple):
    """A mistake in a text.

    Attributes:
        code: its diagnostic code.
        what: the mistake.
        cure: how to mend it.
        at, length: the place, in characters.
        fix: the text that belongs there, where there is one right answer.
    """

    code: str
    what: str
    cure: str
    at: int
    length: int
    fix: str = ""


def find_problems(expected: Expected, text: str, where: str) -> list[Problem]:
    """Return the mistakes in a text. where: its path relative to the project."""
    ending = posixpath.splitext(where)[1].lower()
    found: list[Problem] = []
    may_be_markup = bool(expected.names) and "class" in text and ending not in _STYLES
    if may_be_markup and any(f"{one}{mark}" in text for one in _prefixes(expected) for mark in "-_"):
        found += _in_classes(expected, text)
    if "{" in text and (ending in _STYLES or (ending in _PAGES and "<style" in text)):
        found += _in_styles(expected, text)
    if ending not in _STYLES and ("amily" in text or ".custom(" in text):
        found += _in_code(expected, text)
    if expected.mention and re.search(expected.mention, text):
        found += _in_paths(expected, text, where, ending)
    return sorted(set(found), key=lambda problem: problem.at)


def _swapped(word: str) -> list[str]:
    """Return a word with two neighbouring letters in each other's place, at every place."""
    return [word[:i] + word[i + 1] + word[i] + word[i + 2 :] for i in range(len(word) - 1) if word[i] != word[i + 1]]


def _prefixes(expected: Expected) -> list[str]:
    return [expected.prefix, *_swapped(expected.prefix)]


def _in_classes(expected: Expected, text: str) -> Iterator[Problem]:
    for match in _CLASSES.finditer(text):
        if not _HOLE.search(match[2]):
            words = [(part[0], match.start(2) + part.start()) for part in re.finditer(r"\S+", match[2])]
            yield from _of_element(expected, words)


def _of_element(expected: Expected, words: list[tuple[str, int]]) -> Iterator[Problem]:
    """Yield the mistakes in the classes of one element. words: with their places."""
    lead, base = f"{expected.prefix}-", expected.base
    icons = [(w, at) for w, at in words if w.startswith(lead) and w.removeprefix(lead) in expected.names]
    has_base = any(word == base for word, _ in words)
    if len({word for word, _ in icons}) > 1:
        word, at = icons[1]
        cure = "keep one of them; an element shows one icon"
        yield Problem("class-two-icons", f"two icons on one element: {icons[0][0]} and {word}", cure, at, len(word))
    if icons and not has_base and expected.needs_base:
        word, at = icons[0]
        cure = f"write {base} {word}"
        yield Problem("class-without-base", f"{word} without {base} has no font", cure, at, len(word), f"{base} {word}")
    unknown = list(_unknown_choices(expected, words))
    yield from unknown
    if icons:
        return
    wrong = list(_misspelled(expected, words, has_base))
    yield from wrong
    if has_base and not wrong and not unknown and not any(_may_be_icon(expected, word) for word, _ in words):
        at = next(at for word, at in words if word == base)
        cure = f"add the class of an icon: {base} {lead}{min(expected.names, default='NAME')}"
        yield Problem("class-base-alone", f"{base} alone shows nothing", cure, at, len(base))


def _may_be_icon(expected: Expected, word: str) -> bool:
    """Return whether a class is, or was meant to be, an icon's; the search for references reports unknown names."""
    lead = f"{expected.prefix}-"
    rest = word.removeprefix(lead)
    return word.startswith(lead) and word != expected.base and rest.partition("-")[0] not in expected.others


def _unknown_choices(expected: Expected, words: list[tuple[str, int]]) -> Iterator[Problem]:
    """Yield sizes, colours, faces and palettes that are not there."""
    lead = f"{expected.prefix}-"
    for word, at in words:
        kind, _, name = word.removeprefix(lead).partition("-")
        if not word.startswith(lead) or kind not in expected.others or not name:
            continue
        known = expected.others[kind]
        if name in known or f"{kind}-{name}" in expected.names:
            continue
        near = nearest(name, known, 1)
        listed = f"there are {', '.join(known)}" if known else "the config names none"
        cure = f"did you mean {lead}{kind}-{near[0]}?" if near else listed
        fix = f"{lead}{kind}-{near[0]}" if near else ""
        yield Problem("class-unknown", f"there is no {kind} {name!r}", cure, at, len(word), fix)


def _misspelled(expected: Expected, words: list[tuple[str, int]], has_base: bool) -> Iterator[Problem]:
    """Yield classes that are an icon's but for the prefix or a mark."""
    swapped = set(_swapped(expected.prefix)) if len(expected.prefix) > 2 else set()
    bases = {expected.base, *(expected.base.replace(expected.prefix, one, 1) for one in swapped)}
    beside = any(word in bases for word, _ in words)
    for word, at in words:
        head, mark, name = [*re.split(r"([-_])", word, maxsplit=1), "", ""][:3]
        after_base = word.removeprefix(f"{expected.base}-")
        right = ""
        if after_base != word and after_base in expected.names:
            right = after_base
        elif word in expected.names and has_base and word != expected.base:
            right = word
        elif head == expected.prefix and mark == "_" and name.replace("_", "-") in expected.names:
            right = name.replace("_", "-")
        elif mark == "-" and name in expected.names and head != expected.prefix and (
            head in swapped or (beside and len(head) > 2 and nearest(head, [expected.prefix], 1, 0.7))
        ):  # fmt: skip
            right = name
        if right:
            own = f"{expected.prefix}-{right}"
            fix = own if has_base or not expected.needs_base else f"{expected.base} {own}"
            yield Problem("class-misspelled", f"{word} is no class of the font", f"write {fix}", at, len(word), fix)


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
    if len(plain) > 2 and plain in _swapped(ours):
        return True
    return len(plain) > 5 and difflib.SequenceMatcher(None, plain, ours).ratio() >= 0.88


def _wrong_family(expected: Expected, name: str, at: int) -> Problem:
    family = expected.families[0]
    return Problem("family-unknown", f"the family is not called {name!r}", f"write {family}", at, len(name), family)


def _in_styles(expected: Expected, text: str) -> Iterator[Problem]:
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
    if name.lower() != expected.families[0].lower() or not urls or any(_HOLE.search(url) for url in urls):
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


def _in_code(expected: Expected, text: str) -> Iterator[Problem]:
    for match in _CODE_FAMILY.finditer(text):
        if _near_family(expected, match[2]):
            yield _wrong_family(expected, match[2], match.start(2))


def _plain_name(name: str) -> str:
    """Return a file name without what people mistake in it."""
    return _DIGEST.sub("", name).lower().replace("_", "-").lstrip("-")


def mention_of(files: Iterable[str]) -> str:
    """Return an expression that finds names of files: without a digest or with another, in any case, and with hyphens
    and underscores for each other. It is searched for before anything that takes longer."""
    stems, endings = set(), set()
    for name in files:
        stem, _, ending = _plain_name(name).partition(".")
        stems.add(re.escape(stem).replace(r"\-", "[-_]"))
        endings.add(re.escape(ending.rpartition(".")[2]))
    if not stems:
        return ""
    return (
        rf"(?i)(?:{'|'.join(sorted(stems))})(?:[._][0-9a-f]{{10}})?(?:\.\w{{1,9}})?\.(?:{'|'.join(sorted(endings))})\b"
    )


def _in_paths(expected: Expected, text: str, where: str, ending: str) -> Iterator[Problem]:
    by_plain: dict[str, set[str]] = {}
    for name in expected.files:
        by_plain.setdefault(_plain_name(name), set()).add(name)
    seen: dict[str, str] = {}
    for match in _URL.finditer(text):
        path = unquote(re.split(r"[?#]", match[2], maxsplit=1)[0])
        if not path or "://" in path or path.startswith(("//", "data:", "@", "~", "#", "mailto:")):
            continue
        name = posixpath.basename(path)
        files = by_plain.get(_plain_name(name), set())
        module = match[0].startswith(("from", "import", "require")) and not path.startswith(".")
        if module or not files or "." not in name:
            continue
        begin = match.start(2)
        if name not in expected.files:
            yield _outdated(files, name, begin + match[2].rfind(name) if name in match[2] else begin)
        elif problem := _unresolved(expected, path, name, where, begin, len(match[2])):
            yield problem
        elif ending in _PAGES and name.endswith(".css") and seen.setdefault(name, path) != path:
            cure = "load one of them"
            yield Problem("loaded-twice", f"{name} is loaded from {seen[name]} as well", cure, begin, len(match[2]))
    for match in _ASSET.finditer(text) if ending not in (*_STYLES, *_PAGES) else ():
        name = posixpath.basename(match[1])
        files = by_plain.get(_plain_name(name), set())
        if files and name not in expected.files:
            yield _outdated(files, name, match.start(1) + match[1].rfind(name))


def _outdated(files: set[str], name: str, at: int) -> Problem:
    right = min(files) if len(files) == 1 else ""
    cure = f"the file is called {' or '.join(sorted(files))}"
    code, what = (
        ("link-outdated", "is of an earlier build") if _DIGEST.search(name) else ("link-broken", "is not delivered")
    )
    return Problem(code, f"{name} {what}", cure, at, len(name), right)


def _unresolved(expected: Expected, path: str, name: str, where: str, at: int, length: int) -> Problem | None:
    """Return the problem of a path that leads to no delivered file. where: of the text."""
    delivered = expected.files[name]
    folder = posixpath.dirname(where)
    if path.startswith("/"):
        wanted = path.lstrip("/")
        if any(real == wanted or real.endswith(f"/{wanted}") for real in delivered):
            return None
    elif posixpath.normpath(posixpath.join(folder, path)) in delivered:
        return None
    right = posixpath.relpath(delivered[0], folder or ".") if len(delivered) == 1 else ""
    right = f"./{right}" if right and path.startswith("./") and not right.startswith("../") else right
    cure = f"the file is {' or '.join(delivered)}" + (f": write {right}" if right else "")
    return Problem("link-broken", f"{path} leads to no delivered file", cure, at, length, right)
