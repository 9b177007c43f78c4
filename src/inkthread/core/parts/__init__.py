"""Parts: the bill of materials, mass and cost."""

from inkthread.core.parts.room import BillLine, PartsResult, find_in_bill, parts_room

__all__ = ["BillLine", "PartsResult", "find_in_bill", "parts_room"]
