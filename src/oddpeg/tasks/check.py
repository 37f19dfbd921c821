"""The check: which drawings are reviewed, and what is written of it.

Knows: the order of the rooms. Does not know: how anything is shown to the user.
"""

from __future__ import annotations

import os
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path

from oddpeg.checks.contact_page import contact_page
from oddpeg.checks.contact_sheet import Tile, contact_sheet
from oddpeg.checks.examine import Examinee
from oddpeg.checks.normalize import sanded
from oddpeg.checks.verdict import Verdict
from oddpeg.diagnostics import Diagnostic, Level, OddPegError
from oddpeg.outline.model import Options
from oddpeg.outline.pipeline import em_for
from oddpeg.outline.placement import Em
from oddpeg.pegboard.board import ALIAS
from oddpeg.pegboard.board import FILE as PEGBOARD
from oddpeg.raster.compare import Shape, coverage
from oddpeg.tasks.review import Reviewed, examine_all, review
from oddpeg.workspace.board_file import load_board
from oddpeg.workspace.metadata import FactBook, load_facts
from oddpeg.workspace.settings import Config
from oddpeg.workspace.sources import Source, find_sources, name_all, read_sources


@dataclass(slots=True)
class Checked(Reviewed):
    """What a check found. faults: files that never came onto the bench; em: what was measured on."""

    faults: list[Diagnostic] = field(default_factory=list)
    em: Em = field(default_factory=Em)

    def diagnostics(self) -> list[Diagnostic]:
        """Return everything that was found."""
        return [d for _, one in self.drawings for d in one.diagnostics] + self.aside

    def count(self, verdict: Verdict) -> int:
        """Return how many drawings have this verdict."""
        return sum(one.verdict is verdict for _, one in self.drawings)

    def worst(self) -> Level:
        """Return the most serious level of all that was found."""
        levels = [d.level for d in [*self.diagnostics(), *self.faults]]
        return max(levels, key=lambda level: level.rank, default=Level.SILENT)


def check(
    root: Path, config: Config | None, paths: list[Path], begin: Callable[[int], None], advance: Callable[[int], None]
) -> Checked:
    """Check the drawings of a project, or the files and folders named (then without a config, if there is none)."""
    sources, faults = _sources(root, config, paths)
    data, unreadable = read_sources(sources)
    ready = [(s, d) for s, d in zip(sources, data, strict=True) if d is not None]
    begin(len(ready))
    facts = FactBook()
    if config is not None and not paths:
        older = [p.icon for p in load_board(root / PEGBOARD).pegs.values() if p.state == ALIAS]
        facts = load_facts(root, config, [s for s, _ in ready], older)
    options = _options(config, [d for _, d in ready])
    examined = examine_all([Examinee(d) for _, d in ready], options, advance)
    found = review([s for s, _ in ready], examined, config.checks if config else [], facts)
    return Checked(found.drawings, found.together, found.aside, found.silenced, faults + unreadable, options.em)


def sanded_files(found: Checked) -> list[tuple[str, bytes]]:
    """Return (file name, bytes) of every usable drawing, sanded."""
    return [
        (f"{source.name}.svg", sanded(one.outline, found.em, one.measures.grid).encode())
        for source, one in found.drawings
        if one.outline is not None and one.measures is not None
    ]


def sheet(found: Checked, page: bool, px: int = 208) -> bytes:
    """Return the contact sheet of everything that was checked, as a page or a PNG."""
    fits, mended, wont = (found.count(v) for v in Verdict)
    title = f"{len(found.drawings)} drawings: {fits} fit, {mended} sanded, {wont} won't fit"
    if page:
        return contact_page(title, [Tile(source.name, one, None) for source, one in found.drawings], found.em).encode()
    tiles = []
    for source, one in found.drawings:
        picture = None
        if one.outline is not None:
            edges = one.outline.contours.segments().scaled(1 / found.em.units).flattened(8)
            picture = coverage(Shape(*edges, one.outline.advance / found.em.units), px, found.em.drop)
        tiles.append(Tile(source.name, one, picture))
    return contact_sheet(title, tiles)


def _sources(root: Path, config: Config | None, paths: list[Path]) -> tuple[list[Source], list[Diagnostic]]:
    if not paths:
        return (
            find_sources(root, config.icons.from_, config.icons.folders)
            if config
            else find_sources(root, ["**/*.svg", "**/*.svgz"])
        )
    files: dict[str, tuple[str, str]] = {}
    for path in paths:
        found = (
            sorted(p for p in path.rglob("*") if p.suffix.lower() in (".svg", ".svgz") and p.is_file())
            if path.is_dir()
            else [path]
        )
        files |= {str(p): (str(p).replace(os.sep, "/"), p.name) for p in found}
    if not files:
        raise OddPegError(
            Diagnostic(
                "no-drawings",
                "no drawings found",
                "name SVG files, or folders that hold some",
                ", ".join(map(str, paths)),
            )
        )
    return name_all(files)


def _options(config: Config | None, files: list[bytes]) -> Options:
    if config is None:
        return Options(em_for("auto", Em().drop, files)[0])
    return Options(
        em_for(config.font.units_per_em, config.font.drop, files)[0], "frame", keep_faint=config.icons.keep_faint
    )
