"""Validation and repair of an existing font's tables before they are written again.

Browsers refuse a font with one invalid table. Source: OpenType specification, one check for each table. A check yields
the faults of its table; the first one counts.
"""

from __future__ import annotations

import struct
from collections.abc import Callable, Iterable, Iterator
from typing import Any, NamedTuple

import numpy as np

from oddpeg.font.read.cff import pruned_cff
from oddpeg.font.read.charstrings import check_charstring
from oddpeg.font.read.cmap_check import check_cmap
from oddpeg.font.read.colour_layers import fault_of_paints
from oddpeg.font.read.containers import FontTables, damage
from oddpeg.font.read.glyf import component_records, glyph_count, glyph_data, parse_glyph
from oddpeg.font.read.glyphs import opened
from oddpeg.font.read.kern import fault_of_pairs
from oddpeg.font.read.layout import LAYOUT_TABLES, LAYOUT_VERSIONS, pruned_layout
from oddpeg.font.read.limits import MOST_POINTS
from oddpeg.font.read.subset import STANDARD_NAMES, without_names
from oddpeg.font.write.cmap import cmap_of
from oddpeg.font.write.sfnt import OPENTYPE, TRUETYPE, Tables, ttf

_LONGEST_NAME = 63  # of a glyph
_MAGIC = 0x5F0F3CF5
_EXACT = {"maxp", "COLR", "CPAL", "fvar", "gvar"}  # tables in which a wrong number would not show
_SPARE = ("kern", "gasp", "hdmx", "VDMX", "LTSH", "PCLT", "DSIG", "BASE", "JSTF", "MATH", "meta", "STAT", "MVAR",
          "avar", "fpgm", "prep", "cvt ")  # fmt: skip
Check = Callable[[Tables], Iterator[str]]


class Sound(NamedTuple):
    """A validated font.

    Attributes:
        font: its tables.
        mended: repairs, as texts for the notice.
    """

    font: FontTables
    mended: list[str]


def sound(font: FontTables) -> Sound:
    """Return a font with valid tables: a damaged character map or layout table is rebuilt from its readable entries, a
    damaged optional table is dropped. Raise ValueError where a required table is invalid."""
    _require(font)
    tables = dict(font.tables)
    mended: list[str] = []
    if fault := _fault(check_cmap, tables):
        tables["cmap"] = _new_cmap(font)
        mended.append(f"character map rebuilt, since {fault}")
    if fault := _fault(_post_names, tables):
        tables["post"] = without_names(tables["post"])
        mended.append(f"glyph names dropped, since {fault}")
    if "CFF " in font.suspect:
        tables["CFF "] = pruned_cff(font.sfnt, range(glyph_count(tables)))
        mended.append("CFF rebuilt, since it is damaged")
    if len(control := tables.get("cvt ", b"")) % 2:
        tables["cvt "] = control[:-1]  # glyphs' programs need the others
        mended.append("cvt shortened, since its length is odd")
    unread = _unreadable(tables, (*_PARSED, *LAYOUT_TABLES))
    for tag in sorted((font.suspect | unread.keys()) & {*LAYOUT_TABLES, *_SPARE} & tables.keys()):
        tables[tag] = _rebuilt(font, tag) if tag in LAYOUT_TABLES else b""
        mended.append(f"{tag.strip()} {'rebuilt' if tables[tag] else 'dropped'}, since it is damaged")
    for tag, fault in unread.items():
        if tables[tag] and tag not in LAYOUT_TABLES:
            raise ValueError(f"it is no sound font ({tag.strip()}: {fault})")
    return Sound(font._replace(tables={tag: data for tag, data in tables.items() if data}), mended)


def _require(font: FontTables) -> None:
    """Raise ValueError where a table that cannot be repaired is invalid."""
    for tag, check in _REQUIRED.items():
        if tag in font.tables or tag not in _MAY_MISS:
            with damage():
                if fault := next(check(font.tables), ""):
                    raise ValueError(f"it is no sound font ({tag}: {fault})")
    if inexact := font.suspect & _EXACT:
        raise ValueError(f"it is no sound font ({min(inexact).strip()}: its checksum is wrong)")


def _fault(check: Check, tables: Tables) -> str:
    """Return the first fault of a table; empty for none."""
    try:
        with damage():
            return next(check(tables), "")
    except ValueError:
        return "it ends too early"


def _new_cmap(font: FontTables) -> bytes:
    with opened(font.sfnt, lazy=True) as read:
        count = glyph_count(font.tables)
        pairs = sorted((code, int(read.getGlyphID(name))) for code, name in (read.getBestCmap() or {}).items())
    pairs = [(code, glyph) for code, glyph in pairs if 0 < glyph < count]
    if not pairs:
        raise ValueError("it is no sound font (its character map is damaged)")
    codes, glyphs = (np.array(column, dtype=np.int64) for column in zip(*pairs, strict=True))
    return cmap_of(codes, glyphs)


def _rebuilt(font: FontTables, tag: str) -> bytes:
    """Return a layout table without entries of glyphs that do not exist; b"" where it cannot be parsed."""
    try:
        return pruned_layout(font.sfnt, range(glyph_count(font.tables)), (tag,)).get(tag, b"")
    except ValueError:
        return b""


def _head(tables: Tables) -> Iterator[str]:
    head = tables.get("head", b"")
    if len(head) < 54 or head[:2] != b"\0\1" or struct.unpack(">I", head[12:16])[0] != _MAGIC:
        yield "it is missing or damaged"
        return
    if not 16 <= struct.unpack(">H", head[18:20])[0] <= 16_384:
        yield "its units per em are impossible"
    left, bottom, right, top = struct.unpack(">4h", head[36:44])
    if left > right or bottom > top:
        yield "its box is impossible"
    if struct.unpack(">h", head[50:52])[0] not in (0, 1) or head[52:54] != bytes(2):
        yield "its formats are unknown"


def _maxp(tables: Tables) -> Iterator[str]:
    maxp, count = tables.get("maxp", b""), glyph_count(tables)
    version = maxp[:4]
    if version not in (b"\0\1\0\0", b"\0\0P\0") or (version == b"\0\1\0\0" and len(maxp) < 32):
        yield "its version is unknown"
    if version == b"\0\0P\0" and "glyf" in tables:
        yield "it does not go with glyf"
    if count < 1:
        yield "there are no glyphs"


def _metrics(header: str, metrics: str) -> Check:
    def check(tables: Tables) -> Iterator[str]:
        head, count = tables.get(header, b""), glyph_count(tables)
        if len(head) < 36 or head[:2] != b"\0\1":
            yield "it is missing or damaged"
            return
        style, long = struct.unpack(">2H", head[32:36])
        if style != 0 or not 1 <= long <= count:
            yield "its number of metrics is impossible"
        elif len(tables.get(metrics, b"")) < 4 * long + 2 * (count - long):
            yield f"{metrics} is too short"

    return check


def _glyf(tables: Tables) -> Iterator[str]:
    if "CFF " in tables or "CFF2" in tables:
        return
    if "glyf" not in tables or "loca" not in tables:
        if not {"CBDT", "sbix", "SVG ", "EBDT"} & tables.keys():
            yield "there are no outlines"
        return
    parts: dict[int, list[int]] = {}
    points: dict[int, int] = {}
    rows = glyph_data(tables)
    for number, data in enumerate(rows):
        if not data:
            continue
        glyph = parse_glyph(data)
        left, bottom, right, top = glyph.box
        if len(data) < 10 or struct.unpack(">h", data[:2])[0] < -1 or left > right or bottom > top:
            yield f"glyph {number} is damaged"
            return
        if glyph.contours > 0 and (not len(glyph.ends) or len(np.unique(glyph.ends)) < len(glyph.ends)):
            yield f"the contours of glyph {number} are damaged"
        if glyph.contours < 0:
            parts[number] = [part for part, _ in component_records(glyph.components)]
            if max(parts[number]) >= len(rows):
                yield f"glyph {number} is made of one that is not there"
        elif len(glyph.ends):
            points[number] = int(glyph.ends[-1]) + 1
    if not _count_points(points, parts):
        yield "glyphs are made of each other"
    elif max(points.values(), default=0) > MOST_POINTS:
        yield f"a glyph has more than {MOST_POINTS:,} points"


def _count_points(points: dict[int, int], parts: dict[int, list[int]]) -> bool:
    """Add to the points of simple glyphs those of composite ones; return whether none of these contains itself."""
    left = {number: set(made_of) & parts.keys() for number, made_of in parts.items()}
    while ready := [number for number, made_of in left.items() if not made_of]:
        for number in ready:
            points[number] = sum(points.get(part, 0) for part in parts[number])
            del left[number]
        gone = set(ready)
        left = {number: made_of - gone for number, made_of in left.items()}
    return not left


def _name(tables: Tables) -> Iterator[str]:
    name = tables.get("name", b"")
    form, count, start = struct.unpack(">3H", name[:6])
    if form > 1 or not count or not 6 + 12 * count <= start <= len(name):
        yield "it is damaged"
        return
    places = [struct.unpack(">2H", name[at + 8 : at + 12]) for at in range(6, 6 + 12 * count, 12)]
    if any(start + offset + length > len(name) for length, offset in places):
        yield "a text ends too late"
    if not any(length for length, _ in places):
        yield "there are no texts"


def _post(tables: Tables) -> Iterator[str]:
    post = tables.get("post", b"")
    version = post[:4]
    if len(post) < 32 or version not in (b"\0\1\0\0", b"\0\2\0\0", b"\0\2P\0", b"\0\3\0\0", b"\0\4\0\0"):
        yield "it is missing or damaged"


def _post_names(tables: Tables) -> Iterator[str]:
    post = tables["post"]
    if post[:4] != b"\0\2\0\0":
        return
    (count,) = struct.unpack(">H", post[32:34])
    numbers = np.frombuffer(post[34 : 34 + 2 * count], ">u2")
    names, at = 0, 34 + 2 * count
    while at < len(post):
        name = post[at + 1 : at + 1 + post[at]]
        if not 0 < post[at] <= _LONGEST_NAME or len(name) < post[at] or b"\0" in name:
            yield "one is damaged"
            return
        names, at = names + 1, at + 1 + post[at]
    if count != glyph_count(tables) or len(numbers) < count or (numbers >= STANDARD_NAMES + names).any():
        yield "their number is wrong"


def _os2(tables: Tables) -> Iterator[str]:
    os2 = tables.get("OS/2", b"")
    sizes = {0: 68, 1: 86, 2: 96, 3: 96, 4: 96, 5: 100}
    (version,) = struct.unpack(">H", os2[:2])
    if len(os2) < sizes.get(version, 1 << 20):
        yield "it is damaged"


def _unreadable(tables: Tables, tags: Iterable[str]) -> dict[str, str]:
    """Return the fault of each table that the library cannot parse."""
    faults = {}
    flavour = OPENTYPE if {"CFF ", "CFF2"} & tables.keys() else TRUETYPE
    data = ttf(tables, flavour)
    for tag in tags:
        if tag in tables:
            try:
                with opened(data, lazy=False) as font:
                    _parse(font, tag, glyph_count(tables))
            except ValueError as problem:
                faults[tag] = str(problem).removeprefix("it is no sound font (").removesuffix(")")
    return faults


def _parse(font: Any, tag: str, count: int) -> None:
    """Parse a table, and the outlines in it; raise an error of any kind where it is damaged."""
    from fontTools.pens.basePen import NullPen

    if tag in (*LAYOUT_TABLES, "kern"):
        _refuse_unknown_glyphs(font)
    table = font[tag]
    if tag in LAYOUT_TABLES and table.table.Version not in LAYOUT_VERSIONS:
        raise ValueError("its version is unknown")
    if tag in ("GSUB", "GPOS") and _has_empty_parts(table.table):
        raise ValueError("a coverage or a ligature is empty or of an unknown format")
    if tag == "GDEF" and not _has_sound_classes(font.reader[tag], count):
        raise ValueError("its glyph classes are damaged")
    if tag == "kern" and (fault := fault_of_pairs(font.reader[tag])):
        raise ValueError(fault)
    if tag == "COLR" and (fault := fault_of_paints(table)):
        raise ValueError(fault)
    if tag == "CFF ":
        (top,) = table.cff.topDictIndex
        if len(top.CharStrings.charStringsIndex) != count:
            raise ValueError("its number of glyphs is wrong")
        outlines, pen = font.getGlyphSet(), NullPen()
        for name in font.getGlyphOrder():
            outlines[name].draw(pen)
            check_charstring(top.CharStrings[name], top.GlobalSubrs)


def _has_empty_parts(table: Any) -> bool:
    """Return whether a subtable applies to no glyph, or a ligature has no parts: so the library reads a coverage of an
    unknown format, and counts that are wrong."""
    lookups = table.LookupList.Lookup if table.LookupList else []
    for sub in (getattr(sub, "ExtSubTable", sub) for lookup in lookups for sub in lookup.SubTable):
        if any(one.CompCount == 0 for same in getattr(sub, "ligatures", {}).values() for one in same):
            return True
        for key, value in vars(sub).items():
            coverages = value if isinstance(value, list) else [value]
            if key.endswith("Coverage") and not all(one is None or one.glyphs for one in coverages):
                return True
            if key in ("mapping", "alternates", "ligatures") and not value:
                return True
    return False


def _refuse_unknown_glyphs(font: Any) -> None:
    """Make a font raise ValueError where a table names a glyph that is not there; the library makes up a name."""
    order: list[str] = font.getGlyphOrder()

    def name(number: int) -> str:
        if number >= len(order):
            raise ValueError("it names a glyph that is not there")
        return order[number]

    font.getGlyphName = name
    font.getGlyphNameMany = lambda numbers: [name(number) for number in numbers]


def _has_sound_classes(gdef: bytes, count: int) -> bool:
    """Return whether both class definitions of a GDEF table name glyphs that are there, each once; the library reads
    others, too. count: of glyphs."""
    for at in (4, 10):  # GlyphClassDef, MarkAttachClassDef
        (offset,) = struct.unpack(">H", gdef[at : at + 2])
        if not offset:
            continue
        form, first, size = struct.unpack(">3H", (gdef + bytes(6))[offset : offset + 6])
        if form == 2:
            rows = np.frombuffer(gdef, ">u2", 3 * first, offset + 4).reshape(-1, 3).astype(np.int64)
            ends, starts = rows[:, 1], rows[:, 0]
            if (starts > ends).any() or (starts[1:] <= ends[:-1]).any() or (ends >= count).any():
                return False
        elif form != 1 or first + size > count or offset + 6 + 2 * size > len(gdef):
            return False
    return True


_REQUIRED: dict[str, Check] = {
    "maxp": _maxp,
    "head": _head,
    "hhea": _metrics("hhea", "hmtx"),
    "vhea": _metrics("vhea", "vmtx"),
    "glyf": _glyf,
    "name": _name,
    "post": _post,
    "OS/2": _os2,
}
_MAY_MISS = ("vhea",)
_PARSED = ("CFF ", "COLR", "CPAL", "fvar", "gvar", "avar", "STAT", "HVAR", "kern", "gasp")  # by the library, as a whole
