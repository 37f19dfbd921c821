"""Markup extension: an enum of icons and an extension that XAML names them by. Source: C# language specification; the
extension interface of each framework."""

from __future__ import annotations

from oddpeg.iconset.model import Icon, IconSet
from oddpeg.outputs.context import OutputContext, Snippet
from oddpeg.outputs.kind import Option, OutputKind, needs
from oddpeg.outputs.language import Language
from oddpeg.outputs.naming import family_words, identifiers, pascal
from oddpeg.outputs.references import NameShape, ReferenceForm

_LANGUAGE = Language(
    "markup-extension", "markup_extension.jinja", pascal, reserved=("Family",), endings=".xaml .axaml .cs"
)
_BASES = {
    "wpf": "System.Windows.Markup.MarkupExtension",
    "winui": "Microsoft.UI.Xaml.Markup.MarkupExtension",
    "maui": "Microsoft.Maui.Controls.Xaml.IMarkupExtension<string>",
    "avalonia": "Avalonia.Markup.Xaml.MarkupExtension",
}


def write(icon_set: IconSet, context: OutputContext) -> str:
    """Return the file."""
    dialect = str(context.options["dialect"])
    return _LANGUAGE.write(icon_set, context, dialect=dialect, base=_BASES[dialect])


def _lead(icon_set: IconSet, context: OutputContext) -> str:
    """Return what stands before an icon's name, as each framework passes the value."""
    key = "Icon=" if context.options["dialect"] == "winui" else ""
    return f"{{signs:{pascal(family_words(icon_set.family))} {key}"


def setup(icon_set: IconSet, context: OutputContext) -> list[Snippet]:
    """Return the declaration of the namespace."""
    how = "clr-namespace:" if context.options["dialect"] in ("wpf", "maui") else "using:"
    return [Snippet("markup-extension", f'xmlns:signs="{how}{context.options["package"]}"')]


def snippets(icon_set: IconSet, context: OutputContext, icon: Icon) -> list[Snippet]:
    """Return the attribute."""
    name = identifiers(_LANGUAGE.name, icon_set, _LANGUAGE.entries)[icon.name]
    return [Snippet("markup-extension", f'Text="{_lead(icon_set, context)}{name}}}"')]


def references(icon_set: IconSet, context: OutputContext) -> list[ReferenceForm]:
    """Return the extension in markup, and the enum in code."""
    names = {entry.identifier: entry.name for entry in _LANGUAGE.entries(icon_set)}
    leads = (_lead(icon_set, context), f"{pascal(family_words(icon_set.family))}Name.")
    endings = frozenset((".xaml", ".axaml", ".cs"))
    return [ReferenceForm(NameShape.WORD, lead, names, frozenset(), endings) for lead in leads]


KIND = OutputKind(
    "markup-extension",
    "C# enum of icons, and an extension that XAML names them by",
    "add it to the project",
    "{Type}Extension.cs",
    write,
    snippets,
    setup=setup,
    references=references,
    needs=needs("ttf"),
    rank=20,
    options={
        "dialect": Option("wpf", "for which framework: wpf, winui, maui or avalonia", tuple(_BASES)),
        "package": Option("Signs", "the namespace that the types are in"),
    },
)
