"""Fuzzing with coverage guidance: `python fuzz/run.py TARGET [SECONDS]` (needs
`pip install atheris`).

What it finds is written into the folder `fuzz-out`, one file for each place in the code that failed, and the search
goes on. The same command takes such a file in place of SECONDS.
"""

from __future__ import annotations

import hashlib
import random
import sys
import traceback
from collections.abc import Callable
from pathlib import Path

import atheris

with atheris.instrument_imports(include=["oddpeg", "targets"]):
    from targets import TARGETS, seeds_of


def _collecting(target: Callable[[bytes], None], out: Path) -> Callable[[bytes], None]:
    """Return the target with its failures written down instead of raised."""
    seen: set[str] = set()

    def run(data: bytes) -> None:
        try:
            target(data)
        except Exception as problem:  # whatever it is, it is a finding
            last = traceback.extract_tb(problem.__traceback__)[-1]
            place = f"{Path(last.filename).stem}-{last.lineno}-{type(problem).__name__}"
            if place not in seen:
                seen.add(place)
                (out / f"found-{place}-{hashlib.sha256(data).hexdigest()[:8]}").write_bytes(data)
                print(f"FOUND {place}: {problem}", flush=True)

    return run


def main() -> None:
    name, *rest = sys.argv[1:] or ["svg"]
    out = Path("fuzz-out") / name
    (out / "corpus").mkdir(parents=True, exist_ok=True)
    seeds = [random.Random(n).randbytes(300) for n in range(50)] if name == "words" else seeds_of(name)
    for number, seed in enumerate(seeds):
        (out / "corpus" / f"seed-{number}").write_bytes(seed)
    if rest and Path(rest[0]).is_file():
        TARGETS[name](Path(rest[0]).read_bytes())
        return
    seconds = rest[0] if rest else "600"
    options = [
        f"-max_total_time={seconds}",
        "-max_len=4096",
        "-len_control=0",
        "-timeout=30",
        "-rss_limit_mb=4096",
        f"-artifact_prefix={out}/",
        str(out / "corpus"),
    ]
    atheris.Setup([sys.argv[0], *options], _collecting(TARGETS[name], out))
    atheris.Fuzz()


main()
