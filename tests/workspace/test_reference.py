"""The documentation is true: its tables are those of the declarations, its links lead somewhere."""

from __future__ import annotations

import json
import re
from pathlib import Path
from typing import Any

import pytest

import output_pages
from oddpeg.cli.commands import GROUPS
from oddpeg.config.loading import SHIPPED_SCHEMA
from oddpeg.outputs.render import filters
from reference_tables import PAGES as TABLES
from reference_tables import filled, schema_text
from support.project import REPOSITORY

PAGES = [REPOSITORY / name for name in ("README.md", "CONTRIBUTING.md", "CHANGELOG.md")]
PAGES += sorted((REPOSITORY / "docs").rglob("*.md"))


def test_the_tables_of_the_reference_are_those_of_the_declarations() -> None:
    pages = {path.name: path.read_text(encoding="utf-8") for path in TABLES}
    assert {path.name: filled(path) for path in TABLES} == pages, "run `make docs`"
    assert "| `font.family` | required |" in pages["reference.md"]
    assert "| `history-unknown` | error |" in pages["diagnostics.md"]


def one_spelling(schema: Any) -> Any:
    """A JSON Schema without the detours that some versions of its maker take, and what the oldest leaves out."""
    if isinstance(schema, list):
        return [one_spelling(part) for part in schema]
    if not isinstance(schema, dict):
        return schema
    found = {key: one_spelling(part) for key, part in schema.items() if key != "propertyNames"}
    if "const" in found:
        found.pop("enum", None)
    only = found.pop("allOf") if len(found.get("allOf", [])) == 1 else [{}]
    return found | only[0]


def test_the_schema_that_is_shipped_is_that_of_the_declarations() -> None:
    shipped, made = json.loads(SHIPPED_SCHEMA.read_bytes()), json.loads(schema_text())
    assert one_spelling(shipped) == one_spelling(made), "run `make docs`"


def test_what_the_page_of_outputs_says_is_what_they_are() -> None:
    page = output_pages.PAGE.read_text(encoding="utf-8")
    assert output_pages.filled(page) == page, "run `make docs`"


def test_every_command_is_in_the_reference_and_the_readme() -> None:
    for page in (REPOSITORY / "docs/reference.md", REPOSITORY / "README.md"):
        text = page.read_text(encoding="utf-8")
        for names in GROUPS.values():
            assert all(f"| `oddpeg {name}" in text for name in names), page


@pytest.mark.parametrize("page", PAGES, ids=lambda page: page.name)
def test_links_between_pages_lead_somewhere(page: Path) -> None:
    text = re.sub(r"(?ms)^```.*?^```|`[^`\n]*`", "", page.read_text(encoding="utf-8"))
    for link in re.findall(r"\]\(([^)#\s]+)(?:#[^)]*)?\)", text):
        assert "://" in link or (page.parent / link).is_file(), link


def test_every_filter_of_templates_is_documented_and_works() -> None:
    page = output_pages.PAGE.read_text(encoding="utf-8")
    part = page.partition("and these filters besides")[2].partition("\n## ")[0]
    rows = [line.split("|")[1] for line in part.splitlines() if line.startswith("| `")]
    assert {name for row in rows for name in re.findall(r"`(\w+)`", row)} == set(filters())
    made = [filters()[name]("3-tide-løw") for name in ("camel", "pascal", "upper_words", "lower_words")]
    assert made == ["_3TideLow", "_3TideLow", "_3_TIDE_LOW", "_3_tide_low"]
