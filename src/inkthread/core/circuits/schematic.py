"""The schematic: from source to load and back, one feed a line, laid out from the loops."""

from __future__ import annotations

from collections.abc import Sequence

from inkthread.core.circuits.facts import CircuitsResult, Crossing, Loop
from inkthread.core.document.pin_ref import device_of, pin_of
from inkthread.core.document.types import Document
from inkthread.core.record import record


@record
class SchematicStep:
    """One device along a feed or its return, and the circuit that led to it."""

    device: str
    name: str
    kind: str
    """``source``, ``load``, ``structure``, or the kind of the path its current takes inside."""
    in_pin: str
    """Empty at a source."""
    out_pin: str
    """Empty at the end of a line."""
    rating_a: float | None
    """Of a fuse or breaker."""
    circuit: str
    """Leads here from the step before; empty at the first."""


@record
class FeedLine:
    """One feed: out of its source, to its load, and back."""

    load: str
    label: str
    draws_a: float
    feed: tuple[SchematicStep, ...]
    """From the source to the load, both named."""
    back: tuple[SchematicStep, ...]
    """From after the load to where the return ends."""
    shared: int
    """Steps of ``feed`` that the line above already shows."""
    charging: bool


@record
class SignalLine:
    """A circuit that no load's current crosses: what it joins."""

    circuit: str
    name: str
    role: str
    ends: tuple[str, ...]


@record
class Schematic:
    """All feeds, those of one source together, and all other circuits."""

    feeds: tuple[FeedLine, ...]
    signals: tuple[SignalLine, ...]


def draw_schematic(document: Document, circuits: CircuitsResult) -> Schematic:
    """Lines in the order of their ways, so that feeds that begin alike stand together."""
    loops = [loop for loop in circuits.loops if loop.alternative == 0 and loop.feed]
    order = {pin: n for n, pin in enumerate(circuits.sources)}
    loops.sort(
        key=lambda loop: (order.get(loop.source, len(order)), [(c.from_pin, c.to_pin) for c in loop.feed])
    )
    feeds: list[FeedLine] = []
    above: tuple[SchematicStep, ...] = ()
    for loop in loops:
        steps = _steps(document, circuits, loop, loop.feed, last="charged" if loop.charging else "load")
        shared = 0
        while shared < min(len(steps), len(above)) - 1 and steps[shared] == above[shared]:
            shared += 1
        back = _steps(document, circuits, loop, loop.back, last="source")[1:]
        device = document.circuits.devices[loop.device]
        feeds.append(
            FeedLine(
                loop.load,
                f"{loop.device} {device.name}".strip(),
                round(loop.current_a, 4),
                steps,
                back,
                shared,
                loop.charging,
            )
        )
        above = steps
    crossed = {c.circuit for loop in circuits.loops for c in (*loop.feed, *loop.back)}
    signals = tuple(
        SignalLine(
            circuit_id,
            circuit.name,
            circuits.circuits[circuit_id].role,
            tuple(ref for ref, _ in sorted(circuit.ends.items(), key=lambda kv: kv[1].order)),
        )
        for circuit_id, circuit in sorted(document.circuits.circuits.items(), key=lambda kv: kv[1].order)
        if circuit_id not in crossed
    )
    return Schematic(tuple(feeds), signals)


def _steps(
    document: Document, circuits: CircuitsResult, loop: Loop, crossings: Sequence[Crossing], *, last: str
) -> tuple[SchematicStep, ...]:
    """The devices along a way: the one it leaves, those it passes, the one it reaches."""
    if not crossings:
        return ()
    devices = document.circuits.devices

    def step(circuit: str, in_ref: str, out_ref: str, kind: str) -> SchematicStep:
        device = device_of(in_ref or out_ref)
        rating = None
        if in_ref and out_ref:
            kind, rating = _inside(document, circuits, device, in_ref, out_ref)
        return SchematicStep(
            device,
            devices[device].name,
            "structure" if devices[device].structure else kind,
            pin_of(in_ref),
            pin_of(out_ref),
            rating,
            circuit,
        )

    steps = [step("", "", crossings[0].from_pin, "source")]
    for n, crossing in enumerate(crossings):
        if n + 1 < len(crossings):
            steps.append(step(crossing.circuit, crossing.to_pin, crossings[n + 1].from_pin, "link"))
        else:
            steps.append(step(crossing.circuit, crossing.to_pin, "", last))
    return tuple(steps)


def _inside(
    document: Document, circuits: CircuitsResult, device: str, in_ref: str, out_ref: str
) -> tuple[str, float | None]:
    """Kind of the path between two pins of a device, and the rating where it protects."""
    ends = {pin_of(in_ref), pin_of(out_ref)}
    for path_id, path in document.circuits.devices[device].paths.items():
        if {path.from_pin, path.to_pin} == ends:
            fuse = circuits.fuses.get(f"{device}.{path_id}")
            return path.kind, fuse.rating_a if fuse else None
    return "link", None
