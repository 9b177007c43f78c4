"""Faults of construction, and what a harness with such faults would read."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Literal, NamedTuple

from inkthread.core.prove.harness import MeasuredHarness, MeasuredWire, Ohms
from inkthread.core.prove.readings import Reading
from inkthread.core.record import record

FaultKind = Literal[
    "open", "drain missing", "not home", "swapped", "moved", "mirrored", "turned by 180 degrees", "reversed",
    "shifted by one", "rows exchanged", "rows turned", "short", "leakage", "high joint", "core pulled",
    "wrong gauge", "loose when moved",
]  # fmt: skip
BROKEN = ("open", "drain missing")
JOINED = ("short", "leakage")
SHORT_OHM = 1000.0
"""Two circuits that read less touch; those that read more are dirty between (common practice)."""


@dataclass(frozen=True, slots=True, order=True)
class Fault:
    """One slip of the hand. Which fields are filled goes by its kind."""

    kind: FaultKind
    wire: str = ""
    connector: str = ""
    moves: tuple[tuple[str, str], ...] = ()
    """Contacts by the place where each belongs, and the place where it sits."""
    a: str = ""
    b: str = ""
    """Places on both circuits that touch, or the place whose contact is not home."""
    ohm: float = 0.0
    """What a joint has too much, what lies between two circuits; of a wrong gauge, how many times what is
    right."""
    gauge: str = ""


class Way(NamedTuple):
    """What lies between two places, in ohm."""

    least: float
    most: float
    loose: bool
    """Whether it opens when it is moved."""


@record
class Meter:
    """What a reading is worth."""

    reads_ohm: float = 0.001
    """Readings may be this much off."""
    share: float = 0.02
    """And this share of what is read."""
    apart_ohm: float = 1e6
    """What reads more is apart."""

    def is_open(self, ohm: float) -> bool:
        """Whether a reading means that nothing joins the two."""
        return ohm >= self.apart_ohm

    def band(self, least: float, most: float) -> tuple[float, float]:
        """The least and the most that it may show of something from ``least`` to ``most``."""
        return max((least - self.reads_ohm) / (1 + self.share), 0.0), (most + self.reads_ohm) / (
            1 - self.share
        )

    def within(self, ohm: float, least: float, most: float) -> bool:
        """Whether a reading lies in the band of something from ``least`` to ``most``."""
        low, high = self.band(least, most)
        return low <= ohm <= high


class Network:
    """The wires between nodes, and the ways along them with any faults on them. Ways are kept."""

    def __init__(self, harness: MeasuredHarness) -> None:
        self.harness = harness
        self.beside: dict[str, list[tuple[str, str]]] = {}
        """Node to the nodes beside it, each with the wire that goes there."""
        self.circuit: dict[str, str] = {}
        """Node to its circuit."""
        self.total_ohm: dict[str, float] = {}
        for key, wire in harness.wires.items():
            for node, other in ((wire.a, wire.b), (wire.b, wire.a)):
                self.beside.setdefault(node, []).append((other, key))
                self.circuit[node] = wire.circuit
            self.total_ohm[wire.circuit] = self.total_ohm.get(wire.circuit, 0.0) + wire.ohms.most
        self.points = {n: p.circuit for n, p in harness.terminals.items()}
        self._known: dict[tuple[str, tuple[Fault, ...]], dict[str, Way]] = {}

    def from_node(self, start: str, faults: tuple[Fault, ...]) -> dict[str, Way]:
        """Every probe point that is reached from one, and what lies between; ``faults`` are on wires."""
        known = self._known.get((start, faults))
        if known is None:
            known = self._known[start, faults] = self._walk(start, faults)
        return known

    def _walk(self, start: str, faults: tuple[Fault, ...]) -> dict[str, Way]:
        wires = self.harness.wires
        changed: dict[str, Ohms | None] = {}
        loose: set[str] = set()
        bridges: dict[str, list[tuple[str, Fault]]] = {}
        for fault in faults:
            if fault.kind in BROKEN:
                changed[fault.wire] = None
            elif fault.kind == "not home":
                changed.update(dict.fromkeys(self.harness.terminals[fault.a].wires))
            elif fault.kind in JOINED:
                bridges.setdefault(fault.a, []).append((fault.b, fault))
                bridges.setdefault(fault.b, []).append((fault.a, fault))
            elif fault.kind == "loose when moved":
                loose.add(fault.wire)
            else:
                changed[fault.wire] = wrong_ohms(wires[fault.wire], fault)
        reached = {start: Way(0.0, 0.0, False)}
        across: set[str] = set()
        # Where along two circuits they touch is not known: beyond that, a way has no least of its own.
        stack = [start]
        while stack:
            node = stack.pop()
            least, most, slack = reached[node]
            for other, key in self.beside.get(node, ()):
                if other in reached:
                    continue
                ohms = changed.get(key, wires[key].ohms) if changed else wires[key].ohms
                if ohms is not None:
                    beyond = node in across
                    low = least if beyond else least + ohms.least
                    reached[other] = Way(low, most + ohms.most, slack or key in loose)
                    across.update({other} if beyond else ())
                    stack.append(other)
            for other, fault in bridges.get(node, ()) if bridges else ():
                if other in reached:
                    continue
                more = sum(self.total_ohm.get(self.circuit[n], 0.0) for n in (node, other))
                low, high = (0.0, 2.0) if fault.kind == "short" else (0.5 * fault.ohm, 2 * fault.ohm)
                reached[other] = Way(low, most + more + high, slack)
                across.add(other)
                stack.append(other)
        return {node: way for node, way in reached.items() if node in self.points}


def wrong_ohms(wire: MeasuredWire, fault: Fault) -> Ohms:
    """What a wire has with a poor joint, or in the wrong gauge."""
    ohms = wire.ohms
    if fault.kind == "wrong gauge":
        return ohms.minus(wire.joints).times(fault.ohm).plus(wire.joints)
    half = (ohms.most - ohms.least) / 2
    usual = ohms.usual + fault.ohm
    return Ohms(max(min(ohms.least, usual), usual - half), usual, usual + half)


class Built:
    """A harness as it was made: the design with faults in it."""

    def __init__(self, network: Network, faults: Iterable[Fault] = ()) -> None:
        self.network = network
        self.faults = tuple(faults)
        self.sits: dict[str, str] = {}
        """Where a contact sits, by where it belongs, if they differ."""
        self.holds: dict[str, str | None] = {}
        """Place to the contact that sits there, by where it belongs, if they differ."""
        self.rearranged = {fault.connector for fault in self.faults if fault.moves}
        """Connectors with contacts out of their places."""
        on: dict[str, list[Fault]] = {}
        moves = [m for f in self.faults for m in f.moves]
        for belongs, sits in moves:
            self.sits[belongs] = sits
            self.holds.setdefault(belongs, None)
        for belongs, sits in moves:
            self.holds[sits] = belongs if belongs in network.points else None
        for fault in self.faults:
            for circuit in circuits_of(network, fault):
                if not fault.moves:
                    on.setdefault(circuit, []).append(fault)
        self._on = _joined(on, self.faults, network)

    def way(self, a: str, b: str) -> Way | None:
        """What lies between two places, None where nothing does."""
        one, other = self.held(a), self.held(b)
        if one is None or other is None:
            return None
        return self.reached(one).get(other)

    def held(self, place: str) -> str | None:
        """The contact that sits in a place, by where it belongs."""
        return self.holds.get(place, place if place in self.network.points else None)

    def reached(self, contact: str) -> dict[str, Way]:
        """Contacts that one is joined with, by where they belong."""
        return self.network.from_node(contact, self._on.get(self.network.points[contact], ()))

    def joins(self, contact: str) -> frozenset[str]:
        """The circuits whose faults matter to one contact's ways."""
        circuit = self.network.points[contact]
        with_faults = (c for f in self._on.get(circuit, ()) for c in circuits_of(self.network, f))
        return frozenset({circuit, *with_faults})

    def explains(self, reading: Reading, meter: Meter) -> bool:
        """Whether the harness so built would read that."""
        if reading.single:
            way = self.way(reading.a[0], reading.b[0])
            return _would_read(way, reading, meter)
        least = math.inf
        for place in reading.a:
            contact = self.held(place)
            if contact is None:
                continue
            for other, way in self.reached(contact).items():
                if self.sits.get(other, other) in reading.far:
                    least = min(least, way.least)
        if meter.is_open(reading.ohm):
            return meter.is_open(least)
        return not meter.is_open(least) and least <= reading.ohm + meter.reads_ohm


def _would_read(way: Way | None, reading: Reading, meter: Meter) -> bool:
    if way is None or meter.is_open(way.least):
        return meter.is_open(reading.ohm)
    if way.loose and (reading.moved or meter.is_open(reading.ohm)):
        return True
    return not meter.is_open(reading.ohm) and meter.within(reading.ohm, way.least, way.most)


def circuits_of(network: Network, fault: Fault) -> tuple[str, ...]:
    """The circuits that a fault is about."""
    if fault.wire:
        return (network.harness.wires[fault.wire].circuit,)
    places = [p for p in (fault.a, fault.b) if p] + [p for move in fault.moves for p in move]
    return tuple(dict.fromkeys(network.points[p] for p in places if p in network.points))


def _joined(
    on: Mapping[str, list[Fault]], faults: tuple[Fault, ...], network: Network
) -> dict[str, tuple[Fault, ...]]:
    """Faults on wires by circuit; those of circuits that touch together."""
    group: dict[str, set[str]] = {}
    for fault in faults:
        if fault.kind in JOINED:
            circuits = circuits_of(network, fault)
            union = set(circuits).union(*(group.get(c, {c}) for c in circuits))
            group.update(dict.fromkeys(union, union))
    together: dict[str, tuple[Fault, ...]] = {}
    for circuit in {*on, *group}:
        members = group.get(circuit, {circuit})
        together[circuit] = tuple(sorted({f for c in members for f in on.get(c, ())}))
    return together
