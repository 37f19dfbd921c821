"""A subset of an existing font. Glyph numbers do not change, so layout tables stay valid; unneeded outlines are
emptied.

Source: OpenType specification, cmap, glyf, loca, hmtx, hhea, maxp, OS/2, gvar, post.
"""

from __future__ import annotations

import struct
from collections.abc import Collection

import numpy as np

from oddpeg.font.read.cff import empty_charstrings, pruned_cff
from oddpeg.font.read.closure import glyphs_for
from oddpeg.font.read.colour_layers import pruned_colours
from oddpeg.font.read.containers import FontTables
from oddpeg.font.read.glyf import glyph_count, glyph_data
from oddpeg.font.read.glyphs import opened
from oddpeg.font.read.kern import pairs_of
from oddpeg.font.read.layout import LAYOUT_TABLES, pruned_layout
from oddpeg.font.write.cmap import cmap_of
from oddpeg.font.write.sfnt import Tables
from oddpeg.font.write.tables import unicode_ranges

# layout tables that are copied, never rewritten
_OTHER_LAYOUT = ("JSTF", "kerx", "morx", "mort", "ankr", "feat", "trak", "Feat", "Silf", "Sill", "Glat", "Gloc")
_LAYOUT = (*LAYOUT_TABLES, "BASE", "MATH", "kern", *_OTHER_LAYOUT)
STANDARD_NAMES = 258  # that every reader of `post` knows
_PICTURES = ("SVG ", "CBDT", "CBLC", "sbix", "EBDT", "EBLC", "EBSC")
_DROPPED = ("DSIG", "LTSH", "hdmx", "VDMX", "FFTM", "PfEd", "TeX ", "Zapf", "PCLT", "BDF ", "MATH")
# tables that say something of every glyph by its number, and are not rewritten here
_BY_GLYPH = ("vhea", "vmtx", "VORG", "VVAR", "HVAR", "COLR", "CPAL", *_PICTURES)


def subset(font: FontTables, codes: Collection[int], drop_layout: bool = False) -> FontTables:
    """Return a font with some of its characters, as far as it has them.

    Args:
        codes: the characters.
        drop_layout: without tables of substitution and positioning.

    Raise ValueError where the font is damaged.
    """
    with opened(font.sfnt, lazy=True) as read:
        table = read.getBestCmap() or {}
        shown = {code: int(read.getGlyphID(table[code])) for code in sorted(codes) if code in table}
    kept = glyphs_for(font, shown, layout=not drop_layout)
    tables = {tag: data for tag, data in font.tables.items() if tag not in _DROPPED}
    has_outlines = {"glyf", "CFF ", "CFF2"} & tables.keys()
    if has_outlines:
        tables = {tag: data for tag, data in tables.items() if tag not in _PICTURES}
    count = glyph_count(tables)
    if drop_layout:
        tables = {tag: data for tag, data in tables.items() if tag not in _LAYOUT}
    tables |= _pruned(font, tables, kept)
    if not {*_BY_GLYPH, *_OTHER_LAYOUT} & tables.keys() and "glyf" in tables:
        count = max(kept) + 1  # no table refers to later glyphs
    tables["name"] = _names(tables.get("name", b""))
    tables["cmap"] = cmap_of(np.array([*shown], dtype=np.int64), np.array([*shown.values()], dtype=np.int64))
    _empty(tables, kept, count)
    _metrics(tables, kept, count)
    tables["maxp"] = tables["maxp"][:4] + struct.pack(">H", count) + tables["maxp"][6:]
    if "gvar" in tables:
        tables["gvar"] = _variations(tables["gvar"], kept, count)
    if "post" in tables and count < glyph_count(font.tables):
        tables["post"] = _first_names(tables["post"], count)
    tables["OS/2"] = _coverage(tables.get("OS/2", b""), [*shown])
    left = {tag: data for tag, data in tables.items() if data}
    as_read = {tag for tag, data in left.items() if font.tables.get(tag) == data}
    return font._replace(tables=left, suspect=font.suspect & as_read)


def _pruned(font: FontTables, tables: Tables, kept: Collection[int]) -> Tables:
    """Return the tables of layout, cubic outlines and colours for some glyphs. tables: the tables that stay."""
    pruned: Tables = {}
    if layout := [tag for tag in LAYOUT_TABLES if tag in tables]:
        pruned |= pruned_layout(font.sfnt, kept, layout)
    if "kern" in tables:
        pruned["kern"] = pairs_of(tables["kern"], kept)
    if "CFF " in tables:
        pruned["CFF "] = pruned_cff(font.sfnt, kept)
    if "COLR" in tables:
        pruned["COLR"] = pruned_colours(font.sfnt, kept)
        pruned["CPAL"] = tables.get("CPAL", b"") if pruned["COLR"] else b""
    return pruned


def without_names(post: bytes) -> bytes:
    """Return a `post` table without glyph names, as files for the web have it."""
    return struct.pack(">I", 0x00030000) + post[4:32]


def _first_names(post: bytes, count: int) -> bytes:
    """Return a `post` table for the first glyphs."""
    if len(post) < 34 or post[:4] != struct.pack(">I", 0x00020000):
        return without_names(post)
    (had,) = struct.unpack(">H", post[32:34])
    numbers = np.frombuffer(post[34 : 34 + 2 * min(had, count)], ">u2").tolist()
    names, at = [], 34 + 2 * had
    while at < len(post):
        names.append(post[at : at + 1 + post[at]])
        at += 1 + post[at]
    own = [number for number in numbers if number >= STANDARD_NAMES]
    if len(numbers) < count or any(number - STANDARD_NAMES >= len(names) for number in own):
        return without_names(post)
    places = {number: STANDARD_NAMES + place for place, number in enumerate(dict.fromkeys(own))}
    index = struct.pack(f">{count + 1}H", count, *(places.get(number, number) for number in numbers))
    return post[:32] + index + b"".join(names[number - STANDARD_NAMES] for number in places)


def _empty(tables: Tables, kept: Collection[int], count: int) -> None:
    """Empty the outlines of all glyphs but some."""
    if "CFF2" in tables:
        tables["CFF2"] = empty_charstrings(tables["CFF2"], kept)
    if "glyf" not in tables:
        return
    wanted = set(kept)
    data = [one if number in wanted else b"" for number, one in enumerate(glyph_data(tables)[:count])]
    padded = [one + bytes(-len(one) % 4) for one in data]
    offsets = np.cumsum([0, *map(len, padded)])
    long = int(offsets[-1]) >= 2 * 0x10000
    tables["glyf"] = b"".join(padded) or bytes(1)
    tables["loca"] = offsets.astype(">u4").tobytes() if long else (offsets // 2).astype(">u2").tobytes()
    tables["head"] = tables["head"][:50] + struct.pack(">h", long) + tables["head"][52:]


def _metrics(tables: Tables, kept: Collection[int], count: int) -> None:
    """Set the advances of emptied glyphs to nothing, and write the last one that repeats once."""
    if "hmtx" not in tables or len(tables.get("hhea", b"")) < 36:
        return
    (long,) = struct.unpack(">H", tables["hhea"][34:36])
    if not long or len(tables["hmtx"]) < 4 * long:
        raise ValueError("it is no sound font (hmtx is too short)")
    raw = np.frombuffer(tables["hmtx"][: 4 * long], ">u2").astype(np.int64).reshape(-1, 2)
    more = min(max(0, count - long), (len(tables["hmtx"]) - 4 * long) // 2)  # bearings alone; some fonts lack the last
    rest = np.frombuffer(tables["hmtx"][4 * long :][: 2 * more], ">u2").astype(np.int64)
    advance = np.append(raw[:, 0], np.full(max(0, count - long), raw[-1, 0]))[:count]
    bearing = np.append(raw[:, 1], np.pad(rest, (0, max(0, count - long - more))))[:count]
    drop = np.ones(count, dtype=bool)
    drop[[number for number in kept if number < count]] = False
    advance[drop], bearing[drop] = 0, 0
    differs = np.flatnonzero(advance != advance[-1])
    new = int(differs[-1]) + 2 if len(differs) else 1
    pairs = np.stack([advance[:new], bearing[:new]], axis=1).astype(">u2").tobytes()
    tables["hmtx"] = pairs + bearing[new:].astype(">u2").tobytes()
    tables["hhea"] = tables["hhea"][:34] + struct.pack(">H", new) + tables["hhea"][36:]


def _variations(table: bytes, kept: Collection[int], count: int) -> bytes:
    """Return gvar with the data of some glyphs only."""
    if len(table) < 20:
        raise ValueError("it is no sound font (gvar is too short)")
    had, flags, start = struct.unpack(">2HI", table[12:20])
    size = 4 if flags & 1 else 2
    raw = table[20 : 20 + size * (had + 1)]
    if len(raw) < size * (had + 1):
        raise ValueError("it is no sound font (gvar is too short)")
    offsets = (np.frombuffer(raw, ">u4" if size == 4 else ">u2").astype(np.int64) * (1 if size == 4 else 2)).tolist()
    if start + offsets[-1] > len(table):
        raise ValueError("it is no sound font (gvar is too short)")
    wanted = set(kept)
    data = [table[start + offsets[n] : start + offsets[n + 1]] if n in wanted else b"" for n in range(min(had, count))]
    new = np.cumsum([0, *map(len, data)]).astype(">u4").tobytes()
    (axes, tuples, place) = struct.unpack(">2HI", table[4:12])
    shared = table[place : place + 2 * axes * tuples]
    at = 20 + len(new)
    head = table[:4] + struct.pack(">2HI2HI", axes, tuples, at, len(data), flags | 1, at + len(shared))
    return head + new + shared + b"".join(data)


def _names(table: bytes) -> bytes:
    """Return a name table without texts for the Macintosh that are there for Windows too."""
    if len(table) < 6 or table[:2] != bytes(2):
        return table
    count, start = struct.unpack(">2H", table[2:6])
    records = [struct.unpack(">6H", table[6 + 12 * n : 18 + 12 * n]) for n in range(count)]
    windows = {record[3] for record in records if record[0] == 3}
    left = [record for record in records if record[0] != 1 or record[3] not in windows]
    entries, storage = b"", b""
    for *fields, length, offset in left:
        text = table[start + offset : start + offset + length]
        known = storage.find(text)
        if known < 0:
            known, storage = len(storage), storage + text
        entries += struct.pack(">6H", *fields, len(text), known)
    return struct.pack(">3H", 0, len(left), 6 + len(entries)) + entries + storage


def _coverage(os2: bytes, codes: list[int]) -> bytes:
    """Return OS/2 with the characters that are left."""
    if len(os2) < 68 or not codes:
        return os2
    ranges = struct.pack(">4I", *unicode_ranges(np.array(codes, dtype=np.int64)))
    ends = struct.pack(">2H", min(codes[0], 0xFFFF), min(codes[-1], 0xFFFF))
    return os2[:42] + ranges + os2[58:64] + ends + os2[68:]
