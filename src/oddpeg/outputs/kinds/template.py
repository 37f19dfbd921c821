"""A template of the user, filled in with the icon set. It runs in a sandbox: it can read its values, and nothing else.

Source: Jinja2, SandboxedEnvironment.
"""

from __future__ import annotations

import traceback

from oddpeg.diagnostics import Diagnostic, OddPegError
from oddpeg.iconset.model import IconSet
from oddpeg.isolation import within_budget
from oddpeg.outputs.context import OutputContext
from oddpeg.outputs.kind import Option, OutputKind, always
from oddpeg.outputs.render import filters


def write(icon_set: IconSet, context: OutputContext) -> str:
    """Return the template filled in; raise `OddPegError` where it cannot be, naming its line."""
    from jinja2 import StrictUndefined, TemplateSyntaxError
    from jinja2.sandbox import ImmutableSandboxedEnvironment

    where, source = str(context.options["template"]), str(context.options.get("source", ""))
    environment = ImmutableSandboxedEnvironment(
        undefined=StrictUndefined, trim_blocks=True, lstrip_blocks=True, keep_trailing_newline=True
    )
    environment.filters.update(filters())
    try:
        with within_budget():
            text = environment.from_string(source).render(c=icon_set, icons=icon_set.icons, urls=context.urls)
    except TemplateSyntaxError as problem:
        raise OddPegError(
            Diagnostic(
                "template-syntax",
                f"is not a valid template: {problem.message}",
                "correct that line",
                where,
                problem.lineno,
            )
        ) from None
    except MemoryError:
        raise
    except Exception as problem:  # any error in the user's template
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
    return text


KIND = OutputKind(
    "template",
    "your own Jinja2 template, rendered with the icon set",
    "wherever `to` says",
    "{stem}.txt",
    write,
    rank=90,
    shows_drawings=always,
    options={"template": Option("", "the template's path, relative to oddpeg.toml")},
)
