"""Every circuit threaded over the route: sections between ends and splices, with their currents."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal

from inkthread.core.brief import BriefResult
from inkthread.core.circuits import CircuitsResult
from inkthread.core.document.types import Document
from inkthread.core.findings import FindingBook, Place
from inkthread.core.route.tree import RouteTree, build_tree


@dataclass(frozen=True, slots=True)
class SectionEnd:
    """Where a section stops: a device pin in a cavity, or a splice."""

    kind: Literal["pin", "splice"]
    id: str
    """The device pin, or the splice's id."""
    point: str
    connector: str | None = None
    cavity: str | None = None


@dataclass(slots=True)
class Section:
    """One wire between two terminations or splices."""

    key: str
    label: str
    circuit: str
    a: SectionEnd
    b: SectionEnd
    branches: tuple[str, ...]
    length_mm: float
    slack_mm: float
    ambient_c: float
    zone: str | None
    current_a: float = 0.0


@dataclass(slots=True)
class Splice:
    """A joint of three or more sections of one circuit."""

    id: str
    circuit: str
    point: str
    branch: str | None
    offset_mm: float
    """Distance from the point along ``branch``; zero at the branching place itself."""
    sections: list[str] = field(default_factory=list)


@dataclass(slots=True)
class RouteResult:
    """Sections by key, splices by id, and for each circuit the tree of its sections."""

    sections: dict[str, Section]
    splices: dict[str, Splice]
    trees: dict[str, _CircuitTree]
    hottest: dict[str, tuple[float, str | None]]
    """Branch to (ambient in deg C, zone id)."""

    def crossing_sections(self, circuit: str, from_pin: str, to_pin: str) -> list[str]:
        """Keys of the sections that current crosses between two pins of a circuit."""
        tree = self.trees.get(circuit)
        return tree.between(from_pin, to_pin) if tree is not None else []


@dataclass(slots=True)
class _CircuitTree:
    """Sections of one circuit as a rooted tree of nodes (device pins and splice ids)."""

    parent: dict[str, tuple[str, str]] = field(default_factory=dict)
    depth: dict[str, int] = field(default_factory=dict)
    order: list[str] = field(default_factory=list)

    def between(self, a: str, b: str) -> list[str]:
        if a not in self.depth or b not in self.depth:
            return []
        found: list[str] = []
        while a != b:
            if self.depth[a] < self.depth[b]:
                a, b = b, a
            up, key = self.parent[a]
            found.append(key)
            a = up
        return found


@dataclass(frozen=True, slots=True)
class _Terminal:
    ref: str
    connector: str
    cavity: str
    point: str


@dataclass(slots=True)
class _Run:
    """Route length gathered along one section."""

    branches: list[str]
    length_mm: float


def route_room(
    document: Document, brief: BriefResult, circuits: CircuitsResult, book: FindingBook
) -> RouteResult:
    """Sections and splices of every circuit. What cannot be placed is a finding, not a failure."""
    tree = build_tree(document.route)
    default_ambient = brief.value("default_ambient_c")
    zones = document.brief.zones
    hottest: dict[str, tuple[float, str | None]] = {
        branch_id: (zones[b.zone].ambient_c, b.zone) if b.zone else (default_ambient, None)
        for branch_id, b in document.route.branches.items()
    }
    result = RouteResult({}, {}, {}, hottest)
    threader = _Threader(document, brief, tree, hottest, result)
    unplaced: set[str] = set()
    for circuit_id, circuit in sorted(document.circuits.circuits.items(), key=lambda kv: kv[1].order):
        terminals: list[_Terminal] = []
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
            terminals.append(_Terminal(ref, entry.connector, entry.cavity, point))
        if len(terminals) < 2:
            continue
        component = tree.component[terminals[0].point]
        reached = [t for t in terminals if tree.component[t.point] == component]
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
        threader.thread(circuit_id, reached, circuits.injections[circuit_id])
    return result


class _Threader:
    """Threads one circuit at a time over the route tree."""

    def __init__(
        self,
        document: Document,
        brief: BriefResult,
        tree: RouteTree,
        hottest: dict[str, tuple[float, str | None]],
        result: RouteResult,
    ) -> None:
        self.document = document
        self.tree = tree
        self.hottest = hottest
        self.result = result
        self.slack = brief.value("slack_per_branch_mm")
        self.clear = brief.value("splice_clear_mm")
        self.default_ambient = brief.value("default_ambient_c")

    def thread(self, circuit: str, terminals: list[_Terminal], injections: dict[str, float]) -> None:
        if len(terminals) == 2:
            a, b = terminals
            path = self.tree.path(a.point, b.point) or []
            run = _Run([], 0.0)
            for branch_id, _ in path:
                run.branches.append(branch_id)
                run.length_mm += self.tree.branches[branch_id].length_mm
            section = self._section(circuit, circuit, circuit, self._pin(a), self._pin(b), run)
            section.current_a = abs(injections.get(a.ref, 0.0))
            tree = _CircuitTree()
            tree.depth = {a.ref: 0, b.ref: 1}
            tree.parent = {b.ref: (a.ref, section.key)}
            tree.order = [a.ref, b.ref]
            self.result.trees[circuit] = tree
            return
        self._thread_spliced(circuit, terminals, injections)

    def _pin(self, t: _Terminal) -> SectionEnd:
        return SectionEnd("pin", t.ref, t.point, t.connector, t.cavity)

    def _section(
        self, key: str, label: str, circuit: str, a: SectionEnd, b: SectionEnd, run: _Run
    ) -> Section:
        slack = 0.0
        ambient, zone = self.default_ambient, None
        for position, branch_id in enumerate(run.branches):
            own = self.tree.branches[branch_id].slack_mm
            slack += self.slack if own is None else own
            here = self.hottest[branch_id]
            if position == 0 or here[0] > ambient:
                ambient, zone = here
        if not run.branches:
            slack = self.slack
        section = Section(key, label, circuit, a, b, tuple(run.branches), run.length_mm, slack, ambient, zone)
        self.result.sections[key] = section
        return section

    def _thread_spliced(self, circuit: str, terminals: list[_Terminal], injections: dict[str, float]) -> None:
        """A splice at each branching place of the smallest subtree that holds every end."""
        near: dict[str, dict[str, str]] = {}
        at_point: dict[str, list[_Terminal]] = {}
        start = terminals[0].point
        near[start] = {}
        for t in terminals:
            at_point.setdefault(t.point, []).append(t)
            point = start
            for branch_id, reached in self.tree.path(start, t.point) or []:
                near.setdefault(point, {})[reached] = branch_id
                near.setdefault(reached, {})[point] = branch_id
                point = reached
        branching = {
            point: f"{circuit}@{point}"
            for point, others in near.items()
            if len(others) + len(at_point.get(point, ())) >= 3
        }
        # A splice at a connector's own point moves up the branch, clear of the connector.
        moved: dict[str, tuple[str | None, float]] = {}
        for point, splice_id in branching.items():
            towards: str | None = None
            offset = 0.0
            if point in at_point:
                options = near[point]
                if options:
                    towards = max(options, key=lambda p: (self._length(options[p]), p))
                    offset = min(self.clear, self._length(options[towards]) / 2)
                else:
                    offset = self.clear
            moved[point] = (towards, offset)
            branch = near[point][towards] if towards is not None else None
            self.result.splices[splice_id] = Splice(splice_id, circuit, point, branch, offset)

        leaves: list[tuple[_Terminal, str, _Run]] = []
        trunks: list[tuple[str, str, _Run]] = []
        for point, here in at_point.items():
            for t in here:
                if point in branching:
                    towards, offset = moved[point]
                    branches = [near[point][towards]] if towards is not None else []
                    leaves.append((t, point, _Run(branches, offset)))
                else:
                    (first,) = near[point]
                    end, run = self._follow(near, branching, moved, point, first)
                    leaves.append((t, end, run))
        for point in branching:
            for first in near[point]:
                end, run = self._follow(near, branching, moved, point, first)
                if end in branching and point < end:
                    trunks.append((point, end, run))

        rank = {t.ref: i for i, t in enumerate(terminals)}
        leaves.sort(key=lambda leaf: rank[leaf[0].ref])
        trunks.sort(key=lambda trunk: (trunk[0], trunk[1]))
        links: dict[str, list[tuple[str, str]]] = {}
        count = 0

        def add(key: str, a: SectionEnd, b: SectionEnd, run: _Run) -> None:
            nonlocal count
            section = self._section(key, f"{circuit}{_letters(count)}", circuit, a, b, run)
            count += 1
            for end, other in ((a, b), (b, a)):
                links.setdefault(end.id, []).append((other.id, section.key))
                if end.kind == "splice":
                    self.result.splices[end.id].sections.append(section.key)

        for t, point, run in leaves:
            add(f"{circuit}:{t.ref}", self._pin(t), SectionEnd("splice", branching[point], point), run)
        for a, b, run in trunks:
            add(
                f"{circuit}:{a}~{b}",
                SectionEnd("splice", branching[a], a),
                SectionEnd("splice", branching[b], b),
                run,
            )
        self._currents(circuit, terminals[0].ref, links, injections)

    def _length(self, branch_id: str) -> float:
        return self.tree.branches[branch_id].length_mm

    def _follow(
        self,
        near: dict[str, dict[str, str]],
        branching: dict[str, str],
        moved: dict[str, tuple[str | None, float]],
        start: str,
        first: str,
    ) -> tuple[str, _Run]:
        """Along the subtree from a point until the next branching place (or a leaf)."""
        run = _Run([near[start][first]], self._length(near[start][first]))
        if start in branching:
            towards, offset = moved[start]
            run.length_mm += -offset if towards == first else offset
        previous, point = start, first
        while point not in branching:
            onward = [p for p in near[point] if p != previous]
            if not onward:
                return point, run
            previous, point = point, onward[0]
            run.branches.append(near[previous][point])
            run.length_mm += self._length(near[previous][point])
        towards, offset = moved[point]
        run.length_mm += -offset if towards == previous else offset
        run.length_mm = max(run.length_mm, 0.0)
        return point, run

    def _currents(
        self,
        circuit: str,
        root: str,
        links: dict[str, list[tuple[str, str]]],
        injections: dict[str, float],
    ) -> None:
        """Current of every section: what is put in on one side of it."""
        tree = _CircuitTree({}, {root: 0}, [root])
        for node in tree.order:
            for other, key in links[node]:
                if other not in tree.depth:
                    tree.depth[other] = tree.depth[node] + 1
                    tree.parent[other] = (node, key)
                    tree.order.append(other)
        below = {node: injections.get(node, 0.0) for node in tree.order}
        for node in reversed(tree.order[1:]):
            up, key = tree.parent[node]
            self.result.sections[key].current_a = abs(below[node])
            below[up] += below[node]
        self.result.trees[circuit] = tree


def _letters(index: int) -> str:
    text = ""
    index += 1
    while index:
        index, rest = divmod(index - 1, 26)
        text = chr(ord("a") + rest) + text
    return text
