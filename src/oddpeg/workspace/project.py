"""A project: a folder, its config, and every question about where things are and what they are called.

Method once for each command. What is found on disk is found once, when it is first asked for.
"""

from __future__ import annotations

import errno
import os
import re
from collections.abc import Callable, Collection, Sequence
from contextlib import AbstractContextManager
from copy import copy
from functools import cached_property
from itertools import product
from pathlib import Path

from oddpeg.diagnostics import Diagnostic, OddPegError, UsageError
from oddpeg.font.info import file_stem, resource_name
from oddpeg.font.unpack import LARGEST_FONT
from oddpeg.iconset.faces import default_face
from oddpeg.iconset.font_names import ClassNames, Naming
from oddpeg.iconset.metadata import Metadata
from oddpeg.iconset.names import icon_name
from oddpeg.outputs.registry import KINDS
from oddpeg.pegboard.board import FILE as PEGBOARD
from oddpeg.pegboard.board import Pegboard
from oddpeg.pegboard.file_format import parse_board
from oddpeg.workspace.config import FILE, load_config
from oddpeg.workspace.faces import FacePlan, face_plans
from oddpeg.workspace.icon_tables import load_metadata
from oddpeg.workspace.ledger import Ledger, read_ledger
from oddpeg.workspace.records import FirstReleased, read_record
from oddpeg.workspace.settings import BundleTable, Config, OutputTable
from oddpeg.workspace.sources import FoundFiles, Source, Sources, drawing_folders, find_files, find_sources
from oddpeg.workspace.state import STATE
from oddpeg.workspace.transaction import interrupted, lock
from oddpeg.workspace.tree import read_regular

LARGEST_INPUT = 16_000_000  # bytes


def find_config(given: Path | None) -> Path:
    """Return the config named (the file, or the folder it is in), or the nearest upwards from where we are."""
    if given is not None:
        return given / FILE if given.is_dir() else given
    here = Path.cwd()
    for folder in (here, *here.parents):
        if (folder / FILE).is_file():
            return folder / FILE
    return here / FILE


class Project:
    """One project.

    Attributes:
        root: the folder of its config.
        config: the effective configuration.
        config_path: the file of the config.
        also_read: folders outside of `root` that inputs may be read from.
        used: icons that the project's code uses; None where that was not looked up.
    """

    def __init__(
        self,
        root: Path,
        config: Config,
        config_path: Path | None = None,
        also_read: Sequence[Path] = (),
        used: frozenset[str] | None = None,
    ) -> None:
        self.root = root
        self.config = config
        self.config_path = config_path or root / FILE
        self.also_read = also_read
        self.used = used

    @classmethod
    def open(cls, config: Path | None = None, remember: bool = False, also_read: Sequence[Path] = ()) -> Project:
        """Return the project of a config (the nearest upwards, where none is named); raise `UsageError` with every
        fault in it.

        remember: note beside the project that the config is valid, which makes the next start faster; also_read:
        folders outside of the project that drawings, tables and templates may be read from.
        """
        path = find_config(config)
        real = path.resolve()
        if config is None and real.parent != path.parent.resolve():
            what = f"is a link that leads out of this folder, to {real}"
            raise UsageError(
                Diagnostic("config-unreadable", what, "if that is meant, name it with --config", path.name)
            )
        return cls(real.parent, load_config(path, remember), real, also_read)

    def reread(self) -> Project:
        """Return the same project without cached files. The config is not read again."""
        return Project(self.root, self.config, self.config_path, self.also_read)

    def with_used_icons(self, names: frozenset[str]) -> Project:
        """Return the same project, its files as they were read, with the icons that its code uses."""
        other = copy(self)
        other.used = names
        return other

    # -- names --------------------------------------------------------------------------------

    def relative(self, path: Path) -> str:
        """Return a path as messages and records show it: relative to the project, with slashes."""
        return os.path.relpath(path, self.root).replace(os.sep, "/")

    @cached_property
    def naming(self) -> Naming:
        """What the font is called and says of itself."""
        font = self.config.font
        stem = file_stem(font.family)
        return Naming(font.family, font.version, stem, font.copyright, font.licence, font.licence_url, font.designer)

    @cached_property
    def classes(self) -> ClassNames:
        """Names in stylesheets."""
        table = self.config.classes
        return ClassNames(
            table.prefix, self.config.base_class, tuple(table.sizes.items()), tuple(table.colours.items())
        )

    @cached_property
    def faces(self) -> tuple[FacePlan, ...]:
        """The faces of the family, in the order of the config."""
        return face_plans(self.config)

    def faces_of(self, bundle: BundleTable) -> tuple[FacePlan, ...]:
        """Return the faces that a bundle holds: those that it names, else all, a variable font taking the place of
        static ones."""
        if bundle.faces:
            return tuple(plan for plan in self.faces if plan.name in bundle.faces)
        replaced = {name for plan in self.faces for name, _ in plan.stands_for}
        return tuple(plan for plan in self.faces if plan.name not in replaced)

    def default_face(self, bundle: BundleTable) -> FacePlan:
        """Return the face that shows where none is chosen, of those that a bundle holds."""
        return default_face(self.faces_of(bundle), self.config.font.default)

    def in_resources(self, bundle: BundleTable) -> bool:
        """Return whether a bundle's fonts need names that are legal as resources of an app."""
        return any(KINDS[output.kind].resource_names for output in bundle.outputs)

    def font_stem(self, bundle: BundleTable, face: str) -> str:
        """Return the name of a bundle's font files of a face, without ending."""
        stem = f"{self.naming.stem}-{face}" if len(self.config.face) > 1 else self.naming.stem
        return resource_name(stem) if self.in_resources(bundle) else stem

    def font_path(self, bundle: BundleTable, file_format: str, face: str) -> Path:
        """Return where a bundle's font of a format goes, of a face."""
        return self.root / bundle.into / f"{self.font_stem(bundle, face)}.{file_format}"

    def finished_font(self, bundle: BundleTable, file_format: str, face: str) -> Path | None:
        """Return a bundle's font of a format and a face as it was delivered, None where it was not."""
        return self.finished_file(bundle, self.font_path(bundle, file_format, face))

    def readable_font(self, bundles: Collection[BundleTable], plan: FacePlan) -> Path | None:
        """Return the delivered font of a face that is easiest to read, of some bundles; None where there is none."""
        those = [bundle for bundle in bundles if plan in self.faces_of(bundle)]
        for file_format, bundle in product(("ttf", "woff", "woff2"), those):
            path = self.finished_font(bundle, file_format, plan.name) if file_format in bundle.fonts else None
            if path is not None:
                return path
        return None

    def finished_file(self, bundle: BundleTable, path: Path) -> Path | None:
        """Return a bundle's file as it was delivered, whose name may have a digest in it; None where it was not."""
        if path.is_file() or not bundle.hashed:
            return path if path.is_file() else None
        named = re.compile(
            rf"{re.escape(self.relative(path.with_suffix('')))}[._][0-9a-f]{{10}}{re.escape(path.suffix)}"
        )
        found = (self.root / where for where in sorted(self.ledger.paths()) if named.fullmatch(where))
        return next((path for path in found if path.is_file()), None)

    def output_path(self, bundle: BundleTable, output: OutputTable) -> Path:
        """Return where an output goes."""
        return self.root / bundle.into / (output.to or KINDS[output.kind].file_name(self.naming))

    def line_of(self, key: str) -> int | None:
        """Return the line of the config that a key, or the nearest thing around it, stands on."""
        from oddpeg.workspace.toml_lines import key_lines, line_of

        try:
            return line_of(key_lines(self.config_path.read_text(encoding="utf-8-sig")), tuple(key.split(".")))
        except (OSError, UnicodeDecodeError):
            return None

    # -- what is there ------------------------------------------------------------------------

    @cached_property
    def drawing_files(self) -> FoundFiles:
        """The files of drawings; raises `OddPegError` where there are none."""
        if len(self.face_files) == 1:
            return next(iter(self.face_files.values()))
        files = {path: file for found in self.face_files.values() for path, file in found.files.items()}
        problems = dict.fromkeys(d for found in self.face_files.values() for d in found.problems)
        fonts = dict.fromkeys(font for found in self.face_files.values() for font in found.fonts)
        return FoundFiles(files, list(problems), tuple(fonts))

    @cached_property
    def face_files(self) -> dict[str, FoundFiles]:
        """The files of drawings by the face that they are drawn for; raises `OddPegError` where one has none."""
        icons, faces = self.config.icons, {}
        for plan in self.faces:
            if plan.root == plan.name and plan.axis is None:
                key = f"face.{plan.name}.from" if self.config.face else "icons.from"
                own = self.delivered_paths
                found = find_files(self.root, plan.patterns, icons.folders, self.also_read, own, key)
                faces[plan.name] = found.with_names(self.glyph_names) if found.fonts and icons.names else found
        return faces

    @cached_property
    def glyph_names(self) -> dict[int, str]:
        """The names that the config's map gives to glyphs of fonts, by codepoint; raises `OddPegError` where it cannot
        be read."""
        from oddpeg.pegboard.maps import map_names

        return map_names(self.input_named(self.config.icons.names, "icons.names"), self.config.icons.names)

    def input_named(self, path: str, key: str) -> bytes:
        """Return the bytes of a file that a key of the config names; raise `OddPegError` where it cannot be read."""
        try:
            return self.read_input(path, LARGEST_FONT)
        except OSError as problem:
            what, cure = f"cannot be read: {problem.strerror}", f"set {key} to a file that is there"
            raise OddPegError(Diagnostic("file-unreadable", what, cure, path)) from None

    @cached_property
    def font_codes(self) -> dict[str, int]:
        """The codepoints that icons have in the fonts that they come from, by name."""
        glyphs = (glyph for font in self.drawing_files.fonts for glyph in font.glyphs)
        return {icon_name(glyph.named): glyph.drawing.codepoint for glyph in glyphs}

    @cached_property
    def font_drop(self) -> float | None:
        """The share of the em below the baseline of the first font that icons come from; None where there is none."""
        return next((font.drop for font in self.drawing_files.fonts if font.units), None)

    @cached_property
    def face_sources(self) -> dict[str, Sources]:
        """The drawings by the face that they are drawn for."""
        return {name: find_sources(found) for name, found in self.face_files.items()}

    @cached_property
    def sources(self) -> Sources:
        """One drawing of each icon, of the default face where that has one, else of the nearest face; raises
        `OddPegError` where there are none."""
        if len(self.face_sources) == 1:
            return next(iter(self.face_sources.values()))
        first = default_face(self.faces, self.config.font.default)
        order = sorted(self.faces, key=lambda plan: (plan.root != first.root, abs(plan.weight - first.weight)))
        by_name: dict[str, Source] = {}
        for plan in order:
            for source in self.face_sources[plan.root].found:
                by_name.setdefault(source.name, source)
        problems = dict.fromkeys(d for sources in self.face_sources.values() for d in sources.problems)
        return Sources([by_name[name] for name in sorted(by_name)], list(problems))

    @property
    def sources_if_any(self) -> list[Source]:
        """The drawings; none where nothing is found."""
        try:
            return self.sources.found
        except OddPegError:
            return []

    @cached_property
    def delivered_paths(self) -> frozenset[str]:
        """The files that are delivered, now or by earlier builds; paths relative to the project."""
        tables = self.config.bundle.values()
        planned = (self.output_path(bundle, output) for bundle in tables for output in bundle.outputs)
        fonts = (
            self.font_path(bundle, file_format, plan.name)
            for bundle in tables
            for file_format in bundle.fonts
            for plan in self.faces_of(bundle)
        )
        return frozenset(self.relative(path) for path in (*planned, *fonts)) | self.ledger.paths()

    @cached_property
    def ledger(self) -> Ledger:
        """What was delivered so far; in a command that delivers, as it is once the project is held."""
        return read_ledger(self.root)

    @cached_property
    def templates(self) -> list[str]:
        """The user's own templates that outputs are made from; paths relative to the project."""
        options = (output.options for bundle in self.config.bundle.values() for output in bundle.outputs)
        return [self.relative(self.root / str(o["template"])) for o in options if o.get("template")]

    @cached_property
    def named_inputs(self) -> list[str]:
        """Every file that the config names for a build to read, but drawings and tables; paths relative to the
        project."""
        repacked = (path for t in self.config.repack.values() for path in (t.font, t.names, t.metrics_of))
        return [*self.templates, *filter(None, (self.config.icons.names, *repacked))]

    def read_input(self, path: str, limit: int = LARGEST_INPUT) -> bytes:
        """Return the bytes of a file that the config names, relative to the project. Raise `OSError` where it cannot
        be read, is no regular file, holds more than `limit` bytes, or lies where reading is not allowed."""
        real = (self.root / path).resolve()
        if not any(real.is_relative_to(folder.resolve()) for folder in (self.root, *self.also_read)):
            why = "it leads out of the project; allow that on the command line with oddpeg --also-read FOLDER"
            raise PermissionError(errno.EACCES, why, path)
        return read_regular(str(real), limit)

    @cached_property
    def drawing_folders(self) -> list[Path]:
        """The folders that are set apart for drawings."""
        return drawing_folders(self.root, self.config.patterns)

    @property
    def board_path(self) -> Path:
        """Where the pegboard is."""
        return self.root / PEGBOARD

    def board_text(self) -> str:
        """Return the pegboard's text; raise FileNotFoundError where there is none yet, `OddPegError` where it cannot be
        read, or is a link: writing would put a file in the link's place, and leave what it leads to as it is."""
        if self.board_path.is_symlink():
            what = "is a link, and a build could only replace it"
            raise OddPegError(Diagnostic("pegboard-link", what, "put the file itself there", PEGBOARD))
        try:
            return read_regular(str(self.board_path), LARGEST_INPUT).decode("utf-8-sig").replace("\r\n", "\n")
        except FileNotFoundError:
            raise
        except (OSError, UnicodeDecodeError) as problem:
            cure = "restore it from version control"
            raise OddPegError(Diagnostic("pegboard-unreadable", f"cannot be read: {problem}", cure, PEGBOARD)) from None

    def refuse_lost_board(self) -> None:
        """Raise `OddPegError` where the pegboard is missing or empty although something was delivered: every codepoint
        would be given out anew."""
        if self.ledger.paths() or read_record(self.root, "arrivals.json"):
            what = "is missing or empty, but fonts were delivered: every codepoint would be given out anew"
            cure = (
                "restore it from version control, or take the codepoints from a delivered font or map with"
                f" `oddpeg pegs adopt FILE`; if they may really change, delete {STATE}/ as well"
            )
            raise OddPegError(Diagnostic("pegboard-lost", what, cure, PEGBOARD))

    def load_board(self) -> Pegboard:
        """Return the pegboard as it is on disk, empty where there is none yet; raise `OddPegError` with every fault."""
        try:
            return parse_board(self.board_text())
        except FileNotFoundError:
            return Pegboard()

    def metadata(self, sources: Collection[Source], older: Collection[str]) -> Metadata:
        """Return what is known of icons besides their drawings. older: names that the pegboard keeps for icons
        renamed."""
        return load_metadata(self.read_input, self.config, sources, older)

    @cached_property
    def arrivals(self) -> FirstReleased:
        """With which version each codepoint came."""
        return FirstReleased(read_record(self.root, "arrivals.json"), self.config.font.version)

    # -- changing it --------------------------------------------------------------------------

    def lock(self, waiting: Callable[[], None] = lambda: None) -> AbstractContextManager[list[Diagnostic]]:
        """Hold the project alone; complete, or roll back, an interrupted change, and give what there is to say of
        it. waiting: called once if another one is at work."""
        return lock(self.root, waiting)

    def interrupted(self) -> bool:
        """Return whether a killed process left a change to be completed."""
        return interrupted(self.root)
