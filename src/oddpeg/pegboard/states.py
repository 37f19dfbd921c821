"""The states of a peg, and the events between them."""

from __future__ import annotations

from enum import Enum


class State(Enum):
    """The state of a peg; the value is its spelling in the pegboard."""

    LIVE = "live"
    RETIRED = "retired"
    WITHDRAWN = "withdrawn"
    ALIAS = "alias"

    @property
    def meaning(self) -> str:
        """The state in a few words."""
        return _MEANINGS[self]


_MEANINGS = {
    State.LIVE: "has a drawing and a glyph",
    State.RETIRED: "its drawing is gone; it comes back to its codepoint with the drawing",
    State.WITHDRAWN: "taken out by hand, drawing or not; its codepoint stays reserved",
    State.ALIAS: "an older name of the icon that holds the codepoint",
}


class Event(Enum):
    """An event of a peg."""

    DRAWING_FOUND = "a build finds its drawing"
    DRAWING_MISSED = "a build misses its drawing"
    TAKEN_OUT = "it is taken out by hand"
    LET_IN = "it is let in again by hand, and its drawing is there"
    RELEASED = "it is let in again by hand, and its drawing is not there"


# what is not listed leaves a peg as it is
_TRANSITIONS: dict[tuple[State, Event], State] = {
    (State.LIVE, Event.DRAWING_MISSED): State.RETIRED,
    (State.LIVE, Event.TAKEN_OUT): State.WITHDRAWN,
    (State.RETIRED, Event.DRAWING_FOUND): State.LIVE,
    (State.RETIRED, Event.TAKEN_OUT): State.WITHDRAWN,
    (State.RETIRED, Event.LET_IN): State.LIVE,
    (State.WITHDRAWN, Event.LET_IN): State.LIVE,
    (State.WITHDRAWN, Event.RELEASED): State.RETIRED,
}


def after(state: State, event: Event) -> State:
    """Return the state of a peg after an event."""
    return _TRANSITIONS.get((state, event), state)
