"""Drawings made up by chance, the same ones every time: shapes that nobody would think of trying together."""

from __future__ import annotations

import random

CAPS, JOINS = ("butt", "round", "square"), ("miter", "round", "bevel", "miter")


def _number(dice: random.Random, low: float, high: float) -> str:
    value = dice.uniform(low, high)
    return f"{round(value)}" if dice.random() < 0.3 else f"{value:.2f}"


def _spots(dice: random.Random, count: int) -> str:
    return " ".join(_number(dice, 2, 22) for _ in range(2 * count))


def _path(dice: random.Random) -> str:
    """One or two subpaths of lines, curves and arcs, open or closed."""
    found = ""
    for _ in range(dice.choice((1, 1, 2))):
        found += f"M{_spots(dice, 1)}"
        for _ in range(dice.randint(2, 4)):
            letter = dice.choice("LLHVCSQTA")
            if letter == "A":
                radii = f"{_number(dice, 2, 9)} {_number(dice, 2, 9)}"
                found += f"A{radii} {dice.randint(0, 90)} {dice.randint(0, 1)} {dice.randint(0, 1)} {_spots(dice, 1)}"
            elif letter in "HV":
                found += letter + _number(dice, 2, 22)
            else:
                found += letter + _spots(dice, {"L": 1, "T": 1, "C": 3}.get(letter, 2))
        found += dice.choice(("z", "", "z"))
    return found


def _pen(dice: random.Random, dashed: bool) -> str:
    found = f'stroke="#000" stroke-width="{_number(dice, 1, 3)}" stroke-linecap="{dice.choice(CAPS)}" '
    found += f'stroke-linejoin="{dice.choice(JOINS)}" stroke-miterlimit="{dice.choice((1, 2, 4, 9))}"'
    if dashed:
        lengths = " ".join(_number(dice, 1.5, 7) for _ in range(dice.randint(1, 4)))
        found += f' stroke-dasharray="{lengths}" stroke-dashoffset="{_number(dice, -9, 9)}"'
    return found


def _turn(dice: random.Random) -> str:
    if dice.random() < 0.5:
        return ""
    sizes = f"{dice.uniform(0.6, 1.1):.2f} {dice.choice((-1, 1)) * dice.uniform(0.6, 1.1):.2f}"
    return f' transform="translate(12 12) rotate({dice.randint(-90, 90)}) scale({sizes}) translate(-12 -12)"'


def _mixed(dice: random.Random, name: str) -> str:
    """Fills and strokes over each other, parts cut off, parts knocked out in white."""
    found = ""
    for _ in range(dice.randint(2, 4)):
        kind = dice.random()
        paint = "" if kind < 0.5 else f'fill="none" {_pen(dice, False)}' if kind < 0.8 else _pen(dice, False)
        rule = dice.choice(("", ' fill-rule="evenodd"'))
        found += f'<path d="{_path(dice)}"{rule} {paint}{_turn(dice)}/>'
    if dice.random() < 0.4:
        found = f'<clipPath id="{name}"><path d="{_path(dice)}"/></clipPath><g clip-path="url(#{name})">{found}</g>'
    if dice.random() < 0.4:
        found += f'<path d="{_path(dice)}" fill="#fff"/>'
    return found


def _strokes(dice: random.Random) -> str:
    shapes = [f'<path fill="none" d="{_path(dice)}" {_pen(dice, dice.random() < 0.6)}/>' for _ in range(2)]
    return "".join(shapes)


def scenes(mixed: int, strokes: int) -> dict[str, str]:
    """Return drawings for a frame of 24 by 24, by name. mixed, strokes: how many of each kind."""
    found = {f"scene-{n}": _mixed(random.Random(f"mixed {n}"), f"scene-{n}") for n in range(1, mixed + 1)}
    found |= {f"stroke-scene-{n}": _strokes(random.Random(f"strokes {n}")) for n in range(1, strokes + 1)}
    return found
