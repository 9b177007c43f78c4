"""Currents by walking from sources along the paths that devices declare."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace

import numpy as np

from inkthread.core.brief import drop_limit_v, served_as
from inkthread.core.catalogue import CheckText
from inkthread.core.circuits.charging import charging_loops
from inkthread.core.circuits.checks import find_in_circuits, named
from inkthread.core.circuits.facts import (
    CircuitFacts,
    CircuitsResult,
    Crossing,
    Loop,
    Mesh,
    Role,
    SourceFacts,
    most_current_a,
    most_drawn_a,
)
from inkthread.core.circuits.feeds import find_fed_twice, find_in_feeds, live_pins
from inkthread.core.circuits.fuses import raise_for_inrush, rate_fuses
from inkthread.core.circuits.network import Hop, Network, PathAt, build_network
from inkthread.core.circuits.side_by_side import (
    all_chords,
    find_parallel_fuses,
    own_grounds,
    through_structure,
)
from inkthread.core.circuits.supplies import (
    by_rank,
    grounds_by_rank,
    sharing_batteries,
    source_facts,
    structure_strap,
)
from inkthread.core.context import Context
from inkthread.core.document.only import only
from inkthread.core.document.types import Document, Load
from inkthread.core.document.values import PROTECTIVE
from inkthread.core.findings import Finding, FindingBook, Place
from inkthread.core.physics.conductor import FloatArray


def _role(roles: set[str]) -> Role:
    for role, of_pins in (
        ("data", ("data",)),
        ("ignition", ("ignition",)),
        ("supply", ("supply_out",)),
        ("output", ("output_high", "output_low")),
        ("ground", ("ground",)),
        ("drain", ("drain",)),
        ("sensor_return", ("sensor_return",)),
        ("signal", ("signal", "dry_contact", "trigger")),
    ):
        if roles & set(of_pins) and not (role == "drain" and roles - {"drain"}):
            return role  # type: ignore[return-value]
    return "supply"


@dataclass(frozen=True, slots=True)
class _Other:
    """Another battery that can take over, or another switched way: what can be reached then."""

    without: frozenset[str]
    feed: dict[str, Hop]
    back: dict[str, Hop]


@dataclass(frozen=True, slots=True)
class _Ways:
    """How current can go, whatever the loads: walks from every source and back to it."""

    net: Network
    modes: tuple[str, ...]
    feed: dict[str, Hop]
    back: dict[str, Hop]
    strap: Crossing | None
    sources: dict[str, SourceFacts]
    meshes: tuple[Mesh, ...]
    """Where current divides by resistance."""
    others: tuple[_Other, ...]
    """Ways in which it may be fed instead."""
    returns: dict[tuple[frozenset[str], str], dict[str, Hop]]
    """Ways back to each source, without some paths: walked when first asked for."""
    live: frozenset[str]
    role_of: dict[str, Role]
    findings: list[Finding]


def _find_ways(document: Document, checks: dict[str, CheckText]) -> _Ways:
    book = FindingBook(checks)
    net = build_network(document, book)
    modes = tuple(m for m, _ in sorted(document.circuits.modes.items(), key=lambda kv: kv[1].order)) or ("",)
    feed = net.walk(*by_rank(document, net), forward=True)
    strap = structure_strap(document, net)
    studs = net.studs if strap is not None else []
    back = net.walk(*grounds_by_rank(document, net), studs, forward=False)
    for sink in (*net.grounds, *net.studs):
        shorted = net.circuit_of.get(sink)
        if shorted is not None and shorted in feed:
            book.add(
                "short-circuit",
                Place("circuits", "circuit", shorted),
                circuit=f"{shorted} {net.circuits[shorted].name}".strip(),
                source=_source_of(shorted, feed),
                pin=sink,
            )
    meshes: list[Mesh] = []
    either: list[str] = []
    for chord in all_chords(document, net, feed, strap):
        if chord.may_open or not chord.closable:
            if chord.closable:
                find_fed_twice(document, chord, book)
            if chord.closable and chord.beside is not None:
                either.append(chord.beside)
            continue
        meshes.append(chord.mesh)
        find_parallel_fuses(document, chord, book)
    if strap is not None:
        meshes += through_structure(document, net, strap)
    sources = source_facts(document, net, modes)
    others = _others(document, net, studs, either)
    roles = {circuit_id: _role(net.roles[circuit_id]) for circuit_id in net.circuits}
    return _Ways(
        net, modes, feed, back, strap, sources, tuple(meshes), others, {}, live_pins(net), roles, book.entries
    )


def _others(document: Document, net: Network, studs: list[str], either: list[str]) -> tuple[_Other, ...]:
    tries: list[tuple[str | None, frozenset[str]]] = [
        (b, frozenset()) for b in sharing_batteries(document, net)
    ]
    tries += [(None, frozenset((path,))) for path in dict.fromkeys(either)]
    return tuple(
        _Other(
            without,
            net.walk(*by_rank(document, net, battery), forward=True, without=without),
            net.walk(*grounds_by_rank(document, net, battery), studs, forward=False, without=without),
        )
        for battery, without in tries[:_ALTERNATIVES_AT_MOST]
    )


_WIRED = ("circuits.devices", "circuits.circuits", "circuits.sources", "circuits.modes", "circuits.future_in")


def circuits_room(context: Context, book: FindingBook) -> CircuitsResult:
    """Walk from every source along declared paths to every load, and back."""
    document, catalogue, brief = context.document, context.catalogue, context.brief
    wired = only(document, *_WIRED)
    ways = context.memo.get(_find_ways, wired, book.checks)
    book.entries += ways.findings

    def limit_v(load: Load | None, supply_v: float) -> float:
        served = served_as(document, catalogue, load)
        return drop_limit_v(brief, document, catalogue, served, supply_v)[0]

    walker = _Walker(document, ways, ways.feed, ways.back, limit_v, book)
    for load_id, load in document.circuits.loads.items():
        if load.current_a == 0:
            book.add("load-not-stated", Place("circuits", "load", load_id), load=named(document, load.device))
    loops = walker.all_loops()
    loops += charging_loops(document, ways.net, ways.sources)
    loops = _with_alternatives(loops, walker, ways, book)
    drawn_a = most_drawn_a(loops, ways.modes)
    through = path_currents_a(loops, ways.meshes, drawn_a)
    fuses = rate_fuses(document, catalogue, brief, through, feed_sources(loops), book)
    fuses = raise_for_inrush(document, catalogue, fuses, loops)
    carried_a = _carried_a(loops, drawn_a)
    result = CircuitsResult(
        {
            c: CircuitFacts(role, _protecting_fuse(c, ways.feed), carried_a.get(c, 0.0))
            for c, role in ways.role_of.items()
        },
        loops,
        fuses,
        ways.sources,
        ways.modes,
        ways.net.circuit_of,
        ways.meshes,
        ways.live,
        _volts(ways, loops),
        ways.role_of,
    )
    _one_ended(document, ways.net, book)
    find_in_circuits(document, catalogue, ways.net, result, context.memo, book)
    find_in_feeds(document, catalogue, brief, ways.net, result, book)
    return result


def _one_ended(document: Document, net: Network, book: FindingBook) -> None:
    shields = {g.shield for g in document.circuits.groups.values()}
    for circuit_id, circuit in net.circuits.items():
        if len(circuit.ends) == 1 and circuit_id not in shields:
            book.add(
                "circuit-one-end",
                Place("circuits", "circuit", circuit_id),
                circuit=circuit.name or circuit_id,
                pin=next(iter(circuit.ends)),
            )


def _volts(ways: _Ways, loops: list[Loop]) -> dict[str, float]:
    """Circuit to the working voltage of the highest source that can reach it."""
    volts: dict[str, float] = {}
    for source in ways.sources.values():
        for circuit_id in source.spread:
            volts[circuit_id] = max(volts.get(circuit_id, 0.0), source.nominal_v)
    for loop in loops:
        for crossing in (*loop.feed, *loop.back):
            if ways.role_of[crossing.circuit] != "ground":
                volts[crossing.circuit] = max(volts.get(crossing.circuit, 0.0), loop.supply_v)
    return volts


def _carried_a(loops: list[Loop], drawn_a: FloatArray) -> dict[str, float]:
    """What goes into each circuit by its pins, in the mode of most: modes that exclude each other are
    never added."""
    pins: dict[tuple[str, str], int] = {}
    at: list[int] = []
    of_loop: list[int] = []
    sign: list[float] = []
    for n, loop in enumerate(loops):
        for crossing in (*loop.feed, *loop.back):
            for pin, way in ((crossing.from_pin, 1.0), (crossing.to_pin, -1.0)):
                at.append(pins.setdefault((crossing.circuit, pin), len(pins)))
                of_loop.append(n)
                sign.append(way)
    put_in = np.zeros((len(pins), drawn_a.shape[1]))
    np.add.at(put_in, at, np.array(sign)[:, None] * drawn_a[of_loop])
    circuits = {c: k for k, c in enumerate(dict.fromkeys(c for c, _ in pins))}
    found = np.zeros((len(circuits), drawn_a.shape[1]))
    np.add.at(found, [circuits[c] for c, _ in pins], np.maximum(put_in, 0.0))
    return dict(zip(circuits, found.max(axis=1, initial=0.0).tolist(), strict=True))


def _with_alternatives(loops: list[Loop], walker: _Walker, ways: _Ways, book: FindingBook) -> list[Loop]:
    """Where another battery can take over, or another switched way, its loops too: instead of the first."""
    quiet = FindingBook(book.checks)
    sets = [loops]
    known = {_ways_told(loops)}
    charging = _ways_told([x for x in loops if x.charging])
    for other in ways.others:
        found = walker.instead(other, quiet).all_loops()
        told = _ways_told(found)
        if found and told | charging not in known and told not in known:
            known.add(told)
            sets.append(found)
    if len(sets) == 1:
        return loops
    count, width = len(sets), len(ways.modes)
    return [
        replace(
            x,
            alternative=a,
            shares=(0.0,) * (a * width) + x.shares + (0.0,) * ((count - 1 - a) * width),
        )
        for a, held in enumerate(sets)
        for x in held
    ]


_ALTERNATIVES_AT_MOST = 8
"""Ways in which a harness may be fed, tried in the order of its devices."""


def _ways_told(loops: Iterable[Loop]) -> frozenset[tuple[str, str, tuple[str, ...]]]:
    return frozenset((x.load, x.source, x.paths) for x in loops)


def path_currents_a(loops: list[Loop], meshes: tuple[Mesh, ...], drawn_a: FloatArray) -> dict[str, float]:
    """The most that each path inside a device carries in any mode, by ``device.path``.

    Where ways lie side by side they are taken as alike: their wires are not known yet. The wire room
    says how current divides between them.
    """
    index: dict[str, int] = {}
    for loop in loops:
        for path in loop.paths:
            index.setdefault(path, len(index))
    for mesh in meshes:
        for path, _ in mesh.paths:
            index.setdefault(path, len(index))
    crossed = np.zeros((len(index), len(loops)))
    for n, loop in enumerate(loops):
        for path in loop.paths:
            crossed[index[path], n] += 1.0
    if meshes and index:
        round_ = np.zeros((len(index), len(meshes)))
        for k, mesh in enumerate(meshes):
            for path, weight in mesh.paths:
                round_[index[path], k] += weight
        crossed = crossed + round_ @ np.linalg.lstsq(round_, -crossed, rcond=None)[0]
    currents = np.abs(crossed @ drawn_a).max(axis=1, initial=0.0)
    return {path: float(currents[i]) for path, i in index.items()}


def feed_sources(loops: Iterable[Loop]) -> dict[str, str]:
    """Fuse to the source pin its loads are fed from."""
    found: dict[str, str] = {}
    for loop in loops:
        for fuse in loop.fuses:
            found.setdefault(fuse, loop.source)
    return found


def _source_of(circuit_id: str, feed: dict[str, Hop]) -> str:
    """The source pin that a fed circuit is reached from."""
    hop = feed[circuit_id]
    while hop.circuit is not None:
        hop = feed[hop.circuit]
    return hop.pin


def _protecting_fuse(circuit_id: str, feed: dict[str, Hop]) -> str | None:
    hop = feed.get(circuit_id)
    while hop is not None and hop.across is not None:
        device_id, path_id, inner = hop.across
        if inner.kind in PROTECTIVE:
            return f"{device_id}.{path_id}"
        hop = feed.get(hop.circuit) if hop.circuit else None
    return None


_EndsFound = tuple[
    tuple[Crossing, ...], tuple[Crossing, ...], tuple[str, ...], tuple[str, ...], str, tuple[str, ...]
]
"""Feed, return, fuses, paths, source, and the studs by which the return crosses the structure."""


class _Walker:
    """Finds the loop of each load: back along the feed to its source, and along the return."""

    def __init__(
        self,
        document: Document,
        ways: _Ways,
        feed: dict[str, Hop],
        back: dict[str, Hop],
        limit_v: Callable[[Load | None, float], float],
        book: FindingBook,
        without: frozenset[str] = frozenset(),
    ) -> None:
        self.document = document
        self.ways = ways
        self.net = ways.net
        self.modes = ways.modes
        self.feed = feed
        self.back = back
        self.strap = ways.strap
        self.sources = ways.sources
        self.limit_v = limit_v
        self.book = book
        self.without = without
        self.studs = self.net.studs if self.strap is not None else []

    def instead(self, other: _Other, book: FindingBook) -> _Walker:
        """The same where the harness is fed in another way."""
        return _Walker(self.document, self.ways, other.feed, other.back, self.limit_v, book, other.without)

    def all_loops(self) -> list[Loop]:
        """The loops of every load, and of every regulator's input."""
        found = [self.loop(load_id, load) for load_id, load in self.document.circuits.loads.items()]
        loops = [x for x in found if x is not None]
        return loops + self.conversions(loops)

    def loop(self, load_id: str, load: Load) -> Loop | None:
        """The loop of a stated load, or None with a finding."""
        shares = tuple(load.modes[m].percent / 100 if m in load.modes else 1.0 for m in self.modes)
        ends = self._ends(Place("circuits", "load", load_id), load.device, load.supply_pin, load.return_pin)
        if ends is None:
            return None
        feed, back, fuses, paths, source, studs = ends
        facts = self.sources[source]
        return Loop(
            load_id,
            load.device,
            load.current_a,
            feed,
            back,
            fuses,
            paths,
            source,
            facts.nominal_v,
            facts.least_v,
            facts.most_v,
            load.kind,
            load.rated_v or facts.nominal_v,
            load.duty_percent / 100,
            load.cycle_s,
            shares,
            max(load.peak_a or 0.0, load.current_a),
            self.limit_v(load, facts.nominal_v),
            studs,
        )

    def conversions(self, loops: list[Loop]) -> list[Loop]:
        """The input of every regulator as a load of its own, from what hangs behind it."""
        made: dict[str, Loop] = {}
        for _ in range(len(self.net.converters)):
            added = False
            for out, at in self.net.converters.items():
                behind = [x for x in (*loops, *made.values()) if x.source == out]
                new = self._conversion(out, at, behind, quiet=out in made)
                if new is not None and new != made.get(out):
                    made[out] = new
                    added = True
            if not added:
                break
        return list(made.values())

    def _conversion(self, out: str, at: PathAt, behind: list[Loop], *, quiet: bool) -> Loop | None:
        device_id, path_id, inner = at
        if not behind:
            return None
        facts = self.sources[out]
        ground = facts.return_pin
        if ground is None:
            return None
        place = Place("circuits", "device", device_id)
        book, self.book = self.book, FindingBook(self.book.checks) if quiet else self.book
        ends = self._ends(place, device_id, inner.from_pin, ground)
        self.book = book
        if ends is None:
            return None
        feed, back, fuses, paths, source, studs = ends
        fed = self.sources[source]
        by_mode = [sum(most_current_a(x) * x.shares[m] for x in behind) for m in range(len(self.modes))]
        most = max(by_mode)
        switching = inner.efficiency_percent is not None
        taken = most
        if inner.efficiency_percent is not None:
            taken = most * facts.nominal_v / (inner.efficiency_percent / 100) / fed.nominal_v
        return Loop(
            f"{device_id}~{path_id}",
            device_id,
            taken,
            feed,
            back,
            fuses,
            paths,
            source,
            fed.nominal_v,
            fed.least_v,
            fed.most_v,
            "constant power" if switching else "constant current",
            fed.nominal_v,
            1.0,
            None,
            tuple(a / most if most else 0.0 for a in by_mode),
            taken,
            self.limit_v(None, fed.nominal_v),
            studs,
        )

    def _ends(self, place: Place, device_id: str, supply_pin: str, return_pin: str) -> _EndsFound | None:
        name = named(self.document, device_id)
        supply_ref, return_ref = f"{device_id}.{supply_pin}", f"{device_id}.{return_pin}"
        supply_circuit = self.net.circuit_of.get(supply_ref)
        fed = supply_circuit is not None and supply_circuit in self.feed
        if not fed:
            sinking = self._low_side_in(supply_circuit, device_id)
            if sinking is not None:
                self.book.add("low-side-as-supply", place, output=sinking, load=name)
            else:
                self.book.add("no-feed", place, load=name, pin=supply_ref)
        return_circuit = self.net.circuit_of.get(return_ref)
        if return_circuit is None or (not fed and return_circuit not in self.back):
            self.book.add("no-return", place, load=name, pin=return_ref)
            return None
        if not fed or supply_circuit is None:
            return None
        fuses: list[str] = []
        paths: list[str] = []
        feed: list[Crossing] = []
        pin, circuit = supply_ref, supply_circuit
        while True:
            hop = self.feed[circuit]
            feed.append(Crossing(circuit, hop.pin, pin))
            if hop.across is None or hop.circuit is None:
                break
            inner_device, path_id, inner = hop.across
            paths.append(f"{inner_device}.{path_id}")
            if inner.kind in PROTECTIVE:
                fuses.append(f"{inner_device}.{path_id}")
            pin, circuit = f"{inner_device}.{inner.from_pin}", hop.circuit
        source = hop.pin
        feed.reverse()
        back: list[Crossing] = []
        pin, circuit = return_ref, return_circuit
        returns = self._returns(source)
        if circuit not in returns:
            self.book.add("no-return", place, load=name, pin=return_ref)
            return None
        while True:
            hop = returns[circuit]
            back.append(Crossing(circuit, pin, hop.pin))
            if hop.across is None or hop.circuit is None:
                break
            inner_device, path_id, inner = hop.across
            paths.append(f"{inner_device}.{path_id}")
            pin, circuit = f"{inner_device}.{inner.to_pin}", hop.circuit
        last = back[-1].to_pin
        studs: tuple[str, ...] = ()
        if self.strap is not None and self.document.circuits.devices[last.partition(".")[0]].structure:
            # Through the structure, out at the stud the source is tied to, along its strap.
            studs = (last, self.strap.from_pin)
            back.append(self.strap)
        return (
            tuple(c for c in feed if c.from_pin != c.to_pin),
            tuple(c for c in back if c.from_pin != c.to_pin),
            tuple(reversed(fuses)),
            tuple(paths),
            source,
            studs,
        )

    def _returns(self, source: str) -> dict[str, Hop]:
        """Ways back to what feeds: to its own ground before any other; a converter's only to its own."""
        key = (self.without, source)
        known = self.ways.returns.get(key)
        if known is None:
            ranks = (
                (own_grounds(self.net, source),)
                if source in self.net.converters
                else (*grounds_by_rank(self.document, self.net, source), self.studs)
            )
            known = self.ways.returns[key] = self.net.walk(*ranks, forward=False, without=self.without)
        return known

    def _low_side_in(self, circuit_id: str | None, device_id: str) -> str | None:
        """A low-side output of another device in the circuit, if any."""
        if circuit_id is None:
            return None
        for ref in self.net.circuits[circuit_id].ends:
            other, _, pin = ref.partition(".")
            if other != device_id and self.document.circuits.devices[other].pins[pin].role == "output_low":
                return ref
        return None
