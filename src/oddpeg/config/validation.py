"""The declarations of `settings` → validation of a file, with every fault in it, and the JSON Schema.

pydantic does the work; it is only loaded where a file is not known to be valid.
"""

from __future__ import annotations

import os
import re
from collections.abc import Callable, Iterator
from functools import cache
from typing import Annotated, Any, get_args, get_origin, get_type_hints

os.environ.setdefault("PYDANTIC_DISABLE_PLUGINS", "__all__")  # looking for plugins scans all packages at every start

from pydantic import AfterValidator, BaseModel, BeforeValidator, ConfigDict, Field, ValidationError, create_model
from pydantic_core import ErrorDetails

from oddpeg.config.keys import Choices, Rule
from oddpeg.config.relations import conflicts
from oddpeg.config.renamed import with_new_keys
from oddpeg.config.settings import Config, OutputTable
from oddpeg.config.toml_lines import KeyPath, key_lines, line_of
from oddpeg.diagnostics import UNPRINTABLE, Diagnostic, UsageError
from oddpeg.outputs.registry import KINDS
from oddpeg.suggestions import nearest


def field_name(name: str) -> str:
    """Return a key as the file spells it, given the field that holds it (`from` is a word of Python's)."""
    return name.removesuffix("_")


def is_table(kind: Any) -> bool:
    """Return whether a type is one of the declared tables."""
    return isinstance(kind, type) and issubclass(kind, tuple) and hasattr(kind, "_fields")


@cache
def declared(table: type) -> dict[str, Any]:
    """Return the annotation of every field of a declared table, by field name."""
    return get_type_hints(table, include_extras=True)


def key_of(annotation: Any) -> Rule:
    """Return the declaration that an annotation carries, an empty one where it has none."""
    return next((part for part in get_args(annotation)[1:] if isinstance(part, Rule)), Rule())


@cache
def model_of(table: Any) -> type[BaseModel]:
    """Return a declared table as a model that validates it."""
    defaults: dict[str, Any] = table._field_defaults
    fields: dict[str, Any] = {}
    for name, annotation in declared(table).items():
        default = defaults.get(name, ...)
        table_of_default: Any = type(default)
        if is_table(table_of_default):
            default = model_of(table_of_default)()
        alias = field_name(name)
        fields[name] = (
            _converted(annotation),
            Field(default, alias=alias if alias != name else None, description=key_of(annotation).doc or None),
        )
    settings = ConfigDict(extra="forbid", strict=True, frozen=True)
    model: type[BaseModel] = create_model(table.__name__, __config__=settings, __doc__=table.__doc__, **fields)
    return model


def _converted(annotation: Any) -> Any:
    """Return an annotation with models for tables and validators for declarations."""
    if annotation is OutputTable:
        return Annotated[model_of(OutputTable), BeforeValidator(_output_table), AfterValidator(_known_options)]
    if is_table(annotation):
        return model_of(annotation)
    origin, parts = get_origin(annotation), get_args(annotation)
    if origin is Annotated:
        inner = _converted(parts[0])
        for key in parts[1:]:
            inner = _limited(inner, key)
        return inner
    if origin in (list, dict):
        return origin[tuple(map(_converted, parts))]
    return annotation


def _limited(inner: Any, key: Rule) -> Any:
    """Return an annotation with the limits of a declaration."""
    extras: list[Any] = []
    if key.least is not None:
        number: Any = next((part for part in get_args(inner) if part in (int, float)), inner)
        limited: Any = Annotated[number, Field(ge=key.least, le=key.most)]
        others = [part for part in get_args(inner) if part is not number]
        inner = others[0] | limited if others else limited
    if key.filled:
        extras.append(Field(min_length=1))
    if key.choices:
        extras += [AfterValidator(_chooser(key.choices)), Field(json_schema_extra=_enumerated(key.choices))]
    if key.pattern:
        extras += [AfterValidator(_matcher(key)), Field(json_schema_extra={"pattern": f"^{key.pattern}$"})]
    if key.check:
        extras.append(AfterValidator(_checker(key.check)))
    for extra in extras:
        inner = Annotated[inner, extra]
    return inner


def _enumerated(choices: Choices) -> Callable[[dict[str, Any]], None]:
    """Return a function that adds the choices to a schema; it runs late, since listing them may import code."""

    def add(schema: dict[str, Any]) -> None:
        schema["enum"] = list(choices.names())

    return add


def _chooser(choices: Choices) -> Callable[[str], str]:
    def check(text: str) -> str:
        if text not in choices.names():
            names = list(choices.names())
            near = nearest(text, names, 1, 0.5)
            hint = f"did you mean {near[0]!r}?" if near else f"known are {', '.join(names)}"
            raise ValueError(f"is not {choices.noun}: {text!r}; {hint}")
        return text

    return check


def _matcher(key: Rule) -> Callable[[str], str]:
    pattern = re.compile(key.pattern)

    def check(text: str) -> str:
        if not pattern.fullmatch(text):
            raise ValueError(key.hint)
        return text

    return check


def _checker(check: Callable[[Any], None]) -> Callable[[Any], Any]:
    def run(value: Any) -> Any:
        check(value)
        return value

    return run


def _output_table(value: Any) -> Any:
    """Return the table of an output given as a name; keys that only its kind has go into `options`."""
    if isinstance(value, str):
        return {"kind": value}
    if not isinstance(value, dict) or "options" in value:
        return value
    own = ("kind", "to")
    table: dict[str, Any] = {key: v for key, v in value.items() if key in own}
    return {**table, "options": {k: v for k, v in value.items() if k not in own}}


def _known_options(output: Any) -> Any:
    """Raise ValueError where an output has an option that its kind does not know, or a value of the wrong type."""
    known = KINDS[output.kind].options
    for key, value in output.options.items():
        if key not in known:
            near = nearest(key, ["kind", "to", *known], 1, 0.5)
            hint = f"did you mean {near[0]!r}?" if near else f"it has {', '.join(['to', *known])}"
            raise ValueError(f"{output.kind} has no key {key!r}; {hint}")
        option = known[key]
        if not isinstance(value, bool if option.is_switch else str):
            wanted = "true or false" if option.is_switch else "a text in quotes"
            raise ValueError(f"{key!r} of {output.kind} is {value!r}; write {wanted}")
        if option.choices and value not in option.choices:
            raise ValueError(f"{key!r} of {output.kind} is {value!r}; it is one of {', '.join(option.choices)}")
    return output


def _table_at(path: KeyPath) -> type:
    """Return the table in which the key at `path` stands."""
    table: type = Config
    for part in path[:-1]:
        if is_table(table) and (annotation := declared(table).get(part)) is not None:
            table = innermost(annotation)
    return table


def innermost(annotation: Any) -> Any:
    """Return the table that an annotation holds, in lists or dicts, else the annotation itself."""
    while get_origin(annotation) in (Annotated, list, dict):
        parts = get_args(annotation)
        annotation = parts[1] if get_origin(annotation) is dict else parts[0]
    return annotation


_ALTERNATIVES = ("int", "literal['auto']", "constrained-int", "str", "list[str]")


def _as_diagnostic(error: ErrorDetails, where: str, lines: dict[KeyPath, int]) -> Diagnostic:
    path = tuple(str(part) for part in error["loc"] if part not in _ALTERNATIVES)
    key, given, line = ".".join(path), error["input"], line_of(lines, path)
    match error["type"]:
        case "extra_forbidden":
            known = [field_name(name) for name in declared(_table_at(path))]
            near = nearest(path[-1], known, 1, 0.5)
            cure = f"did you mean {near[0]!r}?" if near else f"known here: {', '.join(known)}"
            return Diagnostic("config-unknown-key", f"{key}: no such key", cure, where, line)
        case "missing":
            cure = f"add {path[-1]} to [{'.'.join(path[:-1])}]" if len(path) > 1 else f"add a [{key}] table"
            return Diagnostic("config-missing-key", f"{key}: is missing", cure, where, line)
        case "literal_error":
            allowed = re.findall(r"'([^']*)'", error["ctx"]["expected"])
            near = nearest(str(given), allowed, 1, 0.4)
            cure = f"did you mean {near[0]!r}?" if near else f"one of: {', '.join(allowed)}"
            return Diagnostic("config-choice", f"{key}: {given!r} is not possible", cure, where, line)
        case "value_error":
            what, _, cure = str(error["ctx"]["error"]).partition("; ")
            return Diagnostic("config-value", f"{key}: {what}", cure or f"it is {given!r} now", where, line)
    message = error["msg"].removeprefix("Input ").lower()
    return Diagnostic("config-type", f"{key}: {message}", f"it is {given!r} now", where, line)


def _collect(problem: ValidationError, where: str, text: str) -> list[Diagnostic]:
    lines = key_lines(text)
    found: dict[tuple[str, int | None], Diagnostic] = {}
    for error in problem.errors(include_url=False):
        diagnostic = _as_diagnostic(error, where, lines)
        # a value with alternatives ("auto" or a number) fails once for each
        found.setdefault((diagnostic.what.split(":")[0], diagnostic.line), diagnostic)
    return sorted(found.values(), key=lambda d: d.line or 0)


def _unprintable(value: Any, path: KeyPath, where: str, lines: dict[KeyPath, int]) -> Iterator[Diagnostic]:
    """Yield a fault for every text with characters that no file format and no terminal can show."""
    if isinstance(value, dict):
        for key, inner in value.items():
            yield from _unprintable(key, path, where, lines)
            yield from _unprintable(inner, (*path, str(key)), where, lines)
    elif isinstance(value, list):
        for inner in value:
            yield from _unprintable(inner, path, where, lines)
    elif isinstance(value, str) and (found := UNPRINTABLE.search(value)):
        what = f"{'.'.join(path)}: holds the character U+{ord(found[0]):04X}, which nothing can show"
        yield Diagnostic("config-value", what, "remove it", where, line_of(lines, path))


def validated(values: dict[str, Any], where: str, text: str) -> dict[str, Any]:
    """Return the values of a config with every key present; raise `UsageError` with every fault found.
    where: the file's name; text: its content, for line numbers."""
    if faults := list(_unprintable(values, (), where, key_lines(text))):
        raise UsageError(*faults)
    values = with_new_keys(values)
    try:
        found = model_of(Config).model_validate(values).model_dump()
    except ValidationError as problem:
        raise UsageError(*_collect(problem, where, text)) from None
    lines = key_lines(text)
    together = [
        Diagnostic(one.code, f"{'.'.join(one.key)}: {one.what}", one.cure, where, line_of(lines, one.key))
        for one in conflicts(Config.from_values(found))
    ]
    if together:
        raise UsageError(*together)
    return found


def config_schema() -> dict[str, Any]:
    """Return the JSON Schema (draft 2020-12) of `oddpeg.toml`."""
    schema = model_of(Config).model_json_schema(by_alias=True)
    schema["$defs"]["OutputTable"] = _output_schema()
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


def _output_schema() -> dict[str, Any]:
    """Return the schema of an output: the name of a kind, or a table with the keys of that kind."""
    to = {"type": "string", "description": key_of(declared(OutputTable)["to"]).doc}
    tables = []
    for kind in KINDS.values():
        options = {
            name: {
                "type": "boolean" if option.is_switch else "string",
                **({} if option.default is None else {"default": option.default}),
                **({"enum": list(option.choices)} if option.choices else {}),
                "description": option.summary,
            }
            for name, option in kind.options.items()
        }
        properties = {"kind": {"const": kind.name, "description": kind.summary}, "to": to, **options}
        tables.append({"type": "object", "required": ["kind"], "properties": properties, "additionalProperties": False})
    names = {"enum": list(KINDS), "description": "a kind of output, with its defaults"}
    return {"title": "an output", "oneOf": [names, *tables]}
