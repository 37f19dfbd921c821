"""`oddpeg compare`: two builds side by side. Knows: options and printing. Does not know: how differences are found."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

import typer

from oddpeg.cli.options import Json, Quiet

if TYPE_CHECKING:
    from oddpeg.raster.compare import Comparison, State

_MOST = 24  # pictured


def compare(
    old: Annotated[
        Path, typer.Argument(metavar="OLD", help="A pegboard, a JSON glyph map, a font file, or a bundle's folder.")
    ],
    new: Annotated[Path, typer.Argument(metavar="NEW", help="What to hold against it.")],
    allow: Annotated[
        str, typer.Option("--allow", help="Fail where the version step is larger: none, patch, minor or major.")
    ] = "major",
    picture: Annotated[
        Path | None, typer.Option("--picture", help="Write a PNG of what was redrawn, old and new side by side.")
    ] = None,
    force: Annotated[bool, typer.Option("--force", help="Replace a picture that is there.")] = False,
    quiet: Quiet = False,
    json: Json = False,
) -> None:
    """Say what became of every icon between two builds, and which version step that asks for."""
    from oddpeg.cli import printing as show
    from oddpeg.diagnostics import Diagnostic, UsageError
    from oddpeg.raster import compare as core
    from oddpeg.workspace.delivery import write_new
    from oddpeg.workspace.snapshots import read_state

    if allow not in core.STEPS:
        raise UsageError(
            Diagnostic("bad-option", f"--allow {allow} is not a version step", f"one of: {', '.join(core.STEPS)}")
        )
    before, after = read_state(old), read_state(new)
    found = core.compare(before, after)
    if picture is not None:
        if found.redrawn:
            write_new(picture.parent, [(picture.name, _picture(before, after, found, f"{new} against {old}"))], force)
        elif not json and not quiet:
            show.warn("nothing was redrawn: no picture")
    over = core.STEPS.index(found.step) > core.STEPS.index(allow)
    if json:
        show.document({**_values(found), "allowed": not over})
    elif not quiet or over:
        _show(found, before.shapes is not None and after.shapes is not None, picture)
        if over:
            show.warn(f"this is a {found.step} change; allowed is {allow}", "bright_red")
    if over:
        raise typer.Exit(1)


def _picture(before: State, after: State, found: Comparison, title: str) -> bytes:
    from oddpeg.raster.compare import coverage
    from oddpeg.raster.proof_picture import Row, proof_picture

    rows = []
    for item in found.redrawn[:_MOST]:
        old, new = (
            coverage(side.shapes[code], 224) for side, code in ((before, item.old), (after, item.new)) if side.shapes
        )
        width = max(old.shape[1], new.shape[1])
        rows.append(Row(item.icon, item.share, *(_padded(view, width) for view in (old, new))))
    shown = f" (the first {_MOST})" if len(found.redrawn) > _MOST else ""
    return proof_picture(
        f"{len(found.redrawn)} redrawn{shown}: {title}",
        rows,
        "old · new · difference: blue is gone, orange is new",
        "changed",
    )


def _padded(view: Any, width: int) -> Any:
    import numpy as np

    return np.pad(view, ((0, 0), (0, width - view.shape[1])))


def _values(found: Comparison) -> dict[str, Any]:
    return {
        "step": found.step,
        "added": found.added,
        "gone": found.gone,
        "moved": [{"icon": i, "from": a, "to": b} for i, a, b in found.moved],
        "renamed": [{"old": a, "new": b, "alias": kept} for a, b, kept in found.renamed],
        "redrawn": [{"icon": r.icon, "share": round(r.share, 5)} for r in found.redrawn],
        "resized": [{"icon": i, "from": round(a, 4), "to": round(b, 4)} for i, a, b in found.resized],
        "facts": [{"what": w, "from": a, "to": b} for w, a, b in found.facts],
        "sizes": [{"file": f, "from": a, "to": b} for f, a, b in found.sizes],
    }


def _show(found: Comparison, drawn: bool, picture: Path | None) -> None:
    from oddpeg.cli.printing import bytes_text, say
    from oddpeg.pegboard.board import spell

    for icon, a, b in found.moved:
        say(f"MOVED    {icon}: {spell(a)} → {spell(b)}", "bright_red")
    for icon in found.gone:
        say(f"GONE     {icon}", "bright_red")
    for was, now, kept in found.renamed:
        say(
            f"renamed  {was} → {now}{' (the old name still works)' if kept else ', the old name is GONE'}",
            "cyan" if kept else "bright_red",
        )
    for icon in found.added:
        say(f"added    {icon}", "green")
    for item in found.redrawn:
        say(f"redrawn  {item.icon}: {item.share:.1%} of its ink")
    for icon, wide, wider in found.resized:
        say(f"resized  {icon}: advance {wide:.3f} → {wider:.3f} em")
    for what, before, after in found.facts:
        say(f"changed  {what}: {before or 'nothing'} → {after or 'nothing'}")
    for name, size, then in found.sizes:
        if size != then:
            say(
                f"size     {name}: {bytes_text(size) if size is not None else 'not there'} →"
                f" {bytes_text(then) if then is not None else 'not there'}"
            )
    if not drawn:
        say("drawings were not compared: that needs a font on both sides")
    if picture is not None and found.redrawn:
        say(f"picture: {picture}")
    say(f"version step: {found.step}", "green")
