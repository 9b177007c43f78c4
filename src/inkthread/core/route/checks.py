"""What is wrong along the route: measures, openings, splices, buses, neighbours that disturb."""

from __future__ import annotations

from dataclasses import dataclass

from inkthread.core.brief import BriefResult
from inkthread.core.catalogue import BusStandard, Catalogue
from inkthread.core.circuits import CircuitsResult
from inkthread.core.document.types import Branch, Document
from inkthread.core.document.values import MeasuredHow
from inkthread.core.findings import FindingBook, Place
from inkthread.core.quantity import format_length
from inkthread.core.route.flow import Flow
from inkthread.core.route.sections import CircuitTree, Section, Splice
from inkthread.core.route.tree import RouteTree
from inkthread.core.words import list_in_words


def find_on_route(
    document: Document,
    catalogue: Catalogue,
    brief: BriefResult,
    circuits: CircuitsResult,
    sections: dict[str, Section],
    splices: dict[str, Splice],
    flow: Flow,
    tree: RouteTree,
    zones: dict[str, tuple[str, ...]],
    crowded: list[str],
    book: FindingBook,
) -> None:
    """All checks that need the route and what is threaded along it."""
    _branches(document, brief.value("slack_per_branch_mm"), book)
    _openings(document, catalogue, tree, book)
    for splice_id in crowded:
        splice = splices[splice_id]
        book.add(
            "splice-crowded",
            Place("route", "splice", splice_id),
            splice=f"The splice of {splice.circuit} at {splice.point}",
            room=format_length(brief.value("splice_cover_mm"), document.brief.units),
        )
    if document.brief.practice == "aviation":
        for s in sections.values():
            if s.a.kind == s.b.kind == "splice":
                book.add(
                    "splices-in-run",
                    Place("circuits", "circuit", s.circuit),
                    circuit=f"{s.circuit} {document.circuits.circuits[s.circuit].name}".strip(),
                )
    _neighbours(document, circuits, sections, zones, book)
    _instruments(document, circuits, sections, flow, zones, book)


UNSURE_SHARE: dict[MeasuredHow, float] = {
    "laid in place": 0.002, "old part": 0.005, "tape": 0.005, "model": 0.02, "guess": 0.1,
}  # fmt: skip
"""Of a length, what it may be off by where nothing else is stated; common practice, no source."""
LEAST_UNSURE_MM = 2.0


def unsure_mm(branch: Branch) -> float:
    """What a branch's length may be off by, either way, in mm: as stated, else by how it was measured."""
    if branch.uncertainty_mm is not None:
        return branch.uncertainty_mm
    return max(branch.length_mm * UNSURE_SHARE[branch.measured], LEAST_UNSURE_MM)


def _kept_beside(document: Document, branch_id: str) -> bool:
    """Whether a branch only goes on from another, past a point between the two, that keeps slack."""
    branches = document.route.branches
    b = branches[branch_id]
    held = {c.point for c in document.ends.connectors.values()}
    for point in (b.from_point, b.to_point):
        if point in held:
            continue
        here = [x for x in branches.values() if point in (x.from_point, x.to_point)]
        if len(here) == 2 and any(x is not b and x.slack_mm != 0 for x in here):
            return True
    return False


def _branches(document: Document, rule_mm: float, book: FindingBook) -> None:
    units = document.brief.units
    for branch_id, b in document.route.branches.items():
        place = Place("route", "branch", branch_id)
        name = f"{b.from_point} to {b.to_point}"
        if b.rerouted_on and b.rerouted_on > b.measured_on:
            book.add(
                "rerouted-since",
                place,
                branch=name,
                rerouted=b.rerouted_on,
                measured=b.measured_on or "no day given",
            )
        if b.length_mm == 0:
            book.add("branch-no-length", place, branch=name)
        for stretch in b.stretches.values():
            if stretch.from_mm >= stretch.to_mm or stretch.to_mm > b.length_mm + 0.5:
                book.add(
                    "stretch-off-branch",
                    place,
                    branch=name,
                    zone=document.brief.zones[stretch.zone].name,
                    start=format_length(stretch.from_mm, units),
                    end=format_length(stretch.to_mm, units),
                    length=format_length(b.length_mm, units),
                )
        if b.slack_mm == 0:
            if not _kept_beside(document, branch_id):
                book.add("branch-no-slack", place, branch=name)
            continue
        points = (document.route.points[p].slack_mm or 0.0 for p in (b.from_point, b.to_point))
        slack = (rule_mm if b.slack_mm is None else b.slack_mm) + sum(points)
        if unsure_mm(b) > slack and b.length_mm > 0:
            book.add(
                "measure-unsure",
                place,
                branch=name,
                unsure=format_length(unsure_mm(b), units),
                how=b.measured if b.uncertainty_mm is None else "as stated",
                slack=format_length(slack, units),
            )


def _openings(document: Document, catalogue: Catalogue, tree: RouteTree, book: FindingBook) -> None:
    """A connector on the shorter side of an opening must pass it, where it goes through terminated."""
    units = document.brief.units
    for point_id, point in document.route.points.items():
        if point.opening_mm is None or not point.after_terminating:
            continue
        sides = _sides(tree, point_id)
        held: list[list[str]] = [
            [k for k, c in document.ends.connectors.items() if c.point in side] for side in sides
        ]
        if len(held) > 1:
            held.remove(max(held, key=len))
        for connector_id in (k for side in held for k in side):
            connector = document.ends.connectors[connector_id]
            housing = catalogue.connectors[connector.family].housing(connector.ways)
            if housing is None:
                continue
            across = housing.passes_mm
            if across > point.opening_mm:
                book.add(
                    "connector-cannot-pass",
                    Place("route", "point", point_id),
                    Place("ends", "connector", connector_id),
                    connector=f"{connector_id} ({connector.family})",
                    across=format_length(across, units),
                    point=point.name or point_id,
                    opening=format_length(point.opening_mm, units),
                )


def _sides(tree: RouteTree, point: str) -> list[set[str]]:
    """The points beyond each branch of a point."""
    sides: list[set[str]] = []
    for _, first in tree.near.get(point, []):
        side = {first}
        stack = [first]
        while stack:
            for _, other in tree.near[stack.pop()]:
                if other != point and other not in side:
                    side.add(other)
                    stack.append(other)
        sides.append(side)
    return sides


def _neighbours(
    document: Document,
    circuits: CircuitsResult,
    sections: dict[str, Section],
    zones: dict[str, tuple[str, ...]],
    book: FindingBook,
) -> None:
    """Ignition leads side by side, and beside signals; signals in noisy zones; loops by instruments."""
    known = document.brief.zones
    here: dict[str, dict[str, set[str]]] = {}
    for s in sections.values():
        role = circuits.circuits[s.circuit].role
        for b in s.branches:
            here.setdefault(b, {}).setdefault(role, set()).add(s.circuit)
    shielded = {
        c for g in document.circuits.groups.values() if g.shield or "shielded" in g.kind for c in g.members
    }
    together: dict[str, list[str]] = {}
    beside: dict[tuple[str, ...], list[str]] = {}
    noisy: dict[str, set[str]] = {}
    for branch_id, roles in here.items():
        branch = document.route.branches[branch_id]
        name = f"{branch.from_point} to {branch.to_point}"
        ignition = roles.get("ignition", set())
        quiet = (
            roles.get("signal", set()) | roles.get("data", set()) | roles.get("sensor_return", set())
        ) - shielded
        if len(ignition) > 1 and not branch.separators:
            together.setdefault(list_in_words(sorted(ignition)), []).append(name)
        if ignition and quiet:
            beside.setdefault(tuple(sorted(quiet)), []).append(name)
        for zone in zones[branch_id]:
            if known[zone].noisy and quiet:
                noisy.setdefault(zone, set()).update(quiet)
    for circuits_here, branches in together.items():
        book.add("ignition-together", *_circuit_places(circuits_here.replace(" and ", ", ").split(", ")),
                 circuits=circuits_here, branches=list_in_words(branches[:4]))  # fmt: skip
    for quiet_here, branches in beside.items():
        book.add("signal-beside-ignition", *_circuit_places(list(quiet_here)),
                 circuits=list_in_words(list(quiet_here)[:6]),
                 branches=list_in_words(branches[:4]))  # fmt: skip
    for zone, quiet in noisy.items():
        book.add("signal-in-noise", *_circuit_places(sorted(quiet)),
                 circuits=list_in_words(sorted(quiet)[:6]), zone=known[zone].name)  # fmt: skip


def _circuit_places(circuits: list[str]) -> list[Place]:
    return [Place("circuits", "circuit", c) for c in circuits[:8]]


def _instruments(
    document: Document,
    circuits: CircuitsResult,
    sections: dict[str, Section],
    flow: Flow,
    zones: dict[str, tuple[str, ...]],
    book: FindingBook,
) -> None:
    """Feed without its return beside it, near an instrument: the loop's field reaches the compass."""
    known = document.brief.zones
    near = {b for b, held in zones.items() if any(known[z].sensitive for z in held)}
    if not near:
        return
    passed = [near.intersection(s.branches) for s in sections.values()]
    circuit_of = [s.circuit for s in sections.values()]
    ways: dict[int, tuple[set[str], set[str]]] = {}
    for n, i in zip(flow.loop.tolist(), flow.row.tolist(), strict=True):
        if i < flow.sections and passed[i]:
            feed, back = ways.setdefault(n, (set(), set()))
            returning = circuit_of[i] in {c.circuit for c in circuits.loops[n].back}
            (back if returning else feed).update(passed[i])
    apart: dict[str, set[str]] = {}
    for n, (feed, back) in ways.items():
        for b in feed ^ back:
            apart.setdefault(b, set()).add(circuits.loops[n].device)
    for branch_id, devices in apart.items():
        branch = document.route.branches[branch_id]
        zone = next(z for z in zones[branch_id] if known[z].sensitive)
        book.add(
            "loop-near-instrument",
            Place("route", "branch", branch_id),
            devices=list_in_words(sorted(devices)[:6]),
            branch=f"{branch.from_point} to {branch.to_point}",
            zone=known[zone].name,
        )


@dataclass(frozen=True, slots=True)
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
    found: dict[str, BusRun] = {}
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
        found[bus_id] = BusRun(
            bus_id,
            bus.standard,
            round(length / 1000, 4),
            standard.length_m,
            {d: round(s / 1000, 4) for d, s in stubs.items()},
            standard.stub_m,
            ends,
            tuple(order),
            tuple(text for _, text in reasons),
        )
        for code, text in reasons:
            book.add(
                code,
                Place("circuits", "bus", bus_id),
                bus=bus.name or bus_id,
                standard=standard.label,
                what=text,
            )
    return found


def _run_of(sections: dict[str, Section], tree: CircuitTree) -> tuple[float, dict[str, float], list[str]]:
    """Longest way between two pins of a circuit; how far each other pin stands off it, by device."""
    long = {key: sections[key].length_mm + sections[key].slack_mm for _, key in tree.parent.values()}
    pins = [n for n in tree.order if "." in n and "@" not in n]

    def way(a: str, b: str) -> float:
        return sum(long[k] for k, _ in tree.between(a, b))

    start = max(pins, key=lambda p: way(tree.order[0], p))
    end = max(pins, key=lambda p: way(start, p))
    length = way(start, end)
    stubs: dict[str, float] = {}
    station: list[tuple[float, str]] = []
    for pin in pins:
        off = (way(start, pin) + way(pin, end) - length) / 2
        device = pin.partition(".")[0]
        station.append((way(start, pin) - off, device))
        if pin not in (start, end):
            stubs[device] = max(off, 0.0)
    return length, stubs, list(dict.fromkeys(d for _, d in sorted(station)))


def _judge_bus(
    document: Document,
    standard: BusStandard,
    length_mm: float,
    stubs_mm: dict[str, float],
    order: list[str],
    terminators: set[str],
    ends: tuple[str, str],
) -> list[tuple[str, str]]:
    units = document.brief.units
    reasons: list[tuple[str, str]] = []
    if length_mm > standard.length_m * 1000:
        reasons.append(
            ("bus-over-budget", f"it is {length_mm / 1000:.1f} m long, and may be {standard.length_m:g} m")
        )
    for device, stub in stubs_mm.items():
        if stub > standard.stub_m * 1000:
            limit = format_length(standard.stub_m * 1000, units)
            reasons.append(
                (
                    "bus-over-budget",
                    f"the stub to {device} is {format_length(stub, units)}, and may be {limit}",
                )
            )
    if len(order) > standard.nodes:
        reasons.append(("bus-over-budget", f"it has {len(order)} nodes, and may have {standard.nodes}"))
    if standard.termination_ohm is not None and terminators != set(ends):
        have = list_in_words(sorted(terminators)) if terminators else "none"
        reasons.append(
            (
                "bus-terminators",
                f"its ends are at {list_in_words(list(ends))}, its terminators: {have}",
            )
        )
    return reasons
