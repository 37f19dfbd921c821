"""Every kind of output, by name: the rows of the tables of languages and of frameworks, and each module in `kinds`
with its `KIND`.

A module is called like its kind, hyphens as underscores, and imported when the kind is asked for: a build needs few of
them, and start-up time counts.
"""

from __future__ import annotations

import pkgutil
from collections.abc import Iterator, Mapping
from functools import cached_property
from importlib import import_module

from oddpeg.outputs import kinds
from oddpeg.outputs.components import COMPONENTS
from oddpeg.outputs.kind import OutputKind
from oddpeg.outputs.languages import LANGUAGES

_ROWS = {**LANGUAGES, **COMPONENTS}


class _Kinds(Mapping[str, OutputKind]):
    """Kinds by name; in the order of lists where they are gone through."""

    @cached_property
    def _names(self) -> set[str]:
        return {*_ROWS, *(entry.name.replace("_", "-") for entry in pkgutil.iter_modules(kinds.__path__))}

    @cached_property
    def _ordered(self) -> list[str]:
        return sorted(self._names, key=lambda name: (self[name].rank, name))

    def __getitem__(self, name: str) -> OutputKind:
        if name not in self._names:
            raise KeyError(name)
        if name in _ROWS:
            return _ROWS[name]
        kind: OutputKind = import_module(f"{kinds.__name__}.{name.replace('-', '_')}").KIND
        return kind

    def __contains__(self, name: object) -> bool:
        return name in self._names

    def __iter__(self) -> Iterator[str]:
        return iter(self._ordered)

    def __len__(self) -> int:
        return len(self._names)


KINDS: Mapping[str, OutputKind] = _Kinds()

FONT_KINDS: dict[str, tuple[str, str]] = {
    "ttf": ("TrueType, with glyph names", "install it on a desktop, or bundle it with an app"),
    "woff": ("deflated, for browsers from before 2016", "beside the stylesheet"),
    "eot": ("legacy: a wrapper around TrueType", "only where a host still asks for it"),
    "svg": ("legacy: an SVG font", "only where a host still asks for it"),
    "woff2": ("smallest, for every current browser", "beside the stylesheet"),
}
