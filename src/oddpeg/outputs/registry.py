"""Every kind of output, by name: whatever module in `kinds` holds a `KIND`."""

from __future__ import annotations

import pkgutil
from importlib import import_module

from oddpeg.outputs import kinds
from oddpeg.outputs.kind import Kind


def _found() -> dict[str, Kind]:
    modules = (import_module(f"{kinds.__name__}.{entry.name}") for entry in pkgutil.iter_modules(kinds.__path__))
    return {kind.name: kind for kind in sorted((m.KIND for m in modules), key=lambda k: (k.rank, k.name))}


KINDS: dict[str, Kind] = _found()

FONT_KINDS: dict[str, tuple[str, str]] = {
    "ttf": ("TrueType, with glyph names", "install it on a desktop, or bundle it with an app"),
    "woff": ("deflated, for browsers from before 2016", "beside the stylesheet"),
    "eot": ("legacy: a wrapper around TrueType", "only where a host still asks for it"),
    "svg": ("legacy: an SVG font", "only where a host still asks for it"),
    "woff2": ("smallest, for every current browser", "beside the stylesheet"),
}
