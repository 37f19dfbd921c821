"""A variable font against static ones: bytes and seconds, on the drawings of the demo's line face.

The static fonts are those that the same weights take: one for each.
"""

from __future__ import annotations

import subprocess
import sys
import tempfile
import time
from pathlib import Path

from oddpeg.demo.sample import sample_files

_ODDPEG = Path(sys.executable).with_name("oddpeg")
_HEAD = '[font]\nfamily = "Bench"\n\n[face.line]\nfrom = ["icons/**/*.svg"]\nweight = 400\n\n'
_BUNDLE = '[bundle.web]\ninto = "dist"\nfonts = ["woff2"]\n'
_STATIC = '[face.w{0}]\nof = "line"\nstrokes = {1}\nweight = {0}\n\n'
_WEIGHTS = {200: 0.5, 700: 1.75}


def build(folder: Path, config: str) -> tuple[float, int]:
    """Return the seconds that a cold build takes, and the bytes of its fonts."""
    for file in sample_files():
        if file.name.startswith("icons/") and file.name.endswith(".svg"):
            (folder / file.name).parent.mkdir(parents=True, exist_ok=True)
            (folder / file.name).write_bytes(file.data)
    (folder / "oddpeg.toml").write_text(config, encoding="utf-8")
    started = time.perf_counter()
    subprocess.run([_ODDPEG, "build", "--quiet"], cwd=folder, check=True)
    return time.perf_counter() - started, sum(font.stat().st_size for font in (folder / "dist").glob("*.woff2"))


def main() -> None:
    """Print the figures."""
    static = {w: _STATIC.format(w, f) for w, f in _WEIGHTS.items()}
    table = ", ".join(f"{w} = {f}" for w, f in _WEIGHTS.items())
    heavier = next(f"{w} = {f}" for w, f in _WEIGHTS.items() if w > 400)
    cases = {
        "static, 400": "",
        "static, 400 and 700": static[700],
        "static, 200, 400 and 700": "".join(static.values()),
        "variable, 400 to 700": f'[axis.weight]\nof = "line"\nstrokes = {{ {heavier} }}\n\n',
        "variable, 200 to 700": f'[axis.weight]\nof = "line"\nstrokes = {{ {table} }}\n\n',
    }
    for name, tables in cases.items():
        with tempfile.TemporaryDirectory() as folder:
            seconds, size = build(Path(folder), _HEAD + tables + _BUNDLE)
        print(f"{name:<26} {size:>7,} bytes of WOFF2  {seconds:5.2f} s")


if __name__ == "__main__":
    main()
