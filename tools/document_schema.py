"""The JSON Schema of what `--json` prints, from the types that the commands are checked against."""

from __future__ import annotations

import json
from pathlib import Path
from types import NoneType, UnionType
from typing import Any, NotRequired, Union, get_args, get_origin, get_type_hints, is_typeddict

from oddpeg.cli.documents import DOCUMENTS

SCHEMA = Path(__file__).parent.parent / "docs/json-output.schema.json"
_PLAIN = {str: "string", int: "integer", float: "number", bool: "boolean", NoneType: "null"}


def schema_text() -> str:
    """Return the schema: what each command prints is at `#/$defs/COMMAND`."""
    types: dict[str, Any] = {}
    commands = {name: _schema_of(document, types) for name, document in DOCUMENTS.items()}
    whole = {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "What oddpeg prints with --json",
        "description": "One document on stdout. That of a command is at #/$defs/COMMAND, such as #/$defs/build or"
        " #/$defs/pegs-list; a command that cannot do its work prints what is at #/$defs/faults.",
        "$defs": {**commands, **dict(sorted(types.items()))},
    }
    return json.dumps(whole, indent=1, ensure_ascii=False) + "\n"


def _schema_of(annotation: Any, types: dict[str, Any]) -> dict[str, Any]:
    """Return the schema of an annotation; types of documents go into `types`, by name."""
    origin, parts = get_origin(annotation), get_args(annotation)
    if annotation is Any:
        return {}
    if annotation in _PLAIN:
        return {"type": _PLAIN[annotation]}
    if is_typeddict(annotation):
        if annotation.__name__ not in types:
            types[annotation.__name__] = {}  # known, while its own parts are looked at
            types[annotation.__name__] = _object(annotation, types)
        return {"$ref": f"#/$defs/{annotation.__name__}"}
    if origin is list:
        return {"type": "array", "items": _schema_of(parts[0], types)}
    if origin is dict:
        return {"type": "object", "additionalProperties": _schema_of(parts[1], types)}
    if origin in (Union, UnionType):
        return {"anyOf": [_schema_of(part, types) for part in parts]}
    raise TypeError(f"no schema for {annotation!r}")


def _object(document: Any, types: dict[str, Any]) -> dict[str, Any]:
    """Return the schema of a type of documents; raise ValueError for a field without a description."""
    properties, required = {}, []
    for name, annotation in get_type_hints(document, include_extras=True).items():
        if get_origin(annotation) is NotRequired:
            (annotation,) = get_args(annotation)
        else:
            required.append(name)
        kind, description = get_args(annotation)
        properties[name] = {**_schema_of(kind, types), "description": description}
    return {
        "type": "object",
        "description": document.__doc__,
        "properties": properties,
        "required": required,
        "additionalProperties": False,
    }


if __name__ == "__main__":
    SCHEMA.write_text(schema_text(), encoding="utf-8")
