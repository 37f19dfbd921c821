"""A project: its folder, its configuration, and the names and places that follow from them."""

from __future__ import annotations

import os
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from pathlib import Path

from oddpeg.config.faces import FacePlan, face_plans
from oddpeg.config.loading import FILE, load_config
from oddpeg.config.settings import BundleTable, Config, OutputTable
from oddpeg.diagnostics import Diagnostic, UsageError
from oddpeg.font.write.info import file_stem, resource_name
from oddpeg.iconset.faces import default_face
from oddpeg.iconset.font_names import ClassNames, Naming
from oddpeg.outputs.registry import KINDS
from oddpeg.pegboard.board import FILE as PEGBOARD
from oddpeg.sources.drawings import drawing_folders
from oddpeg.sources.globs import clean_pattern, has_wildcard


def find_config(given: Path | None) -> Path:
    """Return the config named (the file, or the folder it is in), or the nearest upwards from where we are."""
    if given is not None:
        return given / FILE if given.is_dir() else given
    here = Path.cwd()
    for folder in (here, *here.parents):
        if (folder / FILE).is_file():
            return folder / FILE
    return here / FILE


@dataclass(frozen=True)
class Project:
    """One project: its folder, its effective configuration, and the names and paths that follow from them.

    It never changes and reads nothing from disk; `Snapshot` holds the files.

    Attributes:
        root: the folder of its config.
        config: the effective configuration.
        config_path: the file of the config.
        also_read: folders outside of `root` that inputs may be read from.
    """

    root: Path
    config: Config
    config_path: Path
    also_read: Sequence[Path] = ()

    @classmethod
    def open(cls, config: Path | None = None, remember: bool = False, also_read: Sequence[Path] = ()) -> Project:
        """Return the project of a config, by default the nearest one upwards; raise `UsageError` with every error in
        it.

        remember: keep in the cache that the config is valid, which makes the next start faster; also_read: folders
        outside of the project that drawings, tables and templates may be read from.
        """
        path = find_config(config)
        real = path.resolve()
        if config is None and real.parent != path.parent.resolve():
            message = f"is a link that leads out of this folder, to {real}"
            raise UsageError(
                Diagnostic("config-unreadable", message, "if that is meant, name it with --config", path.name)
            )
        return cls(real.parent, load_config(path, remember), real, also_read)

    def relative(self, path: Path) -> str:
        """Return a path as messages and records show it: relative to the project, with slashes."""
        return os.path.relpath(path, self.root).replace(os.sep, "/")

    @cached_property
    def naming(self) -> Naming:
        """Names and rights of the font."""
        font = self.config.font
        stem = file_stem(font.family)
        return Naming(font.family, font.version, stem, font.copyright, font.licence, font.licence_url, font.designer)

    @cached_property
    def classes(self) -> ClassNames:
        """Names in stylesheets."""
        table = self.config.classes
        return ClassNames(
            table.prefix,
            self.config.base_class,
            tuple(table.sizes.items()),
            tuple(table.colours.items()),
            tuple(state.name for plan in self.faces for state in plan.states),
            tuple(px for plan in self.faces if plan.size and plan.size.drawn for px in plan.size.classes),
        )

    @cached_property
    def faces(self) -> tuple[FacePlan, ...]:
        """The faces of the family, in the order of the config."""
        return face_plans(self.config)

    def faces_of(self, bundle: BundleTable) -> tuple[FacePlan, ...]:
        """Return the faces that a bundle holds: the faces that it names, otherwise all, where a variable font replaces
        static ones."""
        if bundle.faces:
            return tuple(plan for plan in self.faces if plan.names & set(bundle.faces))
        replaced = {name for plan in self.faces for name, _ in plan.stands_for}
        return tuple(plan for plan in self.faces if plan.name not in replaced and not plan.taken_from)

    def class_faces(self) -> tuple[str, ...]:
        """Return the faces that stylesheets have classes for, in any bundle."""
        names: dict[str, None] = {}
        for bundle in self.config.bundle.values():
            plans = self.faces_of(bundle)
            faces = [name for plan in plans for name, _ in plan.stands_for or ((plan.name, plan.weight),)]
            names |= dict.fromkeys(faces if len(faces) > 1 else ())
        return tuple(names)

    def default_face(self, bundle: BundleTable) -> FacePlan:
        """Return the default face of a bundle."""
        return default_face(self.faces_of(bundle), self.config.font.default)

    def in_resources(self, bundle: BundleTable) -> bool:
        """Return whether a bundle's fonts need names that are legal as resources of an app."""
        return any(KINDS[output.kind].resource_names for output in bundle.outputs)

    def font_stem(self, bundle: BundleTable, face: str) -> str:
        """Return the name of a bundle's font files of a face, without ending."""
        named = len(self.config.face) > 1 or any(plan.taken_from for plan in self.faces if plan.name == face)
        stem = f"{self.naming.stem}-{face}" if named else self.naming.stem
        return resource_name(stem) if self.in_resources(bundle) else stem

    def font_path(self, bundle: BundleTable, file_format: str, face: str) -> Path:
        """Return where a bundle's font of a format goes, of a face."""
        return self.root / bundle.into / f"{self.font_stem(bundle, face)}.{file_format}"

    def output_path(self, bundle: BundleTable, output: OutputTable) -> Path:
        """Return where an output goes."""
        kind = KINDS[output.kind]
        name = output.to or kind.file_name(self.naming)
        folder = self.root / bundle.into
        if not output.to and kind.resource_folder and folder.parts[-2:] == ("res", "font"):  # which takes fonts only
            folder = folder.parent / kind.resource_folder
        return folder / name

    @cached_property
    def templates(self) -> list[str]:
        """The user's own templates that outputs are made from; paths relative to the project."""
        options = (output.options for bundle in self.config.bundle.values() for output in bundle.outputs)
        return [self.relative(self.root / str(o["template"])) for o in options if o.get("template")]

    @cached_property
    def named_inputs(self) -> list[str]:
        """Every file that the config names for a build to read, but tables, and drawings that match a glob; paths
        relative to the project."""
        repacked = (path for t in self.config.repack.values() for path in (t.font, t.names, t.metrics_of))
        sources = (clean_pattern(p) for p in self.config.patterns if not has_wildcard(p))
        return [*self.templates, *sources, *filter(None, (self.config.icons.names, *repacked))]

    @cached_property
    def drawing_folders(self) -> list[Path]:
        """The folders that are set apart for drawings."""
        return drawing_folders(self.root, self.config.patterns)

    @property
    def board_path(self) -> Path:
        """Where the pegboard is."""
        return self.root / PEGBOARD
