"""What is wrong along the route: measures, openings, splices, buses, neighbours that disturb."""

from __future__ import annotations

from collections.abc import Mapping
from itertools import chain

from inkthread.core.brief import BriefResult
from inkthread.core.catalogue import Catalogue, ConnectorFamily
from inkthread.core.circuits import CircuitsResult, Role
from inkthread.core.context import Context
from inkthread.core.document.choices import Connector
from inkthread.core.document.pin_ref import device_of, pin_of
from inkthread.core.document.problems import pointer
from inkthread.core.document.types import Branch, DevicePin, Document
from inkthread.core.document.values import MeasuredHow
from inkthread.core.findings import FindingBook, Place, called, phrase
from inkthread.core.measures import format_length
from inkthread.core.route.flow import Flow
from inkthread.core.route.sections import Section, Splice
from inkthread.core.route.threaded import Threaded
from inkthread.core.route.tree import RouteTree
from inkthread.core.words import list_in_words, some_in_words


def find_on_route(
    context: Context,
    circuits: CircuitsResult,
    sections: dict[str, Section],
    threaded: Threaded,
    flow: Flow,
    book: FindingBook,
) -> None:
    """All checks that need the route and what is threaded along it."""
    document, catalogue, brief = context.document, context.catalogue, context.brief
    splices, zones = threaded.splices, threaded.zones
    _branches(document, threaded.tree, brief.value("slack_per_branch_mm"), book)
    _openings(document, catalogue, threaded.tree, book)
    for splice_id in threaded.crowded:
        splice = splices[splice_id]
        book.add(
            "splice-crowded",
            Place("route", "splice", splice_id),
            circuit=splice.circuit,
            point=splice.point,
            room=format_length(brief.value("splice_cover_mm"), document.brief.measures),
        )
    if document.brief.practice == "aviation":
        for s in sections.values():
            if s.a.kind == s.b.kind == "splice":
                book.add(
                    "splices-in-run",
                    Place("circuits", "circuit", s.circuit),
                    circuit=called("circuit", s.circuit),
                )
    if brief.value("returns") < 1:
        _returns(document, circuits, splices, book)
    near = context.only("route", "circuits.groups")
    book.once(context.memo, _neighbours, near.document, brief, circuits.role_of, threaded)
    _disturbed(document, catalogue, zones, book)
    _instruments(document, circuits, sections, flow, zones, book)


UNSURE_SHARE: dict[MeasuredHow, float] = {
    "laid in place": 0.002, "old part": 0.005, "tape": 0.005, "model": 0.02, "guess": 0.1,
}  # fmt: skip
"""Of a length, what it may be off by where nothing else is stated; common practice, no source."""
LEAST_UNSURE_MM = 2.0
"""No tape is read better (common practice, no source)."""


def unsure_mm(branch: Branch) -> float:
    """What a branch's length may be off by, either way, in mm: as stated, else by how it was measured."""
    if branch.uncertainty_mm is not None:
        return branch.uncertainty_mm
    return max(branch.length_mm * UNSURE_SHARE[branch.measured], LEAST_UNSURE_MM)


def _kept_beside(
    document: Document,
    branch_id: str,
    with_connectors: set[str | None],
    near: Mapping[str, list[tuple[str, str]]],
) -> bool:
    """Whether a branch only goes on from another, past a point between the two, that keeps slack."""
    branches = document.route.branches
    b = branches[branch_id]
    for point in (b.from_point, b.to_point):
        if point in with_connectors:
            continue
        touching = [branches[other] for other, _ in near[point]]
        if len(touching) == 2 and any(branch is not b and branch.slack_mm != 0 for branch in touching):
            return True
    return False


def _branches(document: Document, tree: RouteTree, rule_mm: float, book: FindingBook) -> None:
    units = document.brief.measures
    with_connectors = {c.point for c in document.ends.connectors.values()}
    for branch_id, b in document.route.branches.items():
        place = Place("route", "branch", branch_id)
        name = f"{b.from_point} to {b.to_point}"
        if b.rerouted_on and b.rerouted_on > b.measured_on:
            book.add(
                "rerouted-since",
                place,
                branch=name,
                rerouted=b.rerouted_on,
                measured=b.measured_on or phrase("undated"),
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
                    end=format_length(stretch.to_mm, units, b.length_mm),
                    length=format_length(b.length_mm, units),
                )
        if b.slack_mm == 0:
            if not _kept_beside(document, branch_id, with_connectors, tree.near):
                book.add("branch-no-slack", place, branch=name)
            continue
        points = (document.route.points[p].slack_mm or 0.0 for p in (b.from_point, b.to_point))
        slack = (rule_mm if b.slack_mm is None else b.slack_mm) + sum(points)
        if unsure_mm(b) > slack and b.length_mm > 0:
            book.add(
                "measure-unsure",
                place,
                branch=name,
                unsure=format_length(unsure_mm(b), units, slack),
                how=b.measured if b.uncertainty_mm is None else phrase("stated"),
                slack=format_length(slack, units),
            )


def _openings(document: Document, catalogue: Catalogue, tree: RouteTree, book: FindingBook) -> None:
    """A connector on the shorter side of an opening must pass it, where it goes through terminated."""
    units = document.brief.measures
    for point_id, point in document.route.points.items():
        if point.opening_mm is None or not point.after_terminating:
            continue
        sides = _sides(tree, point_id)
        passing: list[list[str]] = [
            [k for k, c in document.ends.connectors.items() if c.point in side] for side in sides
        ]
        if len(passing) > 1:
            passing.remove(max(passing, key=len))
        for connector_id in (k for side in passing for k in side):
            connector = document.ends.connectors[connector_id]
            family = catalogue.connectors[connector.family]
            across = passes_mm(catalogue, connector, family)
            if across is None:
                continue
            if across > point.opening_mm:
                book.add(
                    "connector-cannot-pass",
                    Place("route", "point", point_id),
                    Place("ends", "connector", connector_id),
                    connector=f"{connector_id} ({connector.family})",
                    across=format_length(across, units, point.opening_mm),
                    point=point.name or point_id,
                    opening=format_length(point.opening_mm, units),
                )


_RING_OVER_HOLE = 2.0
"""A ring terminal is this much wider than its hole (common practice, no source)."""


def passes_mm(catalogue: Catalogue, connector: Connector, family: ConnectorFamily) -> float | None:
    """Diameter of the hole that a connector just passes; loose terminals go one after the other."""
    stud = connector.stud or family.usual_stud
    if family.studs and stud is not None and stud in catalogue.studs.studs:
        return catalogue.studs.studs[stud][1] * _RING_OVER_HOLE
    housing = family.housing(1 if family.loose else connector.ways)
    return housing.passes_mm if housing is not None else None


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


def _returns(
    document: Document,
    circuits: CircuitsResult,
    splices: dict[str, Splice],
    book: FindingBook,
) -> None:
    """Returns of several loads of which nobody has said how they join."""
    joined = {s.circuit for s in splices.values()}
    loads_of: dict[str, list[str]] = {}
    for loop in circuits.loops:
        for crossing in loop.back:
            of_circuit = loads_of.setdefault(crossing.circuit, [])
            if loop.device not in of_circuit:
                of_circuit.append(loop.device)
    for circuit_id, loads in loads_of.items():
        circuit = document.circuits.circuits[circuit_id]
        if circuit.threading is not None or len(loads) < 2 or circuit_id not in joined:
            continue
        if circuits.circuits[circuit_id].role != "ground":
            continue
        path = pointer(["circuits", "circuits", circuit_id, "threading"])
        tree = ({"op": "replace", "path": path, "value": "cascade"},)
        book.add(
            "return-join-not-said",
            Place("circuits", "circuit", circuit_id),
            mechanical=(phrase("tree"), tree),
            circuit=called("circuit", circuit_id),
            loads=some_in_words(loads, 6),
        )


_HEARD_OR_LOUD = ("ignition", "signal", "data", "sensor_return")


def _neighbours(
    document: Document,
    brief: BriefResult,
    role_of: dict[str, Role],
    threaded: Threaded,
    book: FindingBook,
) -> None:
    """Ignition leads side by side, and beside signals; signals in noisy zones; loops by instruments."""
    known, zones = document.brief.zones, threaded.zones
    passed = dict.fromkeys(chain.from_iterable([s.branches for s in threaded.sections.values()]))
    by_branch: dict[str, dict[str, set[str]]] = {b: {} for b in passed}
    for s in threaded.sections.values():
        role = role_of[s.circuit]
        if role in _HEARD_OR_LOUD:
            for b in s.branches:
                by_branch[b].setdefault(role, set()).add(s.circuit)
    shielded = {
        c for g in document.circuits.groups.values() if g.shield or "shielded" in g.kind for c in g.members
    }
    together: dict[str, list[str]] = {}
    beside: dict[tuple[str, ...], list[str]] = {}
    noisy: dict[str, set[str]] = {}
    for branch_id, roles in by_branch.items():
        branch = document.route.branches[branch_id]
        name = f"{branch.from_point} to {branch.to_point}"
        ignition = roles.get("ignition", set())
        quiet = (
            roles.get("signal", set()) | roles.get("data", set()) | roles.get("sensor_return", set())
        ) - shielded
        # Combs keep leads apart from each other and from the rest; a distance does where it is noted.
        apart = branch.separators or (branch.apart_mm or 0.0) >= brief.value("noise_apart_mm")
        if len(ignition) > 1 and not branch.separators:
            together.setdefault(list_in_words(sorted(ignition)), []).append(name)
        if ignition and quiet and not apart:
            beside.setdefault(tuple(sorted(quiet)), []).append(name)
        for zone in zones[branch_id]:
            if known[zone].noisy and quiet and not apart:
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


def _disturbed(
    document: Document, catalogue: Catalogue, zones: dict[str, tuple[str, ...]], book: FindingBook
) -> None:
    """A compass, or a place kept quiet for one, in a noisy zone."""
    known = document.brief.zones
    for zone_id, zone in known.items():
        if zone.noisy and zone.sensitive and any(zone_id in zone_ids for zone_ids in zones.values()):
            book.add(
                "instrument-in-noise", Place("brief", "zone", zone_id), what=phrase("any"), zone=zone.name
            )
    noisy: dict[str, str] = {}
    for branch_id, zone_ids in zones.items():
        for zone_id in zone_ids:
            if known[zone_id].noisy and not known[zone_id].sensitive:
                branch = document.route.branches[branch_id]
                noisy |= dict.fromkeys((branch.from_point, branch.to_point), known[zone_id].name)
    for point_id, point in document.route.points.items():
        if point.zone is not None and known[point.zone].noisy:
            noisy[point_id] = known[point.zone].name
        elif point.zone is not None:
            noisy.pop(point_id, None)
    if not noisy:
        return
    for ref, entry in document.ends.pinout.items():
        device_id = device_of(ref)
        device = document.circuits.devices[device_id]
        kind = catalogue.kinds.get(device.kind)
        there = document.ends.connectors[entry.connector].point
        if (
            kind is None
            or not kind.disturbed
            or there is None
            or there not in noisy
            or not _first_pin(device.pins, ref)
        ):
            continue
        book.add(
            "instrument-in-noise",
            Place("circuits", "device", device_id),
            what=called("device", device_id),
            zone=noisy[there],
        )


def _first_pin(pins: Mapping[str, DevicePin], ref: str) -> bool:
    return next(iter(pins), "") == pin_of(ref)


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
    near = {b for b, zone_ids in zones.items() if any(known[z].sensitive for z in zone_ids)}
    if not near:
        return
    passed = [near.intersection(s.branches) for s in sections.values()]
    circuit_of = [s.circuit for s in sections.values()]
    sides: dict[int, tuple[set[str], set[str]]] = {}
    for n, i in zip(flow.loop.tolist(), flow.row.tolist(), strict=True):
        if i < flow.sections and passed[i]:
            feed, back = sides.setdefault(n, (set(), set()))
            returning = circuit_of[i] in {c.circuit for c in circuits.loops[n].back}
            (back if returning else feed).update(passed[i])
    apart: dict[str, set[str]] = {}
    for n, (feed, back) in sides.items():
        for b in feed ^ back:
            apart.setdefault(b, set()).add(circuits.loops[n].device)
    for branch_id in (b for b in zones if b in apart):
        branch, devices = document.route.branches[branch_id], apart[branch_id]
        zone = next(z for z in zones[branch_id] if known[z].sensitive)
        book.add(
            "loop-near-instrument",
            Place("route", "branch", branch_id),
            devices=list_in_words(sorted(devices)[:6]),
            branch=f"{branch.from_point} to {branch.to_point}",
            zone=known[zone].name,
        )
