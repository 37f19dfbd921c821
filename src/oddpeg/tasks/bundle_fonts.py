"""The fonts of bundles: one for each selection of icons, in every format that is asked for."""

from __future__ import annotations

import os
from collections.abc import Collection
from concurrent.futures import Future, ThreadPoolExecutor
from typing import TYPE_CHECKING

from oddpeg.diagnostics import Diagnostic, UsageError
from oddpeg.font.info import FIXED_TIME, FontInfo, Ligature
from oddpeg.iconset.model import Face, IconSet
from oddpeg.outputs.credits import licence_text
from oddpeg.tasks.bundle_views import FontKey, kind_of, options_of
from oddpeg.workspace.project import Project
from oddpeg.workspace.settings import BundleTable

if TYPE_CHECKING:
    from oddpeg.font.glyphset import Glyph


def ligatures(icons: IconSet) -> list[Ligature]:
    """Return everything that can be typed to get an icon: a ligature takes at least two letters, of the first plane."""
    pairs = dict.fromkeys(Ligature(name, icon.codepoint) for icon in icons.icons for name in icon.names)
    return [pair for pair in pairs if len(pair.name) > 1 and max(pair.name) <= "\uffff"]


class BundleFonts:
    """The font of one selection of icons, in every format asked for; bundles of the same icons share it."""

    def __init__(self, project: Project, icons: IconSet) -> None:
        """icons: those of the bundle, outlined."""
        from oddpeg.font.compile import FontCompiler

        face = icons.face
        assert face is not None, "fonts are made of outlines"
        self.icons = icons
        self.digest = icons.digest()
        self._compiler = FontCompiler(_glyphs(icons, face), _font_info(project, icons, face))
        self._pending: dict[FontKey, Future[bytes]] = {}
        self.files: dict[FontKey, bytes] = {}

    def start(self, bundles: Collection[BundleTable], pool: ThreadPoolExecutor) -> None:
        """Begin to write every format that is needed, once each."""
        needed = {FontKey(f, b.draft) for b in bundles for f in b.fonts}
        for bundle in bundles:
            for output in bundle.outputs:
                needed |= {FontKey(f, bundle.draft) for f in kind_of(output).embeds(options_of(output))}
        order = sorted(needed, key=lambda key: (key.format != "woff2", key))  # the slowest first
        self._pending = {key: pool.submit(self._compiler.write, *key) for key in order}

    def wait(self) -> None:
        """Have all files ready."""
        self.files = {key: job.result() for key, job in self._pending.items()}


def _glyphs(icons: IconSet, face: Face) -> list[Glyph]:
    from oddpeg.font.glyphset import Glyph

    return [Glyph.of(icon.name, icon.codepoint, face.outlines[icon.name]) for icon in icons.icons]


def _created() -> int:
    """Return the time that fonts say they were made at, in Unix seconds; raise `UsageError` where the environment names
    none that can be one. Source: the specification of SOURCE_DATE_EPOCH."""
    text = os.environ.get("SOURCE_DATE_EPOCH", "")
    if text and not (text.isascii() and text.isdigit() and len(text) <= 10):
        what, cure = f"SOURCE_DATE_EPOCH is {text[:40]!r}", "set it to a number of seconds since 1970, or unset it"
        raise UsageError(Diagnostic("bad-environment", what, cure))
    return int(text or FIXED_TIME)


def _font_info(project: Project, icons: IconSet, face: Face) -> FontInfo:
    font = project.config.font
    return FontInfo(
        family=font.family,
        version=font.version,
        units=face.em.units,
        ascender=face.em.ascender,
        descender=-face.em.depth,
        copyright=font.copyright,
        designer=font.designer,
        licence=licence_text(font.licence, icons.icons),
        licence_url=font.licence_url,
        embedding=font.embedding,
        created=_created(),
        weight=face.weight,
        ligatures=tuple(ligatures(icons)) if font.ligatures else (),
    )
