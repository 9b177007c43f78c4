"""Records: dataclasses that nobody changes, which the type checker sees to."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, fields
from functools import cache
from operator import attrgetter
from typing import Any, TypeVar, dataclass_transform

T = TypeVar("T")


@dataclass_transform(frozen_default=True, field_specifiers=(field,))
def record(kind: type[T]) -> type[T]:
    """A dataclass with slots, told apart by its fields, of which none is changed once it is made.

    That is the type checker's business: a frozen dataclass pays for it at every field of every object.
    Only how one is made is written out for each kind, when the program starts; the rest asks for the fields.
    """
    whole = dataclass(slots=True, eq=False, repr=False)(kind)
    compared = _those([f.name for f in fields(whole) if f.compare])  # type: ignore[arg-type]
    hashed = _those([f.name for f in fields(whole) if (f.compare if f.hash is None else f.hash)])  # type: ignore[arg-type]
    told = [f.name for f in fields(whole) if f.repr]  # type: ignore[arg-type]

    def same(self: object, other: object) -> Any:
        return compared(self) == compared(other) if other.__class__ is self.__class__ else NotImplemented

    def number(self: object) -> int:
        return hash(hashed(self))

    def words(self: object) -> str:
        return f"{whole.__qualname__}({', '.join(f'{name}={getattr(self, name)!r}' for name in told)})"

    for name, method in (("__eq__", same), ("__hash__", number), ("__repr__", words)):
        if name not in kind.__dict__:
            setattr(whole, name, method)
    return whole


def altered(of: T, **parts: object) -> T:
    """The same with these parts instead, as ``dataclasses.replace`` gives it in three times as long.

    For what is made by the thousand. Raises KeyError for a part that there is not.
    """
    kind: Any = of.__class__
    read, place = _read_all(kind)
    values = [*read(of)]
    for name, value in parts.items():
        values[place[name]] = value
    same_kind: T = kind(*values)
    return same_kind


@cache
def _read_all(kind: Any) -> tuple[Callable[[object], tuple[Any, ...]], dict[str, int]]:
    """What reads all parts of an object in the order that it is made of them, and the place of each."""
    names = [f.name for f in fields(kind)]
    read = attrgetter(*names) if len(names) > 1 else lambda of: tuple(getattr(of, n) for n in names)
    return read, {name: n for n, name in enumerate(names)}


def _those(names: list[str]) -> Callable[[object], Any]:
    """What asks an object for these: alone as it is, none as one and the same."""
    return attrgetter(*names) if names else lambda _: ()
