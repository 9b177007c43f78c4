"""Standard minutes of hand work: so many of each operation, times what one takes."""

from __future__ import annotations

from collections.abc import Iterable
from itertools import pairwise
from statistics import median

from inkthread.core.brief import BriefResult
from inkthread.core.build.operations import Operation
from inkthread.core.record import record


@record
class TimeLine:
    """One kind of operation: how often, and minutes in all."""

    operation: str
    count: float
    minutes: float
    each: float
    """Minutes of one."""


def standard_times(steps: Iterable[Operation]) -> tuple[TimeLine, ...]:
    """Standard minutes of steps by what is timed, in the order that they first come."""
    sums: dict[str, tuple[float, float]] = {}
    for own in steps:
        count, minutes = sums.get(own.timed, (0.0, 0.0))
        sums[own.timed] = (count + own.times, minutes + own.minutes)
    return tuple(
        TimeLine(timed, round(count, 3), round(minutes, 2), round(minutes / count, 3))
        for timed, (count, minutes) in sums.items()
        if count
    )


LEAST_S, MOST_S = 2.0, 1200.0
"""Ticks nearer than this were made together; farther apart, somebody was away (common practice)."""
ENOUGH = 5
"""So many are timed before a shop's own minutes go before the standard."""


@record
class Timed:
    """A tick: at which bench, at what second, which standard minutes it takes and how many times these."""

    bench: str
    at_s: float
    operation: str
    times: float


@record
class Learned:
    """What one of an operation takes in this shop: the median, in minutes, of so many that were timed."""

    minutes: float
    timed: int


def learned_minutes(ticks: Iterable[Timed]) -> dict[str, Learned]:
    """Minutes by operation, from one tick to the next at a bench. What was ticked together, or after a
    break, tells nothing.

    >>> ticks = [Timed("a", 60.0 * n, "strip an end", 2.0) for n in range(4)]
    >>> learned_minutes(ticks)
    {'strip an end': Learned(minutes=0.5, timed=3)}
    """
    by_bench: dict[str, list[Timed]] = {}
    for tick in ticks:
        by_bench.setdefault(tick.bench, []).append(tick)
    took: dict[str, list[float]] = {}
    for own in by_bench.values():
        own.sort(key=lambda tick: tick.at_s)
        for before, tick in pairwise(own):
            apart_s = tick.at_s - before.at_s
            if LEAST_S <= apart_s <= MOST_S and tick.times > 0:
                took.setdefault(tick.operation, []).append(apart_s / 60 / tick.times)
    return {operation: Learned(round(median(all_of), 3), len(all_of)) for operation, all_of in took.items()}


@record
class Session:
    """Work at one bench without a long break."""

    who: str
    began_s: float
    ended_s: float
    steps: int


@record
class Ticked:
    """A step that was ticked: who, at which bench, at what second."""

    who: str
    bench: str
    at_s: float


def sessions_of(ticks: Iterable[Ticked]) -> tuple[Session, ...]:
    """Runs of ticks of one person at one bench, the first first: a new one begins after a break of more than
    ``MOST_S``.

    >>> sessions_of([Ticked("Ann", "a", 0.0), Ticked("Ann", "a", 600.0), Ticked("Ann", "a", 9000.0)])
    ...     # doctest: +NORMALIZE_WHITESPACE
    (Session(who='Ann', began_s=0.0, ended_s=600.0, steps=2),
     Session(who='Ann', began_s=9000.0, ended_s=9000.0, steps=1))
    """
    runs: dict[tuple[str, str], list[list[float]]] = {}
    for tick in sorted(ticks, key=lambda own: own.at_s):
        own = runs.setdefault((tick.who, tick.bench), [])
        if own and tick.at_s - own[-1][-1] <= MOST_S:
            own[-1].append(tick.at_s)
        else:
            own.append([tick.at_s])
    sessions = [Session(who, run[0], run[-1], len(run)) for (who, _), many in runs.items() for run in many]
    return tuple(sorted(sessions, key=lambda own: own.began_s))


def labour_cost(minutes: float, brief: BriefResult) -> float | None:
    """What hand work costs by the house rule, in the harness's currency; None where it gives no rate."""
    rate_per_h = brief.value("labour_per_h")
    return round(minutes / 60 * rate_per_h, 2) if rate_per_h else None
