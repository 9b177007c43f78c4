"""The devices' pins as a network: circuits joined by the paths that devices declare."""

from __future__ import annotations

from collections import deque
from dataclasses import dataclass, field

from inkthread.core.document.types import Circuit, Device, Document, InternalPath
from inkthread.core.document.values import CONVERTING, PROTECTIVE
from inkthread.core.findings import FindingBook, Place, called
from inkthread.core.record import altered

PathAt = tuple[str, str, InternalPath]
"""Device, path id, path."""


@dataclass(slots=True)
class Hop:
    """How a circuit is reached: by which of its pins, from which circuit, along which path."""

    pin: str
    circuit: str | None
    across: PathAt | None


@dataclass(slots=True)
class Network:
    """Circuits by pin, paths by the pins they leave and reach, and where current begins and ends."""

    circuits: dict[str, Circuit]
    circuit_of: dict[str, str]
    paths_from: dict[str, list[PathAt]] = field(default_factory=dict)
    paths_to: dict[str, list[PathAt]] = field(default_factory=dict)
    sources: list[str] = field(default_factory=list)
    """Pins that current leaves a source by."""
    grounds: list[str] = field(default_factory=list)
    """Pins that current comes back to a source by."""
    studs: list[str] = field(default_factory=list)
    """Pins into the machine's structure."""
    roles: dict[str, set[str]] = field(default_factory=dict)
    converters: dict[str, PathAt] = field(default_factory=dict)
    """Out pin of a regulator or supply to its path."""

    def walk(self, *ranks: list[str], forward: bool, without: frozenset[str] = frozenset()) -> dict[str, Hop]:
        """Breadth first over circuits; with the current, or backward from where it ends.

        What the starts of one rank reach is theirs; the next rank goes on from there. Conversion
        stops the walk: what leaves a regulator begins there. So do the paths named in ``without``.
        """
        reached: dict[str, Hop] = {}
        for starts in ranks:
            self._walk(starts, reached, without, forward=forward)
        return reached

    def _walk(
        self, starts: list[str], reached: dict[str, Hop], without: frozenset[str], *, forward: bool
    ) -> None:
        queue: deque[str] = deque()
        for ref in starts:
            cid = self.circuit_of.get(ref)
            if cid is not None and cid not in reached:
                reached[cid] = Hop(ref, None, None)
                queue.append(cid)
        paths_at = self.paths_from if forward else self.paths_to
        while queue:
            cid = queue.popleft()
            for ref in self.circuits[cid].ends:
                for device_id, path_id, inner in paths_at.get(ref, ()):
                    if inner.kind in CONVERTING or f"{device_id}.{path_id}" in without:
                        continue
                    other = f"{device_id}.{inner.to_pin if forward else inner.from_pin}"
                    next_circuit = self.circuit_of.get(other)
                    if next_circuit is None or next_circuit in reached:
                        continue
                    reached[next_circuit] = Hop(other, cid, (device_id, path_id, inner))
                    queue.append(next_circuit)

    def spread(self, start: str) -> dict[str, tuple[str | None, tuple[str, str, str, str] | None]]:
        """Every circuit that one source can drive, either way along what conducts both ways.

        To each: the nearest protection on the way (device.path, or None), and how it was reached:
        from which circuit, out of it by which pin, into it by which, along which path. Grounds end
        the walk; so does the far side of a changeover.
        """
        first = self.circuit_of.get(start)
        if first is None:
            return {}
        reached: dict[str, tuple[str | None, tuple[str, str, str, str] | None]] = {first: (None, None)}
        queue: deque[str] = deque([first])
        while queue:
            cid = queue.popleft()
            if "ground" in self.roles[cid]:
                continue
            fuse = reached[cid][0]
            for ref in self.circuits[cid].ends:
                onward = [(p, p[2].to_pin) for p in self.paths_from.get(ref, ())]
                onward += [
                    (p, p[2].from_pin)
                    for p in self.paths_to.get(ref, ())
                    if p[2].kind != "diode" and not p[2].throw
                ]
                for (device_id, path_id, inner), pin in onward:
                    other = self.circuit_of.get(f"{device_id}.{pin}")
                    if inner.kind in CONVERTING or other is None or other in reached:
                        continue
                    passed = f"{device_id}.{path_id}" if inner.kind in PROTECTIVE else fuse
                    key = f"{device_id}.{path_id}"
                    reached[other] = (passed, (cid, ref, f"{device_id}.{pin}", key))
                    queue.append(other)
        return reached


def conducts_either_way(device: Device, inner: InternalPath) -> bool:
    """Whether a path only passes on what comes: a way of a connector, a bus bar. Its pins have no role."""
    pins = device.pins
    passing = (pins[p].role == "signal" for p in (inner.from_pin, inner.to_pin) if p in pins)
    return inner.kind == "link" and all(passing)


def build_network(document: Document, book: FindingBook) -> Network:
    """Circuits, paths, sources and grounds of a document. Pins in no circuit are findings."""
    circuits = {
        cid: c
        for cid, c in document.circuits.circuits.items()
        if not c.optional or (c.laid and document.circuits.future_in)
    }
    net = Network(circuits, {ref: cid for cid, circuit in circuits.items() for ref in circuit.ends})
    net.roles = {cid: set() for cid in circuits}
    left_out = {ref for cid, c in document.circuits.circuits.items() if cid not in circuits for ref in c.ends}
    path_ends: set[str] = set()
    devices = document.circuits.devices
    named = {f"{s.device}.{s.supply_pin}" for s in document.circuits.sources.values()}
    for device_id, device in devices.items():
        for path_id, inner in device.paths.items():
            entry = (device_id, path_id, inner)
            out = f"{device_id}.{inner.to_pin}"
            if inner.kind in CONVERTING:
                net.converters[out] = entry
            path_ends.add(out)
            net.paths_from.setdefault(f"{device_id}.{inner.from_pin}", []).append(entry)
            net.paths_to.setdefault(out, []).append(entry)
            if conducts_either_way(device, inner):
                back = altered(inner, from_pin=inner.to_pin, to_pin=inner.from_pin)
                net.paths_from.setdefault(out, []).append((device_id, path_id, back))
                entered = f"{device_id}.{inner.from_pin}"
                net.paths_to.setdefault(entered, []).append((device_id, path_id, back))
    for device_id, device in devices.items():
        own: list[str] = []
        # A device that takes a supply makes none: what leaves it must come along a declared path.
        takes_supply = any(p.role == "supply_in" for p in device.pins.values())
        for pin_id, pin in device.pins.items():
            ref = f"{device_id}.{pin_id}"
            owner = net.circuit_of.get(ref)
            if owner is not None:
                net.roles[owner].add(pin.role)
            elif ref not in left_out:
                book.add(
                    "pin-unconnected",
                    Place("circuits", "device", device_id),
                    pin=ref,
                    name=called("pin", ref),
                )
            bare = pin.role == "supply_out" and ref not in path_ends and not takes_supply
            if bare or ref in named or ref in net.converters:
                own.append(ref)
        net.sources += own
        returns = [f"{device_id}.{p}" for p, pin in device.pins.items() if pin.role == "ground"]
        if own:
            net.grounds += returns
        elif device.structure:
            net.studs += returns
    return net
