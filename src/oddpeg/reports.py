"""Reports: types whose marked fields are printed as JSON. The JSON Schema of the documents is generated from the marks.

class Figure(NamedTuple):
    icon: Annotated[str, Key("name of the icon")]

    @reported("share of wrong pixels", name="wrong")
    def share(self) -> float: ...
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from enum import Enum
from functools import cache
from typing import Annotated, Any, Generic, NamedTuple, TypeVar, get_args, get_origin, get_type_hints

T = TypeVar("T")


class Key(NamedTuple):
    """The mark of a field that is printed.

    Attributes:
        description: for the schema.
        name: key in JSON, if it differs from the field's name.
        optional: omitted if the value is None or empty.
        merged: the fields of the value are printed instead of it.
    """

    description: str
    name: str = ""
    optional: bool = False
    merged: bool = False


class Reported(Generic[T]):
    """A computed value of a report, read like an attribute."""

    def __init__(self, compute: Callable[[Any], T], key: Key) -> None:
        self.compute, self.key = compute, key
        self.__doc__ = compute.__doc__ or key.description

    def __get__(self, instance: Any, owner: Any = None) -> T:
        return self.compute(instance)


def reported(description: str, name: str = "", optional: bool = False) -> Callable[[Callable[[Any], T]], Reported[T]]:
    """Return a decorator for a method without parameters whose value is printed. The parameters are those of `Key`."""
    return lambda compute: Reported(compute, Key(description, name, optional))


class ReportedField(NamedTuple):
    """A printed field: its attribute in Python, its mark, and its type."""

    attribute: str
    key: Key
    annotation: Any

    @property
    def name(self) -> str:
        """The name in JSON."""
        return self.key.name or self.attribute


@cache
def fields_of(report: Any) -> tuple[ReportedField, ...]:
    """Return the printed fields of a class; none where it is no report."""
    reported_fields = []
    for name, annotation in get_type_hints(report, include_extras=True).items():
        if get_origin(annotation) is Annotated:
            kind, *marks = get_args(annotation)
            reported_fields += [ReportedField(name, mark, kind) for mark in marks if isinstance(mark, Key)]
    for owner in reversed(report.__mro__):
        for name, value in vars(owner).items():
            if isinstance(value, Reported):
                reported_fields.append(ReportedField(name, value.key, get_type_hints(value.compute)["return"]))
    return tuple(reported_fields)


def as_json(value: Any) -> Any:
    """Return a report, or a value within one, as plain values."""
    if isinstance(value, Enum):
        return value.value
    if value is None or isinstance(value, (str, int, float)):
        return value
    if isinstance(value, Mapping):
        return {str(key): as_json(item) for key, item in value.items()}
    kind: Any = type(value)
    if fields := fields_of(kind):
        document: dict[str, Any] = {}
        for field in fields:
            item = getattr(value, field.attribute)
            if field.key.merged:
                document |= as_json(item)
            elif item or not field.key.optional:
                document[field.name] = as_json(item)
        return document
    return [as_json(item) for item in value]
