"""A template of the user's own, filled in with the catalogue. It runs in a sandbox: it can read what it is given, and
nothing else.

Source: Jinja2, SandboxedEnvironment.
"""

from __future__ import annotations

import traceback

from oddpeg.diagnostics import Diagnostic, OddPegError
from oddpeg.iconset.model import Catalogue, Surroundings
from oddpeg.outputs.kind import Kind, Option
from oddpeg.outputs.render import filters


def write(catalogue: Catalogue, around: Surroundings) -> str:
    """Return the template filled in; raise `OddPegError` where it cannot be, naming its line."""
    from jinja2 import StrictUndefined, TemplateSyntaxError
    from jinja2.sandbox import ImmutableSandboxedEnvironment

    where, source = str(around.options["template"]), str(around.options.get("source", ""))
    environment = ImmutableSandboxedEnvironment(
        undefined=StrictUndefined, trim_blocks=True, lstrip_blocks=True, keep_trailing_newline=True
    )
    environment.filters.update(filters())
    try:
        return environment.from_string(source).render(c=catalogue, icons=catalogue.icons, urls=around.urls)
    except TemplateSyntaxError as problem:
        raise OddPegError(
            Diagnostic(
                "template-syntax",
                f"is not a valid template: {problem.message}",
                "mend that line",
                where,
                problem.lineno,
            )
        ) from None
    except Exception as problem:  # whatever the user's template does
        lines = [f.lineno for f in traceback.extract_tb(problem.__traceback__) if f.filename == "<template>"]
        raise OddPegError(
            Diagnostic(
                "template-failed",
                f"cannot be filled in: {problem}",
                "see docs/reference.md for what a template gets",
                where,
                lines[-1] if lines else None,
            )
        ) from None


KIND = Kind(
    "template",
    "a Jinja2 template of your own gets the catalogue",
    "wherever `to` says",
    "{stem}.txt",
    write,
    rank=90,
    options={"template": Option("", "the template's path, relative to oddpeg.toml")},
)
