"""SVG modules: a module for each icon, as markup or as a component of a framework, and an index. Modules that are not
imported are not shipped. Source: SVG 2; each framework's component interface."""

from __future__ import annotations

from typing import NamedTuple

from oddpeg.iconset.model import Icon, IconSet
from oddpeg.outputs.context import OutputContext, Snippet
from oddpeg.outputs.escape import comment, script_string
from oddpeg.outputs.kind import Option, OutputKind, always
from oddpeg.outputs.layers_svg import layer_colour
from oddpeg.outputs.naming import Constant, Form, camel, entries, identifiers, pascal
from oddpeg.outputs.references import NameShape, ReferenceForm
from oddpeg.outputs.render import render

_RESERVED = (
    "arguments await break case catch class const continue debugger default delete do else enum eval export extends "
    "false finally for function if implements import in instanceof interface let new null package private protected "
    "public return static super switch this throw true try typeof undefined var void while with yield"
)


class _Flavour(NamedTuple):
    """The framework that modules are for.

    Attributes:
        ending: of each icon's file.
        form: of the names that the index exports.
        use: how an icon is used, {id} standing for its name.
    """

    ending: str
    form: Form
    use: str


_FLAVOURS = {
    "plain": _Flavour("mjs", camel, '{id}({{ size: "24px", title: "" }})'),
    "react": _Flavour("mjs", pascal, '<{id} size="24px" />'),
    "vue": _Flavour("mjs", pascal, '<{id} size="24px" />'),
    "svelte": _Flavour("svelte", pascal, '<{id} size="24px" />'),
    "solid": _Flavour("jsx", pascal, '<{id} size="24px" />'),
}


class _ColouredPath(NamedTuple):
    """A path with its own colour: path data, fill and opacity as attributes."""

    path: str
    fill: str
    opacity: str


def _layers(icon_set: IconSet, name: str) -> tuple[_ColouredPath, ...]:
    layers = icon_set.coloured.get(name, ())
    return tuple(_ColouredPath(one.path, layer_colour(icon_set, one), f"{round(one.alpha, 3):g}") for one in layers)


class _Module(NamedTuple):
    """The module of one icon.

    Attributes:
        icon: the icon.
        file: file name.
        id: identifier that the index exports.
        frame: the viewBox.
        path: path data.
        layers: colour layers in paint order, instead of `path`.
        turned: it is mirrored in text from right to left.
        others: further identifiers that the index exports.
    """

    icon: Icon
    file: str
    id: str
    frame: str
    path: str
    layers: tuple[_ColouredPath, ...]
    turned: bool
    others: tuple[str, ...]


def _flavour(context: OutputContext) -> _Flavour:
    return _FLAVOURS[str(context.options["for"])]


def _entries(icon_set: IconSet, form: Form) -> list[Constant]:
    """Return the exports of the index for every name of every icon."""
    return entries(icon_set, form, _RESERVED.split(), digit="N")


def _modules(icon_set: IconSet, context: OutputContext) -> list[_Module]:
    flavour = _flavour(context)
    names = {entry.name: entry.identifier for entry in _entries(icon_set, flavour.form)}
    files = {entry.name: entry.identifier for entry in entries(icon_set, "-".join, ["index", "base"], digit="")}
    modules = []
    for icon in icon_set.icons:
        picture = icon_set.pictures[icon.name]
        frame = f"0 0 {picture.width} {picture.height}"
        others = tuple(names[alias] for alias in icon.aliases)
        file = f"{files[icon.name]}.{flavour.ending}"
        turned = icon.name in icon_set.turned
        modules.append(
            _Module(icon, file, names[icon.name], frame, picture.path, _layers(icon_set, icon.name), turned, others)
        )
    return modules


def write(icon_set: IconSet, context: OutputContext) -> str:
    """Return the index."""
    return render("svg_modules/index.jinja", modules=_modules(icon_set, context), header=_header(icon_set))


def _header(icon_set: IconSet) -> str:
    about = (
        f"{icon_set.family} {icon_set.version}. Written by Odd Peg; change the drawings or oddpeg.toml, not this file."
    )
    return comment(f"{about} @generated")


def companions(icon_set: IconSet, context: OutputContext) -> dict[str, str]:
    """Return the module of every icon, shared code, the types, and the rule for mirrored icons."""
    kind, modules = str(context.options["for"]), _modules(icon_set, context)
    header = _header(icon_set)
    files = {m.file: render(f"svg_modules/{kind}.jinja", m=m, header=header) for m in modules}
    if kind in ("react", "vue", "plain"):
        files["base.mjs"] = render(f"svg_modules/{kind}_base.jinja", header=header)
    files["index.d.mts"] = render("svg_modules/types.jinja", modules=modules, header=header, kind=kind)
    if any(m.turned for m in modules):
        files["mirrored.css"] = f"/* {header} */\n[data-turns=rtl]:dir(rtl) {{ scale: -1 1; }}\n"
    return files


def snippets(icon_set: IconSet, context: OutputContext, icon: Icon) -> list[Snippet]:
    """Return the import of the icon, by its path from the project, and its use."""
    flavour = _flavour(context)
    name = identifiers(f"svg-modules {context.options['for']}", icon_set, lambda icons: _entries(icons, flavour.form))[
        icon.name
    ]
    imported = f"import {{ {name} }} from {script_string('./' + context.file)};"
    return [Snippet("svg-modules", imported), Snippet("svg-modules", flavour.use.format(id=name))]


def references(icon_set: IconSet, context: OutputContext) -> list[ReferenceForm]:
    """Return the imports of icons."""
    names = {entry.identifier: entry.name for entry in _entries(icon_set, _flavour(context).form)}
    folder = context.file.rpartition("/")[0].rpartition("/")[2]
    return [ReferenceForm(NameShape.IMPORT, folder, names)] if folder else []


KIND = OutputKind(
    "svg-modules",
    "a module for each icon, as markup or as a component",
    "import the icons you use from its index; load mirrored.css once if icons turn in text from right to left",
    "svg-modules/index.mjs",
    write,
    snippets,
    companions=companions,
    shows_drawings=always,
    references=references,
    rank=6,
    options={"for": Option("plain", "what they are for: plain, react, vue, svelte or solid", tuple(_FLAVOURS))},
)
