"""Standard minutes of hand work: so many of each operation, times what one takes."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from inkthread.core.build.operations import Operation


@dataclass(frozen=True, slots=True)
class TimeLine:
    """One kind of operation: how often, and minutes in all."""

    operation: str
    count: float
    minutes: float


def standard_times(steps: Iterable[Operation]) -> tuple[TimeLine, ...]:
    """Standard minutes of steps by what is timed, in the order that they first come."""
    sums: dict[str, tuple[float, float]] = {}
    for own in steps:
        count, minutes = sums.get(own.timed, (0.0, 0.0))
        sums[own.timed] = (count + own.times, minutes + own.minutes)
    return tuple(
        TimeLine(timed, round(count, 3), round(minutes, 2))
        for timed, (count, minutes) in sums.items()
        if count
    )
