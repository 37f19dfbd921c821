"""XAML: a resource dictionary. Its font family goes by the family name, which the file name need not be. Source:
[MS-XAML]; the font URIs of each framework's own documentation."""

from __future__ import annotations

import posixpath

from oddpeg.iconset.model import Icon, IconSet
from oddpeg.outputs.context import OutputContext, Snippet
from oddpeg.outputs.escape import script_string
from oddpeg.outputs.kind import Option, OutputKind, needs
from oddpeg.outputs.language import Language
from oddpeg.outputs.naming import family_words, pascal

_LANGUAGE = Language("xaml", "xaml.jinja", pascal, call="{{StaticResource {Type}.{id}}}", endings=".xaml .axaml")
_BUILD_ACTIONS = {"wpf": "Resource", "winui": "Content", "maui": "MauiFont", "avalonia": "AvaloniaResource"}
_PRESENTATION = "http://schemas.microsoft.com/winfx/2006/xaml/presentation"
_MAUI = "http://schemas.microsoft.com/dotnet/2021/maui"
_AVALONIA = "https://github.com/avaloniaui"
_SYSTEM = "clr-namespace:System;assembly=mscorlib"


def _font(icon_set: IconSet, context: OutputContext) -> str:
    """Return the reference to the font: folder and family, file and family, or the registered alias, by framework."""
    folder = (str(context.options["folder"]) or posixpath.dirname(context.font_path(icon_set.stem))).strip("/")
    file = context.font_file(icon_set.stem)
    match context.options["dialect"]:
        case "winui":
            return f"ms-appx:///{folder}/{file}#{icon_set.font_family}"
        case "maui":
            return _alias(icon_set)
        case "avalonia":
            return f"avares://{context.options['assembly'] or _alias(icon_set)}/{folder}#{icon_set.font_family}"
    return f"pack://application:,,,/{folder}/#{icon_set.font_family}"


def _alias(icon_set: IconSet) -> str:
    return pascal(family_words(icon_set.family))


def write(icon_set: IconSet, context: OutputContext) -> str:
    """Return the dictionary."""
    dialect = context.options["dialect"]
    return _LANGUAGE.write(
        icon_set,
        context,
        dialect=dialect,
        namespace={"maui": _MAUI, "avalonia": _AVALONIA}.get(str(dialect), _PRESENTATION),
        system=_SYSTEM if dialect == "wpf" else "",
        string="sys:String" if dialect == "wpf" else "x:String",
        font=_font(icon_set, context),
        register=_register(icon_set, context),
    )


def _register(icon_set: IconSet, context: OutputContext) -> str:
    return f'fonts.AddFont("{context.font_file(icon_set.stem)}", {script_string(_alias(icon_set))});'


def setup(icon_set: IconSet, context: OutputContext) -> list[Snippet]:
    """Return the lines that register the font and merge the dictionary."""
    dialect = str(context.options["dialect"])
    font = context.font_path(icon_set.stem).replace("/", "\\")
    item = f'<{_BUILD_ACTIONS[dialect]} Include="{font}" />'
    source = f'<ResourceDictionary Source="{context.file}"/>'
    if dialect == "avalonia":
        source = (
            f'<ResourceInclude Source="avares://{context.options["assembly"] or _alias(icon_set)}/{context.file}"/>'
        )
    register = [_register(icon_set, context)] if dialect == "maui" else []
    return [Snippet("xaml", text) for text in (item, *register, source)]


def snippets(icon_set: IconSet, context: OutputContext, icon: Icon) -> list[Snippet]:
    """Return the element that shows the icon: a text needs the family beside the character."""
    tag = "Label" if context.options["dialect"] == "maui" else "TextBlock"
    family = f"{{StaticResource {_alias(icon_set)}}}"
    return [
        Snippet("xaml", f'<{tag} FontFamily="{family}" Text="{line.text}"/>')
        for line in _LANGUAGE.snippets(icon_set, context, icon)
    ]


KIND = OutputKind(
    "xaml",
    "resource dictionary: font family and characters",
    "merge it into the resources of the app",
    "{Type}.xaml",
    write,
    snippets,
    setup=setup,
    needs=needs("ttf"),
    references=_LANGUAGE.references,
    rank=20,
    options={
        "dialect": Option("wpf", "for which framework: wpf, winui, maui or avalonia", tuple(_BUILD_ACTIONS)),
        "folder": Option("", "where the font lies in the app; default: where it is delivered, seen from the project"),
        "assembly": Option("", "of Avalonia: the name of the app's assembly; default: the family's name as a type"),
    },
)
