"""Readings judged: which rows hold, what explains those that fail, which measurement comes next."""

from __future__ import annotations

import heapq
import math
from collections.abc import Sequence
from typing import Literal

from inkthread.core.catalogue import Proofs
from inkthread.core.prove.diagnose import Cluster, Explanation, diagnose
from inkthread.core.prove.faults import Built, Fault, FaultKind, Network
from inkthread.core.prove.plan import PlanRow, ProofPlan
from inkthread.core.prove.readings import Reading
from inkthread.core.prove.words import Sayer
from inkthread.core.record import record

Verdict = Literal["holds", "fails", "unexplained", "not read"]
_SETS_AT_MOST = 12


@record
class FaultSaid:
    """One fault, what it is called, and what to do."""

    kind: FaultKind
    wire: str
    connector: str
    moves: tuple[tuple[str, str], ...]
    """Contacts by the place where each belongs, and the place where it sits."""
    places: tuple[str, ...]
    ohm: float
    gauge: str
    words: str
    do: str


@record
class FaultSet:
    """Faults that together explain every reading."""

    faults: tuple[FaultSaid, ...]
    words: str
    likelihood: float
    """Beside the other sets of as few faults."""
    next: str
    """What to measure, look at or do next."""


@record
class RowJudged:
    """One row of the plan, what was read and whether that holds."""

    row: str
    ohm: float | None
    """Infinite where it was open; absent where it was not read."""
    verdict: Verdict


@record
class Judged:
    """What a harness's readings come to."""

    verdict: Verdict
    rows: tuple[RowJudged, ...]
    explanations: tuple[FaultSet, ...]
    """The likeliest first; none where all holds, or nothing explains it."""
    left_over: tuple[Reading, ...]
    """Readings that nothing explains."""


def judge(plan: ProofPlan, readings: Sequence[Reading], proofs: Proofs) -> Judged:
    """Judge readings of a harness; a place read twice counts as it was read last."""
    latest = tuple({(r.a, r.b, r.moved): r for r in readings}.values())
    clusters = diagnose(plan.network, latest, plan.meter, proofs)
    rows = _rows(plan, latest)
    left = tuple(latest[n] for c in clusters for n in c.left_over)
    if not clusters:
        return Judged("holds" if latest else "not read", rows, (), ())
    verdict: Verdict = "unexplained" if left else "fails"
    return Judged(verdict, rows, _sets(plan, clusters, proofs), left)


def _rows(plan: ProofPlan, readings: Sequence[Reading]) -> tuple[RowJudged, ...]:
    read = {(r.a, r.b, r.moved): r for r in readings}
    plain = Built(plan.network)
    judged: list[RowJudged] = []
    for row in plan.rows:
        if not row.by_ohm:
            continue
        reading = read.get((row.a, row.b, row.moved)) or read.get((row.b, row.a, row.moved))
        if reading is None:
            judged.append(RowJudged(row.id, None, "not read"))
            continue
        holds = _held(row, reading.ohm) if row.high_ohm is None or not reading.single else plain.explains(
            reading, plan.meter
        )  # fmt: skip
        judged.append(RowJudged(row.id, reading.ohm, "holds" if holds else "fails"))
    return tuple(judged)


def _held(row: PlanRow, ohm: float) -> bool:
    return (row.low_ohm or 0.0) <= ohm <= (row.high_ohm if row.high_ohm is not None else math.inf)


def _sets(plan: ProofPlan, clusters: Sequence[Cluster], proofs: Proofs) -> tuple[FaultSet, ...]:
    """Sets for the whole harness: one explanation of each cluster, the likeliest together first."""
    explained = [c for c in clusters if c.explanations]
    sayer = Sayer(plan.network, proofs)
    apart = [sayer.tells_apart(c.explanations, plan.meter) for c in explained]
    sets: list[FaultSet] = []
    for likelihood, chosen in _together([c.explanations for c in explained]):
        faults = tuple(_said(plan.network, sayer, f) for e in chosen for f in e.faults)
        nexts = [words for words in apart if words] or [f.do for f in faults]
        words = " ".join(f.words for f in faults)
        sets.append(FaultSet(faults, words, round(likelihood, 4), " ".join(dict.fromkeys(nexts))))
    return tuple(sets)


def _together(
    choices: Sequence[tuple[Explanation, ...]],
) -> list[tuple[float, tuple[Explanation, ...]]]:
    """The likeliest choices of one from each, up to as many as are shown."""
    if not choices:
        return []
    start = (0,) * len(choices)

    def likely(at: tuple[int, ...]) -> float:
        return math.prod(options[n].likelihood for options, n in zip(choices, at, strict=True))

    queue, seen = [(-likely(start), start)], {start}
    ranked: list[tuple[float, tuple[Explanation, ...]]] = []
    while queue and len(ranked) < _SETS_AT_MOST:
        minus, at = heapq.heappop(queue)
        ranked.append((-minus, tuple(options[n] for options, n in zip(choices, at, strict=True))))
        for place, options in enumerate(choices):
            after = (*at[:place], at[place] + 1, *at[place + 1 :])
            if after[place] < len(options) and after not in seen:
                seen.add(after)
                heapq.heappush(queue, (-likely(after), after))
    return ranked


def _said(network: Network, sayer: Sayer, fault: Fault) -> FaultSaid:
    if fault.wire:
        wire = network.harness.wires[fault.wire]
        places = tuple(n for n in (wire.a, wire.b) if n in network.points)
    elif fault.moves:
        places = tuple(dict.fromkeys(p for move in fault.moves for p in move))
    else:
        places = tuple(p for p in (fault.a, fault.b) if p)
    return FaultSaid(
        fault.kind, fault.wire, fault.connector, fault.moves, places, fault.ohm, fault.gauge,
        sayer.words(fault), sayer.remedy(fault),
    )  # fmt: skip
