"""Currents by walking from sources along the paths that devices declare."""

from __future__ import annotations

from collections import deque
from dataclasses import dataclass, field
from typing import Literal

from inkthread.core.brief import BriefResult
from inkthread.core.catalogue import Catalogue, FuseRating
from inkthread.core.document.types import Circuit, Document, InternalPath, Load
from inkthread.core.findings import FindingBook, Place
from inkthread.core.quantity import format_current

Role = Literal["supply", "ground", "output", "data", "signal"]


@dataclass(frozen=True, slots=True)
class Crossing:
    """Current crossing one circuit from one of its pins to another, in its own direction."""

    circuit: str
    from_pin: str
    to_pin: str


@dataclass(frozen=True, slots=True)
class Loop:
    """Feed and return of one load, and the fuses its feed passes."""

    load: str
    current_a: float
    feed: tuple[Crossing, ...]
    back: tuple[Crossing, ...]
    fuses: tuple[str, ...]


@dataclass(slots=True)
class FuseFacts:
    """A fuse: what it feeds, its rating and whether the builder fixed it."""

    key: str
    device: str
    path: str
    name: str
    load_a: float
    rating_a: float
    fixed: bool
    part: FuseRating | None


@dataclass(frozen=True, slots=True)
class CircuitFacts:
    """What a circuit is: its role, the fuse that protects it, the current it carries."""

    role: Role
    fuse: str | None
    carries_a: float


@dataclass(slots=True)
class CircuitsResult:
    """Facts by circuit, loops by load, fuses, and the current put in at each pin."""

    circuits: dict[str, CircuitFacts]
    loops: list[Loop]
    fuses: dict[str, FuseFacts]
    injections: dict[str, dict[str, float]]
    """Per circuit: device pin to net current in A put into the circuit there."""
    circuit_of: dict[str, str] = field(default_factory=dict)


@dataclass(slots=True)
class _Hop:
    """How a circuit is reached: by which of its pins, from which circuit, along which path."""

    pin: str
    circuit: str | None
    across: tuple[str, str, InternalPath] | None


def _role(roles: set[str]) -> Role:
    if "data" in roles:
        return "data"
    if "supply_out" in roles:
        return "supply"
    if "output_high" in roles or "output_low" in roles:
        return "output"
    if "ground" in roles:
        return "ground"
    if "signal" in roles or "dry_contact" in roles:
        return "signal"
    return "supply"


def circuits_room(
    document: Document, catalogue: Catalogue, brief: BriefResult, book: FindingBook
) -> CircuitsResult:
    """Walk from every source along declared paths to every load, and back."""
    devices = document.circuits.devices
    circuits = document.circuits.circuits
    circuit_of = {ref: cid for cid, circuit in circuits.items() for ref in circuit.ends}

    path_ends: set[str] = set()
    paths_from: dict[str, list[tuple[str, str, InternalPath]]] = {}
    paths_to: dict[str, list[tuple[str, str, InternalPath]]] = {}
    for device_id, device in devices.items():
        for path_id, inner in device.paths.items():
            entry = (device_id, path_id, inner)
            path_ends.add(f"{device_id}.{inner.to_pin}")
            paths_from.setdefault(f"{device_id}.{inner.from_pin}", []).append(entry)
            paths_to.setdefault(f"{device_id}.{inner.to_pin}", []).append(entry)

    sources: list[str] = []
    grounds: list[str] = []
    studs: list[str] = []
    roles_of: dict[str, set[str]] = {cid: set() for cid in circuits}
    for device_id, device in devices.items():
        device_sources = []
        # A device that takes a supply makes none: what leaves it must come along a declared path.
        takes_supply = any(p.role == "supply_in" for p in device.pins.values())
        for pin_id, pin in device.pins.items():
            ref = f"{device_id}.{pin_id}"
            owner = circuit_of.get(ref)
            if owner is None:
                book.add(
                    "pin-unconnected",
                    Place("circuits", "device", device_id),
                    pin=f"{device_id}.{pin_id}",
                    name=f"{device.name} {pin.name}".strip(),
                )
            else:
                roles_of[owner].add(pin.role)
            if pin.role == "supply_out" and ref not in path_ends and not takes_supply:
                device_sources.append(ref)
        sources += device_sources
        returns = [f"{device_id}.{p}" for p, pin in device.pins.items() if pin.role == "ground"]
        if device_sources:
            grounds += returns
        elif device.structure:
            studs += returns

    feed = _walk(sources, circuits, circuit_of, paths_from, forward=True)
    strap = _strap(grounds, studs, circuit_of)
    back = _walk(
        [*grounds, *(studs if strap is not None else ())], circuits, circuit_of, paths_to, forward=False
    )
    for sink in (*grounds, *studs):
        shorted = circuit_of.get(sink)
        if shorted is not None and shorted in feed:
            book.add(
                "short-circuit",
                Place("circuits", "circuit", shorted),
                circuit=f"{shorted} {circuits[shorted].name}".strip(),
                source=_source_of(shorted, feed),
                pin=sink,
            )

    injections: dict[str, dict[str, float]] = {cid: {} for cid in circuits}
    loops: list[Loop] = []
    fuse_load: dict[str, float] = {}
    for load_id, load in document.circuits.loads.items():
        if load.current_a == 0:
            book.add("load-not-stated", Place("circuits", "load", load_id), load=_name(document, load.device))
        loop = _loop(load_id, load, document, circuit_of, feed, back, strap, book)
        if loop is None:
            continue
        loops.append(loop)
        for crossing in (*loop.feed, *loop.back):
            at = injections[crossing.circuit]
            at[crossing.from_pin] = at.get(crossing.from_pin, 0.0) + loop.current_a
            at[crossing.to_pin] = at.get(crossing.to_pin, 0.0) - loop.current_a
        for fuse in loop.fuses:
            fuse_load[fuse] = fuse_load.get(fuse, 0.0) + loop.current_a

    fuses = _fuses(document, catalogue, brief, fuse_load, book)
    facts: dict[str, CircuitFacts] = {}
    for circuit_id, circuit in circuits.items():
        put_in = sum(a for a in injections[circuit_id].values() if a > 0)
        facts[circuit_id] = CircuitFacts(
            _role(roles_of[circuit_id]), _protecting_fuse(circuit_id, feed), put_in
        )
        if len(circuit.ends) == 1:
            book.add(
                "circuit-one-end",
                Place("circuits", "circuit", circuit_id),
                circuit=circuit.name or circuit_id,
                pin=next(iter(circuit.ends)),
            )
    return CircuitsResult(facts, loops, fuses, injections, circuit_of)


def _walk(
    starts: list[str],
    circuits: dict[str, Circuit],
    circuit_of: dict[str, str],
    paths_at: dict[str, list[tuple[str, str, InternalPath]]],
    *,
    forward: bool,
) -> dict[str, _Hop]:
    """Breadth first over circuits; forward with the current, or backward from where it ends."""
    reached: dict[str, _Hop] = {}
    queue: deque[str] = deque()
    for ref in starts:
        cid = circuit_of.get(ref)
        if cid is not None and cid not in reached:
            reached[cid] = _Hop(ref, None, None)
            queue.append(cid)
    while queue:
        cid = queue.popleft()
        for ref in circuits[cid].ends:
            for device_id, path_id, inner in paths_at.get(ref, ()):
                other = f"{device_id}.{inner.to_pin if forward else inner.from_pin}"
                next_circuit = circuit_of.get(other)
                if next_circuit is None or next_circuit in reached:
                    continue
                reached[next_circuit] = _Hop(other, cid, (device_id, path_id, inner))
                queue.append(next_circuit)
    return reached


def _strap(grounds: list[str], studs: list[str], circuit_of: dict[str, str]) -> Crossing | None:
    """The circuit that ties a source's ground to the structure, or None where nothing does."""
    tied = {circuit_of[g]: g for g in reversed(grounds) if g in circuit_of}
    for stud in studs:
        circuit = circuit_of.get(stud)
        if circuit in tied:
            return Crossing(circuit, stud, tied[circuit])
    return None


def _source_of(circuit_id: str, feed: dict[str, _Hop]) -> str:
    """The source pin that a fed circuit is reached from."""
    hop = feed[circuit_id]
    while hop.circuit is not None:
        hop = feed[hop.circuit]
    return hop.pin


def _protecting_fuse(circuit_id: str, feed: dict[str, _Hop]) -> str | None:
    hop = feed.get(circuit_id)
    while hop is not None and hop.across is not None:
        device_id, path_id, inner = hop.across
        if inner.kind == "fuse":
            return f"{device_id}.{path_id}"
        hop = feed.get(hop.circuit) if hop.circuit else None
    return None


def _name(document: Document, device_id: str) -> str:
    device = document.circuits.devices[device_id]
    return f"{device_id} {device.name}".strip()


def _loop(
    load_id: str,
    load: Load,
    document: Document,
    circuit_of: dict[str, str],
    feed: dict[str, _Hop],
    back: dict[str, _Hop],
    strap: Crossing | None,
    book: FindingBook,
) -> Loop | None:
    place = Place("circuits", "load", load_id)
    name = _name(document, load.device)
    supply_ref = f"{load.device}.{load.supply_pin}"
    return_ref = f"{load.device}.{load.return_pin}"
    supply_circuit = circuit_of.get(supply_ref)
    if supply_circuit is None or supply_circuit not in feed:
        sinking = _low_side_in(document, supply_circuit, load.device)
        if sinking is not None:
            book.add("low-side-as-supply", place, output=sinking, load=name)
        else:
            book.add("no-feed", place, load=name, pin=supply_ref)
        feed_part: list[Crossing] | None = None
    else:
        feed_part = []
    return_circuit = circuit_of.get(return_ref)
    if return_circuit is None or return_circuit not in back:
        book.add("no-return", place, load=name, pin=return_ref)
        return None
    if feed_part is None or supply_circuit is None:
        return None

    fuses: list[str] = []
    pin = supply_ref
    circuit = supply_circuit
    hop = feed[supply_circuit]
    while True:
        hop = feed[circuit]
        feed_part.append(Crossing(circuit, hop.pin, pin))
        if hop.across is None or hop.circuit is None:
            break
        device_id, path_id, inner = hop.across
        if inner.kind == "fuse":
            fuses.append(f"{device_id}.{path_id}")
        pin = f"{device_id}.{inner.from_pin}"
        circuit = hop.circuit
    source = hop.pin
    back_part: list[Crossing] = []
    pin = return_ref
    circuit = return_circuit
    while True:
        hop = back[circuit]
        back_part.append(Crossing(circuit, pin, hop.pin))
        if hop.across is None or hop.circuit is None:
            break
        device_id, path_id, inner = hop.across
        pin = f"{device_id}.{inner.to_pin}"
        circuit = hop.circuit
    last = back_part[-1].to_pin
    if strap is not None and document.circuits.devices[last.partition(".")[0]].structure:
        # Through the structure, out at the stud the source is tied to, along its strap.
        back_part.append(strap)
    if not fuses and load.current_a > 0:
        book.add("feed-unprotected", place, source=source, load=name)
    feed_part.reverse()
    return Loop(
        load_id,
        load.current_a,
        tuple(c for c in feed_part if c.from_pin != c.to_pin),
        tuple(c for c in back_part if c.from_pin != c.to_pin),
        tuple(reversed(fuses)),
    )


def _low_side_in(document: Document, circuit_id: str | None, device_id: str) -> str | None:
    """A low-side output of another device in the circuit, if any."""
    if circuit_id is None:
        return None
    for ref in document.circuits.circuits[circuit_id].ends:
        other, _, pin = ref.partition(".")
        if other != device_id and document.circuits.devices[other].pins[pin].role == "output_low":
            return ref
    return None


def _fuses(
    document: Document,
    catalogue: Catalogue,
    brief: BriefResult,
    fuse_load: dict[str, float],
    book: FindingBook,
) -> dict[str, FuseFacts]:
    share = brief.value("fuse_load_share_percent") / 100
    result: dict[str, FuseFacts] = {}
    for device_id, device in document.circuits.devices.items():
        for path_id, inner in device.paths.items():
            if inner.kind != "fuse":
                continue
            key = f"{device_id}.{path_id}"
            load_a = fuse_load.get(key, 0.0)
            part: FuseRating | None
            if inner.rating_a is not None:
                rating = inner.rating_a
                part = next((f for f in catalogue.fuses if f.rating_a == rating), None)
            else:
                part = smallest_fuse(load_a, share, catalogue)
                if part is None:
                    part = catalogue.fuses[-1]
                    book.add(
                        "fuse-none-large-enough",
                        Place("circuits", "device", device_id),
                        fuse=_name(document, device_id),
                        need=format_current(load_a / share),
                        rating=format_current(part.rating_a),
                    )
                rating = part.rating_a
            result[key] = FuseFacts(
                key, device_id, path_id, device.name, load_a, rating, inner.rating_a is not None, part
            )
    return result


def smallest_fuse(load_a: float, share: float, catalogue: Catalogue) -> FuseRating | None:
    """The smallest fuse made that carries ``load_a`` within ``share`` of its rating, or None."""
    return next((f for f in catalogue.fuses if f.rating_a * share >= load_a - 1e-9), None)
