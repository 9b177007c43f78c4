"""The plan of tests: what is measured on a harness, what it should read, what each row would find."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

from inkthread.core.brief import BriefResult
from inkthread.core.build import SAMPLED, Rooms
from inkthread.core.ends.detail import pull_force_n
from inkthread.core.measures import format_length
from inkthread.core.prove.faults import Meter, Network
from inkthread.core.prove.harness import MeasuredHarness, harness_of
from inkthread.core.record import record
from inkthread.core.words import some_in_words

RowKind = Literal[
    "continuity", "resistive lead", "shield", "isolation", "pair order", "dry contact", "self-mate",
    "insulation", "motion", "drop", "pull", "function", "looks",
]  # fmt: skip
ProvedBy = Literal["hand", "tester"]
Ohms3 = tuple[float | None, float, float | None]
"""Expected, least and most in ohm; without a most, anything above the least will do."""
NOT_ASKED = 2
"""What the house rules on isolation, leads and looks mean by not."""
EVERYWHERE, NEVER = 2, 3
"""What the house rule on motion means."""
MILLI, MEGA = 1e-3, 1e6
_NAMED = 8
_DROP_SHARE = 0.1
"""Volts at a device may be off by this share of what is lost on the way, and a twentieth of a volt (common
practice, no source)."""


@record
class PlanRow:
    """One test."""

    id: str
    kind: RowKind
    circuit: str
    """One circuit, or two with a cross between."""
    a: tuple[str, ...]
    b: tuple[str, ...]
    """Places of the two probes, all of each group strapped together."""
    expected_ohm: float | None
    low_ohm: float | None
    high_ohm: float | None
    """Absent where anything from ``low_ohm`` up will do."""
    expected_v: float | None
    low_v: float | None
    high_v: float | None
    least_n: float | None
    """Least force of a sample."""
    moved: bool
    words: str
    catches: tuple[str, ...]
    setup: tuple[str, ...] = ()
    """Of a pull: contact, wire part and tool."""

    @property
    def by_ohm(self) -> bool:
        """Whether it is a reading in ohm."""
        return self.low_ohm is not None

    def holds(self, value: float) -> bool:
        """Whether a force in N or volts are what they should be; where neither is asked, any figure is."""
        if self.least_n is not None:
            return value >= self.least_n
        if self.low_v is not None and self.high_v is not None:
            return self.low_v <= value <= self.high_v
        return True


@record
class ProofPlan:
    """Every test of a harness, and the mistakes that none of them would find."""

    rows: tuple[PlanRow, ...]
    uncaught: tuple[str, ...]
    meter: Meter
    network: Network

    @property
    def harness(self) -> MeasuredHarness:
        """What is measured."""
        return self.network.harness


def meter_of(brief: BriefResult) -> Meter:
    """The meter that the house rules speak of."""
    return Meter(brief.value("test_reads_mohm") * MILLI, apart_ohm=brief.value("test_apart_mohm") * MEGA)


def plan_tests(rooms: Rooms, bench_c: float = 20.0, by: ProvedBy = "hand") -> ProofPlan:
    """The tests of a harness with its conductors at ``bench_c`` deg C, by hand or by a tester."""
    harness = harness_of(rooms, bench_c)
    maker = _Rows(rooms, Network(harness), meter_of(rooms.context.brief))
    maker.continuity()
    maker.isolation(by)
    maker.pairs()
    maker.motion()
    maker.insulation()
    maker.mates()
    maker.contacts()
    maker.drops()
    maker.pulls()
    maker.looks()
    mistakes = {mistake for row in maker.rows for mistake in row.catches}
    proofs = rooms.context.catalogue.proofs
    uncaught = tuple(
        words for name, words in proofs.mistakes.items() if name not in mistakes and maker.can_happen(name)
    )
    return ProofPlan(tuple(maker.rows), uncaught, maker.meter, maker.network)


class _Rows:
    def __init__(self, rooms: Rooms, network: Network, meter: Meter) -> None:
        self.rooms, self.network, self.meter = rooms, network, meter
        self.harness = network.harness
        self.brief = rooms.context.brief
        self.document = rooms.context.document
        self.sorts = rooms.context.catalogue.proofs.kinds
        self.rows: list[PlanRow] = []
        self.lines: dict[tuple[str, str], str] = {}
        """Two places of one circuit that are measured, and that circuit."""
        self.apart: Ohms3 = (None, meter.apart_ohm, None)
        self.place_of = {pin: n for n, t in self.harness.terminals.items() for pin in t.pins}

    def put(
        self,
        kind: RowKind,
        circuit: str,
        a: Sequence[str] = (),
        b: Sequence[str] = (),
        *,
        ohms: Ohms3 | None = None,
        volts: tuple[float, float, float] | None = None,
        least_n: float | None = None,
        moved: bool = False,
        setup: tuple[str, ...] = (),
        **fills: str,
    ) -> None:
        """Add a row; ``ohms`` and ``volts`` are expected, low and high."""
        sort = self.sorts[kind]
        words = sort.words.format(
            a=some_in_words(list(a), _NAMED) if a else "",
            b=some_in_words(list(b), _NAMED) if b else "",
            circuit=self.name_of(circuit),
            **fills,
        )
        expected, low, high = ohms or (None, None, None)
        expected_v, low_v, high_v = volts or (None, None, None)
        row = PlanRow(
            str(len(self.rows) + 1), kind, circuit, tuple(a), tuple(b), expected, low, high,
            expected_v, low_v, high_v, least_n, moved, words, sort.catches, setup,
        )  # fmt: skip
        self.rows.append(row)

    def name_of(self, circuit: str) -> str:
        """A circuit by its id and what it is called."""
        known = self.document.circuits.circuits.get(circuit)
        return f"{circuit} {known.name}".rstrip() if known is not None else circuit

    def band(self, a: str, b: str) -> tuple[float, float, float]:
        """Expected, low and high in ohm between two places of a circuit."""
        way = self.network.from_node(a, ())[b]
        low, high = self.meter.band(way.least, way.most)
        return round((way.least + way.most) / 2, 6), round(low, 6), round(high, 6)

    def continuity(self) -> None:
        """Every circuit from its place on the fullest connector to each of its other ends."""
        buzzed = int(self.brief.value("test_leads")) == NOT_ASKED
        leads = {w.circuit: w for w in self.harness.wires.values() if w.resistive}
        drains = {w.circuit for w in self.harness.wires.values() if w.drain}
        for circuit, (first, *others) in self.harness.circuits.items():
            for other in others:
                lead = leads.get(circuit)
                kind: RowKind = "resistive lead" if lead else "shield" if circuit in drains else "continuity"
                expected, low, high = self.band(first, other)
                if lead is not None and buzzed:
                    kind, low = "continuity", 0.0
                length = format_length(lead.length_m * 1000, self.document.brief.measures) if lead else ""
                self.put(kind, circuit, (first,), (other,), ohms=(expected, low, high), length=length)
                self.lines[first, other] = circuit

    def isolation(self, by: ProvedBy) -> None:
        """Every circuit apart from every other: by hand in few probes, at a tester from every place."""
        if int(self.brief.value("test_isolation")) == NOT_ASKED:
            return
        if by == "tester":
            places = sorted(self.harness.places)
            for place, point in self.harness.terminals.items():
                others = [p for p in places if p != place and self.network.points.get(p) != point.circuit]
                self._apart(point.circuit, (place,), others)
            return
        firsts = [places[0] for places in self.harness.circuits.values()]
        for bit in range(max(len(firsts) - 1, 0).bit_length()):
            one = [place for n, place in enumerate(firsts) if not n >> bit & 1]
            two = [place for n, place in enumerate(firsts) if n >> bit & 1]
            self._apart("all circuits", one, two)

    def _apart(self, circuit: str, a: Sequence[str], b: Sequence[str]) -> None:
        if a and b:
            self.put("isolation", circuit, a, b, ohms=self.apart)

    def pairs(self) -> None:
        """Both wires of a pair at both ends: each apart from the other's far end."""
        if int(self.brief.value("test_isolation")) == NOT_ASKED:
            return
        for members in data_pairs(self.rooms):
            one, other = (self.harness.circuits.get(c, ()) for c in members)
            names = f"the pair {members[0]} and {members[1]}"
            for place in other[1:] if one else ():
                crossed = f"{members[0]} × {members[1]}"
                self.put("pair order", crossed, one[:1], (place,), ohms=self.apart, pair=names)

    def motion(self) -> None:
        """What lies where it shakes or flexes, again while it is moved."""
        ruled = int(self.brief.value("test_motion"))
        if ruled == NEVER:
            return
        moving = moving_branches(self.rooms)
        lies_in: dict[str, set[str]] = {}
        for wire in self.harness.wires.values():
            lies_in.setdefault(wire.circuit, set()).update(wire.branches)
        for (first, other), circuit in self.lines.items():
            branches = lies_in[circuit]
            shaken = sorted(branches if ruled == EVERYWHERE else branches & moving)
            if shaken:
                where = some_in_words(shaken, _NAMED)
                ohms = self.band(first, other)
                self.put("motion", circuit, (first,), (other,), ohms=ohms, moved=True, branches=where)

    def insulation(self) -> None:
        """Every circuit to all others at voltage, where the practice asks."""
        volts = self.brief.value("test_insulation_v")
        if not volts:
            return
        firsts = {circuit: places[0] for circuit, places in self.harness.circuits.items()}
        for circuit, place in firsts.items():
            others = [p for c, p in firsts.items() if c != circuit]
            if others:
                self.put("insulation", circuit, (place,), others, ohms=self.apart, at=f"{volts:g} V")

    def mates(self) -> None:
        """An extension plugged into its own other end."""
        for connector_id, connector in self.document.ends.connectors.items():
            if connector.same_as is not None and connector.same_as in self.document.ends.connectors:
                self.put("self-mate", "", (connector_id,), (connector.same_as,))

    def can_happen(self, mistake: str) -> bool:
        """Whether a mistake can be made in this harness: no shield, and none is left off."""
        wires = self.harness.wires.values()
        connectors = self.document.ends.connectors.values()
        if mistake == "core pulled":
            return any(w.resistive for w in wires)
        if mistake == "drain missing":
            return any(w.drain for w in wires)
        if mistake == "pair crossed":
            return bool(data_pairs(self.rooms))
        if mistake == "wrong half":
            return any(c.same_as is not None or c.meets is not None for c in connectors)
        if mistake == "look-alikes":
            housings = [h for c in self.rooms.ends.connectors.values() if (h := c.housing)]
            return len(set(housings)) < len(housings)
        return True

    def contacts(self) -> None:
        """Dry contacts, either way round."""
        for device_id, device in self.document.circuits.devices.items():
            pins = [f"{device_id}.{p}" for p, pin in device.pins.items() if pin.role == "dry_contact"]
            places = [self.place_of[pin] for pin in pins if pin in self.place_of]
            if len(places) == 2 and not device.polarised:
                self.put("dry contact", "", places[:1], places[1:], device=f"{device_id} {device.name}")

    def drops(self) -> None:
        """Volts at each device as it works, and that it does what it should."""
        for load_id, drop in self.rooms.wire.loops.items():
            load = self.document.circuits.loads.get(load_id)
            if load is None:
                continue
            device = self.document.circuits.devices[load.device]
            ends = [f"{load.device}.{pin}" for pin in (load.supply_pin, load.return_pin)]
            a, b = ((self.place_of[end],) if end in self.place_of else () for end in ends)
            off = drop.drop_v * _DROP_SHARE + 0.05
            volts = (round(drop.gets_v, 3), round(drop.gets_v - off, 3), round(drop.gets_v + off, 3))
            name = f"{load.device} {device.name}".rstrip()
            self.put("drop", load_id, a, b, volts=volts, device=name)
        loaded = {load.device for load in self.document.circuits.loads.values()}
        for device_id, device in self.document.circuits.devices.items():
            if device_id in loaded:
                self.put("function", "", device=f"{device_id} {device.name}".rstrip())

    def pulls(self) -> None:
        """Samples of every crimp set-up: contact, wire, tool and nest."""
        sampled = int(self.brief.value("crimp_evidence")) == SAMPLED
        count = max(int(self.brief.value("test_pulls")), 1 if sampled else 0)
        for (contact_code, part, tool), force_n in crimp_setups(self.rooms).items() if count else ():
            self.put(
                "pull", "", least_n=round(force_n, 1), count=str(count), contact=contact_code, wire=part,
                tool=tool, force=f"{force_n:.0f}", setup=(contact_code, part, tool.partition(",")[0]),
            )  # fmt: skip

    def looks(self) -> None:
        """How it looks, connector by connector: scored apart."""
        if int(self.brief.value("test_looks")) != NOT_ASKED:
            for connector_id in dict.fromkeys(t.connector for t in self.harness.terminals.values()):
                self.put("looks", "", place=connector_id)


def crimp_setups(rooms: Rooms) -> dict[tuple[str, str, str], float]:
    """Contact, wire part and tool with its nest and depth, to the least force in N of a sample."""
    setups: dict[tuple[str, str, str], float] = {}
    catalogue, wire, ends = rooms.context.catalogue, rooms.wire, rooms.ends
    for end, contact in ends.contacts.items():
        crimp = ends.crimps.get(end)
        force_n = pull_force_n(catalogue.pull.get(contact.pull), wire.size(end[1]))
        if crimp is None or force_n is None or contact.factory:
            continue
        sized = wire.wires[end[1]]
        tool = ", ".join(t for t in (crimp.tool, crimp.nest if crimp.nest != "-" else "", crimp.depth) if t)
        setups[contact.code, f"{sized.family} {sized.gauge}", tool] = force_n
    return setups


def data_pairs(rooms: Rooms) -> list[tuple[str, str]]:
    """Circuits that run as a pair: which of the two is which matters at both ends."""
    groups = rooms.context.document.circuits.groups.values()
    return [
        (members[0], members[1])
        for g in groups
        if len(members := list(g.members)) == 2 and all(c in rooms.route.trees for c in members)
    ]


def moving_branches(rooms: Rooms) -> set[str]:
    """Branches that lie where it shakes or flexes."""
    zones = rooms.context.document.brief.zones
    moving = {zone_id for zone_id, zone in zones.items() if zone.vibration or zone.flex}
    return {branch for branch, lies_in in rooms.route.zones.items() if moving.intersection(lies_in)}
