"""XAML: a resource dictionary. Its font family goes by the family name, which the file name need not be. Source:
[MS-XAML]; the font URIs of each framework's own documentation."""

from __future__ import annotations

from oddpeg.iconset.model import IconSet
from oddpeg.outputs.context import OutputContext, Snippet
from oddpeg.outputs.escape import script_string
from oddpeg.outputs.kind import Option, OutputKind, needs
from oddpeg.outputs.language import Language
from oddpeg.outputs.naming import family_words, pascal

_LANGUAGE = Language("xaml", "xaml.jinja", pascal, call="{{StaticResource {Type}.{id}}}", endings=".xaml .axaml")
_PRESENTATION = "http://schemas.microsoft.com/winfx/2006/xaml/presentation"
_MAUI = "http://schemas.microsoft.com/dotnet/2021/maui"
_SYSTEM = "clr-namespace:System;assembly=mscorlib"


def _font(icon_set: IconSet, context: OutputContext) -> str:
    """Return the reference to the font: folder and family, file and family, or the registered alias, by framework."""
    folder = str(context.options["folder"]).strip("/")
    file = context.font_file(icon_set.stem)
    match context.options["dialect"]:
        case "winui":
            return f"ms-appx:///{folder}/{file}#{icon_set.font_family}"
        case "maui":
            return _alias(icon_set)
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
        namespace=_MAUI if dialect == "maui" else _PRESENTATION,
        system=_SYSTEM if dialect == "wpf" else "",
        string="sys:String" if dialect == "wpf" else "x:String",
        font=_font(icon_set, context),
        register=_register(icon_set, context),
    )


def _register(icon_set: IconSet, context: OutputContext) -> str:
    return f'fonts.AddFont("{context.font_file(icon_set.stem)}", {script_string(_alias(icon_set))});'


def setup(icon_set: IconSet, context: OutputContext) -> list[Snippet]:
    """Return the lines that register the font and merge the dictionary."""
    source = f'<ResourceDictionary Source="{context.file.rpartition("/")[2]}"/>'
    register = [_register(icon_set, context)] if context.options["dialect"] == "maui" else []
    return [Snippet("xaml", text) for text in (*register, source)]


KIND = OutputKind(
    "xaml",
    "resource dictionary: font family and characters",
    "merge it into the resources of the app",
    "{Type}.xaml",
    write,
    _LANGUAGE.snippets,
    setup=setup,
    needs=needs("ttf"),
    references=_LANGUAGE.references,
    rank=20,
    options={
        "dialect": Option("wpf", "for which framework: wpf, winui or maui", ("wpf", "winui", "maui")),
        "folder": Option("/Fonts", "where the font lies in the app; MAUI goes by the name it is registered with"),
    },
)
