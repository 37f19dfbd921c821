"""References to icons in code: the forms that each kind of output has, and the references found."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from enum import Enum
from typing import NamedTuple


class NameShape(Enum):
    """The syntax that connects a lead and the name of an icon."""

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
    """A place in a text that names an icon, or seems to.

    Attributes:
        found: what it is.
        name: of the icon or an alias, where it is one; what was written, where it is unknown.
        text: as it stands there.
        at: its offset.
        part: the offset and the length of the name itself.
        form: what it was taken for; none for a codepoint.
        sure: it is one of ours even if no name of ours is near it, or nothing else of ours in the text.
    """

    found: Found
    name: str
    text: str
    at: int
    part: tuple[int, int] = (0, 0)
    form: ReferenceForm | None = None
    sure: bool = True


def merged(forms: Iterable[ReferenceForm]) -> list[ReferenceForm]:
    """Return forms that begin alike as one: constants of two languages may be called the same."""
    found: dict[tuple[NameShape, str, frozenset[str]], ReferenceForm] = {}
    for form in forms:
        key = form.shape, form.lead, form.endings
        if key in found:
            form = form._replace(names={**found[key].names, **form.names}, own=found[key].own | form.own)
        found[key] = form
    return list(found.values())
