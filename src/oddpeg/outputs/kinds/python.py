"""Python: a StrEnum of characters. Source: Python Language Reference §2.3."""

from __future__ import annotations

from oddpeg.iconset.model import IconSet
from oddpeg.outputs.context import OutputContext, Snippet
from oddpeg.outputs.escape import python_string
from oddpeg.outputs.kind import OutputKind, needs
from oddpeg.outputs.language import Language
from oddpeg.outputs.naming import upper

_RESERVED = "FAMILY"

_LANGUAGE = Language("python", "python.jinja", upper, reserved=_RESERVED.split(), endings=".py .pyi")


def setup(icon_set: IconSet, context: OutputContext) -> list[Snippet]:
    """Return what registers the font with a GUI toolkit, and with a maker of PDFs."""
    file = context.font_file(icon_set.stem)
    return [
        Snippet("python", f'QFontDatabase.addApplicationFont("{file}")'),
        Snippet("python", f'pdfmetrics.registerFont(TTFont({python_string(icon_set.family)}, "{file}"))'),
    ]


KIND = OutputKind(
    "python",
    "StrEnum of characters",
    "import it; works with any GUI toolkit",
    "{under}.py",
    _LANGUAGE.write,
    _LANGUAGE.snippets,
    setup=setup,
    needs=needs("ttf"),
    references=_LANGUAGE.references,
    rank=20,
)
