"""Rules for keys of `oddpeg.toml`: what the type and the default of a field do not say.

From the declarations in `settings` follow the validation of a file, its defaults, the reference table and the JSON
Schema.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Collection
from dataclasses import dataclass, field
from typing import Any, NamedTuple, TypeVar, dataclass_transform

from oddpeg.suggestions import did_you_mean

RANGE = re.compile(r"\s*U\+([0-9A-Fa-f]{1,6})\s*-\s*U\+([0-9A-Fa-f]{1,6})\s*")


class Choices(NamedTuple):
    """The texts that a value can have.

    Attributes:
        noun: term for the value in messages, as in "is not a font format".
        names: function that returns the texts, called late because it may load code.
    """

    noun: str
    names: Callable[[], Collection[str]]

    def check(self, text: str) -> None:
        """Raise ValueError where a text is none of the choices."""
        if text not in self.names():
            cure = did_you_mean(text, self.names(), f"known are {', '.join(self.names())}", 1, 0.5)
            raise ValueError(f"is not {self.noun}: {text!r}; {cure}")


class Rule(NamedTuple):
    """The declaration of one key, which pydantic applies to the value.

    Attributes:
        doc: meaning, for the reference and for editors.
        pattern, hint: regular expression that the whole text must match, and the message if it does not.
        choices: permitted texts.
        least, most: limits of a number.
        read: function that converts the value in the file to the declared type.
        check: function that raises ValueError for a wrong value.
        filled: an empty text or list is an error.
    """

    doc: str = ""
    pattern: str = ""
    hint: str = ""
    choices: Choices | None = None
    least: float | None = None
    most: float | None = None
    read: Callable[[Any], Any] | None = None
    check: Callable[[Any], None] | None = None
    filled: bool = False

    def __get_pydantic_core_schema__(self, source: Any, handler: Callable[[Any], Any]) -> Any:
        """Return the schema of a type, limited by this rule."""
        from pydantic_core.core_schema import no_info_after_validator_function, no_info_before_validator_function

        schema = handler(source)
        for part in schema["choices"] if schema["type"] == "union" else [schema]:
            if part["type"] in ("int", "float", "bool"):
                part["strict"] = True  # no number in quotes
            if part["type"] in ("int", "float") and self.least is not None:
                part |= {"ge": self.least, "le": self.most}
        if self.filled:
            schema["min_length"] = 1
        if self.read:
            schema = no_info_before_validator_function(self.read, schema)
        return no_info_after_validator_function(self._checked, schema)

    def __get_pydantic_json_schema__(self, schema: Any, handler: Callable[[Any], dict[str, Any]]) -> dict[str, Any]:
        """Return the JSON Schema of a type with the description, choices and pattern of this rule."""
        extras = {
            "description": self.doc,
            "enum": list(self.choices.names()) if self.choices else [],
            "pattern": self.pattern and f"^{self.pattern}$",
        }
        return handler(schema) | {key: value for key, value in extras.items() if value}

    def _checked(self, value: Any) -> Any:
        if self.choices:
            self.choices.check(value)
        if self.pattern and not re.fullmatch(self.pattern, value):
            raise ValueError(self.hint)
        if self.check:
            self.check(value)
        return value


T = TypeVar("T")


@dataclass_transform(frozen_default=True, field_specifiers=(field,))
def config_table(declared: type[T]) -> type[T]:
    """Make a class the declaration of a table: a dataclass whose fields are the keys."""
    declared.__pydantic_config__ = {"extra": "forbid", "alias_generator": key_of_field}  # type: ignore[attr-defined]
    return dataclass(frozen=True, eq=False)(declared)


def key_of_field(name: str) -> str:
    """Return a key as the file spells it, given the field that holds it (`from` is a word of Python's)."""
    return name.removesuffix("_")


def _fonts() -> Collection[str]:
    from oddpeg.outputs.registry import FONT_KINDS

    return FONT_KINDS


def _outputs() -> Collection[str]:
    from oddpeg.outputs.registry import KINDS

    return KINDS


def _findings() -> Collection[str]:
    from oddpeg.diagnostic_codes import FINDING_CODES

    return FINDING_CODES


REPACK_FORMAT = Choices("a format that fonts are repacked in", lambda: ("woff2", "woff", "ttf"))
FONT_FORMAT = Choices("a font format", _fonts)
OUTPUT_KIND = Choices("a kind of output", _outputs)
FINDING = Choices("a finding", _findings)

# all but other ASCII, in the words that regular expressions of every language share: editors read them in the schema
_NAME = r"-?[^\x00-@\[-^`{-\x7f][^\x00-,./:-@\[-^`{-\x7f]*"
_NAME_HINT = "must start with a letter and hold letters, digits, - and _ only"
CLASS_NAME = Rule(pattern=_NAME, hint=_NAME_HINT)
OPTIONAL_CLASS_NAME = Rule(pattern=f"({_NAME})?", hint=_NAME_HINT)
CSS_VALUE = Rule(
    pattern=r"[\w.%#,+*/ ()-]+",
    hint="must be a CSS value such as 1.5em, #0a7 or var(--warn)",
    check=lambda text: check_css_value(text),
)
COLOUR = Rule(check=lambda text: check_colour(text))
FILLED = Rule(filled=True)


def check_css_value(text: str) -> None:
    """Raise ValueError where a value would swallow the text after it in a stylesheet."""
    depth = 0
    for character in text:
        depth += (character == "(") - (character == ")")
        if depth < 0:
            break
    if depth or "/*" in text or "*/" in text:
        raise ValueError("has a bracket or a comment that is not closed; must be a CSS value such as calc(1em + 2px)")


def check_colour(text: str) -> None:
    """Raise ValueError where a text is no colour of CSS."""
    from oddpeg.svg.paint import colour_of

    if colour_of(text) is None:
        raise ValueError(f"is no colour: {text!r}; write it as #c1492c, rgb(193 73 44) or a CSS colour name")


def check_family(text: str) -> None:
    """Raise ValueError where a text cannot be a font's family name."""
    from oddpeg.font.write.info import ascii_words

    if not ascii_words(text) or not any(c.isalpha() for c in text):
        raise ValueError("needs at least one letter: file names and font names are made from it")
    if len(text) > 63 or any(ord(c) < 32 for c in text):
        raise ValueError("must be one line of at most 63 characters")


def check_ranges(value: str | list[str]) -> None:
    """Raise ValueError where a text, or one of a list, is not a range of codepoints."""
    for text in [value] if isinstance(value, str) else value:
        match = RANGE.fullmatch(text)
        if not match:
            raise ValueError('must look like "U+E000-U+F8FF", or be a list of such ranges')
        first, last = int(match[1], 16), int(match[2], 16)
        if first > last or last > 0x10FFFF:
            raise ValueError("must go from a smaller codepoint to a larger one, at most U+10FFFF")
    if not value:
        raise ValueError("needs at least one range")


def output_table(value: Any) -> Any:
    """Return the table of an output given as a name; keys that only its kind has go into `options`."""
    if isinstance(value, str):
        return {"kind": value}
    if not isinstance(value, dict) or "options" in value:
        return value
    shared = {key: setting for key, setting in value.items() if key in ("kind", "to")}
    return {**shared, "options": {key: setting for key, setting in value.items() if key not in shared}}


def check_output(output: Any) -> None:
    """Raise ValueError where an output has an option that its kind does not know, or a value of the wrong type."""
    from oddpeg.outputs.registry import KINDS

    known = KINDS[output.kind].options
    for key, value in output.options.items():
        if key not in known:
            hint = did_you_mean(key, ["kind", "to", *known], f"it has {', '.join(['to', *known])}", 1, 0.5)
            raise ValueError(f"{output.kind} has no key {key!r}; {hint}")
        option = known[key]
        if type(value) is int and not option.is_switch:  # `depth = 4` is as clear as `depth = "4"`
            value = output.options[key] = str(value)
        if not isinstance(value, bool if option.is_switch else str):
            wanted = "true or false" if option.is_switch else "a text in quotes"
            raise ValueError(f"{key!r} of {output.kind} is {value!r}; write {wanted}")
        if option.choices and value not in option.choices:
            raise ValueError(f"{key!r} of {output.kind} is {value!r}; it is one of {', '.join(option.choices)}")
