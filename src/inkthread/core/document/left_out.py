"""A harness as it is made: what is only for circuits that are left out is left out with them."""

from __future__ import annotations

from dataclasses import replace

from inkthread.core.document.pin_ref import device_of
from inkthread.core.document.types import Document
from inkthread.core.record import record


@record
class AsMade:
    """The document as it is made, and what of it is left out."""

    document: Document
    devices: frozenset[str]
    connectors: frozenset[str]
    circuits: frozenset[str]


def as_made(document: Document) -> AsMade:
    """The document without the connectors, loads and sources of devices of which every circuit is optional
    and left out. Devices stay, as circuits name their pins. The same object where nothing is left out.
    """
    circuits = document.circuits
    out = frozenset(
        c
        for c, circuit in circuits.circuits.items()
        if circuit.optional and not (circuit.laid and circuits.future_in)
    )
    if not out:
        return AsMade(document, frozenset(), frozenset(), out)
    kept = {
        device_of(ref) for c, circuit in circuits.circuits.items() if c not in out for ref in circuit.ends
    }
    named = {device_of(ref) for c in out for ref in circuits.circuits[c].ends}
    devices = frozenset(named - kept)
    pinout = {r: e for r, e in document.ends.pinout.items() if device_of(r) not in devices}
    used = {e.connector for e in pinout.values()}
    mine = {e.connector for r, e in document.ends.pinout.items() if device_of(r) in devices}
    gone = frozenset(mine - used)
    connectors = {
        k: replace(
            c, meets=None if c.meets in gone else c.meets, same_as=None if c.same_as in gone else c.same_as
        )
        for k, c in document.ends.connectors.items()
        if k not in gone
    }
    without = replace(
        document,
        circuits=replace(
            circuits,
            groups={
                k: replace(g, shield_open=None) if g.shield_open in gone else g
                for k, g in circuits.groups.items()
            },
            loads={k: load for k, load in circuits.loads.items() if load.device not in devices},
            sources={k: source for k, source in circuits.sources.items() if source.device not in devices},
        ),
        ends=replace(document.ends, connectors=connectors, pinout=pinout),
    )
    return AsMade(without, devices, gone, out)
