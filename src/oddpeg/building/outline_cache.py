"""Outlines kept from build to build (`.oddpeg/cache/outlines`): an icon is worked out again only when its drawing,
the options or this program changed.

One file of blocks, each a line of JSON (sizes and a checksum), an index in JSON, then all points as plain arrays; a
build that changed little only adds a block. It may be deleted at any time; what is damaged counts as not there.
Nothing in it is ever executed.
"""

from __future__ import annotations

import contextlib
import hashlib
import json
import zlib
from collections.abc import Iterable
from itertools import islice
from pathlib import Path
from typing import Any, NamedTuple

import numpy as np

from oddpeg.diagnostics import Diagnostic
from oddpeg.geometry.matrix import Matrix
from oddpeg.geometry.outlines import FlatOutlines, PointArrays
from oddpeg.outline.model import Method, Options, Outline
from oddpeg.outline.pipeline import OutlineResult
from oddpeg.store.code_stamp import code_stamp
from oddpeg.store.state import STATE, read_state, write_caches
from oddpeg.store.tree import Tree
from oddpeg.svg.layers import Fill
from oddpeg.svg.model import Colour, Gradient, Stop

_SPARE = 2  # times as many results as the build has drawings are kept beside its own: for other branches and yesterday
_SPARE_AT_LEAST = 500
_LITTLE = 0.2  # of what is known: less than that is added, more has everything written anew
_NAME = "cache/outlines"
_FORM = 5  # of the rows; blocks of another form count as damaged


class OutlineCache:
    """Results by drawing and options."""

    def __init__(self, root: Path) -> None:
        self._root = root
        self._program = code_stamp()
        self._known: dict[str, _Kept] = {}
        self._sound = 0

    @staticmethod
    def keys(drawings: Iterable[bytes], options: Options) -> list[str]:
        """Return what stands for each drawing under these options."""
        salt = hashlib.blake2b(repr(options).encode(), digest_size=16).digest()
        return [hashlib.blake2b(drawing, digest_size=16, key=salt).hexdigest() for drawing in drawings]

    def load(self) -> None:
        """Learn what is on record."""
        self._known = {}
        data = read_state(self._root, _NAME) or b""
        at = 0
        try:
            while at < len(data):
                block, at = _unpack(data, at, self._program)
                self._known |= block
        except (ValueError, KeyError, TypeError, IndexError, AttributeError, RecursionError):
            pass  # what was read before the damage is sound; the next save writes everything anew
        self._sound = at

    def get(self, key: str) -> OutlineResult | None:
        """Return the result on record, if there is one."""
        kept = self._known.get(key)
        return kept.result() if kept else None

    def save(self, used: dict[str, OutlineResult]) -> None:
        """Keep the results of this build, and as many older ones as there is room for."""
        new = {key: result for key, result in used.items() if key not in self._known}
        if not new:
            return
        spare = max(_SPARE * len(used), _SPARE_AT_LEAST)
        if len(new) < _LITTLE * len(self._known) and len(self._known) + len(new) <= len(used) + spare:
            with contextlib.suppress(OSError):
                Tree(self._root).append(f"{STATE}/{_NAME}", _pack(new, self._program), self._sound)
            return
        older = [k for k in self._known if k not in used][
            -(spare // 2) :
        ]  # the newest; half, so that the next builds only add
        kept = {**used, **{key: self._known[key].result() for key in older}}
        write_caches({_NAME: _pack(kept, self._program)}, self._root)


class _Kept(NamedTuple):
    """One row of a block, and the arrays of its outlines: of the icon, if it has one, and of its layers of colour.
    Results are made of it only when asked for."""

    row: list[Any]
    arrays: list[PointArrays]

    def result(self) -> OutlineResult:
        """Return the result that was kept."""
        _, title, description, found, problem, made, fills = self.row
        pairs = zip(self.arrays, made, strict=True)
        outlines = [Outline(*arrays, advance, cut, Method(how)) for arrays, (advance, cut, how) in pairs]
        diagnostics = [Diagnostic.from_dict(values) for values in found]
        failed = problem and Diagnostic.from_dict(problem)
        bare = OutlineResult(None, diagnostics, failed, title, description)
        return bare.with_outlines(outlines, list(map(_fill, fills)), max(0, len(made) - 1 - len(fills)))


def _fill(values: list[Any]) -> Fill:
    """Return a layer's fill out of plain values."""
    colour, alpha, gradient, matrix = values
    if gradient is not None:
        radial, points, stops, spread, own, by_box = gradient
        stops = tuple(Stop(offset, c and Colour(*c), a) for offset, c, a in stops)
        gradient = Gradient(radial, tuple(points), stops, spread, Matrix(*own), by_box)
    return Fill(colour and Colour(*colour), alpha, gradient, Matrix(*matrix))


def _pack(results: dict[str, OutlineResult], program: str) -> bytes:
    rows = [
        [
            key,
            result.title,
            result.description,
            [d.as_dict() for d in result.diagnostics],
            result.problem.as_dict() if result.problem else None,
            [[outline.advance, outline.cut, outline.made.value] for outline in result.outlines],
            [layer.fill for layer in result.layers],
        ]
        for key, result in results.items()
    ]
    flat = FlatOutlines.join([outline for result in results.values() for outline in result.outlines])
    body = b"".join(
        [
            np.stack([flat.points, flat.contours]).astype("<i4").tobytes(),
            flat.xy.astype("<i4").tobytes(),
            flat.ends.astype("<i4").tobytes(),
            flat.on.astype("u1").tobytes(),
        ]
    )
    index = json.dumps(rows, separators=(",", ":")).encode()
    head = json.dumps(
        {
            "program": program,
            "index": len(index),
            "body": len(body),
            "checksum": zlib.crc32(body, zlib.crc32(index, _FORM)),
        }
    ).encode()
    return head + b"\n" + index + body


def _unpack(data: bytes, at: int, program: str) -> tuple[dict[str, _Kept], int]:
    """Return one block, and where the next begins; raise ValueError and its like where it is damaged or another
    program's."""
    line = data.index(b"\n", at)
    head = json.loads(data[at:line])
    if head["program"] != program:
        raise ValueError("program")
    start, middle = line + 1, line + 1 + int(head["index"])
    end = middle + int(head["body"])
    index, body = data[start:middle], memoryview(data)[middle:end]
    if len(body) != head["body"] or zlib.crc32(body, zlib.crc32(index, _FORM)) != head["checksum"]:
        raise ValueError("checksum")
    rows = json.loads(index)
    outlines = iter(_unpack_outlines(body, sum(len(row[5]) for row in rows)).split())
    return {row[0]: _Kept(row, list(islice(outlines, len(row[5])))) for row in rows}, end


def _unpack_outlines(body: memoryview, count: int) -> FlatOutlines:
    points, contours = np.frombuffer(body, "<i4", 2 * count).astype(np.int64).reshape(2, count)
    n, m, at = int(points.sum()), int(contours.sum()), 8 * count
    return FlatOutlines(
        np.frombuffer(body, "<i4", 2 * n, at).astype(np.int64).reshape(-1, 2),
        np.frombuffer(body, "u1", n, at + 8 * n + 4 * m).astype(bool),
        np.frombuffer(body, "<i4", m, at + 8 * n).astype(np.int64),
        points,
        contours,
    )
