"""What `build`, `check` and `proof` print as JSON."""

from __future__ import annotations

from typing import NotRequired, TypedDict

from oddpeg.diagnostics import DiagnosticDocument


class FaultsDocument(TypedDict):
    """What any command prints that could not do its work.

    Attributes:
        faults: what is wrong.
    """

    faults: list[DiagnosticDocument]


class PegChanges(TypedDict):
    """What a build did to the pegboard, by names of icons.

    Attributes:
        added: new on it.
        retired: their drawings are gone.
        restored: their drawings came back.
        withdrawn: left out although their drawings are there.
    """

    added: list[str]
    retired: list[str]
    restored: list[str]
    withdrawn: list[str]


class DeliveredFile(TypedDict):
    """A file of a bundle.

    Attributes:
        path: relative to the project, with slashes.
        bundle: that it belongs to.
        bytes: its size.
        changed: whether it is new, or was written anew.
    """

    path: str
    bundle: str
    bytes: int
    changed: bool


class ProvedFigure(TypedDict):
    """How far one glyph is from its drawing at one size.

    Attributes:
        icon: its name.
        face: that the glyph is of, where there are several.
        weight: of a variable font, at which it was looked at.
        part: of a glyph in colours: "layer 1", "layer 2" …, or "colours".
        px: pixels of the em.
        wrong: pixels that differ by more than half, as a share of the ink.
        soft: summed difference, as a share of the ink.
    """

    icon: str
    face: NotRequired[str]
    weight: NotRequired[int]
    part: NotRequired[str]
    px: int
    wrong: float
    soft: float


class ProofDocument(TypedDict):
    """Glyphs against their drawings.

    Attributes:
        font: the file that was read, of the first face.
        fonts: the file of each face, by its name, where there are several.
        proved_before: how many glyphs were passed over because they were proved before.
        missed: icons with more wrong pixels than is allowed.
        missing: icons whose glyph the font lacks.
        figures: of each icon at each size.
        faults: what is wrong besides.
    """

    font: str
    fonts: NotRequired[dict[str, str]]
    proved_before: int
    missed: list[str]
    missing: list[str]
    figures: list[ProvedFigure]
    faults: list[DiagnosticDocument]


class BuildDocument(TypedDict):
    """What a build did.

    Attributes:
        family: of the font.
        icons: how many it holds.
        units_per_em: font units.
        grid_fits: whether every grid line of every drawing falls on a whole unit; null where icons are placed by
            their ink.
        drop: the share of the em below the baseline.
        fallbacks: icons whose outline had to be made another way.
        reused: outlines out of the cache.
        pegs: changes to the pegboard.
        changes: paths of all files that are not as they were.
        files: of all bundles.
        removed: stale files that are gone.
        faults: what kept an icon out or needs a hand.
        notes: what whoever drew an icon, or wrote the config, should know.
        seconds: by stage.
        proof: of what changed, where it was asked for.
    """

    family: str
    icons: int
    units_per_em: int
    grid_fits: bool | None
    drop: float
    fallbacks: int
    reused: int
    pegs: PegChanges
    changes: list[str]
    files: list[DeliveredFile]
    removed: list[str]
    faults: list[DiagnosticDocument]
    notes: list[DiagnosticDocument]
    seconds: dict[str, float]
    proof: NotRequired[ProofDocument]


class CheckedDrawing(TypedDict):
    """What a check says of one drawing.

    Attributes:
        icon: its name.
        face: that it is drawn for, where there are several.
        source: its file.
        verdict: "fits" as it is drawn, "sanded" (used after changes that the findings name), or "won't fit".
        findings: what there is to say of it.
    """

    icon: str
    face: NotRequired[str]
    source: str
    verdict: str
    findings: list[DiagnosticDocument]


class CheckedSet(TypedDict):
    """What drawings have in common: how many have each value, the commonest first.

    Attributes:
        grids: heights of frames.
        strokes: widths, pixels of the drawing.
        colours: as they are written.
        names: ways of writing names.
        words: of names.
        size: how large drawings commonly are, as a share of their frame.
    """

    grids: dict[str, int]
    strokes: dict[str, int]
    colours: dict[str, int]
    names: dict[str, int]
    words: dict[str, int]
    size: float


class CheckDocument(TypedDict):
    """Drawings, judged.

    Attributes:
        count: drawings by verdict.
        drawings: each of them.
        set: all of them together.
        aside: findings that are of no one drawing.
        silenced: how many findings the config silenced, by code and reason.
        faults: what cannot be read.
    """

    count: dict[str, int]
    drawings: list[CheckedDrawing]
    set: CheckedSet
    aside: list[DiagnosticDocument]
    silenced: dict[str, int]
    faults: list[DiagnosticDocument]
