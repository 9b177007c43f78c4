"""Records: dataclasses that nobody changes, which the type checker sees to."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import TypeVar, dataclass_transform

T = TypeVar("T")


@dataclass_transform(frozen_default=True, field_specifiers=(field,))
def record(kind: type[T]) -> type[T]:
    """A dataclass with slots, told apart by its fields, of which none is changed once it is made.

    That is the type checker's business: a frozen dataclass pays for it at every field of every object.
    """
    return dataclass(slots=True, unsafe_hash=True)(kind)
