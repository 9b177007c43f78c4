"""Parts: the bill of materials, mass and cost."""

from inkthread.core.parts.checks import find_in_bill
from inkthread.core.parts.room import BillLine, PartsResult, parts_room
from inkthread.core.parts.stock import Coverage, StockEntry, cover, known_parts, stock_line, stock_lines

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
]
