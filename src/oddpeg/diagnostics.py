"""Diagnostics about a user's files, and the exceptions that carry them."""

from __future__ import annotations

import re
from typing import Annotated, Any, NamedTuple

from oddpeg.diagnostic_codes import CODES, Level
from oddpeg.reports import Key, as_json

# what no text can show: control characters, marks that turn the direction of writing, halves of surrogate pairs,
# noncharacters (Unicode Standard §2.13 and §23.7)
UNPRINTABLE = re.compile(
    "[\x00-\x08\x0b-\x1f\x7f-\x9f\u061c\u200e\u200f\u202a-\u202e\u2066-\u2069\ud800-\udfff\ufffe\uffff]"
)


def one_line(text: str) -> str:
    """Return a text on one line, without unprintable characters: no mark turns the direction of code that quotes it."""
    return " ".join(UNPRINTABLE.sub("", text).split())


def counted(count: int, noun: str) -> str:
    """Return a count with its noun: "1 icon", "2,000 icons". noun: singular, of which the plural adds an s."""
    return f"{count:,} {noun}" if count == 1 else f"{count:,} {noun}s"


class _Fields(NamedTuple):
    code: Annotated[str, Key("registered code; the reference lists all")]
    what: Annotated[str, Key("what is wrong, to be read after `where`")]
    cure: Annotated[str, Key("how to correct it, or empty")]
    where: Annotated[str, Key("file, relative to the project, or option; empty where it is about neither")]
    line: Annotated[int | None, Key("line, from 1; null where it is about no line")]
    level: Annotated[Level, Key("severity")]
    reason: Annotated[str, Key("why the config changed the level, where it did", optional=True)]
    trace: str


class Diagnostic(_Fields):
    """A message about a file or the use of a command.

    Attributes:
        code: a key of `CODES`, else KeyError.
        what: the problem, to be read after `where`.
        cure: a command or an edit that solves it, or empty.
        where: the file, relative to the project, or the option.
        line: counted from 1.
        level: by default the level that the code is registered with.
        reason: the reason that the config gives for another level.
        trace: the traceback of an internal error, for a log only.
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
        """``file:line``, or the part of it that is known."""
        return f"{self.where}:{self.line}" if self.line and self.where else self.where

    def text(self) -> str:
        """Return the whole message, with the cure on its own line."""
        message = f"warning: {self.what}" if self.level is Level.WARNING else self.what
        head = f"{self.place}: {message}" if self.where else message
        return f"{head}\n  cure: {self.cure}" if self.cure else head

    def as_dict(self) -> dict[str, Any]:
        """Return plain values for machine-readable reports."""
        values: dict[str, Any] = as_json(self)
        return values

    @staticmethod
    def from_dict(values: dict[str, Any]) -> Diagnostic:
        """Return the diagnostic that `as_dict` returned; raise KeyError, TypeError or ValueError otherwise."""
        return Diagnostic(**{**values, "level": Level(values["level"])})


class Failure(NamedTuple):
    """The report of any command that could not do its work."""

    faults: Annotated[list[Diagnostic], Key("errors")]


class OddPegError(Exception):
    """Work cannot go on. Carries every diagnostic found so far, and the exit code of the command."""

    exit_code = 1

    def __init__(self, *diagnostics: Diagnostic) -> None:
        super().__init__("\n".join(d.text() for d in diagnostics))
        self.diagnostics = list(diagnostics)

    def __reduce__(self) -> tuple[type[OddPegError], tuple[Diagnostic, ...]]:
        """Return the class and arguments for pickling."""
        return type(self), tuple(self.diagnostics)


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
