"""The one shape in which every room says that something is wrong.

Knows: what a fault is made of and how it reads as text. Does not know: who shows it, or where.
"""

from __future__ import annotations

from typing import NamedTuple


class Fault(NamedTuple):
    """One thing that is wrong: what, where, and how to cure it."""

    what: str
    cure: str
    where: str = ""
    line: int | None = None

    def place(self) -> str:
        """Return ``file:line`` as far as it is known."""
        return f"{self.where}:{self.line}" if self.line and self.where else self.where

    def text(self) -> str:
        """Return the fault as one readable message."""
        head = f"{self.place()}: {self.what}" if self.where else self.what
        return f"{head}\n  cure: {self.cure}"

    def as_dict(self) -> dict[str, str | int | None]:
        """Return the fault as plain values for machine-readable reports."""
        return {"what": self.what, "cure": self.cure, "where": self.where, "line": self.line}


class FaultsFound(Exception):
    """Work cannot go on; carries every fault found so far and the exit code that fits."""

    def __init__(self, faults: list[Fault], exit_code: int = 1) -> None:
        super().__init__("\n".join(fault.text() for fault in faults))
        self.faults = faults
        self.exit_code = exit_code


class WrongUse(FaultsFound):
    """The call or the config is wrong (exit code 2)."""

    def __init__(self, faults: list[Fault]) -> None:
        super().__init__(faults, exit_code=2)
