"""A connector given another family or number of ways: what is on it keeps its way, or goes to the nearest."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from inkthread.core.catalogue import Housing
from inkthread.core.document.pin_ref import pin_of
from inkthread.core.record import record


@record
class OnWay:
    """A device pin on a way: its own name and role, and the way it has."""

    ref: str
    role: str
    cavity: str


def refit_ways(
    pins: Sequence[OnWay], old_ways: Sequence[str], housing: Housing
) -> tuple[Mapping[str, str], tuple[str, ...]]:
    """The way of a new housing for every pin, and the pins that have no place in it.

    A pin goes to the way that a standard or custom gives its role, where the housing has such ways; to the
    way of its own name; to the way of the same name or the same rank as before; to the next that is free.
    """
    ways = list(housing.face.cavities)
    moved: dict[str, str] = {}

    def give(pin: OnWay, way: str | None) -> None:
        if way is not None and pin.ref not in moved and way in ways and way not in moved.values():
            moved[pin.ref] = way

    for role in dict.fromkeys(housing.roles.values()):
        meant = [w for w in ways if housing.roles.get(w) == role]
        having = [p for p in pins if p.role == role]
        for pin, way in zip(having, meant, strict=False):
            give(pin, way)
    for pin in pins:
        give(pin, pin_of(pin.ref))
    keeps_names = all(p.cavity in ways for p in pins)
    for pin in pins:
        rank = old_ways.index(pin.cavity) if pin.cavity in old_ways else -1
        give(pin, pin.cavity if keeps_names else ways[rank] if 0 <= rank < len(ways) else None)
    for pin in pins:
        give(pin, next((w for w in ways if w not in moved.values()), None))
    return moved, tuple(p.ref for p in pins if p.ref not in moved)
