"""How far a room is, and the sentence it opens with. Wordings are catalogue data."""

from __future__ import annotations

import re
from typing import Literal

from inkthread.core.findings import Finding, stands_alone
from inkthread.core.record import record

Progress = Literal["empty", "begun", "full"]


@record
class Opening:
    """What a room says of itself: how far it is, what it counts, its sentence."""

    progress: Progress
    count: int
    sentence: str
    """Numbers that matter stand between double asterisks, and names that lead to their place (``linked``)."""


@record
class RoomState:
    """How far a room is, what it counts, its findings, and its opening sentence."""

    progress: Progress
    count: int
    stops: int
    fixes: int
    sentence: str
    """Numbers that matter stand between double asterisks."""


def room_states(openings: dict[str, Opening], findings: tuple[Finding, ...]) -> dict[str, RoomState]:
    """Every room with the stops and fixes whose mend begins there; one with a stop is not full."""
    counts = {(room, severity): 0 for room in openings for severity in ("stop", "fix", "consider")}
    for finding in stands_alone(findings):
        at = finding.places[0].room, finding.severity
        counts[at] = counts.get(at, 0) + 1
    return {
        room: RoomState(
            "begun" if said.progress == "full" and counts[room, "stop"] else said.progress,
            said.count,
            counts[room, "stop"],
            counts[room, "fix"],
            said.sentence,
        )
        for room, said in openings.items()
    }


def linked(to: str, text: str) -> str:
    """Words that lead to a place in the harness: ``**@circuits?at=M2|M2 starter**``."""
    return f"**@{to}|{text.replace('**', '*')}**"


def spoken(sentence: str) -> str:
    """A sentence without its marks, to be printed.

    >>> spoken("**1** feed, of **@circuits?at=M2|M2 starter**, has no fuse.")
    '1 feed, of M2 starter, has no fuse.'
    """
    return re.sub(r"\*\*@[^|*]*\|", "", sentence).replace("**", "")


def many(count: int, one: str, several: str | None = None) -> str:
    """``**1** wire``, ``**3** wires``."""
    return f"**{count}** {one if count == 1 else several or one + 's'}"
