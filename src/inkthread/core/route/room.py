"""The route room: every circuit threaded, every section with its current."""

from __future__ import annotations

import numpy as np

from inkthread.core.circuits import CircuitsResult
from inkthread.core.context import Context
from inkthread.core.document.only import only
from inkthread.core.document.values import Threading
from inkthread.core.findings import FindingBook
from inkthread.core.record import record
from inkthread.core.route.buses import BusRun, bus_runs, find_undeclared_buses
from inkthread.core.route.checks import find_on_route
from inkthread.core.route.edges import find_at_edges
from inkthread.core.route.flow import Flow, build_flow
from inkthread.core.route.sections import CircuitTree, Section, Splice
from inkthread.core.route.threaded import Threaded, thread_circuits
from inkthread.core.route.tree import RouteTree


@record
class RouteResult:
    """Sections by key with what they carry, buses, and what crosses what."""

    sections: dict[str, Section]
    threaded: Threaded
    """The same object where nothing was laid otherwise; its sections are without their currents."""
    flow: Flow
    buses: dict[str, BusRun]

    @property
    def splices(self) -> dict[str, Splice]:
        """By id."""
        return self.threaded.splices

    @property
    def trees(self) -> dict[str, CircuitTree]:
        """By circuit."""
        return self.threaded.trees

    @property
    def zones(self) -> dict[str, tuple[str, ...]]:
        """Branch to the zones that any stretch of it lies in."""
        return self.threaded.zones

    @property
    def tree(self) -> RouteTree:
        """The branches as a tree."""
        return self.threaded.tree

    @property
    def threadings(self) -> dict[str, Threading]:
        """By circuit."""
        return self.threaded.threadings


def longest_run_mm(threaded: Threaded) -> float:
    """The longest way from one end of a circuit to another, slack with it, in mm: 0 without a wire."""
    longest = 0.0
    for tree in threaded.trees.values():
        reach = dict.fromkeys(tree.order, 0.0)
        for node in reversed(tree.order[1:]):  # the two longest ways down from each node
            up, key = tree.parent[node]
            section = threaded.sections[key]
            reach_mm = reach[node] + section.length_mm + section.slack_mm
            longest = max(longest, reach[up] + reach_mm)
            reach[up] = max(reach[up], reach_mm)
    return longest


def route_room(context: Context, circuits: CircuitsResult, book: FindingBook) -> RouteResult:
    """Sections and splices of every circuit. What cannot be placed is a finding, not a failure."""
    laid = only(context.document, "route", "ends", "circuits.circuits", "circuits.groups", "circuits.buses")
    threaded = context.memo.get(thread_circuits, laid, context.catalogue, context.brief, circuits.role_of)
    book.entries += threaded.findings
    flow = context.memo.get(build_flow, circuits.ways, threaded, circuits.meshes)
    carried_a = np.abs(flow.section_currents_a(circuits.drawn_a)).max(axis=1, initial=0.0)
    laid_out = list(threaded.sections.values())
    sections = context.memo.row_by_row(
        Section.carrying,
        tuple(threaded.sections),
        (laid_out, carried_a),
        lambda rows: (laid_out[i].carrying(a) for i, a in zip(rows, carried_a[rows].tolist(), strict=True)),
        telling=True,
    )
    find_on_route(context, circuits, sections, threaded, flow, book)
    beside = only(context.document, "route", "ends", "circuits.devices")
    book.once(context.memo, find_at_edges, beside, context.brief, threaded.zones)
    buses = bus_runs(context.document, context.catalogue, sections, threaded.trees, book)
    find_undeclared_buses(context.document, circuits, sections, book)
    return RouteResult(sections, threaded, flow, buses)
