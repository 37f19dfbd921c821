"""`oddpeg.toml`, read and validated whole before any work.

The values of a valid file are kept in the cache, since loading the validator takes longer than a small rebuild. The
JSON Schema for editors is written next to the cache.
"""

from __future__ import annotations

import contextlib
import json
import re
import tomllib
from collections.abc import Iterator
from dataclasses import asdict
from pathlib import Path
from typing import Annotated, Any, NamedTuple

from oddpeg.config.keys import key_of_field
from oddpeg.config.settings import Config
from oddpeg.diagnostics import Diagnostic, UsageError
from oddpeg.reports import Key
from oddpeg.store.cache import Cache
from oddpeg.store.state import STATE, state_folder, write_caches
from oddpeg.store.tree import read_regular

FILE = "oddpeg.toml"
_MOST_PARTS = 100  # of a dotted key
_PART = r"""(?:[A-Za-z0-9_-]++|"[^"\n]*+"|'[^'\n]*+')"""
_DEEP_KEY = re.compile(rf"(?m)^[ \t]*+\[{{0,2}}[ \t]*+(?:{_PART}[ \t]*+\.[ \t]*+){{{_MOST_PARTS}}}")
LARGEST_CONFIG = 1_000_000  # bytes
_VALID = "config"
_SCHEMA = "cache/oddpeg.schema.json"
SCHEMA = f"{STATE}/{_SCHEMA}"
SHIPPED_SCHEMA = Path(__file__).with_name("oddpeg.schema.json")  # what `config_schema` makes, for it takes a while


def load_config(path: Path, remember: bool = False) -> Config:
    """Return the config in a file; raise `UsageError` with every error in it.

    remember: keep in the cache that this content is valid, and write the schema for editors.
    """
    text = _read(path)
    root = path.resolve().parent
    cache = Cache(root)
    key = cache.key(_VALID, text)
    if kept := cache.get(_VALID, [key]):
        return Config.from_values(json.loads(kept[key]))
    from oddpeg.config.validation import validated

    config = validated(_parse(text, path.name), path.name, text)
    if remember:
        with contextlib.suppress(OSError):
            state_folder(root)
        cache.put(_VALID, {key: json.dumps(asdict(config)).encode()})
        write_caches({_SCHEMA: SHIPPED_SCHEMA.read_bytes()}, root)
    return config


class Setting(NamedTuple):
    """One effective value."""

    key: Annotated[str, Key("its path, with dots")]
    value: Annotated[Any, Key("value, as TOML has it")]
    line: Annotated[int | None, Key("line of the file that sets it; null where it is the default")]


def explain_config(path: Path) -> list[Setting]:
    """Return every effective value, in the order of the declarations; raise `UsageError` for an invalid file."""
    from oddpeg.config.toml_lines import key_lines
    from oddpeg.config.validation import validated

    text = _read(path)
    values = asdict(validated(_parse(text, path.name), path.name, text))
    lines = key_lines(text)
    return [Setting(".".join(key), value, lines.get(key)) for key, value in _flattened((), values, Config)]


def key_line(path: Path, key: str) -> int | None:
    """Return the line of a config file with a key, or with the nearest table around it; None if unknown."""
    from oddpeg.config.toml_lines import key_lines, line_of

    try:
        return line_of(key_lines(path.read_text(encoding="utf-8-sig")), tuple(key.split(".")))
    except (OSError, UnicodeDecodeError):
        return None


def _flattened(path: tuple[str, ...], values: dict[str, Any], table: type) -> Iterator[tuple[tuple[str, ...], Any]]:
    """Yield (key path, value) of everything in a table, tables within it taken apart."""
    from oddpeg.config.validation import declared, innermost, is_table

    for name, annotation in declared(table).items():
        key, value, inner = (*path, key_of_field(name)), values[name], innermost(annotation)
        if not is_table(inner) or name == "outputs":
            yield key, value
        elif isinstance(value, list):
            for number, item in enumerate(value):
                yield from _flattened((*key, str(number)), item, inner)
        elif name in ("bundle", "face", "axis", "repack"):
            for key_name, item in value.items():
                yield from _flattened((*key, key_name), item, inner)
        else:
            yield from _flattened(key, value, inner)


def _read(path: Path) -> str:
    try:
        data = read_regular(str(path.resolve()), LARGEST_CONFIG)
        return data.decode("utf-8-sig").replace("\r\n", "\n")
    except FileNotFoundError:
        message, cure = (
            f"there is no {path.name} in {path.parent}",
            "run `oddpeg init` there, or name the file with --config",
        )
        raise UsageError(Diagnostic("config-missing", message, cure)) from None
    except (OSError, UnicodeDecodeError) as problem:
        why = problem.strerror if isinstance(problem, OSError) else problem
        cure = "check the file's rights and that it is UTF-8"
        raise UsageError(Diagnostic("config-unreadable", f"cannot be read: {why}", cure, path.name)) from None


def _parse(text: str, where: str) -> dict[str, object]:
    if match := _DEEP_KEY.search(text):  # the parser's work grows with the square of its parts
        at = text.count("\n", 0, match.start()) + 1
        message, cure = f"has a key of more than {_MOST_PARTS} parts", "correct that line"
        raise UsageError(Diagnostic("config-syntax", message, cure, where, at))
    try:
        return tomllib.loads(text)
    except RecursionError:
        message, cure = "is nested too deeply", "write it with fewer brackets in brackets"
        raise UsageError(Diagnostic("config-syntax", message, cure, where)) from None
    except tomllib.TOMLDecodeError as problem:
        match = re.search(r"at line (\d+)", str(problem))
        message = "is not valid TOML: " + re.sub(r" \(at .*\)$", "", str(problem))
        line = int(match[1]) if match else None
        raise UsageError(Diagnostic("config-syntax", message, "correct that line", where, line)) from None
    except ValueError:  # of thousands of digits
        message, cure = "has a number that is too large", "write a smaller one"
        raise UsageError(Diagnostic("config-syntax", message, cure, where)) from None
