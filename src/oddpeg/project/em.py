"""The em that a project's drawings are placed on, and the options of their outlines."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from oddpeg.config.settings import Config
from oddpeg.font.read.unpack import LARGEST_FONT
from oddpeg.outline.model import ColourMode, Options
from oddpeg.outline.pipeline import em_for, kept_em
from oddpeg.outline.placement import ChosenEm, Em
from oddpeg.pegboard.states import State
from oddpeg.project.snapshot import Snapshot
from oddpeg.sources.drawings import read_sources
from oddpeg.store.records import Choice, read_choices
from oddpeg.store.tree import read_regular
from oddpeg.svg.model import Translucent

UNITS, DESCENT = "units_per_em", "descent"
_LIMITS = {UNITS: (16, 16_384), DESCENT: (0.0, 0.5)}  # those of the config: a record may be damaged


class Kept(NamedTuple):
    """Em and descent of the last delivery, for keys that the config leaves to Odd Peg.

    Attributes:
        units: units per em; None where nothing was delivered, or something else was asked for.
        drop: likewise the share of the em below the baseline.
        font_drop: the share of a font that icons come from.
    """

    units: int | None = None
    drop: float | None = None
    font_drop: float | None = None


NOTHING_KEPT = Kept()


def kept_choice(snapshot: Snapshot) -> Kept:
    """Return em and descent of the last delivery, from its record or else from the delivered font."""
    asked = asked_for(snapshot.project.config)
    choices = read_choices(snapshot.project.root) or _delivered_choices(snapshot)
    values = {
        key: choices[key].value
        for key, (least, most) in _LIMITS.items()
        if key in choices
        and asked[key] != "set"
        and choices[key].asked in (asked[key], "delivered")
        and least <= choices[key].value <= most
    }
    units = int(values.get(UNITS, 0)) or None
    return Kept(units, values.get(DESCENT), snapshot.font_drop)


def asked_for(config: Config) -> dict[str, str]:
    """Return the words that leave a choice to Odd Peg, by key; "set" for values in the config."""
    values = {UNITS: config.font.units_per_em, DESCENT: config.font.descent}
    return {key: value if isinstance(value, str) else "set" for key, value in values.items()}


def _delivered_choices(snapshot: Snapshot) -> dict[str, Choice]:
    """Return em and descent of the delivered font of a project without a record."""
    if snapshot.font_drop is not None or not snapshot.ledger.paths():
        return {}
    from oddpeg.font.read.glyphs import read_em  # once for each project of an earlier version

    tables = list(snapshot.project.config.bundle.values())
    path = snapshot.readable_font(tables, snapshot.project.faces[0])
    try:
        em = read_em(read_regular(str(path), LARGEST_FONT)) if path is not None else None
    except (OSError, ValueError):
        em = None
    return {UNITS: Choice("delivered", em.units), DESCENT: Choice("delivered", em.drop)} if em is not None else {}


def choose_em(config: Config | None, files: Sequence[bytes], kept: Kept = NOTHING_KEPT) -> ChosenEm:
    """Return the em of a font: that of the config, else the delivered one, else the best for its drawings."""
    if config is None:
        return em_for("auto", "auto", files)
    units, descent = config.font.units_per_em, config.font.descent
    if descent == "auto" and kept.font_drop is not None:
        descent = kept.font_drop
    if config.font.fit == "ink":  # the grids of drawings are lost at any em
        chosen = em_for(units, descent, [])._replace(on_grid=None)
    else:
        chosen = em_for(units, descent, files)
    em = Em(kept.units or chosen.em.units, chosen.em.drop if kept.drop is None else kept.drop)
    return kept_em(chosen, em, files)


def outline_options(config: Config, em: Em, strokes: float = 1.0) -> Options:
    """Return the options of a face's outlines. strokes: the factor of stroke widths."""
    font = config.font
    padding = font.padding if font.fit == "ink" else 0.0
    how, colour = Translucent(config.icons.translucent), ColourMode(config.colour_mode)
    return Options(em, font.fit, font.curve_precision, translucent=how, padding=padding, strokes=strokes, colour=colour)


def project_em(snapshot: Snapshot, kept: Kept | None = None) -> ChosenEm:
    """Return the em of a project's font. Drawings are only read where it depends on them. kept: None for that of the
    last delivery."""
    config, kept = snapshot.project.config, kept or kept_choice(snapshot)
    asked = [key for key, word in asked_for(config).items() if word != "set"]
    if all({UNITS: kept.units, DESCENT: kept.drop}[key] is not None for key in asked):
        return choose_em(config, [], kept)
    pegs = snapshot.board.pegs
    sources_of_faces = (source for sources in snapshot.face_sources.values() for source in sources.found)
    drawn = (s for s in sources_of_faces if s.name not in pegs or pegs[s.name].state is not State.WITHDRAWN)
    files = [drawing.data for drawing in read_sources(drawn).drawings]
    return choose_em(config, files, kept)
