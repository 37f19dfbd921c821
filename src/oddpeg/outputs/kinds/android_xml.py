"""Android string resources: one string for each icon. Source: Android resource naming rules (a to z, 0 to 9,
underscore)."""

from __future__ import annotations

from oddpeg.outputs.kind import OutputKind
from oddpeg.outputs.language import Language
from oddpeg.outputs.naming import lower

_LANGUAGE = Language("android-xml", "android_xml.jinja", lower, call="@string/{id}", prefixed=True)

KIND = OutputKind(
    "android-xml",
    "string resources",
    "put it into res/values; the font goes into res/font",
    "{under}.xml",
    _LANGUAGE.write,
    _LANGUAGE.snippets,
    rank=20,
    resource_names=True,
)
