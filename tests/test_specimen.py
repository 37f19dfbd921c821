"""The specimen page in Chromium: search, keyboard, copy, deep links, dark mode, phone width, a font that fails, thousands of icons, hostile names."""

from __future__ import annotations

import json
import re
from pathlib import Path
from typing import Any

import pytest
from selenium.webdriver import ActionChains
from selenium.webdriver.common.keys import Keys

from conftest import Project
from oddpeg.outputs.catalogue import Catalogue, Icon, Surroundings
from oddpeg.outputs.registry import KINDS


def visit(browser: Any, path: Path, fragment: str = "", wide: int = 1280) -> None:
    browser.set_window_size(wide, 900)
    browser.get("about:blank")
    browser.get(path.as_uri() + fragment)
    browser.execute_async_script("const done = arguments[0]; document.fonts.ready.then(() => requestAnimationFrame(() => done()))")


@pytest.fixture
def specimen(browser: Any, demo: Project) -> Any:
    visit(browser, demo.root / "dist/web/saltmarsh-signs-specimen.html")
    return browser


def names(browser: Any) -> list[str]:
    found: list[str] = browser.execute_script("return [...document.querySelectorAll('#shown button span:last-child')].map(s => s.textContent)")
    return found


def chosen(browser: Any) -> str:
    return str(browser.execute_script("return document.querySelector('#panel h2')?.textContent ?? ''"))


def press(browser: Any, *keys: str) -> None:
    ActionChains(browser).send_keys(*keys).perform()


def test_search_as_you_type_ranked_over_names_aliases_tags_and_codepoints(specimen: Any) -> None:
    press(specimen, "/", "seagull")
    assert names(specimen) == ["gull"] and chosen(specimen) == "gull"
    press(specimen, Keys.ESCAPE)
    assert len(names(specimen)) > 30
    press(specimen, "tide lo")
    assert names(specimen) == ["tide-low"] and "q=tide+lo" in specimen.current_url
    press(specimen, Keys.ESCAPE, "U+E001")
    assert names(specimen) == ["anchor"]
    press(specimen, Keys.ESCAPE, "zeppelin")
    assert names(specimen) == [] and specimen.execute_script("return document.getElementById('panel').hidden")


def test_arrows_move_and_enter_copies(specimen: Any) -> None:
    specimen.execute_cdp_cmd("Browser.grantPermissions", {"permissions": ["clipboardReadWrite", "clipboardSanitizedWrite"]})
    press(specimen, "/", "life", Keys.ARROW_DOWN)
    specimen.execute_script("document.getElementById('query').blur()")
    press(specimen, Keys.ARROW_RIGHT)
    name = chosen(specimen)
    assert name in names(specimen) and name != names(specimen)[0] and f"icon={name}" in specimen.current_url
    press(specimen, "/", "gull", Keys.ENTER)
    read = "const done = arguments[0]; setTimeout(() => navigator.clipboard.readText().then(done, e => done(String(e))), 150)"
    assert specimen.execute_async_script(read) == '<span class="salt-icon salt-gull"></span>'
    specimen.find_element("css selector", '[aria-label="copy typescript"]').click()
    assert specimen.execute_async_script(read) == 'saltmarshSignsPegs["gull"].character'


def test_copied_lines_are_those_of_use(specimen: Any, demo: Project) -> None:
    press(specimen, "/", "gull")
    shown = specimen.execute_script("return [...document.querySelectorAll('.lines li')].map(li => [li.children[0].textContent, li.children[1].textContent])")
    lines = json.loads(demo.run("use", "gull", "--json").stdout)["lines"]
    assert shown == [[li["place"], li["text"]] for li in lines]


def test_a_deep_link_opens_the_icon(browser: Any, demo: Project) -> None:
    visit(browser, demo.root / "dist/web/saltmarsh-signs-specimen.html", "#q=tide&icon=tide-low")
    assert chosen(browser) == "tide-low" and set(names(browser)) == {"tide-high", "tide-low"}


def test_dark_mode_and_phone_width(browser: Any, demo: Project) -> None:
    path = demo.root / "dist/web/saltmarsh-signs-specimen.html"
    browser.execute_cdp_cmd("Emulation.setEmulatedMedia", {"features": [{"name": "prefers-color-scheme", "value": "dark"}]})
    visit(browser, path)
    assert browser.execute_script("return getComputedStyle(document.body).backgroundColor") == "rgb(16, 24, 29)"
    browser.execute_cdp_cmd("Emulation.setEmulatedMedia", {"features": []})
    browser.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", {"width": 390, "height": 844, "deviceScaleFactor": 1, "mobile": True})
    visit(browser, path)
    assert browser.execute_script("return document.documentElement.scrollWidth <= 390") and len(names(browser)) >= 9
    browser.execute_cdp_cmd("Emulation.clearDeviceMetricsOverride", {})


def test_a_font_that_fails_is_said(browser: Any, demo: Project, tmp_path: Path) -> None:
    text = demo.read("dist/web/saltmarsh-signs-specimen.html")
    for page, hidden in ((text, True), (re.sub(r"(base64,)\w{40}", r"\1AAAA", text, count=1), False)):
        (tmp_path / "page.html").write_text(page, encoding="utf-8")
        visit(browser, tmp_path / "page.html")
        assert browser.execute_script("return document.getElementById('alarm').hidden") is hidden


def test_thousands_of_icons_keep_few_cells_in_the_page(browser: Any, demo: Project, tmp_path: Path) -> None:
    icons = tuple(Icon(f"sign-{i:04}", 0xF0000 + i, "", 1000, tags=("odd" if i % 2 else "even",)) for i in range(5000))
    font = demo.bytes("dist/web/saltmarsh-signs.woff2")
    page = KINDS["specimen"].write(Catalogue("Many", "1", "many", 1000, 0.125, "m", "m-icon", icons), Surroundings(files={"woff2": font}, lines=lambda name: [("html", name)]))
    (tmp_path / "many.html").write_text(page, encoding="utf-8")
    visit(browser, tmp_path / "many.html")
    assert len(names(browser)) < 200
    press(browser, "/", "4321")
    assert names(browser) == ["sign-4321"]
    press(browser, Keys.ESCAPE, "odd")
    assert browser.execute_script("return document.getElementById('count').textContent") == "2500 of 5000" and len(names(browser)) < 200
    browser.execute_script("scrollTo(0, 1e6)")
    browser.execute_async_script("const done = arguments[0]; requestAnimationFrame(() => requestAnimationFrame(() => done()))")
    assert "sign-4999" in names(browser)


def test_hostile_names_and_titles_stay_text(browser: Any, tmp_path: Path) -> None:
    nasty = '</script><script>window.hit=1</script><img src=x onerror="window.hit=1">'
    icons = (Icon(nasty, 0xE000, "", 1000, title=nasty, aliases=(nasty,), tags=(nasty,), licence=nasty, credit=nasty),)
    page = KINDS["specimen"].write(Catalogue(nasty, nasty, "x", 1000, 0.125, "m", "m-icon", icons, licence=nasty), Surroundings(files={"woff2": b"wOF2"}, lines=lambda name: [(nasty, nasty)]))
    (tmp_path / "page.html").write_text(page, encoding="utf-8")
    visit(browser, tmp_path / "page.html")
    assert chosen(browser) == nasty and browser.execute_script("return [window.hit, document.images.length, document.scripts.length]") == [None, 0, 2]
    browser.execute_script("const s = document.createElement('script'); s.textContent = 'window.hit = 2'; document.body.append(s)")
    assert browser.execute_script("return window.hit") is None, "the page's own policy lets no other script run"
