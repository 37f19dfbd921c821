"""Shell completion: icons, bundles, kinds of output and places of the current project.

A completion that fails prints nothing; the command itself reports the error.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from functools import wraps

from oddpeg.cli.projects import opened, snapshot


def _never_fails(names: Callable[[], Iterable[str]]) -> Callable[[str], list[str]]:
    @wraps(names)
    def complete(incomplete: str) -> list[str]:
        try:
            return sorted(name for name in names() if name.startswith(incomplete))
        except Exception:
            return []

    # the shell's callback is recognised by its parameters, which `wraps` would hide
    del complete.__wrapped__
    complete.__annotations__ = {"incomplete": str, "return": list[str]}
    return complete


def _icons() -> Iterable[str]:
    from oddpeg.project.icon_sets import known_icons

    return [name for icon in known_icons(snapshot()).icons for name in icon.names]


def _bundles() -> Iterable[str]:
    return opened().config.bundle


def _pegs() -> Iterable[str]:
    return snapshot().board.pegs


def _places() -> Iterable[str]:
    from oddpeg.lookup.use import uses
    from oddpeg.project.icon_sets import known_icons

    now = snapshot()
    icons = known_icons(now)
    return {use.place for icon in icons.icons[:50] for use in uses(now, icons, icon)}


def _kinds() -> Iterable[str]:
    from oddpeg.outputs.registry import FONT_KINDS, KINDS

    return [*FONT_KINDS, *KINDS]


def _states() -> Iterable[str]:
    from oddpeg.pegboard.states import State

    return [state.value for state in State]


def _faces() -> Iterable[str]:
    return opened().config.face


def _steps() -> Iterable[str]:
    from oddpeg.raster.compare import STEPS

    return STEPS


complete_icons = _never_fails(_icons)
complete_bundles = _never_fails(_bundles)
complete_pegs = _never_fails(_pegs)
complete_places = _never_fails(_places)
complete_kinds = _never_fails(_kinds)
complete_states = _never_fails(_states)
complete_faces = _never_fails(_faces)
complete_steps = _never_fails(_steps)
