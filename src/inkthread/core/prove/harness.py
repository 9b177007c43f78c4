"""The harness as a meter sees it: terminals that a probe reaches, wires with their resistance."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import NamedTuple

from inkthread.core.build import Rooms
from inkthread.core.catalogue import Band
from inkthread.core.ends.misplaced import Rearranged, rearranged
from inkthread.core.physics.conductor import resistance_at_temperature
from inkthread.core.record import record
from inkthread.core.route import SectionEnd

_BESIDE = 1.25
"""Times the way to its nearest neighbour: other cavities so near lie beside it too."""
_MOVES_OF_TWO = 2
"""Two contacts exchanged are that, however the whole face lies."""


@record
class Ohms:
    """A resistance in ohm: the least, the usual and the most that it should be."""

    least: float
    usual: float
    most: float

    def plus(self, other: Ohms) -> Ohms:
        """Both in line."""
        return Ohms(self.least + other.least, self.usual + other.usual, self.most + other.most)

    def minus(self, part: Ohms) -> Ohms:
        """The rest, where ``part`` is in it."""
        return Ohms(self.least - part.least, self.usual - part.usual, self.most - part.most)

    def times(self, factor: float) -> Ohms:
        """So many times as much."""
        return Ohms(self.least * factor, self.usual * factor, self.most * factor)


@record
class MeasuredWire:
    """One wire between two nodes: terminals, splices or blocks."""

    key: str
    label: str
    circuit: str
    a: str
    b: str
    ohms: Ohms
    """Its ends included, at the temperature that it is measured at."""
    joints: Ohms
    """What of it lies in its ends."""
    resistive: bool
    """Whether it is a resistive lead."""
    drain: bool
    """Whether it lands a shield."""
    family: str
    gauge: str
    colour: str
    length_m: float
    branches: tuple[str, ...]


@record
class ProbePoint:
    """A place that a probe reaches: a cavity with a contact, a loose terminal, a way of a block."""

    name: str
    """``J2-3``."""
    connector: str
    cavity: str
    circuit: str
    pins: tuple[str, ...]
    wires: tuple[str, ...]


@record
class MeasuredHarness:
    """All that can be measured on one harness before it is plugged in."""

    terminals: dict[str, ProbePoint]
    wires: dict[str, MeasuredWire]
    circuits: dict[str, tuple[str, ...]]
    """Circuit to the terminals of it, the one on the fullest connector first."""
    empty: dict[str, tuple[str, ...]]
    """Connector to the places of its cavities without a contact."""
    neighbours: dict[str, tuple[str, ...]]
    """Place to the places beside it on the same face."""
    rearranged: dict[str, tuple[tuple[Rearranged, tuple[tuple[str, str], ...]], ...]]
    """Connector to how it may be filled wrongly as a whole: where each of its contacts would sit."""
    face_mm: dict[str, tuple[float, float]]
    """Place to where it lies on its face, the wires coming towards one."""
    latch: dict[str, str]
    """Connector to what is at the top of its face: latch, key, lever."""
    sizes: dict[str, tuple[tuple[str, float], ...]]
    """Wire to other gauges of its family, each with how many times its own resistance that has."""
    of_connector: dict[str, tuple[str, ...]]
    """Connector to all its places."""
    connector_of: dict[str, str]
    """Place to its connector."""
    bench_c: float

    def on(self, connector: str) -> tuple[str, ...]:
        """Every place of a connector, filled or empty."""
        return self.of_connector.get(connector, ())

    @property
    def places(self) -> frozenset[str]:
        """Every place that a probe reaches, filled or empty."""
        return frozenset(self.terminals).union(*self.empty.values())


def harness_of(rooms: Rooms, bench_c: float = 20.0) -> MeasuredHarness:
    """The harness of a design, measured with its conductors at ``bench_c`` deg C."""
    document, band = rooms.context.document, rooms.context.catalogue.proofs.band
    shields = {g.shield for g in document.circuits.groups.values() if g.shield}
    pins: dict[str, dict[str, None]] = {}
    at: dict[str, tuple[str, str, str]] = {}
    ends_at: dict[str, list[str]] = {}
    wires: dict[str, MeasuredWire] = {}
    finished_m = {cut.wire: cut.finished_mm / 1000 for cut in rooms.cut.cuts}
    for key, section in rooms.route.sections.items():
        wire = rooms.wire.wires.get(key)
        if wire is None:
            continue
        length_m = finished_m.get(key, (section.length_mm + section.slack_mm) / 1000)
        nodes: list[str] = []
        for end in (section.a, section.b):
            name = node_of(end, key)
            nodes.append(name)
            if end.kind == "pin":
                at.setdefault(name, (end.connector or "", end.cavity or "", section.circuit))
                pins.setdefault(name, {})[end.id] = None
                ends_at.setdefault(name, []).append(key)
        wires[key] = MeasuredWire(
            key, wire.label, section.circuit, nodes[0], nodes[1],
            _ohms(rooms, key, length_m, bench_c), _joints(rooms, key, band),
            rooms.wire.families[wire.family].resistance_max_ohm_per_m is not None,
            section.circuit in shields, wire.family, wire.gauge, wire.colour,
            length_m, section.branches,
        )  # fmt: skip
    terminals = {
        name: ProbePoint(name, *where, tuple(pins[name]), tuple(ends_at[name])) for name, where in at.items()
    }
    filled: dict[str, int] = {}
    for terminal in terminals.values():
        filled[terminal.connector] = filled.get(terminal.connector, 0) + 1
    faces = {k: face for k in filled if (face := _face(rooms, k, terminals)) is not None}
    on = {k: list(faces[k].empty) if k in faces else [] for k in filled}
    for point in terminals.values():
        on[point.connector].append(point.name)
    circuits: dict[str, list[str]] = {}
    for terminal in sorted(terminals.values(), key=lambda t: -filled[t.connector]):
        circuits.setdefault(terminal.circuit, []).append(terminal.name)
    return MeasuredHarness(
        terminals,
        wires,
        {c: tuple(circuits[c]) for c in document.circuits.circuits if c in circuits},
        {k: face.empty for k, face in faces.items()},
        {place: near for face in faces.values() for place, near in face.neighbours.items()},
        {k: face.rearranged for k, face in faces.items()},
        {place: at for face in faces.values() for place, at in face.face_mm.items()},
        {k: face.latch for k, face in faces.items()},
        {key: _sizes(rooms, key) for key in wires},
        {k: tuple(places) for k, places in on.items()},
        {place: k for k, places in on.items() for place in places},
        bench_c,
    )


def node_of(end: SectionEnd, key: str) -> str:
    """What a wire's end is called: a terminal by connector and cavity, else what it is joined in."""
    if end.kind == "pin":
        return f"{end.connector}-{end.cavity}" if end.connector else end.id
    return f"{key} open" if end.kind == "open" else f"{end.kind} {end.id}"


def _sizes(rooms: Rooms, key: str) -> tuple[tuple[str, float], ...]:
    """Other gauges of a wire's family, each with how many times the wire's resistance it has."""
    family = rooms.wire.families[rooms.wire.wires[key].family]
    if family.resistance_max_ohm_per_m is not None:
        return ()
    own = rooms.wire.size(key)
    return tuple(
        (size.gauge, size.resistance_ohm_per_km / own.resistance_ohm_per_km)
        for size in family.sizes
        if size.gauge != own.gauge
    )


def _joints(rooms: Rooms, key: str, band: Band) -> Ohms:
    most = rooms.wire.joints_ohm(key)
    return Ohms(0.0, most * band.joint_usual_share, most)


def _ohms(rooms: Rooms, key: str, length_m: float, bench_c: float) -> Ohms:
    """A wire of its finished length: the most that its size may have (IEC 60228), and the band below it."""
    result, band = rooms.wire, rooms.context.catalogue.proofs.band
    joints = _joints(rooms, key, band)
    family = result.families[result.wires[key].family]
    if family.resistance_max_ohm_per_m is not None:
        least, most = family.lead_ohm(length_m)
        return Ohms(least, (least + most) / 2, most).plus(joints)
    per_m = float(resistance_at_temperature(result.size(key).resistance_ohm_per_km / 1000, bench_c))
    return Ohms(band.least_share, band.usual_share, band.most_share).times(per_m * length_m).plus(joints)


class _Face(NamedTuple):
    """A connector's housing, by the names of its places."""

    empty: tuple[str, ...]
    neighbours: dict[str, tuple[str, ...]]
    rearranged: tuple[tuple[Rearranged, tuple[tuple[str, str], ...]], ...]
    face_mm: dict[str, tuple[float, float]]
    latch: str


def _face(rooms: Rooms, connector_id: str, points: Mapping[str, ProbePoint]) -> _Face | None:
    connector = rooms.context.document.ends.connectors.get(connector_id)
    if connector is None:
        return None
    family = rooms.context.catalogue.connectors[connector.family]
    housing = family.housing(connector.ways)
    if housing is None or family.loose:
        return None
    face = housing.face
    place = {cavity: f"{connector_id}-{cavity}" for cavity in face.cavities}
    beside: dict[str, tuple[str, ...]] = {}
    for cavity, at in face.cavities.items():
        apart = {other: math.dist(at, where) for other, where in face.cavities.items() if other != cavity}
        near = min(apart.values(), default=0.0) * _BESIDE
        beside[place[cavity]] = tuple(place[other] for other, mm in apart.items() if mm <= near)
    whole = tuple(
        (how, tuple((place[a], place[b]) for a, b in where.items() if place[a] in points and a != b))
        for how, where in rearranged(face)
    )
    empty = tuple(name for name in place.values() if name not in points)
    several = tuple((how, moves) for how, moves in whole if len(moves) > _MOVES_OF_TWO)
    return _Face(empty, beside, several, {place[c]: at for c, at in face.cavities.items()}, face.latch)
