"""The syntax after the lead of a reference, by shape.

Every expression here is tried at one position, has no nested repetition, and is limited in length, so that the work
grows linearly with the text.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping

from oddpeg.outputs.references import Found, NameShape, Reference, ReferenceForm

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
_TYPED = re.compile(r"""\s{0,20}=\s{0,20}(["'])([^"'\n]{1,200})\1""")
_LIGATURE = re.compile(r"""[\w\s:./%-]{0,300}["'][^<>]{0,500}>\s{0,100}([\w-]{2,100})\s{0,100}</""")
_FAMILIES = ("size-", "colour-", "face-", "palette-")  # of classes that are no icons
_ELEMENT = 2000  # characters of an element's tag that are looked at
_BACK = 400  # characters before a class that are looked at for a quote


def judged(form: ReferenceForm, written: str, text: str, at: int, part: int, sure: bool = True) -> Reference:
    """Return the reference that a word makes. at: where the whole begins; part: where the word does; sure: as the
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
        yield judged(form, written, text, at, after)
        return
    custom = text.startswith("--", max(at - 2, 0)) or written.endswith("-")
    if not custom and not written.startswith(_FAMILIES) and _stands_for_class(text, at):
        yield judged(form, written, text, at, after, sure=_beside_base(form, text, at))


def _beside_base(form: ReferenceForm, text: str, at: int) -> bool:
    """Return whether the base class stands in the same quoted text, so the other class is an icon's."""
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
        yield judged(form, written, text, at, match.start())


def _alike(written: str, names: Mapping[str, str]) -> bool:
    """Return whether a word is written in the manner of the names: all capitals, or beginning with one, or neither."""

    def manner(word: str) -> tuple[bool, bool]:
        return word.upper() == word and len(word) > 1, word[:1].isupper()

    wanted = manner(written)
    return any(manner(name) == wanted for name in names)


def _key(form: ReferenceForm, text: str, at: int, after: int) -> Iterator[Reference]:
    if match := _KEY.match(text, after):
        if _HOLE.search(match[2]):
            yield Reference(Found.UNDECIDABLE, "", _line_of(text, at, match.end()), at)
        else:
            yield judged(form, match[2], text, at, match.start(2))
    elif _OPEN.match(text, after):
        yield Reference(Found.UNDECIDABLE, "", _line_of(text, at, after), at)
    elif (member := _MEMBER.match(text, after)) and member[1] not in form.own:
        called = text[member.end() : member.end() + 1] == "("
        if member[1] in form.names or not called:
            yield judged(form, member[1], text, at, member.start(1))


def _argument(form: ReferenceForm, text: str, at: int, after: int) -> Iterator[Reference]:
    match = _ARGUMENT.match(text, after)
    if match is None or _HOLE.search(match[2]):
        yield Reference(Found.UNDECIDABLE, "", _line_of(text, at, after), at)
    else:
        yield judged(form, match[2], text, at, match.start(2))


def _attribute(form: ReferenceForm, text: str, at: int, after: int) -> Iterator[Reference]:
    if text[after : after + 1].strip() not in ("", ">", "/"):
        return
    tag = text[after : after + _ELEMENT].partition(">")[0]
    if (match := _NAME.search(tag)) and not _HOLE.search(match[2]):
        yield judged(form, match[2], text, at, after + match.start(2))
    elif match or _BOUND.search(tag):
        yield Reference(Found.UNDECIDABLE, "", _line_of(text, at, after), at)


def _fragment(form: ReferenceForm, text: str, at: int, after: int) -> Iterator[Reference]:
    match = _FRAGMENT.match(text, after)
    if match is None or _HOLE.search(match[0]):
        yield Reference(Found.UNDECIDABLE, "", _line_of(text, at, after), at)
    else:
        yield judged(form, match[0], text, at, after)


def _typed(form: ReferenceForm, text: str, at: int, after: int) -> Iterator[Reference]:
    if match := _TYPED.match(text, after):
        yield judged(form, match[2], text, at, match.start(2))


def _ligature(form: ReferenceForm, text: str, at: int, after: int) -> Iterator[Reference]:
    if match := _LIGATURE.match(text, after):
        yield judged(form, match[1].lower(), text, match.start(1), match.start(1))


FOLLOW = {
    NameShape.CLASS: _class,
    NameShape.WORD: _word,
    NameShape.KEY: _key,
    NameShape.ARGUMENT: _argument,
    NameShape.ATTRIBUTE: _attribute,
    NameShape.FRAGMENT: _fragment,
    NameShape.TYPED: _typed,
    NameShape.LIGATURE: _ligature,
}


def _line_of(text: str, at: int, rest: int) -> str:
    """Return the text from `at` to the end of its line, at most 80 characters after the match."""
    end = text.find("\n", rest)
    return text[at : min(end if end >= 0 else len(text), rest + 80)].strip()
