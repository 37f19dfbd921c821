"""What stands for an icon changes with anything that is known of it, and with nothing else."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any

import numpy as np
import pytest

from oddpeg.diagnostics import Diagnostic
from oddpeg.iconset.faces import Face
from oddpeg.iconset.model import IconSet
from oddpeg.outline.model import ColourLayer, Outline
from oddpeg.outline.placement import Em
from oddpeg.svg.layers import Fill
from support.icon_sets import icon_set

SHAPE = Outline(np.array([[0, 0], [9, 0], [9, 9]]), np.array([True] * 3), np.array([2]), 1000)
OTHER = replace(SHAPE, xy=SHAPE.xy + 1)
ICONS = replace(icon_set(["anchor", "buoy"]), faces=(Face(Em(1000), {"anchor": SHAPE, "buoy": SHAPE}),))
FINDING = Diagnostic("outside-frame", "reaches beyond its frame", "enlarge the viewBox")


def with_face(**changes: Any) -> Callable[[IconSet], IconSet]:
    return lambda icons: replace(icons, faces=(icons.faces[0]._replace(**changes),))


OF_BUOY: dict[str, Callable[[IconSet], IconSet]] = {
    "a fact": lambda icons: replace(icons, icons=(icons.icons[0], icons.icons[1]._replace(title="A buoy"))),
    "a finding": lambda icons: replace(icons, findings={"buoy": (FINDING,)}),
    "its drawing": lambda icons: replace(icons, drawings={"buoy": b"<svg/>"}),
    "its outline": with_face(outlines={"anchor": SHAPE, "buoy": OTHER}),
    "where its contours end": with_face(outlines={"anchor": SHAPE, "buoy": replace(SHAPE, ends=np.array([1]))}),
    "a layer": with_face(layers={"buoy": (ColourLayer(Fill(), SHAPE),)}),
    "a master": with_face(masters={"buoy": (OTHER,)}),
}
OF_ALL: dict[str, Callable[[IconSet], IconSet]] = {
    "a name": lambda icons: replace(icons, icons=(icons.icons[0], icons.icons[1]._replace(aliases=("float",)))),
    "an icon": lambda icons: replace(icons, icons=icons.icons[:1]),
    "the prefix": lambda icons: replace(icons, classes=icons.classes._replace(prefix="quay")),
    "the em": with_face(em=Em(1008)),
    "what mirrors": lambda icons: replace(icons, mirrored=("anchor",)),
}


@pytest.mark.parametrize("what", OF_BUOY)
def test_a_change_of_one_icon_is_its_own(what: str) -> None:
    changed = OF_BUOY[what](ICONS)
    assert changed.icon_digests[0] == ICONS.icon_digests[0] and changed.icon_digests[1] != ICONS.icon_digests[1]
    assert changed.surroundings_digest == ICONS.surroundings_digest
    assert changed.drawings_digest != ICONS.drawings_digest


@pytest.mark.parametrize("what", OF_ALL)
def test_what_texts_of_all_icons_depend_on_is_told(what: str) -> None:
    assert OF_ALL[what](ICONS).surroundings_digest != ICONS.surroundings_digest
