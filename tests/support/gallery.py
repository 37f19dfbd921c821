"""Drawings, one for each feature of SVG that is drawn, and how an independent renderer is given them."""

from __future__ import annotations

from support.scenes import scenes

STROKE = 'fill="none" stroke="#000" stroke-width="3"'
CURVE = "M3 18C6 2 12 26 21 5"

GALLERY = {
    "path-absolute": '<path d="M3 3L20 4 18 20H5V9z"/>',
    "path-relative": '<path d="m3 3l17 1-2 16h-13v-11z"/>',
    "path-moves-are-lines": '<path d="m3 3 10 0 0 10-10 0zm12 12 6 0 0 6-6 0z"/>',
    "path-exponents-and-packed-numbers": '<path d="M3e0 .3e1l1.7E1.5.5 15.5-18 2z"/>',
    "path-cubic-and-smooth": '<path d="M2 12C2 2 10 2 12 12S22 22 22 12L22 20 2 20z"/>',
    "path-quadratic-and-smooth": '<path d="M2 12Q7 0 12 12T22 12V21H2z"/>',
    "path-smooth-without-predecessor": '<path d="M2 20S12 2 22 20z"/><path d="M2 3T12 9 22 3z"/>',
    "path-arcs": '<path d="M4 12A8 8 0 0 1 20 12A8 5 0 0 0 4 12z"/><path d="M6 20a6 2 30 1 0 10 0z"/>',
    "path-arcs-packed-flags": '<path d="M2 12a10 10 0 1120 0a10 10 0 11-20 0zm5 0a5 5 0 1010 0a5 5 0 10-10 0z"/>',
    "path-arc-radii-too-small": '<path d="M4 12A1 1 0 0 1 20 12L12 20z"/>',
    "path-closed-twice": '<path fill="none" stroke="#000" stroke-width="4" stroke-linecap="square" d="M5 8l9 9zz"/>',
    "dash-runs-through-its-start": (
        '<path fill="none" stroke="#000" stroke-width="3" stroke-dasharray="10 4" stroke-dashoffset="5" '
        'd="M5 5H19V19H5z"/>'
    ),
    "stroke-dots": (
        '<g fill="none" stroke="#000" stroke-width="4"><path stroke-linecap="square" d="M5 5zM12 5h0M19 5l0 0"/>'
        '<path stroke-linecap="round" transform="translate(24) scale(-1 1)" d="M5 12zM12 12h0M19 12c0 0 0 0 0 0"/>'
        '<path stroke-linecap="square" transform="rotate(20 12 18) scale(-1 1)" d="M-12 19z"/></g>'
    ),
    "stroke-tiny-loops": (
        '<g fill="none" stroke="#000" stroke-width="4"><circle cx="6" cy="6" r="1"/><circle cx="17" cy="6" r="2.5"/>'
        '<path transform="translate(24) scale(-1 1)" d="M6 17a1 1 0 0 1 2 0 1 1 0 0 1-2 0zM15 16h2v2h-2z"/></g>'
    ),
    "dash-ends-where-its-path-begins": (
        '<path fill="none" stroke="#000" stroke-width="2" stroke-linecap="round" stroke-dasharray="3" '
        'stroke-dashoffset="3" d="M4 4H20V20"/>'
    ),
    "path-draws-on-after-close": '<path d="M3 3h8v8h-8zl9 9v9h9z"/>',
    "rect": '<rect x="3" y="4" width="18" height="15"/>',
    "rect-round": '<rect x="3" y="4" width="18" height="15" rx="5"/>',
    "rect-radii-limited": '<rect x="3" y="4" width="18" height="10" rx="40" ry="3"/>',
    "circle": '<circle cx="12" cy="12" r="9"/>',
    "ellipse": '<ellipse cx="12" cy="12" rx="10" ry="4"/>',
    "line": f'<line x1="3" y1="4" x2="20" y2="19" {STROKE}/>',
    "polyline": f'<polyline points="3,3 12 20,20,4" {STROKE}/>',
    "polygon": '<polygon points="12 2 22 21 2 21"/>',
    "even-odd": '<path fill-rule="evenodd" d="M12 2l6 19L3 9h18L6 21z"/>',
    "non-zero": '<path d="M12 2l6 19L3 9h18L6 21z"/>',
    "hole-by-direction": '<path d="M3 3h18v18H3zM8 8v8h8V8z"/>',
    "style-attribute": '<path style="fill-rule:evenodd;fill:#333" d="M3 3h18v18H3zM8 8h8v8H8z"/>',
    "inherited-paint": f'<g {STROKE}><g stroke-linecap="round"><path d="{CURVE}"/></g></g>',
    "fill-none": '<rect width="24" height="24" fill="none"/><circle cx="12" cy="12" r="6"/>',
    "current-colour": (
        '<g color="#a11"><path fill="currentColor" stroke="none" d="M3 3h18v9z"/></g><path d="M3 15h18v6z"/>'
    ),
    "transform-all-functions": (
        '<g transform="translate(12 12) rotate(30) scale(.8 1.2) skewX(10) skewY(-5) matrix(1 0 .1 1 0 0)">'
        '<rect x="-7" y="-5" width="14" height="10"/></g>'
    ),
    "transform-rotate-about": '<rect x="5" y="8" width="14" height="8" transform="rotate(45 12,12)"/>',
    "transform-mirror": '<g transform="matrix(-1 0 0 1 24 0)"><path d="M3 3h12v4H3z"/></g>',
    "stroke-skewed": f'<path {STROKE} transform="translate(0 6) scale(1 .5)" d="M4 4h16v16z"/>',
    "stroke-mirrored": (
        f'<path {STROKE} stroke-linejoin="round" transform="translate(24 0) scale(-1 1)" d="M4 4h9v16"/>'
    ),
    "cap-butt": f'<path {STROKE} d="M5 6h14M5 17l14-4"/>',
    "cap-round": f'<path {STROKE} stroke-linecap="round" d="M5 6h14M5 17l14-4"/>',
    "cap-square": f'<path {STROKE} stroke-linecap="square" d="M5 6h14M5 17l14-4"/>',
    "cap-on-dots": f'<path {STROKE} stroke-linecap="round" d="M5 6h0M12 12zM19 6h.001"/>',
    "join-miter": f'<path {STROKE} d="M4 20L12 5l8 15"/>',
    "join-miter-limit": f'<path {STROKE} stroke-miterlimit="1.5" d="M4 20L12 5l8 15"/>',
    "join-round": f'<path {STROKE} stroke-linejoin="round" d="M4 20L12 5l8 15"/>',
    "join-bevel": f'<path {STROKE} stroke-linejoin="bevel" d="M4 20L12 5l8 15"/>',
    "stroke-closed": f'<path {STROKE} d="M5 5h14v14H5z"/>',
    "stroke-on-curve": f'<path {STROKE} d="{CURVE}"/>',
    "stroke-wide-on-tight-bend": '<path fill="none" stroke="#000" stroke-width="8" d="M5 18C8 0 16 0 19 18"/>',
    "stroke-on-cusp": '<path fill="none" stroke="#000" stroke-width="3" d="M4 19C24 4 0 4 20 19"/>',
    "stroke-doubling-back": f'<path {STROKE} stroke-linejoin="round" d="M4 12h14H9"/>',
    "dash-odd-list": f'<path {STROKE} stroke-dasharray="3 1 .5" stroke-dashoffset="-2.5" d="M3 4h16v15H3z"/>',
    "dash-within-one-side": f'<path {STROKE} stroke-dasharray="100 7" d="M3 4h16v15H3z"/>',
    "dash-over-curves": (
        f'<path {STROKE} stroke-dasharray="4 0 2 3" stroke-linecap="round" d="M2 12C8-9 14 33 22 9Q12 2 6 20"/>'
    ),
    "dash-round-dots": f'<path {STROKE} stroke-dasharray="0 4" stroke-linecap="round" d="M3 6H21M3 16L20 19"/>',
    "stroke-cusp-in-cubic": f'<path {STROKE} d="M3 18C24 3 0 3 21 18"/><path {STROKE} d="M2 3C9 3 9 3 2 3.5"/>',
    "stroke-turning-back": (
        f'<path {STROKE} d="M4 6h14H7"/><path {STROKE} stroke-linejoin="bevel" d="M4 17L19 17 6 17.5"/>'
    ),
    "join-miter-near-limit": f'<path {STROKE} d="M3 4L20 9 4 13M3 16L21 17.5 3 19"/>',
    "stroke-closed-with-curves": (
        f'<path {STROKE} stroke-linejoin="round" d="M5 5C9 2 16 2 19 5S15 21 12 21 3 8 5 5z"/>'
    ),
    "stroke-wide-inner-corner": '<path fill="none" stroke="#000" stroke-width="7" d="M4 20V6c0-2 1-3 3-3h12"/>',
    "stroke-crossing-itself": f'<path {STROKE} d="M3 6C30 18-4 18 21 6"/>',
    "stroke-round-a-loop": '<path fill="none" stroke="#000" d="M3 20C40-2-16-2 21 20"/>',
    "fill-and-stroke": '<path fill="#777" stroke="#000" stroke-width="2" d="M6 6h12v12H6z"/>',
    "dashes": '<path fill="none" stroke="#000" stroke-width="2" stroke-dasharray="3 2" d="M3 7h18M3 16l18 2"/>',
    "dashes-offset": (
        '<path fill="none" stroke="#000" stroke-width="2" stroke-dasharray="4 2 1" stroke-dashoffset="2.5" d="M4'
        ' 4h16v16H4z"/>'
    ),
    "white-erases": (
        '<circle cx="12" cy="12" r="10"/><path fill="#fff" d="M7 7h10v10H7z"/><circle cx="12" cy="12" r="2"/>'
    ),
    "overlaps": '<path d="M3 3h12v12H3z"/><path d="M9 9v12h12V9z"/><circle cx="9" cy="15" r="4"/>',
    "edges-that-coincide": '<path d="M3 3h8v18H3z"/><path d="M11 3h8v18h-8z"/><path d="M7 3v9h9V3z"/>',
    "curves-that-cross": '<circle cx="9" cy="12" r="6.5"/><circle cx="15" cy="12" r="6.5"/>',
    "style-sheet": (
        "<style>.a{fill:none;stroke:#123;stroke-width:2px} g .b{stroke:none;fill:#000}"
        ' #k{stroke-width:4!important}</style><g><path class="a" d="M3 3l9 12 9-12"/><rect class="a b" x="9" y="2"'
        ' width="6" height="5"/><path class="a" id="k" style="stroke-width:1" d="M3 20h18"/></g>'
    ),
    "use": (
        '<defs><path id="p" d="M2 2h7v7z"/></defs><use href="#p"/><use href="#p" x="10" y="4"/><use href="#p"'
        ' transform="translate(3 12)"/>'
    ),
    "symbol": (
        '<symbol id="s" viewBox="0 0 10 10"><circle cx="5" cy="5" r="5"/></symbol><use href="#s" x="2" y="2" width="12"'
        ' height="8"/>'
    ),
    "nested-svg": '<svg x="4" y="4" width="12" height="12" viewBox="0 0 6 6"><path d="M0 0h9v3z"/></svg>',
    "clip-path": (
        '<clipPath id="c"><circle cx="12" cy="12" r="7"/></clipPath><path clip-path="url(#c)" d="M0 0h24v14z"/>'
    ),
    "clip-path-in-box-units": (
        '<clipPath id="c" clipPathUnits="objectBoundingBox"><circle cx=".5" cy=".5" r=".4"/></clipPath>'
        '<g clip-path="url(#c)"><path d="M2 4h8v16H2z"/><path d="M12 4h9v9z"/></g>'
    ),
    "clip-path-nested": (
        '<clipPath id="a"><path d="M0 0h12v24H0z"/></clipPath><clipPath id="b" clip-path="url(#a)"'
        ' transform="rotate(10)"><circle cx="12" cy="10" r="8"/></clipPath><path clip-path="url(#b)" d="M0'
        ' 0h24v24H0z"/>'
    ),
    "clip-rule": (
        '<clipPath id="c"><path clip-rule="evenodd" d="M2 2h20v20H2zM7 7h10v10H7z"/></clipPath><circle'
        ' clip-path="url(#c)" cx="12" cy="12" r="9"/>'
    ),
    "clip-path-of-a-use": (
        '<defs><path id="p" d="M3 3h12v12H3z"/></defs><clipPath id="c"><use href="#p" x="4" y="4"/></clipPath><path'
        ' clip-path="url(#c)" d="M0 0h24v14z"/>'
    ),
    "mask-by-light": (
        '<mask id="m"><path fill="#fff" d="M2 2h20v20H2z"/><circle cx="12" cy="12" r="5" fill="#000"/></mask><path'
        ' mask="url(#m)" d="M0 0h24v24z"/>'
    ),
    "mask-dark": (
        '<mask id="m"><path fill="#000" d="M4 4h16v16H4z"/></mask><path mask="url(#m)" d="M0 0h24v24z"/><path d="M1'
        ' 1h5v5H1z"/>'
    ),
    "mask-by-alpha": (
        '<mask id="m" style="mask-type:alpha"><circle cx="12" cy="12" r="8" fill="#333"/></mask><path mask="url(#m)"'
        ' d="M0 0h24v24z"/>'
    ),
    "mask-stroked": (
        '<mask id="m" maskUnits="userSpaceOnUse" x="0" y="0" width="24" height="24"><path stroke="#fff"'
        ' stroke-width="5" d="M2 12h20"/></mask><circle mask="url(#m)" cx="12" cy="12" r="9"/>'
    ),
    "markers": (
        '<marker id="a" viewBox="0 0 10 10" refX="5" refY="5" markerWidth="3" markerHeight="3" orient="auto"><path'
        ' d="M0 0l10 5-10 5z"/></marker><path fill="none" stroke="#000" stroke-width="1.5" marker-start="url(#a)"'
        ' marker-mid="url(#a)" marker-end="url(#a)" d="M5 18V8H14L19 5"/>'
    ),
    "markers-in-user-units": (
        '<marker id="a" refX="2" refY="2" markerWidth="4" markerHeight="4" markerUnits="userSpaceOnUse"'
        ' orient="45"><path d="M0 0h4v4H0z"/></marker><polyline fill="none" stroke="#000" style="marker:url(#a)"'
        ' points="5,18 12,6 19,18"/>'
    ),
    "markers-reversed-at-the-start": (
        '<marker id="a" markerWidth="4" markerHeight="4" refX="0" refY="2" orient="auto-start-reverse"><path d="M0 0l4'
        ' 2-4 2z"/></marker><line stroke="#000" x1="9" y1="12" x2="15" y2="9" marker-start="url(#a)"'
        ' marker-end="url(#a)"/>'
    ),
    "path-length": (
        '<path fill="none" stroke="#000" stroke-width="3" pathLength="10" stroke-dasharray="1 1" d="M3 12h18"/>'
    ),
    "geometry-in-styles": (
        '<style>circle{r:7px} rect{width:6px;height:5px}</style><circle cx="12" cy="12"/><rect x="1" y="1" width="20"'
        ' height="20"/>'
    ),
    "transform-origin": '<path transform="rotate(45)" transform-origin="12 12" d="M6 10h12v4H6z"/>',
    "vector-effect": (
        '<g transform="scale(2)"><path fill="none" stroke="#000" stroke-width="3" vector-effect="non-scaling-stroke"'
        ' d="M2 2l8 4-8 4"/></g>'
    ),
    "units": '<rect x="1mm" y=".1in" width="3pt" height="50%"/><circle cx="50%" cy="50%" r="10%"/>',
    "gradient-is-solid": (
        '<linearGradient id="g"><stop stop-color="#000"/><stop offset="1" stop-color="#111"/></linearGradient><circle'
        ' cx="12" cy="12" r="9" fill="url(#g)"/>'
    ),
    "switch": (
        '<switch><g systemLanguage="xx"><path d="M0 0h24v24z"/></g><g systemLanguage="en"><path d="M3'
        ' 3h9v9z"/></g><path d="M12 12h9v9z"/></switch>'
    ),
    "opacities": (
        '<path opacity="1" fill-opacity="100%" d="M3 3h8v8z"/><path fill-opacity="0" d="M0 0h24v24z"/>'
        '<path stroke="#000" stroke-opacity="0" d="M13 13h8v8z"/>'
    ),
    "overflow": '<svg width="9" height="9" overflow="visible"><path d="M3 3h18v9z"/></svg>',
    "boxes-of-the-usual-kind": '<path style="transform-box:view-box" transform="translate(2)" d="M3 3h9v9z"/>',
    "link": '<a href="#x"><path d="M3 3h18v9z"/></a>',
    "editors-leftovers": (
        '<metadata xmlns:ed="urn:e"><ed:x/></metadata><ed:view xmlns:ed="urn:e"><path d="M0 0h24v24z"/></ed:view><path'
        ' d="M3 3h9v9z"/>'
    ),
    "arrow-of-a-closed-path": (
        '<marker id="a" markerWidth="3" markerHeight="3" refX="1.5" refY="1.5" orient="auto"><path d="M0 0l3 1.5L0'
        ' 3z"/></marker><path fill="none" stroke="#000" marker-end="url(#a)" d="M6 6h12v12H6z"/>'
    ),
    "display-none": (
        '<path d="M3 3h9v9z"/><g display="none"><path d="M3 3h18v18z"/></g><path visibility="hidden" d="M0 12h24v12z"/>'
    ),
    "paint-order": (
        '<path d="M2 2h20v20H2z"/><path fill="#000" stroke="#fff" stroke-width="6" paint-order="stroke" d="M8'
        ' 8h8v8H8z"/>'
    ),
}

_SQUARE = '<path d="M4 4h16v16H4z"/>'
EVERYWHERE = 'd="M0 0h24v24H0z"'
MASK = '<mask id="m"><path fill="#fff" d="M4 4h16v16H4z"/></mask>'
ALL = f'<path fill="#fff" {EVERYWHERE}/>'
AREA = f'<mask id="m" maskUnits="userSpaceOnUse" x="4" y="4" width="16" height="16">{ALL}</mask>'
ALPHA = '<style>mask{mask-type:alpha}</style><mask id="m"><path fill="#000" d="M4 4h16v16H4z"/></mask>'
CLIP = '<clipPath id="c"><path d="M4 4h16v16H4z"/></clipPath>'
LINE = '<path fill="none" stroke="#000" stroke-width="3" d="M4 12h16"/>'
TURNED = '<path style="rotate:{};transform-origin:12px 12px" d="M2 4h4v16H2z"/>'
WIDE = '<path d="M4 2h16v4H4z"/>'
MARKED = '<path paint-order="markers stroke" fill="#fff" stroke="#000" stroke-width="6" d="M6 6h12v12H6z"/>'
# CSS that other renderers do not know yet: the drawing, and the same written plainly
STYLED = {
    "var": (
        '<g style="--w:3;--c:none"><path style="stroke:#000;stroke-width:var(--w);fill:var(--c)" d="M4 12h16"/></g>',
        LINE,
    ),
    "var fallback": ('<path style="stroke:var(--x, #000);stroke-width:var(--y,3)" d="M4 12h16"/>', LINE),
    "var invalid": (f'<g fill="none"><path fill="var(--none)" d="M4 4h16v16H4z"/></g>{WIDE}', WIDE),
    "calc": (
        '<rect x="calc(2px + 2px)" y="min(4px, 9px)" width="calc(100% / 2)" height="clamp(1px, 12px, 20px)"/>',
        '<rect x="4" y="4" width="12" height="12"/>',
    ),
    "css d": ("<style>path{d:path('M4 4h16v16H4z')}</style><path d='M0 0h1v1z'/>", _SQUARE),
    "css d none": (f"<path style='d:none' d='M0 0h9v9z'/>{_SQUARE}", _SQUARE),
    "rotate": (TURNED.format("90deg"), WIDE),
    "turn": (TURNED.format(".25turn"), WIDE),
    "scale": ('<path style="scale:2" d="M2 2h8v8H2z"/>', _SQUARE),
    "translate": ('<path style="translate:2px 3px" d="M2 1h16v16H2z"/>', _SQUARE),
    "all three": (
        '<path style="translate:2px;rotate:0deg;scale:2 1" transform="translate(1)" d="M0 4h8v16H0z"/>',
        _SQUARE,
    ),
    "em": ('<g font-size="2"><rect x="2em" y="2em" width="8em" height="8em"/></g>', _SQUARE),
    "mask-image": (f'{MASK}<path style="mask-image:url(#m)" {EVERYWHERE}/>', _SQUARE),
    "mask area": (f'{AREA}<path mask="url(#m)" {EVERYWHERE}/>', _SQUARE),
    "mask-type": (f'{ALPHA}<path mask="url(#m)" {EVERYWHERE}/>', _SQUARE),
    "paint-order": (MARKED, '<path fill-rule="evenodd" d="M3 3h18v18H3zM6 6h12v12H6z"/>'),
    "prefix": (f'<path style="-webkit-clip-path:url(#c)" {EVERYWHERE}/>{CLIP}', _SQUARE),
    "oklch": ('<path fill="oklch(60% 0.15 30)" d="M4 4h16v16H4z"/>', _SQUARE),
    "lab white": (
        f'{_SQUARE}<path fill="lab(100% 0 0)" d="M8 8h8v8H8z"/>',
        f'{_SQUARE}<path fill="#fff" d="M8 8h8v8H8z"/>',
    ),
    "transparent mix": (f'{_SQUARE}<path fill="color-mix(in srgb, transparent, transparent)" {EVERYWHERE}/>', _SQUARE),
}

GALLERY |= {f"css-{name.replace(' ', '-')}": drawn for name, (drawn, _) in STYLED.items()}

GALLERY |= scenes(24, 20, 24, 16)

# what the independent renderer does not know, written in what it knows
PLAINLY = {
    **{f"css-{name.replace(' ', '-')}": plain for name, (_, plain) in STYLED.items()},
    "path-length": (
        GALLERY["path-length"].replace('pathLength="10" stroke-dasharray="1 1"', 'stroke-dasharray="1.8 1.8"')
    ),
    "geometry-in-styles": '<circle cx="12" cy="12" r="7"/><rect x="1" y="1" width="6" height="5"/>',
    "vector-effect": '<path fill="none" stroke="#000" stroke-width="3" d="M4 4l16 8-16 8"/>',
    "units": '<rect x="3.7795" y="9.6" width="4" height="12"/><circle cx="12" cy="12" r="2.4"/>',
    "switch": '<path d="M3 3h9v9z"/>',
    "arrow-of-a-closed-path": (
        '<path fill="none" stroke="#000" d="M6 6h12v12H6z"/>'
        '<path transform="translate(6 6) rotate(-45) translate(-1.5 -1.5)" d="M0 0l3 1.5L0 3z"/>'
    ),
}

FRAMES = {
    "frame-with-origin": ("-12 -12 24 24", '<circle r="9"/>'),
    "frame-wide": ("0 0 48 24", '<path d="M2 2h44v20z"/>'),
    "frame-tiny": ("0 0 1 1", '<path d="M.1.1h.8v.8z"/>'),
    "frame-fractional": ("0 0 20.5 13.7", '<path d="M2 2h15v9z"/>'),
}


def drawings() -> dict[str, tuple[str, str]]:
    """Return (viewBox, body) of every drawing, by name."""
    return {**{name: ("0 0 24 24", body) for name, body in GALLERY.items()}, **FRAMES}


def plain_svg(name: str, size: str) -> str:
    """The drawing as the independent renderer is given it."""
    box, body = drawings()[name]
    return f'<svg xmlns="http://www.w3.org/2000/svg" {size} viewBox="{box}">{PLAINLY.get(name, body)}</svg>'
