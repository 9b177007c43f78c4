"""Wire: every section's gauge, judged by five limits; its colour; its drop and temperature."""

from inkthread.core.wire.limits import LIMITS, Judgement, SizeTable, size_table
from inkthread.core.wire.results import LoopDrop, Wire, WireResult
from inkthread.core.wire.room import wire_room

__all__ = [
    "LIMITS",
    "Judgement",
    "LoopDrop",
    "SizeTable",
    "Wire",
    "WireResult",
    "size_table",
    "wire_room",
]
