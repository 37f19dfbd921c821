"""Kinds with one constant for each name of each icon: the model of such a language."""

from __future__ import annotations

import posixpath
from collections.abc import Collection
from typing import NamedTuple

from oddpeg.iconset.model import Icon, IconSet
from oddpeg.outputs.context import OutputContext, Snippet
from oddpeg.outputs.kind import Option
from oddpeg.outputs.naming import Constant, Form, entries, family_words, identifiers, lower, pascal, upper, words
from oddpeg.outputs.references import NameShape, ReferenceForm
from oddpeg.outputs.render import render_kind


class WeightedFont(NamedTuple):
    """A font file and the weight of its face. stem: its name without ending."""

    stem: str
    weight: int


def _weighted(icon_set: IconSet, context: OutputContext) -> list[WeightedFont]:
    """Return the font of every face where there are several, else the only one."""
    weights = {face.name: face.weight for face in icon_set.faces}
    urls = {face.name: face.urls.get("ttf", "") for face in context.faces if face.name in weights}
    if len(urls) < 2:
        return [WeightedFont(context.font_stem or icon_set.stem, 400)]
    return [WeightedFont(posixpath.basename(url).removesuffix(".ttf"), weights[name]) for name, url in urls.items()]


_LONGEST_TEXT = 15_000  # characters; the JVM takes constants of 65,535 bytes


def _name_table(icon_set: IconSet) -> list[str]:
    """Return pairs of name and character, separated by semicolons, in texts that languages take as constants: a table
    that costs nothing until it is read."""
    texts: list[list[str]] = [[]]
    size = 0
    for icon in icon_set.icons:
        for name in icon.names:
            pair = f"{name} {icon.character}"
            size += len(pair) + 1
            if size > _LONGEST_TEXT:
                texts.append([])
                size = len(pair)
            texts[-1].append(pair)
    return [";".join(text) for text in texts]


JVM_OPTIONS = {
    "package": Option("", "the package that the file begins with"),
    "typeface": Option(False, "add a holder that loads the font once, from assets/fonts (Android)"),
}


def jvm_setup(icon_set: IconSet, context: OutputContext) -> list[Snippet]:
    """Return the lines that load the font on Android and on a desktop."""
    file, path = context.font_file(icon_set.stem), context.font_path(icon_set.stem)
    place = "kotlin" if context.file.endswith(".kt") else "java"
    end = ";" if place == "java" else ""
    make = "" if place == "kotlin" else "new "
    return [
        Snippet(place, f'Typeface.createFromAsset(context.getAssets(), "fonts/{file}"){end}'),
        Snippet(place, f'Font.createFont(Font.TRUETYPE_FONT, {make}File("{path}")){end}'),
    ]


# members that types have without our doing
_MEMBERS = "class entries values valueOf rawValue allCases self Type init name length prototype family package Family"


class Language(NamedTuple):
    """The syntax of constants in one language.

    Attributes:
        name: name of the language.
        template: file name of the template.
        form: letter case of identifiers.
        call: code that names an icon; {id} is the identifier, {Type}, {under} and {MACRO} are forms of the family's
            name.
        use: code that shows the icon; {} is replaced by its name.
        reserved: keywords.
        digit: prefix of identifiers that would start with a digit.
        guard: format of identifiers that would be keywords.
        members: names that the enclosing type uses itself; such identifiers get an underscore.
        prefixed: identifiers start with the prefix of the classes.
        endings: extensions of files that use the constants.
    """

    name: str
    template: str
    form: Form
    call: str = "{Type}.{id}"
    use: str = "{}"
    reserved: Collection[str] = ()
    digit: str = "_"
    guard: str = "{}_"
    members: Collection[str] = ()
    prefixed: bool = False
    endings: str = ""

    def entries(self, icon_set: IconSet) -> list[Constant]:
        """Return every constant."""
        family = self._family(icon_set)
        before = words(icon_set.prefix) if self.prefixed else []
        members = {*self.members, family["Type"]}

        def form(parts: list[str]) -> str:
            name = self.form([*before, *parts])
            return name + "_" if name in members else name

        return entries(icon_set, form, self.reserved, self.digit, self.guard)

    @staticmethod
    def _family(icon_set: IconSet) -> dict[str, str]:
        parts = family_words(icon_set.family)
        package = "".join(parts).lower()
        return {"Type": pascal(parts), "under": lower(parts), "MACRO": upper(parts), "package": package}

    def write(self, icon_set: IconSet, context: OutputContext, **more: object) -> str:
        """Return the whole file. more: further values of its template."""
        return render_kind(
            self.template,
            icon_set,
            entries=self.entries(icon_set),
            options=context.options,
            font_stem=context.font_stem or icon_set.stem,
            fonts=_weighted(icon_set, context),
            table=_name_table(icon_set),
            **self._family(icon_set),
            **more,
        )

    def references(self, icon_set: IconSet, context: OutputContext) -> list[ReferenceForm]:
        """Return the constants."""
        family = self._family(icon_set)
        names = {entry.identifier.strip("`"): entry.name for entry in self.entries(icon_set)}
        leads = [self.call.partition("{id}")[0].format(**family).removeprefix("{StaticResource ")]
        if self.prefixed:  # resources of an app, in XML and in code
            ours, resource = lower(words(icon_set.prefix)) + "_", self.call.partition("/")[0].removeprefix("@")
            leads = [f"@{resource}/{ours}", f"R.{resource}.{ours}"]
            names = {name.removeprefix(ours): icon for name, icon in names.items()}
        calls = [f"{leads[0]}{word}(" for word in ("named", "Named")] if not self.prefixed else []
        spelled = icon_set.spelled
        members = frozenset((*self.reserved, *self.members, *_MEMBERS.split()))
        endings = frozenset(self.endings.split())
        return [
            *(ReferenceForm(NameShape.WORD, lead, names, members, endings) for lead in leads),
            *(ReferenceForm(NameShape.ARGUMENT, call, spelled, frozenset(), endings) for call in calls),
        ]

    def snippets(self, icon_set: IconSet, context: OutputContext, icon: Icon) -> list[Snippet]:
        """Return how code names an icon."""
        identifier = identifiers(self.name, icon_set, self.entries)[icon.name]
        called = self.call.format(id=identifier, **self._family(icon_set))
        return [Snippet(self.name, self.use.replace("{}", called))]
