"""Templates → text."""

from __future__ import annotations

import posixpath
import re
from collections.abc import Callable
from functools import cache, partial
from typing import TYPE_CHECKING

from oddpeg.diagnostics import counted
from oddpeg.iconset.model import IconSet
from oddpeg.outputs import escape
from oddpeg.outputs.layers_svg import svg_body
from oddpeg.outputs.naming import Form, camel, lower, pascal, upper, words
from oddpeg.outputs.scripts import assignment, fitting, script_key, sequence, union

if TYPE_CHECKING:
    from jinja2 import Environment

_PLAIN_NAME = re.compile("[a-z][a-z0-9_-]*")  # that needs no escape anywhere


@cache
def _environment() -> Environment:
    from jinja2 import Environment, PackageLoader, StrictUndefined

    environment = Environment(
        loader=PackageLoader("oddpeg.outputs"),
        undefined=StrictUndefined,
        trim_blocks=True,
        lstrip_blocks=True,
        keep_trailing_newline=True,
        autoescape=lambda name: bool(name) and ".html" in str(name),
    )
    environment.filters.update(filters(), file_name=posixpath.basename, svg_body=svg_body, counted=counted)
    environment.filters.update(script_key=script_key)
    environment.globals.update(assignment=assignment, fitting=fitting, sequence=sequence, union=union)
    environment.tests["plain_name"] = lambda name: _PLAIN_NAME.fullmatch(name) is not None
    return environment


def filters() -> dict[str, Callable[..., str]]:
    """Return the escaping filters of templates, by name."""
    names = (
        "css_identifier",
        "css_string",
        "style_string",
        "css_character",
        "script_string",
        "single_quoted",
        "rust_string",
        "ruby_string",
        "go_string",
        "php_string",
        "comment",
        "documented",
        "android_string",
        "url_path",
        "dollar_string",
        "python_string",
        "swift_string",
        "utf8_string",
        "xml_text",
        "xml_comment",
    )
    return {
        **{name: getattr(escape, name) for name in names},
        # not `upper` and `lower`: those are filters of Jinja2's own
        "camel": partial(_identifier, camel),
        "pascal": partial(_identifier, pascal),
        "upper_words": partial(_identifier, upper),
        "lower_words": partial(_identifier, lower),
        "hexadecimal": lambda code: f"{code:04x}",
        "font_format": lambda kind: {"ttf": "truetype", "eot": "embedded-opentype"}.get(kind, kind),
    }


def _identifier(form: Form, name: str) -> str:
    """Return a name as an identifier: of several words as a language likes it, in ASCII, not beginning with a digit."""
    identifier = form(words(name))
    return f"_{identifier}" if identifier[0].isdigit() else identifier


def source(name: str) -> str:
    """Return a file of the templates' folder unchanged."""
    environment = _environment()
    assert environment.loader is not None
    return environment.loader.get_source(environment, name)[0]


def render(template: str, **values: object) -> str:
    """Return a template of this package, filled in."""
    return _environment().get_template(template).render(**values)


_STYLE_MARKS = "/* stylelint-disable */"


def render_kind(template: str, icon_set: IconSet, **values: object) -> str:
    """Return a template filled in with the values that every kind needs: the icon set as `c`, and a `header` to begin
    with."""
    header = (
        f"{icon_set.family} {icon_set.version}: {counted(len(icon_set.icons), 'icon')}. "
        "Written by Odd Peg; change the drawings or oddpeg.toml, not this file."
    )
    return render(template, c=icon_set, header=header, style_marks=_STYLE_MARKS, **values)
