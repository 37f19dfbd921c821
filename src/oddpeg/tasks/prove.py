"""The proof: every glyph of the finished font against its drawing.

Knows: the order of the rooms. Does not know: how anything is shown to the user.
"""

from __future__ import annotations

import os
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from functools import partial
from pathlib import Path

from oddpeg.diagnostics import Diagnostic, DrawingError, OddPegError, UsageError
from oddpeg.font.info import file_stem
from oddpeg.parallel import map_batches
from oddpeg.pegboard.board import FILE as PEGBOARD
from oddpeg.pegboard.board import WITHDRAWN, spell
from oddpeg.raster.coverage import Coverage, differences, drawing_coverage, glyph_coverage, load_font
from oddpeg.raster.proof_picture import Row, proof_picture
from oddpeg.svg.reader import read_drawing
from oddpeg.workspace.board_file import load_board
from oddpeg.workspace.proof_record import fingerprint, load_proved, save_proved
from oddpeg.workspace.settings import Config, FontTable
from oddpeg.workspace.sources import find_sources, read_sources


@dataclass(frozen=True, slots=True)
class Figure:
    """How far one glyph is from its drawing at one size, as shares of its ink."""

    icon: str
    px: int
    wrong: float
    soft: float


@dataclass(slots=True)
class Proof:
    """What a proof found. font: the file that was read; missing: icons whose glyph the font lacks;
    known: glyphs passed over because they were proved before."""

    font: str
    figures: list[Figure] = field(default_factory=list)
    missing: list[str] = field(default_factory=list)
    faults: list[Diagnostic] = field(default_factory=list)
    known: int = 0

    def worst(self) -> list[Figure]:
        """Return the worst figure of each icon, worst first."""
        by_icon: dict[str, Figure] = {}
        for figure in self.figures:
            best = by_icon.get(figure.icon)
            if best is None or (figure.wrong, figure.soft) > (best.wrong, best.soft):
                by_icon[figure.icon] = figure
        return sorted(by_icon.values(), key=lambda f: (-f.wrong, -f.soft, f.icon))


def _finished_font(root: Path, config: Config, bundles: list[str]) -> Path:
    """Return the delivered font file that is easiest to read, of the named bundles (of any, where none is named)."""
    stem = file_stem(config.font.family)
    for kind in ("ttf", "woff", "woff2"):
        for bundle in [config.bundle[name] for name in bundles or config.bundle]:
            path = root / bundle.into / f"{stem}.{kind}"
            if kind in bundle.fonts and path.is_file():
                return path
    holds = any(config.bundle[name].fonts for name in bundles or config.bundle)
    cure = "run `oddpeg build` first" if holds else 'add fonts = ["woff2"] to a bundle'
    raise OddPegError(Diagnostic("no-font", "there is no finished font to prove", cure))


def views(
    font: bytes, look: FontTable, keep_faint: bool, svg: bytes, codepoint: int, px: int
) -> tuple[Coverage, Coverage] | None:
    """Return (drawing, glyph) coverage at px pixels to the em, or None where the drawing cannot be used."""
    try:
        drawing = read_drawing(svg, keep_faint)
    except DrawingError:
        return None
    exact = px * (1 - look.drop)
    baseline = round(exact)
    frame = px * drawing.box[2] / drawing.box[3]
    width = px if look.fit == "square" else max(1, round(frame))
    shift = ((px - frame) / 2 if look.fit == "square" else 0.0, baseline - exact)
    wanted = drawing_coverage(drawing, px, width, shift)
    return wanted, glyph_coverage(load_font(font, px), codepoint, px, width, baseline)


def _prove_some(
    font: bytes, look: FontTable, keep_faint: bool, sizes: list[int], some: Sequence[tuple[str, bytes, int]]
) -> list[Figure]:
    found = []
    for icon, svg, codepoint in some:
        for px in sizes:
            pair = views(font, look, keep_faint, svg, codepoint, px)
            if pair is not None:
                found.append(Figure(icon, px, *differences(*pair)))
    return found


Begin = Callable[[int], None]
Advance = Callable[[int], None]


def prove(root: Path, config: Config, icons: list[str], sizes: list[int], begin: Begin, advance: Advance) -> Proof:
    """Compare the named icons (all, where none is named) at every size in pixels. `begin` hears how many there are,
    `advance` how many more are done."""
    path = _finished_font(root, config, [])
    font = path.read_bytes()
    proof = Proof(os.path.relpath(path, root).replace(os.sep, "/"))
    _compare(_work(root, config, icons, font, proof), font, config, sizes, proof, begin, advance)
    return proof


def prove_changes(
    root: Path,
    config: Config,
    bundles: list[str],
    units: int,
    most: float,
    remember: bool,
    begin: Begin,
    advance: Advance,
) -> Proof:
    """Compare what has changed since it was last proved, at 128 pixels, in the fonts of the named bundles (of all,
    where none is named); if asked to, remember what stays within `most`. units: per em."""
    path = _finished_font(root, config, bundles)
    font = path.read_bytes()
    proof = Proof(os.path.relpath(path, root).replace(os.sep, "/"))
    look = (config.font.drop, config.font.fit, config.icons.faint, units)
    work = _work(root, config, [], font, proof)
    marks = {icon: fingerprint(svg, code, look) for icon, svg, code in work}
    before = load_proved(root)
    changed = [item for item in work if before.get(item[0]) != marks[item[0]]]
    proof.known = len(work) - len(changed)
    _compare(changed, font, config, [128], proof, begin, advance)
    passed = {f.icon for f in proof.figures if f.wrong <= most}
    if remember:
        save_proved(root, {icon: mark for icon, mark in marks.items() if icon in passed or before.get(icon) == mark})
    return proof


def _compare(
    work: list[tuple[str, bytes, int]],
    font: bytes,
    config: Config,
    sizes: list[int],
    proof: Proof,
    begin: Begin,
    advance: Advance,
) -> None:
    """Put the figures of all `work` into the proof, on all processors."""
    begin(len(work))
    some = partial(_prove_some, font, config.font, config.icons.keep_faint, sizes)
    proof.figures += [figure for figures in map_batches(some, work, 25, advance) for figure in figures]


def _work(root: Path, config: Config, icons: list[str], font: bytes, proof: Proof) -> list[tuple[str, bytes, int]]:
    """Return (icon, drawing, codepoint) of what is to be compared; note what the font lacks."""
    board = load_board(root / PEGBOARD)
    sources, proof.faults = find_sources(root, config.icons.from_, config.icons.folders)
    names = [s.name for s in sources]
    unknown = [n for n in icons if n not in names]
    if unknown:
        import difflib

        raise UsageError(
            *[
                Diagnostic(
                    "unknown-icon", f"there is no icon {n!r}", _nearest(difflib.get_close_matches(n, names, n=3))
                )
                for n in unknown
            ]
        )
    data, unreadable = read_sources(sources)
    proof.faults += unreadable
    held = _held(font)
    work = []
    for source, svg in zip(sources, data, strict=True):
        if svg is None or (icons and source.name not in icons):
            continue
        peg = board.pegs.get(source.name)
        if peg is not None and peg.state == WITHDRAWN:
            continue  # left out on purpose
        if peg is None or peg.codepoint not in held:
            proof.missing.append(source.name)
            at = f" at {spell(peg.codepoint)}" if peg else ""
            proof.faults.append(
                Diagnostic(
                    "glyph-missing",
                    f"the icon {source.name!r} is not in {proof.font}{at}",
                    "build again, and mend the drawing if the build names it",
                    source.where,
                )
            )
        else:
            work.append((source.name, svg, peg.codepoint))
    return work


def _nearest(names: list[str]) -> str:
    return f"did you mean {', '.join(names)}?" if names else "names follow the files: tide-low.svg is tide-low"


def _held(font: bytes) -> set[int]:
    """Return the codepoints a font file has glyphs for."""
    import io

    from fontTools.ttLib import TTFont

    with TTFont(io.BytesIO(font), lazy=True) as opened:
        return set(opened.getBestCmap())


def picture(root: Path, config: Config, proof: Proof, icons: list[str], most: int = 12, px: int = 224) -> bytes:
    """Return the proof picture: the icons asked for, else the worst."""
    figures = proof.worst()
    chosen = [f for f in figures if f.icon in icons] if icons else figures[:most]
    board = load_board(root / PEGBOARD)
    sources = {s.name: s for s in find_sources(root, config.icons.from_, config.icons.folders)[0]}
    font = (root / proof.font).read_bytes()
    rows = []
    for figure in chosen:
        svg = sources[figure.icon].path.read_bytes()
        pair = views(font, config.font, config.icons.keep_faint, svg, board.pegs[figure.icon].codepoint, px)
        if pair is not None:
            rows.append(Row(figure.icon, figure.wrong, *pair))
    return proof_picture(f"{config.font.family} {config.font.version}: proof of {len(figures)} icons", rows)
