"""Path data: the text of a `d` attribute → flat segments.

Covers the grammar of SVG 2 §9.3 and the error handling of §9.3.9: the part before an error is kept. Units: user units.
"""

from __future__ import annotations

import re

from oddpeg.svg.model import Path
from oddpeg.svg.path_builder import ARITY, CommandBuilder

NUMBER = r"[+-]?(?:[0-9]+\.?[0-9]*|\.[0-9]+)(?:[eE][+-]?[0-9]+)?"
_SEP = r"(?:[ \t\r\n\f]++,?[ \t\r\n\f]*+|,[ \t\r\n\f]*+)?+"
_WS = r"[ \t\r\n\f]*+"
_NUMBER = re.compile(NUMBER)
# with fewer digits than any number out of reach, no exponent, and never split into two
_PLAIN = r"[+-]?+(?:[0-9]{1,8}+(?![0-9])(?:\.[0-9]*+)?+|\.[0-9]++)"
_PLAIN_NUMBER = re.compile(_PLAIN)
_ARGUMENTS = re.compile(rf"{_WS}(?:{NUMBER}(?:{_SEP}{NUMBER})*)?{_WS}")
_COMMAND = re.compile(r"([MmZzLlHhVvCcSsQqTtAa])([^MmZzLlHhVvCcSsQqTtAa]*)")
_ARC = re.compile(
    rf"{_WS},?{_WS}({NUMBER}){_SEP}({NUMBER}){_SEP}({NUMBER}){_SEP}([01]){_SEP}([01]){_SEP}({NUMBER}){_SEP}({NUMBER})"
)
MAX_SEGMENTS = 50_000  # of one drawing
BIGGEST = 1e9  # far beyond any drawing; larger numbers would drown every other coordinate


def _arguments(kind: str) -> str:
    """Return the grammar of one set of a command's arguments."""
    if kind == "A":
        return _SEP.join([_PLAIN] * 3 + ["[01]"] * 2 + [_PLAIN] * 2)
    return _SEP.join([_PLAIN] * ARITY[kind])


def _command(kind: str) -> str:
    """Return the grammar of a command in either case, as often repeated as it likes."""
    sets = f"{_WS}{_arguments(kind)}(?:{_SEP}{_arguments(kind)})*+" if ARITY[kind] else ""
    return f"[{kind}{kind.lower()}]{sets}{_WS}"


_SOUND = re.compile(rf"{_WS}(?:{_command('M')}(?:{'|'.join(map(_command, ARITY))})*+)?+")


class PathFault(Exception):
    """An error in path data at character `at`; `path` holds the part before it."""

    def __init__(self, reason: str, at: int) -> None:
        super().__init__(reason)
        self.reason, self.at = reason, at
        self.path = Path()


def _numbers(letter: str, text: str) -> tuple[list[float], int]:
    """Return the numbers at the start of `text` and how many characters were understood."""
    if not text:
        return [], 0
    if letter in "Aa":
        values: list[float] = []
        at = 0
        while match := _ARC.match(text, at):
            values += map(float, match.groups())
            at = match.end()
        rest = text[at:]
        return values, at + len(rest) - len(rest.lstrip())
    match = _ARGUMENTS.match(text)
    end = match.end() if match else 0
    return list(map(float, _NUMBER.findall(text[:end]))), end


def parse_path(data: str) -> Path:
    """Return the segments of path data; raise `PathFault`, with the part before the error, where it is wrong."""
    # one look at the whole says whether anything can be wrong: no command then needs a look of its own
    if len(data) > MAX_SEGMENTS or not _SOUND.fullmatch(data):
        return _parse_doubtful(data)
    builder = CommandBuilder()
    for letter, text in _COMMAND.findall(data):
        if letter in "Aa":
            builder.feed(letter, [float(word) for arc in _ARC.findall(text) for word in arc])
        else:
            builder.feed(letter, list(map(float, _PLAIN_NUMBER.findall(text))))
    return builder.path


def _parse_doubtful(data: str) -> Path:
    """Return the segments of path data that may be wrong, very long, or hold numbers out of reach; raise `PathFault` as
    `parse_path` does."""
    builder = CommandBuilder()
    lead = len(data) - len(data.lstrip(" \t\r\n\f"))
    at = lead

    def fault(reason: str, where: int) -> PathFault:
        problem = PathFault(reason, where)
        problem.path = builder.path
        return problem

    for match in _COMMAND.finditer(data):
        letter, text = match.groups()
        if match.start() != at:
            raise fault(f"unexpected {data[at : at + 12]!r}", at)
        if match.start() == lead and letter not in "Mm":
            raise fault(f"starts with {letter!r} instead of a move", at)
        values, used = _numbers(letter, text)
        if values and max(map(abs, values)) > BIGGEST:
            raise fault("a number is far too large for a drawing", match.start(2))
        builder.feed(letter, values)
        arity = ARITY[letter.upper()]
        if used != len(text):
            raise fault(f"unexpected {text[used : used + 12]!r}", match.start(2) + used)
        if (arity and (len(values) % arity or not values)) or (not arity and values):
            raise fault(f"{letter!r} has the wrong count of numbers ({len(values)})", match.start())
        at = match.end()
        if len(builder.path.degrees) > MAX_SEGMENTS:
            break  # the drawing will be refused; no need to read on
    else:
        if at != len(data):
            raise fault(f"unexpected {data[at : at + 12]!r}", at)
    return builder.path
