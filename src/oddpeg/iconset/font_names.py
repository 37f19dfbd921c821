"""Names of the font, and names in its stylesheets."""

from __future__ import annotations

from typing import NamedTuple


class Naming(NamedTuple):
    """Names and rights of the font.

    Attributes:
        family: the name to choose the font by in stylesheets.
        version: MAJOR.MINOR.
        stem: the name of its files, without ending.
        copyright: of the font.
        licence: its name or text.
        licence_url: where it can be read.
        designer: who drew the icons.
        font_family: the family name in the font file, which programs that load the file choose it by; empty where it is
            the same.
    """

    family: str
    version: str
    stem: str
    copyright: str = ""
    licence: str = ""
    licence_url: str = ""
    designer: str = ""
    font_family: str = ""


class ClassNames(NamedTuple):
    """Class names in stylesheets.

    Attributes:
        prefix: classes are PREFIX-NAME.
        base: the class that every icon needs in addition.
        sizes, colours: (name, CSS value) of each class for a size or colour.
        states: what states are called.
        drawn: sizes in CSS pixels that have drawings of their own.
    """

    prefix: str
    base: str
    sizes: tuple[tuple[str, str], ...] = ()
    colours: tuple[tuple[str, str], ...] = ()
    states: tuple[str, ...] = ()
    drawn: tuple[int, ...] = ()
