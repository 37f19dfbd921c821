"""The specimen page in Chromium: search, keyboard, copy, filters, deep links, dark mode, phone width, print,
accessibility, a font that fails, thousands of icons, hostile names."""

from __future__ import annotations

import base64
import json
import re
import subprocess
from io import BytesIO
from pathlib import Path
from typing import Any

import pytest
from fontTools.pens.boundsPen import BoundsPen
from fontTools.ttLib import TTFont
from selenium.webdriver.common.keys import Keys

from oddpeg.iconset.model import Icon
from oddpeg.outputs.context import FaceFiles, OutputContext, Snippet
from oddpeg.outputs.escape import policy_digest
from oddpeg.outputs.registry import KINDS
from support.icon_sets import icon_set
from support.pages import chosen, chromium, names, pick, press, visit
from support.project import CONFIG, RING, SQUARE, ProjectFolder

# how the page looks, and what is open on it
STATES = """
#q=gull&words=open&using=open #q=zeppelin #show=findings&sort=newest dark#words=open&using=open&icon=gull
phone#icon=ferry phone-dark history#show=retired history-dark#show=findings
"""


def bytes_of(content: str | bytes) -> bytes:
    return content if isinstance(content, bytes) else content.encode()


@pytest.fixture
def specimen(browser: Any, demo: ProjectFolder) -> Any:
    visit(browser, demo.root / "dist/web/saltmarsh-signs-specimen.html")
    return browser


def address(browser: Any) -> str:
    """Return the address once the page has had the time to write it."""
    browser.execute_async_script("setTimeout(arguments[0], 250)")
    return str(browser.current_url)


def test_search_as_you_type_ranked_over_names_aliases_tags_and_codepoints(specimen: Any) -> None:
    press(specimen, "/", "seagull")
    assert names(specimen) == ["gull"] and chosen(specimen) == "gull"
    press(specimen, Keys.ESCAPE)
    assert len(names(specimen)) > 30
    press(specimen, "tide lo")
    assert names(specimen) == ["tide-low"] and "q=tide+lo" in address(specimen)
    press(specimen, Keys.ESCAPE, "U+E001")
    assert names(specimen) == ["anchor"]
    press(specimen, Keys.ESCAPE, "zeppelin")
    assert names(specimen) == [] and specimen.execute_script("return document.getElementById('panel').hidden")


def test_arrows_move_and_enter_copies(specimen: Any) -> None:
    specimen.execute_cdp_cmd(
        "Browser.grantPermissions", {"permissions": ["clipboardReadWrite", "clipboardSanitizedWrite"]}
    )
    press(specimen, "/", "life", Keys.ARROW_DOWN)
    specimen.execute_script("document.getElementById('query').blur()")
    press(specimen, Keys.ARROW_RIGHT)
    name = chosen(specimen)
    assert name in names(specimen) and name != names(specimen)[0] and f"icon={name}" in address(specimen)
    press(specimen, "/", "gull", Keys.ENTER)
    read = (
        "const done = arguments[0]; setTimeout(() => navigator.clipboard.readText().then(done, e => done(String(e))),"
        " 150)"
    )
    assert specimen.execute_async_script(read) == '<span class="salt-icon salt-gull"></span>'
    specimen.find_element("css selector", '[aria-label="copy typescript"]').click()
    assert specimen.execute_async_script(read) == 'saltmarshSignsIcons["gull"].character'


def test_copied_lines_are_those_of_use(specimen: Any, demo: ProjectFolder) -> None:
    press(specimen, "/", "gull")
    shown = specimen.execute_script(
        "return [...document.querySelectorAll('.lines li')].map(li => [li.children[0].textContent,"
        " li.children[1].textContent])"
    )
    lines = demo.json("use", "gull")["lines"]
    each = dict.fromkeys((li["place"], li["text"]) for li in lines if not li["once"])  # what bundles share stands once
    assert shown == [list(line) for line in each]


def carried(page: str) -> list[dict[str, Any]]:
    """Return what a page knows of each icon: what it lists, and what its panel says besides."""

    def script(name: str) -> str:
        return page.partition(f'id="{name}">')[2].partition("</script>")[0]

    details = script("details").split("\n")
    return [row | json.loads(line) for row, line in zip(json.loads(script("icons"))["icons"], details, strict=True)]


def test_a_deep_link_opens_the_icon(browser: Any, demo: ProjectFolder) -> None:
    visit(browser, demo.root / "dist/web/saltmarsh-signs-specimen.html", "#q=tide&icon=tide-low")
    assert chosen(browser) == "tide-low" and set(names(browser)) == {"tide-high", "tide-low"}


def test_dark_mode_and_phone_width(browser: Any, demo: ProjectFolder) -> None:
    path = demo.root / "dist/web/saltmarsh-signs-specimen.html"
    browser.execute_cdp_cmd(
        "Emulation.setEmulatedMedia", {"features": [{"name": "prefers-color-scheme", "value": "dark"}]}
    )
    visit(browser, path)
    assert browser.execute_script("return getComputedStyle(document.body).backgroundColor") == "rgb(16, 24, 29)"
    browser.execute_cdp_cmd("Emulation.setEmulatedMedia", {"features": []})
    for width in (320, 390):
        browser.execute_cdp_cmd(
            "Emulation.setDeviceMetricsOverride",
            {"width": width, "height": 844, "deviceScaleFactor": 1, "mobile": True},
        )
        visit(browser, path, "#words=open&using=open")
        assert (
            browser.execute_script("return document.documentElement.scrollWidth") <= width and len(names(browser)) >= 6
        )
        browser.execute_script("document.querySelector('#shown button').click()")
        assert chosen(browser) == "ahead" and browser.execute_script("return panel.scrollWidth <= panel.clientWidth")
    browser.execute_cdp_cmd("Emulation.clearDeviceMetricsOverride", {})


def test_scroll_bars_hide_nothing_of_the_panel(client: Any, demo: ProjectFolder) -> None:
    with chromium(client("chromium"), client("chromedriver"), without="hide-scrollbars") as browser:
        visit(browser, demo.root / "dist/web/saltmarsh-signs-specimen.html", "#icon=ferry")
        bar, inside, parts = browser.execute_script("""
          const right = (one) => one.getBoundingClientRect().right;
          const drawn = panel.querySelectorAll(".board, img, figure");
          const bar = panel.offsetWidth - panel.clientWidth;
          return [bar, right(panel) - bar, [...drawn].map(right)]""")
    assert bar > 8 and len(parts) >= 3 and max(parts) <= inside


def test_a_font_that_fails_is_said(browser: Any, demo: ProjectFolder, tmp_path: Path) -> None:
    text = demo.read("dist/web/saltmarsh-signs-specimen.html")
    style = text.partition("<style>")[2].partition("</style>")[0]
    broken = re.sub(r"(base64,)[\w+/]{40}", r"\1AAAA", style, count=1)
    spoilt = text.replace(style, broken).replace(policy_digest(style), policy_digest(broken))
    assert broken != style and spoilt.count(policy_digest(broken)) == 1
    for page, hidden in ((text, True), (spoilt, False)):
        (tmp_path / "page.html").write_bytes(bytes_of(page))
        visit(browser, tmp_path / "page.html")
        browser.execute_async_script("setTimeout(arguments[0], 400)")
        assert browser.execute_script("return document.getElementById('alarm').hidden") is hidden


def test_thousands_of_icons_keep_few_cells_in_the_page(browser: Any, demo: ProjectFolder, tmp_path: Path) -> None:
    icons = tuple(Icon(f"sign-{i:04}", 0xF0000 + i, "", 1000, tags=("odd" if i % 2 else "even",)) for i in range(5000))
    font = demo.bytes("dist/web/saltmarsh-signs-line.woff2")
    page = KINDS["specimen"].write(
        icon_set(icons, "Many"),
        OutputContext((FaceFiles("", files={"woff2": font}),), snippets=lambda name: [Snippet("html", name)]),
    )
    (tmp_path / "many.html").write_bytes(bytes_of(page))
    visit(browser, tmp_path / "many.html")
    assert len(names(browser)) < 200
    press(browser, "/", "4321")
    assert names(browser) == ["sign-4321"]
    press(browser, Keys.ESCAPE, "odd")
    assert (
        browser.execute_script("return document.getElementById('count').textContent") == "2500 of 5000"
        and len(names(browser)) < 200
    )
    browser.execute_script("scrollTo(0, 1e6)")
    browser.execute_async_script(
        "const done = arguments[0]; requestAnimationFrame(() => requestAnimationFrame(() => done()))"
    )
    assert "sign-4999" in names(browser)


def test_hostile_names_and_titles_stay_text(browser: Any, tmp_path: Path) -> None:
    nasty = '</script><script>window.hit=1</script><img src=x onerror="window.hit=1">'
    icons = (Icon(nasty, 0xE000, "", 1000, title=nasty, aliases=(nasty,), tags=(nasty,), licence=nasty, credit=nasty),)
    page = KINDS["specimen"].write(
        icon_set(icons, nasty, nasty, nasty),
        OutputContext((FaceFiles("", files={"woff2": b"wOF2"}),), snippets=lambda name: [Snippet(nasty, nasty)]),
    )
    (tmp_path / "page.html").write_bytes(bytes_of(page))
    visit(browser, tmp_path / "page.html")
    assert chosen(browser) == nasty and browser.execute_script(
        "return [window.hit, document.images.length, document.scripts.length]"
    ) == [None, 0, 3]
    browser.execute_script(
        "const s = document.createElement('script'); s.textContent = 'window.hit = 2'; document.body.append(s)"
    )
    assert browser.execute_script("return window.hit") is None, "the page's own policy lets no other script run"


def ring(radius: float) -> str:
    return RING.replace('r="8"', f'r="{radius}"')


@pytest.fixture(scope="module")
def history(tmp_path_factory: pytest.TempPathFactory) -> ProjectFolder:
    """A set with a past, to be looked at."""
    return with_history(tmp_path_factory.mktemp("history"))


def with_history(root: Path) -> ProjectFolder:
    """A set with a past: pier came with 1.1, quay with 1.2; reef is retired; drift has a finding; its drawing names
    its author's files."""
    drawn = SQUARE.replace(
        "<svg", '<svg xmlns:ed="http://editor.example/" ed:docname="/home/someone/secret.svg"'
    ).replace("<path", "<!-- mine --><title>Drift ice</title><path")
    project = ProjectFolder(root / "set").config(CONFIG.replace("[icons]", 'version = "1.0"\n\n[icons]'))
    project.icon("anchor", ring(4)).icon("buoy", ring(5)).icon("reef").deliver()
    (project.root / "icons/reef.svg").unlink()
    text = (project.root / "oddpeg.toml").read_text(encoding="utf-8")
    for version, name, radius in (("1.1", "pier", 6), ("1.2", "quay", 7)):
        project.config(text.replace('version = "1.0"', f'version = "{version}"')).icon(name, ring(radius)).deliver()
    project.icon("drift", drawn.replace("M4 4", "M-6 4")).deliver()
    return project


def test_filters_and_sorting(browser: Any, history: ProjectFolder) -> None:
    page = history.root / "dist/tide-marks-specimen.html"
    visit(browser, page)
    offered = browser.execute_script("return [...document.getElementById('show').options].map(o => o.textContent)")
    assert offered == ["every icon", "new since 1.0 (3)", "new since 1.1 (2)", "with findings (1)", "retired (1)"]
    for show, expected in (
        ("since 1.0", ["drift", "pier", "quay"]),
        ("since 1.1", ["drift", "quay"]),
        ("findings", ["drift"]),
        ("retired", ["reef"]),
    ):
        pick(browser, "show", show)
        assert names(browser) == expected
    assert (
        browser.execute_script("return document.querySelector('#panel code').textContent") == "oddpeg pegs restore reef"
    )
    assert "show=retired" in address(browser)
    visit(browser, page, "#show=since+1.1&sort=newest")
    assert names(browser) == ["drift", "quay"]
    pick(browser, "show", "")
    assert names(browser) == ["drift", "quay", "pier", "buoy", "anchor"]
    pick(browser, "sort", "codepoint")
    assert names(browser) == ["anchor", "buoy", "pier", "quay", "drift"]


def test_findings_are_those_of_check(browser: Any, history: ProjectFolder) -> None:
    visit(browser, history.root / "dist/tide-marks-specimen.html", "#icon=drift")
    told = browser.execute_script("return [...document.querySelectorAll('.findings li')].map(li => li.textContent)")
    report = history.json("check")
    drift = next(d for d in report["drawings"] if d["icon"] == "drift")
    graver = [f for f in drift["findings"] if f["level"] in ("warning", "error")]
    assert len(told) == len(graver) > 0 and all(f["what"] in line for f, line in zip(graver, told, strict=True))


def test_the_drawing_stands_beside_its_glyph_and_can_be_copied(browser: Any, history: ProjectFolder) -> None:
    browser.execute_cdp_cmd(
        "Browser.grantPermissions", {"permissions": ["clipboardReadWrite", "clipboardSanitizedWrite"]}
    )
    visit(browser, history.root / "dist/tide-marks-specimen.html", "#icon=drift")
    assert (
        browser.execute_async_script(
            "const done = arguments[0], i = document.querySelector('#panel img'); i.decode().then(() =>"
            " done(i.naturalWidth), () => done(0))"
        )
        > 0
    )
    browser.find_element("css selector", "figcaption button").click()
    copied = browser.execute_async_script(
        "const done = arguments[0]; setTimeout(() => navigator.clipboard.readText().then(done), 150)"
    )
    assert copied.startswith("<svg") and "M-6 4" in copied and "Drift ice" in copied
    for secret in ("secret", "editor.example", "mine"):
        assert secret not in copied and secret not in history.read("dist/tide-marks-specimen.html")


def test_the_stage_shows_grid_baseline_and_the_ink_of_the_font(specimen: Any, demo: ProjectFolder) -> None:
    press(specimen, "/", "ferry")
    left, top, wide, high, base, pixel = specimen.execute_script("""
      const b = document.querySelector('.board'), [i, l] = ['.ink', '.base'].map(s => b.querySelector(s).style);
      return [i.left, i.top, i.width, i.height, l.top, b.style.getPropertyValue('--pixel')].map(parseFloat)""")
    font = TTFont(BytesIO(demo.bytes("dist/desktop/saltmarsh-signs-line.ttf")))
    pen, em = BoundsPen(None), font["head"].unitsPerEm
    font.getGlyphSet()["ferry"].draw(pen)
    x0, y0, x1, y1 = (v / em for v in pen.bounds)
    expected = [x0, 0.875 - y1, x1 - x0, y1 - y0]
    assert [v / 192 for v in (left, top, wide, high)] == pytest.approx(expected, abs=0.001)
    assert base == 192 * 0.875 and pixel == 8


def test_the_page_says_how_to_use_the_font(specimen: Any, demo: ProjectFolder) -> None:
    specimen.find_element("css selector", "[aria-controls=using]").click()
    said = specimen.find_element("id", "using").text
    link = re.search(r'<link rel="stylesheet" href="([^"]+)">', said)
    assert link and (demo.root / "dist/web" / link[1]).exists()
    assert (
        "Saltmarsh Signs, not the name of its file" in said
        and "holds no font to install" in said
        and "Free to use for anything" in said
    )
    assert f"{(demo.root / 'dist/web/saltmarsh-signs-line.woff2').stat().st_size:,}" in said


def test_it_prints_every_icon(specimen: Any, client: Any, tmp_path: Path) -> None:
    pdf = base64.b64decode(
        specimen.execute_cdp_cmd(
            "Page.printToPDF", {"preferCSSPageSize": True, "paperWidth": 8.27, "paperHeight": 11.69}
        )["data"]
    )
    (tmp_path / "sheet.pdf").write_bytes(pdf)
    text = subprocess.run(
        [client("pdftotext"), "-layout", tmp_path / "sheet.pdf", "-"], capture_output=True, text=True, check=True
    ).stdout
    everything = carried(specimen.page_source)
    assert len(everything) == 82 and all(f"U+{i['code']:04X}" in text for i in everything) and "windsock" in text
    assert "Search" not in text and "copy" not in text and text.count("\f") == 1, (
        "one page, and nothing on it but the sheet"
    )


@pytest.mark.parametrize("state", ["", *STATES.split()])
def test_axe_finds_nothing_wrong(
    browser: Any, demo: ProjectFolder, history: ProjectFolder, client: Any, state: str
) -> None:
    axe = Path(client("axe-core/axe.min.js")).read_text(encoding="utf-8")
    look, _, fragment = state.partition("#")
    if "dark" in look:
        browser.execute_cdp_cmd(
            "Emulation.setEmulatedMedia", {"features": [{"name": "prefers-color-scheme", "value": "dark"}]}
        )
    if "phone" in look:
        browser.execute_cdp_cmd(
            "Emulation.setDeviceMetricsOverride", {"width": 390, "height": 844, "deviceScaleFactor": 1, "mobile": True}
        )
    page = (
        history.root / "dist/tide-marks-specimen.html"
        if "history" in look
        else demo.root / "dist/web/saltmarsh-signs-specimen.html"
    )
    visit(browser, page, f"#{fragment}")
    if "phone" in look:
        browser.find_element("id", "filters").click()
    browser.execute_script(axe)
    wrong = browser.execute_async_script("""const done = arguments[0];
      axe.run({runOnly: ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"]})
        .then(r => done([r.violations.map(v => [v.id, v.nodes.map(n => n.html.slice(0, 160))]), r.passes.length]))""")
    browser.execute_cdp_cmd("Emulation.setEmulatedMedia", {"features": []})
    browser.execute_cdp_cmd("Emulation.clearDeviceMetricsOverride", {})
    assert wrong[0] == [] and wrong[1] > 15
