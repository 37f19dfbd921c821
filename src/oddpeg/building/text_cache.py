"""Texts of outputs kept from build to build: each is written again only when its inputs have changed."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path

from oddpeg.store.cache import Cache

_TEXTS = "texts"


class TextCache:
    """Texts by the values that they are made from; `save` keeps the new ones."""

    def __init__(self, root: Path) -> None:
        self._cache = Cache(root)
        self._new: dict[bytes, str] = {}
        self._used: set[bytes] = set()

    def get(self, write: Callable[[], str], *made_from: object) -> str:
        """Return the text that was made from values with the same `repr`, or what `write` returns."""
        return self.get_all(lambda rows: [write()], made_from, [()])[0]

    def get_all(
        self, write: Callable[[list[int]], list[str]], common: object, made_from: Sequence[object]
    ) -> list[str]:
        """Return one text for each of `made_from`.

        write: called once, with the numbers of the texts that are not kept; common: further inputs of all texts.
        """
        keys = self._cache.keys(_TEXTS, common, (repr(values).encode() for values in made_from))
        known = {key: data.decode() for key, data in self._cache.get(_TEXTS, keys).items()}
        known |= {key: self._new[key] for key in keys if key in self._new}
        missing = [i for i, key in enumerate(keys) if key not in known]
        written = dict(zip((keys[i] for i in missing), write(missing) if missing else [], strict=True))
        self._new |= written
        self._used.update(keys)
        known |= written
        return [known[key] for key in keys]

    def save(self) -> None:
        """Keep the new texts, and release them: those of a large set are tens of megabytes."""
        new, self._new = self._new, {}
        if new:
            self._cache.put(_TEXTS, {key: text.encode() for key, text in new.items()}, self._used)
