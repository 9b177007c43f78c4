"""Whether a kill switch stops what it must."""

from __future__ import annotations

from inkthread.core.circuits.facts import CircuitsResult
from inkthread.core.circuits.network import Network
from inkthread.core.document.types import Document
from inkthread.core.document.values import CONVERTING
from inkthread.core.findings import FindingBook, Place, called, phrase
from inkthread.core.words import some_in_words

KILL = "kill"
"""Kind of device that must leave nothing alive when it opens."""


def find_in_kills(document: Document, net: Network, result: CircuitsResult, book: FindingBook) -> None:
    """With a kill switch open, and every relay that it lets fall, what is still fed."""
    kills = [d for d, device in document.circuits.devices.items() if device.kind == KILL]
    for kill in kills:
        alive = _alive_without(document, net, kill)
        fed = sorted(
            {
                load.device
                for load in document.circuits.loads.values()
                if net.circuit_of.get(f"{load.device}.{load.supply_pin}") in alive
                and document.circuits.devices[load.device].kind not in ("relay", "contactor")
            }
        )
        if not fed:
            continue
        first = net.circuit_of.get(f"{fed[0]}.{_supply_pin(document, fed[0])}")
        by = [s for s in result.sources.values() if first in s.spread and s.kind != "regulator"]
        book.add(
            "kill-leaves-alive",
            Place("circuits", "device", kill),
            *(Place("circuits", "device", d) for d in fed[:6]),
            kill=called("device", kill),
            devices=some_in_words([called("device", d) for d in fed], 5),
            sources=[called("device", s.device) for s in by] if by else phrase("source"),
        )


def _supply_pin(document: Document, device: str) -> str:
    return next(load.supply_pin for load in document.circuits.loads.values() if load.device == device)


def _alive_without(document: Document, net: Network, kill: str) -> set[str]:
    """Circuits still fed with the kill switch open; a relay closes only while its coil is fed."""
    coil = {load.device: f"{load.device}.{load.supply_pin}" for load in document.circuits.loads.values()}
    relays = {d for d, device in document.circuits.devices.items() if device.kind in ("relay", "contactor")}
    alive: set[str] = set()
    queue = [c for p in net.sources if p not in net.converters and (c := net.circuit_of.get(p))]
    waiting: list[tuple[str, str]] = []
    while True:
        while queue:
            cid = queue.pop()
            if cid in alive or "ground" in net.roles[cid]:
                continue
            alive.add(cid)
            for ref in net.circuits[cid].ends:
                onward = [(d, inner.to_pin) for d, _, inner in net.paths_from.get(ref, ())]
                onward += [
                    (d, inner.from_pin)
                    for d, _, inner in net.paths_to.get(ref, ())
                    if inner.kind not in (*CONVERTING, "diode") and not inner.throw
                ]
                for device, pin in onward:
                    other = net.circuit_of.get(f"{device}.{pin}")
                    if other is None or device == kill:
                        continue
                    if device in relays:
                        waiting.append((device, other))
                    else:
                        queue.append(other)
        closing = [
            (d, c) for d, c in waiting if c not in alive and net.circuit_of.get(coil.get(d, "")) in alive
        ]
        if not closing:
            return alive
        queue = [c for _, c in closing]
