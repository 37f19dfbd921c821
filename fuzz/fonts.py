"""Damaged fonts through every command that reads one: `python fuzz/fonts.py FIRST_SEED COUNT [FOLDER ...]`.

Each font is one of the demo's, of this machine's, or of the folders, with bytes of one table or of the whole file
changed; then every command of `COMMANDS` runs on it as the installed `oddpeg` does. What is printed is a finding: an
end that is neither success nor a named error, more than `MOST_SECONDS` of processor time, more than `MOST_MEMORY`, or a
written font that the sanitizer of browsers refuses. A font with a finding is kept in `fuzz-out`.
"""

from __future__ import annotations

import io
import os
import shutil
import subprocess
import sys
import tempfile
from collections import Counter
from collections.abc import Iterator
from importlib import import_module
from pathlib import Path
from random import Random

import ots
from fontTools.ttLib.sfnt import SFNTReader, SFNTWriter

from oddpeg.cli import entry

for _name in ("building.run", "compare.run", "existing_fonts.inspect", "existing_fonts.repack"):
    import_module(f"oddpeg.{_name}")  # once for all commands that run

MOST_SECONDS = 10.0
MOST_MEMORY = 500_000  # kB
MOST_BYTES = 130_000  # of a font to start from
COMMANDS = (
    "inspect {0}",
    "inspect {0} --sheet sheet.png",
    "repack {0} --only U+E000-U+E040 --only U+0041-U+005A --into part",
    "repack {0} --into whole",
    "build",
    "pegs adopt {0}",
    "compare {0} {0}",
)
_CONFIG = """\
[font]
family = "Tide Marks"
[icons]
from = ["icons/*.svg", "{0}"]
[bundle.web]
into = "dist"
fonts = ["woff2", "ttf"]
outputs = ["css"]
"""
_ICON = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24"><path d="M4 4h9v9H4z"/></svg>'
_WORDS = (b"\xff\xff\xff\xff", bytes(4), b"\x7f\xff\xff\xff", b"\x80\0\0\0", b"\0\1\0\0", b"\xff\xff", b"\0\0")


def originals(folders: list[str]) -> list[Path]:
    """Return the fonts to start from."""
    found = [path for folder in folders for path in Path(folder).rglob("*")]
    kinds = (".ttf", ".otf", ".woff", ".woff2")
    return sorted(p for p in found if p.suffix.lower() in kinds and p.stat().st_size <= MOST_BYTES)


def damaged(data: bytes, random: Random) -> bytes:
    """Return a font with some bytes changed: anywhere, or in one table, whose container is then made anew."""
    if random.random() < 0.4 or data[:4] == b"wOF2":
        return _spoiled(data, random, head=True)
    reader, out = SFNTReader(io.BytesIO(data)), io.BytesIO()
    tags = sorted(reader.keys())
    chosen = {random.choice(tags) for _ in range(random.choice((1, 1, 2)))}
    flavor = random.choice((None, None, "woff"))
    writer = SFNTWriter(out, len(tags), reader.sfntVersion, flavor, None)
    for tag in tags:
        writer[tag] = _spoiled(reader[tag], random) if tag in chosen and reader[tag] else reader[tag]
    writer.close()
    return out.getvalue()


def _spoiled(data: bytes, random: Random, head: bool = False) -> bytes:
    """Return data with some bytes changed. head: half of them near its begin."""
    new = bytearray(data)
    for _ in range(random.choice((1, 1, 2, 5, 20))):
        at = random.randrange(min(2000, len(new)) if head and random.random() < 0.5 else len(new))
        kind = random.random()
        if kind < 0.5:
            new[at] = random.randrange(256)
        elif kind < 0.8:
            word = random.choice(_WORDS)
            new[at : at + len(word)] = word
        elif kind < 0.85:
            del new[max(12, at) :]
        else:
            new[at:at] = new[at : at + 8]
    return bytes(new)


def run(command: str, folder: Path) -> tuple[int, float, int]:
    """Run a command in a folder; return its exit code, seconds of processor time, and kB of memory."""
    child = os.fork()
    if not child:
        os.chdir(folder)
        out = os.open("printed", os.O_CREAT | os.O_WRONLY)
        os.dup2(out, 1)
        os.dup2(out, 2)
        sys.argv = ["oddpeg", *command.split()]
        code: object = 1
        try:
            entry.main()
        except SystemExit as ended:
            code = ended.code
        os._exit(code if isinstance(code, int) else 0)
    _, status, used = os.wait4(child, 0)
    return os.waitstatus_to_exitcode(status), used.ru_utime + used.ru_stime, used.ru_maxrss


def refused(folder: Path, given: Path) -> Iterator[str]:
    """Yield the fonts in a folder, other than the given one, that the sanitizer refuses."""
    for path in originals([str(folder)]):
        if path != given:
            done = ots.sanitize(str(path), "/dev/null", capture_output=True)
            if done.returncode:
                yield f"{path.relative_to(folder)}: {done.stderr.decode(errors='replace').strip()[:120]}"


def main() -> None:
    first, count, *folders = sys.argv[1:]
    codes: Counter[int] = Counter()
    wrong = written = 0
    worst, most = 0.0, 0
    with tempfile.TemporaryDirectory() as scratch:
        shutil.copytree(Path(__file__).parents[1] / "src/oddpeg/demo/project", f"{scratch}/demo")
        subprocess.run([Path(sys.executable).with_name("oddpeg"), "build", "-q"], cwd=f"{scratch}/demo", check=False)
        fonts = originals([scratch, "/usr/share/fonts", *folders])
        for seed in range(int(first), int(first) + int(count)):
            random = Random(seed)
            path = random.choice(fonts)
            data = damaged(path.read_bytes(), random)
            ending = ".woff" if data[:4] == b"wOFF" else path.suffix
            for command in COMMANDS:
                root = Path(scratch) / "project"
                (root / "icons").mkdir(parents=True)
                font = root / f"given{ending}"
                font.write_bytes(data)
                (root / "icons/square.svg").write_text(_ICON)
                (root / "oddpeg.toml").write_text(_CONFIG.format(font.name))
                code, seconds, memory = run(command.format(font.name), root)
                codes[code] += 1
                worst, most = max(worst, seconds), max(most, memory)
                found = [*refused(root, font)]
                written += len(originals([str(root)])) - 1
                if code not in (0, 1, 2):
                    found.append(f"ended with {code}")
                if seconds > MOST_SECONDS or memory > MOST_MEMORY:
                    found.append(f"{seconds:.1f} s, {memory // 1000} MB")
                if found:
                    wrong += 1
                    kept = Path("fuzz-out") / f"font-{seed}{ending}"
                    kept.parent.mkdir(exist_ok=True)
                    kept.write_bytes(data)
                    print(f"FOUND {seed} {path.name} {command.format(kept)}: {'; '.join(found)}", flush=True)
                shutil.rmtree(root)
    print(f"{count} fonts, ends {dict(codes)}, {written} fonts written; at worst {worst:.1f} s, {most // 1000} MB")
    print(f"{wrong} findings")
    sys.exit(1 if wrong else 0)


if __name__ == "__main__":
    main()
