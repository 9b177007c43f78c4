"""Which single faults might have to do with a reading that a harness as supposed would not give."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import replace

from inkthread.core.prove.faults import JOINED, SHORT_OHM, Built, Fault, FaultKind, Meter, Network
from inkthread.core.prove.harness import MeasuredWire
from inkthread.core.prove.readings import Reading

_PAIRS_AT_MOST = 60


class Evidence:
    """All readings, by where they were taken."""

    def __init__(self, network: Network, readings: Sequence[Reading], meter: Meter) -> None:
        self.network, self.readings, self.meter = network, readings, meter
        self.at: dict[str, list[int]] = {}
        """Place to the readings of it alone against another, by their number."""
        self.groups: list[int] = []
        """Readings of whole groups."""
        self.joined: dict[str, set[str]] = {}
        """Place to places that were read as joined with it."""
        for n, reading in enumerate(readings):
            if not reading.single:
                self.groups.append(n)
                continue
            a, b = reading.a[0], reading.b[0]
            for place in (a, b):
                self.at.setdefault(place, []).append(n)
            if reading.ohm < SHORT_OHM:
                self.joined.setdefault(a, set()).add(b)
                self.joined.setdefault(b, set()).add(a)
        self.joined_when_moved = {(r.a, r.b) for r in readings if r.moved and not meter.is_open(r.ohm)}
        """Places that were joined as the harness was moved, whatever they are when it lies still."""
        self.groups = [n for n in self.groups if not self._told_singly(readings[n])]
        self.groups_at: dict[str, list[int]] = {}
        """Place to the readings of it alone against many others."""
        self.wide: list[int] = []
        """Readings of several places against several."""
        for n in self.groups:
            alone = readings[n].a if len(readings[n].a) == 1 else ()
            for place in alone:
                self.groups_at.setdefault(place, []).append(n)
            self.wide += () if alone else (n,)
        plain = Built(network)
        taken = sorted({*self.groups, *(n for at in self.at.values() for n in at)})
        self.wrong = [n for n in taken if not plain.explains(readings[n], meter)]
        """Those that the harness as designed would not give."""
        self.suspect = {p for n in self.wrong for p in (*readings[n].a, *readings[n].b)}
        """Places of readings that are wrong."""
        self.moved_away: dict[str, Sequence[Fault]] = {}
        """Place to what may bring another contact into it, where its connector is filled as designed."""
        self._across: dict[int, tuple[tuple[str, str], ...]] = {}

    def _told_singly(self, reading: Reading) -> bool:
        """Whether it is known which places of two groups are joined: then those readings say more."""
        return any(not reading.far.isdisjoint(self._linked(place)) for place in reading.a)

    def _linked(self, place: str) -> set[str]:
        linked: set[str] = set()
        for n in self.at.get(place, ()):
            reading = self.readings[n]
            if not self.meter.is_open(reading.ohm):
                linked |= {*reading.a, *reading.b} - {place}
        return linked

    def across(self, n: int) -> tuple[tuple[str, str], ...]:
        """Places of two groups that may be what joins them: they lie apart in every reading that holds."""
        if n not in self._across:
            wrong = set(self.wrong)
            sides = [
                (frozenset(self.readings[g].a), self.readings[g].far) for g in self.groups if g not in wrong
            ]
            own = self.readings[n]
            pairs = [
                (a, b)
                for a in own.a
                for b in own.b
                if a in self.network.points and b in self.network.points
                if not any((a in one and b in two) or (b in one and a in two) for one, two in sides)
            ]
            near = [(a, b) for a, b in pairs if may_touch(self.network, a, b)]
            self._across[n] = tuple((near or pairs)[:_PAIRS_AT_MOST])
        return self._across[n]


def may_touch(network: Network, a: str, b: str) -> bool:
    """Whether the circuits of two places lie side by side on any face."""
    return bool(where_beside(network, a, b))


def where_beside(network: Network, a: str, b: str) -> tuple[tuple[str, str], ...]:
    """Neighbouring places of the circuits of two places."""
    harness = network.harness
    one, other = network.points[a], network.points[b]
    return tuple(
        (place, near)
        for place in harness.circuits[one]
        for near in harness.neighbours.get(place, ())
        if network.points.get(near) == other
    )


def candidates(built: Built, n: int, evidence: Evidence) -> list[Fault]:
    """Faults that may explain a reading which a harness as supposed would not give; none of them twice."""
    reading, meter = evidence.readings[n], evidence.meter
    if not reading.single:
        return list(dict.fromkeys(_of_groups(built, n, evidence)))
    a, b = reading.a[0], reading.b[0]
    way = built.way(a, b)
    if way is not None and not meter.is_open(way.least):
        if not meter.is_open(reading.ohm):
            return list(dict.fromkeys(_of_ohms(built, reading)))
        on_path = _path(built, a, b)
        opens: list[Fault] = [*_opened(built, on_path), *_not_home(built, (a, b))]
        if reading.moved or (reading.a, reading.b) in evidence.joined_when_moved:
            opens += [Fault("loose when moved", wire=key) for key in on_path]
        return list(
            dict.fromkeys([*opens, *_moved_away(built, a, evidence), *_moved_away(built, b, evidence)])
        )
    return list(dict.fromkeys(_of_joined(built, a, b, reading.ohm, evidence)))


def _path(built: Built, a: str, b: str) -> list[str]:
    """Wires between two places, where circuits touch across that too; other faults left out of account."""
    start, goal = built.held(a), built.held(b)
    if start is None or goal is None:
        return []
    before: dict[str, tuple[str, str]] = {start: ("", "")}
    stack = [start]
    touching: dict[str, list[tuple[str, str]]] = {}
    for fault in built.faults:
        if fault.kind in JOINED:
            touching.setdefault(fault.a, []).append((fault.b, ""))
            touching.setdefault(fault.b, []).append((fault.a, ""))
    while stack and goal not in before:
        node = stack.pop()
        for other, key in (*built.network.beside.get(node, ()), *touching.get(node, ())):
            if other not in before:
                before[other] = (node, key)
                stack.append(other)
    keys: list[str] = []
    node = goal
    while node in before and before[node][0]:
        node, key = before[node][0], before[node][1]
        keys += [key] if key else []
    return keys


def broken(built: Built, wire: str) -> Fault:
    """A wire that does not arrive."""
    drain = built.network.harness.wires[wire].drain
    return Fault("drain missing" if drain else "open", wire=wire)


def _opened(built: Built, keys: Iterable[str]) -> list[Fault]:
    return [broken(built, key) for key in keys]


def _not_home(built: Built, places: Iterable[str]) -> Iterator[Fault]:
    for place in places:
        contact = built.held(place)
        if contact is not None and len(built.network.harness.terminals[contact].wires) > 1:
            yield Fault("not home", a=contact)


def _swap(built: Built, a: str, b: str) -> Fault | None:
    """The contacts of two places of one connector exchanged, or moved where one is empty."""
    points = built.network.harness.terminals
    if a in built.holds or b in built.holds or a == b:
        return None
    filled = [p for p in (a, b) if p in points]
    if not filled or (len(filled) > 1 and points[a].circuit == points[b].circuit):
        return None
    connector = points[filled[0]].connector
    one, other = sorted((a, b))
    if len(filled) > 1:
        return Fault("swapped", connector=connector, moves=((one, other), (other, one)))
    empty = b if filled[0] == a else a
    return Fault("moved", connector=connector, moves=((filled[0], empty),))


def _same_connector(network: Network, place: str) -> Iterator[str]:
    """Other places of a place's connector."""
    harness = network.harness
    for other in harness.on(harness.connector_of[place]):
        if other != place:
            yield other


def _whole(built: Built, place: str) -> Iterator[Fault]:
    """The connector of a place filled wrongly as a whole."""
    connector = built.network.harness.connector_of[place]
    if connector not in built.rearranged:
        for how, moves in built.network.harness.rearranged.get(connector, ()):
            yield Fault(how, connector=connector, moves=moves)


def _moved_away(built: Built, place: str, evidence: Evidence) -> Sequence[Fault]:
    """What brings another contact, or none, into a place."""
    harness = built.network.harness
    as_designed = harness.connector_of[place] not in built.rearranged
    if as_designed and place in evidence.moved_away:
        return evidence.moved_away[place]
    faults: list[Fault] = []
    for other in _same_connector(built.network, place):
        empty = other not in harness.terminals
        seen = other in evidence.joined if empty else other in evidence.suspect or other not in evidence.at
        if seen and (fault := _swap(built, place, other)) is not None:
            faults.append(fault)
    faults += _whole(built, place)
    if as_designed:
        evidence.moved_away[place] = faults
    return faults


def _of_joined(built: Built, a: str, b: str, ohm: float, evidence: Evidence) -> Iterator[Fault]:
    """Two places that should be apart are not."""
    one, other = built.held(a), built.held(b)
    points = built.network.points
    if one is not None and other is not None and points[one] != points[other]:
        yield joined(one, other, ohm)
    if ohm >= SHORT_OHM:
        return
    for place, contact in ((a, other), (b, one)):
        if contact is None:
            continue
        joined_with = built.joins(contact)
        for near in _same_connector(built.network, place):
            if points.get(near) in joined_with and (fault := _swap(built, place, near)) is not None:
                yield fault
        yield from _whole(built, place)
    for place in (a, b):  # both may hold what they should not
        yield from _moved_away(built, place, evidence)
    yield from _rounds(built, (a, b), evidence)


def _rounds(built: Built, places: Iterable[str], evidence: Evidence) -> Iterator[Fault]:
    """Three contacts of one connector gone round: each sits where the next belongs."""
    points = built.network.points
    for place in places:
        if place not in points or place in built.holds:
            continue
        connector = built.network.harness.connector_of[place]
        for second in _whose(built, place, connector, evidence):
            for third in _whose(built, second, connector, evidence):
                if third not in (place, second) and place in _whose(built, third, connector, evidence):
                    start = min((place, second, third))
                    turn = (place, second, third)
                    at = turn.index(start)
                    p, q, r = turn[at:] + turn[:at]
                    yield Fault("swapped", connector=connector, moves=((q, p), (r, q), (p, r)))


def _whose(built: Built, place: str, connector: str, evidence: Evidence) -> list[str]:
    """Where on its connector the contact belongs that seems to sit in a place."""
    points = built.network.points
    circuits = {points[p] for p in evidence.joined.get(place, ()) if p in points}
    circuits.discard(points.get(place, ""))
    return [
        p
        for p in built.network.harness.on(connector)
        if p != place and p not in built.holds and points.get(p) in circuits
    ]


def joined(one: str, other: str, ohm: float) -> Fault:
    """Two circuits that touch, or are dirty between, named by contacts that were read as joined."""
    a, b = sorted((one, other))
    kind: FaultKind = "short" if ohm < SHORT_OHM else "leakage"
    return Fault(kind, a=a, b=b, ohm=0.0 if kind == "short" else float(f"{ohm:.2g}"))


def by_first(network: Network, faults: tuple[Fault, ...]) -> tuple[Fault, ...]:
    """The same faults, circuits that touch named by the first contact of what touches: one name for each."""
    plain = Built(network, [f for f in faults if f.kind not in JOINED])

    def first(contact: str) -> str:
        circuit = network.points[contact]
        reached = plain.reached(contact)
        return next(p for p in network.harness.circuits[circuit] if p in reached)

    return tuple(
        sorted(
            replace(f, a=min(first(f.a), first(f.b)), b=max(first(f.a), first(f.b)))
            if f.kind in JOINED
            else f
            for f in faults
        )
    )


def _of_ohms(built: Built, reading: Reading) -> Iterator[Fault]:
    """Joined as they should be, with too much or too little between."""
    harness = built.network.harness
    a, b = reading.a[0], reading.b[0]
    way = built.way(a, b)
    assert way is not None
    on_path = _path(built, a, b)
    usual = sum(harness.wires[key].ohms.usual for key in on_path)
    more = reading.ohm - usual
    too_much = reading.ohm > way.most
    if reading.moved:
        yield from (Fault("loose when moved", wire=key) for key in on_path)
    for key in on_path:
        wire = harness.wires[key]
        if any(f.wire == key for f in built.faults):
            continue
        if wire.resistive:
            yield Fault("core pulled", wire=key, ohm=_rounded(more))
            continue
        if too_much:
            yield Fault("high joint", wire=key, ohm=_rounded(more))
        for gauge, times in harness.sizes[key]:
            if (times > 1) == too_much and _may_be(wire, times, more):
                yield Fault("wrong gauge", wire=key, ohm=times, gauge=gauge)


def _may_be(wire: MeasuredWire, times: float, more: float) -> bool:
    """Whether a wire so many times as resistive would come to about as much more."""
    copper = wire.ohms.usual - wire.joints.usual
    off = wire.ohms.most - wire.ohms.least
    return math.isclose(copper * (times - 1), more, rel_tol=0.5, abs_tol=off)


def _rounded(ohm: float) -> float:
    return float(f"{ohm:.3g}")


def _of_groups(built: Built, n: int, evidence: Evidence) -> Iterator[Fault]:
    """Two groups that should be apart are not: any two of them that touch in no reading that holds."""
    reading = evidence.readings[n]
    if evidence.meter.is_open(reading.ohm):
        return
    for a, b in evidence.across(n):
        one, other = built.held(a), built.held(b)
        if one is not None and other is not None:
            yield joined(one, other, reading.ohm)
