"""Tables of cubic outlines changed where they stand, of both versions, and damaged in every part."""

from __future__ import annotations

import struct

import pytest

from oddpeg.font.cff import CffNames, empty_charstrings, with_names


def index(*objects: bytes, count_size: int = 2, size: int = 1) -> bytes:
    """An INDEX with offsets of `size` bytes."""
    if not objects:
        return bytes(count_size)
    ends = [1]
    for one in objects:
        ends.append(ends[-1] + len(one))
    head = len(objects).to_bytes(count_size, "big") + bytes([size])
    return head + b"".join(end.to_bytes(size, "big") for end in ends) + b"".join(objects)


def number(value: int) -> bytes:
    """A number that takes five bytes whatever it is."""
    return b"\x1d" + struct.pack(">i", value)


GLYPHS = (b"\x0e", b"\x8b\x8b\x15\x0e", b"\x8c\x8c\x15\x8d\x05\x0e", b"\x8e\x8e\x15\x0e")


def first_version(*glyphs: bytes, size: int = 1, behind: bytes = b"behind") -> tuple[bytes, int]:
    """A CFF table and where its charstrings stand."""
    head, names = b"\1\0\4\1", index(b"Reel")
    at = len(head) + len(names) + len(index(number(0) + b"\x11")) + 2 * len(index())
    top = index(number(at) + b"\x11")
    return head + names + top + index() + index() + index(*glyphs, size=size) + behind, at


def second_version(*glyphs: bytes, size: int = 1) -> tuple[bytes, int]:
    """The same of CFF2."""
    top = number(0) + b"\x11"
    at = 5 + len(top) + 4
    top = number(at) + b"\x11"
    head = b"\2\0\5" + struct.pack(">H", len(top)) + top + index(count_size=4)
    return head + index(*glyphs, count_size=4, size=size) + b"behind", at


@pytest.mark.parametrize("size", [1, 2, 3, 4])
def test_outlines_are_emptied_in_both_versions(size: int) -> None:
    for second, (table, at) in ((False, first_version(*GLYPHS, size=size)), (True, second_version(*GLYPHS, size=size))):
        emptied = empty_charstrings(table, {1, 3}, second)
        blank = b"" if second else b"\x0e"
        wanted = index(blank, GLYPHS[1], blank, GLYPHS[3], count_size=4 if second else 2)
        assert len(emptied) == len(table) and emptied[:at] == table[:at] and emptied.endswith(b"behind")
        assert emptied[at : at + len(wanted)] == wanted and not any(emptied[at + len(wanted) : -6])
        assert empty_charstrings(table, range(4), second)[at:][: len(index(*GLYPHS, count_size=4 if second else 2))]


def test_offsets_are_as_short_as_they_can_be() -> None:
    for length, size in ((250, 1), (251, 1), (252, 2), (253, 2), (254, 2), (65_530, 2), (65_532, 3)):
        glyphs = (b"\x0e", bytes(length) + b"\x0e", bytes(900))
        table, at = first_version(*glyphs, size=4)
        assert empty_charstrings(table, {1}, second=False)[at + 2] == size


def test_a_table_that_is_small_already_stays() -> None:
    table, _ = first_version(b"\x0e", b"", b"")
    assert empty_charstrings(table, set(), second=False) == table
    nothing, _ = first_version()
    assert empty_charstrings(nothing, {0}, second=False) == nothing


DAMAGED = {
    "cut in its header": b"\1\0",
    "cut in its names": first_version(*GLYPHS)[0][:9],
    "cut in its dictionary": first_version(*GLYPHS)[0][:17],
    "without charstrings": b"\1\0\4\1" + index(b"Reel") + index(number(9) + b"\x10") + index() + index(),
    "cut in its charstrings": first_version(*GLYPHS, behind=b"")[0][:-1],
    "offsets of no bytes": first_version(*GLYPHS)[0].replace(index(*GLYPHS)[:3], b"\0\4\0"),
    "offsets of five bytes": first_version(*GLYPHS)[0].replace(index(*GLYPHS)[:3], b"\0\4\5"),
    "offsets that fall": first_version(*GLYPHS)[0].replace(index(*GLYPHS)[:6], b"\0\4\1\1\7\2"),
    "an unfinished word": b"\1\0\4\1" + index(b"Reel") + index(b"\x1c\0") + index() + index(),
    "an unfinished real number": b"\1\0\4\1" + index(b"Reel") + index(b"\x1e\x12\x34") + index() + index(),
}


@pytest.mark.parametrize("what", DAMAGED)
def test_damaged_tables_are_refused(what: str) -> None:
    with pytest.raises(ValueError) as caught:
        empty_charstrings(DAMAGED[what], {0}, second=False)
    assert str(caught.value) == "it is no sound font (its CFF table ends too early)"
    with pytest.raises(ValueError, match="ends too early"):
        empty_charstrings(second_version(*GLYPHS)[0][:4], {0}, second=True)


def named(top: bytes) -> bytes:
    return b"\1\0\4\1" + index(b"Reel") + index(top) + index(b"one", b"two two", b"three") + index()


@pytest.mark.parametrize(
    ("top", "texts"),
    [
        (b"\xf8\x1c\x02\xf8\x1d\x03", (b"one", b"Tackles", b"Tackl")),  # two bytes: 392 and 393
        (number(391) + b"\x02" + number(393) + b"\x03", (b"Tac", b"two two", b"Tackl")),
        (b"\x1c\x01\x88\x03" + b"\x8b\x0c\x07", (b"one", b"Tackle ", b"three")),  # no full name; another operator
        (number(390) + b"\x02" + number(394) + b"\x03", (b"one", b"two two", b"three")),  # strings it does not have
        (b"\xfc\x1c\x02\xfc\x1d\x03", (b"one", b"two two", b"three")),  # numbers below nothing
        (b"\x1e\x2f\x02" + b"\x1e\xa5\x3f\x03" + number(392) + b"\x03", (b"one", b"two two", b"three")),
    ],
)
def test_names_stand_where_the_dictionary_says(top: bytes, texts: tuple[bytes, bytes, bytes]) -> None:
    table = named(top)
    new = with_names(table, CffNames("Tar", "Tackles", "Tackle"))
    wanted = named(top).replace(b"Reel", b"Tar_")
    for old, text in zip((b"one", b"two two", b"three"), texts, strict=True):
        wanted = wanted.replace(old, text[: len(old)])
    assert new == wanted


def test_names_beyond_ascii_are_marked() -> None:
    assert b"T?r_" in with_names(named(b"\x8b\x02"), CffNames("Tär", "", ""))
    for cut in (3, 8, 12, 20):
        with pytest.raises(ValueError, match=r"^it is no sound font \(its CFF table ends too early\)$"):
            with_names(named(number(391) + b"\x02")[:cut], CffNames("a", "b", "c"))
