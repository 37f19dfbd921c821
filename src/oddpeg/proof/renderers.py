"""Renderers of SVG that may be installed. Each runs in processes of its own, with a time limit, so that no drawing can
stop or slow down a proof.
"""

from __future__ import annotations

import base64
import importlib.util
import io
import sys
import tempfile
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from oddpeg.browser.programs import BROWSERS, find_program, run, sandbox_flags
from oddpeg.proof.report import Witness
from oddpeg.proof.resvg_process import PACKED, READY

NAMES = ("resvg", "chromium", "rsvg-convert")  # in the order of preference
_BATCH_SECONDS, _SECONDS = 60, 10  # for many drawings at once, and for one alone
_PAGE = 4096  # pixels of a side of a browser's page

Pixels = NDArray[np.uint8]  # (height, width, 4): red, green, blue and alpha, not premultiplied


class Rendering(NamedTuple):
    """A file to render at a size in pixels.

    Attributes:
        natural: width and height that the file gives itself, in px.
    """

    svg: bytes
    width: int
    height: int
    natural: tuple[float, float]


def find_witness(name: str = "") -> Witness | None:
    """Return a renderer that is installed, or None. name: of the only one that is wanted."""
    finders: dict[str, Callable[[], Witness | None]] = {
        "resvg": _resvg,
        "chromium": lambda: _program("chromium", BROWSERS),
        "rsvg-convert": lambda: _program("rsvg-convert", ("rsvg-convert",)),
    }
    return next(filter(None, (finders[wanted]() for wanted in ([name] if name else NAMES))), None)


def _resvg() -> Witness | None:
    if importlib.util.find_spec("resvg_py") is None:
        return None
    answer = run([*_RESVG, "--version"], _SECONDS)
    return Witness("resvg", answer.decode("ascii", "replace").strip()) if answer else None


def _program(name: str, programs: Sequence[str]) -> Witness | None:
    found = find_program(programs)
    return Witness(name, found.version, found.path) if found else None


def render(witness: Witness, renderings: Sequence[Rendering]) -> list[Pixels | None]:
    """Return the picture of each file, None where the witness renders none. Where files fail together, each is tried
    alone."""
    work = {"resvg": _with_resvg, "chromium": _with_browser, "rsvg-convert": _with_rsvg}[witness.name]
    pictures = work(witness, renderings, _BATCH_SECONDS) if renderings else []
    if pictures is None:
        alone = [work(witness, [rendering], _SECONDS) or [None] for rendering in renderings]
        pictures = [picture for some in alone for picture in some]
    fitting = zip(pictures, renderings, strict=True)
    return [p if p is not None and p.shape[:2] == (r.height, r.width) else None for p, r in fitting]


def _picture(png: bytes) -> Pixels | None:
    """Return the pixels of a PNG; None where it is none."""
    try:
        with Image.open(io.BytesIO(png), formats=["PNG"]) as image:
            return np.asarray(image.convert("RGBA"))
    except (OSError, ValueError, Image.DecompressionBombError):
        return None


# -- resvg ------------------------------------------------------------------------------------

_RESVG = (sys.executable, "-P", "-m", "oddpeg.proof.resvg_process")  # -P: no modules of the current folder


def _with_resvg(_: Witness, renderings: Sequence[Rendering], seconds: float) -> list[Pixels | None] | None:
    sent = b"".join(PACKED.pack(r.width, r.height, len(r.svg)) + r.svg for r in renderings)
    answer = run(_RESVG, seconds, sent)
    if answer is None:
        return None
    pictures = []
    while len(answer) >= READY.size:
        (size,) = READY.unpack_from(answer)
        pictures.append(_picture(answer[READY.size : READY.size + size]))
        answer = answer[READY.size + size :]
    return pictures if len(pictures) == len(renderings) else None


# -- rsvg-convert -----------------------------------------------------------------------------


def _with_rsvg(witness: Witness, renderings: Sequence[Rendering], seconds: float) -> list[Pixels | None] | None:
    # a file from standard input has no place, so that nothing next to it can be read
    commands = ([witness.path, "-w", str(r.width), "-h", str(r.height)] for r in renderings)
    return [
        _picture(run(command, min(seconds, _SECONDS), r.svg) or b"")
        for command, r in zip(commands, renderings, strict=True)
    ]


# -- a browser --------------------------------------------------------------------------------

_FLAGS = (
    "--headless=new",
    "--disable-gpu",
    "--disable-extensions",
    "--disable-lcd-text",
    "--force-device-scale-factor=1",
    "--hide-scrollbars",
    "--no-first-run",
    "--default-background-color=00000000",
)
_STYLE = "body{margin:0}img{position:absolute;transform-origin:0 0}"


def _with_browser(witness: Witness, renderings: Sequence[Rendering], seconds: float) -> list[Pixels | None] | None:
    pictures: list[Pixels | None] = []
    for page in _pages(renderings):
        images = "".join(_image(renderings[number], *place) for number, place in page.items())
        wide = max(left + renderings[n].width for n, (left, _) in page.items())
        high = max(top + renderings[n].height for n, (_, top) in page.items())
        whole = _screenshot(witness, f"<!doctype html><style>{_STYLE}</style>{images}", wide, high, seconds)
        if whole is None:
            return None
        for number, (left, top) in page.items():
            one = renderings[number]
            pictures.append(whole[top : top + one.height, left : left + one.width])
    return pictures


def _pages(renderings: Sequence[Rendering]) -> list[dict[int, tuple[int, int]]]:
    """Return the place of each picture (left, top) by its number, on one page after the other."""
    pages: list[dict[int, tuple[int, int]]] = [{}]
    left = top = bottom = 0
    for number, (_, width, height, _) in enumerate(renderings):
        if left and left + width > _PAGE:
            left, top = 0, bottom
        if pages[-1] and top + height > _PAGE:
            pages.append({})
            left = top = bottom = 0
        pages[-1][number] = left, top
        left, bottom = left + width, max(bottom, top + height)
    return pages


def _image(rendering: Rendering, left: int, top: int) -> str:
    """Return an image for a page. A file in `<img>` cannot run scripts or load anything. It is laid out at its natural
    size and magnified, so that strokes that do not scale have their width."""
    data = base64.b64encode(rendering.svg).decode()
    wide, high = rendering.natural
    if not 8 < min(wide, high) <= max(wide, high) < 2000:  # lengths on a page have 64ths of a pixel and an end
        wide, high = rendering.width, rendering.height
    scale = f"scale({rendering.width / wide!r},{rendering.height / high!r})"
    style = f"left:{left}px;top:{top}px;width:{wide!r}px;height:{high!r}px;transform:{scale}"
    return f'<img decoding="sync" style="{style}" src="data:image/svg+xml;base64,{data}">'


def _screenshot(witness: Witness, page: str, width: int, height: int, seconds: float) -> Pixels | None:
    with tempfile.TemporaryDirectory(prefix="oddpeg-", ignore_cleanup_errors=True) as folder:
        file, picture = Path(folder) / "page.html", Path(folder) / "page.png"
        file.write_text(page, encoding="utf-8")
        own = (
            f"--user-data-dir={folder}/profile",
            f"--screenshot={picture}",
            f"--window-size={max(500, width)},{height}",
        )
        if run([witness.path, *_FLAGS, *sandbox_flags(), *own, file.as_uri()], seconds, folder=folder) is None:
            return None
        try:
            return _picture(picture.read_bytes())
        except OSError:
            return None
