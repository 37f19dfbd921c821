"""CFF tables changed: unneeded outlines and subroutines emptied, names replaced.

Source: Technical Notes 5176 (CFF) and 5177; OpenType, CFF2.

The library serialises CFF. In CFF2, and for names, offsets stay the same; freed bytes are filled with zeros, which
compress well.
"""

from __future__ import annotations

import re
import struct
from collections.abc import Collection
from itertools import pairwise
from typing import Any, NamedTuple

from oddpeg.font.read.glyphs import opened

_CHARSTRINGS = 17  # operator of Top DICT
_FULL_NAME, _FAMILY_NAME = 2, 3
_STANDARD_STRINGS = 391  # that every reader knows; numbers of the table's own begin after them
_UNUSUAL = re.compile(r"[^!-~]|[\[\](){}<>/%]")  # in a PostScript name
_ENDCHAR, _RETURN = b"\x0e", b"\x0b"


class _Index(NamedTuple):
    """An INDEX: where its objects lie, and where it ends."""

    edges: list[int]
    end: int
    count_size: int

    @property
    def objects(self) -> int:
        """How many there are."""
        return max(0, len(self.edges) - 1)


def empty_charstrings(table: bytes, kept: Collection[int]) -> bytes:
    """Return a CFF2 table in which all glyphs but some draw nothing. Raise ValueError where it is damaged."""
    try:
        at = _charstrings_at(table)
        index = _index(table, at, 4)
    except (struct.error, IndexError):
        raise ValueError("it is no sound font (its CFF2 table ends too early)") from None
    wanted = set(kept)
    objects = [table[index.edges[n] : index.edges[n + 1]] if n in wanted else b"" for n in range(index.objects)]
    new = _write_index(objects, index.count_size)
    if len(new) > index.end - at:
        return table  # so small already that nothing is gained
    return table[:at] + new + bytes(index.end - at - len(new)) + table[index.end :]


def pruned_cff(sfnt: bytes, kept: Collection[int]) -> bytes:
    """Return the CFF table of a font in which all glyphs but some draw nothing, and so do subroutines that none of
    those calls. Numbers of glyphs and subroutines stay. Raise ValueError where it is damaged."""
    with opened(sfnt, lazy=True) as font:
        font.recalcBBoxes = False
        names = font["CFF "].cff.fontNames
        names[:] = [_UNUSUAL.sub("", name)[:63] or "Font" for name in names]
        (top,) = font["CFF "].cff.topDictIndex
        strings, shared = top.CharStrings, font["CFF "].cff.GlobalSubrs
        called: dict[int, set[int]] = {id(shared): set()}
        own: dict[int, Any] = {id(shared): shared}
        for private in [d.Private for d in top.FDArray] if hasattr(top, "FDArray") else [top.Private]:
            if hasattr(private, "Subrs"):
                own[id(private.Subrs)], called[id(private.Subrs)] = private.Subrs, set()
        wanted = set(kept)
        for number, name in enumerate(font.getGlyphOrder()):
            glyph = strings[name]
            if number in wanted:
                _mark_called(glyph, shared, called)
            else:
                glyph.setBytecode(_ENDCHAR)
        for key, subroutines in own.items():
            for number in range(len(subroutines)):
                if number not in called[key]:
                    subroutines[number].setBytecode(_RETURN)
        return bytes(font["CFF "].compile(font))


def _mark_called(glyph: Any, shared: Any, called: dict[int, set[int]]) -> None:
    """Note the subroutines that a glyph calls, by the identity of their list."""
    from fontTools.misc.psCharStrings import SimpleT2Decompiler

    local = getattr(glyph.private, "Subrs", [])

    class Caller(SimpleT2Decompiler):  # type: ignore[misc]  # fontTools has no types
        """Executes a glyph; its method names are those of the operators."""

        def op_callsubr(self, index: int) -> None:
            called[id(local)].add(self.operandStack[-1] + self.localBias)
            super().op_callsubr(index)

        def op_callgsubr(self, index: int) -> None:
            called[id(shared)].add(self.operandStack[-1] + self.globalBias)
            super().op_callgsubr(index)

    Caller(local, shared, glyph.private).execute(glyph)


class CffNames(NamedTuple):
    """The names of a font in its CFF table: PostScript name, full name and family."""

    postscript: str
    full: str
    family: str


def with_names(table: bytes, names: CffNames) -> bytes:
    """Return a CFF table (not CFF2, which has no names) with other names, cut or filled up to the length of the old
    ones: programs show those of the name table. Raise ValueError where it is damaged."""
    try:
        names_index = _index(table, table[2], 2)
        tops = _index(table, names_index.end, 2)
        strings = _index(table, tops.end, 2)
        top = table[tops.edges[0] : tops.edges[1]]
        places = [(names_index, 0, names.postscript, b"_")]
        for operator, text in ((_FULL_NAME, names.full), (_FAMILY_NAME, names.family)):
            number = _string_number(top, operator)
            if 0 <= number < strings.objects:
                places.append((strings, number, text, b" "))
        for index, number, text, filler in places:
            start, end = index.edges[number], index.edges[number + 1]
            table = (
                table[:start] + text.encode("ascii", "replace")[: end - start].ljust(end - start, filler) + table[end:]
            )
        return table
    except (struct.error, IndexError):
        raise ValueError("it is no sound font (its CFF table ends too early)") from None


def _string_number(top: bytes, operator: int) -> int:
    """Return which of the table's own strings an operator of the Top DICT names; -1 where it names none."""
    try:
        return _operand(top, operator) - _STANDARD_STRINGS
    except IndexError:
        return -1


def _charstrings_at(table: bytes) -> int:
    header = table[2]
    (length,) = struct.unpack(">H", table[3:5])
    return _operand(table[header : header + length], _CHARSTRINGS)


def _index(table: bytes, at: int, count_size: int) -> _Index:
    count = int.from_bytes(table[at : at + count_size], "big")
    if count == 0:
        return _Index([], at + count_size, count_size)
    size = table[at + count_size]
    if not 1 <= size <= 4:
        raise IndexError
    first = at + count_size + 1
    base = first + size * (count + 1) - 1
    if base > len(table):
        raise IndexError
    edges = [base + int.from_bytes(table[first + size * n : first + size * (n + 1)], "big") for n in range(count + 1)]
    if edges[-1] > len(table) or any(low > high for low, high in pairwise(edges)):
        raise IndexError
    return _Index(edges, edges[-1], count_size)


def _write_index(objects: list[bytes], count_size: int) -> bytes:
    offsets = [1]
    for item in objects:
        offsets.append(offsets[-1] + len(item))
    size = max(1, (offsets[-1].bit_length() + 7) // 8)
    head = len(objects).to_bytes(count_size, "big") + bytes([size])
    return head + b"".join(offset.to_bytes(size, "big") for offset in offsets) + b"".join(objects)


def _operand(data: bytes, wanted: int) -> int:
    """Return the last number before an operator of a DICT; raise IndexError where it is not there."""
    at, last = 0, 0
    while at < len(data):
        first = data[at]
        at += 1
        if first <= 21:
            if first == 12:
                at += 1
            elif first == wanted:
                return last
        elif first == 28:
            (last,) = struct.unpack(">h", data[at : at + 2])
            at += 2
        elif first == 29:
            (last,) = struct.unpack(">i", data[at : at + 4])
            at += 4
        elif first == 30:
            while data[at] & 0xF != 0xF and data[at] >> 4 != 0xF:
                at += 1
            at += 1
        elif first <= 246:
            last = first - 139
        elif first <= 250:
            last, at = (first - 247) * 256 + data[at] + 108, at + 1
        else:
            last, at = -(first - 251) * 256 - data[at] - 108, at + 1
    raise IndexError
