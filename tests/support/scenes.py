"""Drawings made up by chance, the same ones every time: shapes that nobody would think of trying together."""

from __future__ import annotations

import math
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


def _tight(dice: random.Random) -> str:
    """Strokes that are hard to draw: nearly cusps, ways straight back, bends tighter than the pen is wide."""
    dashed = dice.random() < 0.3
    pen, turn = _pen(dice, dashed), f'transform="rotate({dice.randint(0, 90)} 12 12)"'
    near = dice.choice((0.02, 0.004, -0.05, 0.6))
    high, low = 4 + dice.randint(0, 3), 19 - dice.randint(0, 3)
    ways = (
        f"M4 {low}Q12 {high} 12 {high + 1}T20 {low}L20 {low}l0 0",  # a dash that ended here might look anywhere
        f"M4 {low}C{20 + near} {high} {4 - near} {high} 20 {low}",  # nearly a cusp; renderers differ in true ones
        f"M3 12C27 {14 + near} 3 {10 - near} 21 12",  # bends tighter than the pen is wide
        f"M5 5L19 {5 + near} 5 5 12 {low}",
        f"M6 12a.8 .8 0 1 1 1.6 {near}l9 {near}a1 1.5 0 0 1 -.1 2z",
    )
    return f'<g {turn}><path fill="none" d="{dice.choice(ways[dashed:])}{dice.choice(("", "", "z"))}" {pen}/></g>'


def _quadratic(dice: random.Random) -> str:
    """A shape on whole units as fonts hold outlines, some of its points halfway between controls."""
    corners = []
    for k in range(dice.randint(4, 7)):
        reach, angle = dice.uniform(5, 11), (k + dice.uniform(-0.2, 0.2)) * 0.9
        corners.append((round(12 + reach * math.cos(angle)), round(12 + reach * math.sin(angle))))
    halfway = [((a + c) / 2, (b + d) / 2) for (a, b), (c, d) in zip(corners, corners[1:] + corners[:1], strict=True)]
    drawn = "M{} {}".format(*halfway[-1])
    for (cx, cy), (x, y) in zip(corners, halfway, strict=True):
        drawn += f"L{cx} {cy} {x} {y}" if dice.random() < 0.25 else f"Q{cx} {cy} {x} {y}"
    return f'<path d="{drawn}{dice.choice(("z", ""))}"/>'


def scenes(mixed: int, strokes: int, tight: int, quadratic: int) -> dict[str, str]:
    """Return drawings for a frame of 24 by 24, by name; so many of each kind."""
    found = {f"scene-{n}": _mixed(random.Random(f"mixed {n}"), f"scene-{n}") for n in range(1, mixed + 1)}
    found |= {f"stroke-scene-{n}": _strokes(random.Random(f"strokes {n}")) for n in range(1, strokes + 1)}
    found |= {f"stroke-tight-{n}": _tight(random.Random(f"tight {n}")) for n in range(1, tight + 1)}
    return found | {f"quadratic-{n}": _quadratic(random.Random(f"quadratic {n}")) for n in range(1, quadratic + 1)}
