"""`oddpeg proof`: options, and the printed report."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from oddpeg.cli.completion import complete_faces, complete_icons
from oddpeg.cli.options import ConfigAt, Json, Quiet, ReplaceFile
from oddpeg.cli.printing import document, exit_code, progress, say, show_diagnostics
from oddpeg.cli.projects import snapshot
from oddpeg.diagnostics import counted
from oddpeg.proof.report import Figure, Proof
from oddpeg.proof.run import proof_image, prove
from oddpeg.store.delivery import NewFile, write_new

_TOLERANCE = 0.005  # as tasks.prove has it, which takes long to load

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


def proof(
    icons: _Icons = None,
    size: _Sizes = None,
    tolerance: _Tolerance = _TOLERANCE,
    picture: _Picture = None,
    face: _Faces = None,
    weight: _Weights = None,
    config: ConfigAt = None,
    force: ReplaceFile = False,
    quiet: Quiet = False,
    json: Json = False,
) -> None:
    """Compare every glyph of the finished font with its drawing."""
    now = snapshot(config)
    with progress(quiet or json) as bar:
        report = prove(now, icons or [], size or [128], bar, face or [], weight or [])
    if picture is not None and report.figures:
        image = proof_image(now, report, icons or [])
        write_new(picture.parent, [NewFile(picture.name, image)], force)
    report.tolerance = tolerance
    missed = report.missed(tolerance)
    if json:
        document(report)
    elif not quiet:
        _show(report, missed, tolerance, picture)
    if report.faults and not json:
        show_diagnostics(report.faults)
    if missed or report.faults:
        raise typer.Exit(exit_code(report.faults))


def _show(proof: Proof, missed: list[Figure], tolerance: float, picture: Path | None) -> None:
    """Print the figures of a proof, the worst first."""
    worst = proof.worst()
    coloured = sum(bool(figure.part) for figure in worst)
    also = f", {coloured} in colours too" if coloured else ""
    fonts = ", ".join(proof.fonts.values())
    say(f"{fonts}: {counted(len(worst) - coloured, 'glyph')} compared with the drawings{also}", "cyan")
    if worst:
        mean = sum(f.wrong for f in worst) / len(worst)
        say(f"wrong pixels: mean {mean:.3%}, worst {worst[0].wrong:.2%}; allowed {tolerance:.2%}")
    width = max((len(f.label) for f in worst[:8]), default=0)
    for figure in worst[:8]:
        mark = "  MISSED" if figure in missed else ""
        say(f"  {figure.label:<{width}}  {figure.wrong:>7.2%} wrong  {figure.soft:>7.2%} soft  at {figure.px} px{mark}")
    if len(missed) > 8:
        say(f"  {counted(len(missed), 'icon')} missed in all; --json lists them")
    if picture is not None and worst:
        say(f"picture: {picture}")
    if worst and not missed and not proof.missing:
        say("every glyph shows what was drawn", "green")
