"""JavaScript: the same map as for TypeScript, as a plain module with types in its comments."""

from __future__ import annotations

from oddpeg.outputs.kind import Option, OutputKind
from oddpeg.outputs.kinds.typescript import ScriptModule, has_hover, references

_MODULE = ScriptModule("javascript", typed=False)

KIND = OutputKind(
    "javascript",
    "constant map from name to codepoint and character",
    "import it where icons are used",
    "{stem}.mjs",
    _MODULE.write,
    _MODULE.snippets,
    setup=_MODULE.setup,
    companions=_MODULE.declarations,
    references=references,
    rank=3,
    shows_drawings=has_hover,
    options={"hover": Option(False, "pictures in the editor's hover")},
)
