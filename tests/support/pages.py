"""The specimen page, driven in a browser as a user would."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from PIL import Image
from selenium import webdriver
from selenium.webdriver import ActionChains

from support.project import ProjectFolder

Screenshot = Callable[..., Image.Image]
FLAGS = """
headless=new no-sandbox disable-gpu disable-quic no-first-run disable-background-networking disable-component-update
disable-sync hide-scrollbars force-device-scale-factor=1 window-size=1280,1000
"""


@contextmanager
def chromium(program: str, driver: str, without: str = "") -> Iterator[Any]:
    """Give a headless Chromium, driven by Selenium, without any network of its own. without: a flag it does not get."""
    options = webdriver.ChromeOptions()
    options.binary_location = program
    for flag in FLAGS.split():
        if flag != without:
            options.add_argument(f"--{flag}")
    started = webdriver.Chrome(options, webdriver.ChromeService(driver))
    yield started
    started.quit()


def visit(browser: Any, path: Path, fragment: str = "", wide: int = 1280) -> None:
    browser.set_window_size(wide, 900)
    browser.get("about:blank")
    browser.get(path.as_uri() + fragment)
    browser.execute_async_script(
        "const done = arguments[0]; document.fonts.ready.then(() => requestAnimationFrame(() => done()))"
    )


def icon_page(project: ProjectFolder, name: str, cells: str, folder: str = "dist", colour: str = "#000") -> Path:
    """Write a page of icons, 96 pixels high, each where its own style says; return it."""
    style = f"body{{margin:0}} i{{position:absolute;top:0;display:flex;font-size:96px;line-height:1;color:{colour}}}"
    head = f'<!doctype html><meta charset="utf-8"><link rel="stylesheet" href="{folder}/tide-marks.css">'
    project.write(name, f"{head}<style>{style}</style>{cells}")
    return project.root / name


def names(browser: Any) -> list[str]:
    found: list[str] = browser.execute_script(
        "return [...document.querySelectorAll('#shown .name')].map(s => s.textContent)"
    )
    return found


def chosen(browser: Any) -> str:
    return str(browser.execute_script("return document.querySelector('#panel h2')?.textContent ?? ''"))


def press(browser: Any, *keys: str) -> None:
    ActionChains(browser).send_keys(*keys).perform()


def pick(browser: Any, control: str, value: str) -> None:
    browser.execute_script(
        "const c = document.getElementById(arguments[0]); c.value = arguments[1]; c.dispatchEvent(new Event('input'))",
        control,
        value,
    )
