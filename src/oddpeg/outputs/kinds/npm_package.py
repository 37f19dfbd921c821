"""npm package: the package.json that makes of a bundle's folder a package. Source: npm, package.json; Node.js,
packages: exports."""

from __future__ import annotations

import posixpath
import shlex
from typing import NamedTuple

from packaging.licenses import InvalidLicenseExpression, canonicalize_license_expression

from oddpeg.iconset.model import IconSet
from oddpeg.outputs.components import COMPONENTS
from oddpeg.outputs.context import OutputContext, Snippet
from oddpeg.outputs.kind import Option, OutputKind
from oddpeg.outputs.naming import semantic_version
from oddpeg.outputs.scripts import declarations_name, json_text

_STYLES = {"css": "./css", "scss": "./scss", "less": "./less", "utilities": "./utilities"}
_SUBPATHS = {"web-component": "./element", "svg-modules": "./svg", "json": "./glyphs.json", "sprite": "./sprite.svg"}
_FRAMEWORKS = {"react": ">=18", "vue": ">=3.3", "svelte": ">=5", "solid-js": ">=1.8"}  # what modules are written for
_PACKAGES = {"solid": "solid-js"}


class _Exports(NamedTuple):
    """What a package exports.

    Attributes:
        paths: subpath → file, or files by condition.
        effects: files that do something when they are loaded.
        manifest: the custom elements manifest, empty for none.
    """

    paths: dict[str, object]
    effects: list[str]
    manifest: str = ""


def _exports(icon_set: IconSet, context: OutputContext) -> _Exports:
    """Return an export for every file of the bundle inside the package. The map is the JavaScript module: outside of
    bundlers, TypeScript is not loaded from packages (Node.js, TypeScript: type stripping in dependencies)."""
    places = {other.kind: f"./{other.url}" for other in context.sibling_outputs if not other.url.startswith("../")}
    paths: dict[str, object] = {}
    effects = []
    if "javascript" in places:
        paths["."] = _module(places["javascript"])
    elif "typescript" in places:
        paths["."] = places["typescript"]
    for kind, place in places.items():
        if kind in _STYLES:
            paths[_STYLES[kind]] = place
            effects.append(place)
        elif kind in _SUBPATHS:
            paths[_SUBPATHS[kind]] = _module(place) if place.endswith(("mjs", "js")) else place
            effects += [place] if kind == "web-component" else []
            if kind == "svg-modules":
                folder = place.rpartition("/")[0]
                paths["./svg/*"] = f"{folder}/*"
                effects += [f"{folder}/mirrored.css"] if icon_set.mirrored else []
        elif kind in COMPONENTS and not place.endswith(".ts"):
            paths[f"./{kind}"] = {kind: place, "default": place} if kind == "svelte" else _module(place)
    paths |= {f"./{file_format}": f"./{url}" for file_format, url in context.urls.items()}
    for face in context.faces if len(context.faces) > 1 else ():
        paths |= {f"./{face.name}.{file_format}": f"./{url}" for file_format, url in face.urls.items()}
    manifest = next((file.url for file in context.delivered if file.url.endswith("custom-elements.json")), "")
    return _Exports(paths, effects, manifest)


def write(icon_set: IconSet, context: OutputContext) -> str:
    """Return the manifest: an export for every file of the bundle, the files with side effects, and the frameworks that
    its modules need."""
    exports = _exports(icon_set, context)
    made_for = [str(other.options["for"]) for other in context.sibling_outputs if "for" in other.options]
    made_for += [other.kind for other in context.sibling_outputs if other.kind in COMPONENTS]
    needed = {_PACKAGES.get(one, one) for one in made_for}
    peers = {name: version for name, version in _FRAMEWORKS.items() if name in needed}
    values = {
        "name": _name(icon_set, context),
        "version": semantic_version(icon_set.version),
        "description": f"The icon font {icon_set.family}. Written by Odd Peg.",
        **({"license": _licence(icon_set.licence, context)} if icon_set.licence else {}),
        "type": "module",
        "sideEffects": exports.effects,
        "exports": {**exports.paths, "./package.json": "./package.json"},
        **({"customElements": exports.manifest} if exports.manifest else {}),
        **({"peerDependencies": peers} if peers else {}),
        # an app uses one framework, and npm installs peers that are not optional
        **({"peerDependenciesMeta": {name: {"optional": True} for name in peers}} if len(peers) > 1 else {}),
    }
    return json_text(values)


def _name(icon_set: IconSet, context: OutputContext) -> str:
    return str(context.options["name"]) or icon_set.stem


def setup(icon_set: IconSet, context: OutputContext) -> list[Snippet]:
    """Return the command that installs the package by its path from the project, and the import of its stylesheet."""
    folder = context.in_project(posixpath.dirname(context.file))
    sheet = [f'import "{_name(icon_set, context)}/css";'] if "./css" in _exports(icon_set, context).paths else []
    command = f"npm install {shlex.quote(folder if folder.startswith('.') else './' + folder)}"
    return [Snippet("npm-package", text) for text in (command, *sheet)]


def _licence(text: str, context: OutputContext) -> str:
    """Return a licence as npm takes it: an SPDX expression of listed licences, else where to read it, if anywhere."""
    try:
        expression = canonicalize_license_expression(text)
        if "LicenseRef-" not in expression:
            return expression
    except InvalidLicenseExpression:
        pass
    credits = [other.url for other in context.sibling_outputs if other.kind == "credits"]
    return next((f"SEE LICENSE IN {url}" for url in credits if not url.startswith("../")), text)


def _module(place: str) -> dict[str, str]:
    folder = place.rpartition("/")[0]
    return {"types": f"{folder}/{declarations_name(place)}", "default": place}


KIND = OutputKind(
    "npm-package",
    "package.json, which makes the bundle's folder a package",
    "pack or publish the bundle's folder, or install it by its path",
    "package.json",
    write,
    setup=setup,
    needs_final_names=True,
    rank=9,
    options={"name": Option("", "the package's name; default: that of the font files")},
)
