"""Translucent paint: omitted where it would hide opaque paint, solid elsewhere, and said for each icon."""

from __future__ import annotations

import io

import numpy as np
import pytest
import resvg_py
from PIL import Image

from oddpeg.outline.model import ColourMode, Options, Outline
from oddpeg.outline.pipeline import outline_files
from oddpeg.outline.placement import Em
from oddpeg.outline.translucent import read_settled
from oddpeg.raster.coverage import drawing_coverage
from oddpeg.svg.model import Translucent
from support.data import table
from support.project import CONFIG, ProjectFolder

CASES: dict[str, list[str]] = table("translucent")["drawings"]
PX = 96


def framed(body: str) -> str:
    return f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24">{body}</svg>'


def seen(body: str) -> np.ndarray[tuple[int, ...], np.dtype[np.float64]]:
    """The drawing by an independent renderer, its paint solid black."""
    png = bytes(resvg_py.svg_to_bytes(svg_string=framed(body), width=PX, height=PX))
    return np.asarray(Image.open(io.BytesIO(png)).convert("RGBA"), dtype=float)[..., 3] / 255


@pytest.mark.parametrize("name", CASES)
def test_what_is_ink(name: str) -> None:
    body, wanted, fate = CASES[name]
    drawing = read_settled(framed(body).encode(), Translucent.AUTO)
    apart = np.abs(drawing_coverage(drawing, PX, PX) - seen(wanted)) > 0.5
    assert apart.sum() <= 4, f"{apart.sum()} pixels"
    (note,) = {n.what.split("; ")[1] for n in drawing.notes if n.code == "partial-opacity"}
    omitted, solid = "omitted" in note, "solid" in note
    assert (omitted, solid) == {"a": (True, False), "s": (False, True), "b": (True, True)}[fate]


def test_both_fixed_ways() -> None:
    body = CASES["emblem on a ground"][0]
    inked = {how: drawing_coverage(read_settled(framed(body).encode(), how), PX, PX).mean() for how in Translucent}
    assert inked[Translucent.SOLID] == pytest.approx((18 / 24) ** 2, abs=0.01)
    assert inked[Translucent.DROP] == inked[Translucent.AUTO] == pytest.approx((9 / 24) ** 2, abs=0.01)


def test_flat_layers_omit_what_the_silhouette_omits_and_gradients_keep_it() -> None:
    body = '<path opacity=".2" d="M3 3h18v18H3z"/><path fill="#c1492c" d="M6 6h9v9H6z"/>'
    made = {
        mode: outline_files(
            [framed(body.replace("<path o", '<path fill="currentColor" o')).encode()], Options(Em(), colour=mode)
        )[0]
        for mode in (ColourMode.FLAT, ColourMode.GRADIENTS)
    }
    assert [layer.fill.colour and layer.fill.colour.hex for layer in made[ColourMode.FLAT].layers] == ["#c1492c"]
    assert [layer.fill.alpha for layer in made[ColourMode.GRADIENTS].layers] == [0.2, 1]
    (remark,) = [note for note in made[ColourMode.FLAT].diagnostics if note.code == "colour-opaque"]
    assert "they were omitted" in remark.what
    silhouettes = [result.outline for result in made.values()]
    assert all(isinstance(outline, Outline) and len(outline.on) == 4 for outline in silhouettes)


def test_the_command_says_which_icons_lost_paint(project: ProjectFolder) -> None:
    body, _, _ = CASES["emblem on a ground"]
    project.icon("anchor", framed(body)).config(CONFIG)
    said = project.run("build", "--notes").stdout
    assert "knows only ink; it was omitted, since it would hide opaque paint\n    icons/anchor.svg:1" in said
    assert "wrong pixels: mean 0.000%" in project.run("proof", "anchor").stdout
