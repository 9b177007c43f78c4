"""The words of the trade, each with what it means to who hears it for the first time."""

from __future__ import annotations

from typing import Literal

from inkthread.core.record import record

WordRoom = Literal["brief", "circuits", "route", "wire", "ends", "cut", "dress", "parts", "build", "prove"]


@record
class Word:
    """A word of the trade, the room where it is met first, and what it means."""

    word: str
    room: WordRoom
    means: str
    also: tuple[str, ...] = ()
    """What else it is called on screens, and the headings that stand for it."""
