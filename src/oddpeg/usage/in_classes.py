"""Mistakes in the classes of elements. Source: HTML, class attribute."""

from __future__ import annotations

import re
from collections.abc import Iterator

from oddpeg.suggestions import nearest
from oddpeg.usage.problem import HOLE, Expected, Problem

_CLASSES = re.compile(r"""class(?<=\bclass)(?:Name)?\s{0,9}=\s{0,9}\{?\s{0,9}(["'])([^"'`]{1,2000})\1""")


def swapped(word: str) -> list[str]:
    """Return a word with two neighbouring letters in each other's place, at every place."""
    return [word[:i] + word[i + 1] + word[i] + word[i + 2 :] for i in range(len(word) - 1) if word[i] != word[i + 1]]


def prefixes(expected: Expected) -> list[str]:
    """Return the prefix of classes, and what it becomes by two letters in each other's place."""
    return [expected.prefix, *swapped(expected.prefix)]


def in_classes(expected: Expected, text: str) -> Iterator[Problem]:
    """Yield the mistakes in the class attributes of a text; an attribute that a template puts together has none."""
    for match in _CLASSES.finditer(text):
        if not HOLE.search(match[2]):
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
    turned = set(swapped(expected.prefix)) if len(expected.prefix) > 2 else set()
    bases = {expected.base, *(expected.base.replace(expected.prefix, one, 1) for one in turned)}
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
            head in turned or (beside and len(head) > 2 and nearest(head, [expected.prefix], 1, 0.7))
        ):  # fmt: skip
            right = name
        if right:
            own = f"{expected.prefix}-{right}"
            fix = own if has_base or not expected.needs_base else f"{expected.base} {own}"
            yield Problem("class-misspelled", f"{word} is no class of the font", f"write {fix}", at, len(word), fix)
