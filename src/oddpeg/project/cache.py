"""Outlines kept from build to build (`.oddpeg/cache/outlines`): an icon is worked out again only when its drawing, the
options or this program changed.

One file: a line of JSON (an index and a checksum), then all points as plain arrays. It may be deleted at any time; a
damaged one counts as none. Nothing in it is ever executed. Knows: results and how to write them down. Does not know:
drawings, fonts.
"""

from __future__ import annotations

import hashlib
import json
import zlib
from dataclasses import asdict
from pathlib import Path

import numpy as np

from oddpeg import __version__
from oddpeg.drawing.model import Note
from oddpeg.journey import Result
from oddpeg.outline.model import Made, Options, Outline
from oddpeg.project.transaction import STATE, write_files

_MOST = 24_000  # icons kept; the ones used last stay
_ROOMS = ("drawing", "outline", "journey.py")


def _program() -> str:
    """Return what stands for the code that makes outlines."""
    home = Path(__file__).parent.parent
    files = sorted(f for room in _ROOMS for f in ([home / room] if room.endswith(".py") else (home / room).glob("*.py")))
    return repr((__version__, [(f.name, f.stat().st_size, f.stat().st_mtime_ns) for f in files]))


class Cache:
    """Results by drawing, for one set of options."""

    def __init__(self, root: Path, options: Options) -> None:
        self._root = root
        self._path = root / STATE / "cache" / "outlines"
        self._salt = hashlib.blake2b(f"{options!r}{_program()}".encode(), digest_size=16).digest()
        self._known: dict[str, Result] = {}
        self._fresh = False

    def key(self, drawing: bytes) -> str:
        """Return what stands for a drawing under these options."""
        return hashlib.blake2b(drawing, digest_size=16, key=self._salt).hexdigest()

    def load(self) -> dict[str, Result]:
        """Return every result on record, the ones used last first."""
        try:
            self._known = _unpack(self._path.read_bytes())
        except (OSError, ValueError, KeyError, TypeError, IndexError, zlib.error):
            self._known = {}
        return self._known

    def save(self, used: dict[str, Result]) -> None:
        """Keep the results of this build, and as many older ones as there is room for."""
        if used.keys() <= self._known.keys():
            return
        kept = {**used, **{k: r for k, r in self._known.items() if k not in used}}
        kept = dict(list(kept.items())[: max(_MOST, len(used))])
        write_files({self._path: _pack(kept)}, self._root)


def _pack(results: dict[str, Result]) -> bytes:
    rows, outlines = [], []
    for key, result in results.items():
        outline = result.outline
        rows.append([
            key, result.title, [list(asdict(n).values()) for n in result.notes],
            list(asdict(result.problem).values()) if result.problem else None,
            [len(outline.on), len(outline.ends), outline.advance, outline.cut, outline.made.value] if outline else None,
        ])  # fmt: skip
        if outline:
            outlines.append(outline)
    none = np.zeros(0, dtype=np.int32)
    body = b"".join([
        np.concatenate([none, *(o.xy.ravel() for o in outlines)]).astype("<i4").tobytes(),
        np.concatenate([none, *(o.ends for o in outlines)]).astype("<i4").tobytes(),
        np.concatenate([none, *(o.on for o in outlines)]).astype("u1").tobytes(),
    ])  # fmt: skip
    index = json.dumps(rows, separators=(",", ":")).encode()
    head = json.dumps({"index": len(index), "checksum": zlib.crc32(body, zlib.crc32(index))}).encode()
    return head + b"\n" + index + body


def _unpack(data: bytes) -> dict[str, Result]:
    """Raise ValueError and its like where the data is damaged."""
    line = data.index(b"\n")
    head = json.loads(data[:line])
    index, body = data[line + 1 : line + 1 + head["index"]], memoryview(data)[line + 1 + head["index"] :]
    if zlib.crc32(body, zlib.crc32(index)) != head["checksum"]:
        raise ValueError("checksum")
    rows = json.loads(index)
    shapes = [row[4] for row in rows if row[4]]
    points, contours = sum(s[0] for s in shapes), sum(s[1] for s in shapes)
    xy = np.frombuffer(body, "<i4", 2 * points).astype(np.int64).reshape(-1, 2)
    ends = np.frombuffer(body, "<i4", contours, 8 * points).astype(np.int64)
    on = np.frombuffer(body, "u1", points, 8 * points + 4 * contours).astype(bool)
    results: dict[str, Result] = {}
    p = e = 0
    for key, title, notes, problem, shape in rows:
        outline = None
        if shape:
            n, m, advance, cut, made = shape
            outline = Outline(xy[p : p + n], on[p : p + n], ends[e : e + m], advance, cut, Made(made))
            p, e = p + n, e + m
        results[key] = Result(outline, [Note(*n) for n in notes], Note(*problem) if problem else None, title)
    return results
