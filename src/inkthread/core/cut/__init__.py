"""Cut: finished and cut length of every wire, strip lengths, the order to cut in."""

from inkthread.core.cut.room import Cut, CutResult, cut_room, round_up_mm

__all__ = ["Cut", "CutResult", "cut_room", "round_up_mm"]
