"""The specimen page, driven in a browser as a user would."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from selenium.webdriver import ActionChains


def visit(browser: Any, path: Path, fragment: str = "", wide: int = 1280) -> None:
    browser.set_window_size(wide, 900)
    browser.get("about:blank")
    browser.get(path.as_uri() + fragment)
    browser.execute_async_script(
        "const done = arguments[0]; document.fonts.ready.then(() => requestAnimationFrame(() => done()))"
    )


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
