"""Editor data: names of classes and of the element, for editors that complete HTML. Source: the custom data format of
HTML language services, version 1.1.
"""

from __future__ import annotations

from oddpeg.iconset.model import Icon, IconSet
from oddpeg.outputs.context import OutputContext
from oddpeg.outputs.icon_svg import data_uri
from oddpeg.outputs.kind import OutputKind, always
from oddpeg.outputs.kinds.web_component import attributes_of, element
from oddpeg.outputs.scripts import json_text

_MOST_PICTURED = 300  # icons


def write(icon_set: IconSet, context: OutputContext) -> str:
    """Return the data; of sets that are not large, each name shows its picture."""
    pictured = len(icon_set.icons) <= _MOST_PICTURED and not context.draft

    def described(icon: Icon) -> dict[str, object]:
        parts = [f"U+{icon.hex.upper()}", icon.title] if icon.title else [f"U+{icon.hex.upper()}"]
        if pictured and icon.name in icon_set.thumbnails:
            parts.append(f"\n\n![{icon.name}]({data_uri(icon_set, icon, 48, 'gray')})")
        return {"description": {"kind": "markdown", "value": " ".join(parts)}}

    names = [{"name": name, **described(icon)} for icon in icon_set.icons for name in icon.names]
    classes = [{**value, "name": f"{icon_set.prefix}-{value['name']}"} for value in names]
    attributes: list[dict[str, object]] = [
        {"name": name, "description": text, **({"valueSet": "icons"} if name == "name" else {})}
        for name, text in attributes_of(icon_set).items()
    ]
    tag = {"name": element(icon_set), "description": f"An icon of {icon_set.family}.", "attributes": attributes}
    values = {
        "version": 1.1,
        "tags": [tag] if any(other.kind == "web-component" for other in context.sibling_outputs) else [],
        "globalAttributes": [{"name": "class", "valueSet": "classes"}],
        "valueSets": [
            {"name": "icons", "values": names},
            {"name": "classes", "values": [{"name": icon_set.base_class, "description": "Odd Peg"}, *classes]},
        ],
    }
    return json_text(values)


KIND = OutputKind(
    "editor-data",
    "names of classes and of the element, for editors that complete HTML",
    "name it in the editor's settings as custom data for HTML",
    "{stem}-html.json",
    write,
    shows_drawings=always,
    rank=9,
)
