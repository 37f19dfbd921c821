"""TypeScript: a union type of names and a constant map from name to codepoint and character; of sets that are not
large, each with its picture in the hover."""

from __future__ import annotations

import posixpath
from typing import NamedTuple

from oddpeg.iconset.model import Icon, IconSet
from oddpeg.outputs.context import OutputContext, Snippet
from oddpeg.outputs.escape import script_string
from oddpeg.outputs.face_rules import face_classes, palette_rules, state_rules
from oddpeg.outputs.icon_svg import data_uri
from oddpeg.outputs.kind import Option, OutputKind
from oddpeg.outputs.references import NameShape, ReferenceForm, module_stem
from oddpeg.outputs.render import render_kind
from oddpeg.outputs.scripts import WIDTH, declarations_name, module_path, script_key, script_names, union

_MOST_HOVERED = 300  # icons; pictures are most of the file, and with more of them editors become slow


def has_hover(icon_set: IconSet, context: OutputContext) -> bool:
    """Return whether an output shows pictures in the hover: where the config does not say, in TypeScript for sets that
    are not large; never in drafts."""
    wanted = context.options.get("hover")
    return not context.draft and bool(len(icon_set.icons) <= _MOST_HOVERED if wanted is None else wanted)


class _TypedFace(NamedTuple):
    """A face as the types have it.

    Attributes:
        has, lacks: names of icons, aliases too.
    """

    name: str
    weight: str
    has: tuple[str, ...]
    lacks: tuple[str, ...]

    def member(self, prefix: str) -> str:
        """Return the member of an interface that has the type of its icons' names, the shorter way. prefix: of the type
        of all names."""
        head = f"  {script_key(self.name)}:"
        if not self.lacks:
            return f"{head} {prefix}Name;"
        if len(self.has) < len(self.lacks):
            return union(head, self.has)
        line = f"{head} Exclude<{prefix}Name, {' | '.join(map(script_string, self.lacks))}>;"
        if len(line) <= WIDTH:
            return line
        return (
            f"{head} Exclude<\n    {prefix}Name,\n" + union("    ", self.lacks, "").replace("\n    ", "\n") + "\n  >;"
        )


def _faces(icon_set: IconSet) -> list[_TypedFace]:
    typed = []
    # a class may choose a weight of a variable font
    known = {name: f.name for f in icon_set.faces for name in (f.name, *dict(f.stands_for))}
    for name, weight in face_classes(icon_set):
        has = tuple(n for icon in icon_set.icons if not icon.faces or known[name] in icon.faces for n in icon.names)
        lacks = tuple(n for icon in icon_set.icons if icon.faces and known[name] not in icon.faces for n in icon.names)
        typed.append(_TypedFace(name, weight, has, lacks))
    return typed


def _chosen(icon_set: IconSet) -> dict[str, object]:
    """Return the choices for code: names of icons, faces, palettes and states."""
    names = [name for icon in icon_set.icons for name in icon.names]
    return {
        "names": names,
        "faces": _faces(icon_set),
        "palettes": palette_rules(icon_set),
        "states": state_rules(icon_set),
    }


def hover(icon_set: IconSet, icon: Icon) -> str:
    """Return the picture of an icon as editors show it when the mouse rests on its name."""
    return f"![{icon.name}]({data_uri(icon_set, icon, 48, 'gray')})" if icon.name in icon_set.thumbnails else ""


class ScriptModule(NamedTuple):
    """A module that exports the map.

    Attributes:
        name: the kind.
        typed: with the types of TypeScript, which compile under --strict.
    """

    name: str
    typed: bool

    def write(self, icon_set: IconSet, context: OutputContext) -> str:
        """Return a module without imports and side effects, so that bundlers can drop unused exports."""
        drawn = icon_set.icons if has_hover(icon_set, context) else ()
        pictures = {icon.name: hover(icon_set, icon) for icon in drawn}
        names = script_names(icon_set)
        return render_kind(
            "typescript.jinja", icon_set, pictures=pictures, typed=self.typed, **_chosen(icon_set), **names
        )

    def declarations(self, icon_set: IconSet, context: OutputContext) -> dict[str, str]:
        """Return the file that declares the types."""
        text = render_kind("javascript_types.jinja", icon_set, **_chosen(icon_set), **script_names(icon_set))
        return {declarations_name(context.file): text}

    def setup(self, icon_set: IconSet, context: OutputContext) -> list[Snippet]:
        """Return the import of the map; its path is relative to the project."""
        name = f"{script_names(icon_set)['own']}Icons"
        path = context.file.removesuffix(".ts") + context.import_ending if self.typed else context.file
        return [Snippet(self.name, f"import {{ {name} }} from {script_string(module_path(path))};")]

    def snippets(self, icon_set: IconSet, context: OutputContext, icon: Icon) -> list[Snippet]:
        """Return how code gets at the character."""
        name = f"{script_names(icon_set)['own']}Icons"
        return [Snippet(self.name, f"{name}[{script_string(icon.name)}].character")]


_MODULE = ScriptModule("typescript", typed=True)


def references(icon_set: IconSet, context: OutputContext) -> list[ReferenceForm]:
    """Return the map and the type."""
    names, script = icon_set.spelled, script_names(icon_set)
    maps = (f"{script['own']}Icons", f"{script['own']}Pegs")  # the latter is deprecated
    return [
        *(ReferenceForm(NameShape.KEY, name, names) for name in maps),
        ReferenceForm(NameShape.TYPED, f"{script['Type']}Name", names),
        ReferenceForm(NameShape.LITERAL, module_stem(posixpath.basename(context.file)), names),
    ]


KIND = OutputKind(
    "typescript",
    "union type of names, constant map to codepoint and character",
    "import it where icons are used",
    "{stem}.ts",
    _MODULE.write,
    _MODULE.snippets,
    setup=_MODULE.setup,
    references=references,
    rank=2,
    shows_drawings=has_hover,
    options={"hover": Option(None, "pictures in the editor's hover; default: in sets of up to 300 icons")},
)
