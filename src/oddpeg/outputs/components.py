"""The kinds that show an icon of the font as a component of a framework: one row and one template for each.

A component writes the classes of the stylesheet, so that it holds no table of icons; names are types. That of React
Native, which has no classes, holds the characters. Sources: each framework's component interface; WAI-ARIA 1.2 (img,
aria-label, aria-hidden).
"""

from __future__ import annotations

import posixpath
from typing import NamedTuple
from urllib.parse import unquote

from oddpeg.iconset.model import Icon, IconSet
from oddpeg.outputs.context import OutputContext, Snippet
from oddpeg.outputs.escape import script_string
from oddpeg.outputs.face_rules import face_classes, palette_rules, state_rules
from oddpeg.outputs.kind import Option, OutputKind, needs
from oddpeg.outputs.kinds.web_component import element
from oddpeg.outputs.references import NameShape, ReferenceForm, module_stem
from oddpeg.outputs.render import render_kind
from oddpeg.outputs.scripts import declarations_name, module_path, script_names


class Framework(NamedTuple):
    """A framework.

    Attributes:
        name: of the kind.
        title: of the framework.
        file: of the component; {stem} is that of the fonts.
        use: how an icon is shown: {Icon} is the component, {tag} the element, {name} the name of the icon.
        declared: its types are in a file of their own.
        by_selector: templates name it by an element; its class is listed where it is used, and names the stylesheet.
        native: it holds the characters, since there are no stylesheets.
    """

    name: str
    title: str
    file: str
    use: str = '<{Icon} name="{name}" />'
    declared: bool = True
    by_selector: bool = False
    native: bool = False

    @property
    def sheet_apart(self) -> bool:
        """Whether the stylesheet is loaded apart from the component."""
        return not self.native and not self.by_selector

    def kind(self) -> OutputKind:
        """Return the kind of output."""
        return OutputKind(
            self.name,
            f"component for {self.title} that shows an icon of the font, by typed names",
            f"import it where icons are used{'; load the stylesheet once' if self.sheet_apart else ''}",
            self.file,
            self.write,
            self.snippets,
            setup=self.setup,
            companions=self.declarations if self.declared else _nothing,
            references=self.references,
            needs_final_names=self.by_selector,  # of the stylesheet
            needs=needs("ttf") if self.native else needs("woff2", "woff", "ttf"),
            rank=5,
            options={"selector": Option("", "the element's name; default: PREFIX-icon")} if self.by_selector else {},
        )

    def write(self, icon_set: IconSet, context: OutputContext) -> str:
        """Return the component."""
        return self._rendered(self.name, icon_set, context)

    def declarations(self, icon_set: IconSet, context: OutputContext) -> dict[str, str]:
        """Return the file that declares the component's types."""
        return {declarations_name(context.file): self._rendered(f"{self.name}_types", icon_set, context)}

    def _rendered(self, template: str, icon_set: IconSet, context: OutputContext) -> str:
        older = [name for icon in icon_set.icons for name in icon.older]
        return render_kind(
            f"components/{template}.jinja",
            icon_set,
            current=[name for icon in icon_set.icons for name in icon.names if name not in icon.older],
            older=older,
            faces=[one.name for one in face_classes(icon_set)],
            palettes=[one.name for one in palette_rules(icon_set)],
            states=[one.name for one in state_rules(icon_set)],
            sizes=[name for name, _ in icon_set.sizes],
            colours=[name for name, _ in icon_set.colours],
            selector=self._selector(icon_set, context),
            sheets=[module_path(unquote(other.url)) for other in context.sibling_outputs if other.kind == "css"],
            font_stem=context.font_stem or icon_set.stem,
            **script_names(icon_set),
        )

    def _selector(self, icon_set: IconSet, context: OutputContext) -> str:
        return str(context.options.get("selector") or element(icon_set))

    def setup(self, icon_set: IconSet, context: OutputContext) -> list[Snippet]:
        """Return the imports of the component and of the stylesheet; paths are relative to the project."""
        name = f"{script_names(icon_set)['Type']}Icon"
        imported = f"{{ {name} }}" if self.by_selector else name
        path = module_path(context.file).removesuffix(".ts")
        sheets = [module_path(context.beside(other)) for other in context.sibling_outputs if other.kind == "css"]
        listed = [f"imports: [{name}]"] if self.by_selector else []
        lines = [f"import {imported} from {script_string(path)};", *listed]
        if self.sheet_apart:
            lines += [f"import {script_string(one)};" for one in sheets]
        return [Snippet(self.name, line) for line in lines]

    def snippets(self, icon_set: IconSet, context: OutputContext, icon: Icon) -> list[Snippet]:
        """Return the element."""
        name = f"{script_names(icon_set)['Type']}Icon"
        return [Snippet(self.name, self.use.format(Icon=name, tag=self._selector(icon_set, context), name=icon.name))]

    def references(self, icon_set: IconSet, context: OutputContext) -> list[ReferenceForm]:
        """Return the component's element, and the texts in files that import it or a module with it."""
        tag = self._selector(icon_set, context) if self.by_selector else f"{script_names(icon_set)['Type']}Icon"
        return [
            ReferenceForm(NameShape.LITERAL, module_stem(posixpath.basename(context.file)), icon_set.spelled),
            ReferenceForm(NameShape.ATTRIBUTE, f"<{tag}", icon_set.spelled),
        ]


def _nothing(icon_set: IconSet, context: OutputContext) -> dict[str, str]:
    return {}


_FRAMEWORKS = (
    Framework("react", "React", "{stem}-react.mjs"),
    Framework("vue", "Vue", "{stem}-vue.mjs"),
    Framework("svelte", "Svelte", "{stem}-svelte.svelte", declared=False),
    Framework(
        "angular", "Angular", "{stem}-angular.ts", '<{tag} name="{name}"></{tag}>', declared=False, by_selector=True
    ),
    Framework("react-native", "React Native", "{stem}-native.js", native=True),
)
COMPONENTS: dict[str, OutputKind] = {framework.name: framework.kind() for framework in _FRAMEWORKS}
