"""What commands print with `--json`, held against the schema that says what it is."""

from __future__ import annotations

import json
from collections.abc import Sequence
from functools import cache

from jsonschema import Draft202012Validator

from document_schema import SCHEMA


def assert_described(arguments: Sequence[str], text: str) -> None:
    """Fail where the schema of a command does not describe what it printed. arguments: its own, after `oddpeg`."""
    words = [word for word in arguments if not word.startswith("-")]
    if arguments[0] == "--also-read":
        del words[0]
    command = "-".join(words[:2]) if words[0] == "pegs" else words[0]
    command += "-page" if "--page" in arguments else ""
    document = json.loads(text)
    faults = set(document) == {"faults"}
    error = next(_validator("faults" if faults else command).iter_errors(document), None)
    assert error is None, f"{command} {error.json_path}: {error.message[:400]}"


@cache
def _validator(command: str) -> Draft202012Validator:
    whole = json.loads(SCHEMA.read_text(encoding="utf-8"))
    return Draft202012Validator({**whole, "$ref": f"#/$defs/{command}"})
