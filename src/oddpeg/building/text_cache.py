"""Texts of outputs kept from build to build: each is written again only when its inputs have changed."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path

from oddpeg.store.cache import Cache

_WHOLE, _PARTS = "texts", "parts"


class TextCache:
    """Texts by the values that they are made from; `save` keeps the new ones."""

    def __init__(self, root: Path) -> None:
        self._cache = Cache(root)
        self._new: dict[str, dict[bytes, str]] = {_WHOLE: {}, _PARTS: {}}
        self._used: dict[str, set[bytes]] = {_WHOLE: set(), _PARTS: set()}

    def get(self, write: Callable[[], str], *made_from: object) -> str:
        """Return the cached text of values with the same `repr`, otherwise the result of `write`."""
        return self._get(_WHOLE, lambda rows: [write()], made_from, [()])[0]

    def get_all(
        self, write: Callable[[list[int]], list[str]], common: object, made_from: Sequence[object]
    ) -> list[str]:
        """Return one text for each of `made_from`.

        write: called once, with the numbers of the texts that are not kept; common: further inputs of all texts.
        """
        return self._get(_PARTS, write, common, made_from)

    def _get(
        self, space: str, write: Callable[[list[int]], list[str]], common: object, made_from: Sequence[object]
    ) -> list[str]:
        keys = self._cache.keys(space, common, (repr(values).encode() for values in made_from))
        known = {key: data.decode() for key, data in self._cache.get(space, keys).items()}
        known |= {key: self._new[space][key] for key in keys if key in self._new[space]}
        missing = [i for i, key in enumerate(keys) if key not in known]
        written = dict(zip((keys[i] for i in missing), write(missing) if missing else [], strict=True))
        self._new[space] |= written
        self._used[space].update(keys)
        known |= written
        return [known[key] for key in keys]

    def save(self) -> None:
        """Keep the new texts, and release them: those of a large set are tens of megabytes."""
        for space, spare in ((_WHOLE, 20), (_PARTS, 2_000)):
            new, self._new[space] = self._new[space], {}
            if new:
                self._cache.put(space, {key: text.encode() for key, text in new.items()}, self._used[space], spare)
