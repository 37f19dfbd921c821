"""The report of `oddpeg usage --page`."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Annotated, NamedTuple

from oddpeg.diagnostic_codes import CODES, Level
from oddpeg.reports import Key, reported


class PagePosition(NamedTuple):
    """A place on a page, in CSS pixels from its top left corner."""

    x: Annotated[float, Key("left edge, in CSS pixels")]
    y: Annotated[float, Key("top edge, in CSS pixels")]
    width: Annotated[float, Key("in CSS pixels")]
    height: Annotated[float, Key("in CSS pixels")]


class LoadedFile(NamedTuple):
    """A font or stylesheet that the page asked for."""

    url: Annotated[str, Key("its address")]
    kind: Annotated[str, Key("font, stylesheet, script or other")]
    problem: Annotated[str, Key("why it was not loaded, or was not accepted; empty where it was")]


class PageFault(NamedTuple):
    """An element that does not show its icon, or is not announced as it should be."""

    code: Annotated[str, Key("its diagnostic code")]
    text: Annotated[str, Key("the fault")]
    cure: Annotated[str, Key("how to mend it")]
    selector: Annotated[str, Key("the element, as a selector")]
    icon: Annotated[str, Key("name of the icon, empty where the element names none")]
    box: Annotated[PagePosition, Key("its place", merged=True)]

    @property
    def level(self) -> Level:
        """How serious it is."""
        return CODES[self.code].level


@dataclass(slots=True)
class PageReport:
    """How a page shows icons, as a browser sees it."""

    page: Annotated[str, Key("address or file of the page")]
    browser: Annotated[str, Key("version of the browser that looked")]
    elements: Annotated[int, Key("elements that should show an icon")] = 0
    shown: Annotated[int, Key("elements of them that show it")] = 0
    hidden: Annotated[int, Key("elements that the page hides on purpose")] = 0
    more: Annotated[bool, Key("there are more elements than were looked at")] = False
    faults: Annotated[list[PageFault], Key("elements that do not show their icon, in order of the page")] = field(
        default_factory=list
    )
    files: Annotated[list[LoadedFile], Key("fonts that the page asked for, and what else failed to load")] = field(
        default_factory=list
    )
    blocked: Annotated[list[str], Key("other origins that the page asked for, which were not connected to")] = field(
        default_factory=list
    )
    picture: bytes = b""

    @reported("faults that are errors")
    def errors(self) -> int:
        """Number of faults that are errors."""
        return sum(fault.level is Level.ERROR for fault in self.faults)
