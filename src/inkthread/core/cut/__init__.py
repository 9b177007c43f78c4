"""Cut: finished and cut length of every wire, strip lengths, the order to cut in."""

from inkthread.core.cut.room import Cable, Cut, CutResult, cut_room, round_up_mm

__all__ = ["Cable", "Cut", "CutResult", "cut_room", "round_up_mm"]
