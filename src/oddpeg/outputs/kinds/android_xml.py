"""Android string resources: one string for each icon. Source: Android resource naming rules (a to z, 0 to 9,
underscore)."""

from __future__ import annotations

from oddpeg.iconset.model import IconSet
from oddpeg.outputs.context import OutputContext, Snippet
from oddpeg.outputs.kind import OutputKind, needs
from oddpeg.outputs.language import Language
from oddpeg.outputs.naming import lower

_LANGUAGE = Language(
    "android-xml", "android_xml.jinja", lower, call="@string/{id}", prefixed=True, endings=".xml .java .kt .kts"
)


def setup(icon_set: IconSet, context: OutputContext) -> list[Snippet]:
    """Return what gives a view the font."""
    return [Snippet("android-xml", f'android:fontFamily="@font/{context.font_stem or icon_set.stem}"')]


KIND = OutputKind(
    "android-xml",
    "string resources",
    "put it into res/values; the font goes into res/font",
    "{under}.xml",
    _LANGUAGE.write,
    _LANGUAGE.snippets,
    setup=setup,
    needs=needs("ttf"),
    references=_LANGUAGE.references,
    rank=20,
    resource_names=True,
)
