"""Wire: every section's family and gauge, judged by five limits; its colour, drop and temperature."""

from inkthread.core.wire.drop_inputs import twisted_by_hand
from inkthread.core.wire.families import known_families
from inkthread.core.wire.limits import LIMITS, Judgement, ratios_at
from inkthread.core.wire.made import MadeWire, MadeWires
from inkthread.core.wire.results import LoopDrop, Wire, WireResult
from inkthread.core.wire.room import limit_ratios, size_and_judge, wire_room
from inkthread.core.wire.set_out import SetOut, as_made_only

__all__ = [
    "LIMITS",
    "Judgement",
    "LoopDrop",
    "MadeWire",
    "MadeWires",
    "SetOut",
    "Wire",
    "WireResult",
    "as_made_only",
    "known_families",
    "limit_ratios",
    "ratios_at",
    "size_and_judge",
    "twisted_by_hand",
    "wire_room",
]
