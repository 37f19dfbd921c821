"""Everything that can be said of a user's files: one shape of message, one tree of exceptions."""

from __future__ import annotations

import re
from typing import Annotated, Any, NamedTuple, NotRequired, TypedDict

from oddpeg.diagnostic_codes import CODES, Level

# what no text can show: control characters, marks that turn the direction of writing, halves of surrogate pairs,
# noncharacters (Unicode Standard §2.13 and §23.7)
UNPRINTABLE = re.compile("[\x00-\x08\x0b-\x1f\x7f-\x9f\u200e\u200f\u202a-\u202e\u2066-\u2069\ud800-\udfff\ufffe\uffff]")


def counted(count: int, noun: str) -> str:
    """Return a count with its noun: "1 icon", "2,000 icons". noun: singular, of which the plural adds an s."""
    return f"{count:,} {noun}" if count == 1 else f"{count:,} {noun}s"


class DiagnosticDocument(TypedDict):
    """Something to be said of a file or of the way a command was used, as reports have it."""

    code: Annotated[str, "registered; the reference lists all"]
    what: Annotated[str, "what is the matter, to be read after `where`"]
    cure: Annotated[str, "what to do about it, or empty"]
    where: Annotated[str, "the file, relative to the project, or the option; empty where it is about neither"]
    line: Annotated[int | None, "counted from 1; null where it is about no line"]
    level: Annotated[str, "how serious it is"]
    reason: NotRequired[Annotated[str, "why the config changed the level, where it did"]]


class _Fields(NamedTuple):
    code: str
    what: str
    cure: str
    where: str
    line: int | None
    level: Level
    reason: str
    trace: str


class Diagnostic(_Fields):
    """One thing to be said of a file or of the way a command was used.

    Attributes:
        code: a key of `CODES`, else KeyError.
        what: what is the matter, to be read after `where`.
        cure: what to do about it, or empty.
        where: the file, relative to the project, or the option.
        line: counted from 1.
        level: the code's own unless given.
        reason: why the config changed the level, where it did.
        trace: where our own code failed, for a log alone.
    """

    __slots__ = ()

    def __new__(
        cls,
        code: str,
        what: str,
        cure: str = "",
        where: str = "",
        line: int | None = None,
        level: Level | None = None,
        reason: str = "",
        trace: str = "",
    ) -> Diagnostic:
        registered = CODES[code].level
        return super().__new__(cls, code, what, cure, where, line, level or registered, reason, trace)

    @property
    def place(self) -> str:
        """``file:line`` as far as it is known."""
        return f"{self.where}:{self.line}" if self.line and self.where else self.where

    def text(self) -> str:
        """Return the whole message, its cure on a line of its own."""
        what = f"warning: {self.what}" if self.level is Level.WARNING else self.what
        head = f"{self.place}: {what}" if self.where else what
        return f"{head}\n  cure: {self.cure}" if self.cure else head

    def as_dict(self) -> DiagnosticDocument:
        """Return plain values for machine-readable reports."""
        code, what, cure, where, line, level, reason, _ = self
        values: DiagnosticDocument = {
            "code": code, "what": what, "cure": cure, "where": where, "line": line, "level": level.value
        }  # fmt: skip
        if reason:
            values["reason"] = reason
        return values

    @staticmethod
    def from_dict(values: dict[str, Any]) -> Diagnostic:
        """Return what `as_dict` was made of; raise KeyError, TypeError or ValueError where it was something else."""
        return Diagnostic(**{**values, "level": Level(values["level"])})


class OddPegError(Exception):
    """Work cannot go on. Carries every diagnostic found so far, and the exit code of the command."""

    exit_code = 1

    def __init__(self, *diagnostics: Diagnostic) -> None:
        super().__init__("\n".join(d.text() for d in diagnostics))
        self.diagnostics = list(diagnostics)


class UsageError(OddPegError):
    """The command or the config is wrong."""

    exit_code = 2


class DrawingError(OddPegError):
    """One file cannot become a drawing; its neighbours can."""

    def __init__(self, diagnostic: Diagnostic) -> None:
        super().__init__(diagnostic._replace(level=Level.ERROR))

    @property
    def diagnostic(self) -> Diagnostic:
        """Why, and how to cure it; always an error."""
        return self.diagnostics[0]
