"""The process in which resvg renders drawings: `python -P -m oddpeg.proof.resvg_process`.

Reads files from standard input, each behind a `PACKED` head (width, height and length), and writes the PNG of each
behind a `READY` head (length; 0 where it is not rendered).
"""

from __future__ import annotations

import struct
import sys

PACKED = struct.Struct("<III")
READY = struct.Struct("<I")


def main() -> None:
    """Render the files from standard input, or print the version."""
    import resvg_py

    if sys.argv[1:] == ["--version"]:
        sys.stdout.write(f"{resvg_py.__resvg_version__}\n")
        return
    while head := sys.stdin.buffer.read(PACKED.size):
        width, height, size = PACKED.unpack(head)
        svg = sys.stdin.buffer.read(size).decode("utf-8")
        try:
            png = bytes(resvg_py.svg_to_bytes(svg_string=svg, width=width, height=height, skip_system_fonts=True))
        except ValueError:
            png = b""
        sys.stdout.buffer.write(READY.pack(len(png)) + png)


if __name__ == "__main__":
    main()
