"""Templates → text. Knows: Jinja2, where templates are. Does not know: what they say."""

from __future__ import annotations

from functools import cache
from typing import TYPE_CHECKING

from oddpeg.outputs import escape

if TYPE_CHECKING:
    from jinja2 import Environment


@cache
def _environment() -> Environment:
    from jinja2 import Environment, PackageLoader, StrictUndefined

    found = Environment(
        loader=PackageLoader("oddpeg.outputs"), undefined=StrictUndefined, trim_blocks=True, lstrip_blocks=True,
        keep_trailing_newline=True, autoescape=lambda name: bool(name) and ".html" in str(name),
    )  # fmt: skip
    found.filters.update(
        css_identifier=escape.css_identifier, css_string=escape.css_string, css_character=escape.css_character,
        script_string=escape.script_string, comment=escape.comment, url_path=escape.url_path,
    )  # fmt: skip
    return found


def render(template: str, **values: object) -> str:
    """Return a template of this package, filled in."""
    return _environment().get_template(template).render(**values)
