"""The icons that a bundle holds, and the files around each of its outputs."""

from __future__ import annotations

import os
from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace
from functools import cache
from pathlib import Path
from typing import NamedTuple

from oddpeg.config.faces import FacePlan
from oddpeg.config.settings import BundleTable, OutputTable
from oddpeg.diagnostics import Diagnostic, OddPegError
from oddpeg.font.write.info import variable_family
from oddpeg.iconset.model import Icon, IconSet
from oddpeg.iconset.selection import selects
from oddpeg.outputs.context import FaceFiles, FinishedFile, Neighbour, OutputContext, Snippet
from oddpeg.outputs.escape import url_path
from oddpeg.outputs.kind import OptionValue, OutputKind, no_setup, no_snippets, plain_snippets
from oddpeg.outputs.registry import KINDS
from oddpeg.project.snapshot import Snapshot

_OFFER = ("woff2", "woff", "ttf", "eot", "svg")  # smallest first: browsers take the first they know; legacy last


class FontKey(NamedTuple):
    """One file of a font.

    Attributes:
        format: as the config has it.
        draft: packed fast rather than small.
        face: its name.
    """

    format: str
    draft: bool
    face: str


def holds(snapshot: Snapshot, bundle: BundleTable, icon: Icon) -> bool:
    """Return whether a bundle holds an icon. A bundle of used icons holds all of them until usage was looked up."""
    if icon.faces and bundle.faces and not set(icon.faces) & set(bundle.faces):
        return False
    if bundle.only == "used":
        return (snapshot.used is None or icon.name in snapshot.used) and selects(icon, [], bundle.without)
    return selects(icon, bundle.only, bundle.without)


def icons_of(snapshot: Snapshot, bundle: BundleTable, icons: IconSet) -> IconSet:
    """Return icons in the faces that a bundle holds."""
    plans = snapshot.project.faces_of(bundle)
    faces = [plan.name for plan in plans]
    states = tuple(state.name for plan in plans for state in plan.states)
    drawn = icons.classes.drawn if any(plan.size for plan in plans) else ()
    icons = replace(icons, classes=icons.classes._replace(states=states, drawn=drawn))
    default = snapshot.project.default_face(bundle)
    if default.varies:
        icons = replace(icons, naming=icons.naming._replace(font_family=variable_family(icons.family)))
    return icons.select_faces(faces, default.name)


def kind_of(output: OutputTable) -> OutputKind:
    """Return the kind that an output is of."""
    return KINDS[output.kind]


def options_of(output: OutputTable) -> dict[str, OptionValue]:
    """Return an output's options: the values in the config, otherwise the kind's defaults."""
    return kind_of(output).options_with_defaults(output.options)


class BundleView(NamedTuple):
    """A bundle as its outputs see it.

    Attributes:
        snapshot: the files of its project.
        bundle: its table in the config.
        icons: its icons.
        files: its fonts that are packed already.
        finished: its files that are written; paths are relative to the project.
    """

    snapshot: Snapshot
    bundle: BundleTable
    icons: IconSet
    files: Mapping[FontKey, bytes] = {}
    finished: Sequence[FinishedFile] = ()

    def path_of(self, output: OutputTable) -> Path:
        """Return where an output goes."""
        return self.snapshot.project.output_path(self.bundle, output)

    def context(self, output: OutputTable) -> OutputContext:
        """Return the context of an output."""
        snapshot, bundle, place = self.snapshot, self.bundle, self.path_of(output)
        faces = [self._face_files(plan, place) for plan in snapshot.project.faces_of(bundle)]
        shown = snapshot.project.default_face(bundle)
        first = next(face for face in faces if face.name == shown.name)
        real = self._real_paths()
        ttf = snapshot.project.font_path(bundle, "ttf", shown.name)
        stem = real[ttf].stem if ttf in real else snapshot.project.font_stem(bundle, shown.name)
        options = options_of(output)
        if "template" in options:
            options["source"] = _template(snapshot, str(options["template"]))
        others = [o for o in bundle.outputs if o is not output]
        return OutputContext(
            faces=tuple(faces),
            default=first.name,
            sibling_outputs=tuple(
                Neighbour(o.kind, _url(real.get(at, at), place), options_of(o))
                for o in others
                for at in [self.path_of(o)]
            ),
            delivered=self._seen_from(place) if kind_of(output).needs_final_names else (),
            file=snapshot.project.relative(real.get(place, place)),
            font_stem=stem,
            draft=bundle.draft,
            options=options,
            snippets=self.snippets(),
        )

    def _real_paths(self) -> dict[Path, Path]:
        """Return the delivered paths of files whose names contain a hash."""
        root = self.snapshot.project.root
        return {root / file.name: root / file.url for file in self.finished if file.url != file.name}

    def _face_files(self, plan: FacePlan, place: Path) -> FaceFiles:
        """Return the font files of a face, as an output at `place` finds them."""
        bundle, real = self.bundle, self._real_paths()
        paths = {f: self.snapshot.project.font_path(bundle, f, plan.name) for f in _OFFER if f in bundle.fonts}
        urls = {f: _url(real.get(path, path), place) for f, path in paths.items()}
        files_of_face = {
            k.format: data for k, data in self.files.items() if (k.draft, k.face) == (bundle.draft, plan.name)
        }
        return FaceFiles(plan.name, urls, files_of_face)

    def _seen_from(self, place: Path) -> tuple[FinishedFile, ...]:
        """Return the finished files with their URLs from an output at `place`."""
        root = self.snapshot.project.root
        return tuple(f._replace(name=_url(root / f.name, place), url=_url(root / f.url, place)) for f in self.finished)

    def useful(self) -> list[OutputTable]:
        """Return the outputs that say how an icon is used."""
        kinds = [(output, kind_of(output)) for output in self.bundle.outputs]
        return [output for output, kind in kinds if kind.snippets is not no_snippets or kind.setup is not no_setup]

    def snippets(self) -> Callable[[str], list[Snippet]]:
        """Return a function from an icon's name to its snippets: of every bundle that holds it, this one first. All
        bundles are examined once, at the first call."""
        order = sorted(self.snapshot.project.config.bundle.values(), key=lambda other: other is not self.bundle)
        views = [self._replace(bundle=other, files={}) for other in order]
        shown = [icons_of(self.snapshot, other, self.icons) for other in order]

        @cache
        def placed(number: int) -> list[tuple[OutputKind, OutputContext]]:
            return [(kind_of(o), views[number].context(o)) for o in views[number].useful()]

        def lines(name: str) -> list[Snippet]:
            icon = self.icons.named(name)
            numbers = [number for number, other in enumerate(order) if holds(self.snapshot, other, icon)]
            snippets = [
                line
                for number in numbers
                for kind, context in placed(number)
                for line in kind.snippets(shown[number], context, shown[number].named(name))
            ]
            return list(dict.fromkeys([*snippets, *plain_snippets(icon)]))

        return lines


def _url(file: Path, place: Path) -> str:
    """Return where a file is, seen from an output at `place`."""
    return url_path(os.path.relpath(file, place.parent).replace(os.sep, "/"))


def _template(snapshot: Snapshot, path: str) -> str:
    """Return the text of a user's own template."""
    try:
        return snapshot.read_input(path).decode("utf-8-sig")
    except (OSError, UnicodeDecodeError) as problem:
        reason = problem.strerror if isinstance(problem, OSError) else "it is not UTF-8"
        cure = "name the template's file in the output's key `template`"
        where = path or "template"
        raise OddPegError(Diagnostic("template-unreadable", f"cannot be read: {reason}", cure, where)) from None
