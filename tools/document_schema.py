"""The JSON Schema of what `--json` prints, from the reports that the commands print."""

from __future__ import annotations

import json
from collections.abc import Mapping
from enum import Enum
from pathlib import Path
from types import NoneType, UnionType
from typing import Any, Union, get_args, get_origin

from oddpeg.cli.json_documents import DOCUMENTS
from oddpeg.reports import fields_of

SCHEMA = Path(__file__).parent.parent / "docs/json-output.schema.json"
_PLAIN = {str: "string", int: "integer", float: "number", bool: "boolean", NoneType: "null"}


def schema_text() -> str:
    """Return the schema: what each command prints is at `#/$defs/COMMAND`."""
    types: dict[str, Any] = {}
    commands = {name: _schema_of(report, types) for name, report in DOCUMENTS.items()}
    whole = {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "What oddpeg prints with --json",
        "description": "One document on stdout. That of a command is at #/$defs/COMMAND, such as #/$defs/build or"
        " #/$defs/pegs-list; a command that cannot do its work prints what is at #/$defs/faults.",
        "$defs": {**commands, **dict(sorted(types.items()))},
    }
    return json.dumps(whole, indent=1, ensure_ascii=False) + "\n"


def _schema_of(annotation: Any, types: dict[str, Any]) -> dict[str, Any]:
    """Return the schema of an annotation; reports go into `types`, by name. Raise TypeError where there is none."""
    origin, parts = get_origin(annotation), get_args(annotation)
    if annotation is Any:
        return {}
    if annotation in _PLAIN:
        return {"type": _PLAIN[annotation]}
    if origin in (Union, UnionType):
        return {"anyOf": [_schema_of(part, types) for part in parts]}
    if origin in (list, tuple):
        return {"type": "array", "items": _schema_of(parts[0], types)}
    if origin in (dict, Mapping):
        return {"type": "object", "additionalProperties": _schema_of(parts[1], types)}
    if issubclass(annotation, Enum):
        return {"enum": [member.value for member in annotation]}
    if fields_of(annotation):
        if annotation.__name__ not in types:
            types[annotation.__name__] = {}  # known, while its own parts are looked at
            types[annotation.__name__] = _object(annotation, types)
        return {"$ref": f"#/$defs/{annotation.__name__}"}
    raise TypeError(f"no schema for {annotation!r}")


def _object(report: type, types: dict[str, Any]) -> dict[str, Any]:
    """Return the schema of a report."""
    properties: dict[str, Any] = {}
    required: list[str] = []
    for field in fields_of(report):
        if field.key.merged:
            inner = _object(field.annotation, types)
            properties |= inner["properties"]
            required += inner["required"]
            continue
        properties[field.name] = {**_schema_of(field.annotation, types), "description": field.key.description}
        if not field.key.optional:
            required.append(field.name)
    summary = (report.__doc__ or "").partition("\n\n")[0].replace("\n", " ")
    return {
        "type": "object",
        "description": summary,
        "properties": properties,
        "required": required,
        "additionalProperties": False,
    }


if __name__ == "__main__":
    SCHEMA.write_text(schema_text(), encoding="utf-8")
