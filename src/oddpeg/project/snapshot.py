"""The state of a project on disk, for one operation."""

from __future__ import annotations

import errno
import re
from collections.abc import Collection, Sequence
from copy import copy
from functools import cached_property
from itertools import product
from pathlib import Path

from oddpeg.config.faces import FacePlan
from oddpeg.config.settings import BundleTable
from oddpeg.diagnostics import Diagnostic, OddPegError
from oddpeg.font.read.unpack import LARGEST_FONT
from oddpeg.iconset.faces import default_face
from oddpeg.iconset.metadata import Metadata, Rights
from oddpeg.iconset.names import icon_name
from oddpeg.pegboard.board import FILE as PEGBOARD
from oddpeg.pegboard.board import Pegboard
from oddpeg.pegboard.file_format import parse_board
from oddpeg.project.project import Project
from oddpeg.sources.drawings import FoundFiles, Source, Sources, find_files, find_sources
from oddpeg.sources.tables import apply_rights, load_metadata, table_places
from oddpeg.sources.unmatched import unmatched_drawings
from oddpeg.store.ledger import Ledger, read_ledger
from oddpeg.store.places import Places
from oddpeg.store.records import FirstReleased, read_record
from oddpeg.store.state import STATE
from oddpeg.store.tree import read_regular

LARGEST_INPUT = 16_000_000  # bytes


class Snapshot:
    """The files, the pegboard and the records of a project, as one operation finds them.

    Each is read once, when it is first needed. Take a new snapshot for each operation, and after the project is locked.

    Attributes:
        project: the project.
        used: the icons that the project's code uses; None where that was not looked up.
    """

    def __init__(self, project: Project) -> None:
        self.project = project
        self.used: frozenset[str] | None = None

    def with_used_icons(self, names: frozenset[str]) -> Snapshot:
        """Return the same snapshot, nothing read again, with the icons that the project's code uses."""
        other = copy(self)
        other.used = names
        return other

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
        faces = {}
        for plan in self.project.faces:
            if plan.root == plan.name and not plan.varies:
                key = f"face.{plan.name}.from" if self.project.config.face else "icons.from"
                faces[plan.name] = self._find(plan.patterns, key)
        parts = [part for plan in self.project.faces for part in plan.parts if part.px]
        sized = {p.root: self._find(p.patterns, f"axis.size.drawings.{p.px}").without_size(p.px) for p in parts}
        taken = {path for found in sized.values() for path in found.files}
        faces = {name: found.without(taken) for name, found in faces.items()}
        names = {file.name for found in sized.values() for file in found.files.values()}
        for plan in self.project.faces:
            if plan.size is not None and plan.size.drawn:  # its own drawings may be named by their size, too
                said = any(str(plan.size.own) in pattern.rpartition("/")[2] for pattern in plan.patterns)
                faces[plan.root] = faces[plan.root].without_size(plan.size.own, None if said else names)
        return faces | sized

    def _find(self, patterns: Sequence[str], key: str) -> FoundFiles:
        """Return the files of drawings that globs name. key: of the config that holds them."""
        icons, project = self.project.config.icons, self.project
        files = find_files(project.root, patterns, icons.folders, project.also_read, self.delivered_paths, key)
        return files.with_names(self.glyph_names) if files.fonts and icons.names else files

    @cached_property
    def glyph_names(self) -> dict[int, str]:
        """The names that the config's map gives to glyphs of fonts, by codepoint; raises `OddPegError` where it cannot
        be read."""
        from oddpeg.pegboard.maps import map_names

        return map_names(
            self.input_named(self.project.config.icons.names, "icons.names"), self.project.config.icons.names
        )

    @cached_property
    def font_codes(self) -> dict[str, int]:
        """The codepoints that icons have in the fonts that they come from, by name."""
        glyphs = (glyph for font in self.drawing_files.fonts for glyph in font.glyphs)
        return {icon_name(glyph.named): glyph.drawing.codepoint for glyph in glyphs}

    @cached_property
    def font_drop(self) -> float | None:
        """The share of the em below the baseline of the first font that icons come from; None where there is none."""
        return next((font.drop for font in self.drawing_files.fonts if font.units), None)

    def unmatched_drawings(self) -> list[Diagnostic]:
        """Return warnings of drawings that no pattern of the config matches."""
        project = self.project
        return unmatched_drawings(
            project.root, project.config.patterns, self.drawing_files.files.keys(), self.delivered_paths
        )

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
        first = default_face(self.project.faces, self.project.config.font.default)
        order = sorted(self.project.faces, key=lambda plan: (plan.root != first.root, abs(plan.weight - first.weight)))
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
        tables = self.project.config.bundle.values()
        planned = (self.project.output_path(bundle, output) for bundle in tables for output in bundle.outputs)
        fonts = (
            self.project.font_path(bundle, file_format, plan.name)
            for bundle in tables
            for file_format in bundle.fonts
            for plan in self.project.faces_of(bundle)
        )
        return frozenset(self.project.relative(path) for path in (*planned, *fonts)) | self.ledger.paths()

    @cached_property
    def ledger(self) -> Ledger:
        """The record of deliveries; taken after the project is locked in a command that delivers."""
        return read_ledger(self.project.root)

    def places(self) -> Places:
        """Return where files may be delivered to."""
        project = self.project
        inputs = [project.relative(project.config_path), project.relative(project.board_path)]
        inputs += table_places(project.config.patterns)
        inputs += [project.relative(project.root / path) for path in project.named_inputs]
        folders = [project.relative(folder) for folder in project.drawing_folders]
        return Places(project.root, inputs, [source.where for source in self.sources_if_any], folders)

    @cached_property
    def arrivals(self) -> FirstReleased:
        """With which version each codepoint came."""
        return FirstReleased(read_record(self.project.root, "arrivals.json"), self.project.config.font.version)

    @cached_property
    def board(self) -> Pegboard:
        """The pegboard, empty where there is none yet; raises `OddPegError` with every error in it."""
        try:
            return parse_board(self.board_text())
        except FileNotFoundError:
            return Pegboard()

    def board_text(self) -> str:
        """Return the pegboard's text; raise FileNotFoundError where there is none yet, `OddPegError` where it cannot be
        read, or is a link, which writing would replace."""
        if self.project.board_path.is_symlink():
            message = "is a link, and a build could only replace it"
            raise OddPegError(Diagnostic("pegboard-link", message, "put the file itself there", PEGBOARD))
        try:
            return read_regular(str(self.project.board_path), LARGEST_INPUT).decode("utf-8-sig").replace("\r\n", "\n")
        except FileNotFoundError:
            raise
        except (OSError, UnicodeDecodeError) as problem:
            cure = "restore it from version control"
            raise OddPegError(Diagnostic("pegboard-unreadable", f"cannot be read: {problem}", cure, PEGBOARD)) from None

    def refuse_lost_board(self) -> None:
        """Raise `OddPegError` where the pegboard is missing or empty although something was delivered: every codepoint
        would be given out anew."""
        if self.ledger.paths() or read_record(self.project.root, "arrivals.json"):
            message = "is missing or empty, but fonts were delivered: every codepoint would be given out anew"
            cure = (
                "restore it from version control, or take the codepoints from a delivered font or map with"
                f" `oddpeg pegs adopt FILE`; if they may really change, delete {STATE}/ as well"
            )
            raise OddPegError(Diagnostic("pegboard-lost", message, cure, PEGBOARD))

    def metadata(self, sources: Collection[Source], older: Collection[str]) -> Metadata:
        """Return the metadata of icons. older: names from before a rename, which the pegboard keeps."""
        config = self.project.config
        rights = [Rights(rule.files, rule.licence, rule.credit) for rule in config.rights]
        metadata = load_metadata(self.read_input, config.patterns, sources, older)
        return apply_rights(metadata, sources, rights, config.icons.licences == "required")

    def finished_font(self, bundle: BundleTable, file_format: str, face: str) -> Path | None:
        """Return a bundle's font of a format and a face as it was delivered, None where it was not."""
        return self.finished_file(bundle, self.project.font_path(bundle, file_format, face))

    def readable_font(self, bundles: Collection[BundleTable], plan: FacePlan) -> Path | None:
        """Return the delivered font of a face in the format that is fastest to read, of some bundles; None where there
        is none."""
        holding = [bundle for bundle in bundles if plan in self.project.faces_of(bundle)]
        for file_format, bundle in product(("ttf", "woff", "woff2"), holding):
            path = self.finished_font(bundle, file_format, plan.name) if file_format in bundle.fonts else None
            if path is not None:
                return path
        return None

    def finished_file(self, bundle: BundleTable, path: Path) -> Path | None:
        """Return a delivered file of a bundle, whose name may contain a hash; None where it does not exist."""
        if path.is_file() or not bundle.hashed:
            return path if path.is_file() else None
        named = re.compile(
            rf"{re.escape(self.project.relative(path.with_suffix('')))}[._][0-9a-f]{{10}}{re.escape(path.suffix)}"
        )
        matching = (self.project.root / where for where in sorted(self.ledger.paths()) if named.fullmatch(where))
        return next((path for path in matching if path.is_file()), None)

    def input_named(self, path: str, key: str) -> bytes:
        """Return the bytes of a file that a key of the config names; raise `OddPegError` where it cannot be read."""
        try:
            return self.read_input(path, LARGEST_FONT)
        except OSError as problem:
            message, cure = f"cannot be read: {problem.strerror}", f"set {key} to a file that is there"
            raise OddPegError(Diagnostic("file-unreadable", message, cure, path)) from None

    def read_input(self, path: str, limit: int = LARGEST_INPUT) -> bytes:
        """Return the bytes of a file that the config names, relative to the project. Raise `OSError` where it cannot
        be read, is no regular file, holds more than `limit` bytes, or lies where reading is not allowed."""
        real = (self.project.root / path).resolve()
        if not any(real.is_relative_to(folder.resolve()) for folder in (self.project.root, *self.project.also_read)):
            why = "it leads out of the project; allow that on the command line with oddpeg --also-read FOLDER"
            raise PermissionError(errno.EACCES, why, path)
        return read_regular(str(real), limit)
