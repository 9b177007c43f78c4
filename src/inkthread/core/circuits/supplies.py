"""What feeds the circuits, in which order, and what is known of each source."""

from __future__ import annotations

from inkthread.core.circuits.facts import Crossing, SourceFacts
from inkthread.core.circuits.network import Network
from inkthread.core.document.pin_ref import device_of
from inkthread.core.document.types import Document

LEAST_SUPPLY = 0.9
"""The least supply, of the working voltage, where the builder states none (common practice, no source)."""


def source_facts(document: Document, net: Network, modes: tuple[str, ...]) -> dict[str, SourceFacts]:
    """What is known of every source, by its supply pin."""
    brief = document.brief
    stated = {f"{s.device}.{s.supply_pin}": s for s in document.circuits.sources.values()}
    least_v = brief.supply_least_v or brief.supply_working_v * LEAST_SUPPLY
    charges = [
        s.most_v or s.nominal_v or 0.0
        for s in document.circuits.sources.values()
        if s.kind in ("alternator", "charger")
    ]
    most_v = brief.supply_most_v or max([brief.supply_working_v, *charges])
    result: dict[str, SourceFacts] = {}
    for pin in net.sources:
        device_id = device_of(pin)
        spread = {c: fuse for c, (fuse, _) in net.spread(pin).items()}
        pins = document.circuits.devices[device_id].pins
        ground = next((p for p, pin in pins.items() if pin.role == "ground"), None)
        own = stated.get(pin)
        if pin in net.converters:
            inner = net.converters[pin][2]
            out = inner.out_v or brief.supply_working_v
            result[pin] = SourceFacts(
                pin, device_id, ground, "regulator", out, out, out, None, inner.limit_a, inner.limit_a, None,
                (1.0,) * len(modes), spread,
            )  # fmt: skip
        elif own is None:
            result[pin] = SourceFacts(
                pin, device_id, ground, "battery", brief.supply_working_v, least_v, most_v, None, None, None,
                None, (1.0,) * len(modes), spread,
            )  # fmt: skip
        else:
            nominal = own.nominal_v or brief.supply_working_v
            fault = own.fault_a
            if fault is None and own.limit_a is not None:
                fault = own.limit_a
            if fault is None and own.internal_mohm:
                fault = (own.most_v or nominal) / (own.internal_mohm / 1000)
            result[pin] = SourceFacts(
                pin, device_id, own.return_pin, own.kind, nominal,
                own.least_v or min(least_v, nominal),
                max(nominal, own.most_v or (most_v if own.kind == "battery" else nominal)),
                own.internal_mohm / 1000 if own.internal_mohm is not None else None,
                fault, own.limit_a, own.capacity_ah,
                tuple(own.modes[m].percent / 100 if m in own.modes else 1.0 for m in modes),
                spread,
                own.fuse_a,
            )  # fmt: skip
    return result


def batteries_of(document: Document, net: Network) -> list[str]:
    stated = {f"{s.device}.{s.supply_pin}": s.kind for s in document.circuits.sources.values()}
    return [p for p in net.sources if p not in net.converters and stated.get(p, "battery") == "battery"]


def by_rank(document: Document, net: Network, first: str | None = None) -> list[list[str]]:
    """Sources in the order in which they are taken to feed: batteries before what charges them."""
    batteries = batteries_of(document, net)
    charging = set(net.sources) - set(batteries)
    others = [p for p in net.sources if p in charging]
    if first is None:
        return [batteries, others]
    return [[first], [b for b in batteries if b != first], others]


def grounds_by_rank(document: Document, net: Network, first: str | None = None) -> list[list[str]]:
    """Pins that current comes back by, in the order of their sources; those of converters apart."""
    converting = {device_of(p) for p in net.converters}
    ranks: list[list[str]] = []
    for rank in by_rank(document, net, first):
        devices = {device_of(p) for p in rank} - converting
        ranks.append([g for g in net.grounds if device_of(g) in devices])
    return ranks


def sharing_batteries(document: Document, net: Network) -> list[str]:
    """Batteries that can feed a circuit which another can feed too."""
    batteries = batteries_of(document, net)
    reach = {b: net.walk([b], forward=True) for b in batteries} if len(batteries) > 1 else {}
    owners: dict[str, list[str]] = {}
    for battery, circuits in reach.items():
        for circuit in circuits:
            owners.setdefault(circuit, []).append(battery)
    sharing = {b for of_owner in owners.values() if len(of_owner) > 1 for b in of_owner}
    return [b for b in batteries if b in sharing]


def structure_strap(document: Document, net: Network) -> Crossing | None:
    """The circuit that ties a source's ground to the structure, or None where nothing does.

    Where several do, the stud that the structure's resistance is counted from: the one of least.
    """
    tied = {net.circuit_of[g]: g for g in reversed(net.grounds) if g in net.circuit_of}
    devices = document.circuits.devices
    for stud in sorted(net.studs, key=lambda s: devices[device_of(s)].structure_mohm):
        circuit = net.circuit_of.get(stud)
        if circuit in tied:
            return Crossing(circuit, stud, tied[circuit])
    return None
