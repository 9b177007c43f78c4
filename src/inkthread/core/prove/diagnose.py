"""The smallest sets of faults that explain all readings of a harness.

Readings that are wrong are parted into clusters that have nothing to do with each other; in each, sets of one
fault are tried, then of two, and so on. A set that explains everything must contain, for any reading that is
not explained yet, a fault that has to do with that reading: so only those are tried next (as in Reiter's
hitting sets, from memory of the method).
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence

from inkthread.core.catalogue import Proofs
from inkthread.core.prove.candidates import Evidence, by_first, candidates, where_beside
from inkthread.core.prove.faults import JOINED, Built, Fault, Meter, Network, circuits_of
from inkthread.core.prove.readings import Reading
from inkthread.core.record import record

FAULTS_AT_MOST = 4
"""In one cluster."""
_TRIED_AT_MOST = 6000
"""Sets tried in one cluster, before it is said that nothing explains it."""
_SHOWN_AT_MOST = 12
_BREAKS_AT_MOST = 4
"""A fault that explains one reading and contradicts more than so many others is not gone on with: no single
other would put that right."""
_LOOKED_AT = 4
"""Readings that are weighed for the one with the fewest faults that may explain it."""
_SAME_BRANCH, _APART = 0.3, 0.05
"""How much less likely it is that circuits touch that lie beside each other on no face: in one bundle, and
in none (common practice, no source)."""

_DECADES = math.log(1e4)
"""Poor joints have anything over four decades, each decade as likely (common practice, no source)."""


@record
class Explanation:
    """A set of faults that explains all readings of a cluster, and how likely it is beside the others."""

    faults: tuple[Fault, ...]
    likelihood: float


@record
class Cluster:
    """Readings that are wrong together, and what explains them, the likeliest first."""

    readings: tuple[int, ...]
    explanations: tuple[Explanation, ...]
    """None where nothing does."""
    left_over: tuple[int, ...]
    """Readings that the nearest set does not explain."""


def diagnose(
    network: Network, readings: Sequence[Reading], meter: Meter, proofs: Proofs
) -> tuple[Cluster, ...]:
    """Every cluster of readings that are wrong; none where all hold."""
    evidence = Evidence(network, readings, meter)
    return tuple(_Search(evidence, cluster, proofs).run() for cluster in _clusters(evidence))


def _clusters(evidence: Evidence) -> list[list[int]]:
    """Wrong readings that may have a fault in common."""
    network, meter = evidence.network, evidence.meter
    parent: dict[str, str] = {}

    def root(node: str) -> str:
        while parent.setdefault(node, node) != node:
            node = parent[node]
        return node

    for n in evidence.wrong:
        reading = evidence.readings[n]
        nodes = [f"reading {n}"]
        if reading.single or meter.is_open(reading.ohm):
            nodes += [f"circuit {network.points.get(p, p)}" for p in (*reading.a, *reading.b)]
        else:  # of a whole group, any may be meant: those that could be are in it
            nodes.append("groups")
            nodes += [f"circuit {network.points.get(p, p)}" for pair in evidence.across(n) for p in pair]
        if reading.single and not reading.moved and _may_sit_elsewhere(evidence, reading):
            nodes += [f"connector {network.harness.connector_of[p[0]]}" for p in (reading.a, reading.b)]
        for node in nodes[1:]:
            parent[root(node)] = root(nodes[0])
    clusters: dict[str, list[int]] = {}
    for n in evidence.wrong:
        clusters.setdefault(root(f"reading {n}"), []).append(n)
    return list(clusters.values())


def _may_sit_elsewhere(evidence: Evidence, reading: Reading) -> bool:
    """Whether a contact in the wrong cavity may be why: it is open, or joined with what it is no part of."""
    points = evidence.network.points
    one, other = (points.get(p[0]) for p in (reading.a, reading.b))
    return evidence.meter.is_open(reading.ohm) or one != other


class _Search:
    """One cluster being explained."""

    def __init__(self, evidence: Evidence, wrong: list[int], proofs: Proofs) -> None:
        self.evidence, self.wrong, self.proofs = evidence, wrong, proofs
        self.network, self.meter = evidence.network, evidence.meter
        self.tried: set[frozenset[Fault]] = set()
        self.solutions: list[tuple[Fault, ...]] = []
        self.nearest: list[int] = wrong

    def run(self) -> Cluster:
        for most in range(1, FAULTS_AT_MOST + 1):
            self.tried.clear()
            self._go_on((), self.wrong, most)
            if self.solutions:
                break
        solutions = list(dict.fromkeys(by_first(self.network, faults) for faults in self.solutions))
        weights = [math.prod(self._likely(f) for f in faults) for faults in solutions]
        total = sum(weights) or 1.0
        ranked = sorted(zip(weights, solutions, strict=True), key=lambda pair: (-pair[0], pair[1]))
        explanations = tuple(
            Explanation(faults, round(weight / total, 4)) for weight, faults in ranked[:_SHOWN_AT_MOST]
        )
        return Cluster(tuple(self.wrong), explanations, () if explanations else tuple(self.nearest))

    def _go_on(self, faults: tuple[Fault, ...], wrong: list[int], left: int) -> None:
        built = Built(self.network, faults)
        for fault in self._next(built, wrong):
            if len(self.tried) > _TRIED_AT_MOST:
                return
            touched = self._touched(built, fault)
            if left == 1 and not all(self._has_to_do(n, touched) for n in wrong):
                continue
            these = tuple(sorted((*faults, fault)))
            key = frozenset(these)
            if key in self.tried:
                continue
            self.tried.add(key)
            still = self._still_wrong(Built(self.network, these), wrong, touched, all_or_none=left == 1)
            if still is None:
                continue
            if not still:
                self.solutions.append(these)
            elif left > 1:
                if len(still) < len(self.nearest):
                    self.nearest = still
                self._go_on(these, still, left - 1)

    def _next(self, built: Built, wrong: list[int]) -> list[Fault]:
        """What may explain one reading that is not explained yet: the one with the fewest candidates."""
        fewest: list[Fault] | None = None
        for n in wrong[:_LOOKED_AT]:
            options = [f for f in candidates(built, n, self.evidence) if f not in built.faults]
            if fewest is None or len(options) < len(fewest):
                fewest = options
            if not options:
                break
        return fewest or []

    def _touched(self, built: Built, fault: Fault) -> set[str]:
        """Places whose readings a fault has to do with, beside faults that are there already."""
        circuits: set[str] = set()
        for circuit in circuits_of(self.network, fault):
            circuits |= built.joins(self.network.harness.circuits[circuit][0])
        places = {p for c in circuits for p in self.network.harness.circuits[c]}
        places |= {built.sits[p] for p in places if p in built.sits}
        return places.union(p for move in fault.moves for p in move)

    def _has_to_do(self, n: int, touched: set[str]) -> bool:
        reading = self.evidence.readings[n]
        return any(p in touched for p in reading.a) or any(p in touched for p in reading.b)

    def _still_wrong(
        self, built: Built, wrong: list[int], touched: set[str], *, all_or_none: bool
    ) -> list[int] | None:
        """Readings that are wrong still, or are now; None where the set is not worth going on with."""
        evidence, meter = self.evidence, self.meter
        still = []
        for n in wrong:
            if not built.explains(evidence.readings[n], meter):
                if all_or_none:
                    return None
                still.append(n)
        mended = len(wrong) - len(still)
        before, now = set(wrong), []
        beside = {n for p in touched for n in (*evidence.at.get(p, ()), *evidence.groups_at.get(p, ()))}
        for n in (*sorted(beside - before), *(g for g in evidence.wide if g not in before)):
            if not built.explains(evidence.readings[n], meter):
                if all_or_none:
                    return None
                now.append(n)
                if len(now) > _BREAKS_AT_MOST * mended:
                    return None
        return still + now if mended or now else None

    def _likely(self, fault: Fault) -> float:
        """How likely one fault is beside the others."""
        sort = self.proofs.faults[fault.kind]
        neighbours = self.network.harness.neighbours
        if fault.moves and fault.kind in ("swapped", "moved"):
            near = all(b in neighbours.get(a, ()) for a, b in fault.moves)
            return sort.likely if near else sort.likely * sort.far
        if fault.kind == "high joint":
            # Any resistance might be in a joint: that it is just this much is as likely as the band is wide.
            ohms = self.network.harness.wires[fault.wire].ohms
            width = ohms.most - ohms.least + 2 * self.meter.reads_ohm + fault.ohm * self.meter.share
            return sort.likely * min(width / (fault.ohm * _DECADES), 1.0)
        if fault.kind == "wrong gauge":
            return sort.likely / max(len(self.network.harness.sizes[fault.wire]), 1)
        if fault.kind in JOINED:
            return sort.likely * self._may_touch(fault.a, fault.b)
        return sort.likely

    def _may_touch(self, a: str, b: str) -> float:
        if where_beside(self.network, a, b):
            return 1.0
        branches = [_branches(self.network, self.network.points[p]) for p in (a, b)]
        return _SAME_BRANCH if branches[0] & branches[1] else _APART


def _branches(network: Network, circuit: str) -> frozenset[str]:
    wires: Iterable[str] = (
        branch
        for wire in network.harness.wires.values()
        if wire.circuit == circuit
        for branch in wire.branches
    )
    return frozenset(wires)
