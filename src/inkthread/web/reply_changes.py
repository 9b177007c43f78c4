"""What of a harness and its evaluation an edit changed, as operations on the reply that the screen holds.

Both are trees of dataclasses, of collections by key, and of lists. What is the same object is the same; what
is not is compared part by part. A screen that holds the reply before comes by them to the one after.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import fields, is_dataclass
from functools import cache
from operator import attrgetter
from typing import Any, NamedTuple, get_args, get_type_hints

from pydantic.fields import FieldInfo

_LOOKED_AHEAD = 16
"""How far on in a list an entry that is the same is looked for, past some that have gone or are another."""

_SINGLE = frozenset({str, float, int, bool, type(None)})

Step = tuple[str | int, ...]
Change = dict[str, Any]


class _Sent(NamedTuple):
    """The fields of a dataclass that are sent, and what reads them all at once."""

    names: tuple[str, ...]
    read: Callable[[Any], tuple[Any, ...]]


@cache
def _sent(kind: Any) -> _Sent | None:
    """None for what is no dataclass."""
    if not is_dataclass(kind):
        return None
    hints = get_type_hints(kind, include_extras=True)
    names = tuple(
        f.name
        for f in fields(kind)
        if not any(isinstance(m, FieldInfo) and m.exclude for m in get_args(hints[f.name])[1:])
    )
    if len(names) > 1:
        return _Sent(names, attrgetter(*names))
    return _Sent(names, lambda value: tuple(getattr(value, name) for name in names))


def plainly(value: Any) -> Any:
    """A part of a reply as plain data, as it is written in JSON."""
    kind: Any = type(value)
    if kind in _SINGLE:
        return value
    sent = _sent(kind)
    if sent is not None:
        return dict(zip(sent.names, map(plainly, sent.read(value)), strict=True))
    if isinstance(value, dict):
        return {key: plainly(v) for key, v in value.items()}
    if isinstance(value, (tuple, list)):
        return list(value) if _SINGLE.issuperset(map(type, value)) else [plainly(v) for v in value]
    return value


def changes(before: Any, after: Any, at: Step = ()) -> list[Change]:
    """Operations that make ``after`` of ``before``, each with the steps to where it is done.

    ``put`` puts a value, ``take`` takes out keys, ``arrange`` makes a list of stretches of the one before,
    each its first place and its length, and of what is new.
    """
    told: list[Change] = []
    _tell(before, after, at, told)
    return told


def _tell(before: Any, after: Any, at: Step, told: list[Change]) -> None:
    if before is after:
        return
    kind: Any = type(after)
    sent = _sent(kind)
    if type(before) is not kind:
        told.append({"put": plainly(after), "at": at})
    elif sent is not None:
        for name, one, other in zip(sent.names, sent.read(before), sent.read(after), strict=True):
            if one is other:
                continue
            if type(other) in _SINGLE:
                if one != other or type(one) is not type(other):
                    told.append({"put": other, "at": (*at, name)})
            else:
                _tell(one, other, (*at, name), told)
    elif isinstance(after, dict):
        _tell_collection(before, after, at, told)
    elif isinstance(after, tuple):
        _tell_list(before, after, at, told)
    elif before != after:
        told.append({"put": plainly(after), "at": at})


def _tell_collection(before: dict[str, Any], after: dict[str, Any], at: Step, told: list[Change]) -> None:
    if list(before) == list(after):
        for (key, one), other in zip(before.items(), after.values(), strict=True):
            if one is not other:
                _tell(one, other, (*at, key), told)
        return
    kept = [key for key in before if key in after]
    if kept != list(after)[: len(kept)]:
        told.append({"put": plainly(after), "at": at})  # what comes before what is another
        return
    gone = [key for key in before if key not in after]
    if gone:
        told.append({"take": gone, "at": at})
    for key, value in after.items():
        if key in before:
            _tell(before[key], value, (*at, key), told)
        else:
            told.append({"put": plainly(value), "at": (*at, key)})


def _tell_list(before: tuple[Any, ...], after: tuple[Any, ...], at: Step, told: list[Change]) -> None:
    if before == after:
        return
    if all(_sent(v.__class__) is None for v in (*before[:1], *after[:1])):
        told.append({"put": plainly(after), "at": at})
        return
    places = {id(v): n for n, v in enumerate(before)}
    stretches: list[Any] = []
    expected = 0
    for value in after:
        place = places.get(id(value))
        if place is None:
            near = range(expected, min(expected + _LOOKED_AHEAD, len(before)))
            place = next((n for n in near if before[n] == value), None)
        if place is None:
            stretches.append({"new": plainly(value)})
            continue
        last = stretches[-1] if stretches else None
        if isinstance(last, list) and last[0] + last[1] == place:
            last[1] += 1
        else:
            stretches.append([place, 1])
        expected = place + 1
    told.append({"arrange": stretches, "at": at})
