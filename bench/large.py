"""Large sets: time and memory of the main commands at two sizes, and how both grow.

    make bench-large                   an icon set of its own making
    make bench-large TOOLS=DIR         the set that DIR/make_icons.py makes

Memory is that of all processes of a command together (what they share counted once), sampled while it runs; Linux
only. Nothing here is a test; numbers are printed, none is judged.
"""

from __future__ import annotations

import argparse
import os
import shutil
import subprocess
import sys
import threading
import time
from pathlib import Path
from typing import NamedTuple

from bench import make_set

from icons import CONFIG

_CONFIG = CONFIG.replace('"typescript"]', '"typescript", "json", "specimen"]')
_PAUSE = 0.05  # seconds between samples of memory


class Cost(NamedTuple):
    """What one run took.

    Attributes:
        wall, cpu: seconds.
        memory: megabytes at most.
    """

    wall: float
    cpu: float
    memory: float


def _memory(pid: int) -> int:
    """Return the proportional share of memory (kB) of a process and everything that it started; 0 once it is gone."""
    total = 0
    try:
        for line in Path(f"/proc/{pid}/smaps_rollup").read_text().splitlines():
            if line.startswith("Pss:"):
                total = int(line.split()[1])
        children = Path(f"/proc/{pid}/task/{pid}/children").read_text().split()
    except OSError:
        return total
    return total + sum(_memory(int(child)) for child in children)


def run(root: Path, *args: str) -> Cost:
    """Run oddpeg in a project."""
    command = [str(Path(sys.executable).with_name("oddpeg")), *args]
    start, before = time.perf_counter(), os.times()
    process = subprocess.Popen(command, cwd=root, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
    most = [0]

    def watch() -> None:
        while process.poll() is None:
            most[0] = max(most[0], _memory(process.pid))
            time.sleep(_PAUSE)

    watcher = threading.Thread(target=watch)
    watcher.start()
    process.wait()
    wall, after = time.perf_counter() - start, os.times()
    watcher.join()
    cpu = after.children_user + after.children_system - before.children_user - before.children_system
    return Cost(wall, cpu, most[0] / 1024)


def measured(root: Path) -> dict[str, Cost]:
    """Return what every command costs in a project that was never built."""
    drawing = sorted((root / "icons").iterdir())[7]
    text = drawing.read_text(encoding="utf-8")
    name = drawing.stem
    found = {"build, cold": run(root, "build"), "build, nothing changed": run(root, "build")}
    drawing.write_text(text.replace("</svg>", '<path d="M1 1h2v1z"/></svg>'), encoding="utf-8")
    found["build, one drawing changed"] = run(root, "build")
    found["check"] = run(root, "check", "--quiet")
    found["find"] = run(root, "find", *name.split("-")[:2])
    found["use"] = run(root, "use", name)
    return found


def main() -> None:
    """Print the table."""
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("--counts", type=int, nargs=2, default=[2000, 20000])
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--tools", type=Path)
    opt = parser.parse_args()
    tables = []
    for count in opt.counts:
        root = Path("bench-out").resolve() / f"large-{count}"
        shutil.rmtree(root, ignore_errors=True)
        make_set(root / "icons", count, opt.seed, opt.tools)
        (root / "oddpeg.toml").write_text(_CONFIG, encoding="utf-8")
        tables.append(measured(root))
    few, many = opt.counts
    print(f"{'':28} {few:>8,} icons: s, cpu s, MB   {many:>8,} icons: s, cpu s, MB   growth (of {many / few:.0f})")
    for what, small in tables[0].items():
        large = tables[1][what]
        print(
            f"{what:28} {small.wall:10.2f} {small.cpu:8.2f} {small.memory:6.0f}   {large.wall:12.2f} {large.cpu:8.2f}"
            f" {large.memory:6.0f}   time {large.wall / small.wall:5.1f}  memory {large.memory / small.memory:5.1f}"
        )


if __name__ == "__main__":
    main()
