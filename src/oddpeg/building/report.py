"""Options and report of a build."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Annotated, NamedTuple

from oddpeg.diagnostics import Diagnostic
from oddpeg.outline.placement import ChosenEm, Em
from oddpeg.pegboard.board import Changes
from oddpeg.proof.report import Proof
from oddpeg.reports import Key, reported
from oddpeg.store.delivery import Delivered


class BuiltFile(NamedTuple):
    """A file of a bundle."""

    path: Annotated[str, Key("relative to the project, with slashes")]
    bundle: Annotated[str, Key("bundle that it belongs to")]
    size: Annotated[int, Key("size", name="bytes")]
    changed: Annotated[bool, Key("whether it is new, or was written again")] = False


@dataclass(slots=True)
class BuildReport:
    """The result of a build.

    Attributes:
        em: the em that the glyphs are placed on.
        delivered: changes of files.
    """

    family: Annotated[str, Key("family name of the font")] = ""
    icons: Annotated[int, Key("number of icons")] = 0
    em: ChosenEm = field(default_factory=lambda: ChosenEm(Em(), True))
    fallbacks: Annotated[int, Key("icons whose outline had to be made another way")] = 0
    reused: Annotated[int, Key("outlines from the cache")] = 0
    changes: Annotated[Changes, Key("changes of the pegboard", name="pegs")] = field(default_factory=Changes)
    delivered: Delivered = field(default_factory=Delivered)
    files: Annotated[list[BuiltFile], Key("files of all bundles")] = field(default_factory=list)
    faults: Annotated[list[Diagnostic], Key("errors: an icon was excluded, or action is needed")] = field(
        default_factory=list
    )
    notes: Annotated[list[Diagnostic], Key("warnings, and notices for the designer")] = field(default_factory=list)
    seconds: Annotated[dict[str, float], Key("duration of each stage")] = field(default_factory=dict)
    proof: Annotated[Proof | None, Key("proof of what changed, where it was asked for", optional=True)] = None

    @reported("font units")
    def units_per_em(self) -> int:
        """Font units."""
        return self.em.em.units

    @reported("whether all grid lines fall on whole units; null where icons are placed by ink")
    def grid_fits(self) -> bool | None:
        """Whether all grid lines fall on whole units."""
        return self.em.on_grid

    @reported("share of the em below the baseline")
    def drop(self) -> float:
        """Share of the em below the baseline."""
        return self.em.em.drop

    def outdated(self, options: BuildOptions) -> bool:
        """Return whether a frozen build found something out of date."""
        found = self.delivered.extra if options.pegs_only else self.delivered.changes()
        return options.frozen and bool(found)

    @reported("paths of all files that were created, changed or removed", name="changes")
    def changed_paths(self) -> list[str]:
        """Paths of all files that were created, changed or removed."""
        return self.delivered.changes()

    @reported("stale files that were removed")
    def removed(self) -> list[str]:
        """Stale files that were removed."""
        return self.delivered.removed


@dataclass(frozen=True)
class BuildOptions:
    """How to build.

    Attributes:
        bundles: their names, None for all.
        force: replace foreign and edited files.
        frozen: change nothing.
        pegs_only: of a frozen build, compare the pegboard only; delivered files are not kept with the drawings.
        as_new: a drawing under a new name is a new icon, even if its content is known.
        draft: as fast as possible, to look at: fonts are packed fast, pictures stay as they are. Another build has to
            follow.
    """

    bundles: Sequence[str] | None = None
    force: bool = False
    frozen: bool = False
    pegs_only: bool = False
    as_new: bool = False
    draft: bool = False


DEFAULTS = BuildOptions()
