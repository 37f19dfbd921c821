"""What can be said of the icons without drawing any: found by words, and the lines that use one.

Knows: sources, pegs, facts, bundles. Does not know: outlines, how anything is shown.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path

from oddpeg.font.info import file_stem
from oddpeg.iconset.model import Catalogue, Icon
from oddpeg.outputs.kind import anywhere
from oddpeg.pegboard.board import ALIAS, LIVE
from oddpeg.pegboard.board import FILE as PEGBOARD
from oddpeg.tasks.bundles import carries, served
from oddpeg.workspace.board_file import load_board
from oddpeg.workspace.metadata import load_facts
from oddpeg.workspace.settings import BundleTable, Config
from oddpeg.workspace.sources import find_sources


@dataclass(frozen=True, slots=True)
class Shelf:
    """The catalogue as far as it is known without drawing, in the place of a font maker."""

    catalogue: Catalogue
    stem: str
    files: dict[tuple[str, bool], bytes]
    bundles: Mapping[str, BundleTable]


@dataclass(frozen=True, slots=True)
class Use:
    """A line to paste. bundle, file: whose output it refers to; both empty for what works without any."""

    place: str
    text: str
    bundle: str = ""
    file: str = ""


def shelf(root: Path, config: Config) -> Shelf:
    """Return every icon that has a peg and a drawing."""
    board = load_board(root / PEGBOARD)
    sources = [
        s
        for s in find_sources(root, config.icons.from_, config.icons.folders)[0]
        if s.name in board.pegs and board.pegs[s.name].state == LIVE
    ]
    aliases = board.aliases()
    book = load_facts(root, config, sources, {p.icon for p in board.pegs.values() if p.state == ALIAS})
    icons = []
    for source in sources:
        code, facts = board.pegs[source.name].codepoint, book.of(source.name)
        older = tuple(aliases.get(code, ()))
        icons.append(
            Icon(
                source.name,
                code,
                source.where,
                0,
                facts.title,
                (*older, *facts.aliases),
                facts.tags,
                older,
                licence=facts.licence,
                credit=facts.credit,
            )
        )
    stem = file_stem(config.font.family)
    catalogue = Catalogue(
        config.font.family,
        config.font.version,
        stem,
        0,
        config.font.drop,
        config.classes.prefix,
        config.base_class,
        tuple(icons),
    )
    return Shelf(catalogue, stem, {}, config.bundle)


def uses(root: Path, config: Config, there: Shelf, icon: Icon) -> list[Use]:
    """Return every line that puts an icon somewhere, by the bundles as they are configured, then what works without
    any."""
    found: list[Use] = []
    for name, bundle in config.bundle.items():
        if not carries(bundle, icon):
            continue
        for kind, around in served(root, bundle, there):
            found += [Use(line.place, line.text, name, around.file) for line in kind.use(there.catalogue, around, icon)]
    return [*found, *(Use(line.place, line.text) for line in anywhere(icon))]
