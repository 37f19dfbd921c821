"""The fonts of bundles: one for each selection of icons, in every format that is asked for."""

from __future__ import annotations

import os
from collections.abc import Collection, Mapping, Sequence
from concurrent.futures import Future, ThreadPoolExecutor
from itertools import combinations
from typing import TYPE_CHECKING

from oddpeg.config.settings import BundleTable
from oddpeg.diagnostics import Diagnostic, UsageError
from oddpeg.font.write.axes import BOLD
from oddpeg.font.write.info import FIXED_TIME, FontInfo, Ligature, Link, Style, style_name, variable_family
from oddpeg.iconset.faces import Face, default_face
from oddpeg.iconset.model import IconSet
from oddpeg.outputs.credits import licence_text
from oddpeg.project.bundle_views import FontKey, kind_of, options_of
from oddpeg.project.project import Project

if TYPE_CHECKING:
    from oddpeg.font.write.compile import FontCompiler
    from oddpeg.font.write.glyphset import Glyph
    from oddpeg.font.write.variations import Part


_WEB = {"woff", "woff2"}


def ligatures(icons: IconSet) -> list[Ligature]:
    """Return everything that can be typed to get an icon: a ligature takes at least two letters, of the first plane."""
    pairs = dict.fromkeys(Ligature(name, icon.codepoint) for icon in icons.icons for name in icon.names)
    return [pair for pair in pairs if len(pair.name) > 1 and max(pair.name) <= "\uffff"]


class BundleFonts:
    """The font of one selection of icons, in every format asked for; bundles of the same icons share it."""

    def __init__(self, project: Project, icons: IconSet) -> None:
        """icons: those of the bundle, outlined."""
        self.icons = icons
        self.digest = icons.hashes.facts
        self._project = project
        self._compilers: dict[tuple[str, str], FontCompiler] = {}  # by face and format
        self._pending: dict[FontKey, Future[bytes]] = {}
        self.files: dict[FontKey, bytes] = {}

    def start(self, bundles: Collection[BundleTable], pool: ThreadPoolExecutor) -> None:
        """Begin to write every format that is needed, once each."""
        faces = [face.name for face in self.icons.faces]
        needed = {FontKey(f, b.draft, face) for b in bundles for f in b.fonts for face in faces}
        for bundle in bundles:
            for output in bundle.outputs:
                formats = kind_of(output).embeds(options_of(output))
                needed |= {FontKey(f, bundle.draft, face) for f in formats for face in faces}
        for face in self.icons.faces:
            own = {key.format for key in needed if key.face == face.name}
            for_web = own & _WEB if face.axis else set()
            for some, as_written in ((own - for_web, face), (for_web, with_lightest_default(face))):
                if some:
                    compiler = compiler_of(self._project, self.icons, as_written)
                    self._compilers |= dict.fromkeys(((face.name, one) for one in some), compiler)
        order = sorted(needed, key=lambda key: (key.format != "woff2", key))  # the slowest first
        self._pending = {
            key: pool.submit(self._compilers[key.face, key.format].write, key.format, key.draft) for key in order
        }

    def wait(self) -> None:
        """Have all files ready."""
        self.files = {key: job.result() for key, job in self._pending.items()}


def compiler_of(project: Project, icons: IconSet, face: Face) -> FontCompiler:
    """Return the compiler for the font of a face."""
    from oddpeg.font.write.compile import FontCompiler
    from oddpeg.font.write.variations import Variations

    glyphs = _glyphs(icons, face)
    palettes = icons.palettes if any(glyph.layers for glyph in glyphs.values()) else None
    variations = None
    if face.varies:
        styles = axis_styles(face, icons.faces)
        variations = Variations(face.axis, styles, face.size, face.states, _parts(icons, face, glyphs))
    return FontCompiler(list(glyphs.values()), _font_info(project, icons, face), palettes, variations)


def _glyphs(icons: IconSet, face: Face, ending: str = "") -> dict[int, Glyph]:
    """Return the glyphs of a face by codepoint. ending: of their names, where they are parts of another face."""
    from oddpeg.font.write.glyphset import Glyph

    return {
        icon.codepoint: Glyph.of(
            f"{icon.name}{ending}",
            None if ending else icon.codepoint,
            face.outlines[icon.name],
            face.masters.get(icon.name, ()),
            face.layers.get(icon.name, ()) if icons.palettes is not None else (),
        )
        for icon in icons.icons
        if icon.name in face.outlines
    }


def _parts(icons: IconSet, face: Face, usual: Mapping[int, Glyph]) -> list[Part]:
    """Return the glyphs that take the place of usual ones along the axes. Only the first part that applies is taken, so
    there is one for every combination of states, and of states and sizes; where two states are on, the first one that
    has the icon shows."""
    from oddpeg.font.write.variations import Part

    states = {part.state: _glyphs(icons, part, f".{part.state}") for part in face.parts if part.state}
    sized: dict[int, dict[int, Glyph]] = {0: {}, **_sized_glyphs(icons, face, usual)}
    parts: list[Part] = []
    for count in range(len(states), -1, -1):
        for names in combinations(states, count):
            for px in [*sorted(sized.keys() - {0}), *([0] if names else [])]:
                glyphs = dict(sized[px])
                for name in reversed(names):
                    glyphs |= {code: glyph for code, glyph in states[name].items() if code in usual}
                parts.append(Part(px, names, dict(sorted(glyphs.items()))))
    return [part for part in parts if part.glyphs]


def _sized_glyphs(icons: IconSet, face: Face, usual: Mapping[int, Glyph]) -> dict[int, dict[int, Glyph]]:
    """Return the glyphs that serve each drawn size in place of the usual ones, by codepoint."""
    sized = {part.px: _glyphs(icons, part, f".{part.px}") for part in face.parts if part.px}
    served = {px: {i.codepoint: face.sized_part(i.name, px) for i in icons.icons} for px in sized}
    return {
        px: {code: sized[part.px][code] for code, part in parts.items() if part is not None and code in usual}
        for px, parts in served.items()
    }


def with_lightest_default(face: Face) -> Face:
    """Return a variable face whose default is its lightest weight. It needs one set of deltas in place of two, which
    makes WOFF2 files about a fifth smaller. Browsers choose the weight by the stylesheet."""
    axis = face.axis
    if axis is None or axis.lightest.weight == axis.default or (face.size is not None and face.size.stops):
        return face
    masters = {name: (*those, face.outlines[name])[:2] for name, those in face.masters.items()}  # lightest, heaviest
    return face._replace(
        weight=axis.lightest.weight,
        outlines={**face.outlines, **{name: light for name, (light, _) in masters.items()}},
        masters={name: (heavy,) for name, (_, heavy) in masters.items()},
        axis=axis._replace(default=axis.lightest.weight),
        parts=tuple(with_lightest_default(part) for part in face.parts),
    )


def axis_styles(face: Face, faces: Sequence[Face]) -> list[str]:
    """Return the name of the style at each stop of a variable face: that of the static face it replaces there, as that
    is called among other faces; else that of the weight."""
    axis = face.axis
    if axis is None:
        return ["Regular"]
    has_names = len(faces) > 1 or len(face.stands_for) > 1
    replaced = {weight: style_name(name) for name, weight in face.stands_for} if has_names else {}
    names: list[str] = []
    for stop in axis.stops:
        usual = axis.style(stop.weight)
        free = usual if usual not in replaced.values() else f"Weight {stop.weight}"
        names.append(replaced.get(stop.weight, free))
    return names


def style_of(face: Face, faces: Sequence[Face], default: Face) -> Style:
    """Return the style by which font menus list a face: one family, distinguished by weight. The default face and a
    bold one are linked as regular and bold, which programs with a B button need; any other face has a legacy family
    name of its own."""
    if face.axis is not None:
        styles = dict(zip((stop.weight for stop in face.axis.stops), axis_styles(face, faces), strict=True))
        return Style(styles[face.axis.default])
    if face.varies:
        return Style()
    if len(faces) == 1 and not face.px:
        return Style()
    name = style_name(face.name)
    if face.name == default.name:
        return Style(name)
    return Style(name, Link.BOLD if face.weight == BOLD and default.weight < BOLD else Link.NONE)


def _created() -> int:
    """Return the time that fonts say they were made at, in Unix seconds; raise `UsageError` where the environment names
    none that can be one. Source: the specification of SOURCE_DATE_EPOCH."""
    text = os.environ.get("SOURCE_DATE_EPOCH", "")
    if text and not (text.isascii() and text.isdigit() and len(text) <= 10):
        message, cure = f"SOURCE_DATE_EPOCH is {text[:40]!r}", "set it to a number of seconds since 1970, or unset it"
        raise UsageError(Diagnostic("bad-environment", message, cure))
    return int(text or FIXED_TIME)


def _font_info(project: Project, icons: IconSet, face: Face) -> FontInfo:
    font = project.config.font
    return FontInfo(
        family=variable_family(font.family) if face.varies else font.family,
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
        ligatures=tuple(ligatures(icons.select(face.outlines))) if font.ligatures else (),
        style=style_of(face, icons.faces, default_face(icons.faces, icons.default)),
    )
