"""`oddpeg.toml`, read and validated whole before any work.

A file that was found valid is remembered by its content (`.oddpeg/cache/config`, safe to delete): loading the
validator takes longer than a small rebuild. Knows: where the file is. Does not know: what it may say.
"""

from __future__ import annotations

import contextlib
import hashlib
import json
import re
import tomllib
from pathlib import Path

from oddpeg.diagnostics import Diagnostic, UsageError
from oddpeg.workspace.code_stamp import code_stamp
from oddpeg.workspace.settings import Config
from oddpeg.workspace.transaction import STATE, write_files

FILE = "oddpeg.toml"


def load_config(path: Path, remember: bool = False) -> Config:
    """Return the config in a file; raise `UsageError` with every fault found in it.
    remember: note beside the project that this content is valid."""
    text = _read(path)
    memory = path.resolve().parent / STATE / "cache" / "config"
    known = _recall(memory, text)
    if known is not None:
        return known
    from oddpeg.workspace.config_validation import validated

    config = Config.from_values(validated(_parse(text, path.name), path.name, text))
    if remember:
        values = json.dumps(config.values())
        with contextlib.suppress(OSError):
            write_files({memory: f"{_seal(text, values)}\n{values}".encode()}, path.resolve().parent)
    return config


def _read(path: Path) -> str:
    try:
        return path.read_text(encoding="utf-8-sig")
    except FileNotFoundError:
        cure = "run `oddpeg init` there, or name the file with --config"
        raise UsageError(Diagnostic("config-missing", f"there is no {path.name} in {path.parent}", cure)) from None
    except (OSError, UnicodeDecodeError) as problem:
        raise UsageError(
            Diagnostic(
                "config-unreadable",
                f"cannot be read: {problem}",
                "check the file's rights and that it is UTF-8",
                path.name,
            )
        ) from None


def _parse(text: str, where: str) -> dict[str, object]:
    try:
        return tomllib.loads(text)
    except tomllib.TOMLDecodeError as problem:
        line = re.search(r"at line (\d+)", str(problem))
        told = re.sub(r" \(at .*\)$", "", str(problem))
        raise UsageError(
            Diagnostic(
                "config-syntax", f"is not valid TOML: {told}", "mend that line", where, int(line[1]) if line else None
            )
        ) from None


def _seal(text: str, values: str) -> str:
    """Return what proves that the values were found in this text by these rules."""
    program = code_stamp()
    return hashlib.blake2b("\0".join((program, text, values)).encode(), digest_size=16).hexdigest()


def _recall(memory: Path, text: str) -> Config | None:
    try:
        seal, values = memory.read_text(encoding="utf-8").split("\n", 1)
        return Config.from_values(json.loads(values)) if seal == _seal(text, values) else None
    except (OSError, ValueError):
        return None
