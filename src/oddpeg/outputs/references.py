"""How code names icons: what each kind of output says of itself, and the search for it in the text of a file.

Every expression here is tried from one place onwards, has no repetition within a repetition, and is limited in length:
the work grows with the length of the text.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Mapping
from enum import Enum
from typing import NamedTuple


class Shape(Enum):
    """How the name of an icon follows what stands before it."""

    CLASS = "class"  # a class: letters, digits, hyphens, in a text or a selector
    WORD = "word"  # an identifier
    KEY = "key"  # a text in brackets, or a member
    ARGUMENT = "argument"  # a text in brackets of a call
    ATTRIBUTE = "attribute"  # an element's attribute `name`
    FRAGMENT = "fragment"  # a URL's fragment
    IMPORT = "import"  # names in the braces of an import
    TYPED = "typed"  # a text that is assigned
    LIGATURE = "ligature"  # the text of an element that has a class


class ReferenceForm(NamedTuple):
    """One way to name icons.

    Attributes:
        shape: how it goes on.
        lead: what stands before the name; for imports the end of the module's path.
        names: what code writes, and the name (of the icon, or an alias) that it stands for.
        own: further words after the same lead, which are no icons.
        endings: of files in which it is looked for; all where there are none.
    """

    shape: Shape
    lead: str
    names: Mapping[str, str]
    own: frozenset[str] = frozenset()
    endings: frozenset[str] = frozenset()


class Found(Enum):
    """What a place in code is."""

    USED = "used"
    UNKNOWN = "unknown"
    UNDECIDABLE = "undecidable"


class Reference(NamedTuple):
    """A place in a text that names an icon, or seems to.

    Attributes:
        found: what it is.
        name: of the icon or an alias, where it is one; what was written, where it is unknown.
        text: as it stands there.
        at: its offset.
        part: the offset and the length of the name itself.
        form: what it was taken for; none for a codepoint.
        sure: it is one of ours even if no name of ours is near it.
    """

    found: Found
    name: str
    text: str
    at: int
    part: tuple[int, int] = (0, 0)
    form: ReferenceForm | None = None
    sure: bool = True


_HOLE = re.compile(r"\$\{|\{\{|<%|<\?|#\{|%s|%\{|\{[A-Za-z_]")  # where a template puts something in
_CLASS = re.compile(r"[\w-]+")
_WORD = re.compile(r"\w+")
_JOINED = re.compile(r"""["'`]\s{0,20}[+.~&]{1,2}""")  # a text that something is added to
_KEY = re.compile(r"""\s{0,20}(?:\?\.)?\[\s{0,20}(["'`])([^"'`\n]{1,200})\1\s{0,20}\]""")
_MEMBER = re.compile(r"\s{0,20}\??\.\s{0,20}(\w+)")
_OPEN = re.compile(r"\s{0,20}(?:\?\.)?\[")
_ARGUMENT = re.compile(r"""\s{0,20}(["'])([^"'\n]{1,200})\1""")
_NAME = re.compile(r"""\sname\s{0,9}=\s{0,9}(?:\{\s{0,9})?(["'`])([^"'`>\n]{0,200})\1""")
_BOUND = re.compile(r"""\s(?::name|v-bind:name|\[name\]|name)\s{0,9}=\s{0,9}(?:["'{]|[^\s"'>])""")
_FRAGMENT = re.compile(r"""[^"'`\s)>#]{1,200}""")
_IMPORT = re.compile(
    r"""import\s{1,20}(?:type\s{1,20})?\{([^{}]{0,100000})\}\s{0,20}from\s{0,20}["']([^"'\n]{1,500})["']"""
)
_TYPED = re.compile(r"""\s{0,20}=\s{0,20}(["'])([^"'\n]{1,200})\1""")
_LIGATURE = re.compile(r"""[\w\s:./%-]{0,300}["'][^<>]{0,500}>\s{0,100}([\w-]{2,100})\s{0,100}</""")
_FAMILIES = ("size-", "colour-", "face-", "palette-")  # of classes that are no icons
_ELEMENT = 2000  # characters of an element's tag that are looked at
_BACK = 400  # characters before a class that are looked at for a quote
_CODES = re.compile(
    r"\\u\{([0-9A-Fa-f]{4,6})\}|\\u([dD][89abAB][0-9A-Fa-f]{2})\\u([dD][c-fC-F][0-9A-Fa-f]{2})|\\u([0-9A-Fa-f]{4})(?![0-9A-Fa-f])"
    r"|\\U000?([0-9A-Fa-f]{5,6})(?![0-9A-Fa-f])|\\([0-9A-Fa-f]{4,6})(?![0-9A-Fa-f])|&#x([0-9A-Fa-f]{4,6});?|&#([0-9]{5,7});?"
    r"|(?:\b0x|\bU\+)([0-9A-Fa-f]{4,6})(?![0-9A-Fa-f])|([\ue000-\uf8ff\U000f0000-\U0010fffd])"
)
_CODE_MARKS = ("\\", "&#", "0x", "0X", "U+")
_RANGE = re.compile(r"-[ \t]?$")
_COMPARED = re.compile(r"[<>]=?[ \t]{0,2}$")
_LAST_PRIVATE = re.compile(r"(?i)f8ff|ffffd")  # the line is about the whole Private Use Area
_PROMISE = re.compile(r"oddpeg:\s{0,9}uses\s{1,9}([^\n]{1,500})")
_PROMISE_END = re.compile(r"\*/|-->|#\}|%>|\*\)")
_WORD_CHARACTER = re.compile(r"[\w$-]")


class Promised(NamedTuple):
    """A comment that says what the code around it uses: `oddpeg: uses weather-*`.

    Attributes:
        patterns: of icons.
        at: its offset.
    """

    patterns: list[str]
    at: int


class Scan(NamedTuple):
    """What a text says of icons.

    Attributes:
        references: in order.
        promised: by comments.
    """

    references: list[Reference]
    promised: list[Promised]


class Scanner:
    """The search for all forms at once."""

    def __init__(self, forms: Iterable[ReferenceForm], codepoints: Mapping[int, str], family: str = "") -> None:
        """codepoints: the icon that each shows; family: the font's name, which tells that codepoints are ours."""
        self.forms = merged(forms)
        self.codepoints = codepoints
        self._family = family
        self._forms: dict[str, list[ReferenceForm]] = {}
        self._imports: list[ReferenceForm] = []
        for form in self.forms:
            if form.shape is Shape.IMPORT:
                self._imports.append(form)
            else:
                self._forms.setdefault(form.lead, []).append(form)
        # a lead that begins another one counts only where the longer does not stand
        self._longer = {lead: [o for o in self._forms if o != lead and o.startswith(lead)] for lead in self._forms}

    def may_hold(self, text: str) -> bool:
        """Return False where a text plainly names no icon."""
        return (
            any(lead in text for lead in self._forms)
            or any(mark in text for mark in _CODE_MARKS)
            or (bool(self._imports) and "import" in text)
            or not text.isascii()
            or "oddpeg:" in text
        )

    def scan(self, text: str, ending: str = "", data: bool = False) -> Scan:
        """Return what a text says of icons.

        Args:
            ending: of its file's name, with the full stop.
            data: it is a table rather than code, in which a codepoint is one of ours only if something else of ours is
                there.
        """
        found = [*self._named(text, ending), *self._imported(text)]
        ours = bool(found) or (bool(self._family) and self._family in text)
        if ours or not data:
            found += self._coded(text, ours)
        promised = [
            Promised(_PROMISE_END.split(m[1])[0].replace(",", " ").split(), m.start()) for m in _PROMISE.finditer(text)
        ]
        unique = {(one.at, one.name): one for one in found}
        return Scan(sorted(unique.values(), key=lambda one: one.at), promised)

    def _named(self, text: str, ending: str) -> Iterator[Reference]:
        for lead, forms in self._forms.items():
            looked = [form for form in forms if not (form.endings and ending) or ending in form.endings]
            at = text.find(lead) if looked else -1
            while at >= 0:
                if _begins(text, at, lead) and not any(text.startswith(longer, at) for longer in self._longer[lead]):
                    for form in looked:
                        yield from _FOLLOW[form.shape](form, text, at, at + len(lead))
                at = text.find(lead, at + 1)

    def _imported(self, text: str) -> Iterator[Reference]:
        if not self._imports or "import" not in text:
            return
        for match in _IMPORT.finditer(text):
            path = match[2].removesuffix(".mjs").removesuffix(".js").removesuffix("/index")
            for form in self._imports:
                if path.endswith(form.lead) and path.removesuffix(form.lead)[-1:] in ("", "/", ".", "@"):
                    for part in _WORD.finditer(text, match.start(1), match.end(1)):
                        before = text[match.start(1) : part.start()].rpartition(",")[2]
                        if before.strip() in ("", "type") and part[0] != "type":
                            yield _judged(form, part[0], text, part.start(), part.start())

    def _coded(self, text: str, ours: bool) -> list[Reference]:
        """Return the codepoints of icons. ours: something else of ours is in the text; where nothing is, and other
        private codepoints stand beside, it is about somebody else's."""
        found: list[Reference] = []
        if not self.codepoints or (text.isascii() and not any(mark in text for mark in _CODE_MARKS)):
            return found
        for match in _CODES.finditer(text):
            code, at = _code(match), match.start()
            before, after = text[max(at - 4, 0) : at], text[match.end() : match.end() + 3]
            if _RANGE.search(before) or after.strip().startswith("-") or (match[9] and _COMPARED.search(before)):
                continue  # the end of a range, or what a range is compared with
            name = self.codepoints.get(code)
            if name is None and not ours and _is_private(code):
                return []
            if name is None or (match[10] is None and code < 0x80 and not match[7] and not match[8]):
                continue
            line = text[text.rfind("\n", 0, at) + 1 : match.end() + 200].partition("\n")[0]
            if not _LAST_PRIVATE.search(line[:1000]):
                found.append(Reference(Found.USED, name, match[0], at, part=(at, match.end() - at)))
        return found


def _begins(text: str, at: int, lead: str) -> bool:
    """Return whether a lead begins a word where it stands, or the name of a custom property after its hyphens."""
    if not at or not _WORD_CHARACTER.match(lead) or not _WORD_CHARACTER.match(text[at - 1]):
        return True
    return text.startswith("--", max(at - 2, 0))


def _is_private(code: int) -> bool:
    return 0xE000 <= code <= 0xF8FF or code >= 0xF0000


def _code(match: re.Match[str]) -> int:
    braces, high, low, four, long, css, hexadecimal, decimal, plain, character = match.groups()
    if character:
        return ord(character)
    if high:
        return 0x10000 + ((int(high, 16) - 0xD800) << 10) + int(low, 16) - 0xDC00
    if decimal:
        return int(decimal)
    return int(braces or four or long or css or hexadecimal or plain, 16)


def merged(forms: Iterable[ReferenceForm]) -> list[ReferenceForm]:
    """Return forms that begin alike as one: constants of two languages may be called the same."""
    found: dict[tuple[Shape, str, frozenset[str]], ReferenceForm] = {}
    for form in forms:
        key = form.shape, form.lead, form.endings
        if key in found:
            form = form._replace(names={**found[key].names, **form.names}, own=found[key].own | form.own)
        found[key] = form
    return list(found.values())


def _judged(form: ReferenceForm, written: str, text: str, at: int, part: int, sure: bool = True) -> Reference:
    """Return what a word that a form names is. at: where the whole begins; part: where the word does; sure: as the
    attribute of references."""
    whole = text[at : part + len(written)]
    span = (part, len(written))
    if written in form.names:
        return Reference(Found.USED, form.names[written], whole, at, span, form)
    return Reference(Found.UNKNOWN, written, whole, at, span, form, sure)


def _class(form: ReferenceForm, text: str, at: int, after: int) -> Iterator[Reference]:
    match = _CLASS.match(text, after)
    rest = after if match is None else match.end()
    if _HOLE.match(text, rest) or ((match is None or match[0].endswith("-")) and _JOINED.match(text, rest)):
        yield Reference(Found.UNDECIDABLE, "", _line_of(text, at, rest), at)
        return
    if match is None or match[0] in form.own:
        return
    written = match[0]
    if written in form.names:
        yield _judged(form, written, text, at, after)
        return
    custom = text.startswith("--", max(at - 2, 0)) or written.endswith("-")
    if not custom and not written.startswith(_FAMILIES) and _stands_for_class(text, at):
        yield _judged(form, written, text, at, after, sure=_beside_base(form, text, at))


def _beside_base(form: ReferenceForm, text: str, at: int) -> bool:
    """Return whether the base class stands in the same quoted text: nobody puts that beside a class of their own."""
    before, after = text[max(at - _BACK, 0) : at], text[at : at + _BACK]
    start = max(before.rfind(mark) for mark in "\"'`") + 1
    ends = [end for mark in "\"'`" if (end := after.find(mark)) >= 0]
    words = (before[start:] + after[: min(ends, default=0)]).split()
    return any(word.startswith(form.lead) and word.removeprefix(form.lead) in form.own for word in words)


def _stands_for_class(text: str, at: int) -> bool:
    """Return whether a word that looks like one of our classes stands where classes do: in a quoted text of nothing but
    words, after `class=`, or in a selector."""
    before = text[max(at - _BACK, 0) : at]
    if before.endswith((".", "=")):
        return True
    quote = max(before.rfind(mark) for mark in "\"'`")
    if quote < 0 or "\n\n" in before[quote:]:
        return False
    return re.fullmatch(r"[\w\s:./\[\]%!@-]*", before[quote + 1 :]) is not None


def _word(form: ReferenceForm, text: str, at: int, after: int) -> Iterator[Reference]:
    match = _WORD.match(text, after + (text[after : after + 1] == "`"))
    if match is None:
        return
    written = match[0]
    called = text[match.end() : match.end() + 1] == "("
    if written in form.names or (written not in form.own and not called and _alike(written, form.names)):
        yield _judged(form, written, text, at, match.start())


def _alike(written: str, names: Mapping[str, str]) -> bool:
    """Return whether a word is written in the manner of the names: all capitals, or beginning with one, or neither."""

    def manner(word: str) -> tuple[bool, bool]:
        return word.upper() == word and len(word) > 1, word[:1].isupper()

    return manner(written) in {manner(name) for name in names}


def _key(form: ReferenceForm, text: str, at: int, after: int) -> Iterator[Reference]:
    if match := _KEY.match(text, after):
        if _HOLE.search(match[2]):
            yield Reference(Found.UNDECIDABLE, "", _line_of(text, at, match.end()), at)
        else:
            yield _judged(form, match[2], text, at, match.start(2))
    elif _OPEN.match(text, after):
        yield Reference(Found.UNDECIDABLE, "", _line_of(text, at, after), at)
    elif (member := _MEMBER.match(text, after)) and member[1] not in form.own:
        called = text[member.end() : member.end() + 1] == "("
        if member[1] in form.names or not called:
            yield _judged(form, member[1], text, at, member.start(1))


def _argument(form: ReferenceForm, text: str, at: int, after: int) -> Iterator[Reference]:
    match = _ARGUMENT.match(text, after)
    if match is None or _HOLE.search(match[2]):
        yield Reference(Found.UNDECIDABLE, "", _line_of(text, at, after), at)
    else:
        yield _judged(form, match[2], text, at, match.start(2))


def _attribute(form: ReferenceForm, text: str, at: int, after: int) -> Iterator[Reference]:
    if text[after : after + 1].strip() not in ("", ">", "/"):
        return
    tag = text[after : after + _ELEMENT].partition(">")[0]
    if (match := _NAME.search(tag)) and not _HOLE.search(match[2]):
        yield _judged(form, match[2], text, at, after + match.start(2))
    elif match or _BOUND.search(tag):
        yield Reference(Found.UNDECIDABLE, "", _line_of(text, at, after), at)


def _fragment(form: ReferenceForm, text: str, at: int, after: int) -> Iterator[Reference]:
    match = _FRAGMENT.match(text, after)
    if match is None or _HOLE.search(match[0]):
        yield Reference(Found.UNDECIDABLE, "", _line_of(text, at, after), at)
    else:
        yield _judged(form, match[0], text, at, after)


def _typed(form: ReferenceForm, text: str, at: int, after: int) -> Iterator[Reference]:
    if match := _TYPED.match(text, after):
        yield _judged(form, match[2], text, at, match.start(2))


def _ligature(form: ReferenceForm, text: str, at: int, after: int) -> Iterator[Reference]:
    if match := _LIGATURE.match(text, after):
        yield _judged(form, match[1].lower(), text, match.start(1), match.start(1))


_FOLLOW = {
    Shape.CLASS: _class,
    Shape.WORD: _word,
    Shape.KEY: _key,
    Shape.ARGUMENT: _argument,
    Shape.ATTRIBUTE: _attribute,
    Shape.FRAGMENT: _fragment,
    Shape.TYPED: _typed,
    Shape.LIGATURE: _ligature,
}


def _line_of(text: str, at: int, rest: int) -> str:
    """Return the text from `at` to the end of its line, at most 80 characters more than what was read."""
    end = text.find("\n", rest)
    return text[at : min(end if end >= 0 else len(text), rest + 80)].strip()
