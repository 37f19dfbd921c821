"""What a kind of output is."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import NamedTuple

from oddpeg.iconset.model import Icon, IconSet, Naming
from oddpeg.outputs.context import OutputContext, Snippet
from oddpeg.outputs.escape import css_character
from oddpeg.outputs.naming import family_words, lower, pascal


class Option(NamedTuple):
    """A key that a kind has in the config: its default, and what it does."""

    default: str | bool
    summary: str


def plain_snippets(icon: Icon) -> list[Snippet]:
    """Return what stands for an icon without any output of ours."""
    return [
        Snippet("entity", f"&#x{icon.hex};"),
        Snippet("escape", css_character(icon.codepoint)),
        Snippet("character", icon.character),
        Snippet("codepoint", f"U+{icon.hex.upper()}"),
    ]


def no_snippets(icon_set: IconSet, context: OutputContext, icon: Icon) -> list[Snippet]:
    """Return nothing, for kinds that only list icons."""
    return []


def _no_fonts(options: Mapping[str, str | bool]) -> tuple[str, ...]:
    return ()


class OutputKind(NamedTuple):
    """One kind of output.

    Attributes:
        name: as the config has it.
        summary: for the reference, in a few words.
        place: where it goes.
        file: its name where the config gives none, {stem}, {Type} and {under} standing for the family's name as a file,
            a class and a word with underscores.
        write: its content, text or (where it carries a font file) bytes.
        snippets: what to paste for one icon.
        rank: where it stands in lists.
        pictures: it shows the icons themselves, in drafts too where pictures_in_drafts is set.
        pictures_in_drafts: whether drafts draw every icon too.
        findings: it shows what checking found.
        embeds: which font files, given its options, it holds within it.
        options: keys of its own.
        resource_names: fonts beside it need names that are legal as resources of an app (letters, digits, underscores).
    """

    name: str
    summary: str
    place: str
    file: str
    write: Callable[[IconSet, OutputContext], str | bytes]
    snippets: Callable[[IconSet, OutputContext, Icon], list[Snippet]] = no_snippets
    rank: int = 50
    pictures: bool = False
    pictures_in_drafts: bool = False
    findings: bool = False
    embeds: Callable[[Mapping[str, str | bool]], tuple[str, ...]] = _no_fonts
    options: Mapping[str, Option] = {}
    resource_names: bool = False

    def options_with_defaults(self, given: Mapping[str, str | bool]) -> dict[str, str | bool]:
        """Return every option: what the config gives, else its default."""
        return {**{key: option.default for key, option in self.options.items()}, **given}

    def file_name(self, naming: Naming) -> str:
        """Return its file's name where the config gives none."""
        words = family_words(naming.family)
        return self.file.format(stem=naming.stem, Type=pascal(words), under=lower(words))
