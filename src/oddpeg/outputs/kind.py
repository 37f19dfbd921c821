"""What a kind of output is. Does not know: which kinds there are."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import NamedTuple

from oddpeg.iconset.model import Catalogue, Icon, Surroundings
from oddpeg.outputs.escape import css_character
from oddpeg.outputs.naming import family_words, lower, pascal


class Option(NamedTuple):
    """A key that a kind has in the config: what it is without being said, and what it does."""

    default: str | bool
    summary: str


class Line(NamedTuple):
    """What to paste to use one icon in one place. place: what it is for, in a word or two."""

    place: str
    text: str


def anywhere(icon: Icon) -> list[Line]:
    """Return what stands for an icon without any output of ours."""
    return [
        Line("entity", f"&#x{icon.hex};"),
        Line("escape", css_character(icon.codepoint)),
        Line("character", icon.character),
        Line("codepoint", f"U+{icon.hex.upper()}"),
    ]


def no_lines(catalogue: Catalogue, around: Surroundings, icon: Icon) -> list[Line]:
    """Return nothing: what kinds have to say that only list icons."""
    return []


def _none(options: Mapping[str, str | bool]) -> tuple[str, ...]:
    return ()


class Kind(NamedTuple):
    """One kind of output. file: its name where the config gives none, {stem}, {Type} and {under} standing for the
    family's name as a file, a class and a word with underscores; write: its content, text or (where it carries a font
    file) bytes; pictures: it shows the icons themselves; carries: which font files, given its options, it holds
    within it; use: what to paste for one icon; findings: it shows what checking found; rank: where it stands in
    lists.
    """

    name: str
    summary: str
    place: str
    file: str
    write: Callable[[Catalogue, Surroundings], str | bytes]
    use: Callable[[Catalogue, Surroundings, Icon], list[Line]] = no_lines
    rank: int = 50
    pictures: bool = False
    findings: bool = False
    carries: Callable[[Mapping[str, str | bool]], tuple[str, ...]] = _none
    options: Mapping[str, Option] = {}

    def defaults(self) -> dict[str, str | bool]:
        """Return what every option is without being said."""
        return {key: option.default for key, option in self.options.items()}

    def file_name(self, catalogue: Catalogue) -> str:
        """Return its file's name where the config gives none."""
        words = family_words(catalogue.family)
        return self.file.format(stem=catalogue.stem, Type=pascal(words), under=lower(words))
