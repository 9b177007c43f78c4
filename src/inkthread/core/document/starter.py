"""A new, empty harness."""

from __future__ import annotations

from typing import Any, get_args

from inkthread.core.document.load import dump_document
from inkthread.core.document.types import Brief, Document
from inkthread.core.document.values import Practice

_SUPPLY = {
    "motorsport": (12.0, 13.2),
    "aviation": (14.0, 13.8),
    "marine": (12.0, 12.8),
    "model": (7.4, 7.4),
    "vehicle": (12.0, 13.2),
    "equipment": (24.0, 24.0),
}


def usual_working_v(practice: Practice, nominal_v: float) -> float:
    """What a supply of a nominal voltage works at under a practice, in V: 13.8 on 14 and 27.5 on 28 with a
    generator, 13.2 on 12 in a vehicle (common practice, no source); others in proportion.
    """
    if practice == "aviation" and nominal_v == 28:
        return 27.5
    nominal, working = _SUPPLY[practice]
    return round(nominal_v * working / nominal, 2)


def practices() -> tuple[str, ...]:
    """The six practice presets."""
    return get_args(Practice)


def new_document(name: str, practice: Practice) -> dict[str, Any]:
    """A document with only a brief, as plain data."""
    nominal, working = _SUPPLY[practice]
    brief = Brief(name, practice, supply_nominal_v=nominal, supply_working_v=working)
    return dump_document(Document("inkthread-design", 1, brief))
