"""Web component: a custom element with name, size and colour. Its font face is registered on the document, since a
face declared inside a shadow root does not load; its style is a constructed sheet, which no security policy forbids.
Source: HTML, custom elements; CSS Font Loading 3; CSSOM §6.2 (constructed style sheets); Custom Elements Manifest.
"""

from __future__ import annotations

import json
import posixpath

from oddpeg.iconset.model import Icon, IconSet
from oddpeg.outputs.context import OutputContext, Snippet
from oddpeg.outputs.escape import script_string, url_path, xml_text
from oddpeg.outputs.face_rules import face_classes, face_values, font_sources, palette_rules, state_rules
from oddpeg.outputs.kind import FONT_OPTIONS, Option, OutputKind, embedded_formats, needs_unless_embedded
from oddpeg.outputs.naming import words
from oddpeg.outputs.references import NameShape, ReferenceForm
from oddpeg.outputs.render import render_kind
from oddpeg.outputs.scripts import declarations_name, json_text, module_path, script_names

ATTRIBUTES = {
    "name": "the icon's name",
    "size": "its height: a CSS length, a number of pixels, or a size of the config; default: that of the text",
    "color": "a CSS colour, or a colour of the config; default: that of the text",
    "label": "what it means here; without one it is decoration, and not read aloud",
}


def attributes_of(icon_set: IconSet) -> dict[str, str]:
    """Return the meaning of each attribute of the element."""
    faces = {"face": "the face, by name; default: the font's default face"} if face_classes(icon_set) else {}
    palettes = {"palette": "the palette, by name; default: the first"} if palette_rules(icon_set) else {}
    states = {"state": "the state, by name; default: the usual one"} if state_rules(icon_set) else {}
    return ATTRIBUTES | faces | palettes | states


def element(icon_set: IconSet) -> str:
    """Return the element's name: small ASCII letters and a hyphen."""
    parts = words(icon_set.prefix)
    return "-".join(["x" + parts[0] if parts[0][0].isdigit() else parts[0], *parts[1:], "icon"])


def write(icon_set: IconSet, context: OutputContext) -> str:
    """Return a module that defines the element when it is loaded, and does nothing where there is no document."""
    names = script_names(icon_set)
    return render_kind(
        "web_component.jinja",
        icon_set,
        element=element(icon_set),
        attributes=attributes_of(icon_set),
        fixed=context.options["embed"] or context.options["url"],
        **face_values(icon_set, font_sources(context)),
        **names,
    )


def companions(icon_set: IconSet, context: OutputContext) -> dict[str, str]:
    """Return the file that declares the types, and where it is asked for the manifest that editors read."""
    names = [name for icon in icon_set.icons for name in icon.names]
    values = {
        "names": names,
        "element": element(icon_set),
        "attributes": attributes_of(icon_set),
        "faces": face_classes(icon_set),
        "palettes": palette_rules(icon_set),
        "states": state_rules(icon_set),
        **script_names(icon_set),
    }
    files = {declarations_name(context.file): render_kind("web_component_types.jinja", icon_set, **values)}
    if context.options.get("manifest"):
        files["custom-elements.json"] = _manifest(icon_set, posixpath.basename(context.file))
    return files


def _manifest(icon_set: IconSet, file: str) -> str:
    tag, kind = element(icon_set), f"{script_names(icon_set)['Type']}Element"
    described = [{"name": name, "description": text} for name, text in attributes_of(icon_set).items()]
    named = " | ".join(json.dumps(name) for icon in icon_set.icons for name in icon.names)
    described[0]["type"] = {"text": named}  # type: ignore[assignment]
    declared = {
        "kind": "class",
        "name": kind,
        "description": f"An icon of {icon_set.family}. Written by Odd Peg.",
        "tagName": tag,
        "customElement": True,
        "attributes": described,
        "superclass": {"name": "HTMLElement"},
    }
    exports = [
        {"kind": "js", "name": kind, "declaration": {"name": kind, "module": file}},
        {"kind": "custom-element-definition", "name": tag, "declaration": {"name": kind, "module": file}},
    ]
    module = {"kind": "javascript-module", "path": file, "declarations": [declared], "exports": exports}
    return json_text({"schemaVersion": "2.1.0", "modules": [module]})


def setup(icon_set: IconSet, context: OutputContext) -> list[Snippet]:
    """Return the line that loads the module, for pages and for scripts; paths are relative to the project."""
    return [
        Snippet("web-component", f'<script type="module" src="{xml_text(url_path(context.file))}"></script>'),
        Snippet("web-component", f"import {script_string(module_path(context.file))};"),
    ]


def snippets(icon_set: IconSet, context: OutputContext, icon: Icon) -> list[Snippet]:
    """Return the element."""
    name = element(icon_set)
    return [Snippet("web-component", f'<{name} name="{xml_text(icon.name)}"></{name}>')]


def references(icon_set: IconSet, context: OutputContext) -> list[ReferenceForm]:
    """Return the element and the map."""
    names = icon_set.spelled
    codes = f"{script_names(icon_set)['own']}Codepoints"
    return [
        ReferenceForm(NameShape.ATTRIBUTE, f"<{element(icon_set)}", names),
        ReferenceForm(NameShape.KEY, codes, names),
    ]


KIND = OutputKind(
    "web-component",
    "custom element with name, size and colour",
    "load it as a module",
    "{stem}-element.mjs",
    write,
    snippets,
    setup=setup,
    companions=companions,
    needs=needs_unless_embedded("woff2", "woff", "ttf"),
    embeds=embedded_formats,
    hash_in_name=True,
    references=references,
    rank=8,
    options={
        **FONT_OPTIONS,
        "manifest": Option(False, "a custom-elements.json in the same folder, for editors and catalogues"),
    },
)
