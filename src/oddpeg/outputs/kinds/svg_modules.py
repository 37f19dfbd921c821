"""SVG modules: a module for each icon, as markup or as a component of a framework, and an index. Modules that are not
imported are not shipped. Source: SVG 2; each framework's component interface."""

from __future__ import annotations

from typing import NamedTuple

from oddpeg.iconset.model import Icon, IconSet
from oddpeg.outputs.context import OutputContext, Snippet
from oddpeg.outputs.escape import comment, script_string, xml_text
from oddpeg.outputs.kind import DRAWN_OPTIONS, Option, OutputKind, always, drawn_size
from oddpeg.outputs.layers_svg import layer_colour
from oddpeg.outputs.naming import Constant, Form, camel, entries, identifiers, pascal
from oddpeg.outputs.references import NameShape, ReferenceForm
from oddpeg.outputs.render import render
from oddpeg.outputs.scripts import WIDTH, call, module_path

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
        digit: prefix of names that would start with a digit; tags begin with a capital.
        single: the index holds all icons itself, so that a development server loads one module and not hundreds.
    """

    ending: str
    form: Form
    use: str
    digit: str = "N"
    single: bool = False


_FLAVOURS = {
    "plain": _Flavour("mjs", camel, '{id}({{ size: "24px", title: "" }})', digit="_", single=True),
    "react": _Flavour("mjs", pascal, '<{id} size="24px" />', single=True),
    "vue": _Flavour("mjs", pascal, '<{id} size="24px" />', single=True),
    "svelte": _Flavour("svelte", pascal, '<{id} size="24px" />'),
    "solid": _Flavour("jsx", pascal, '<{id} size="24px" />'),
}
_TYPES = {"mjs": "mts", "jsx": "ts"}  # ending of a module → of its declarations


class _ColouredPath(NamedTuple):
    """A path with its own colour: path data, fill and opacity as attributes."""

    path: str
    fill: str
    opacity: str


def _layers(icon_set: IconSet, name: str) -> tuple[_ColouredPath, ...]:
    layers = icon_set.coloured.get(name, ())
    return tuple(_ColouredPath(one.path, layer_colour(icon_set, one), f"{round(one.alpha, 3):g}") for one in layers)


class _OtherName(NamedTuple):
    """Another name of an icon. older: it had that name before it was renamed."""

    id: str
    older: bool


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
        others: further names that the index exports.
    """

    icon: Icon
    file: str
    id: str
    frame: str
    path: str
    layers: tuple[_ColouredPath, ...]
    turned: bool
    others: tuple[_OtherName, ...]

    def made(self, head: str) -> str:
        """Return the statement that makes the icon."""
        drawn = list(map(_array, self.layers)) if self.layers else script_string(self.path)
        turned = ["true"] if self.turned else []
        return call(f"{head}/* @__PURE__ */ icon", [script_string(self.id), script_string(self.frame), drawn, *turned])

    def elements(self, indent: str) -> list[str]:
        """Return the paths as elements of a template."""
        layers = self.layers or (_ColouredPath(self.path, "", "1"),)
        return [_element(layer, indent) for layer in layers]


def _array(layer: _ColouredPath) -> list[str]:
    texts = [script_string(layer.path), script_string(layer.fill)]
    return texts if layer.opacity == "1" else [*texts, layer.opacity]


def _element(layer: _ColouredPath, indent: str) -> str:
    fill = [f'fill="{xml_text(layer.fill)}"'] if layer.fill else []
    opacity = [f'fill-opacity="{layer.opacity}"'] if layer.opacity != "1" else []
    attributes = [*fill, *opacity, f'd="{layer.path}"']
    line = f"{indent}<path {' '.join(attributes)} />"
    if len(line) <= WIDTH or len(attributes) == 1:
        return line
    return f"{indent}<path\n" + "".join(f"{indent}  {one}\n" for one in attributes) + f"{indent}/>"


def _flavour(context: OutputContext) -> _Flavour:
    return _FLAVOURS[str(context.options["for"])]


def _entries(icon_set: IconSet, flavour: _Flavour) -> list[Constant]:
    """Return the exports of the index for every name of every icon."""
    return entries(icon_set, flavour.form, _RESERVED.split(), flavour.digit)


def _modules(icon_set: IconSet, context: OutputContext) -> list[_Module]:
    flavour = _flavour(context)
    names = {entry.name: entry.identifier for entry in _entries(icon_set, flavour)}
    files = {entry.name: entry.identifier for entry in entries(icon_set, "-".join, ["index", "base"], digit="")}
    modules = []
    icon_set = icon_set.at_size(drawn_size(context))
    for icon in icon_set.icons:
        picture = icon_set.pictures[icon.name]
        frame = f"0 0 {picture.width} {picture.height}"
        others = tuple(_OtherName(names[alias], alias in icon.older) for alias in icon.aliases)
        file = f"{files[icon.name]}.{flavour.ending}"
        turned = icon.name in icon_set.turned
        modules.append(
            _Module(icon, file, names[icon.name], frame, picture.path, _layers(icon_set, icon.name), turned, others)
        )
    return modules


def write(icon_set: IconSet, context: OutputContext) -> str:
    """Return the index."""
    modules, single = _modules(icon_set, context), _flavour(context).single
    return render("svg_modules/index.jinja", modules=modules, single=single, header=_header(icon_set))


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
    if ending := _TYPES.get(_flavour(context).ending):
        one = render("svg_modules/type.jinja", header=header)
        files |= {f"{m.file.rpartition('.')[0]}.d.{ending}": one for m in modules}
    if _flavour(context).single:
        files["base.mjs"] = render(f"svg_modules/{kind}_base.jinja", header=header)
    files["index.d.mts"] = render("svg_modules/types.jinja", modules=modules, header=header, kind=kind)
    if any(m.turned for m in modules):
        files["mirrored.css"] = f'/* {header} */\n[data-turns="rtl"]:dir(rtl) {{\n  scale: -1 1;\n}}\n'
    return files


def snippets(icon_set: IconSet, context: OutputContext, icon: Icon) -> list[Snippet]:
    """Return the import of the icon, by its path from the project, and its use."""
    flavour = _flavour(context)
    name = identifiers(f"svg-modules {context.options['for']}", icon_set, lambda icons: _entries(icons, flavour))[
        icon.name
    ]
    imported = f"import {{ {name} }} from {script_string(module_path(context.file))};"
    return [Snippet("svg-modules", imported), Snippet("svg-modules", flavour.use.format(id=name))]


def references(icon_set: IconSet, context: OutputContext) -> list[ReferenceForm]:
    """Return the imports of icons."""
    names = {entry.identifier: entry.name for entry in _entries(icon_set, _flavour(context))}
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
    options={
        "for": Option("plain", "what they are for: plain, react, vue, svelte or solid", tuple(_FLAVOURS)),
        **DRAWN_OPTIONS,
    },
)
