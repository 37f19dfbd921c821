"""Icons in colours: layers and palettes in the font, and what browsers make of them."""

from __future__ import annotations

import io
import re
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
import ots
import pytest
import resvg_py
from fontTools.ttLib import TTFont
from numpy.typing import NDArray
from PIL import Image

from support.clients import run, serving
from support.data import table
from support.pages import Screenshot, icon_page, pick, visit
from support.project import ProjectFolder, codepoints

DATA = table("colour")

CONFIG = DATA["config"]
SVG = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24">{}</svg>'
FLAT = DATA["flat"]
RICH = DATA["rich"]
PLAIN = {"line": '<path fill="none" stroke="currentColor" stroke-width="2" d="M3 12h18"/>'}
NIGHT = {"#20343c": "#e9e4d4"}
INK = "#0a7d5a"  # the colour of the text

Picture = NDArray[np.float64]


@pytest.fixture(scope="module")
def family(tmp_path_factory: pytest.TempPathFactory) -> ProjectFolder:
    project = ProjectFolder(tmp_path_factory.mktemp("colour")).config(CONFIG)
    for name, body in (FLAT | RICH | PLAIN).items():
        project.icon(name, SVG.format(body))
    project.deliver()
    return project


@pytest.mark.parametrize("where", ["dist/tide-marks.ttf", "rich/tide-marks.ttf", "dist/tide-marks.woff2"])
def test_the_sanitizer_accepts_the_fonts_with_their_colours(family: ProjectFolder, tmp_path: Path, where: str) -> None:
    made = tmp_path / "passed.ttf"
    done = ots.sanitize(str(family.root / where), str(made), capture_output=True)
    assert done.returncode == 0 and not done.stderr, done.stderr
    assert {"COLR", "CPAL"} <= set(TTFont(made).keys())


@pytest.mark.parametrize("palettes", [True, False])
def test_two_tones_of_the_text_alone(tmp_path: Path, palettes: bool) -> None:
    text = CONFIG if palettes else re.sub(r"\[palettes.*?\n\n", "", CONFIG, flags=re.S)
    two_tone = '<g fill="currentColor"><path opacity=".2" d="M3 3h18v18H3z"/><path d="M3 3h9v9H3z"/></g>'
    ProjectFolder(tmp_path).config(text).icon("two-tone", SVG.format(two_tone)).deliver()
    rich, made = tmp_path / "rich/tide-marks.ttf", tmp_path / "passed.ttf"
    done = ots.sanitize(str(rich), str(made), capture_output=True)
    assert done.returncode == 0 and not done.stderr, done.stderr
    assert {"COLR", "CPAL"} <= set(TTFont(made).keys())


def test_layers_are_merged_shared_and_only_where_there_is_colour(family: ProjectFolder) -> None:
    font = TTFont(family.root / "dist/tide-marks.ttf")
    cmap = font.getBestCmap()
    colr, cpal = font["COLR"], font["CPAL"]
    layers = {name: [layer.colorID for layer in colr[cmap[code]]] for name, code in codepoints(family).items()
              if cmap[code] in colr.ColorLayers}  # fmt: skip
    assert colr.version == 0 and set(layers) == set(FLAT) | {"dusk", "lamp"}
    assert layers["ship"] == [0, 1, 0xFFFF] and len(layers["buoy"]) == 3
    assert layers["twice"] == [1, 0, 1], "what touches nothing between joins its like"
    assert [[color.hex().lower()[:7] for color in palette[:2]] for palette in cpal.palettes] == [
        ["#20343c", "#c1492c"],
        ["#e9e4d4", "#c1492c"],
    ]
    assert cpal.version == 1 and cpal.paletteTypes == [1, 2], "for a light ground, for a dark one"
    assert [font["name"].getDebugName(number) for number in cpal.paletteLabels] == ["day", "night"]
    assert [font["name"].getDebugName(number) for number in cpal.paletteEntryLabels[:2]] == ["hull", "rust"]
    assert not {"COLR", "CPAL"} & set(TTFont(family.root / "plain/tide-marks.ttf").keys())


def test_plain_glyphs_are_the_same_with_colours_and_without(family: ProjectFolder) -> None:
    fonts = [TTFont(family.root / f"{folder}/tide-marks.ttf") for folder in ("plain", "dist", "rich")]
    for code in codepoints(family).values():
        outlines = [font["glyf"][font.getBestCmap()[code]] for font in fonts]
        assert outlines[0] == outlines[1] == outlines[2]


def drawn(body: str, colours: dict[str, str], px: int = 96) -> Picture:
    """A drawing on white by an independent renderer, in the colours of a palette, (px, px, 3)."""
    for old, new in colours.items():
        body = body.replace(old, new)
    svg = SVG.format(body).replace("<svg ", f'<svg color="{INK}" fill="{INK}" ')
    png = bytes(resvg_py.svg_to_bytes(svg_string=svg, width=px, height=px, background="white"))
    return np.asarray(Image.open(io.BytesIO(png)).convert("RGB"), dtype=float) / 255


def page(family: ProjectFolder, name: str, folder: str, icons: dict[str, str], palette: str) -> Path:
    """A page with the icons in a row, 96 pixels high, each 100 pixels from the next."""
    kind = f" tm-palette-{palette}" if palette else ""
    cells = "".join(f'<i class="tm-icon tm-{icon}{kind}" style="left:{100 * n}px"></i>' for n, icon in enumerate(icons))
    return icon_page(family, name, cells, folder, INK)


def compare(shot: Image.Image, icons: dict[str, str], colours: dict[str, str]) -> None:
    shown = np.asarray(shot.convert("RGB"), dtype=float) / 255
    for number, (icon, body) in enumerate(icons.items()):
        wanted, got = drawn(body, colours), shown[:96, 100 * number : 100 * number + 96]
        off = np.abs(wanted - got).max(axis=2) > 0.25
        inked = (wanted.min(axis=2) < 0.98).sum()
        assert off.sum() <= 0.005 * max(inked, 1), (icon, int(off.sum()), int(inked))


@pytest.mark.parametrize(("folder", "icons"), [("dist", FLAT | PLAIN), ("rich", FLAT | RICH)])
@pytest.mark.parametrize(("palette", "colours"), [("", {}), ("day", {}), ("night", NIGHT)])
def test_browsers_show_palettes_and_gradients(
    family: ProjectFolder, screenshot: Screenshot, folder: str, icons: dict[str, str], palette: str,
    colours: dict[str, str],
) -> None:  # fmt: skip
    compare(screenshot(page(family, f"{folder}.html", folder, icons, palette), 900, 300), icons, colours)


def test_the_sprite_takes_colours_by_the_names_of_entries(family: ProjectFolder) -> None:
    sprite = family.read("dist/tide-marks-sprite.svg")
    ship = re.findall(r'<path fill="([^"]+)"', re.search(r'<symbol id="ship".*', sprite)[0])  # type: ignore[index]
    assert ship == ["var(--tm-hull, #20343c)", "var(--tm-rust, #c1492c)", "currentColor"]


def test_the_specimen_switches_palettes_and_tries_own_colours(family: ProjectFolder, browser: Any) -> None:
    visit(browser, family.root / "dist/tide-marks-specimen.html")
    palette = "return getComputedStyle(document.querySelector('#shown .face')).fontPalette"
    pick(browser, "palette", "--specimen-1")
    assert browser.execute_script(palette) == "--specimen-1"
    pick(browser, "palette", "--specimen-own")
    assert browser.execute_script("return document.querySelector('[data-entry]').closest('label').hidden") is False
    browser.execute_script(
        "const c = document.querySelector('[data-entry]'); c.value = '#ff00ff'; c.dispatchEvent(new Event('input'))"
    )
    cell = browser.execute_script(
        "const b = [...document.querySelectorAll('#shown button')].find(b => b.textContent.includes('ship'))"
        ".querySelector('.face').getBoundingClientRect(); return [b.left, b.top, b.right, b.bottom]"
    )
    shot = Image.open(io.BytesIO(browser.get_screenshot_as_png())).convert("RGB").crop(cell)
    assert (np.asarray(shot) == [255, 0, 255]).all(axis=2).sum() > 50


def test_the_sheet_is_in_colour(family: ProjectFolder) -> None:
    sheet = np.asarray(Image.open(family.root / "dist/tide-marks-specimen.png").convert("RGB"), dtype=int)
    assert (np.abs(sheet - [193, 73, 44]).sum(axis=2) < 12).sum() > 200


def test_colours_without_a_name_are_said_and_work(family: ProjectFolder, tmp_path: Path) -> None:
    notes = family.json("build")["notes"]
    unnamed = [(n["where"], n["cure"]) for n in notes if n["code"] == "colour-unnamed"]
    assert (
        "icons/flag.svg",
        "did you mean rust (#c1492c)? Use that, or name the colour in the first palette",
    ) in unnamed
    text = re.sub(r"\[palettes.*?\n\n", "", CONFIG, flags=re.S)
    project = (
        ProjectFolder(tmp_path)
        .config(text)
        .icon("ship", SVG.format(FLAT["ship"]))
        .icon("line", SVG.format(PLAIN["line"]))
    )
    result = project.build()
    assert "palette" not in result.stdout
    font = TTFont(tmp_path / "dist/tide-marks.ttf")
    assert [c.hex().lower()[:7] for c in font["CPAL"].palettes[0]] == ["#20343c", "#c1492c"]


def test_an_icon_of_the_text_alone_has_no_layers_and_a_set_of_those_no_tables(tmp_path: Path) -> None:
    project = ProjectFolder(tmp_path).config(CONFIG).icon("line", SVG.format(PLAIN["line"]))
    project.deliver()
    assert "COLR" not in TTFont(tmp_path / "dist/tide-marks.ttf")


@pytest.mark.exhaustive
def test_more_layers_than_a_font_can_hold_are_a_fault(tmp_path: Path) -> None:
    cells = "".join(f'<path fill="#{n % 2 * 0x101010:06x}" d="M{n} 0h1v1h-1z"/>' for n in range(256))
    project = ProjectFolder(tmp_path).config(CONFIG)
    for number in range(260):  # of the same drawing: it is outlined once
        project.icon(f"cells-{number}", f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 256 256">{cells}</svg>')
    result = project.run("build")
    assert result.returncode == 1 and "with layers of colour there are 66,560" in result.stderr


def test_the_element_takes_a_palette_and_colours_of_the_page(
    family: ProjectFolder, browser: Any, client: Callable[[str], str]
) -> None:
    look = "<style>b, tm-icon { display: inline-block; font: 96px/1 serif }</style>"
    mine = "@font-palette-values --mine { font-family: 'Tide Marks'; override-colors: 1 rgb(10 90 200) }"
    html = (
        f'<!doctype html><meta charset="utf-8"><link rel="stylesheet" href="tide-marks.css">{look}<style>{mine}'
        '.mine::before { font-palette: --mine !important }</style><script type="module" src="tide-marks-element.mjs">'
        '</script><p><b class="tm-icon tm-ship"></b><tm-icon name="ship"></tm-icon></p>'
        '<p><b class="tm-icon tm-ship tm-palette-night"></b><tm-icon name="ship" palette="night"></tm-icon></p>'
        '<p><b class="tm-icon tm-ship mine"></b><tm-icon name="ship" style="--tm-rust: rgb(10 90 200)"></tm-icon></p>'
    )
    (family.root / "dist/element.html").write_text(html, encoding="utf-8")
    with serving(family.root / "dist") as (address, _):
        browser.get(f"{address}/element.html")
        browser.execute_async_script("document.fonts.ready.then(() => setTimeout(arguments[0], 200))")
        shot = np.asarray(Image.open(io.BytesIO(browser.get_screenshot_as_png())).convert("RGB"), dtype=float) / 255
        boxes = browser.execute_script(
            "return [...document.querySelectorAll('b, tm-icon')].map(e => e.getBoundingClientRect())"
            ".map(r => [r.x, r.y])"
        )
    shown = [shot[round(y) : round(y) + 96, round(x) : round(x) + 96] for x, y in boxes]
    for by_class, by_element in zip(shown[0::2], shown[1::2], strict=True):
        assert np.abs(by_class - by_element).max() < 0.05
    assert np.abs(shown[0] - shown[2]).max() > 0.3 < np.abs(shown[0] - shown[4]).max()
    options = ["--strict", "--noEmit", "--target", "es2022", "--lib", "es2022,dom", "--module", "nodenext"]
    use = 'import type { TideMarksAttributes } from "./tide-marks-element.mjs";\n'
    use += 'export const one: TideMarksAttributes = { name: "ship", palette: "night" };\n'
    (family.root / "dist/use.mts").write_text(use)
    run(client("tsc"), *options, "use.mts", cwd=family.root / "dist")


def proved(family: ProjectFolder) -> dict[str, dict[str, float]]:
    """The worst share of wrong pixels of every part of each icon's colours."""
    found: dict[str, dict[str, float]] = {}
    for figure in family.json("proof", "--size", "64", "--size", "96")["figures"]:
        if part := figure.get("part"):
            parts = found.setdefault(figure["icon"], {})
            parts[part] = max(parts.get(part, 0.0), figure["wrong"])
    return found


def table_place(font: bytes, tag: bytes) -> int:
    at = font.index(tag, 12) + 8
    return int.from_bytes(font[at : at + 4], "big")


def test_the_proof_looks_at_every_layer_and_at_the_whole(family: ProjectFolder) -> None:
    found = proved(family)
    assert set(found) == set(FLAT) | set(RICH)
    assert list(found["ship"]) == [
        *("layer 1", "layer 2", "layer 3", "colours"),
        *(f"{part}, with gradients" for part in ("layer 1", "layer 2", "layer 3", "colours")),
    ]
    assert list(found["mist"]) == ["layer 1, with gradients", "layer 2, with gradients", "colours, with gradients"]
    assert max(wrong for parts in found.values() for wrong in parts.values()) == 0


@pytest.mark.exhaustive
@pytest.mark.parametrize("damage", ["a colour", "the order of layers", "a gradient's end"])
def test_the_proof_finds_wrong_colours(family: ProjectFolder, damage: str) -> None:
    path = family.root / ("rich" if "gradient" in damage else "dist") / "tide-marks.ttf"
    sound = path.read_bytes()
    font = bytearray(sound)
    if damage == "a colour":  # the first palette's first entry, BGRA
        at = table_place(sound, b"CPAL")
        at += int.from_bytes(sound[at + 8 : at + 12], "big")
        font[at : at + 3] = b"\xff\xff\xff"
    elif damage == "the order of layers":  # of the first glyph that has some
        at = table_place(sound, b"COLR")
        at += int.from_bytes(sound[at + 8 : at + 12], "big")
        font[at : at + 4], font[at + 4 : at + 8] = sound[at + 4 : at + 8], sound[at : at + 4]
    else:  # the first linear gradient's last stop is where its first is
        line = sound.index(b"\x04\x00\x00\x10", table_place(sound, b"COLR")) + 16
        font[line + 3 + 6 : line + 3 + 8] = sound[line + 3 : line + 5]
    path.write_bytes(font)
    try:
        result = family.run("proof")
        wrong = {name for name, parts in proved(family).items() if max(parts.values()) > 0.005}
    finally:
        path.write_bytes(sound)
    assert result.returncode == 1 and re.search(r"\((colours|layer).*MISSED", result.stdout)
    hit = {"a colour": {"ship", "twice"}, "the order of layers": {"buoy"}, "a gradient's end": {"dusk"}}
    assert wrong >= hit[damage]


def test_building_with_the_proof_remembers_colours_too(family: ProjectFolder) -> None:
    first = family.json("build", "--prove")["proof"]
    again = family.json("build", "--prove")["proof"]
    assert {f["part"] for f in first["figures"] if "part" in f} >= {"layer 1", "colours", "colours, with gradients"}
    assert not again["figures"] and again["proved_before"] == 3 * len(FLAT | RICH | PLAIN)
