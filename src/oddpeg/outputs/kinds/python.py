"""Python: a StrEnum of characters. Source: Python Language Reference §2.3."""

from __future__ import annotations

from oddpeg.outputs.kind import OutputKind
from oddpeg.outputs.language import Language
from oddpeg.outputs.naming import upper

_RESERVED = "FAMILY"

_LANGUAGE = Language("python", "python.jinja", upper, reserved=_RESERVED.split())

KIND = OutputKind(
    "python",
    "StrEnum of characters",
    "import it; works with any GUI toolkit",
    "{under}.py",
    _LANGUAGE.write,
    _LANGUAGE.snippets,
    rank=20,
)
