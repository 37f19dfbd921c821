"""The definition of a kind of output."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import NamedTuple

from oddpeg.iconset.font_names import Naming
from oddpeg.iconset.model import Icon, IconSet
from oddpeg.outputs.context import OutputContext, Snippet
from oddpeg.outputs.escape import css_character
from oddpeg.outputs.naming import family_words, lower, pascal
from oddpeg.outputs.references import ReferenceForm

OptionValue = str | bool | None


class Option(NamedTuple):
    """A config key of one kind.

    Attributes:
        default: what holds where the config says nothing; None where that is a switch which depends on the icons.
        summary: what it does.
        choices: the texts it may be; any, where there are none.
    """

    default: OptionValue
    summary: str
    choices: tuple[str, ...] = ()

    @property
    def is_switch(self) -> bool:
        """Whether it is true or false, not a text."""
        return not isinstance(self.default, str)


def plain_snippets(icon: Icon) -> list[Snippet]:
    """Return the snippets for an icon that need no output."""
    return [
        Snippet("entity", f"&#x{icon.hex};"),
        Snippet("escape", css_character(icon.codepoint)),
        Snippet("character", icon.character),
        Snippet("codepoint", f"U+{icon.hex.upper()}"),
    ]


def no_snippets(icon_set: IconSet, context: OutputContext, icon: Icon) -> list[Snippet]:
    """Return nothing, for kinds that only list icons."""
    return []


def _no_fonts(options: Mapping[str, OptionValue]) -> tuple[str, ...]:
    return ()


def _no_setup(icon_set: IconSet, context: OutputContext) -> list[Snippet]:
    return []


def _no_references(icon_set: IconSet, context: OutputContext) -> list[ReferenceForm]:
    return []


def _no_companions(icon_set: IconSet, context: OutputContext) -> Mapping[str, str]:
    return {}


def needs(*formats: str) -> Callable[[Mapping[str, OptionValue]], tuple[str, ...]]:
    """Return a function for `OutputKind.needs`: the bundle must have one of these font formats."""
    return lambda options: formats


def _never(icon_set: IconSet, context: OutputContext) -> bool:
    return False


def always(icon_set: IconSet, context: OutputContext) -> bool:
    """Return True: the output always shows drawings."""
    return True


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
        setup: what to paste once, in each page or program that uses icons.
        references: how code names icons by means of it.
        companions: further files, by their path relative to the folder of its own.
        needs: font formats of which its bundle has to have one, given its options; any bundle will do where there are
            none.
        rank: where it stands in lists.
        shows_drawings: whether, in its surroundings, it shows the icons themselves, or what their drawings hold.
        findings: it shows what checking found.
        embeds: which font files, given its options, it holds within it.
        served: pages load it by its name, which gets a digest where the bundle asks for that.
        refers: it names other files of its bundle, and is written after them.
        write_icons: of an output that carries a font: what it says of each of some icons, which may depend on that
            icon and on the names of all. It is made while fonts are packed, and kept from build to build; `write`
            finds it in its surroundings.
        options: keys of its own.
        resource_names: fonts beside it need names that are legal as resources of an app (letters, digits, underscores).
    """

    name: str
    summary: str
    place: str
    file: str
    write: Callable[[IconSet, OutputContext], str | bytes]
    snippets: Callable[[IconSet, OutputContext, Icon], list[Snippet]] = no_snippets
    setup: Callable[[IconSet, OutputContext], list[Snippet]] = _no_setup
    references: Callable[[IconSet, OutputContext], list[ReferenceForm]] = _no_references
    companions: Callable[[IconSet, OutputContext], Mapping[str, str]] = _no_companions
    needs: Callable[[Mapping[str, OptionValue]], tuple[str, ...]] = _no_fonts
    rank: int = 50
    shows_drawings: Callable[[IconSet, OutputContext], bool] = _never
    findings: bool = False
    embeds: Callable[[Mapping[str, OptionValue]], tuple[str, ...]] = _no_fonts
    served: bool = False
    refers: bool = False
    write_icons: Callable[[IconSet, OutputContext, Sequence[Icon]], list[str]] | None = None
    options: Mapping[str, Option] = {}
    resource_names: bool = False

    def options_with_defaults(self, given: Mapping[str, OptionValue]) -> dict[str, OptionValue]:
        """Return every option: the value in the config, otherwise its default."""
        return {**{key: option.default for key, option in self.options.items()}, **given}

    def file_name(self, naming: Naming) -> str:
        """Return its file's name where the config gives none."""
        words = family_words(naming.family)
        return self.file.format(stem=naming.stem, Type=pascal(words), under=lower(words))
