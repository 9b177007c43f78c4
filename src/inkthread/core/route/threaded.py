"""Every circuit threaded along the measured tree, whatever it carries."""

from __future__ import annotations

from inkthread.core.brief import BriefResult
from inkthread.core.catalogue import Catalogue
from inkthread.core.circuits import Crossing, Role
from inkthread.core.document.pin_ref import device_of
from inkthread.core.document.types import Circuit, Document
from inkthread.core.document.values import Threading
from inkthread.core.findings import Finding, FindingBook, Place, called
from inkthread.core.record import record
from inkthread.core.route.placing import SplicePlaces
from inkthread.core.route.sections import CircuitTree, Section, Splice, build_circuit_tree
from inkthread.core.route.threading import Terminal, Threader
from inkthread.core.route.tree import RouteTree, build_tree

_RETURNS: dict[int, Threading] = {1: "cascade", 2: "block", 3: "home runs"}
"""What the house rule on returns means; 0 asks of each."""
NO_SPLICES, ONE_DEVICE = 3, 2
"""What the house rule on splices in a run means."""


def threading_of(
    document: Document, brief: BriefResult, role_of: dict[str, Role], circuit_id: str
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
    if ruled is not None and role_of[circuit_id] == "ground":
        return ruled
    splices = int(brief.value("splices_in_run"))
    if splices == NO_SPLICES:
        return "block"
    if splices == ONE_DEVICE:
        at: dict[str, int] = {}
        for ref in document.circuits.circuits[circuit_id].ends:
            at[device_of(ref)] = at.get(device_of(ref), 0) + 1
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


@record
class Threaded:
    """Every circuit threaded; its sections are without their currents."""

    tree: RouteTree
    zones: dict[str, tuple[str, ...]]
    """Branch to the zones that any stretch of it lies in."""
    sections: dict[str, Section]
    splices: dict[str, Splice]
    crowded: list[str]
    """Splices that found no room."""
    trees: dict[str, CircuitTree]
    threadings: dict[str, Threading]
    findings: list[Finding]

    def crossing_sections(self, crossing: Crossing) -> list[str]:
        """Keys of the sections that current crosses from one pin of a circuit to another."""
        tree = self.trees.get(crossing.circuit)
        return [] if tree is None else [key for key, _ in tree.between(crossing.from_pin, crossing.to_pin)]


def thread_circuits(
    document: Document, catalogue: Catalogue, brief: BriefResult, role_of: dict[str, Role]
) -> Threaded:
    """Sections and splices of every circuit in ``role_of``. What cannot be placed is a finding."""
    book = FindingBook(catalogue.checks)
    tree = build_tree(document.route)
    threader = make_threader(document, catalogue, brief, tree)
    placed = _placed(document, role_of, tree, book)
    threadings = {c: threading_of(document, brief, role_of, c) for c in placed}
    trees: dict[str, CircuitTree] = {}
    for circuit_id, terminals in placed.items():
        hub = document.circuits.circuits[circuit_id].hub
        own = document.circuits.circuits[circuit_id].threading is None
        runs = threader.thread(circuit_id, terminals, threadings[circuit_id], hub, own=own)
        trees[circuit_id] = build_circuit_tree(terminals[0].ref, runs)
    return Threaded(
        tree,
        zones_of(document),
        threader.sections,
        threader.splices,
        threader.places.crowded,
        trees,
        threadings,
        book.entries,
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

    most = catalogue.studs.most_lugs

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
    document: Document, role_of: dict[str, Role], tree: RouteTree, book: FindingBook
) -> dict[str, list[Terminal]]:
    """The ends of every circuit in the harness that have a place and that the route joins."""
    placed: dict[str, list[Terminal]] = {}
    unplaced: set[str] = set()
    open_at = {
        g.shield: g.shield_open for g in document.circuits.groups.values() if g.shield and g.shield_open
    }
    for circuit_id, circuit in sorted(document.circuits.circuits.items(), key=lambda kv: kv[1].order):
        if circuit_id not in role_of:
            continue
        terminals = _with_a_place(document, circuit_id, circuit, unplaced, book)
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
                points=[terminals[0].point, *apart],
                circuit=called("name_of_circuit", circuit_id),
            )
        if len(reached) > 1:
            placed[circuit_id] = reached
    return placed


def _with_a_place(
    document: Document, circuit_id: str, circuit: Circuit, unplaced: set[str], book: FindingBook
) -> list[Terminal]:
    """The ends of a circuit whose cavity lies at a point. ``unplaced`` are connectors that were told of."""
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
                    circuit=called("name_of_circuit", circuit_id),
                    device=device_of(ref),
                )
            continue
        point = document.ends.connectors[entry.connector].point
        if point is not None:
            terminals.append(Terminal(ref, entry.connector, entry.cavity, point))
        elif entry.connector not in unplaced:
            unplaced.add(entry.connector)
            book.add(
                "connector-not-placed",
                Place("ends", "connector", entry.connector),
                connector=entry.connector,
            )
    return terminals
