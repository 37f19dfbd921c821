"""Copies of drawings hold what is on a list, and nothing that runs, loads or leads elsewhere."""

from __future__ import annotations

from typing import Any

import pytest

from oddpeg.svg.clean import clean_copy
from support.data import table

DATA = table("clean")

FRAME = 'xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24"'
PATH = '<path d="M4 4h16v16H4z"/>'


def copy(body: str, root: str = "") -> str:
    return clean_copy(f"<svg {FRAME}{root}>{body}</svg>".encode()).svg


HOSTILE = DATA["hostile"]


@pytest.mark.parametrize(("body", "root"), HOSTILE)
def test_nothing_that_runs_or_loads_is_copied(body: str, root: str) -> None:
    try:
        found = copy(body + PATH, root)
    except Exception as problem:
        assert type(problem).__name__ == "DrawingError", "refused, as no drawing"
        return
    assert "x()" not in found and 'd="M4 4h16v16H4z"' in found
    assert not any(word in found.lower() for word in ("<script", "onload", "onclick", "javascript", "http://else"))


KEPT = DATA["kept"]


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
