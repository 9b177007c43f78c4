"""What was worked out before from the very same arguments, so that an edit need not do it again.

Nothing here changes a result. A step is a function that reads nothing but its arguments, so these are
the key. Parts of a document are never changed in place: a part that is the same object is the same part.
What is kept must not be changed either. One memo serves one design; it is handed in, and forgotten with it.
"""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable, Iterable
from dataclasses import fields, is_dataclass
from operator import is_
from typing import Any, Generic, NamedTuple, TypeVar

import numpy as np
import numpy.typing as npt

from inkthread.core.document.only import same_parts
from inkthread.core.document.types import Document

T = TypeVar("T")

_PLAIN = (str, int, float, bytes, tuple, type(None))
_SLOTS_AT_MOST = 20_000


class OfParts:
    """What is the same where all its parts are."""

    __slots__ = ()

    def parts(self) -> tuple[object, ...]:
        """All that it consists of, but for a memo: that changes nothing."""
        raise NotImplementedError


class _Parts(NamedTuple):
    """What is kept of an argument that is the same where all its parts are."""

    parts: tuple[object, ...]


def _same(known: object, argument: object) -> bool:
    """Whether an argument is one that was known, as it was kept by ``_known_by``."""
    if known is argument:
        return True
    if isinstance(known, Document) and isinstance(argument, Document):
        return same_parts(known, argument)
    if isinstance(known, _Parts):
        return isinstance(argument, OfParts) and all(map(_same, known.parts, argument.parts()))
    if isinstance(argument, Memo):
        return known is Memo
    return isinstance(known, _PLAIN) and known == argument


def _known_by(argument: object) -> object:
    """What is kept of an argument to know it by. A memo that kept itself, or what holds it, would stay when
    nobody wants it any more.
    """
    if isinstance(argument, OfParts):
        return _Parts(tuple(map(_known_by, argument.parts())))
    return Memo if isinstance(argument, Memo) else argument


def alike(a: object, b: object) -> bool:
    """Whether two values are equal, and what is in order in the same order."""
    if a is b:
        return True
    if isinstance(a, dict) and isinstance(b, dict):
        return list(a) == list(b) and list(a.values()) == list(b.values())
    if is_dataclass(a) and type(a) is type(b):
        return all(alike(getattr(a, f.name), getattr(b, f.name)) for f in fields(a))
    return a == b


class _Rows(NamedTuple, Generic[T]):
    """Values by key, and the columns of what they were made of."""

    basis: tuple[object, ...]
    keys: tuple[str, ...]
    columns: tuple[npt.NDArray[Any] | list[Any], ...]
    values: dict[str, T]


def _differing(
    before: tuple[npt.NDArray[Any] | list[Any], ...],
    now: tuple[npt.NDArray[Any] | list[Any], ...],
    count: int,
) -> list[int]:
    """Rows of which a column says another thing."""
    rows = np.zeros(count, dtype=bool)
    for one, other in zip(before, now, strict=True):
        if isinstance(one, list) or isinstance(other, list):
            if one == other:
                continue
            differs = (a is not b and a != b for a, b in zip(one, other, strict=True))
            rows |= np.fromiter(differs, dtype=bool, count=count)
        else:
            unlike = one != other
            rows |= unlike.any(axis=1) if unlike.ndim > 1 else unlike
    return [int(n) for n in np.nonzero(rows)[0]]


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

    def copy(self) -> Memo:
        """One that begins with what this one keeps, and goes its own way from there."""
        other = Memo(self._most, self._slots)
        with self._lock:
            other._kept = self._kept.copy()
        return other

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
        self._keep(slot, ((tuple(map(_known_by, arguments)), value), *kept[: self._most - 1]))
        return value

    def alike(self, of: Hashable, value: T) -> T:
        """The value that was last given under this name where it is equal to this one, else this one.

        What comes out the same is the same object then, so that later steps see that it is.
        """
        slot = (Memo.alike, of)
        with self._lock:
            kept = self._kept.get(slot, ())
        for n, (_, known) in enumerate(kept):
            if alike(known, value):
                if n:
                    self._keep(slot, (kept[n], *kept[:n], *kept[n + 1 :]))
                same: T = known
                return same
        self._keep(slot, (((), value), *kept[: self._most - 1]))
        return value

    def row_by_row(
        self,
        of: Hashable,
        keys: tuple[str, ...],
        columns: tuple[npt.NDArray[Any] | list[Any], ...],
        make: Callable[[list[int]], Iterable[T]],
        basis: tuple[object, ...] = (),
        *,
        telling: bool = False,
    ) -> dict[str, T]:
        """One value a row, by its key: ``make`` gives those of some rows, and is asked of the rows of which a
        column says another thing than when this name was last given. Equal values stay the same object.

        Columns are arrays (n,) or (n, k), or lists of n. ``make`` must read nothing of a row that no column
        says. What is kept in order by key must be neither in columns nor in values: equal, it may be in
        another order. All are made anew where one of the ``basis`` is another object. Values that are
        ``telling`` say all that their columns do: of a row that says another thing none is equal.
        """
        slot = (Memo.row_by_row, of)
        known: _Rows[T] | None = self.last(slot)
        before = known.values if known is not None else {}
        values: dict[str, T] = {}
        rows = list(range(len(keys)))
        if known is not None and known.keys == keys and all(map(is_, known.basis, basis)):
            values, rows = dict(before), _differing(known.columns, columns, len(keys))
        if not before:
            values = dict(zip(keys, make(rows), strict=True))
            rows = []
        if telling and len(rows) < len(keys):
            values.update(zip([keys[row] for row in rows], make(rows), strict=True))
            rows = []
        for row, value in zip(rows, make(rows) if rows else (), strict=True):
            last = before.get(keys[row])
            values[keys[row]] = last if last is not None and last == value else value
        self.put_down(slot, _Rows(basis, keys, columns, values))
        return values

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
