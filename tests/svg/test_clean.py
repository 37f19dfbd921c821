"""Copies of drawings hold what is on a list, and nothing that runs, loads or leads elsewhere."""

from __future__ import annotations

from typing import Any

import pytest

from oddpeg.svg.clean import clean_copy

FRAME = 'xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24"'
PATH = '<path d="M4 4h16v16H4z"/>'


def copy(body: str, root: str = "") -> str:
    return clean_copy(f"<svg {FRAME}{root}>{body}</svg>".encode()).svg


HOSTILE = [
    ("", ' onload="x()"'),
    ("", ' ONLOAD="x()"'),
    ("", '\nonLoad\n=\n"x()"'),
    ('<path onclick="x()" d="M1 1z"/>', ""),
    ("<path/onclick='x()'/>", ""),
    ("<script>x()</script>", ""),
    ("<SCRIPT>x()</SCRIPT>", ""),
    ('<script xmlns="urn:other">x()</script>', ""),
    ('<h:script xmlns:h="http://www.w3.org/1999/xhtml">x()</h:script>', ""),
    ('<a href="javascript:x()"><path d="M1 1z"/></a>', ""),
    ('<a xmlns:l="http://www.w3.org/1999/xlink" l:href="JavaScript:x()"/>', ""),
    ('<use href="data:image/svg+xml,x()"/>', ""),
    ('<use href="http://elsewhere.example/x()"/>', ""),
    ('<image href="http://elsewhere.example/x()"/>', ""),
    ("<foreignObject><body onload='x()'/></foreignObject>", ""),
    ('<set attributeName="href" to="javascript:x()"/>', ""),
    ('<animate attributeName="onload" values="x()"/>', ""),
    ('<g style="fill:url(http://elsewhere.example/x())"/>', ""),
    ('<g style="fill:u\\72l(//x())"/>', ""),
    ('<g style="fill:url/**/(//x())"/>', ""),
    ("<style>@import 'x()';</style>", ""),
    ("<style>@im\\70ort url(x());</style>", ""),
    ('<style>path{background:url("//x()")}</style>', ""),
    ('<handler xmlns="http://www.w3.org/2000/svg" type="x()"/>', ""),
    ('<iframe src="x()"/>', ""),
]


@pytest.mark.parametrize(("body", "root"), HOSTILE)
def test_nothing_that_runs_or_loads_is_copied(body: str, root: str) -> None:
    try:
        found = copy(body + PATH, root)
    except Exception as problem:
        assert type(problem).__name__ == "DrawingError", "refused, as no drawing"
        return
    assert "x()" not in found and 'd="M4 4h16v16H4z"' in found
    assert not any(word in found.lower() for word in ("<script", "onload", "onclick", "javascript", "http://else"))


KEPT = [
    '<linearGradient id="g"><stop offset="1" stop-color="#123"/></linearGradient><path fill="url(#g)" d="M1 1z"/>',
    '<style>.a{fill:none}</style><path class="a" d="M1 1z"/>',
    '<use href="#p"/><g style="stroke:#000;stroke-width:2" transform="rotate(45 12 12)"><path id="p" d="M1 1z"/></g>',
    '<clipPath id="c"><rect width="9" height="9"/></clipPath><g clip-path="url(#c)" fill-rule="evenodd"/>',
    "<title>Anchor</title><desc>holds</desc>",
]


@pytest.mark.parametrize("body", KEPT)
def test_what_draws_is_copied_as_it_is(body: str) -> None:
    assert copy(body) == f"<svg {FRAME}>{body}</svg>"


def test_what_a_link_holds_is_drawn() -> None:
    assert copy(f'<a href="javascript:1">{PATH}</a>') == f"<svg {FRAME}><g>{PATH}</g></svg>"


def test_no_copy_runs_anything_in_a_browser(browser: Any, tmp_path: Any) -> None:
    """Every copy as markup in one page without a security policy, where whatever can run does."""
    copies = []
    for body, root in HOSTILE:
        try:
            copies.append(copy((body + PATH).replace("x()", "window.ran=1"), root.replace("x()", "window.ran=1")))
        except Exception:
            continue
    page = tmp_path / "page.html"
    page.write_text(f"<!doctype html><script>window.ran=0</script>{''.join(copies)}")
    browser.get(page.as_uri())
    for element in browser.find_elements("css selector", "svg, svg *"):
        browser.execute_script("arguments[0].dispatchEvent(new MouseEvent('click', {bubbles: true}))", element)
    assert len(copies) > 15 and browser.execute_script("return window.ran") == 0
