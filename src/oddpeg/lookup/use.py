"""Lines to paste for an icon, computed without drawings."""

from __future__ import annotations

import posixpath
import re
from dataclasses import replace
from typing import Annotated, NamedTuple

from oddpeg.config.settings import BundleTable
from oddpeg.diagnostics import Diagnostic, OddPegError
from oddpeg.iconset.model import Icon, IconSet
from oddpeg.iconset.search import SearchIndex
from oddpeg.iconset.search import find as search
from oddpeg.outputs.context import FinishedFile
from oddpeg.outputs.kind import plain_snippets
from oddpeg.outputs.registry import KINDS
from oddpeg.project.bundle_views import BundleView, holds, icons_of
from oddpeg.project.snapshot import Snapshot
from oddpeg.reports import Key
from oddpeg.suggestions import nearest

_NODE_RESOLUTION = re.compile(r'"module(?:Resolution)?"\s*:\s*"node(?:16|18|20|next)"', re.I)


class Use(NamedTuple):
    """Lines to paste for an icon."""

    place: Annotated[str, Key("place that they are for")]
    text: Annotated[str, Key("lines to paste")]
    bundle: Annotated[str, Key("bundle whose output they refer to; empty where none is needed")] = ""
    file: Annotated[str, Key("output of that bundle; empty where none is needed")] = ""
    once: Annotated[bool, Key("needed once in each page or program, not for each icon")] = False


class UseReport(NamedTuple):
    """The lines to paste for one icon."""

    icon: Annotated[str, Key("name of the icon")]
    codepoint: Annotated[int, Key("its codepoint")]
    lines: Annotated[list[Use], Key("lines for each place")]


def icon_named(icons: IconSet, name: str) -> Icon:
    """Return an icon by name, alias, codepoint (U+E001) or character; raise `OddPegError` with near names for an
    unknown one."""
    spellings = {s: i for i in icons.icons for s in (*i.names, f"U+{i.hex.upper()}", i.character)}
    icon = spellings.get(name) or spellings.get(name.upper())
    if icon is not None:
        return icon
    near = nearest(name, spellings) or [
        h.icon.name for h in search(SearchIndex.of(icons.icons), name, icons.synonyms)[:3]
    ]
    otherwise = "`oddpeg find` looks by words; a new drawing needs `oddpeg build` first"
    cure = f"did you mean {', '.join(near)}?" if near else otherwise
    raise OddPegError(Diagnostic("unknown-icon", f"there is no icon {name!r}", cure))


def _delivered(snapshot: Snapshot, bundle: BundleTable) -> list[FinishedFile]:
    """Return the files of a bundle with hashes in their names, as they were last delivered."""
    if not bundle.hashed:
        return []
    files = [(output.kind, snapshot.project.output_path(bundle, output)) for output in bundle.outputs]
    plans = snapshot.project.faces_of(bundle)
    files += [(f, snapshot.project.font_path(bundle, f, plan.name)) for f in bundle.fonts for plan in plans]
    deliveries = ((kind, path, snapshot.finished_file(bundle, path)) for kind, path in files)
    return [
        FinishedFile(kind, snapshot.project.relative(p), snapshot.project.relative(real), b"")
        for kind, p, real in deliveries
        if real
    ]


def _seen_from(user: str, file: str) -> str:
    """Return the path of a file relative to the folder of another."""
    return posixpath.relpath(file, posixpath.dirname(user) or ".") if user else file


def _import_ending(snapshot: Snapshot) -> str:
    """Return what imports of TypeScript end in: with Node's resolution they name the compiled file."""
    try:
        text = snapshot.read_input("tsconfig.json").decode("utf-8-sig")
    except (OSError, UnicodeDecodeError):
        return ""
    return ".js" if _NODE_RESOLUTION.search(text) else ""


def uses(snapshot: Snapshot, icons: IconSet, icon: Icon, user: str = "") -> list[Use]:
    """Return all lines to paste for an icon, by bundle, then the ones that need no bundle. user: the file
    that will contain them, relative to the project; their paths are relative to its folder."""
    lines_to_paste: list[Use] = []
    ending = _import_ending(snapshot)
    for name, bundle in snapshot.project.config.bundle.items():
        if not holds(snapshot, bundle, icon):
            continue
        shown = icons_of(snapshot, bundle, icons)
        view, names = BundleView(snapshot, bundle, shown, finished=_delivered(snapshot, bundle)), shown.named(icon.name)
        for output in view.useful():
            context = view.context(output)
            kind = KINDS[output.kind]
            folder, path = posixpath.dirname(user), _seen_from(user, context.file)
            seen = replace(context, file=path, user_folder=folder, import_ending=ending)
            for once, lines in ((True, kind.setup(shown, seen)), (False, kind.snippets(shown, seen, names))):
                lines_to_paste += [Use(line.place, line.text, name, context.file, once) for line in lines]
    return [*lines_to_paste, *(Use(line.place, line.text) for line in plain_snippets(icon))]
