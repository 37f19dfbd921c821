"""npm package: the package.json that makes of a bundle's folder a package. Source: npm, package.json; Node.js,
packages: exports."""

from __future__ import annotations

import json
from collections.abc import Sequence

from packaging.licenses import InvalidLicenseExpression, canonicalize_license_expression

from oddpeg.iconset.model import IconSet
from oddpeg.outputs.context import OutputContext
from oddpeg.outputs.kind import Option, OutputKind
from oddpeg.outputs.naming import semantic_version
from oddpeg.outputs.scripts import declarations_name

_STYLES = frozenset(("css", "scss", "less"))
_SUBPATHS = {"web-component": "./element", "svg-modules": "./svg", "json": "./glyphs.json", "sprite": "./sprite.svg"}


def write(icon_set: IconSet, context: OutputContext) -> str:
    """Return the manifest: an export for every file of the bundle, and the files with side effects."""
    exports: dict[str, object] = {}
    effects = []
    inside = [(kind, url) for kind, url in context.sibling_outputs if not url.startswith("../")]  # of the package
    for kind, url in inside:
        place = f"./{url}"
        if kind == "javascript":
            exports["."] = _module(place)
        elif kind == "typescript":
            exports.setdefault(".", place)  # for bundlers alone: JavaScript goes first
        elif kind in _STYLES:
            exports[f"./{kind}"] = place
            effects.append(place)
        elif kind in _SUBPATHS:
            exports[_SUBPATHS[kind]] = _module(place) if place.endswith(("mjs", "js")) else place
            effects += [place] if kind == "web-component" else []
            if kind == "svg-modules":
                folder = place.rpartition("/")[0]
                exports["./svg/*"] = f"{folder}/*"
                effects += [f"{folder}/mirrored.css"] if icon_set.mirrored else []
    exports |= {f"./{file_format}": f"./{url}" for file_format, url in context.urls.items()}
    for face in context.faces if len(context.faces) > 1 else ():
        exports |= {f"./{face.name}.{file_format}": f"./{url}" for file_format, url in face.urls.items()}
    values = {
        "name": str(context.options["name"]) or icon_set.stem,
        "version": semantic_version(icon_set.version),
        "description": f"The icon font {icon_set.family}. Written by Odd Peg.",
        **({"license": _licence(icon_set.licence, inside)} if icon_set.licence else {}),
        "type": "module",
        "sideEffects": effects,
        "exports": {**exports, "./package.json": "./package.json"},
    }
    return json.dumps(values, indent=2, ensure_ascii=False) + "\n"


def _licence(text: str, inside: Sequence[tuple[str, str]]) -> str:
    """Return a licence as npm takes it: an SPDX expression of listed licences, else where to read it, if anywhere.
    inside: kinds and places of the package's files."""
    try:
        expression = canonicalize_license_expression(text)
        if "LicenseRef-" not in expression:
            return expression
    except InvalidLicenseExpression:
        pass
    return next((f"SEE LICENSE IN {url}" for kind, url in inside if kind == "credits"), text)


def _module(place: str) -> dict[str, str]:
    folder = place.rpartition("/")[0]
    return {"types": f"{folder}/{declarations_name(place)}", "default": place}


KIND = OutputKind(
    "npm-package",
    "package.json, which makes the bundle's folder a package",
    "pack or publish the bundle's folder, or install it by its path",
    "package.json",
    write,
    needs_final_names=True,
    rank=9,
    options={"name": Option("", "the package's name; default: that of the font files")},
)
