"""What of a harness and its evaluation an edit changed, as operations on the reply that the screen holds.

Both are trees of dataclasses, of collections by key, and of lists. What is the same object is the same; what
is not is compared part by part. A screen that holds the reply before comes by them to the one after.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import fields, is_dataclass
from functools import cache
from typing import Any, get_args, get_origin, get_type_hints

from pydantic.fields import FieldInfo

_LOOKED_AHEAD = 16
"""How far on in a list an entry that is the same is looked for, past some that have gone or are another."""

_SINGLE = (str, float, int, bool)

Step = tuple[str | int, ...]
Change = dict[str, Any]


@cache
def sent_fields(kind: Any) -> tuple[str, ...]:
    """The fields of a dataclass that are sent."""
    hints = get_type_hints(kind, include_extras=True)
    return tuple(
        f.name
        for f in fields(kind)
        if not any(isinstance(m, FieldInfo) and m.exclude for m in get_args(hints[f.name])[1:])
    )


@cache
def _without_collections(kind: Any) -> bool:
    """Whether what is equal of this kind is also in the same order: nothing in it is kept by key."""
    if kind is dict or get_origin(kind) is dict:
        return False
    if is_dataclass(kind):
        return all(_without_collections(hint) for hint in get_type_hints(kind).values())
    return all(_without_collections(part) for part in get_args(kind))


def _sent(value: object) -> tuple[str, ...]:
    kind: Any = type(value)
    return sent_fields(kind)


def plainly(value: Any) -> Any:
    """A part of a reply as plain data, as it is written in JSON."""
    if is_dataclass(value) and not isinstance(value, type):
        return {name: plainly(getattr(value, name)) for name in _sent(value)}
    if isinstance(value, dict):
        return {key: plainly(v) for key, v in value.items()}
    if isinstance(value, (tuple, list)):
        return [plainly(v) for v in value]
    return value


def changes(before: Any, after: Any, at: Step = ()) -> Iterator[Change]:
    """Operations that make ``after`` of ``before``, each with the steps to where it is done.

    ``put`` puts a value, ``take`` takes out keys, ``arrange`` makes a list of stretches of the one before,
    each its first place and its length, and of what is new.
    """
    if before is after:
        return
    if is_dataclass(after) and type(before) is type(after):
        kind: Any = type(after)
        if _without_collections(kind) and before == after:
            return
        for name in sent_fields(kind):
            one, other = getattr(before, name), getattr(after, name)
            if one is other or (type(one) is type(other) and type(one) in _SINGLE and one == other):
                continue
            yield from changes(one, other, (*at, name))
    elif isinstance(before, dict) and isinstance(after, dict):
        yield from _in_collection(before, after, at)
    elif isinstance(before, tuple) and isinstance(after, tuple):
        yield from _in_list(before, after, at)
    elif before != after or type(before) is not type(after):
        yield {"put": plainly(after), "at": at}


def _in_collection(before: dict[str, Any], after: dict[str, Any], at: Step) -> Iterator[Change]:
    kept = [key for key in before if key in after]
    if kept != list(after)[: len(kept)]:
        yield {"put": plainly(after), "at": at}  # what comes before what is another
        return
    gone = [key for key in before if key not in after]
    if gone:
        yield {"take": gone, "at": at}
    for key, value in after.items():
        if key in before:
            yield from changes(before[key], value, (*at, key))
        else:
            yield {"put": plainly(value), "at": (*at, key)}


def _in_list(before: tuple[Any, ...], after: tuple[Any, ...], at: Step) -> Iterator[Change]:
    if before == after:
        return
    if not any(is_dataclass(v) for v in (*before[:1], *after[:1])):
        yield {"put": plainly(after), "at": at}
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
    yield {"arrange": stretches, "at": at}
