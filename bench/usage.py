"""`oddpeg usage` on a corpus with known answers: how much of it is found, how much is found wrongly, how long it takes.

    make bench-usage                   10,000 files, 100 MB
    make bench-usage BENCH="--files 1000"

Nothing here is a test; numbers are printed, none is judged.
"""

from __future__ import annotations

import argparse
import json
import random
import shutil
import subprocess
import sys
import tomllib
from collections import Counter
from pathlib import Path

from large import run

from icons import own_icon

_ICONS = 3000
_SIZE = 10_000  # characters of a file in the mean
_CONFIG = """\
[font]
family = "Tide Marks"

[icons]
from = ["icons/*.svg"]

[classes]
prefix = "tm"

[pegs]
range = "U+F0000-U+FFFFD"

[usage]
in = ["src"]

[bundle.web]
into = "dist"
fonts = ["woff2", "ttf"]
outputs = ["css", "scss", "typescript", "web-component", "sprite", "kotlin", "dart", "python"]
"""
_FILLER = "harbour quay anchor crane mark tide value return class const name list of the with for icon sign tm import"
_WORDS = _FILLER.split()
# file ending → what names an icon there, {n} being its number
_USES = {
    "html": ['<i class="tm-icon tm-sign-{n}"></i>', '<tm-icon name="sign-{n}"></tm-icon>', "&#x{h};"],
    "tsx": ['<i className="tm-icon tm-sign-{n}" />', 'tideMarksIcons["sign-{n}"].character'],
    "scss": ['.a {{ @include tm.before("sign-{n}"); }}', ".tm-sign-{n}:hover {{ }}"],
    "kt": ["TideMarks.SIGN_{n}"],
    "dart": ["TideMarks.sign_{n}"],
    "py": ["TideMarks.SIGN_{n}"],
}
_UNKNOWN = {"html": '<i class="tm-icon tm-sgn-{n}"></i>', "tsx": 'tideMarksIcons["sgn-{n}"]', "kt": "TideMarks.SGN_{n}"}


def make_corpus(root: Path, files: int, seed: int) -> tuple[Counter[str], int]:
    """Write the code; return how often each icon is used in it, and how many unknown names there are."""
    rng = random.Random(seed)
    wanted: Counter[str] = Counter()
    unknown = 0
    filler = [" ".join(rng.choices(_WORDS, k=12)) + rng.choice([";", " {", "}", ""]) for _ in range(4000)]
    for number in range(files):
        ending = rng.choice(list(_USES))
        lines = rng.choices(filler, k=_SIZE // 70)
        for _ in range(rng.randint(0, 4)):
            n = rng.randrange(1000, _ICONS)
            form = rng.choice(_USES[ending])
            lines.insert(rng.randrange(len(lines)), form.format(n=n, h=f"{0xF0000 + n:x}"))
            wanted[f"sign-{n}"] += 1
        if ending in _UNKNOWN and rng.random() < 0.05:
            lines.insert(rng.randrange(len(lines)), _UNKNOWN[ending].format(n=rng.randrange(1000, _ICONS)))
            unknown += 1
        folder = root / f"src/{number % 50}"
        folder.mkdir(parents=True, exist_ok=True)
        (folder / f"file{number}.{ending}").write_text("\n".join(lines), encoding="utf-8")
    return wanted, unknown


def measure_problems(root: Path, seed: int) -> None:
    """Print how many of the planted mistakes of the tests are named, each in a file of other code."""
    rng, wanted = random.Random(seed), set()
    (root / "icons").mkdir(parents=True)
    for name in ("anchor", "home", "search"):
        (root / f"icons/{name}.svg").write_text(own_icon(random.Random(name)), encoding="utf-8")
    rows = tomllib.loads((Path(__file__).parents[1] / "tests/data/problems.toml").read_text(encoding="utf-8"))
    (root / "oddpeg.toml").write_text(rows["config"], encoding="utf-8")
    run(root, "build")
    (root / "app").mkdir()
    for file, planted in rows["planted"].items():
        for number, (text, code, fix) in enumerate(planted):
            name = f"app/{number}-{file}"
            filler = [" ".join(rng.choices(_WORDS, k=12)) + ";" for _ in range(20)]
            (root / name).write_text("\n".join([*filler, text, *filler]), encoding="utf-8")
            wanted.add((name, code, fix))
    command = [str(Path(sys.executable).with_name("oddpeg")), "usage", "app", "--json"]
    found = json.loads(subprocess.run(command, cwd=root, capture_output=True, text=True, check=False).stdout)
    got = {(one["file"], one["code"], one["fix"] or "-") for one in found["problems"]}
    right = len(got & wanted)
    print(
        f"mistakes: {len(wanted)} planted, precision {right / max(1, len(got)):.2%}, recall {right / len(wanted):.2%}"
    )


def main() -> None:
    """Print the figures."""
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("--files", type=int, default=10_000)
    parser.add_argument("--seed", type=int, default=1)
    opt = parser.parse_args()
    root = Path("bench-out").resolve() / "usage"
    shutil.rmtree(root, ignore_errors=True)
    measure_problems(root / "mistakes", opt.seed)
    (root / "icons").mkdir(parents=True)
    for n in range(_ICONS):
        (root / f"icons/sign-{n:04}.svg").write_text(own_icon(random.Random(n)), encoding="utf-8")
    (root / "oddpeg.toml").write_text(_CONFIG, encoding="utf-8")
    run(root, "build")
    wanted, unknown = make_corpus(root, opt.files, opt.seed)
    size = sum(path.stat().st_size for path in root.glob("src/*/*"))
    cost = run(root, "usage", "--quiet")
    command = [str(Path(sys.executable).with_name("oddpeg")), "usage", "--json"]
    found = json.loads(subprocess.run(command, cwd=root, capture_output=True, text=True, check=False).stdout)
    got = Counter({one["name"]: len(one["places"]) for one in found["used"]})
    right = sum((got & wanted).values())
    print(f"usage: {opt.files:,} files, {size / 1e6:.0f} MB, {sum(wanted.values()):,} uses, {unknown} unknown names")
    print(f"  {cost.wall:.2f} s, cpu {cost.cpu:.2f} s, {cost.memory:.0f} MB")
    print(f"  precision {right / max(1, sum(got.values())):.2%}, recall {right / max(1, sum(wanted.values())):.2%}")
    print(f"  unknown names found {len(found['unknown'])}, undecidable {len(found['undecidable'])}")


if __name__ == "__main__":
    main()
