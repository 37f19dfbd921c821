"""Speed and size: cold builds of a large set, whole process, stage by stage.

    make bench                         an icon set of its own making
    make bench TOOLS=DIR               the set that DIR/make_icons.py makes, beside DIR/glue.py in the same run

TOOLS holds a generator (`make_icons.py OUT --count N --seed S`) and a yardstick (`glue.py ICONS OUT`, which prints one
JSON line with seconds and bytes). Nothing here is a test; numbers are printed, none is judged.
"""

from __future__ import annotations

import argparse
import json
import os
import random
import shutil
import subprocess
import sys
import time
from pathlib import Path
from typing import Any

from icons import CONFIG, own_icon


def make_set(folder: Path, count: int, seed: int, tools: Path | None) -> None:
    if tools:
        subprocess.run(
            [sys.executable, tools / "make_icons.py", folder, "--count", str(count), "--seed", str(seed)],
            check=True,
            stdout=subprocess.DEVNULL,
        )
        return
    folder.mkdir(parents=True)
    for i in range(count):
        (folder / f"icon-{i:05}.svg").write_text(own_icon(random.Random(f"{seed}:{i}")), encoding="utf-8")


def cold_build(root: Path) -> dict[str, Any]:
    """Build once with nothing left from before; return the report with the whole process's seconds."""
    for leftover in ("dist", ".oddpeg", "pegboard.csv"):
        path = root / leftover
        shutil.rmtree(path) if path.is_dir() else path.unlink(missing_ok=True)
    return timed_build(root)


def warm_builds(root: Path, runs: int) -> list[dict[str, Any]]:
    """Change one drawing and build, in draft; again and again."""
    config = root / "oddpeg.toml"
    config.write_text(CONFIG.replace("[pegs]", "draft = true\n\n[pegs]"), encoding="utf-8")
    timed_build(root)
    drawing = sorted((root / "icons").iterdir())[0]
    text, reports = drawing.read_text(encoding="utf-8"), []
    for run in range(runs):
        drawing.write_text(text.replace("</svg>", f'<path d="M1 1h{run + 1}v1z"/></svg>'), encoding="utf-8")
        reports.append(timed_build(root))
    drawing.write_text(text, encoding="utf-8")
    config.write_text(CONFIG, encoding="utf-8")
    return reports


def timed_build(root: Path) -> dict[str, Any]:
    compiled = {k: v for k, v in os.environ.items() if k != "PYTHONDONTWRITEBYTECODE"}  # as installed programs run
    start = time.perf_counter()
    done = subprocess.run(
        [Path(sys.executable).with_name("oddpeg"), "build", "--json"],
        cwd=root,
        env=compiled,
        capture_output=True,
        text=True,
        check=False,
    )
    report: dict[str, Any] = json.loads(done.stdout)
    report["process"] = time.perf_counter() - start
    return report


def yardstick(tools: Path, icons: Path, out: Path) -> dict[str, Any]:
    start = time.perf_counter()
    done = subprocess.run([sys.executable, tools / "glue.py", icons, out], capture_output=True, text=True, check=True)
    report: dict[str, Any] = json.loads(done.stdout)
    report["process"] = time.perf_counter() - start
    return report


def _outlines(builds: list[dict[str, Any]], rivals: list[dict[str, Any]], *stages: str) -> float:
    """Return our fastest seconds for some stages as a share of the yardstick's fastest for its outlines. Loading
    libraries is in neither."""
    ours = min(sum(build["seconds"][stage] for stage in stages) for build in builds)
    return float(ours / min(rival["seconds_outlines"] for rival in rivals))


def _each(builds: list[dict[str, Any]], rivals: list[dict[str, Any]]) -> str:
    return ", ".join(f"{_outlines([b], [r], 'outlines'):.2f}" for b, r in zip(builds, rivals, strict=True))


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("--count", type=int, default=2000)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--runs", type=int, default=3, help="the fastest run counts")
    parser.add_argument("--tools", type=Path)
    opt = parser.parse_args()
    root = Path("bench-out").resolve()
    shutil.rmtree(root, ignore_errors=True)
    make_set(root / "icons", opt.count, opt.seed, opt.tools)
    (root / "oddpeg.toml").write_text(CONFIG, encoding="utf-8")
    builds, rivals = [], []
    for _ in range(opt.runs):  # alternating, so that a slow moment of the machine hits both
        builds.append(cold_build(root))
        if opt.tools:
            rivals.append(yardstick(opt.tools, root / "icons", root / "rival"))
    ours = min(builds, key=lambda r: r["process"])
    sizes = {Path(f["path"]).suffix[1:]: f["bytes"] for f in ours["files"]}
    print(f"{ours['icons']} icons, cold, fastest of {opt.runs}")
    print(
        f"  oddpeg build    {ours['process']:6.2f} s  woff2 {sizes['woff2']:>9,} bytes  woff {sizes['woff']:>9,} bytes"
    )
    print(
        "    " + "  ".join(f"{stage} {s:.2f}" for stage, s in ours["seconds"].items()),
        f" start {ours['process'] - sum(ours['seconds'].values()):.2f}",
    )
    print(f"    outlines made another way: {ours['fallbacks'] / ours['icons']:.2%}")
    warm = min(warm_builds(root, 4 * opt.runs), key=lambda r: r["process"])
    inside = sum(warm["seconds"].values())
    print(
        f"  one changed     {warm['process']:6.2f} s  in draft, of which starting {warm['process'] - inside:.2f}; as in"
        f" watch {inside:.2f}"
    )
    print("    " + "  ".join(f"{stage} {s:.2f}" for stage, s in warm["seconds"].items()), f" reused {warm['reused']:,}")
    if rivals:
        rival = min(rivals, key=lambda r: r["process"])
        print(
            f"  yardstick       {rival['process']:6.2f} s  woff2 {rival['bytes']['woff2']:>9,} bytes  woff"
            f" {rival['bytes']['woff']:>9,} bytes"
        )
        print(
            f"    outlines {rival['seconds_outlines']:.2f}  ttf {rival['seconds_ttf']:.2f}  web"
            f" {rival['seconds_web']:.2f}"
        )
        print(
            f"  outlines ratio  {_outlines(builds, rivals, 'outlines'):6.2f}  (run by run {_each(builds, rivals)}; the"
            " yardstick neither strokes nor removes overlaps)"
        )
        print(
            f"    {_outlines(builds, rivals, 'gather', 'outlines'):.2f} with finding and reading the files, as the"
            " yardstick's figure is"
        )
        print(f"  time ratio      {ours['process'] / rival['process']:6.2f}  (below 1: oddpeg is faster)")
        print(
            f"  woff2 ratio     {sizes['woff2'] / rival['bytes']['woff2']:6.2f}  (the yardstick leaves strokes"
            " unstroked)"
        )


if __name__ == "__main__":
    main()
