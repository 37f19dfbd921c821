"""Hashes of an icon set and its parts, by which a build knows what it made before."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass
from functools import cached_property
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from oddpeg.iconset.faces import Face
    from oddpeg.iconset.model import IconSet


@dataclass(frozen=True)
class Hashes:
    """The hashes of an icon set, each made when it is asked for."""

    _set: IconSet

    @cached_property
    def facts(self) -> str:
        """Of the set without the content of its drawings."""
        icon_set = self._set
        faces = [face.design for face in icon_set.faces]
        facts: tuple[object, ...] = (
            icon_set.naming,
            icon_set.classes,
            icon_set.drop,
            icon_set.mirrored,
            icon_set.synonyms,
            icon_set.retired,
            icon_set.findings,
        )
        if icon_set.palettes is not None:
            facts += (icon_set.palettes, sorted(icon_set.face.layers) if icon_set.face else ())
        if len(faces) > 1 or any(face.varies for face in icon_set.faces):
            facts += (icon_set.default, tuple(faces))
        return _hash_of((facts, icon_set.units_per_em, list(map(tuple, icon_set.icons))))

    @cached_property
    def context(self) -> str:
        """Of everything that the text of one icon may depend on in addition to that icon: names of the font, faces,
        palettes, and the names and codepoints of all icons."""
        one = self._set
        faces = [face.design for face in one.faces]
        names = [(icon.name, icon.codepoint, icon.aliases, icon.faces) for icon in one.icons]
        return _hash_of((one.naming, one.classes, one.drop, one.mirrored, one.palettes, one.default, faces, names))

    @cached_property
    def icons(self) -> list[str]:
        """Of each icon: metadata, findings, drawings, outlines, layers."""
        hashes = []
        for icon in self._set.icons:
            facts = (tuple(icon), self._set.findings.get(icon.name))
            total = hashlib.blake2b(repr(facts).encode(), digest_size=16)
            for face in (one for whole in self._set.faces for one in (whole, *whole.parts)):
                _add_glyph(total, face, icon.name)
            for px in (0, *icon.sizes):
                total.update(self._set.drawings.get((icon.name, px), b""))
            hashes.append(total.hexdigest())
        return hashes

    @cached_property
    def drawings(self) -> str:
        """Of drawings and outlines."""
        return _hash_of(([(face.name, face.weight, face.em) for face in self._set.faces], self.icons))


def _hash_of(facts: object) -> str:
    return hashlib.blake2b(repr(facts).encode(), digest_size=16).hexdigest()


def _add_glyph(total: hashlib.blake2b, face: Face, name: str) -> None:
    """Add a face's outline and layers of an icon to a hash."""
    layers = face.layers.get(name, ())
    outlines = [layer.outline for layer in layers]
    if name in face.outlines:
        outlines.append(face.outlines[name])
    sizes = [(len(outline.on), len(outline.ends), outline.advance) for outline in outlines]
    total.update(repr(([layer.fill for layer in layers], sizes)).encode())
    for outline in outlines:
        for array in (outline.xy, outline.on, outline.ends):
            total.update(array.tobytes())
    for master in face.masters.get(name, ()):
        total.update(master.xy.tobytes())
