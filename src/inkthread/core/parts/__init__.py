"""Parts: the bill of materials, mass and cost."""

from inkthread.core.parts.room import BillLine, PartsResult, parts_room

__all__ = ["BillLine", "PartsResult", "parts_room"]
