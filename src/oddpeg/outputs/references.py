"""References to icons in code: the forms that each kind of output has, and the references found."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from enum import Enum
from typing import NamedTuple

_SCRIPT = re.compile(r"\.(?:[cm]?[jt]sx?|vue|svelte)$")
_OTHER_FILE = re.compile(r"\.\w{1,5}$")


class NameShape(Enum):
    """The syntax that connects a lead and the name of an icon."""

    CLASS = "class"  # a class: letters, digits, hyphens, in a text or a selector
    WORD = "word"  # an identifier
    KEY = "key"  # a text in brackets, or a member
    ARGUMENT = "argument"  # a text in brackets of a call
    ATTRIBUTE = "attribute"  # an element's attribute `name`
    FRAGMENT = "fragment"  # a URL's fragment
    IMPORT = "import"  # names in the braces of an import
    LITERAL = "literal"  # any text in a file that imports the module
    TYPED = "typed"  # a text that is assigned
    LIGATURE = "ligature"  # the text of an element that has a class


class ReferenceForm(NamedTuple):
    """One form in which code names icons.

    Attributes:
        shape: the rest of the form, after the name.
        lead: text before the name; for imports the end of the module's path.
        names: text in code → name or alias of the icon.
        own: other words after the same lead that are not icons.
        endings: extensions of files to search; empty for all.
    """

    shape: NameShape
    lead: str
    names: Mapping[str, str]
    own: frozenset[str] = frozenset()
    endings: frozenset[str] = frozenset()


class Found(Enum):
    """The kind of a reference."""

    USED = "used"
    UNKNOWN = "unknown"
    UNDECIDABLE = "undecidable"


class Reference(NamedTuple):
    """A part of a text that names an icon, or may do so.

    Attributes:
        found: kind of reference.
        name: name or alias of the icon, or the unknown name.
        text: the text in the file.
        at: its offset.
        part: offset and length of the name itself.
        form: the form that matched; None for a codepoint.
        sure: it counts even without other references in the text.
    """

    found: Found
    name: str
    text: str
    at: int
    part: tuple[int, int] = (0, 0)
    form: ReferenceForm | None = None
    sure: bool = True


def module_stem(path: str) -> str:
    """Return what a module is called in paths: its file without ending, or its folder for an index; "" for other
    files."""
    stem = _SCRIPT.sub("", path)
    name = stem.removesuffix("/index").rpartition("/")[2]
    return "" if stem == path and _OTHER_FILE.search(name) else name


def merged(forms: Iterable[ReferenceForm]) -> list[ReferenceForm]:
    """Return forms that begin alike as one: constants of two languages may be called the same."""
    forms_by_shape: dict[tuple[NameShape, str, frozenset[str]], ReferenceForm] = {}
    for form in forms:
        key = form.shape, form.lead, form.endings
        if key in forms_by_shape:
            form = form._replace(
                names={**forms_by_shape[key].names, **form.names}, own=forms_by_shape[key].own | form.own
            )
        forms_by_shape[key] = form
    return list(forms_by_shape.values())
