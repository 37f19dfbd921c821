"""Drawings alone and among others, in every mode: `python fuzz/mixtures.py FIRST_SEED COUNT [SECONDS]`.

Each drawing is made up from the grammar of SVG, and every second one is then made worse: huge, tiny and absurd numbers,
hundreds of copies, scribbles. What is printed is a finding: an internal error, more than `MOST_SECONDS` of processor
time, or an icon that is another in another batch. Ends after so many seconds with the number of drawings seen.
"""

from __future__ import annotations

import re
import sys
import time
from collections.abc import Sequence
from random import Random

import numpy as np

import grammar
from oddpeg.building.outlining import outlined
from oddpeg.outline.model import ColourMode, Options
from oddpeg.outline.pipeline import OutlineResult
from oddpeg.outline.placement import Em

MOST_SECONDS = 5.0
_BATCH = 40
_NUMBERS = ("1e5", "-1e5", "1e9", "1e-9", "1e38", "-1e300", "0", "-1", "99999", "NaN", "", "1e400", "2147483648")
_SCRIBBLES = ("fill-rule='evenodd'", "", "fill='none' stroke='#000' stroke-width='.1'", "stroke='red' opacity='.4'")

MODES = {
    "plain": Options(Em(1000, 0.2)),
    "colour": Options(Em(1000, 0.2), colour=ColourMode.FLAT),
    "gradients": Options(Em(1000, 0.2), colour=ColourMode.GRADIENTS),
    "face": Options(Em(1000, 0.2), strokes=1.5),
    "axis": Options(Em(1000, 0.2), masters=(0.75, 1.5)),
    "ink": Options(Em(1000, 0.2), fit="ink", padding=0.05),
}


def drawing(seed: int) -> bytes:
    """Return a drawing; every second one is made worse."""
    random, text = Random(seed), grammar.drawing(seed, ("", "flat", "gradients")[seed % 3])
    if seed % 2:
        for _ in range(random.randint(1, 3)):
            text = _with_number(text, random)
        if seed % 20 == 1:
            text = random.choice((_repeated, _scribbled))(text, random)
    return text.encode()


def _with_number(text: str, random: Random) -> str:
    """Return a drawing with some number replaced by an extreme one."""
    numbers = list(re.finditer(r"(?<![#\w])-?\d*\.?\d+", text))
    match = random.choice(numbers)
    return text[: match.start()] + random.choice(_NUMBERS) + text[match.end() :]


def _repeated(text: str, random: Random) -> str:
    """Return a drawing with some element hundreds of times, each a little aside."""
    elements = list(re.finditer(r"<(?:path|circle|rect|line|use|ellipse|polygon)\b[^>]*/>", text))
    if not elements:
        return text
    match = random.choice(elements)
    copies = "".join(
        f'<g transform="translate({random.uniform(-20, 20):.2f} {random.uniform(-20, 20):.2f})">{match[0]}</g>'
        for _ in range(random.choice((50, 300, 1000)))
    )
    return text[: match.start()] + copies + text[match.end() :]


def _scribbled(text: str, random: Random) -> str:
    """Return a drawing with a line or curve back and forth across it."""
    count, kind = random.choice((100, 500, 1500)), random.choice("LQC")
    each = {"L": 1, "Q": 2, "C": 3}[kind]
    numbers = " ".join(f"{random.uniform(0, 24):.2f}" for _ in range(2 * each * count))
    return text.replace("</svg>", f"<path {random.choice(_SCRIBBLES)} d='M1 1{kind}{numbers}'/></svg>")


def differs(one: OutlineResult, other: OutlineResult) -> bool:
    """Return whether two results are not the same."""
    facts = [(r.problem and r.problem.code, [d.code for d in r.diagnostics], len(r.outlines)) for r in (one, other)]
    if facts[0] != facts[1]:
        return True
    return any(
        a.made is not b.made
        or not (np.array_equal(a.xy, b.xy) and np.array_equal(a.on, b.on) and np.array_equal(a.ends, b.ends))
        for a, b in zip(one.outlines, other.outlines, strict=True)
    )


def findings(seeds: Sequence[int], mode: str, seen: dict[str, float]) -> list[str]:
    """Return what is wrong with drawings alone and together. seen: the longest time is kept in it."""
    options, files = MODES[mode], [drawing(seed) for seed in seeds]
    alone, found = [], []
    for seed, data in zip(seeds, files, strict=True):
        begun = time.process_time()
        alone += outlined(options, [data])
        spent = time.process_time() - begun
        seen["longest"] = max(seen["longest"], spent)
        if spent > MOST_SECONDS:
            found.append(f"{seed} {mode}: {spent:.1f} seconds")
        if (problem := alone[-1].problem) and problem.code == "internal-error":
            lines = problem.trace.strip().splitlines()
            found.append(f"{seed} {mode}: {lines[-1]} at {[line.strip() for line in lines if 'File' in line][-1]}")
    order = Random(seeds[0]).sample(range(len(files)), len(files))
    together = outlined(options, [files[i] for i in order])
    pairs = zip(order, together, strict=True)
    return found + [f"{seeds[i]} {mode}: another in a batch" for i, result in pairs if differs(alone[i], result)]


def main() -> None:
    first, count = int(sys.argv[1]), int(sys.argv[2])
    until = time.monotonic() + (float(sys.argv[3]) if len(sys.argv) > 3 else float("inf"))
    seen = {"longest": 0.0}
    drawn = wrong = 0
    for start in range(first, first + count, _BATCH):
        if time.monotonic() > until:
            break
        for mode in MODES:
            seeds = range(start, min(start + _BATCH, first + count))
            for finding in findings(seeds, mode, seen):
                print("FOUND", finding, flush=True)
                wrong += 1
        drawn += len(seeds)
    print(f"{drawn} drawings in {len(MODES)} modes: {wrong} findings, the longest took {seen['longest']:.1f} s")
    sys.exit(1 if wrong else 0)


if __name__ == "__main__":
    main()
