"""What would be if: the same harness evaluated with one thing otherwise, side by side."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import replace
from typing import get_args

from inkthread.core.document.values import Threading
from inkthread.core.evaluate import otherwise
from inkthread.core.evaluation import Evaluation
from inkthread.core.record import record
from inkthread.core.workings import Workings

Tell = Callable[[float], None]
"""Hears how far a study is, from 0 to 1."""


def unheard(_share: float) -> None:
    """Nobody hears it."""


THREADINGS: tuple[Threading, ...] = get_args(Threading)


@record
class ThreadingCost:
    """One way of joining a circuit. Length and mass are of that circuit's own wires and joints."""

    threading: Threading
    chosen: bool
    wires: int
    splices: int
    metres: float
    grams: float
    cost: float
    """Of the whole harness, less that of the way chosen now."""
    worst_drop_percent: float | None
    """Of the loops that cross the circuit."""
    worst_drop_load: str | None
    stops: int
    """More or fewer than now."""
    fixes: int


def compare_threading(now: Workings, circuit_id: str, tell: Tell = unheard) -> tuple[ThreadingCost, ...]:
    """Every way of threading one circuit. Raises KeyError where there is no such circuit."""
    circuit = now.stated.circuits.circuits[circuit_id]
    chosen = circuit.threading or "cascade"
    counts_now = _counts(now.evaluation)
    costs = []
    for n, threading in enumerate(THREADINGS):
        tell(n / len(THREADINGS))
        other = now
        if threading != chosen:
            circuits = {
                **now.stated.circuits.circuits,
                circuit_id: replace(circuit, threading=threading),
            }
            document = replace(now.stated, circuits=replace(now.stated.circuits, circuits=circuits))
            other = otherwise(now, document)
        e = other.evaluation
        cuts = [c for c in e.cut.cuts if e.wire.wires[c.wire].circuit == circuit_id]
        splices = [s for s, splice in e.route.splices.items() if splice.circuit == circuit_id]
        joints_g = sum(other.ends.splice_sizes[s].mass_g for s in splices if s in other.ends.splice_sizes)
        worst = max(
            (
                loop
                for loop in e.wire.loops.values()
                if any(e.wire.wires[w].circuit == circuit_id for w in loop.wires)
            ),
            key=lambda loop: loop.drop_percent,
            default=None,
        )
        stops, fixes = _counts(e)
        costs.append(
            ThreadingCost(
                threading,
                threading == chosen,
                len(cuts),
                len(splices),
                round(sum(c.cut_mm for c in cuts) / 1000, 3),
                round(sum(c.mass_g for c in cuts) + joints_g, 2),
                round(e.tally.cost - now.evaluation.tally.cost, 2),
                worst.drop_percent if worst else None,
                worst.load if worst else None,
                stops - counts_now[0],
                fixes - counts_now[1],
            )
        )
    return tuple(costs)


def _counts(evaluation: Evaluation) -> tuple[int, int]:
    return evaluation.tally.stops, evaluation.tally.fixes


@record
class FutureCost:
    """What the conductors for a future need come to, laid against left out."""

    circuits: tuple[str, ...]
    wires: int
    metres: float
    grams: float
    cost: float


def future_cost(now: Workings) -> FutureCost:
    """The harness with all its optional circuits that are marked to be laid, less the one without."""
    optional = tuple(c for c, circuit in now.stated.circuits.circuits.items() if circuit.optional)
    if not optional:
        return FutureCost((), 0, 0.0, 0.0, 0.0)
    other = replace(
        now.stated, circuits=replace(now.stated.circuits, future_in=not now.stated.circuits.future_in)
    )
    then = otherwise(now, other).evaluation.tally
    today = now.evaluation.tally
    laid, bare = (today, then) if now.stated.circuits.future_in else (then, today)
    return FutureCost(
        optional,
        laid.wires - bare.wires,
        round(laid.metres - bare.metres, 3),
        round(laid.grams - bare.grams, 2),
        round(laid.cost - bare.cost, 2),
    )


@record
class FamilyCost:
    """The whole harness in one wire family."""

    family: str
    name: str
    chosen: bool
    grams: float
    cost: float
    metres: float
    worst_drop_percent: float | None
    hottest_c: float | None
    largest_bundle_mm: float
    wire_parts: int
    """Different wires to buy: family, gauge and colour."""
    stops: int
    fixes: int


def compare_families(now: Workings, codes: Iterable[str], tell: Tell = unheard) -> tuple[FamilyCost, ...]:
    """The harness in each family instead of its own; circuits and wires with a family of their own keep
    it. Unknown codes are passed over.
    """
    own = now.brief.family
    costs = []
    wanted = list(dict.fromkeys([own, *codes]))
    for n, code in enumerate(wanted):
        tell(n / len(wanted))
        family = now.wire.families.get(code)
        if family is None:
            continue
        other = now
        if code != own:
            wire = replace(now.stated.wire, family=code, also={})
            other = otherwise(now, replace(now.stated, wire=wire))
        e = other.evaluation
        costs.append(
            FamilyCost(
                code,
                family.name,
                code == own,
                e.tally.grams,
                e.tally.cost,
                e.tally.metres,
                e.tally.worst_drop_percent,
                e.tally.hottest_c,
                max((b.loose_mm for b in e.dress.bundles.values()), default=0.0),
                sum(line.group == "wire" for line in e.parts.lines),
                e.tally.stops,
                e.tally.fixes,
            )
        )
    return tuple(costs)
