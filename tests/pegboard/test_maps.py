"""Maps of other makers: tags of icons out of JSON and CSV, and the names that codepoints have."""

from __future__ import annotations

import json

import pytest

from oddpeg.pegboard.maps import map_names, map_tags

ROWS = [
    {"name": "anchor", "codepoint": "e001", "tags": ["Harbour ", "iron", "", 7]},
    {"Name": "buoy", "Hex": "E002", "Tags": "harbour, floats;red,"},
    {"name": "crane", "tags": ["lost"]},
    {"name": "dock", "decimal": 57348, "tags": {"not": "a list"}},
    {"name": "eel", "hex": "0", "codepoint": None, "unicode": "\\e005", "tags": "swims"},
]
WANTED = {"harbour": {0xE001, 0xE002}, "iron": {0xE001}, "floats": {0xE002}, "red": {0xE002}, "swims": {0xE005}}


def test_tags_of_a_map_in_json() -> None:
    assert map_tags(json.dumps(ROWS).encode()) == WANTED
    nested = {"set": {"icons": dict(enumerate(ROWS[:2])), "more": [[ROWS[4]], "text"]}, "version": 2}
    assert map_tags(b"\xef\xbb\xbf \n" + json.dumps(nested).encode()) == WANTED


@pytest.mark.parametrize("separator", [",", ";", "\t"])
def test_tags_of_a_map_in_a_table(separator: str) -> None:
    within = ";" if separator == "," else ","
    rows = [
        ["NAME", "Codepoint", "tags"],
        ["anchor", "U+E001", f" Harbour{within}iron "],
        ["buoy", "e002", f"harbour{within}floats{within}red"],
        ["eel", "0xe005", "swims"],
        ["crane", "none", "lost"],
        ["dock", "e009", ""],
    ]
    text = "\r\n".join(separator.join(row) for row in rows)
    assert map_tags(text.encode()) == WANTED
    assert map_tags(b"\xef\xbb\xbf" + text.encode()) == WANTED


@pytest.mark.parametrize(
    "data", [b"\xff\xfe", b"{", b"[" * 100_000, b"", b"name,code\n" + b'a,"' + b"x" * 200_000, b"\0\1\0\0"]
)
def test_what_holds_no_tags(data: bytes) -> None:
    assert map_tags(data) == {}


def test_each_codepoint_has_its_first_name() -> None:
    data = b'[{"code": "e001", "name": "buoy"}, {"code": "e001", "name": "anchor"}, {"code": "e002"}]'
    assert map_names(data, "map.json") == {0xE001: "anchor"}
