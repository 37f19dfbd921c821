"""Writes the tables of the reference and of the diagnostics, and the schema that is shipped, from the declarations."""

from __future__ import annotations

import json
from collections.abc import Iterator, Mapping
from dataclasses import MISSING, fields
from pathlib import Path
from typing import Any, Literal, get_args, get_origin

from oddpeg.config.keys import key_of_field
from oddpeg.config.loading import SHIPPED_SCHEMA
from oddpeg.config.settings import Config
from oddpeg.config.validation import config_schema, declared, innermost, is_table, rule_of
from oddpeg.diagnostic_codes import FINDING_CODES, PROJECT_CODES, UNUSABLE_CODES, Code
from oddpeg.svg.properties import PROPERTIES, WARNED

DOCS = Path(__file__).parent.parent / "docs"
PAGES = {
    DOCS / "reference.md": ["keys"],
    DOCS / "diagnostics.md": ["findings", "unusable", "project"],
    DOCS / "svg.md": ["properties", "warned"],
}
_REPEATED = {"bundle": "bundle.NAME", "rights": "[[rights]]", "checks": "[[checks]]"}


def keys_table() -> str:
    """Return the Markdown table of every key of `oddpeg.toml`."""
    rows = [f"| `{key}` | {default} | {meaning} |" for key, default, meaning in _keys("", Config)]
    return "\n".join(["| key | default | meaning |", "|---|---|---|", *rows])


def _keys(path: str, table: Any) -> Iterator[tuple[str, str, str]]:
    """Yield (key, default, meaning) of everything in a table, and in the tables within it."""
    for name, annotation in declared(table).items():
        key, inner = key_of_field(name), innermost(annotation)
        place = f"{path}.{key}" if path else _REPEATED.get(key, key)
        if is_table(inner) and name != "outputs":
            yield from _keys(place, inner)
        else:
            yield place, _default(table, name), _meaning(annotation)


def _meaning(annotation: Any) -> str:
    """Return what a key means, and its values where only some are allowed and the text does not name them all."""
    doc, kind = rule_of(annotation).doc, get_args(annotation)[0]
    values = [f"`{value}`" for value in get_args(kind)] if get_origin(kind) is Literal else []
    return doc if all(value in doc for value in values) else f"{doc}: {', '.join(values)}"


def _default(table: Any, name: str) -> str:
    """Return the default of a field, as the reference spells it."""
    declaration = next(field for field in fields(table) if field.name == name)
    if declaration.default is MISSING and declaration.default_factory is MISSING:
        return "required"
    default = declaration.default if declaration.default_factory is MISSING else declaration.default_factory()
    if default in ({}, None):
        return "none"
    text = f'"{default}"' if isinstance(default, str) else str(default).lower()
    return f"`{text}`"


def codes_table(codes: Mapping[str, Code]) -> str:
    """Return the Markdown table of diagnostics."""
    rows = [f"| `{code}` | {known.level.value} | {known.summary} |" for code, known in codes.items()]
    return "\n".join(["| code | level | what it says |", "|---|---|---|", *rows])


def properties_table() -> str:
    """Return the Markdown table of the properties of SVG that are implemented."""
    rows = []
    for name, known in sorted(PROPERTIES.items()):
        grammar = known.syntax.text.replace("|", "\\|")
        inherited = "yes" if known.inherited else ""
        rows.append(f"| `{name}` | `{grammar}` | {inherited} | {known.percentages} | {known.remark} |")
    return "\n".join(["| property | values | inherited | 100 % is | remark |", "|---|---|---|---|---|", *rows])


def warned_table() -> str:
    """Return the Markdown table of the properties of SVG that are ignored with a warning."""
    rows = [
        f"| `{name}` | {', '.join(f'`{value}`' for value in sorted(values))} |"
        for name, values in sorted(WARNED.items())
    ]
    return "\n".join(["| property | no warning for |", "|---|---|", *rows])


def tables() -> dict[str, str]:
    """Return every table, by the name in its marks."""
    lists = {"properties": properties_table(), "warned": warned_table()}
    codes = {"findings": FINDING_CODES, "unusable": UNUSABLE_CODES, "project": PROJECT_CODES}
    return {"keys": keys_table(), **lists, **{name: codes_table(table) for name, table in codes.items()}}


def filled(path: Path) -> str:
    """Return a page of `PAGES` with the current tables between their marks."""
    page, current = path.read_text(encoding="utf-8"), tables()
    for name in PAGES[path]:
        begin, end = f"<!-- {name} -->\n\n", f"\n\n<!-- end of {name} -->"
        if page.count(begin) != 1 or page.count(end) != 1:
            raise ValueError(f"{path.name} does not have the marks of the table {name!r} once")
        page = page[: page.index(begin) + len(begin)] + current[name] + page[page.index(end) :]
    return page


def schema_text() -> str:
    """Return the JSON Schema that is shipped."""
    return json.dumps(config_schema(), indent=1) + "\n"


if __name__ == "__main__":
    for page in PAGES:
        page.write_text(filled(page), encoding="utf-8")
    SHIPPED_SCHEMA.write_text(schema_text(), encoding="utf-8")
