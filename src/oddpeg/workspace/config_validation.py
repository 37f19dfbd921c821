"""What `oddpeg.toml` may say, and what is wrong where it says something else.

Knows: every key, its limits, its default. Does not know: files, what the work does with the values.
"""

from __future__ import annotations

import difflib
import os
import re
from typing import Annotated, Any, Literal

os.environ.setdefault(
    "PYDANTIC_DISABLE_PLUGINS", "__all__"
)  # looking for plugins costs every start a scan of all packages

from pydantic import AfterValidator, BaseModel, BeforeValidator, ConfigDict, Field, ValidationError
from pydantic_core import ErrorDetails

from oddpeg.diagnostics import Diagnostic, UsageError
from oddpeg.font.info import ascii_words
from oddpeg.outputs.registry import FONT_KINDS, KINDS
from oddpeg.workspace.settings import RANGE
from oddpeg.workspace.toml_lines import key_lines, line_of

_IDENTIFIER = re.compile(r"-?[A-Za-z_\u0080-\U0010ffff][\w\u0080-\U0010ffff-]*")


def _has_letters(text: str) -> str:
    if not ascii_words(text) or not any(c.isalpha() for c in text):
        raise ValueError("needs at least one letter: file names and font names are made from it")
    if len(text) > 63 or any(ord(c) < 32 for c in text):
        raise ValueError("must be one line of at most 63 characters")
    return text


def _version(text: str) -> str:
    if not re.fullmatch(r"\d{1,4}(\.\d{1,3})?", text):
        raise ValueError('must look like "1.0": a number, a point, up to three digits')
    return text


def _identifier(text: str) -> str:
    if text and not _IDENTIFIER.fullmatch(text):
        raise ValueError("must start with a letter and hold letters, digits, - and _ only")
    return text


def _css_value(text: str) -> str:
    if not re.fullmatch(r"[\w.%#,+*/ ()-]+", text):
        raise ValueError("must be a CSS value such as 1.5em, #0a7 or var(--warn)")
    return text


def _code_ranges(value: str | list[str]) -> str | list[str]:
    for text in [value] if isinstance(value, str) else value:
        match = RANGE.fullmatch(text)
        if not match:
            raise ValueError('must look like "U+E000-U+F8FF", or be a list of such ranges')
        first, last = int(match[1], 16), int(match[2], 16)
        if first > last or last > 0x10FFFF:
            raise ValueError("must go from a smaller codepoint to a larger one, at most U+10FFFF")
    if not value:
        raise ValueError("needs at least one range")
    return value


def _known_kind(text: str) -> str:
    if text not in KINDS:
        raise ValueError(f"is not a kind of output: {text!r}{_nearest(text, list(KINDS))}")
    return text


def _known_finding(text: str) -> str:
    from oddpeg.diagnostics import FINDING_CODES

    if text not in FINDING_CODES:
        raise ValueError(f"is not a finding: {text!r}{_nearest(text, list(FINDING_CODES))}")
    return text


def _known_font(text: str) -> str:
    if text not in FONT_KINDS:
        raise ValueError(f"is not a font format: {text!r}{_nearest(text, list(FONT_KINDS))}")
    return text


def _output_table(value: Any) -> Any:
    """Return the table that a kind's name stands for; keys that only this kind has go into `options`."""
    if isinstance(value, str):
        return {"kind": value}
    if not isinstance(value, dict) or "options" in value:
        return value
    return {key: v for key, v in value.items() if key in ("kind", "to")} | {
        "options": {k: v for k, v in value.items() if k not in ("kind", "to")}
    }


def _known_options(output: OutputTable) -> OutputTable:
    known = KINDS[output.kind].options
    for key, value in output.options.items():
        if key not in known:
            near = difflib.get_close_matches(key, ["kind", "to", *known], n=1, cutoff=0.5)
            raise ValueError(
                f"{output.kind} has no key {key!r}; "
                + (f"did you mean {near[0]!r}?" if near else f"it has {', '.join(['to', *known])}")
            )
        if type(value) is not type(known[key].default):
            raise ValueError(
                f"{key!r} of {output.kind} is {value!r}; write "
                + ("true or false" if isinstance(known[key].default, bool) else "a text in quotes")
            )
    return output


def _nearest(word: str, known: list[str]) -> str:
    found = difflib.get_close_matches(word, known, n=1, cutoff=0.5)
    return f"; nearest is {found[0]!r}" if found else f"; known are {', '.join(known)}"


class _Table(BaseModel):
    model_config = ConfigDict(extra="forbid", strict=True, frozen=True)


class FontTable(_Table):
    """[font]: what the font is and says of itself."""

    family: Annotated[str, AfterValidator(_has_letters)]
    version: Annotated[str, AfterValidator(_version)] = "1.0"
    copyright: str = ""
    licence: str = ""
    licence_url: str = ""
    designer: str = ""
    embedding: Literal["installable", "editable", "preview", "restricted"] = "installable"
    ligatures: bool = False
    units_per_em: Literal["auto"] | Annotated[int, Field(ge=16, le=16384)] = "auto"
    fit: Literal["frame", "square"] = "frame"
    drop: Annotated[float, Field(ge=0, le=0.5)] = 0.125


class IconsTable(_Table):
    """[icons]: where drawings come from."""

    from_: list[str] = Field(alias="from", min_length=1)
    faint: Literal["keep", "drop"] = "keep"
    folders: Literal["ignore", "prefix"] = "ignore"
    licences: Literal["optional", "required"] = "optional"


class ClassesTable(_Table):
    """[classes]: names in stylesheets."""

    prefix: Annotated[str, AfterValidator(_identifier), Field(min_length=1)] = "icon"
    base: Annotated[str, AfterValidator(_identifier)] = ""
    sizes: dict[Annotated[str, AfterValidator(_identifier)], Annotated[str, AfterValidator(_css_value)]] = {}
    colours: dict[Annotated[str, AfterValidator(_identifier)], Annotated[str, AfterValidator(_css_value)]] = {}
    mirrored: list[Annotated[str, Field(min_length=1)]] = []


class PegsTable(_Table):
    """[pegs]: how codepoints are given out."""

    assign: Literal["next", "hashed"] = "next"
    range: Annotated[str | list[str], AfterValidator(_code_ranges)] = "U+E000-U+F8FF"


class OutputTable(_Table):
    """One output of a bundle. to: its path relative to the bundle's folder."""

    kind: Annotated[str, AfterValidator(_known_kind)]
    to: str = ""
    options: dict[str, Any] = {}


class BundleTable(_Table):
    """[bundle.NAME]: one delivery. draft: pack fonts fast rather than small."""

    into: Annotated[str, Field(min_length=1)]
    only: list[Annotated[str, Field(min_length=1)]] = []
    without: list[Annotated[str, Field(min_length=1)]] = []
    fonts: list[Annotated[str, AfterValidator(_known_font)]] = []
    outputs: list[Annotated[OutputTable, BeforeValidator(_output_table), AfterValidator(_known_options)]] = []
    draft: bool = False


class RightsRule(_Table):
    """One of [[rights]]: licence and credit of some drawings."""

    files: Annotated[str, Field(min_length=1)]
    licence: str = ""
    credit: str = ""


class CheckRule(_Table):
    """One of [[checks]]: another level for a finding, for all icons or those that a pattern names, and why."""

    finding: Annotated[str, AfterValidator(_known_finding)]
    level: Literal["silent", "info", "warning", "error"]
    icons: Annotated[str, Field(min_length=1)] = "*"
    reason: Annotated[str, Field(min_length=1)]


class Config(_Table):
    """The whole file."""

    font: FontTable
    icons: IconsTable
    classes: ClassesTable = ClassesTable()
    pegs: PegsTable = PegsTable()
    rights: list[RightsRule] = []
    checks: list[CheckRule] = []
    synonyms: dict[str, list[str]] = {}
    bundle: dict[str, BundleTable] = Field(min_length=1)


_TABLES: dict[str, type[BaseModel]] = {
    "font": FontTable,
    "icons": IconsTable,
    "classes": ClassesTable,
    "pegs": PegsTable,
    "checks": CheckRule,
    "rights": RightsRule,
}


def _known_keys(path: tuple[str, ...]) -> list[str]:
    """Return the keys that may stand beside the one at `path`."""
    model: type[BaseModel] = Config
    if len(path) > 1:
        model = _TABLES.get(path[0], BundleTable if len(path) == 3 else OutputTable)
    return [field.alias or name for name, field in model.model_fields.items()]


def _as_fault(error: ErrorDetails, where: str, lines: dict[tuple[str, ...], int]) -> Diagnostic:
    path = tuple(
        str(part)
        for part in error["loc"]
        if part not in ("int", "literal['auto']", "constrained-int", "str", "list[str]")
    )
    key, given = ".".join(path), error["input"]
    line = line_of(lines, path)
    match error["type"]:
        case "extra_forbidden":
            known = _known_keys(path)
            near = difflib.get_close_matches(path[-1], known, n=1, cutoff=0.5)
            cure = f"did you mean {near[0]!r}?" if near else f"known here: {', '.join(known)}"
            return Diagnostic("config-unknown-key", f"{key}: no such key", cure, where, line)
        case "missing":
            return Diagnostic(
                "config-missing-key",
                f"{key}: is missing",
                f"add {path[-1]} to [{'.'.join(path[:-1])}]" if len(path) > 1 else f"add a [{key}] table",
                where,
                line,
            )
        case "literal_error":
            allowed = re.findall(r"'([^']*)'", error["ctx"]["expected"])
            near = difflib.get_close_matches(str(given), allowed, n=1, cutoff=0.4)
            cure = f"did you mean {near[0]!r}?" if near else f"one of: {', '.join(allowed)}"
            return Diagnostic("config-choice", f"{key}: {given!r} is not possible", cure, where, line)
        case "value_error":
            reason = str(error["ctx"]["error"])
            told, _, cure = reason.partition("; ")
            return Diagnostic("config-value", f"{key}: {told}", cure or f"it is {given!r} now", where, line)
    message = error["msg"].removeprefix("Input ").lower()
    return Diagnostic("config-type", f"{key}: {message}", f"it is {given!r} now", where, line)


def _collect(problem: ValidationError, where: str, text: str) -> list[Diagnostic]:
    lines = key_lines(text)
    faults: list[Diagnostic] = []
    for error in problem.errors(include_url=False):
        fault = _as_fault(error, where, lines)
        twin = [f for f in faults if f.line == fault.line and f.what.split(":")[0] == fault.what.split(":")[0]]
        if not twin:  # a value with alternatives ("auto" or a number) fails once for each
            faults.append(fault)
    return sorted(faults, key=lambda f: f.line or 0)


def validated(values: dict[str, Any], where: str, text: str) -> dict[str, Any]:
    """Return the values of a config with every key present; raise `UsageError` with every fault found.
    where: the file's name; text: its content, for line numbers."""
    try:
        return Config.model_validate(values).model_dump()
    except ValidationError as problem:
        raise UsageError(*_collect(problem, where, text)) from None
