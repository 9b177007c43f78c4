"""Parts: the bill of materials, mass and cost."""

from inkthread.core.parts.checks import find_in_bill
from inkthread.core.parts.room import BillLine, PartsResult, parts_room
from inkthread.core.parts.stock import Coverage, StockEntry, cover, stock_line, stock_lines, wire_at_hand
from inkthread.core.parts.units import known_parts

__all__ = [
    "BillLine",
    "Coverage",
    "PartsResult",
    "StockEntry",
    "cover",
    "find_in_bill",
    "known_parts",
    "parts_room",
    "stock_line",
    "stock_lines",
    "wire_at_hand",
]
