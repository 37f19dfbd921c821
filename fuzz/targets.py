"""What is fuzzed: path data, whole drawings, drawings made of SVG's own words, style sheets, configs, pegboards,
records, fonts and maps. Who makes the bytes is another matter: fuzz/run.py with coverage guidance, the tests without.

Each target takes bytes and returns nothing; it raises where the program does what it must never do: any exception but
the documented ones, numbers that are not numbers, points beyond what a font can hold, an icon that is neither drawn
nor refused with a cure, or more than `MOST_SECONDS` of work.
"""

from __future__ import annotations

import contextlib
import json
import math
import tempfile
import time
import tomllib
from collections.abc import Sequence
from dataclasses import asdict
from pathlib import Path

import numpy as np

from oddpeg.building.text_cache import TextCache
from oddpeg.checking.examine import examine
from oddpeg.config.settings import Config
from oddpeg.config.validation import validated
from oddpeg.diagnostics import OddPegError, UsageError
from oddpeg.font.read.glyphs import codepoints, glyph_names, read_font
from oddpeg.iconset.metadata import Metadata
from oddpeg.outline.model import Options
from oddpeg.outline.pipeline import frame_height, outline_files
from oddpeg.outline.placement import Em
from oddpeg.outputs.generated import is_generated
from oddpeg.pegboard.adoption import adopt
from oddpeg.pegboard.board import Pegboard
from oddpeg.pegboard.codes import Codes
from oddpeg.pegboard.file_format import board_text, parse_board
from oddpeg.pegboard.maps import read_names
from oddpeg.pegboard.settle import settle
from oddpeg.project.titles import titles_of
from oddpeg.store.cache import cache_file
from oddpeg.store.ledger import read_ledger
from oddpeg.store.records import read_record
from oddpeg.store.transaction import interrupted
from oddpeg.svg.path_data import PathFault, parse_path

MOST_SECONDS = 10.0
OPTIONS = Options(Em(1000))

SEEDS = (
    (
        b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24"><path d="M4 12l8-8 8 8-8 8zM9 12a3 3 0 1 0 6 0 3'
        b' 3 0 0 0-6 0z"/></svg>'
    ),
    (
        b'<svg xmlns="http://www.w3.org/2000/svg" width="2em" height="10%"><style>.a{fill:none;stroke:#fff'
        b' !important}</style><g class="a" transform="matrix(1 .2 -.2 1 3 4)"><circle cx="5" cy="5" r="4"/><use'
        b' href="#b" x="3"/></g><defs><rect id="b" width="4" height="3"/></defs></svg>'
    ),
    (
        b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24"><clipPath id="c"><path d="M0'
        b' 0h12v24H0z"/></clipPath><mask id="m"><rect width="20" height="20" fill="#fff"/></mask><g'
        b' clip-path="url(#c)"><path mask="url(#m)" d="M2 2c9 0 9 9 18 9S2 30 2 2" fill="none" stroke="#000"'
        b' stroke-width="3" stroke-dasharray="4 1" stroke-linejoin="round"/></g></svg>'
    ),
)


def path_data(data: bytes) -> None:
    """Read bytes as the `d` of a path."""
    try:
        path = parse_path(data.decode("utf-8", "replace"))
    except PathFault as fault:
        path = fault.path
    assert all(map(math.isfinite, path.coords)), "a coordinate that is no number"


def svg_file(data: bytes) -> None:
    """Take bytes through the whole journey, and over the bench that `check` puts them on."""
    start = time.perf_counter()
    height = frame_height(data)
    assert height is None or (math.isfinite(height) and height > 0), "a frame without a height"
    result = outline_files([data], OPTIONS)[0]
    assert (result.outline is None) == (result.problem is not None), "neither drawn nor refused"
    if result.problem is not None:
        assert result.problem.code != "internal-error", result.problem.reason
        assert result.problem.what and result.problem.cure, "refused without a cure"
    if result.outline is not None:
        assert len(result.outline.ends) and np.abs(result.outline.xy).max() < 32_768, "beyond what a font can hold"
        assert 0 <= result.outline.advance < 65_536, "an advance beyond what a font can hold"
    assert examine([(data, None)], OPTIONS)[0].usable == (result.outline is not None), "check and build disagree"
    assert time.perf_counter() - start < MOST_SECONDS, "too slow"


_NUMBERS = (
    "0",
    "1",
    "-1",
    "24",
    "0.001",
    "1e-9",
    "1e9",
    "-1e30",
    "12.5",
    "100%",
    "2em",
    "NaN",
    "inf",
    ".5.5",
    "1-1",
    "",
    "calc(1px)",
    "99999",
)
_REFS = (
    "#a",
    "#b",
    "#c",
    "#d",
    "#nowhere",
    "x.svg#a",
    "url(#a)",
    "url(#b)",
    "url(#c)",
    "none",
    "javascript:1",
    "file:///etc/passwd",
)
_PAINTS = (
    "none",
    "#fff",
    "#000",
    "white",
    "currentColor",
    "url(#a)",
    "url(#b) red",
    "rgba(0,0,0,.3)",
    "inherit",
    "context-fill",
    "huh",
)
_ELEMENTS = (
    "path",
    "rect",
    "circle",
    "ellipse",
    "line",
    "polyline",
    "polygon",
    "g",
    "use",
    "symbol",
    "svg",
    "defs",
    "clipPath",
    "mask",
    "marker",
    "switch",
    "a",
    "text",
    "image",
    "linearGradient",
    "pattern",
    "style",
    "title",
    "filter",
    "animate",
    "foreignObject",
)
_TEXTS = {
    "d": (
        "M0 0h9v9z",
        "M1 1L20 3 4 18",
        "M2 2C20 0 0 20 20 20",
        "M5 5a5 4 30 1 0 9 0z",
        "M0 0q9 0 9 9t9 9",
        "m1 1",
        "M0 0l0 0",
        "M1 1L1e9 1",
        "z",
        "M0 0A0 0 0 0 0 9 9",
    ),
    "points": ("0,0 9,0 9,9", "1 1", "1,1 2", "0 0 24 24 24 0 0 24"),
    "transform": (
        "rotate(45)",
        "scale(0)",
        "matrix(1 0 0 1 0 0)",
        "skewX(90)",
        "scale(1e9)",
        "translate(5)rotate(9,1,1)",
        "rotate(",
        "matrix(1 2 2 4 0 0)",
    ),
    "viewBox": ("0 0 24 24", "0 0 0 0", "-5 -5 10 10", "0 0 1e-9 1", "0 0 24", "0 0 1e9 1e9", "0 0 100 1"),
    "preserveAspectRatio": ("none", "xMinYMax slice", "defer xMidYMid", "huh"),
    "stroke-dasharray": ("1", "3 2", "0", "0 0", "-1", "1e-9", "5%", "none", "1,,2"),
    "stroke-linejoin": ("round", "bevel", "miter", "arcs"),
    "stroke-linecap": ("round", "square", "butt"),
    "fill-rule": ("evenodd", "nonzero"),
    "clip-rule": ("evenodd",),
    "vector-effect": ("non-scaling-stroke",),
    "paint-order": ("stroke", "markers fill"),
    "display": ("none", "inline"),
    "visibility": ("hidden", "visible"),
    "id": ("a", "b", "c", "d"),
    "class": ("a", "b c"),
    "style": ("fill:none;stroke:red", "stroke-width:3!important", "{", "fill:url(#b)", "transform-origin:50% 50%"),
    "clipPathUnits": ("objectBoundingBox",),
    "maskContentUnits": ("objectBoundingBox",),
    "markerUnits": ("userSpaceOnUse",),
    "orient": ("auto", "45", "auto-start-reverse"),
}
_VALUES = {
    **_TEXTS,
    **dict.fromkeys(
        (
            "x",
            "y",
            "width",
            "height",
            "cx",
            "cy",
            "r",
            "rx",
            "ry",
            "x1",
            "y1",
            "x2",
            "y2",
            "stroke-width",
            "stroke-miterlimit",
            "stroke-dashoffset",
            "pathLength",
            "opacity",
            "fill-opacity",
            "markerWidth",
            "refX",
        ),
        _NUMBERS,
    ),
    **dict.fromkeys(("href", "clip-path", "mask", "marker-mid", "marker-start", "filter"), _REFS),
    **dict.fromkeys(("fill", "stroke"), _PAINTS),
}
_NAMES = tuple(_VALUES)


class _Picker:
    """Turns bytes into choices."""

    def __init__(self, data: bytes) -> None:
        self._data = data
        self._at = 0

    def below(self, count: int) -> int:
        if self._at >= len(self._data):
            return 0
        self._at += 1
        return self._data[self._at - 1] % count

    def one(self, options: Sequence[str]) -> str:
        return options[self.below(len(options))]

    @property
    def over(self) -> bool:
        return self._at >= len(self._data)


def made_of_words(data: bytes) -> bytes:
    """Return a well-formed file that bytes choose: elements, attributes and values that SVG knows, in any
    combination."""
    pick = _Picker(data)
    out: list[str] = []
    open_: list[str] = []
    while not pick.over and len(out) < 400:
        if open_ and pick.below(4) == 0:
            out.append(f"</{open_.pop()}>")
            continue
        name = pick.one(_ELEMENTS)
        attributes = {key: pick.one(_VALUES[key]) for key in (pick.one(_NAMES) for _ in range(pick.below(7)))}
        text = "".join(f' {key}="{value}"' for key, value in attributes.items())
        inner = ".a{fill:none;stroke:#123;stroke-width:2} #b>*{fill:white}" if name == "style" else ""
        if pick.below(3) == 0 and len(open_) < 40:
            open_.append(name)
            out.append(f"<{name}{text}>{inner}")
        else:
            out.append(f"<{name}{text}>{inner}</{name}>")
    out += [f"</{name}>" for name in reversed(open_)]
    frame = pick.one(_TEXTS["viewBox"])
    return f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="{frame}">{"".join(out)}</svg>'.encode()


def words(data: bytes) -> None:
    """Take a file made of SVG's own words through the journey."""
    svg_file(made_of_words(data))


def style_sheet(data: bytes) -> None:
    """Read bytes as the style sheet, a style attribute and a paint of a drawing."""
    text = "".join(c for c in data.decode("utf-8", "replace") if c >= " " or c in "\t\n")
    safe = text.replace("&", "&amp;").replace("<", "&lt;").replace('"', "&quot;")
    frame = 'xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24"'
    svg_file(f'<svg {frame}><style>{safe}</style><path style="{safe}" d="M4 4h9v9z"/></svg>'.encode())
    svg_file(
        f'<svg {frame}><g stroke="{safe}" stroke-width="{safe}"><path fill="{safe}" d="M4 4h9v9z"/></g></svg>'.encode()
    )


def config(data: bytes) -> None:
    """Read bytes as an `oddpeg.toml`."""
    text = data.decode("utf-8", "replace")
    try:
        values = tomllib.loads(text)
    except (tomllib.TOMLDecodeError, RecursionError):
        return
    try:
        valid = validated(values, "oddpeg.toml", text)
    except UsageError as problem:
        assert all(d.what and d.cure for d in problem.diagnostics)
    else:
        assert asdict(Config.from_values(json.loads(json.dumps(asdict(valid))))) == asdict(valid)


def pegboard(data: bytes) -> None:
    """Read bytes as a pegboard, and settle it."""
    text = data.decode("utf-8", "replace")
    codes = Codes((range(0xE000, 0xE400),))
    for read in (parse_board, lambda text: settle(text, codes, "next", lambda icon, code: None).board):
        try:
            found = read(text)
        except OddPegError as problem:
            assert all(d.what and d.cure for d in problem.diagnostics)
        else:
            assert parse_board(board_text(found)) == found, "does not read back as it was written"


def records(data: bytes) -> None:
    """Read bytes as every record and cache there is."""
    with tempfile.TemporaryDirectory() as folder:
        root = Path(folder)
        (root / ".oddpeg/cache").mkdir(parents=True)
        names = ("delivered", "shown", "seals", "arrivals", "drawings", "journal")
        for name in (*(f"{name}.json" for name in names), cache_file().removeprefix(".oddpeg/")):
            (root / ".oddpeg" / name).write_bytes(data)
        ledger = read_ledger(root)
        assert not ledger.trusted
        ledger.updated({"web": {"dist/x": "0"}}, {}).files(root)
        read_record(root, "arrivals.json")
        assert not interrupted(root)
        TextCache(root).get(lambda: "text", 1)
        titles_of(root, [])
    is_generated(data)


def font(data: bytes) -> None:
    """Read bytes as a font that is compared, and one that codepoints are taken from."""
    for read in (read_font, glyph_names, codepoints):
        with contextlib.suppress(ValueError):
            read(data)
    is_generated(data)


def glyph_map(data: bytes) -> None:
    """Read bytes as a map of names to codepoints."""
    try:
        found = read_names(data, "map")
    except OddPegError as problem:
        assert all(d.what and d.cure for d in problem.diagnostics)
    else:
        adopt(Pegboard(), found, {"anchor"}, "", False, True)


def table(data: bytes) -> None:
    """Read bytes as an `icons.csv`."""
    found = Metadata()
    found.read_table(data.decode("utf-8", "replace"), "icons.csv")
    found.refuse_unknown({"anchor", "buoy"})
    found.settle_aliases({"anchor", "buoy"}, set())


TARGETS = {
    "path": path_data,
    "svg": svg_file,
    "words": words,
    "css": style_sheet,
    "config": config,
    "pegboard": pegboard,
    "records": records,
    "font": font,
    "map": glyph_map,
    "table": table,
}


_CSS = (
    b"path:not(.a)>g{fill:color-mix(in oklch,red 20%,lab(50% 20 none))!important;--a:calc(1px + var(--b,2em));"
    b"d:path('M0 0')}"
)
_TOML = b"""[font]
family = "Tide"
drop = 0.1
[icons]
from = ["icons/**/*.svg"]
[bundle.web]
into = "dist"
fonts = ["woff2"]
outputs = ["css", {kind = "json", to = "x.json"}]
"""
_BOARD = (
    b"icon,codepoint,state\n<<<<<<< a\nanchor,U+E000,live\n=======\nbuoy,U+E000,alias\n>>>>>>> b\nx,U+E001,retired\n"
)


def fonts() -> list[bytes]:
    """Return a small font in every format that is read."""
    from oddpeg.font.write.compile import FontCompiler
    from oddpeg.font.write.glyphset import Glyph
    from oddpeg.font.write.info import FontInfo

    outline = outline_files([SEEDS[0]], OPTIONS)[0].outline
    assert outline is not None
    compiler = FontCompiler([Glyph.of("anchor", 0xE000, outline)], FontInfo("Tide", "1.0", 1000, 875, -125))
    return [compiler.write(kind, True) for kind in ("ttf", "woff", "woff2")]


_SEEDS_OF: dict[str, Sequence[bytes]] = {
    "svg": SEEDS,
    "css": (_CSS, b"fill:rgb(from red r g b / .5)", b"translate:1px 2px;rotate:1turn;mix-blend-mode:screen"),
    "config": (_TOML,),
    "pegboard": (_BOARD,),
    "records": (b'{"bundles": {"web": {"dist/x": "0"}}}', b'{"icons": {"a": "b"}}', b'{"shown": {"web": {"a": 1}}}'),
    "map": (
        b'{"anchor": "e001", "icons": [{"name": "x", "codepoint": 1}]}',
        b"a,U+E001\n",
        b"<svg><glyph unicode='a'/></svg>",
    ),
    "table": (b"icon,aliases,tags\nanchor,hook; x,a|b\nbuoi,,\n",),
}


def seeds_of(name: str) -> Sequence[bytes]:
    """Return what a target's fuzzing begins with."""
    return fonts() if name == "font" else _SEEDS_OF.get(name, ())
