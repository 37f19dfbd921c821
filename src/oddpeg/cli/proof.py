"""`oddpeg proof`: options, and the printed report."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from oddpeg.cli.completion import complete_faces, complete_icons
from oddpeg.cli.options import ConfigAt, Json, Quiet, ReplaceFile
from oddpeg.cli.printing import document, exit_code, progress, say, show_diagnostics, some
from oddpeg.cli.projects import snapshot
from oddpeg.diagnostics import counted
from oddpeg.proof.model import ProofOptions
from oddpeg.proof.renderers import NAMES
from oddpeg.proof.report import TOLERANCE, Figure, Proof
from oddpeg.proof.run import INSTALL_WITNESS, proof_image, prove
from oddpeg.store.delivery import NewFile, write_new

_Icons = Annotated[
    list[str] | None,
    typer.Argument(metavar="[ICON]...", help="Icons to prove; all where none is named.", autocompletion=complete_icons),
]
_Sizes = Annotated[
    list[int] | None,
    typer.Option("--size", min=16, max=1024, help="Pixels to the em; may be given several times. [default: 128]"),
]
_Tolerance = Annotated[
    float, typer.Option("--tolerance", min=0.0, max=1.0, help="The share of wrong pixels that an icon may have.")
]
_Picture = Annotated[Path | None, typer.Option("--picture", help="Write a PNG of the worst, or of the icons named.")]
_Faces = Annotated[
    list[str] | None,
    typer.Option(
        "--face",
        help="A face to prove; may be given several times; all where none is named.",
        autocompletion=complete_faces,
    ),
]
_Weights = Annotated[
    list[int] | None,
    typer.Option(
        "--weight",
        min=1,
        max=1000,
        help="A weight of the variable font; may be given several times; every named one where none is given.",
    ),
]
_Witness = Annotated[
    str,
    typer.Option(
        "--witness",
        help=f"The renderer that gives a second opinion: {', '.join(NAMES)} or none. [default: the first installed]",
        show_default=False,
    ),
]


def proof(
    icons: _Icons = None,
    size: _Sizes = None,
    tolerance: _Tolerance = TOLERANCE,
    picture: _Picture = None,
    face: _Faces = None,
    weight: _Weights = None,
    witness: _Witness = "",
    config: ConfigAt = None,
    force: ReplaceFile = False,
    quiet: Quiet = False,
    json: Json = False,
) -> None:
    """Compare every glyph of the finished font with its drawing."""
    now = snapshot(config)
    with progress(quiet or json) as bar:
        report = prove(now, ProofOptions(icons or [], size or [128], face or [], weight or [], witness), bar)
    report.tolerance = tolerance
    if picture is not None and report.figures:
        image = proof_image(now, report, icons or [])
        write_new(picture.parent, [NewFile(picture.name, image)], force)
    if json:
        document(report)
    elif not quiet:
        _show(report, picture)
    if report.faults and not json:
        show_diagnostics(report.faults)
    if report.missed(tolerance) or report.faults:
        raise typer.Exit(exit_code(report.faults))


def _show(proof: Proof, picture: Path | None) -> None:
    """Print the figures of a proof, the worst first."""
    worst = proof.worst()
    coloured = sum(bool(figure.part) for figure in worst)
    also = f", {coloured} in colours too" if coloured else ""
    fonts = ", ".join(proof.fonts.values())
    say(f"{fonts}: {counted(len(worst) - coloured, 'glyph')} compared with the drawings{also}", "cyan")
    say(witness_line(proof))
    if worst:
        mean, most = sum(f.wrong for f in worst) / len(worst), max(f.wrong for f in worst)
        say(f"wrong pixels: mean {mean:.3%}, worst {most:.2%}; allowed {proof.tolerance:.2%}")
    _show_worst(proof, worst)
    missed, disputed = proof.missed(proof.tolerance), proof.disputed(proof.tolerance)
    if len(missed) > 8:
        say(f"  {counted(len(missed), 'icon')} missed in all; --json lists them")
    if picture is not None and worst:
        say(f"picture: {picture}")
    elif disputed:
        names = " ".join(dict.fromkeys(figure.icon for figure in disputed[:3]))
        say(f"look at both pictures: oddpeg proof {names} --picture proof.png", "yellow")
    if worst and not missed and not disputed and not proof.missing:
        say("every glyph shows what was drawn", "green")


def _show_worst(proof: Proof, worst: list[Figure]) -> None:
    """Print the eight worst figures, disputed ones first."""
    missed, disputed = proof.missed(proof.tolerance), proof.disputed(proof.tolerance)
    shown = [*disputed, *(f for f in worst if f not in disputed)][:8]
    width = max((len(f.label) for f in shown), default=0)
    for figure in shown:
        mark = "  DISPUTED" if figure in disputed else "  MISSED" if figure in missed else ""
        seen = "" if proof.witness is None else f"  {'–':>7}" if figure.witness is None else f"  {figure.witness:>7.2%}"
        opinion = f"{seen} for {proof.witness.name}" if proof.witness else ""
        apart = f"{figure.wrong:>7.2%} wrong{opinion}  {figure.soft:>7.2%} soft"
        say(f"  {figure.label:<{width}}  {apart}  at {figure.px} px{mark}")
    if len(disputed) > 8:
        say(f"  {counted(len(disputed), 'icon')} disputed in all; --json lists them")


def witness_line(proof: Proof) -> str:
    """Return a line on the renderer that gave a second opinion."""
    if proof.witness is None:
        return f"witness: none, only Odd Peg's own reader looked; for a second opinion {INSTALL_WITNESS}"
    looked = sum(figure.witness is not None for figure in proof.figures)
    failed = list(dict.fromkeys(figure.icon for figure in proof.figures if figure.unseen))
    line = f"witness: {proof.witness.label} looked at {looked} of {counted(len(proof.figures), 'glyph')}"
    if failed:
        line += f"; it FAILED to render {counted(len(failed), 'drawing')} ({some(failed)})"
    elif looked < len(proof.figures):
        line += (
            "; it renders no colour layers, no scaled strokes, and no mixture of solid and omitted translucent paint"
        )
    return line
