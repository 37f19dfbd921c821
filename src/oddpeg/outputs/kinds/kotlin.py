"""Kotlin: an object of string constants, and on request a cached typeface for Android. Source: Kotlin grammar."""

from __future__ import annotations

from oddpeg.outputs.kind import OutputKind, needs
from oddpeg.outputs.language import JVM_OPTIONS, Language, jvm_setup
from oddpeg.outputs.naming import upper

_LANGUAGE = Language("kotlin", "kotlin.jinja", upper, reserved=("FAMILY",), endings=".java .kt .kts .groovy .scala")

KIND = OutputKind(
    "kotlin",
    "object of string constants",
    "put it with the sources of the package it names",
    "{Type}.kt",
    _LANGUAGE.write,
    _LANGUAGE.snippets,
    setup=jvm_setup,
    needs=needs("ttf"),
    references=_LANGUAGE.references,
    rank=20,
    options=JVM_OPTIONS,
)
