"""Fonts that exist: what is said of them, and what becomes of them, as independent readers and shapers see it."""

from __future__ import annotations

import io
import json
import os
import shutil
import struct
import subprocess
from collections.abc import Callable
from pathlib import Path
from typing import Any

import brotli
import freetype
import numpy as np
import ots
import pytest
import uharfbuzz
from fontTools import subset
from fontTools.pens.recordingPen import DecomposingRecordingPen
from fontTools.ttLib import TTFont
from lxml import html
from PIL import Image

from support.fonts import font_data, text_font
from support.launcher import Result
from support.project import CONFIG, ProjectFolder, oddpeg

PLACES = (Path("/usr/share/fonts"), Path("/usr/local/share/fonts"))
TEXT = "Affix the Office, Zürich: fjord — naïve “quoted” ÁÉÎ"


@pytest.fixture(scope="session")
def installed(client: Callable[[str], str]) -> list[Path]:
    """Text fonts of the system, a few of each kind of outline."""
    found = sorted(p for place in PLACES for p in place.rglob("*") if p.suffix in (".ttf", ".otf"))
    fonts = [p for p in found if p.stat().st_size < 900_000]
    quadratic = [p for p in fonts if p.suffix == ".ttf"]
    cubic = [p for p in fonts if p.read_bytes()[:4] == b"OTTO"]
    chosen = [*quadratic[:: max(1, len(quadratic) // 8)][:8], *cubic[:: max(1, len(cubic) // 4)][:4]]
    return chosen if quadratic and cubic else [Path(client("text fonts of the system"))]


@pytest.fixture(scope="session")
def foreign(tmp_path_factory: pytest.TempPathFactory) -> dict[str, Path]:
    """Fonts of other makers, letters and icons, as files by their names."""
    folder = tmp_path_factory.mktemp("foreign")
    found = {name: folder / name for name in ("quay-sans.ttf", "test-signs.otf")}
    for name, path in found.items():
        path.write_bytes(font_data(Path(name).stem))
    return {Path(name).stem: path for name, path in found.items()}


def run(*args: str | Path, cwd: Path) -> Result:
    return oddpeg(*args, cwd=cwd)


def shaped(data: bytes, features: dict[str, bool] | None = None, text: str = TEXT) -> list[tuple[int, int, int, int]]:
    """What HarfBuzz makes of a text: glyphs, advances, offsets."""
    font, buffer = uharfbuzz.Font(uharfbuzz.Face(data)), uharfbuzz.Buffer()
    buffer.add_str(text)
    buffer.guess_segment_properties()
    uharfbuzz.shape(font, buffer, features or {})
    pairs = zip(buffer.glyph_infos, buffer.glyph_positions, strict=True)
    return [(info.codepoint, at.x_advance, at.x_offset, at.y_offset) for info, at in pairs]


def outline(font: TTFont, code: int) -> Any:
    pen, name = DecomposingRecordingPen(font.getGlyphSet()), font.getBestCmap()[code]
    font.getGlyphSet()[name].draw(pen)
    return pen.value, font["hmtx"][name][0]


def accepted(path: Path) -> bool:
    result: int = ots.sanitize(str(path), os.devnull, capture_output=True).returncode
    return result == 0


def test_whole_fonts_are_the_same_once_unpacked_and_as_small_as_the_reference(
    installed: list[Path], client: Callable[[str], str], browser: Any, tmp_path: Path
) -> None:
    run("repack", *installed, "--into", "out", "--fonts", "woff2,woff,ttf", cwd=tmp_path)
    files = sorted(p for p in (tmp_path / "out").iterdir() if p.suffix != ".txt")
    packed = {TTFont(path)["name"].getDebugName(6): path for path in files if path.suffix == ".woff2"}
    assert len(files) == 3 * len(installed) == 3 * len(packed)
    for font in installed:
        old = TTFont(font)
        made = packed[old["name"].getDebugName(6)]
        shutil.copy(made, copy := tmp_path / made.name)
        subprocess.run([client("woff2_decompress"), copy], check=True, capture_output=True)
        new = TTFont(copy.with_suffix(".ttf"))
        if "glyf" in old:
            new.setGlyphOrder(old.getGlyphOrder())  # composites are compared by the names of their parts
            assert all(old["glyf"][name] == new["glyf"][name] for name in old.getGlyphOrder()), font
        else:
            assert old.reader["CFF "] == new.reader["CFF "]
        assert {"GSUB", "GPOS", "kern"} & set(old.keys()) <= set(new.keys()) and accepted(made) >= accepted(font)
        reference = tmp_path / f"reference{font.suffix}"
        bare = TTFont(font)
        bare["post"].formatType = 3.0  # files for the web leave names out
        bare.save(reference, reorderTables=None)
        subprocess.run([client("woff2_compress"), reference], check=True, capture_output=True)
        assert made.stat().st_size <= 1.01 * reference.with_suffix(".woff2").stat().st_size
    assert loaded_by(browser, files, tmp_path) == [1] * len(files)


def loaded_by(browser: Any, files: list[Path], folder: Path) -> Any:
    """For each font whether the browser takes it: 1 or 0."""
    rules = "".join(f'@font-face {{ font-family: f{i}; src: url("out/{p.name}") }}' for i, p in enumerate(files))
    (folder / "page.html").write_text(f"<!doctype html><meta charset=utf-8><style>{rules}</style>")
    browser.get((folder / "page.html").as_uri())
    load = "const all = [...document.fonts].map((face) => face.load().then(() => 1, () => 0));"
    return browser.execute_async_script(load + "Promise.all(all).then(arguments[0]);")


def test_latin_alone_is_shaped_and_drawn_as_before(installed: list[Path], tmp_path: Path) -> None:
    for font in installed:
        if len([c for c in TTFont(font).getBestCmap() if 0x20 <= c < 0x7F]) < 60:
            continue
        folder = tmp_path / font.stem
        result = run("repack", font, "--into", folder, "--only", "latin", "--fonts", "ttf,woff2,woff", cwd=tmp_path)
        assert result.returncode == 0, result.stderr
        made = next(p for p in folder.iterdir() if p.suffix in (".ttf", ".otf"))
        assert shaped(made.read_bytes()) == shaped(font.read_bytes()), font
        old, new = TTFont(font), TTFont(made)
        for code in new.getBestCmap():
            assert outline(old, code) == outline(new, code), (font, hex(code))
        assert all(accepted(p) >= accepted(font) for p in folder.iterdir() if p.suffix != ".txt")
        face = freetype.Face(str(made))
        face.set_pixel_sizes(0, 20)
        face.load_char("A")
        assert made.stat().st_size < font.stat().st_size


@pytest.fixture(scope="session")
def signs(demo: ProjectFolder) -> Path:
    return demo.root / "dist/desktop/saltmarsh-signs-line.ttf"


def test_what_is_kept_may_be_named_in_many_ways(signs: Path, tmp_path: Path) -> None:
    def kept(*only: str) -> set[int]:
        words = [word for pattern in only for word in ("--only", pattern)]
        result = run("repack", signs, "--into", "out", "--fonts", "ttf", "--force", "--json", *words, cwd=tmp_path)
        assert result.returncode == 0, result.stderr
        path = json.loads(result.stdout)["fonts"][0]["files"][0]["path"]
        return {code for code in TTFont(tmp_path / path).getBestCmap() if code >= 0xE000}

    assert kept("anchor") == {0xE001} and kept("U+E003") == {0xE003}
    assert kept("U+E003-E005", "anchor") == {0xE001, 0xE003, 0xE004, 0xE005}
    assert len(kept("private")) == 82 == len(kept("Private Use Area")) and 0xE001 in kept("anch*")
    wrong = run("repack", signs, "--into", "out", "--only", "anchr", cwd=tmp_path)
    assert wrong.returncode == 1 and "did you mean anchor?" in wrong.stderr


def test_another_family_name_is_everywhere(foreign: dict[str, Path], tmp_path: Path) -> None:
    for font in (path for path in foreign.values() if path.suffix == ".otf"):
        old = TTFont(font)
        family = str(old["name"].getDebugName(16) or old["name"].getDebugName(1))
        folder = tmp_path / font.stem
        result = run("repack", font, "--into", folder, "--family", "Quay", "--fonts", "ttf", cwd=tmp_path)
        assert result.returncode == 0, result.stderr
        made = next(folder.glob("*.otf"))
        new = TTFont(made)
        top, old_top = new["CFF "].cff.topDictIndex[0], old["CFF "].cff.topDictIndex[0]
        texts = [new["CFF "].cff.fontNames[0], *(getattr(top, what, "") for what in ("FullName", "FamilyName"))]
        texts += [str(record) for record in new["name"].names if record.nameID in (1, 3, 4, 6, 16)]
        assert not any(family in text or family.replace(" ", "") in text for text in texts), (font, texts)
        assert texts[0].startswith("Quay"[: len(texts[0])]) and accepted(made) >= accepted(font)
        assert all(outline(old, code) == outline(new, code) for code in list(old.getBestCmap())[:40])
        assert top.CharStrings.keys() == old_top.CharStrings.keys()


def test_a_map_names_what_is_looked_into(demo: ProjectFolder, tmp_path: Path) -> None:
    font = demo.root / "dist/web/saltmarsh-signs-line.woff2"  # carries no glyph names
    (tmp_path / "map.json").write_text(demo.read("dist/web/saltmarsh-signs.json"))
    bare = json.loads(run("inspect", font, "--json", cwd=tmp_path).stdout)["fonts"][0]["icons"]
    named = json.loads(run("inspect", font, "--names", "map.json", "--json", cwd=tmp_path).stdout)["fonts"][0]["icons"]
    assert {icon["name"] for icon in bare} == {""} and {i["codepoint"]: i["name"] for i in named}[0xE001] == "anchor"
    page = run("inspect", font, "--names", "map.json", "--sheet", "sheet.html", cwd=tmp_path)
    assert page.returncode == 0 and "anchor" in (tmp_path / "sheet.html").read_text(encoding="utf-8")


def ink_high(browser: Any, selector: str) -> int:
    """How many rows of pixels an element has ink in."""
    png = browser.find_element("css selector", selector).screenshot_as_png
    dark = np.asarray(Image.open(io.BytesIO(png)).convert("L")) < 128
    return int(dark.any(axis=1).sum())


def test_lines_are_as_high_as_another_fonts(installed: list[Path], browser: Any, tmp_path: Path) -> None:
    fonts = {path.name: path for place in PLACES for path in place.rglob("*.ttf")}
    sans, like = fonts["DejaVuSans.ttf"], fonts["LiberationSans-Regular.ttf"]
    options = ("--only", "latin", "--css", "--fonts", "woff2")
    run("repack", sans, "--into", "out", *options, "--family", "Quay Sans", "--metrics-of", like, cwd=tmp_path)
    run("repack", like, "--into", "out", *options, "--family", "Quay Like", cwd=tmp_path)
    page = "<!doctype html><meta charset=utf-8><style>p { font-size: 200px; margin: 0 }</style>"
    page += "".join(f'<link rel="stylesheet" href="out/{p.name}">' for p in (tmp_path / "out").glob("*.css"))
    page += '<p id="a" style="font-family: Quay Sans">xx</p><p id="b" style="font-family: Quay Like">xx</p>'
    (tmp_path / "page.html").write_text(page)
    browser.get((tmp_path / "page.html").as_uri())
    browser.execute_async_script("document.fonts.ready.then(() => setTimeout(arguments[0], 100))")
    script = "return [...document.querySelectorAll('p')].map((p) => p.getBoundingClientRect().height)"
    height, other_height = browser.execute_script(script)
    assert abs(height - other_height) <= 1 and abs(ink_high(browser, "#a") - ink_high(browser, "#b")) <= 1
    css = (tmp_path / "out/quay-sans.css").read_text()
    assert "size-adjust: " in css and "ascent-override: " in css
    plain = (tmp_path / "out/quay-like.css").read_text()
    assert "override" not in plain and "size-adjust" not in plain


FEATURES: tuple[dict[str, bool], ...] = (
    {},
    {"liga": False, "kern": True},
    {"smcp": True},
    {"dlig": True, "onum": True, "salt": True},
    {"kern": False, "frac": True, "sups": True},
)


@pytest.mark.parametrize("text", [TEXT, "Saltmrsh Fei"])
def test_parts_are_as_small_as_those_of_the_reference_and_are_set_alike(
    installed: list[Path], tmp_path: Path, text: str
) -> None:
    run("repack", *installed, "--into", "out", "--text", text, "--fonts", "ttf,woff2", "--force", cwd=tmp_path)
    made = {TTFont(path)["name"].getDebugName(6): path for path in (tmp_path / "out").glob("*.[to]tf")}
    options = subset.Options(
        retain_gids=True, layout_features=["*"], notdef_outline=True, name_IDs=["*"], glyph_names=False, flavor="woff2",
        legacy_kern=True,
    )  # fmt: skip
    for path in installed:
        font = subset.load_font(path, options)
        part = made[font["name"].getDebugName(6)]
        assert accepted(part), path
        for features in FEATURES:
            assert shaped(part.read_bytes(), features, text) == shaped(path.read_bytes(), features, text), path
        subsetter = subset.Subsetter(options)
        subsetter.populate(text=text)
        subsetter.subset(font)
        subset.save_font(font, tmp_path / "reference.woff2", options)
        sizes = part.with_suffix(".woff2").stat().st_size, (tmp_path / "reference.woff2").stat().st_size
        assert sizes[0] <= 1.5 * sizes[1], (path, sizes)


def test_a_variable_font_keeps_its_axis(demo: ProjectFolder, tmp_path: Path) -> None:
    font = demo.root / "dist/family/saltmarsh-signs-weight.woff2"
    run("repack", font, "--into", "out", "--only", "U+E001-E003", "--fonts", "ttf,woff2", "--css", cwd=tmp_path)
    (made,) = (tmp_path / "out").glob("*.ttf")
    old, new = TTFont(font), TTFont(made)
    assert new["fvar"].axes[0].maxValue == 700 and accepted(made)
    name = old.getBestCmap()[0xE001]
    assert len(new["gvar"].variations[new.getBestCmap()[0xE001]]) == len(old["gvar"].variations[name]) == 1
    assert sum(bool(v) for v in new["gvar"].variations.values()) <= 3
    css = next((tmp_path / "out").glob("*.css")).read_text()
    assert "font-weight: 300 700;" in css and "unicode-range: U+20, U+A0, U+E001-E003;" in css
    assert css.index(".woff2") < css.index(".ttf")


def test_rights_are_kept_and_what_was_done_is_said(signs: Path, tmp_path: Path) -> None:
    run("repack", signs, "--into", "out", "--only", "anchor", "--css", "--family", "Quay Signs", cwd=tmp_path)
    notice = (tmp_path / "out/quay-signs-line-changes.txt").read_text()
    assert "family renamed from Saltmarsh Signs to Quay Signs" in notice and "SHA-256" in notice
    assert "copyright: Saltmarsh Ferries, an invented company" in notice
    assert notice.splitlines()[0] in (tmp_path / "out/quay-signs-line.css").read_text()
    names = TTFont(tmp_path / "out/quay-signs-line.woff2")["name"]
    assert names.getDebugName(16) == "Quay Signs" and names.getDebugName(6) == "QuaySigns-Line"
    assert names.getDebugName(0) == "Saltmarsh Ferries, an invented company"


def changed(signs: Path, path: Path, **values: Any) -> Path:
    """The font with another fsType, or licence."""
    font = TTFont(signs)
    if "rights" in values:
        font["OS/2"].fsType = values["rights"]
    if "licence" in values:
        font["name"].setName(values["licence"], 13, 3, 1, 0x409)
    font.save(path)
    return path


@pytest.mark.parametrize(
    ("rights", "options", "why"),
    [
        (0x2, (), "may not be embedded"),
        (0x200, (), "only be embedded as bitmaps"),
        (0x100, ("--only", "anchor"), "cut down"),
    ],
)
def test_rights_that_forbid_it_stop_it(
    signs: Path, tmp_path: Path, rights: int, options: tuple[str, ...], why: str
) -> None:
    font = changed(signs, tmp_path / "locked.ttf", rights=rights)
    result = run("repack", font, "--into", "out", *options, cwd=tmp_path)
    assert result.returncode == 1 and why in result.stderr and "ask the owner" in result.stderr
    assert not (tmp_path / "out").exists()


def test_a_reserved_name_is_said(signs: Path, tmp_path: Path) -> None:
    font = changed(signs, tmp_path / "ofl.ttf", licence='Open licence, with Reserved Font Name "Saltmarsh Signs"')
    result = run("repack", font, "--into", "out", "--only", "anchor", cwd=tmp_path)
    assert result.returncode == 0 and "reserves the name 'Saltmarsh Signs'" in result.stderr
    renamed = run("repack", font, "--into", "other", "--only", "anchor", "--family", "Quay", cwd=tmp_path)
    assert "reserves" not in renamed.stderr
    assert json.loads(run("inspect", font, "--json", cwd=tmp_path).stdout)["fonts"][0]["reserved_name"] is True


def test_dry_runs_write_nothing_and_nothing_is_overwritten(signs: Path, tmp_path: Path) -> None:
    result = run("repack", signs, "--into", "out", "--dry-run", cwd=tmp_path)
    assert "nothing was written" in result.stdout and not (tmp_path / "out").exists()
    (tmp_path / "out").mkdir()
    (tmp_path / "out/saltmarsh-signs-line.woff2").write_text("mine")
    result = run("repack", signs, "--into", "out", cwd=tmp_path)
    assert result.returncode == 1 and (tmp_path / "out/saltmarsh-signs-line.woff2").read_text() == "mine"


FORMATS = ["ttf", "woff", "woff2", "eot", "svg", "ttc"]


@pytest.fixture(scope="session")
def every_format(tmp_path_factory: pytest.TempPathFactory) -> dict[str, Path]:
    """One font in every format that can be looked into."""
    config = (
        '[font]\nfamily = "Tide Marks"\n[icons]\nfrom = ["icons/*.svg"]\n[bundle.all]\ninto = "dist"\n'
        'fonts = ["ttf", "woff", "woff2", "eot", "svg"]\n'
    )
    project = ProjectFolder(tmp_path_factory.mktemp("formats")).config(config).icon("gate").icon("buoy")
    project.deliver()
    found = {kind: project.root / f"dist/tide-marks.{kind}" for kind in FORMATS}
    single = found["ttf"].read_bytes()
    offset, moved = 12 + 4, bytearray(single)
    for at in range(12, 12 + 16 * struct.unpack(">H", single[4:6])[0], 16):
        moved[at + 8 : at + 12] = struct.pack(">I", struct.unpack(">I", single[at + 8 : at + 12])[0] + offset)
    found["ttc"].write_bytes(struct.pack(">4sIII", b"ttcf", 0x00010000, 1, offset) + bytes(moved))
    return found


@pytest.mark.parametrize("kind", FORMATS)
def test_every_format_is_looked_into(every_format: dict[str, Path], kind: str, tmp_path: Path) -> None:
    (facts,) = json.loads(run("inspect", every_format[kind], "--json", cwd=tmp_path).stdout)["fonts"]
    assert facts["format"] == kind.upper() and facts["family"] == "Tide Marks" and len(facts["icons"]) == 2
    assert facts["units_per_em"] == 1008 and facts["metrics_agree"]
    if kind != "svg":
        assert facts["embedding"].startswith("may be installed") and facts["bytes"]["WOFF2"] < facts["bytes"]["WOFF"]
    if kind not in ("svg", "woff", "woff2"):
        assert [icon["name"] for icon in facts["icons"]] == ["buoy", "gate"]


def test_what_is_printed_names_the_family_to_type(
    foreign: dict[str, Path], every_format: dict[str, Path], tmp_path: Path
) -> None:
    misnamed = tmp_path / "download (3).ttf"
    misnamed.write_bytes(every_format["ttf"].read_bytes())
    shown = run("inspect", misnamed, cwd=tmp_path).stdout
    assert "in stylesheets and programs it is 'Tide Marks', regardless of the file name" in shown
    beside = run(
        "inspect", every_format["ttf"], every_format["woff2"], foreign["quay-sans"], cwd=tmp_path
    ).stdout.splitlines()
    assert beside[1].startswith("family") and beside[1].count("Tide Marks") == 2
    assert any(line.startswith("size") and "(100%)" in line for line in beside)


def test_sheets_show_the_glyphs(signs: Path, every_format: dict[str, Path], browser: Any, tmp_path: Path) -> None:
    assert run("inspect", signs, "--sheet", "sheet.png", cwd=tmp_path).returncode == 0
    picture = Image.open(tmp_path / "sheet.png").convert("L")
    assert picture.width == 1280 and sum(picture.histogram()[:80]) > 20_000
    assert run("inspect", signs, every_format["woff2"], "--sheet", "sheet.html", cwd=tmp_path).returncode == 0
    page = html.fromstring((tmp_path / "sheet.html").read_text(encoding="utf-8"))
    assert len(page.findall(".//li")) == 84 and page.findtext(".//h1", "").startswith("Saltmarsh Signs")
    browser.get((tmp_path / "sheet.html").as_uri())
    loaded = browser.execute_async_script(
        "const done = arguments[0]; document.fonts.load('20px \"inspected 1\"', '\\ue001').then(f => done(f.length))"
    )
    assert loaded == 1
    wrong = run("inspect", signs, signs, "--sheet", "two.png", cwd=tmp_path)
    assert wrong.returncode == 2 and "one font" in wrong.stderr


@pytest.mark.exhaustive
def test_what_unpacks_to_too_much_is_refused(tmp_path: Path) -> None:
    stream = brotli.compress(bytes(80_000_000))
    head = struct.pack(
        ">4sIIHHIIHHIIIII", b"wOF2", 0x00010000, 48 + 7 + len(stream), 1, 0, 100, len(stream), 1, 0, 0, 0, 0, 0, 0
    )
    (tmp_path / "bomb.woff2").write_bytes(head + bytes([0x3F]) + b"BOMB" + bytes([0xA6, 0x92, 0xB4, 0x00])[:2] + stream)
    result = run("inspect", "bomb.woff2", cwd=tmp_path)
    assert result.returncode == 1 and "bomb.woff2: it" in result.stderr


TABLE = """
[repack.letters]
font = "vendor/signs.ttf"
into = "dist/letters"
only = ["anchor", "U+E003"]
drop_layout = true
"""


def test_a_table_in_the_config_does_the_same_in_every_build(
    project: ProjectFolder, signs: Path, tmp_path: Path
) -> None:
    config = project.read("oddpeg.toml")
    (project.root / "vendor").mkdir()
    font = project.root / "vendor/signs.ttf"
    font.write_bytes(signs.read_bytes())
    project.config(config + TABLE).deliver()
    made = {"saltmarsh-signs-line.woff2", "saltmarsh-signs-line.woff", "saltmarsh-signs-line.css"}
    assert made < project.files("dist/letters")
    shown = TTFont(project.root / "dist/letters/saltmarsh-signs-line.woff2").getBestCmap()
    assert {code for code in shown if code >= 0xE000} == {0xE001, 0xE003}
    assert "unchanged" in project.build().stdout and project.run("build", "--frozen").returncode == 0
    changed(signs, font, licence="Another licence")
    assert project.run("build", "--frozen").returncode == 1, "the font changed"
    project.deliver()
    assert "Another licence" in project.read("dist/letters/saltmarsh-signs-line-changes.txt")
    changed(signs, font, rights=0x2)
    result = project.build("--files", code=1)
    assert "may not be embedded" in result.stderr and "dist/tide-marks.css" in result.stdout
    project.config(config).deliver()
    assert not (project.root / "dist/letters").exists()
    result = project.config(config + TABLE.replace("vendor/signs.ttf", "vendor/none.ttf")).run("build")
    assert result.returncode == 1 and "set repack.letters.font" in result.stderr


TABLE_OF_USED = """
[usage]
in = ["page.html"]

[repack.used]
font = "vendor/signs.ttf"
into = "less"
used = true
"""


def test_a_table_may_keep_what_code_uses(project: ProjectFolder) -> None:
    config = project.read("oddpeg.toml")
    project.deliver()
    (project.root / "vendor").mkdir()
    (project.root / "vendor/signs.ttf").write_bytes(project.bytes("dist/tide-marks.ttf"))
    project.write("page.html", '<i class="tm-icon tm-buoy"></i>')
    project.config(config + TABLE_OF_USED).deliver()
    shown = TTFont(project.root / "less/tide-marks.woff2").getBestCmap()
    assert {code for code in shown if code >= 0xE000} == {0xE001}
    project.write("page.html", '<i class="tm-icon tm-anchor"></i>')
    project.deliver()
    shown = TTFont(project.root / "less/tide-marks.woff2").getBestCmap()
    assert {code for code in shown if code >= 0xE000} == {0xE000}


FLAG = '<path fill="#c1492c" d="M2 4h10v16H2z"/><path fill="#20343c" d="M12 4h10v16H12z"/>'
DUSK = (
    '<linearGradient id="a"><stop stop-color="#c1492c"/><stop offset="1" stop-color="#20343c"/></linearGradient>'
    '<path fill="url(#a)" d="M2 3h20v18H2z"/><path fill="#20343c" d="M3 4h5v5H3z"/>'
)


@pytest.mark.parametrize("colour", ["true", '"gradients"'])
def test_layers_of_colour_stay_with_their_icons(tmp_path: Path, colour: str) -> None:
    svg = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24">{}</svg>'
    project = ProjectFolder(tmp_path).config(CONFIG + f"colour = {colour}\n")
    project.icon("flag", svg.format(FLAG)).icon("dusk", svg.format(DUSK)).icon("plain").deliver()
    result = project.run(
        "repack", "dist/tide-marks.ttf", "--into", "out", "--only", "flag", "--only", "dusk", "--fonts", "ttf"
    )
    assert result.returncode == 0, result.stderr
    made = tmp_path / "out/tide-marks.ttf"
    old, new = TTFont(tmp_path / "dist/tide-marks.ttf"), TTFont(made)
    assert accepted(made) and old.reader["COLR"] == new.reader["COLR"]
    drawn = [name for name in new.getGlyphOrder() if new["glyf"][name].numberOfContours > 0]
    lost = {name for name in old.getGlyphOrder() if old["glyf"][name].numberOfContours > 0} - set(drawn)
    assert lost == {"plain"}, "every layer of the others is still there"


def test_a_second_run_replaces_its_own_files_and_no_others(tmp_path: Path) -> None:
    font = tmp_path / "quay.ttf"
    font.write_bytes(text_font())
    for letters in ("A", "Aa"):
        run("repack", "quay.ttf", "--into", "out", "--only", f"U+0041-U+00{ord(letters[-1]):X}", "--css", cwd=tmp_path)
    (sheet,) = (tmp_path / "out").glob("*.css")
    sheet.write_text("mine")
    refused = oddpeg("repack", "quay.ttf", "--into", "out", "--only", "U+0041", "--css", cwd=tmp_path)
    assert refused.returncode == 1 and f"{sheet.name}: exists and differs" in refused.stderr
    assert sheet.read_text() == "mine"
    (notice,) = (tmp_path / "out").glob("*-changes.txt")
    sheet.unlink()
    notice.write_text(notice.read_text().replace("embedding", "EMBEDDING"))
    assert f"{notice.name}: exists" in oddpeg("repack", "quay.ttf", "--into", "out", cwd=tmp_path).stderr
