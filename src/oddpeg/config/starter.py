"""The first config of a folder of icons or of a font."""

from __future__ import annotations

import os
import re
from dataclasses import dataclass
from glob import escape
from pathlib import Path

from oddpeg.config.loading import SCHEMA
from oddpeg.config.platforms import WEB, Found, bundle_for, detect
from oddpeg.diagnostics import Diagnostic, OddPegError, UsageError, counted
from oddpeg.font.write.info import ascii_words
from oddpeg.sources.drawings import find_files, one_for_each_icon
from oddpeg.sources.fonts import open_font

_PASSED_OVER = frozenset(("node_modules", "dist", "build", "target", "vendor", "__pycache__"))

_CALLED_ICONS = frozenset(("icons", "icon", "svg", "svgs", "glyphs", "drawings"))

# what folders of one style are called, and the weight that such a face usually has
_STYLES = {
    "thin": 100, "light": 300, "line": 400, "outline": 400, "regular": 400, "medium": 500, "semibold": 600, "bold": 700,
    "heavy": 800, "filled": 900, "fill": 900, "solid": 900, "black": 900,
}  # fmt: skip

_TEXT = """\
#:schema {schema}
# Odd Peg: icons -> font. Build with: oddpeg build

[font]
family = {family}    # what people type in stylesheets and apps; file names derive from it
version = "1.0"
copyright = ""
licence = ""
descent = "auto"   # share of the em below the baseline: about 1/8, which centres icons on capitals

{drawings}
[classes]
prefix = "{prefix}"    # classes are .{prefix}-NAME, always together with .{prefix}-icon

{bundle}"""


_FACES = """\
# the same icons in several styles: each name has one codepoint in all of them ({count} when this was written)
"""


@dataclass(frozen=True, slots=True)
class Start:
    """A config to be written.

    Attributes:
        root: folder that the config belongs into.
        text: of the file.
        count: drawings it finds.
        patterns: that find the drawings.
        faces: the names of the faces that it has, none where the folders are not called like styles.
        prefixed: folders are parts of names, since files of two folders have the same name.
        project: the project around it, which the bundle fits.
    """

    root: Path
    text: str
    count: int
    patterns: list[str]
    faces: list[str]
    prefixed: bool = False
    project: Found = WEB


def _drawings_by_folder(root: Path) -> dict[str, int]:
    """Return how many .svg files each top-level folder holds in all ("" for the root itself)."""
    counts: dict[str, int] = {}
    for folder, names, files in os.walk(root):
        names[:] = sorted(n for n in names if not n.startswith(".") and n not in _PASSED_OVER)
        drawings = sum(1 for f in files if f.lower().endswith(".svg"))
        if drawings:
            relative = os.path.relpath(folder, root).replace(os.sep, "/")
            counts[relative] = drawings
    return counts


def _without_pictures(counts: dict[str, int]) -> dict[str, int]:
    """Return the folders that are, or lie in, one that is called like icons, where there are any: scaffolds bring
    pictures of their own in others."""
    called = {f: n for f, n in counts.items() if any(part.lower() in _CALLED_ICONS for part in f.split("/"))}
    return called or counts


def _patterns(counts: dict[str, int]) -> list[str]:
    """Return one glob for each top-level folder with drawings, which also finds what will be added: it begins where all
    of its drawings lie, or in a folder above that is called like icons."""
    tops: dict[str, list[list[str]]] = {}
    for folder in sorted(counts):
        if folder != ".":
            tops.setdefault(folder.split("/")[0], []).append(folder.split("/"))
    shared = [_begin(paths) for paths in tops.values()]
    return [*(["*.svg"] if "." in counts else []), *(f"{escape(folder)}/**/*.svg" for folder in shared)]


def _begin(paths: list[list[str]]) -> str:
    """Return the folder that holds some folders."""
    parts = os.path.commonpath(["/".join(path) for path in paths]).replace(os.sep, "/").split("/")
    named = next((number for number, part in enumerate(parts, 1) if part.lower() in _CALLED_ICONS), len(parts))
    return "/".join(parts[:named])


def _faces(counts: dict[str, int]) -> dict[str, list[str]]:
    """Return the globs of each face, lightest first, if every folder with drawings is, or lies in, one that is called
    like a style, and there are at least two styles of different weights; else nothing."""
    globs: dict[str, dict[str, None]] = {}
    for folder in sorted(counts):
        parts = folder.split("/")
        at = next((number for number, part in enumerate(parts) if part.lower() in _STYLES), None)
        if at is None:
            return {}
        glob = escape("/".join(parts[: at + 1])) + "/**/*.svg"
        globs.setdefault(parts[at].lower(), {})[glob] = None
    if len(globs) < 2 or len({_STYLES[name] for name in globs}) < len(globs):
        return {}
    return {name: list(globs[name]) for name in sorted(globs, key=lambda name: _STYLES[name])}


def _prefix(words: list[str]) -> str:
    letters = "".join(w[0] for w in words) if len(words) > 1 else words[0][:2]
    return letters.lower() if letters[:1].isalpha() else "icon"


def _quoted(text: str) -> str:
    return '"' + text.replace("\\", "\\\\").replace('"', '\\"') + '"'


def start_from_font(path: Path, platform: str = "") -> Start:
    """Return a config whose icons come from a font file; raise `OddPegError` where the font cannot be used."""
    font = open_font(str(path), path.name)
    if font.problems:
        raise OddPegError(*font.problems)
    if not font.glyphs:
        message, cure = "has no icons: no glyphs at private codepoints", "`oddpeg inspect` lists its glyphs"
        raise OddPegError(Diagnostic("no-drawings", message, cure, str(path)))
    from oddpeg.font.read.inspection import inspect_font

    family = inspect_font(font.data)[0].family or path.stem
    patterns = [escape(path.name), "icons/**/*.svg"]
    shown = ", ".join(map(_quoted, patterns))
    count = len(font.glyphs)
    comment = f"{counted(count, 'glyph')}; a drawing of the same name takes a glyph's place"
    drawings = f"[icons]\nfrom = [{shown}]    # {comment}\n"
    prefix = _prefix(ascii_words(family) or ["icon"])
    project = Found(platform) if platform else detect(path.parent)
    text = _text(path.parent, family, drawings, prefix, project)
    return Start(path.parent, text, count, patterns, [], project=project)


def _text(root: Path, family: str, drawings: str, prefix: str, project: Found) -> str:
    family = family[:63]
    bundle = bundle_for(project.platform, root, family)
    return _TEXT.format(schema=SCHEMA, family=_quoted(family), drawings=drawings, prefix=prefix, bundle=bundle)


def _clash(root: Path, patterns: list[str]) -> bool:
    """Return whether drawings of two folders would be one icon, and would not if folders were parts of names."""
    plain, prefixed = (
        one_for_each_icon(find_files(root.resolve(), patterns, folders).files.values()).problems
        for folders in ("ignore", "prefix")
    )
    return len(prefixed) < len(plain)


def make_start(root: Path, platform: str = "") -> Start:
    """Return a config for the folder; raise `OddPegError` where it holds no drawing. platform: a name in `PLATFORMS`;
    without one that of the project in the folder."""
    if not root.is_dir():
        cure = "name the folder that holds the icons, or a font file"
        raise UsageError(Diagnostic("not-a-folder", "is not a folder", cure, str(root)))
    counts = _drawings_by_folder(root)
    if root != Path() and "." in counts and root.resolve().name:  # config and outputs do not belong among drawings
        root, name = root.parent if root.name not in ("", "..") else root.resolve().parent, root.resolve().name
        counts = {f"{name}/{folder}".removesuffix("/."): count for folder, count in counts.items()}
    if not counts:
        raise OddPegError(
            Diagnostic(
                "no-drawings",
                "holds no .svg file, here or below",
                "put the drawings in a folder such as icons/ first",
                str(root),
            )
        )
    project = detect(root)
    counts = _without_pictures(counts) if project.file else counts
    project = project._replace(platform=platform, file="") if platform else project
    words = ascii_words(re.sub(r"[-_.]+", " ", project.name or root.resolve().name)) or ["Icons"]
    family = " ".join(w[:1].upper() + w[1:] for w in words)
    if not any(c.isalpha() for c in family):
        family = "Icons " + family
    total, faces = sum(counts.values()), _faces(counts)
    patterns = [pattern for own in faces.values() for pattern in own] or _patterns(counts)
    shown = ", ".join(_quoted(p) for p in patterns)
    drawings = f"[icons]\nfrom = [{shown}]    # {counted(total, 'drawing')} when this was written\n"
    prefixed = not faces and _clash(root, patterns)
    if prefixed:
        drawings += 'folders = "prefix"    # files of two folders have the same name\n'
    if faces:
        drawings = _FACES.format(count=counted(total, "drawing")) + "\n".join(
            f"[face.{name}]\nfrom = [{', '.join(map(_quoted, own))}]\nweight = {_STYLES[name]}\n"
            for name, own in faces.items()
        )
    text = _text(root, family, drawings, _prefix(family.split()), project)
    return Start(root, text, total, patterns, list(faces), prefixed, project)
