"""Codepoints from existing files: a font, an SVG font, a JSON or CSV map → names and codepoints.

Fonts are read with fontTools.
"""

from __future__ import annotations

import csv
import io
import json
import re
from collections import Counter
from typing import Any

from oddpeg.diagnostics import Diagnostic, OddPegError
from oddpeg.font.read.glyphs import glyph_names, is_font

_SPELLINGS = (
    (re.compile(r"(?:U\+|\\u\{?|\\U|0x|\\)\s*([0-9A-F]{1,8})\}?;?\s*", re.I), 16),
    (re.compile(r"&#x([0-9A-F]{1,6});?", re.I), 16),
    (re.compile(r"&#(\d{1,7});?"), 10),
    (re.compile(r"(\d{3,7})"), 10),
    (re.compile(r"([0-9A-F]{4,6})", re.I), 16),
)
_CODE_KEYS = ("codepoint", "code", "unicode", "hex", "decimal", "character", "char", "value")
_NAME_KEYS = ("name", "icon", "glyph", "id", "key", "title", "css")

Found = list[tuple[str, int]]


def parse_codepoint(value: object) -> int | None:
    """Return a codepoint spelled as a number, U+E001, 0xe001, \\e001, &#xe001;, e001 or as the character itself."""
    if isinstance(value, bool):
        return None
    if isinstance(value, int):
        return value if 0 <= value <= 0x10FFFF else None
    if not isinstance(value, str):
        return None
    text = value.strip().strip("\"'")
    if len(text) == 1 and not text.isdigit():
        return ord(text)
    for pattern, base in _SPELLINGS:
        if match := pattern.fullmatch(text):
            code = int(match[1], base)
            return code if code <= 0x10FFFF else None
    return None


def read_names(data: bytes, where: str) -> Found:
    """Return (name, codepoint) of everything in a file, in codepoint order; name "" where it tells none. where: the
    file, as messages show it. Raise `OddPegError` where the file is not of a kind that can be read."""
    try:
        if is_font(data):
            pairs = _without_suffixes([(name, code) for code, name in glyph_names(data)])
        elif data.lstrip(b"\xef\xbb\xbf \t\r\n")[:1] == b"<":
            pairs = _svg_font(data)
        elif data.lstrip(b"\xef\xbb\xbf \t\r\n")[:1] in (b"{", b"["):
            pairs = _json(json.loads(data.decode("utf-8-sig")))
        else:
            pairs = _csv(data.decode("utf-8-sig"))
    except (ValueError, KeyError, SyntaxError, RecursionError, csv.Error) as problem:
        why = "it is nested too deeply" if isinstance(problem, RecursionError) else str(problem)
        raise OddPegError(
            Diagnostic(
                "map-unreadable",
                f"cannot be understood: {why}",
                "give a TTF, OTF, WOFF or WOFF2 font, an SVG font, or a JSON or CSV map",
                where,
            )
        ) from None
    if not pairs:
        raise OddPegError(
            Diagnostic(
                "map-empty",
                "holds no names with codepoints",
                "give a TTF, OTF, WOFF or WOFF2 font, an SVG font, or a JSON or CSV map of name to codepoint",
                where,
            )
        )
    return sorted(set(pairs), key=lambda pair: (pair[1], pair[0]))


def _without_suffixes(pairs: Found) -> Found:
    """Return glyph names without their suffix, as in "space.2", where no other glyph has the name. What follows a full
    stop is no part of a name (Adobe Glyph List 1.7 §2); our own fonts add a number to a name that is taken."""
    count = Counter(name.partition(".")[0] for name, _ in pairs)
    plain = ((name.partition(".")[0], name, code) for name, code in pairs)
    return [(base if base and count[base] == 1 else name, code) for base, name, code in plain]


def map_names(data: bytes, where: str) -> dict[int, str]:
    """Return the first name of each codepoint in a file; see `read_names`."""
    names: dict[int, str] = {}
    for name, code in read_names(data, where):
        if name:
            names.setdefault(code, name)
    return names


def map_tags(data: bytes) -> dict[str, set[int]]:
    """Return the codepoints of every tag in a map: of lists under "tags" in JSON, of a column "tags" in CSV; nothing in
    files of other kinds."""
    by_tag: dict[str, set[int]] = {}
    for row in _rows(data):
        low = {str(k).lower(): v for k, v in row.items()}
        code = next((c for k in _CODE_KEYS if (c := _bare(low.get(k), k)) is not None), None)
        tags = low.get("tags")
        words = re.split(r"[;,]", tags) if isinstance(tags, str) else tags if isinstance(tags, list) else []
        for word in words if code is not None else ():
            if isinstance(word, str) and word.strip() and code is not None:
                by_tag.setdefault(word.strip().lower(), set()).add(code)
    return by_tag


def _rows(data: bytes) -> list[dict[str, Any]]:
    """Return the records of a map, at any depth; none where it cannot be read as one."""
    try:
        text = data.decode("utf-8-sig")
        if text.lstrip()[:1] not in ("{", "["):
            separator = max(",;\t", key=text[:4000].count)
            return list(csv.DictReader(io.StringIO(text, newline=None), delimiter=separator))
        waiting, records = [json.loads(text)], []
        while waiting:
            value = waiting.pop()
            if isinstance(value, dict):
                records.append(value)
            waiting += value.values() if isinstance(value, dict) else value if isinstance(value, list) else []
        return records
    except (ValueError, RecursionError, csv.Error):
        return []


def _svg_font(data: bytes) -> Found:
    from lxml import etree

    parser = etree.XMLParser(resolve_entities=False, no_network=True, load_dtd=False, huge_tree=False)
    try:
        root = etree.fromstring(data, parser)
    except etree.XMLSyntaxError as problem:
        raise ValueError(str(problem)) from None
    glyphs = [e for e in root.iter() if isinstance(e.tag, str) and etree.QName(e).localname == "glyph"]
    return [
        (e.get("glyph-name") or "", ord(e.get("unicode") or "")) for e in glyphs if len(e.get("unicode") or "") == 1
    ]


def _json(value: Any) -> Found:
    """Return the pairs of the first map or list, at any depth, that holds names with codepoints."""
    if isinstance(value, dict):
        pairs = [(str(k), parse_codepoint(v)) for k, v in value.items()]
        good = [(k, c) for k, c in pairs if c is not None]
        if good and len(good) >= 0.9 * len(pairs) and not any(k in _CODE_KEYS or k == "units_per_em" for k, _ in good):
            return good
        rows = [({"name": k, **v}) for k, v in value.items() if isinstance(v, dict)]
        return _records(rows) or _first(value.values())
    if isinstance(value, list):
        return _records([v for v in value if isinstance(v, dict)]) or _first(value)
    return []


def _first(values: Any) -> Found:
    return next((pairs for v in values if isinstance(v, dict | list) and (pairs := _json(v))), [])


def _records(rows: list[dict[str, Any]]) -> Found:
    pairs: Found = []
    for row in rows:
        low = {str(k).lower(): v for k, v in row.items()}
        name = next((low[k] for k in _NAME_KEYS if isinstance(low.get(k), str)), "")
        code = next((c for k in _CODE_KEYS if (c := _bare(low.get(k), k)) is not None), None)
        if code is not None:
            pairs.append((name, code))
    return pairs


def _bare(value: object, key: str) -> int | None:
    """Return a codepoint; under "hex" digits alone are hexadecimal."""
    if key == "hex" and isinstance(value, str) and re.fullmatch(r"[0-9A-Fa-f]{2,6}", value):
        return int(value, 16)
    return parse_codepoint(value)


def _csv(text: str) -> Found:
    pairs: Found = []
    sample = text[:4000]
    separator = max(",;\t", key=sample.count)
    for row in csv.reader(io.StringIO(text, newline=None), delimiter=separator):
        cells = [cell.strip() for cell in row]
        codes = [(i, c) for i, cell in enumerate(cells) if (c := parse_codepoint(cell)) is not None]
        names = [cell for i, cell in enumerate(cells) if cell and all(i != k for k, _ in codes)]
        if codes and names:
            pairs.append((names[0], codes[0][1]))
    return pairs
