"""What `build`, `check` and `proof` print as JSON."""

from __future__ import annotations

from typing import Annotated, NotRequired, TypedDict

from oddpeg.diagnostics import DiagnosticDocument


class FaultsDocument(TypedDict):
    """What any command prints that could not do its work."""

    faults: Annotated[list[DiagnosticDocument], "what is wrong"]


class PegChanges(TypedDict):
    """What a build did to the pegboard, by names of icons."""

    added: Annotated[list[str], "new on it"]
    retired: Annotated[list[str], "their drawings are gone"]
    restored: Annotated[list[str], "their drawings came back"]
    withdrawn: Annotated[list[str], "left out although their drawings are there"]


class DeliveredFile(TypedDict):
    """A file of a bundle."""

    path: Annotated[str, "relative to the project, with slashes"]
    bundle: Annotated[str, "that it belongs to"]
    bytes: Annotated[int, "its size"]
    changed: Annotated[bool, "whether it is new, or was written anew"]


class ProvedFigure(TypedDict):
    """How far one glyph is from its drawing at one size."""

    icon: Annotated[str, "its name"]
    face: NotRequired[Annotated[str, "that the glyph is of, where there are several"]]
    weight: NotRequired[Annotated[int, "of a variable font, at which it was looked at"]]
    part: NotRequired[Annotated[str, 'of a glyph in colours: "layer 1", "layer 2" …, or "colours"']]
    px: Annotated[int, "pixels of the em"]
    wrong: Annotated[float, "pixels that differ by more than half, as a share of the ink"]
    soft: Annotated[float, "summed difference, as a share of the ink"]


class ProofDocument(TypedDict):
    """Glyphs against their drawings."""

    font: Annotated[str, "the file that was read, of the first face"]
    fonts: NotRequired[Annotated[dict[str, str], "the file of each face, by its name, where there are several"]]
    proved_before: Annotated[int, "how many glyphs were passed over because they were proved before"]
    missed: Annotated[list[str], "icons with more wrong pixels than is allowed"]
    missing: Annotated[list[str], "icons whose glyph the font lacks"]
    figures: Annotated[list[ProvedFigure], "of each icon at each size"]
    faults: Annotated[list[DiagnosticDocument], "what is wrong besides"]


class BuildDocument(TypedDict):
    """What a build did."""

    family: Annotated[str, "of the font"]
    icons: Annotated[int, "how many it holds"]
    units_per_em: Annotated[int, "font units"]
    grid_fits: Annotated[bool | None, "whether all grid lines fall on whole units; null where icons are placed by ink"]
    drop: Annotated[float, "the share of the em below the baseline"]
    fallbacks: Annotated[int, "icons whose outline had to be made another way"]
    reused: Annotated[int, "outlines out of the cache"]
    pegs: Annotated[PegChanges, "changes to the pegboard"]
    changes: Annotated[list[str], "paths of all files that are not as they were"]
    files: Annotated[list[DeliveredFile], "of all bundles"]
    removed: Annotated[list[str], "stale files that are gone"]
    faults: Annotated[list[DiagnosticDocument], "what kept an icon out or needs a hand"]
    notes: Annotated[list[DiagnosticDocument], "what whoever drew an icon, or wrote the config, should know"]
    seconds: Annotated[dict[str, float], "by stage"]
    proof: NotRequired[Annotated[ProofDocument, "of what changed, where it was asked for"]]


class CheckedDrawing(TypedDict):
    """What a check says of one drawing."""

    icon: Annotated[str, "its name"]
    face: NotRequired[Annotated[str, "that it is drawn for, where there are several"]]
    source: Annotated[str, "its file"]
    verdict: Annotated[str, "fits, sanded (used after changes that the findings name), or won't fit"]
    findings: Annotated[list[DiagnosticDocument], "what there is to say of it"]


class CheckedSet(TypedDict):
    """What drawings have in common: how many have each value, the commonest first."""

    grids: Annotated[dict[str, int], "heights of frames"]
    strokes: Annotated[dict[str, int], "widths, pixels of the drawing"]
    colours: Annotated[dict[str, int], "as they are written"]
    names: Annotated[dict[str, int], "ways of writing names"]
    words: Annotated[dict[str, int], "of names"]
    size: Annotated[float, "how large drawings commonly are, as a share of their frame"]


class CheckDocument(TypedDict):
    """Drawings, judged."""

    count: Annotated[dict[str, int], "drawings by verdict"]
    drawings: Annotated[list[CheckedDrawing], "each of them"]
    set: Annotated[CheckedSet, "all of them together"]
    aside: Annotated[list[DiagnosticDocument], "findings that are of no one drawing"]
    silenced: Annotated[dict[str, int], "how many findings the config silenced, by code and reason"]
    faults: Annotated[list[DiagnosticDocument], "what cannot be read"]
