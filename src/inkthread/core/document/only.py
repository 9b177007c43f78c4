"""A document with some of its parts alone: what a step may read, and so what its result hangs on."""

from __future__ import annotations

from dataclasses import fields
from typing import Any

from inkthread.core.document.choices import (
    BuildChoices,
    CutChoices,
    DressChoices,
    Ends,
    PartsChoices,
    WireChoices,
)
from inkthread.core.document.types import Circuits, Document, Route
from inkthread.core.record import altered

_NOTHING: dict[str, Any] = {
    "circuits": Circuits(),
    "route": Route(),
    "wire": WireChoices(),
    "ends": Ends(),
    "cut": CutChoices(),
    "dress": DressChoices(),
    "parts": PartsChoices(),
    "build": BuildChoices(),
}
_PARTS = {room: tuple(f.name for f in fields(empty)) for room, empty in _NOTHING.items()}


def same_parts(one: Document, other: Document) -> bool:
    """Whether every part that can be named alone is the same object in both."""
    if one.brief is not other.brief:
        return False
    for room, parts in _PARTS.items():
        own, beside = getattr(one, room), getattr(other, room)
        if own is not beside and any(getattr(own, part) is not getattr(beside, part) for part in parts):
            return False
    return True


def only(document: Document, *parts: str) -> Document:
    """The document with its brief and these parts: ``route``, or ``circuits.devices``. The rest is empty.

    Raises AttributeError for a part that there is not.
    """
    rooms = dict(_NOTHING)
    alone: dict[str, dict[str, Any]] = {}
    for name in parts:
        room, _, part = name.partition(".")
        stated = getattr(document, room)
        if part:
            alone.setdefault(room, {})[part] = getattr(stated, part)
        else:
            rooms[room] = stated
    for room, some in alone.items():
        rooms[room] = altered(rooms[room], **some)
    return Document(document.format, document.format_number, document.brief, **rooms)
