"""Fails, or kills, a build at each of its system calls that change something, one call at a time, with strace.

    python fuzz/faults.py [ENOSPC|EACCES|KILL ...]

After each, what is on disk is looked at: no delivered text names an icon that its font lacks, no live codepoint has
moved, nothing of the user's has changed; then a build without a fault must succeed and leave what a build that was
never disturbed leaves. Prints how many points were tried and what went wrong at which.
"""

from __future__ import annotations

import filecmp
import json
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from pathlib import Path

from fontTools.ttLib import TTFont

CALLS = "rename,renameat,renameat2,unlink,unlinkat,mkdir,mkdirat,rmdir,link,linkat,fsync,ftruncate,write,pwrite64"
ODDPEG = Path(sys.executable).with_name("oddpeg")
CONFIG = """\
[font]
family = "Tide Marks"
[icons]
from = ["icons/*.svg"]
[bundle.web]
into = "dist"
fonts = ["woff2", "ttf"]
outputs = ["css", "json", "typescript"]
"""


def drawing(size: int) -> str:
    frame = 'xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24"'
    return f'<svg {frame}><path d="M4 4h{size}v{size}H4z"/></svg>'


def prepare(root: Path) -> None:
    """Make a project that was built, and whose next build adds, removes and redraws an icon."""
    (root / "icons").mkdir(parents=True)
    (root / "oddpeg.toml").write_text(CONFIG)
    for number, name in enumerate(("anchor", "buoy", "cleat", "davit")):
        (root / f"icons/{name}.svg").write_text(drawing(8 + number))
    subprocess.run([ODDPEG, "build", "-q"], cwd=root, check=True)
    (root / "icons/buoy.svg").unlink()
    (root / "icons/ensign.svg").write_text(drawing(15))
    (root / "icons/cleat.svg").write_text(drawing(5))


def traced(root: Path, *inject: str, log: str = "/dev/null") -> int:
    command = ["strace", "-f", "-qq", "-o", log, "-e", f"trace={CALLS}", *inject, str(ODDPEG), "build", "-q"]
    return subprocess.run(command, cwd=root, capture_output=True, check=False).returncode


def faults_found(root: Path) -> Iterator[str]:
    """Yield what is wrong with the files on disk as they are."""
    held = set(TTFont(root / "dist/tide-marks.ttf").getBestCmap())
    if held != set(TTFont(root / "dist/tide-marks.woff2").getBestCmap()):
        held &= set(TTFont(root / "dist/tide-marks.woff2").getBestCmap())  # between the two moves
    path = root / "dist/tide-marks.json"
    icons = json.loads(path.read_text())["icons"] if path.exists() else []
    for icon in icons:
        if icon["codepoint"] not in held:
            yield f"the map names {icon['name']}, which a font lacks"
    css = (root / "dist/tide-marks.css").read_text()
    for code in range(0xE000, 0xE010):
        if f'"\\{code:x}"' in css and code not in held:
            yield f"the stylesheet names U+{code:04X}, which a font lacks"
    board = dict(line.split(",")[:2] for line in (root / "pegboard.csv").read_text().splitlines()[1:])
    for name, code in (("anchor", "U+E000"), ("buoy", "U+E001"), ("cleat", "U+E002"), ("davit", "U+E003")):
        if board.get(name) != code:
            yield f"{name} moved to {board.get(name)}"
    if sorted(p.name for p in (root / "icons").iterdir()) != ["anchor.svg", "cleat.svg", "davit.svg", "ensign.svg"]:
        yield "the drawings changed"


def main() -> int:
    """Try every point; return how many went wrong, at most 1."""
    kinds = sys.argv[1:] or ["ENOSPC", "EACCES", "KILL"]
    with tempfile.TemporaryDirectory() as folder:
        base, whole, root = (Path(folder) / name for name in ("base", "whole", "root"))
        prepare(base)
        shutil.copytree(base, whole)
        log = Path(folder) / "log"
        assert traced(whole, log=str(log)) == 0
        calls = [line for line in log.read_text().splitlines() if "(" in line]
        counts = {name: sum(f" {name}(" in line for line in calls) for name in CALLS.split(",")}
        tried = wrong = 0
        for kind in kinds:
            how = "signal=KILL" if kind == "KILL" else f"error={kind}"
            for call, count in counts.items():
                for number in range(1, count + 1):
                    shutil.rmtree(root, ignore_errors=True)
                    shutil.copytree(base, root)
                    code = traced(root, "-e", f"inject={call}:{how}:when={number}")
                    found = list(faults_found(root))
                    if code in (70, -11):
                        found.append(f"ended with {code}")
                    again = subprocess.run(
                        [ODDPEG, "build", "-q"], cwd=root, capture_output=True, text=True, check=False
                    )
                    if again.returncode != 0:
                        found.append(f"the next build ended with {again.returncode}: {again.stderr[:200]}")
                    for name in (
                        "dist/tide-marks.json",
                        "dist/tide-marks.css",
                        "dist/tide-marks.woff2",
                        "pegboard.csv",
                    ):
                        if not (root / name).exists() or not filecmp.cmp(root / name, whole / name, shallow=False):
                            found.append(f"{name} is not what an undisturbed build leaves")
                    tried += 1
                    if found:
                        wrong += 1
                        print(f"{kind} at {call} {number} of {count}: {'; '.join(found)}", flush=True)
        print(f"{tried} points tried ({', '.join(kinds)}), {wrong} went wrong")
        return min(wrong, 1)


if __name__ == "__main__":
    raise SystemExit(main())
