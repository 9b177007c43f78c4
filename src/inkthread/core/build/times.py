"""Standard minutes of hand work: so many of each operation, times what one takes."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from inkthread.core.cut import CutResult
from inkthread.core.dress import DressResult
from inkthread.core.ends import EndsResult


@dataclass(frozen=True, slots=True)
class TimeLine:
    """One kind of operation: how often, and minutes in all."""

    operation: str
    count: float
    minutes: float


def standard_times(
    minutes: Mapping[str, float], ends: EndsResult, cut: CutResult, dress: DressResult
) -> tuple[TimeLine, ...]:
    """Minutes for one harness by operation; ``minutes`` has those of one. Raises KeyError for one without.

    Source of the counting: what the rooms before say is cut, ended, covered and held.
    """
    crimped = [contact for contact in ends.contacts.values() if not contact.factory]
    alone = sum(not piece.cable for piece in cut.cuts)
    holds = [(hold.kind == "tie", hold.count) for hold in dress.holds]
    counts: dict[str, float] = {
        "cut a piece": alone + len(cut.cables),
        "prepare an end of a cable": sum(len(cable.ends) for cable in cut.cables),
        "strip an end": len(crimped),
        "crimp or clamp an end": len(crimped),
        "insert a contact": sum(
            cavity.wire is not None for c in ends.connectors.values() for cavity in c.cavities
        ),
        "make a splice": len(ends.splices),
        "shrink a piece of tube": sum(piece.count for piece in dress.shrinks) + len(ends.splices),
        "fit and shrink a label": len(dress.labels.labels),
        "cover a metre": sum(c.covers_mm for c in dress.covers if c.code) / 1000,
        "tie": sum(count for tie, count in holds if tie),
        "fit a clamp or grommet": sum(count for tie, count in holds if not tie),
        "close and look at a connector": len(ends.connectors),
    }
    return tuple(
        TimeLine(operation, round(count, 3), round(count * minutes[operation], 2))
        for operation, count in counts.items()
        if count
    )
