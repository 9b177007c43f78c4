"""Current from what charges to what is charged: alternator, charger and panel into the battery."""

from __future__ import annotations

from inkthread.core.circuits.facts import Crossing, Loop, SourceFacts
from inkthread.core.circuits.network import Network
from inkthread.core.document.pin_ref import device_of, pin_of
from inkthread.core.document.types import Document
from inkthread.core.document.values import PROTECTIVE


def charging_loops(document: Document, net: Network, sources: dict[str, SourceFacts]) -> list[Loop]:
    """A loop for every limited source that reaches a battery: its wires must carry all it gives.

    Loads are reckoned as fed by the battery; with this current on top, each wire carries what it
    does when both run.
    """
    loops: list[Loop] = []
    for source in sources.values():
        if source.kind in ("battery", "regulator") or not source.limit_a or source.return_pin is None:
            continue
        reached = net.spread(source.pin)
        battery = next(
            (
                s
                for s in sources.values()
                if s.kind == "battery" and net.circuit_of.get(s.pin) in reached and s.return_pin is not None
            ),
            None,
        )
        if battery is None:
            continue
        feed: list[Crossing] = []
        paths: list[str] = []
        pin = battery.pin
        circuit = net.circuit_of[battery.pin]
        while True:
            how = reached[circuit][1]
            if how is None:
                feed.append(Crossing(circuit, source.pin, pin))
                break
            before, out_of, into, path = how
            feed.append(Crossing(circuit, into, pin))
            paths.append(path)
            pin, circuit = out_of, before
        feed.reverse()
        back = _back(net, f"{battery.device}.{battery.return_pin}", f"{source.device}.{source.return_pin}")
        inner = [(p, document.circuits.devices[device_of(p)].paths[pin_of(p)]) for p in paths]
        loops.append(
            Loop(
                f"{source.device}~charge",
                source.device,
                source.limit_a,
                tuple(c for c in feed if c.from_pin != c.to_pin),
                tuple(c for c in back if c.from_pin != c.to_pin),
                tuple(p for p, path in inner if path.kind in PROTECTIVE),
                tuple(paths),
                source.pin,
                source.nominal_v,
                source.nominal_v,
                source.nominal_v,
                "constant current",
                source.nominal_v,
                1.0,
                None,
                source.mode_fraction,
                source.limit_a,
                charging=True,
            )
        )
    return loops


def _back(net: Network, start: str, end: str) -> list[Crossing]:
    """From one ground to another, through circuits and links; nothing where they do not meet."""
    first, last = net.circuit_of.get(start), net.circuit_of.get(end)
    if first is None or last is None:
        return []
    came: dict[str, tuple[str, str, str] | None] = {first: None}
    queue = [first]
    while queue and last not in came:
        cid = queue.pop(0)
        for ref in net.circuits[cid].ends:
            onward = [(d, path.to_pin) for d, _, path in net.paths_from.get(ref, ())]
            onward += [(d, path.from_pin) for d, _, path in net.paths_to.get(ref, ())]
            for device, pin in onward:
                other = net.circuit_of.get(f"{device}.{pin}")
                if other is not None and other not in came:
                    came[other] = (cid, ref, f"{device}.{pin}")
                    queue.append(other)
    if last not in came:
        return []
    crossings: list[Crossing] = []
    pin, circuit = end, last
    while True:
        how = came[circuit]
        if how is None:
            crossings.append(Crossing(circuit, start, pin))
            return crossings[::-1]
        before, out_of, into = how
        crossings.append(Crossing(circuit, into, pin))
        pin, circuit = out_of, before
