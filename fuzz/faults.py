"""Fails, or kills, a command at each of its system calls that change something, one call at a time, with strace.

    python fuzz/faults.py [COMMAND ...] [ENOSPC|EACCES|KILL ...]

COMMAND is one of `build`, `repack`, `retire`, `usage` and `watch`; without one, all are tried. After each fault, the
files are looked at: each is as it was before or as an undisturbed run leaves it (texts of a build lose icons before
its fonts do), no temporary file lies beside them, and no delivered text names an icon that its font lacks. Then the
command must succeed without a fault, and leave what an undisturbed run leaves. Prints how many points were tried and
what went wrong at which.
"""

from __future__ import annotations

import json
import shutil
import signal
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import NamedTuple

from fontTools.ttLib import TTFont

CALLS = "rename,renameat,renameat2,unlink,unlinkat,mkdir,mkdirat,rmdir,link,linkat,fsync,ftruncate,write,pwrite64"
KINDS = {"ENOSPC": "error=ENOSPC", "EACCES": "error=EACCES", "KILL": "signal=KILL"}
ODDPEG = str(Path(sys.executable).with_name("oddpeg"))
PATIENCE = 30.0  # seconds until a watcher has written
CONFIG = """\
[font]
family = "Tide Marks"
[icons]
from = ["icons/*.svg"]
[classes]
prefix = "tm"
[bundle.web]
into = "dist"
fonts = ["woff2", "ttf"]
outputs = ["css", "json", "typescript"]
"""
State = dict[str, bytes]


class Scenario(NamedTuple):
    """A command and the project for it.

    Attributes:
        command: what the fault strikes.
        again: what is run afterwards, which must succeed.
        prepare: changes a project that was built.
        faults: yields what is wrong with the files as they are, beside the general rule.
    """

    command: list[str]
    again: list[str]
    prepare: Callable[[Path], None]
    faults: Callable[[Path], Iterator[str]] = lambda root: iter(())


def drawing(size: int) -> str:
    frame = 'xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24"'
    return f'<svg {frame}><path d="M4 4h{size}v{size}H4z"/></svg>'


def built(root: Path) -> None:
    (root / "icons").mkdir(parents=True)
    (root / "oddpeg.toml").write_text(CONFIG)
    for number, name in enumerate(("anchor", "buoy", "cleat", "davit")):
        (root / f"icons/{name}.svg").write_text(drawing(8 + number))
    subprocess.run([ODDPEG, "build", "-q"], cwd=root, check=True)


def redrawn(root: Path) -> None:
    """Let the next build add, remove and redraw an icon."""
    (root / "icons/buoy.svg").unlink()
    (root / "icons/ensign.svg").write_text(drawing(15))
    (root / "icons/cleat.svg").write_text(drawing(5))


def repacked(root: Path) -> None:
    """Let the next repack replace the files of an earlier one."""
    font = root / "dist/tide-marks.ttf"
    shutil.copy(font, root / "given.ttf")
    subprocess.run([ODDPEG, "repack", "given.ttf", "--into", "part", "-q"], cwd=root, check=True)


def misspelt(root: Path) -> None:
    (root / "app").mkdir()
    for name in ("one", "two", "three"):
        (root / f"app/{name}.html").write_text('<i class="tm-icon tm-ancor"></i><i class="tm-icon tm-anchor"></i>')


def mixed(root: Path) -> Iterator[str]:
    """Yield icons that a delivered text names and a font lacks, and codepoints that moved."""
    held = set(TTFont(root / "dist/tide-marks.ttf").getBestCmap())
    held &= set(TTFont(root / "dist/tide-marks.woff2").getBestCmap())  # between the two moves
    path = root / "dist/tide-marks.json"
    for icon in json.loads(path.read_text())["icons"] if path.exists() else []:
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


BUILD = ["build", "-q"]
REPACK = ["repack", "given.ttf", "--only", "U+E000-U+E001", "--into", "part", "--force", "-q"]
FIX = ["usage", "--fix", "--yes", "-q"]
SCENARIOS = {
    "build": Scenario(BUILD, BUILD, redrawn, mixed),
    "repack": Scenario(REPACK, REPACK, repacked),
    "retire": Scenario(["pegs", "retire", "buoy", "davit"], ["pegs", "list"], lambda root: None),
    "usage": Scenario(FIX, FIX, misspelt),
    "watch": Scenario(["watch", "-q"], BUILD, redrawn, mixed),
}


def state(root: Path) -> State:
    """Return the files of a project, without Odd Peg's own."""
    files = (path for path in root.rglob("*") if path.is_file() and ".oddpeg" not in path.parts[len(root.parts) :][:1])
    return {path.relative_to(root).as_posix(): path.read_bytes() for path in files}


def traced(command: list[str], root: Path, *inject: str, log: str = "/dev/null") -> int:
    """Run a command under strace; return its exit code. A watcher is ended when it has delivered two changes."""
    strace = ["strace", "-f", "-qq", "-o", log, "-e", f"trace={CALLS}", *inject, ODDPEG, *command]
    if command[0] != "watch":
        return subprocess.run(strace, cwd=root, capture_output=True, check=False).returncode
    with subprocess.Popen(strace, cwd=root, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL) as process:
        if _delivered(process, root, "ensign"):
            (root / "icons/flag.svg").write_text(drawing(3))
            _delivered(process, root, "flag")
        time.sleep(0.5)  # until it has tidied up
        if process.poll() is None:
            subprocess.run(["pkill", "-INT", "-P", str(process.pid)], check=False)
            try:
                process.wait(PATIENCE)
            except subprocess.TimeoutExpired:
                process.send_signal(signal.SIGKILL)
        return process.wait()


def _delivered(process: subprocess.Popen[bytes], root: Path, icon: str) -> bool:
    """Wait until a stylesheet has an icon; return whether that came before the process ended."""
    until = time.monotonic() + PATIENCE
    while process.poll() is None and time.monotonic() < until:
        if f".tm-{icon}::" in (root / "dist/tide-marks.css").read_text():
            return True
        time.sleep(0.05)
    return False


def points(log: Path) -> Iterator[tuple[str, int, int]]:
    """Yield each call that a run made: its name, its number from 1, and the count of its kind."""
    calls = log.read_text().splitlines()
    for name in CALLS.split(","):
        count = sum(f" {name}(" in line for line in calls)
        yield from ((name, number, count) for number in range(1, count + 1))


def struck(scenario: Scenario, root: Path, code: int, before: State, whole: State) -> Iterator[str]:
    """Yield what is wrong after a fault, and after the run that follows it."""
    if code in (70, -11):
        yield f"ended with {code}"
    for name, data in state(root).items():
        if ".part" in name and scenario.command[0] != "repack":  # outside of a project, the next run tidies up
            yield f"{name} was left"
        elif ".part" not in name and data not in (before.get(name), whole.get(name)) and scenario.faults is not mixed:
            yield f"{name} is neither old nor new"
    yield from scenario.faults(root)
    if scenario.command[0] == "watch":
        (root / "icons/flag.svg").write_text(drawing(3))
    again = subprocess.run([ODDPEG, *scenario.again], cwd=root, capture_output=True, text=True, check=False)
    if again.returncode:
        yield f"the next run ended with {again.returncode}: {again.stderr[:200]}"
    now = state(root)
    yield from (f"{name} was left by both runs" for name in now if ".part" in name)
    if scenario.command == scenario.again or scenario.command[0] == "watch":
        yield from (f"{name} is not what an undisturbed run leaves" for name in whole if now.get(name) != whole[name])
    elif now not in (before, whole):
        yield "the change is half done"


def main() -> int:
    """Try every point; return how many went wrong, at most 1."""
    kinds = [word for word in sys.argv[1:] if word in KINDS] or list(KINDS)
    names = [word for word in sys.argv[1:] if word in SCENARIOS] or list(SCENARIOS)
    failed = 0
    for name in names:
        scenario = SCENARIOS[name]
        tried = wrong = 0
        with tempfile.TemporaryDirectory() as folder:
            base, whole, root, log = (Path(folder) / word for word in ("base", "whole", "root", "log"))
            built(base)
            scenario.prepare(base)
            shutil.copytree(base, whole)
            traced(scenario.command, whole, log=str(log))
            before, after = state(base), state(whole)
            assert before != after, f"{name} does nothing"
            for kind in kinds:
                for call, number, count in points(log):
                    if kind == "EACCES" and "write" in call:
                        continue  # never refused for want of rights, but when the file is opened
                    shutil.rmtree(root, ignore_errors=True)
                    shutil.copytree(base, root)
                    code = traced(scenario.command, root, "-e", f"inject={call}:{KINDS[kind]}:when={number}")
                    found = list(struck(scenario, root, code, before, after))
                    tried += 1
                    if found:
                        wrong += 1
                        print(f"{name}: {kind} at {call} {number} of {count}: {'; '.join(found)}", flush=True)
        print(f"{name}: {tried} points tried ({', '.join(kinds)}), {wrong} went wrong", flush=True)
        failed += wrong
    return min(failed, 1)


if __name__ == "__main__":
    raise SystemExit(main())
