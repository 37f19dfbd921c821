"""The kinds that only list constants: one row for each language. The text around the constants is a template.

Sources: the grammar of each language.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from oddpeg.iconset.model import IconSet
from oddpeg.outputs.context import OutputContext, Snippet
from oddpeg.outputs.escape import python_string, swift_string
from oddpeg.outputs.kind import Option, OutputKind, needs
from oddpeg.outputs.language import JVM_OPTIONS, Language, jvm_setup
from oddpeg.outputs.naming import camel, family_words, lower, pascal, upper
from oddpeg.outputs.ranges import runs_of

_SWIFT = """associatedtype class deinit enum extension fileprivate func import init inout internal let open operator
private precedencegroup protocol public rethrows static struct subscript typealias var break case catch continue default
defer do else fallthrough for guard if in repeat return throw switch where while any as await false is nil self super
throws true try"""
_SWIFT_MEMBERS = "named byName family rawValue allCases hashValue description hash"
_CSHARP = "Family Named Names Equals ReferenceEquals GetType ToString GetHashCode MemberwiseClone Finalize"
_DART = """abstract as assert async await base break case catch class const continue covariant default deferred do
dynamic else enum export extends extension external factory false final finally for get hide if implements
import in interface is late library mixin new null of on operator part required rethrow return sealed set
show static super switch sync this throw true try typedef var void when while with yield family package
hashCode runtimeType toString noSuchMethod named"""
_C = "H FIRST LAST FAMILY COUNT RANGES RANGE_COUNT"


def _swift_setup(icon_set: IconSet, context: OutputContext) -> list[Snippet]:
    """Return the lines that register the font, where Info.plist does not, and that choose it."""
    url = f'Bundle.main.url(forResource: "{context.font_stem}", withExtension: "ttf")!'
    return [
        Snippet("swift", f"CTFontManagerRegisterFontsForURL({url} as CFURL, .process, nil)"),
        Snippet("swift", f".font(.custom({swift_string(icon_set.font_family)}, size: 24))"),
    ]


def _dart_setup(icon_set: IconSet, context: OutputContext) -> list[Snippet]:
    """Return the lines for pubspec.yaml, and the import."""
    asset = context.font_path(icon_set.stem)
    font = f"fonts:\n    - family: {icon_set.family}\n      fonts:\n        - asset: {asset}"
    library = context.file.removeprefix("lib/")
    return [Snippet("dart", f"flutter:\n  {font}"), Snippet("dart", f"import '{library}';")]


def _c_setup(icon_set: IconSet, context: OutputContext) -> list[Snippet]:
    """Return the line that includes the header; its path is relative to the project."""
    return [Snippet("c-header", f'#include "{context.file}"')]


def _python_setup(icon_set: IconSet, context: OutputContext) -> list[Snippet]:
    """Return the import, and the lines that register the font with a GUI toolkit and with a PDF library."""
    file, module = context.font_path(icon_set.stem), context.file.removesuffix(".py").replace("/", ".")
    return [
        Snippet("python", f"from {module.lstrip('.')} import {pascal(family_words(icon_set.family))}"),
        Snippet("python", f'QFontDatabase.addApplicationFont("{file}")'),
        Snippet("python", f'pdfmetrics.registerFont(TTFont({python_string(icon_set.font_family)}, "{file}"))'),
    ]


def _android_setup(icon_set: IconSet, context: OutputContext) -> list[Snippet]:
    """Return the attribute that gives a view the font."""
    return [Snippet("android-xml", f'android:fontFamily="@font/{context.font_stem or icon_set.stem}"')]


def _rust_setup(icon_set: IconSet, context: OutputContext) -> list[Snippet]:
    """Return the line that declares the module."""
    return [Snippet("rust", f"mod {context.file.rpartition('/')[2].removesuffix('.rs')};")]


def _php_setup(icon_set: IconSet, context: OutputContext) -> list[Snippet]:
    """Return the line that loads the class; the path is relative to the project."""
    return [Snippet("php", f"require_once __DIR__ . '/{context.file}';")]


def _ruby_setup(icon_set: IconSet, context: OutputContext) -> list[Snippet]:
    """Return the line that loads the module; the path is relative to the project."""
    return [Snippet("ruby", f'require_relative "{context.file.removesuffix(".rb")}"')]


def _c_values(icon_set: IconSet) -> dict[str, object]:
    return {"runs": runs_of(icon.codepoint for icon in icon_set.icons)}


def _kind(
    language: Language,
    summary: str,
    place: str,
    file: str,
    values: Callable[[IconSet], dict[str, object]] = lambda icon_set: {},
    **more: Any,
) -> OutputKind:
    """Return the kind of a language. values: further values for its template; more: as in `OutputKind`."""
    return OutputKind(
        language.name,
        summary,
        place,
        file,
        lambda icon_set, context: language.write(icon_set, context, **values(icon_set)),
        language.snippets,
        references=language.references,
        rank=20,
        **{"needs": needs("ttf"), **more},
    )


_JVM_PLACE = "put it with the sources of the package it names"
_C_FILES = ".c .h .cc .cpp .cxx .hpp .hh .m .mm .ino"
_ROWS = (
    _kind(
        Language("kotlin", "kotlin.jinja", upper, reserved=("FAMILY",), endings=".java .kt .kts .groovy .scala"),
        "object of string constants",
        _JVM_PLACE,
        "{Type}.kt",
        setup=jvm_setup,
        options=JVM_OPTIONS,
    ),
    _kind(
        Language("java", "java.jinja", upper, reserved=("FAMILY",), endings=".java .kt .kts .groovy .scala"),
        "class of string constants",
        _JVM_PLACE,
        "{Type}.java",
        setup=jvm_setup,
        options=JVM_OPTIONS,
    ),
    _kind(
        Language(
            "swift",
            "swift.jinja",
            camel,
            call="{Type}.{id}.rawValue",
            guard="`{}`",
            reserved=_SWIFT.split(),
            members=_SWIFT_MEMBERS.split(),
            endings=".swift .m .mm",
        ),
        "enum of characters",
        "add it to the target; the font goes into the bundle",
        "{Type}.swift",
        setup=_swift_setup,
    ),
    _kind(
        Language("csharp", "csharp.jinja", pascal, reserved=_CSHARP.split(), endings=".cs .fs .vb .razor .cshtml"),
        "class of string constants",
        "add it to the project",
        "{Type}.cs",
        options={"package": Option("", "the namespace that the class is in")},
    ),
    _kind(
        Language("dart", "dart.jinja", camel, use="Icon({})", digit="n", reserved=_DART.split(), endings=".dart"),
        "class of constant icon data",
        "put it into lib; the font goes into the app or a package",
        "{under}.dart",
        setup=_dart_setup,
        needs=needs("ttf", "woff2", "woff"),
        options={"package": Option("", "the package that holds the font, where it is not the app itself")},
    ),
    _kind(
        Language(
            "c-header", "c_header.jinja", upper, call="{MACRO}_{id}", digit="", reserved=_C.split(), endings=_C_FILES
        ),
        "UTF-8 literals and the ranges of codepoints",
        "include it; load the font with those codepoints",
        "{under}.h",
        _c_values,
        setup=_c_setup,
    ),
    _kind(
        Language("python", "python.jinja", upper, reserved=("FAMILY",), endings=".py .pyi"),
        "StrEnum of characters",
        "import it; works with any GUI toolkit",
        "{under}.py",
        setup=_python_setup,
    ),
    _kind(
        Language("rust", "rust.jinja", upper, call="{under}::{id}", reserved=("FAMILY",), endings=".rs"),
        "module of constant characters",
        "put it with the sources, and declare the module",
        "{under}.rs",
        setup=_rust_setup,
    ),
    _kind(
        Language(
            "go", "go.jinja", pascal, call="{package}.{id}", digit="N", reserved=("Family", "Named"), endings=".go"
        ),
        "package of constant texts",
        "put it into a folder of its own",
        "{package}.go",
    ),
    _kind(
        Language("php", "php.jinja", upper, call="{Type}::{id}", reserved=("FAMILY", "CLASS"), endings=".php"),
        "class of constant texts, and a function that returns the markup of an icon",
        "load it where pages are made; the page needs the stylesheet",
        "{Type}.php",
        setup=_php_setup,
        options={"package": Option("", "the namespace that the class is in")},
        needs=needs("woff2", "woff", "ttf"),
    ),
    _kind(
        Language(
            "ruby",
            "ruby.jinja",
            upper,
            call="{Type}::{id}",
            digit="N",
            reserved=("FAMILY",),
            endings=".rb .erb .haml .slim",
        ),
        "module of constant texts, and a function that returns the markup of an icon",
        "load it where pages are made; the page needs the stylesheet",
        "{under}.rb",
        setup=_ruby_setup,
        needs=needs("woff2", "woff", "ttf"),
    ),
    _kind(
        Language(
            "android-xml", "android_xml.jinja", lower, call="@string/{id}", prefixed=True, endings=".xml .java .kt .kts"
        ),
        "string resources",
        "put it into res/values; the font goes into res/font",
        "{under}.xml",
        setup=_android_setup,
        resource_folder="values",
        resource_names=True,
    ),
)
LANGUAGES: dict[str, OutputKind] = {kind.name: kind for kind in _ROWS}
