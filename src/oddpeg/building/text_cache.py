"""Outputs kept from build to build (`.oddpeg/cache/texts`): a text is written out again only when what it is made
from or this program changed.

A file of one line of JSON (key → length, and a checksum), then all texts. It may be deleted at any time; where it is
damaged it counts as not there.
"""

from __future__ import annotations

import hashlib
import json
from collections.abc import Callable, Iterable, Sequence
from pathlib import Path

from oddpeg.store.code_stamp import code_stamp
from oddpeg.store.state import read_state, write_caches

_NAME = "cache/texts"


def _checksum(pieces: Iterable[bytes]) -> str:
    total = hashlib.blake2b(digest_size=16)
    for piece in pieces:
        total.update(piece)
    return total.hexdigest()


class TextCache:
    """Texts by what they were made from; `save` keeps those that this build asked for, and ends the asking."""

    def __init__(self, root: Path) -> None:
        self._root = root
        self._salt = hashlib.blake2b(code_stamp().encode(), digest_size=16).digest()
        self._known = self._load()
        self._asked: dict[str, str] = {}

    def get(self, write: Callable[[], str], *made_from: object) -> str:
        """Return the text that was made from values with the same `repr`, or what `write` returns."""
        return self.get_all(lambda rows: [write()], made_from, [()])[0]

    def get_all(
        self, write: Callable[[list[int]], list[str]], common: object, made_from: Sequence[object]
    ) -> list[str]:
        """Return one text for each of `made_from`; `write` is called once, with the numbers of those that are not kept.
        common: what all of them are made from besides."""
        salt = hashlib.blake2b(repr(common).encode(), digest_size=16, key=self._salt).digest()
        keys = [hashlib.blake2b(repr(values).encode(), digest_size=16, key=salt).hexdigest() for values in made_from]
        new = [i for i, key in enumerate(keys) if key not in self._asked and key not in self._known]
        written = dict(zip(new, write(new) if new else [], strict=True))
        for i, key in enumerate(keys):
            self._asked[key] = (
                written[i] if i in written else self._asked[key] if key in self._asked else self._known[key]
            )
        return [self._asked[key] for key in keys]

    def save(self) -> None:
        """Keep what was asked for, if it is not what is kept already, and let go of it: of a large set, texts are tens
        of megabytes."""
        asked, self._asked = self._asked, {}
        known, self._known = self._known.keys(), {}
        if asked.keys() == known:
            return
        pieces = [text.encode() for text in asked.values()]
        sizes = dict(zip(asked, map(len, pieces), strict=True))
        head = {"checksum": _checksum(pieces), "texts": sizes}
        pieces.insert(0, json.dumps(head).encode() + b"\n")
        write_caches({_NAME: b"".join(pieces)}, self._root)

    def _load(self) -> dict[str, str]:
        try:
            line, body = (read_state(self._root, _NAME) or b"").split(b"\n", 1)
            head = json.loads(line)
            if head["checksum"] != _checksum([body]):
                return {}
            found, at = {}, 0
            for key, size in head["texts"].items():
                found[key] = body[at : at + size].decode()
                at += size
            return found
        except (ValueError, KeyError, TypeError, AttributeError, RecursionError):
            return {}
