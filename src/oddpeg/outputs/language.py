"""Kinds that are one constant for each name of each icon: what such a language needs to say of itself.

Knows: naming, templates. Does not know: any language.
"""

from __future__ import annotations

from collections.abc import Collection
from typing import NamedTuple

from oddpeg.iconset.model import Catalogue, Icon, Surroundings
from oddpeg.outputs.kind import Line
from oddpeg.outputs.naming import Entry, Form, entries, family_words, identifiers, lower, pascal, upper, words
from oddpeg.outputs.render import render_kind


class Language(NamedTuple):
    """template: its file; form: of identifiers; call: how code names an icon, {id} standing for the identifier,
    {Type}, {under} and {MACRO} for the family's name; reserved: words that are no identifiers; digit: what goes
    before a leading digit; guard: what is made of reserved words; members: words that the enclosing type needs
    itself, which get an underscore; prefixed: identifiers begin with the prefix of the classes.
    """

    name: str
    template: str
    form: Form
    call: str = "{Type}.{id}"
    reserved: Collection[str] = ()
    digit: str = "_"
    guard: str = "{}_"
    members: Collection[str] = ()
    prefixed: bool = False

    def entries(self, catalogue: Catalogue) -> list[Entry]:
        """Return every constant."""
        family = self._family(catalogue)
        before = words(catalogue.prefix) if self.prefixed else []
        members = {*self.members, family["Type"]}

        def form(parts: list[str]) -> str:
            name = self.form([*before, *parts])
            return name + "_" if name in members else name

        return entries(catalogue, form, self.reserved, self.digit, self.guard)

    @staticmethod
    def _family(catalogue: Catalogue) -> dict[str, str]:
        parts = family_words(catalogue.family)
        return {"Type": pascal(parts), "under": lower(parts), "MACRO": upper(parts)}

    def write(self, catalogue: Catalogue, around: Surroundings) -> str:
        """Return the whole file."""
        return render_kind(
            self.template, catalogue, entries=self.entries(catalogue), options=around.options, **self._family(catalogue)
        )

    def lines(self, catalogue: Catalogue, around: Surroundings, icon: Icon) -> list[Line]:
        """Return how code names an icon."""
        identifier = identifiers(self.name, catalogue, self.entries)[icon.name]
        return [Line(self.name, self.call.format(id=identifier, **self._family(catalogue)))]
