"""What a build is asked for, and what it reports."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import NamedTuple

from oddpeg.diagnostics import Diagnostic
from oddpeg.outline.placement import ChosenEm, Em
from oddpeg.pegboard.board import Changes
from oddpeg.store.delivery import Delivered


class BuiltFile(NamedTuple):
    """A file of a bundle.

    Attributes:
        path: relative to the project, with slashes.
        bundle: that it belongs to.
        size: bytes.
    """

    path: str
    bundle: str
    size: int


@dataclass(slots=True)
class BuildReport:
    """What a build did.

    Attributes:
        family: of the font.
        icons: how many it holds.
        em: that the glyphs stand on.
        fallbacks: icons whose outline had to be made another way.
        reused: outlines out of the cache.
        faults: what kept an icon out or needs a hand.
        notes: what whoever drew an icon, or wrote the config, should know.
        changes: to the pegboard.
        delivered: to files.
        files: of all bundles.
        seconds: by stage.
    """

    family: str = ""
    icons: int = 0
    em: ChosenEm = field(default_factory=lambda: ChosenEm(Em(), True))
    fallbacks: int = 0
    reused: int = 0
    faults: list[Diagnostic] = field(default_factory=list)
    notes: list[Diagnostic] = field(default_factory=list)
    changes: Changes = field(default_factory=Changes)
    delivered: Delivered = field(default_factory=Delivered)
    files: list[BuiltFile] = field(default_factory=list)
    seconds: dict[str, float] = field(default_factory=dict)

    @property
    def units_per_em(self) -> int:
        """Font units."""
        return self.em.em.units


@dataclass(frozen=True)
class BuildOptions:
    """How to build.

    Attributes:
        bundles: their names, None for all.
        force: replace foreign and edited files.
        frozen: change nothing.
        as_new: a drawing under a new name is a new icon, even if its content is known.
    """

    bundles: Sequence[str] | None = None
    force: bool = False
    frozen: bool = False
    as_new: bool = False


DEFAULTS = BuildOptions()
