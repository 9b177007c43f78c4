"""The route room: every circuit threaded, every section with its current."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from inkthread.core.brief import BriefResult
from inkthread.core.brief.airs import Air, Stretch
from inkthread.core.catalogue import Catalogue
from inkthread.core.circuits import CircuitsResult
from inkthread.core.document.types import Document
from inkthread.core.document.values import Threading
from inkthread.core.findings import Finding, FindingBook, Place
from inkthread.core.memo import Memo
from inkthread.core.route.buses import BusRun, bus_runs, find_undeclared_buses
from inkthread.core.route.checks import find_on_route
from inkthread.core.route.edges import find_at_edges
from inkthread.core.route.flow import Flow, build_flow
from inkthread.core.route.placing import SplicePlaces
from inkthread.core.route.sections import CircuitTree, Section, Splice, build_circuit_tree
from inkthread.core.route.threading import Terminal, Threader
from inkthread.core.route.tree import RouteTree, build_tree

_JOINTS_AS_MM = 100.0
"""A wire's two ends count as so much more of it while its size is not known."""


@dataclass(slots=True)
class RouteResult:
    """Sections by key, splices by id, trees by circuit, and what crosses what."""

    sections: dict[str, Section]
    splices: dict[str, Splice]
    trees: dict[str, CircuitTree]
    airs: dict[str, tuple[Stretch, ...]]
    """Branch to its stretches, each in one air."""
    point_airs: dict[str, Air]
    """Point to the air there: of the zone it names, else the hottest that meets there."""
    zones: dict[str, tuple[str, ...]]
    """Branch to the zones that any stretch of it lies in."""
    flow: Flow
    tree: RouteTree
    terminals: dict[str, list[Terminal]] = field(default_factory=dict)
    """Circuit to its placed ends that the route joins."""
    threadings: dict[str, Threading] = field(default_factory=dict)
    buses: dict[str, BusRun] = field(default_factory=dict)

    def hottest(self, branch: str) -> Air:
        """The air of a branch's hottest stretch."""
        return max((s.air for s in self.airs[branch]), key=lambda air: air.severity)

    def longest_run_mm(self) -> float:
        """The longest way from one end of a circuit to another, slack with it, in mm: 0 without a wire."""
        longest = 0.0
        for tree in self.trees.values():
            reach = dict.fromkeys(tree.order, 0.0)
            for node in reversed(tree.order[1:]):  # the two longest ways down from each node
                up, key = tree.parent[node]
                section = self.sections[key]
                way = reach[node] + section.length_mm + section.slack_mm
                longest = max(longest, reach[up] + way)
                reach[up] = max(reach[up], way)
        return longest

    def crossing_sections(self, circuit: str, from_pin: str, to_pin: str) -> list[str]:
        """Keys of the sections that current crosses between two pins of a circuit."""
        tree = self.trees.get(circuit)
        return [key for key, _ in tree.between(from_pin, to_pin)] if tree is not None else []


_RETURNS: dict[int, Threading] = {1: "cascade", 2: "block", 3: "home runs"}
"""What the house rule on returns means; 0 asks of each."""
NO_SPLICES, ONE_DEVICE = 3, 2
"""What the house rule on splices in a run means."""


def threading_of(
    document: Document, brief: BriefResult, circuits: CircuitsResult, circuit_id: str
) -> Threading:
    """How a circuit is threaded: as chosen, else by the house rules on returns and on splices in a run.

    A bus is a daisy chain; under aviation what is joined is joined in one place.
    """
    chosen = document.circuits.circuits[circuit_id].threading
    if chosen is not None:
        return chosen
    if any(circuit_id in bus.circuits for bus in document.circuits.buses.values()):
        return "daisy chain"
    ruled = _RETURNS.get(int(brief.value("returns")))
    if ruled is not None and circuits.circuits[circuit_id].role == "ground":
        return ruled
    splices = int(brief.value("splices_in_run"))
    if splices == NO_SPLICES:
        return "block"
    if splices == ONE_DEVICE:
        at: dict[str, int] = {}
        for ref in document.circuits.circuits[circuit_id].ends:
            at[ref.partition(".")[0]] = at.get(ref.partition(".")[0], 0) + 1
        if len(at) != 2 or 1 not in at.values():
            return "home runs"
    return "star" if document.brief.practice == "aviation" else "cascade"


def zones_of(document: Document) -> dict[str, tuple[str, ...]]:
    """Branch to every zone that it, or a stretch of it, lies in."""
    return {
        branch_id: tuple(
            dict.fromkeys([*([b.zone] if b.zone else []), *(s.zone for s in b.stretches.values())])
        )
        for branch_id, b in document.route.branches.items()
    }


@dataclass(frozen=True, slots=True)
class _Threaded:
    """Every circuit threaded, whatever it carries."""

    tree: RouteTree
    zones: dict[str, tuple[str, ...]]
    sections: dict[str, Section]
    splices: dict[str, Splice]
    crowded: list[str]
    trees: dict[str, CircuitTree]
    terminals: dict[str, list[Terminal]]
    threadings: dict[str, Threading]
    found: list[Finding]


_THREADED: Memo[_Threaded] = Memo()


def _thread(
    document: Document,
    catalogue: Catalogue,
    brief: BriefResult,
    circuits: CircuitsResult,
    book: FindingBook,
) -> _Threaded:
    tree = build_tree(document.route)
    threader = make_threader(document, catalogue, brief, tree)
    terminals = _placed(document, circuits, tree, book)
    ways = {c: threading_of(document, brief, circuits, c) for c in terminals}
    trees: dict[str, CircuitTree] = {}
    for circuit_id, held in terminals.items():
        hub = document.circuits.circuits[circuit_id].hub
        own = document.circuits.circuits[circuit_id].threading is None
        made = threader.thread(circuit_id, held, ways[circuit_id], hub, own=own)
        trees[circuit_id] = build_circuit_tree(held[0].ref, made)
    return _Threaded(
        tree,
        zones_of(document),
        threader.sections,
        threader.splices,
        threader.places.crowded,
        trees,
        terminals,
        ways,
        book.entries,
    )


def route_room(
    document: Document,
    catalogue: Catalogue,
    brief: BriefResult,
    circuits: CircuitsResult,
    book: FindingBook,
) -> RouteResult:
    """Sections and splices of every circuit. What cannot be placed is a finding, not a failure."""
    c = document.circuits
    inputs = (
        *(document.route, document.ends, document.brief, c.circuits, c.groups, c.buses),
        tuple(circuits.circuits),
    )
    made = _THREADED.get(
        (catalogue, *inputs),
        lambda: _thread(document, catalogue, brief, circuits, FindingBook(book.checks)),
    )
    book.entries += made.found
    index = {key: n for n, key in enumerate(made.sections)}
    flow = build_flow(circuits.loops, made.trees, index, circuits.meshes)
    if flow.rounds is not None:
        # Wires are not chosen yet: as if all were alike, current divides by length.
        long = [s.length_mm + s.slack_mm + _JOINTS_AS_MM for s in made.sections.values()]
        flow = flow.divided(np.array([*long, *[0.0] * len(flow.inner)]))
    carried = np.abs(flow.section_currents_a(circuits.drawn_a())).max(axis=1, initial=0.0)
    # What is kept stays without its currents.
    sections = {
        key: s.carrying(a) for (key, s), a in zip(made.sections.items(), carried.tolist(), strict=True)
    }
    find_on_route(
        document,
        catalogue,
        brief,
        circuits,
        sections,
        made.splices,
        flow,
        made.tree,
        made.zones,
        made.crowded,
        book,
    )
    find_at_edges(document, brief, made.zones, book)
    buses = bus_runs(document, catalogue, sections, made.trees, book)
    find_undeclared_buses(document, circuits, sections, book)
    return RouteResult(
        sections,
        made.splices,
        made.trees,
        brief.airs,
        brief.point_airs,
        made.zones,
        flow,
        made.tree,
        made.terminals,
        made.threadings,
        buses,
    )


def make_threader(
    document: Document,
    catalogue: Catalogue,
    brief: BriefResult,
    tree: RouteTree,
) -> Threader:
    """A threader with the house rules in force, and no splice placed yet."""

    def holds_two(t: Terminal) -> bool:
        if t.connector is None or brief.value("doubled_wires") < 1:
            return False
        connector = document.ends.connectors[t.connector]
        family = catalogue.connectors[connector.family]
        return any(
            c.most_wires > 1 or c.doubled
            for c in family.contacts_for(connector.contact_gender, connector.stud)
        )

    most = catalogue.studs.most_lugs if catalogue.studs is not None else 0

    def holds(t: Terminal) -> int:
        if t.connector is None:
            return 0
        return most if catalogue.connectors[document.ends.connectors[t.connector].family].studs else 0

    places = SplicePlaces(
        tree,
        {c.point for c in document.ends.connectors.values() if c.point is not None},
        brief.value("splice_cover_mm"),
        brief.value("splice_gap_mm"),
        brief.value("splice_clear_mm"),
        brief.value("splice_breakout_mm"),
    )
    return Threader(
        document,
        tree,
        places,
        brief.airs,
        brief.point_airs,
        brief.value("slack_per_branch_mm"),
        holds_two,
        holds,
    )


def _placed(
    document: Document, circuits: CircuitsResult, tree: RouteTree, book: FindingBook
) -> dict[str, list[Terminal]]:
    """The ends of every circuit in the harness that have a place and that the route joins."""
    placed: dict[str, list[Terminal]] = {}
    unplaced: set[str] = set()
    open_at = {
        g.shield: g.shield_open for g in document.circuits.groups.values() if g.shield and g.shield_open
    }
    for circuit_id, circuit in sorted(document.circuits.circuits.items(), key=lambda kv: kv[1].order):
        if circuit_id not in circuits.circuits:
            continue
        terminals: list[Terminal] = []
        for ref, _ in sorted(circuit.ends.items(), key=lambda kv: kv[1].order):
            entry = document.ends.pinout.get(ref)
            if entry is None:
                if len(circuit.ends) > 1:
                    book.add(
                        "end-not-placed",
                        Place("ends", "pin", ref),
                        Place("circuits", "circuit", circuit_id),
                        pin=ref,
                        circuit=circuit.name or circuit_id,
                        device=ref.partition(".")[0],
                    )
                continue
            point = document.ends.connectors[entry.connector].point
            if point is None:
                if entry.connector not in unplaced:
                    unplaced.add(entry.connector)
                    book.add(
                        "connector-not-placed",
                        Place("ends", "connector", entry.connector),
                        connector=entry.connector,
                    )
                continue
            terminals.append(Terminal(ref, entry.connector, entry.cavity, point))
        if circuit_id in open_at and terminals:
            lies_at = document.ends.connectors[open_at[circuit_id]].point
            if lies_at is not None and lies_at != terminals[0].point:
                terminals.append(Terminal(open_at[circuit_id], None, None, lies_at))
        if len(terminals) < 2:
            continue
        reached = [t for t in terminals if tree.component[t.point] == tree.component[terminals[0].point]]
        if len(reached) < len(terminals):
            apart = sorted({t.point for t in terminals if t not in reached})
            book.add(
                "route-broken",
                Place("route", "point", apart[0]),
                Place("circuits", "circuit", circuit_id),
                points=f"{terminals[0].point} and {', '.join(apart)}",
                circuit=circuit.name or circuit_id,
            )
            if len(reached) < 2:
                continue
        placed[circuit_id] = reached
    return placed
