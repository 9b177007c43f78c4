"""Cut: finished and cut length of every wire, strip lengths, the order to cut in, spools and remnants."""

from inkthread.core.cut.cables import Cable
from inkthread.core.cut.lengths import cut_length_mm, round_up_mm
from inkthread.core.cut.plan import CutFrom, CutPlan, Length, Piece, plan_cuts
from inkthread.core.cut.room import (
    Cut,
    CutResult,
    Laid,
    LaidIn,
    alone_mm,
    cut_in_words,
    cut_room,
    rounding_of,
)

__all__ = [
    "Cable",
    "Cut",
    "CutFrom",
    "CutPlan",
    "CutResult",
    "Laid",
    "LaidIn",
    "Length",
    "Piece",
    "alone_mm",
    "cut_in_words",
    "cut_length_mm",
    "cut_room",
    "plan_cuts",
    "round_up_mm",
    "rounding_of",
]
