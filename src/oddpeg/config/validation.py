"""Validation of `oddpeg.toml` with pydantic, its errors as diagnostics with lines, and the JSON Schema."""

from __future__ import annotations

import os
import re
from collections import defaultdict
from collections.abc import Iterator
from dataclasses import is_dataclass
from functools import cache
from typing import Annotated, Any, get_args, get_origin, get_type_hints

os.environ.setdefault("PYDANTIC_DISABLE_PLUGINS", "__all__")  # looking for plugins scans all packages at every start

from pydantic import TypeAdapter, ValidationError
from pydantic_core import ErrorDetails

from oddpeg.config.keys import Rule, key_of_field
from oddpeg.config.relations import conflicts
from oddpeg.config.renamed import with_new_keys
from oddpeg.config.settings import Config, OutputTable
from oddpeg.config.toml_lines import KeyPath, key_lines, line_of
from oddpeg.diagnostics import UNPRINTABLE, Diagnostic, UsageError
from oddpeg.outputs.kind import Option
from oddpeg.outputs.registry import KINDS
from oddpeg.suggestions import did_you_mean


def is_table(kind: Any) -> bool:
    """Return whether a type is one of the declared tables."""
    return isinstance(kind, type) and is_dataclass(kind)


@cache
def declared(table: type) -> dict[str, Any]:
    """Return the annotation of every field of a declared table, by field name."""
    return get_type_hints(table, include_extras=True)


def rule_of(annotation: Any) -> Rule:
    """Return the rule that an annotation carries, an empty one where it has none."""
    return next((part for part in get_args(annotation)[1:] if isinstance(part, Rule)), Rule())


@cache
def _adapter() -> TypeAdapter[Config]:
    return TypeAdapter(Config)


def _table_at(path: KeyPath) -> type:
    """Return the table in which the key at `path` stands."""
    table: type = Config
    named = False
    for part in path[:-1]:
        if named:  # the name of a table among others: it may be that of a key
            named = False
        elif (annotation := declared(table).get(part)) is not None and is_table(innermost(annotation)):
            table, named = innermost(annotation), _holds_many(annotation)
    return table


def _holds_many(annotation: Any) -> bool:
    """Return whether an annotation holds tables in a list or dict."""
    while get_origin(annotation) is Annotated:
        annotation = get_args(annotation)[0]
    return get_origin(annotation) in (list, dict)


def innermost(annotation: Any) -> Any:
    """Return the table that an annotation holds, in lists or dicts, else the annotation itself."""
    while get_origin(annotation) in (Annotated, list, dict):
        parts = get_args(annotation)
        annotation = parts[1] if get_origin(annotation) is dict else parts[0]
    return annotation


def _path(location: tuple[int | str, ...], values: Any) -> KeyPath:
    """Return the key path of an error, without the names of types that pydantic adds where a value has alternatives."""
    path: list[str] = []
    for part in location:
        if isinstance(values, dict) and part != "[key]":  # an error in the key itself
            path.append(str(part))
            values = values.get(part)
        elif isinstance(values, list) and isinstance(part, int):
            path.append(str(part))
            values = values[part]
    return tuple(path)


_TYPES = {
    "bool_type": "should be true or false",
    "dataclass_type": "should be a table",
    "dict_type": "should be a table",
    "float_type": "should be a number",
    "int_type": "should be a whole number",
    "list_type": "should be a list",
    "string_too_short": "should not be empty",
    "string_type": "should be a text in quotes",
    "too_short": "should not be empty",
}


def _as_diagnostic(error: ErrorDetails, path: KeyPath, where: str, line: int | None) -> Diagnostic:
    key, given = ".".join(path), error["input"]
    match error["type"]:
        case "unexpected_keyword_argument":
            known = [key_of_field(name) for name in declared(_table_at(path))]
            cure = did_you_mean(path[-1], known, f"known here: {', '.join(known)}", 1, 0.5)
            return Diagnostic("config-unknown-key", f"{key}: no such key", cure, where, line)
        case "missing":
            return Diagnostic("config-missing-key", f"{key}: is missing", _addition(path), where, line)
        case "literal_error":
            cure = did_you_mean(str(given), _allowed(error), f"one of: {', '.join(_allowed(error))}", 1, 0.5)
            return Diagnostic("config-choice", f"{key}: {given!r} is not possible", cure, where, line)
        case "value_error":
            text, _, cure = str(error["ctx"]["error"]).partition("; ")
            return Diagnostic("config-value", f"{key}: {text}", cure or f"it is {given!r} now", where, line)
    message = _TYPES.get(error["type"], error["msg"].removeprefix("Input ").lower())
    return Diagnostic("config-type", f"{key}: {message}", f"it is {given!r} now", where, line)


def _addition(path: KeyPath) -> str:
    """Return the cure for a missing key."""
    *table, key = path
    if not table:
        return f"add a [{key}.NAME] table" if get_origin(get_args(declared(Config)[key])[0]) else f"add a [{key}] table"
    if table[-1].isdigit():
        return f"add {key} to each [[{'.'.join(table[:-1])}]]"
    return f"add {key} to [{'.'.join(table)}]"


def _allowed(error: ErrorDetails) -> list[str]:
    """Return the texts that a choice permits."""
    return re.findall(r"'([^']*)'", error["ctx"]["expected"])


def _diagnostics(problem: ValidationError, values: dict[str, Any], where: str, text: str) -> Iterator[Diagnostic]:
    """Yield a diagnostic for each wrong key."""
    lines, by_path = key_lines(text), defaultdict[KeyPath, list[ErrorDetails]](list)
    for error in problem.errors(include_url=False):
        by_path[_path(error["loc"], values)].append(error)
    for path, errors in sorted(by_path.items(), key=lambda item: line_of(lines, item[0]) or 0):
        # a value with alternatives ("auto" or a number) fails once for each
        choice = next((error for error in errors if error["type"] == "literal_error"), None)
        others = [error for error in errors if error is not choice]
        if choice and any(len(other) > len(path) and other[: len(path)] == path for other in by_path):
            continue  # the value is a list, and an error about an item follows
        first = _as_diagnostic(others[0] if others else errors[0], path, where, line_of(lines, path))
        if choice and others:
            names = _allowed(choice)
            cure = did_you_mean(str(choice["input"]), names, first.cure, 1, 0.5)
            first = first._replace(what=f"{first.what}, or {' or '.join(map(repr, names))}", cure=cure)
        yield first


def _unprintable(value: Any, path: KeyPath, where: str, lines: dict[KeyPath, int]) -> Iterator[Diagnostic]:
    """Yield a fault for every text with characters that no file format and no terminal can show."""
    if isinstance(value, dict):
        for key, inner in value.items():
            yield from _unprintable(key, path, where, lines)
            yield from _unprintable(inner, (*path, str(key)), where, lines)
    elif isinstance(value, list):
        for inner in value:
            yield from _unprintable(inner, path, where, lines)
    elif isinstance(value, str) and (match := UNPRINTABLE.search(value)):
        message = f"{'.'.join(path)}: holds the character U+{ord(match[0]):04X}, which nothing can show"
        yield Diagnostic("config-value", message, "remove it", where, line_of(lines, path))


def validated(values: dict[str, Any], where: str, text: str) -> Config:
    """Return the config that a file holds; raise `UsageError` with every error in it.
    where: the file's name; text: its content, for line numbers."""
    lines = key_lines(text)
    if errors := list(_unprintable(values, (), where, lines)):
        raise UsageError(*errors)
    values = with_new_keys(values)
    try:
        config = _adapter().validate_python(values)
    except ValidationError as problem:
        raise UsageError(*_diagnostics(problem, values, where, text)) from None
    errors = [
        Diagnostic(one.code, f"{'.'.join(one.key)}: {one.what}", one.cure, where, line_of(lines, one.key))
        for one in conflicts(config)
    ]
    if errors:
        raise UsageError(*errors)
    return config


def config_schema() -> dict[str, Any]:
    """Return the JSON Schema (draft 2020-12) of `oddpeg.toml`."""
    schema = _adapter().json_schema()
    schema["$defs"]["OutputTable"] = _output_schema()
    for part in schema["properties"].values():
        if "$ref" in part:
            part.pop("default", None)  # the table has the defaults of its keys
    _close_tables(schema)
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **schema, "title": "oddpeg.toml"}


def _close_tables(schema: Any) -> None:
    """Forbid other names in tables whose names have a pattern, within a schema, in place."""
    if isinstance(schema, dict):
        if "patternProperties" in schema:
            schema["additionalProperties"] = False
        for part in schema.values():
            _close_tables(part)
    elif isinstance(schema, list):
        for part in schema:
            _close_tables(part)


def _type_of(option: Option) -> dict[str, Any]:
    """Return the schema of an option's values."""
    if option.choices:
        return {"enum": option.values}
    if option.is_number:
        return {"anyOf": [{"type": "string"}, {"type": "integer"}]}
    return {"type": "boolean" if option.is_switch else "string"}


def _output_schema() -> dict[str, Any]:
    """Return the schema of an output: the name of a kind, or a table with the keys of that kind."""
    to = {"type": "string", "description": rule_of(declared(OutputTable)["to"]).doc}
    tables = []
    for kind in KINDS.values():
        options = {
            name: {
                **_type_of(option),
                **({} if option.default is None else {"default": option.default}),
                "description": option.summary,
            }
            for name, option in kind.options.items()
        }
        properties = {"kind": {"const": kind.name, "description": kind.summary}, "to": to, **options}
        tables.append({"type": "object", "required": ["kind"], "properties": properties, "additionalProperties": False})
    names = {"enum": list(KINDS), "description": "a kind of output, with its defaults"}
    return {"title": "an output", "oneOf": [names, *tables]}
