"""Data buses as they lie: length, stubs, nodes and terminators; and lines that nobody has called a bus."""

from __future__ import annotations

from inkthread.core.catalogue import BusStandard, Catalogue
from inkthread.core.circuits import CircuitsResult
from inkthread.core.document.pin_ref import device_of
from inkthread.core.document.types import Document
from inkthread.core.findings import FindingBook, Phrase, Place, called, phrase
from inkthread.core.measures import format_length
from inkthread.core.record import record
from inkthread.core.route.sections import CircuitTree, Section
from inkthread.core.words import list_in_words


@record
class BusRun:
    """A data bus as it lies: end to end, its stubs by device, and what is wrong with it."""

    bus: str
    standard: str
    length_m: float
    limit_m: float
    stubs_m: dict[str, float]
    stub_limit_m: float
    ends: tuple[str, ...]
    """Devices at its two physical ends."""
    order: tuple[str, ...]
    """Its devices in order along it."""
    reasons: tuple[str, ...]


def bus_runs(
    document: Document,
    catalogue: Catalogue,
    sections: dict[str, Section],
    trees: dict[str, CircuitTree],
    book: FindingBook,
) -> dict[str, BusRun]:
    """Length, stubs and terminators of every bus, each by the worst of its circuits."""
    by_bus: dict[str, BusRun] = {}
    for bus_id, bus in document.circuits.buses.items():
        standard = catalogue.buses[bus.standard]
        runs = [
            (_run_of(sections, trees[c]), c) for c in bus.circuits if c in trees and len(trees[c].order) > 1
        ]
        if not runs:
            continue
        (length, stubs, order), _ = max(runs, key=lambda r: (r[0][0], max(r[0][1].values(), default=0)))
        ends = (order[0], order[-1])
        reasons = _judge_bus(document, standard, length, stubs, order, set(bus.terminators), ends)
        by_bus[bus_id] = BusRun(
            bus_id,
            bus.standard,
            round(length / 1000, 4),
            standard.length_m,
            {d: round(s / 1000, 4) for d, s in stubs.items()},
            standard.stub_m,
            ends,
            tuple(order),
            tuple(book.worded(code, reason) for code, reason in reasons),
        )
        for code, reason in reasons:
            book.add(
                code,
                Place("circuits", "bus", bus_id),
                bus=bus.name or bus_id,
                standard=standard.label,
                what=reason,
            )
    return by_bus


def _run_of(sections: dict[str, Section], tree: CircuitTree) -> tuple[float, dict[str, float], list[str]]:
    """Longest way between two pins of a circuit; how far each other pin stands off it, by device."""
    long = {key: sections[key].length_mm + sections[key].slack_mm for _, key in tree.parent.values()}
    pins = [n for n in tree.order if "." in n and "@" not in n]

    def distance_mm(a: str, b: str) -> float:
        return sum(long[k] for k, _ in tree.between(a, b))

    start = max(pins, key=lambda p: distance_mm(tree.order[0], p))
    end = max(pins, key=lambda p: distance_mm(start, p))
    length_mm = distance_mm(start, end)
    stubs: dict[str, float] = {}
    station: list[tuple[float, str]] = []
    for pin in pins:
        off = (distance_mm(start, pin) + distance_mm(pin, end) - length_mm) / 2
        device = device_of(pin)
        station.append((distance_mm(start, pin) - off, device))
        if pin not in (start, end):
            stubs[device] = max(off, 0.0)
    return length_mm, stubs, list(dict.fromkeys(d for _, d in sorted(station)))


def _judge_bus(
    document: Document,
    standard: BusStandard,
    length_mm: float,
    stubs_mm: dict[str, float],
    order: list[str],
    terminators: set[str],
    ends: tuple[str, str],
) -> list[tuple[str, Phrase]]:
    units = document.brief.measures
    reasons: list[tuple[str, Phrase]] = []
    if length_mm > standard.length_m * 1000:
        long = phrase("long", length=f"{length_mm / 1000:.1f} m", limit=f"{standard.length_m:g} m")
        reasons.append(("bus-over-budget", long))
    for device, stub in stubs_mm.items():
        if stub > standard.stub_m * 1000:
            limit = format_length(standard.stub_m * 1000, units)
            too_long = phrase("stub", device=device, stub=format_length(stub, units), limit=limit)
            reasons.append(("bus-over-budget", too_long))
    if len(order) > standard.nodes:
        nodes = phrase("nodes", count=str(len(order)), limit=str(standard.nodes))
        reasons.append(("bus-over-budget", nodes))
    if standard.termination_ohm is not None and terminators != set(ends):
        has = list_in_words(sorted(terminators)) if terminators else ""
        where = phrase("where" if has else "none", ends=list_in_words(list(ends)), has=has)
        reasons.append(("bus-terminators", where))
    return reasons


ASKED_FROM_MM = 1000.0
"""Data lines longer than this are asked whether they are a bus (common practice)."""


def find_undeclared_buses(
    document: Document, circuits: CircuitsResult, sections: dict[str, Section], book: FindingBook
) -> None:
    """Long data lines of no bus and in no pair: nobody has said how long they may be, nor how they lie."""
    c = document.circuits
    declared = {circuit for bus in c.buses.values() for circuit in bus.circuits}
    paired = {m for g in c.groups.values() if g.kind != "cable" for m in g.members}
    long_mm: dict[str, float] = {}
    for s in sections.values():
        if circuits.circuits[s.circuit].role == "data" and s.circuit not in declared | paired:
            long_mm[s.circuit] = long_mm.get(s.circuit, 0.0) + s.length_mm + s.slack_mm
    asked = {k: mm for k, mm in long_mm.items() if mm > ASKED_FROM_MM}
    between: dict[tuple[str, ...], list[str]] = {}
    for circuit_id in asked:
        devices = sorted({device_of(r) for r in c.circuits[circuit_id].ends})
        between.setdefault(tuple(devices), []).append(circuit_id)
    for ends, circuits_between in between.items():
        book.add(
            "bus-not-declared",
            *(Place("circuits", "circuit", circuit_id) for circuit_id in circuits_between),
            circuits=list_in_words([called("circuit", circuit_id) for circuit_id in circuits_between]),
            devices=list_in_words(list(ends)[:6]),
            length=format_length(
                max(asked[circuit_id] for circuit_id in circuits_between), document.brief.measures
            ),
        )
