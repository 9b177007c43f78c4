"""What was worked out before from the very same arguments, so that an edit need not do it again.

Nothing here changes a result. A step is a function that reads nothing but its arguments, so these are
the key. Parts of a document are never changed in place: a part that is the same object is the same part.
What is kept must not be changed either. One memo serves one design; it is handed in, and forgotten with it.
"""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
from dataclasses import fields, is_dataclass
from typing import Any, TypeVar

from inkthread.core.document.only import parts_of
from inkthread.core.document.types import Document

T = TypeVar("T")

_PLAIN = (str, int, float, bytes, tuple, type(None))
_SLOTS_AT_MOST = 20_000


class OfParts:
    """What is the same where all its parts are."""

    __slots__ = ()

    def parts(self) -> tuple[object, ...]:
        """All that it consists of."""
        raise NotImplementedError


def _same(a: object, b: object) -> bool:
    if a is b:
        return True
    if isinstance(a, Document) and isinstance(b, Document):
        return all(one is other for one, other in zip(parts_of(a), parts_of(b), strict=True))
    if isinstance(a, OfParts) and isinstance(b, OfParts):
        return all(map(_same, a.parts(), b.parts()))
    return isinstance(a, _PLAIN) and a == b


def _alike(a: object, b: object) -> bool:
    """Equal, and what is in order in the same order."""
    if a is b:
        return True
    if isinstance(a, dict) and isinstance(b, dict):
        return list(a) == list(b) and list(a.values()) == list(b.values())
    if is_dataclass(a) and type(a) is type(b):
        return all(_alike(getattr(a, f.name), getattr(b, f.name)) for f in fields(a))
    return a == b


_Kept = tuple[tuple[tuple[object, ...], Any], ...]


class Memo:
    """The newest few results of every step, by its arguments: parts by identity, plain values by value.

    Documents are the same where each of their parts is. Of slots that have not been asked for longest,
    those beyond ``slots`` go.
    """

    def __init__(self, most: int = 4, slots: int = _SLOTS_AT_MOST) -> None:
        self._most = most
        self._slots = slots
        self._kept: OrderedDict[Hashable, _Kept] = OrderedDict()
        self._lock = threading.Lock()

    def get(self, step: Callable[..., T], *arguments: object, of: Hashable = None) -> T:
        """What the step gave for these arguments, else what it gives now, which is kept from now on.

        A step that is taken for many things, each on its own, says what it is taken ``of``. What the step
        raises is raised, and nothing is kept.
        """
        slot = (step, of)
        with self._lock:
            kept = self._kept.get(slot, ())
            if kept:
                self._kept.move_to_end(slot)
        for n, (known, result) in enumerate(kept):
            if len(known) == len(arguments) and all(map(_same, known, arguments)):
                if n:
                    self._keep(slot, (kept[n], *kept[:n], *kept[n + 1 :]))
                value: T = result
                return value
        value = step(*arguments)
        self._keep(slot, ((arguments, value), *kept[: self._most - 1]))
        return value

    def alike(self, of: Hashable, value: T) -> T:
        """The value that was last given under this name where it is equal to this one, else this one.

        What comes out the same is the same object then, so that later steps see that it is.
        """
        slot = (Memo.alike, of)
        with self._lock:
            kept = self._kept.get(slot, ())
        for n, (_, known) in enumerate(kept):
            if _alike(known, value):
                if n:
                    self._keep(slot, (kept[n], *kept[:n], *kept[n + 1 :]))
                same: T = known
                return same
        self._keep(slot, (((), value), *kept[: self._most - 1]))
        return value

    def each_alike(self, of: Hashable, values: dict[str, T]) -> dict[str, T]:
        """The values by key, each the very one that was last given under this name and key where they are
        equal. What is kept in order by key must not be in them: equal, it may be in another order.
        """
        before: dict[str, T] = self.last((Memo.each_alike, of)) or {}
        shared = {
            key: last if (last := before.get(key)) is not None and last == value else value
            for key, value in values.items()
        }
        self.put_down((Memo.each_alike, of), shared)
        return shared

    def last(self, of: Hashable) -> Any:
        """What was put down last under this name for the next one to begin from, or None."""
        with self._lock:
            kept = self._kept.get((Memo.last, of), ())
        return kept[0][1] if kept else None

    def put_down(self, of: Hashable, value: object) -> None:
        """Put down what the next one may begin from. Beginning there must not change what comes out."""
        self._keep((Memo.last, of), (((), value),))

    def _keep(self, slot: Hashable, kept: _Kept) -> None:
        with self._lock:
            self._kept[slot] = kept
            if len(self._kept) > self._slots:
                self._kept.popitem(last=False)
