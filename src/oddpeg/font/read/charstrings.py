"""Whether a glyph's program is one that browsers accept. Source: Adobe Technical Note 5177, Type 2 charstrings: the
number of operands of each operator, the depth of the stack and of subroutines, and the end."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

_DEEPEST, _HIGHEST = 10, 48  # calls within calls; operands
_STEMS = ("hstem", "vstem", "hstemhm", "vstemhm")
_MASKS = ("hintmask", "cntrmask")
_MOVES = {"rmoveto": 2, "hmoveto": 1, "vmoveto": 1}
_RULES: dict[str, Callable[[int], bool]] = {
    "rlineto": lambda n: n >= 2 and n % 2 == 0,
    "hlineto": lambda n: n >= 1,
    "vlineto": lambda n: n >= 1,
    "rrcurveto": lambda n: n >= 6 and n % 6 == 0,
    "rcurveline": lambda n: n >= 8 and n % 6 == 2,
    "rlinecurve": lambda n: n >= 8 and n % 2 == 0,
    "hhcurveto": lambda n: n >= 4 and n % 4 < 2,
    "vvcurveto": lambda n: n >= 4 and n % 4 < 2,
    "hvcurveto": lambda n: n >= 4 and n % 4 < 2,
    "vhcurveto": lambda n: n >= 4 and n % 4 < 2,
    "flex": lambda n: n == 13,
    "hflex": lambda n: n == 7,
    "hflex1": lambda n: n == 9,
    "flex1": lambda n: n == 11,
}


class _Ended(Exception):
    """The glyph is finished."""


class _Unfollowed(Exception):
    """The program computes its operands, which is not followed."""


class _Program:
    """One run through a glyph's program."""

    def __init__(self, private: Any, shared: Any) -> None:
        own = getattr(private, "Subrs", [])
        self._subroutines = {"callsubr": own, "callgsubr": shared}
        self._stack: list[float] = []
        self._stems = 0
        self._begun = False  # the first operator that clears the stack may have a width before its operands

    def run(self, charstring: Any, depth: int = 0) -> None:
        """Follow a program; raise ValueError where it is wrong, `_Ended` at its end."""
        if depth > _DEEPEST:
            raise ValueError("subroutines call each other too deeply")
        at = 0
        while True:
            token, is_operator, at = charstring.getToken(at)
            if token is None or token == "return":
                return
            if not is_operator:
                self._stack.append(token)
                if len(self._stack) > _HIGHEST:
                    raise ValueError("too many operands")
            elif token in self._subroutines:
                self._call(token, depth)
            else:
                self._clear(token)
                if token in _MASKS:
                    _, at = charstring.getBytes(at, (self._stems + 7) // 8)

    def _call(self, token: str, depth: int) -> None:
        subroutines = self._subroutines[token]
        bias = 107 if len(subroutines) < 1240 else 1131 if len(subroutines) < 33_900 else 32_768
        number = int(self._stack.pop()) + bias if self._stack else -1
        if not 0 <= number < len(subroutines):
            raise ValueError("it calls a subroutine that is not there")
        self.run(subroutines[number], depth + 1)

    def _clear(self, token: str) -> None:
        """Check the operands of an operator, and drop them."""
        count = len(self._stack)
        if token in (*_STEMS, *_MASKS):
            fits = (count % 2 == 0 or not self._begun) and (token in _MASKS or count > 1)
            self._stems += count // 2
        elif token in _MOVES:
            fits = count == _MOVES[token] or (count == _MOVES[token] + 1 and not self._begun)
        elif token == "endchar":
            fits = count in (0, 4) or (count in (1, 5) and not self._begun)
        elif token in _RULES:
            fits = _RULES[token](count)
        else:
            raise _Unfollowed
        if not fits:
            raise ValueError(f"{token} has {count} operands")
        self._stack.clear()
        self._begun = True
        if token == "endchar":
            raise _Ended


def check_charstring(charstring: Any, shared: Any) -> None:
    """Raise ValueError where a glyph's program is wrong. shared: the subroutines of all glyphs."""
    try:
        _Program(charstring.private, shared).run(charstring)
    except (_Ended, _Unfollowed):
        return
    except (IndexError, KeyError) as problem:
        raise ValueError("a program is cut short, or has an operator that is none") from problem
    raise ValueError("a program has no end")
