"""The definition of a kind of output."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import NamedTuple

from oddpeg.diagnostics import Diagnostic, UsageError
from oddpeg.iconset.font_names import Naming
from oddpeg.iconset.model import Icon, IconSet
from oddpeg.outputs.context import OutputContext, Snippet
from oddpeg.outputs.escape import css_character
from oddpeg.outputs.naming import family_words, lower, pascal
from oddpeg.outputs.references import ReferenceForm

OptionValue = str | bool | None


class Option(NamedTuple):
    """A config key of one kind of output.

    Attributes:
        default: None for a switch whose default depends on the icons.
        summary: its effect.
        choices: permitted texts; empty permits all.
    """

    default: OptionValue
    summary: str
    choices: tuple[str, ...] = ()

    @property
    def is_switch(self) -> bool:
        """Whether it is true or false, not a text."""
        return not isinstance(self.default, str)

    @property
    def is_number(self) -> bool:
        """Whether the config may have a number in place of the text."""
        return isinstance(self.default, str) and self.default[:1].isdecimal()

    @property
    def values(self) -> list[str | int]:
        """The permitted values, numbers as such too."""
        return [*self.choices, *(int(choice) for choice in self.choices if choice.isdecimal())]


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


def no_setup(icon_set: IconSet, context: OutputContext) -> list[Snippet]:
    return []


def _no_references(icon_set: IconSet, context: OutputContext) -> list[ReferenceForm]:
    return []


def _no_companions(icon_set: IconSet, context: OutputContext) -> Mapping[str, str]:
    return {}


def needs(*formats: str) -> Callable[[Mapping[str, OptionValue]], tuple[str, ...]]:
    """Return a function for `OutputKind.needs`: the bundle must have one of these font formats."""
    return lambda options: formats


def needs_unless_embedded(*formats: str) -> Callable[[Mapping[str, OptionValue]], tuple[str, ...]]:
    """Return a function for `OutputKind.needs` of an output with `FONT_OPTIONS`."""
    return lambda options: () if options["embed"] else formats


def embedded_formats(options: Mapping[str, OptionValue]) -> tuple[str, ...]:
    """Return the formats that an output with `FONT_OPTIONS` embeds."""
    return ("woff2",) if options["embed"] else ()


DRAWN_OPTIONS = {"drawn": Option("0", "the font size whose drawings it holds, in CSS pixels; 0 for the usual ones")}


def drawn_size(context: OutputContext) -> float:
    """Return the font size whose drawings an output holds; 0 for the usual ones. Raise `UsageError` for another
    value."""
    text = str(context.options["drawn"])
    if text.isascii() and text.isdigit() and len(text) < 5:
        return float(text)
    raise UsageError(Diagnostic("config-value", f"drawn is {text!r}", "write a number of CSS pixels, like drawn = 16"))


FONT_OPTIONS = {
    "embed": Option(False, "carry the font within it, as a data URI"),
    "url": Option("", "where fonts are served from: the URL of their folder, or a whole URL with {file} for the name"),
}


def _never(icon_set: IconSet, context: OutputContext) -> bool:
    return False


def always(icon_set: IconSet, context: OutputContext) -> bool:
    """Return True: the output always shows drawings."""
    return True


class OutputKind(NamedTuple):
    """One kind of output.

    Attributes:
        name: its name in the config.
        summary: a phrase for the reference.
        place: the platform or file type that it serves.
        file: default file name; {stem}, {Type} and {under} are replaced by the family's name as a file name, a type
            name and a word with underscores.
        write: function that returns its content, text or (with an embedded font) bytes.
        snippets: function that returns the lines to paste for one icon.
        setup: function that returns the lines to paste once for each page or program.
        references: function that returns the forms in which code names icons.
        companions: function that returns further files, by path relative to its own folder.
        needs: font formats of which the bundle must have one, given its options; empty for none.
        rank: position in lists.
        shows_drawings: it shows the icons or texts of their drawings.
        findings: it shows the findings of a check.
        is_picture: it takes long to paint, and drafts do without.
        embeds: function that returns the font formats that it embeds, given its options.
        hash_in_name: pages load it by name; the name gets a hash if the bundle sets that option.
        needs_final_names: it names other files of its bundle, and is written after them.
        write_icons: of an output that embeds a font: function that returns the text for some icons. A text may depend
            on its icon and on the names of all icons. It is made while fonts are packed, and cached.
        options: keys of its own.
        resource_folder: the folder of an app's resources that it belongs into, next to that of fonts.
        resource_names: fonts next to it need names that are legal as app resources (letters, digits, underscores).
    """

    name: str
    summary: str
    place: str
    file: str
    write: Callable[[IconSet, OutputContext], str | bytes]
    snippets: Callable[[IconSet, OutputContext, Icon], list[Snippet]] = no_snippets
    setup: Callable[[IconSet, OutputContext], list[Snippet]] = no_setup
    references: Callable[[IconSet, OutputContext], list[ReferenceForm]] = _no_references
    companions: Callable[[IconSet, OutputContext], Mapping[str, str]] = _no_companions
    needs: Callable[[Mapping[str, OptionValue]], tuple[str, ...]] = _no_fonts
    rank: int = 50
    shows_drawings: Callable[[IconSet, OutputContext], bool] = _never
    findings: bool = False
    is_picture: bool = False
    embeds: Callable[[Mapping[str, OptionValue]], tuple[str, ...]] = _no_fonts
    hash_in_name: bool = False
    needs_final_names: bool = False
    write_icons: Callable[[IconSet, OutputContext, Sequence[Icon]], list[str]] | None = None
    options: Mapping[str, Option] = {}
    resource_folder: str = ""
    resource_names: bool = False

    def options_with_defaults(self, given: Mapping[str, OptionValue]) -> dict[str, OptionValue]:
        """Return every option: the value in the config, otherwise its default."""
        return {**{key: option.default for key, option in self.options.items()}, **given}

    def file_name(self, naming: Naming) -> str:
        """Return its file's name where the config gives none."""
        words = family_words(naming.family)
        package = "".join(words).lower()
        return self.file.format(stem=naming.stem, Type=pascal(words), under=lower(words), package=package)
