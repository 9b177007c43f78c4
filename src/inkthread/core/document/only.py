"""A document with some of its parts alone: what a step may read, and so what its result hangs on."""

from __future__ import annotations

from dataclasses import fields, replace
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
_PARTS = tuple((room, f.name) for room, empty in _NOTHING.items() for f in fields(empty))


def parts_of(document: Document) -> tuple[object, ...]:
    """Every part that can be named alone, the brief first."""
    return (document.brief, *(getattr(getattr(document, room), part) for room, part in _PARTS))


def only(document: Document, *parts: str) -> Document:
    """The document with its brief and these parts: ``route``, or ``circuits.devices``. The rest is empty.

    Raises AttributeError for a part that there is not.
    """
    rooms = dict(_NOTHING)
    for name in parts:
        room, _, part = name.partition(".")
        stated = getattr(document, room)
        rooms[room] = replace(rooms[room], **{part: getattr(stated, part)}) if part else stated
    return replace(document, **rooms)
