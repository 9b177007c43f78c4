"""What was worked out before from the very same parts, so that an edit need not do it again.

Nothing here changes a result. Parts of a document are never changed in place: a part that is the
same object is the same part. What is kept must not be changed either.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Generic, TypeVar

T = TypeVar("T")

_PLAIN = (str, int, float, tuple, type(None))


def _same(a: object, b: object) -> bool:
    return a is b or (isinstance(a, _PLAIN) and a == b)


class Memo(Generic[T]):
    """The newest few results of one step, by what went in: parts by identity, plain values by value."""

    def __init__(self, most: int = 4) -> None:
        self._most = most
        self._held: tuple[tuple[tuple[object, ...], T], ...] = ()

    def get(self, inputs: tuple[object, ...], make: Callable[[], T]) -> T:
        """The result kept for these inputs, else what ``make`` gives, which is kept from now on."""
        held = self._held
        for n, (known, result) in enumerate(held):
            if len(known) == len(inputs) and all(map(_same, known, inputs)):
                if n:
                    self._held = (held[n], *held[:n], *held[n + 1 :])
                return result
        made = make()
        self._held = ((inputs, made), *self._held[: self._most - 1])
        return made
