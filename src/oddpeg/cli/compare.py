"""`oddpeg compare`: options, and the printed report."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated, NamedTuple

import typer

from oddpeg.cli.completion import complete_steps
from oddpeg.cli.options import Json, Quiet, ReplaceFile
from oddpeg.cli.printing import bytes_text, document, say, warn
from oddpeg.compare.run import Compared, changes_image, compare_paths
from oddpeg.diagnostics import Diagnostic, UsageError, counted
from oddpeg.pegboard.codes import spell
from oddpeg.raster.compare import STEPS, Comparison
from oddpeg.reports import Key
from oddpeg.store.delivery import NewFile, write_new


class CompareReport(NamedTuple):
    """The report of a comparison."""

    comparison: Annotated[Comparison, Key("changes", merged=True)]
    allowed: Annotated[bool, Key("whether the version step is no larger than was allowed")]


def compare(
    old: Annotated[
        Path, typer.Argument(metavar="OLD", help="A pegboard, a JSON glyph map, a font file, or a bundle's folder.")
    ],
    new: Annotated[Path, typer.Argument(metavar="NEW", help="What to hold against it.")],
    allow: Annotated[
        str,
        typer.Option(
            "--allow",
            help="Fail where the version step is larger: none, patch, minor or major.",
            autocompletion=complete_steps,
        ),
    ] = "major",
    picture: Annotated[
        Path | None,
        typer.Option("--picture", help="Write a PNG of what was redrawn or recoloured, old and new side by side."),
    ] = None,
    force: ReplaceFile = False,
    quiet: Quiet = False,
    json: Json = False,
) -> None:
    """Compare two builds: what changed, and the version bump."""
    if allow not in STEPS:
        message, cure = f"--allow {allow} is not a version step", f"one of: {', '.join(STEPS)}"
        raise UsageError(Diagnostic("bad-option", message, cure))
    compared = compare_paths(old, new)
    comparison = compared.comparison
    if picture is not None:
        if comparison.pictured:
            image = changes_image(compared, f"{new} against {old}")
            write_new(picture.parent, [NewFile(picture.name, image)], force)
        elif not json and not quiet:
            warn("nothing was redrawn or recoloured: no picture")
    over = STEPS.index(comparison.step) > STEPS.index(allow)
    if json:
        document(CompareReport(comparison, not over))
    elif not quiet or over:
        _show(compared, picture)
        if over:
            warn(f"this is a {comparison.step} change; allowed is {allow}", "bright_red")
    if over:
        raise typer.Exit(1)


def _show(compared: Compared, picture: Path | None) -> None:
    comparison = compared.comparison
    for icon, a, b in comparison.moved:
        say(f"MOVED    {icon}: {spell(a)} → {spell(b)}", "bright_red")
    for icon in comparison.gone:
        say(f"GONE     {icon}", "bright_red")
    if comparison.left_out:
        say(
            f"omitted {counted(len(comparison.left_out), 'icon')} that code does not use:"
            f" {', '.join(comparison.left_out)}"
        )
    for was, now, kept in comparison.renamed:
        say(
            f"renamed  {was} → {now}{' (the old name still works)' if kept else ', the old name is GONE'}",
            "cyan" if kept else "bright_red",
        )
    for icon in comparison.added:
        say(f"added    {icon}", "green")
    for item in comparison.redrawn:
        say(f"redrawn  {item.label}: {item.share:.1%} of its ink")
    for recoloured in comparison.recoloured:
        say(f"coloured {recoloured.label}: {recoloured.share:.1%} of its ink has another colour")
    for icon, wide, wider in comparison.resized:
        say(f"resized  {icon}: advance {wide:.3f} → {wider:.3f} em")
    for fact, before, after in comparison.facts:
        say(f"changed  {fact}: {before or 'nothing'} → {after or 'nothing'}")
    for name, size, then in comparison.sizes:
        if size != then:
            say(
                f"size     {name}: {bytes_text(size) if size is not None else 'not there'} →"
                f" {bytes_text(then) if then is not None else 'not there'}"
            )
    if not compared.drawn:
        say("drawings were not compared: that needs a font on both sides")
    for side in (compared.old, compared.new):
        if side.unread_colours:
            say(f"colours were not compared: {side.unread_colours}")
    if picture is not None and comparison.pictured:
        say(f"picture: {picture}")
    say(f"version step: {comparison.step}", "green")
