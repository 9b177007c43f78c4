"""One circuit at a time threaded over the route tree, in the way the builder chose.

- *cascade*: a splice at each branching place of the smallest subtree that holds every end.
- *star*: one splice that every end comes to. *block*: the same with a block of studs.
- *daisy chain*: from end to end, through contacts that hold two wires, else a splice close by.
- *home runs*: every end by its own wire to the first.
"""

from __future__ import annotations

import itertools
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Literal, NamedTuple

from inkthread.core.brief import Air, Stretch, hottest_on
from inkthread.core.document.pin_ref import device_of
from inkthread.core.document.types import Document
from inkthread.core.document.values import Threading
from inkthread.core.record import record
from inkthread.core.route.placing import SplicePlaces, Spot
from inkthread.core.route.sections import Section, SectionEnd, Spans, Splice
from inkthread.core.route.tree import RouteTree


@record
class Terminal:
    """An end of a circuit that has a place: device pin, connector, cavity, point.

    An end without a cavity is cut back and insulated by the connector that ``ref`` names.
    """

    ref: str
    connector: str | None
    cavity: str | None
    point: str


class _Laid(NamedTuple):
    """What a wire passes between two spots. Lengths in mm."""

    spans: Spans
    branches: tuple[str, ...]
    length_mm: float
    slack_mm: float
    air: Air


@dataclass(slots=True)
class Threader:
    """Makes the sections and splices of circuits."""

    document: Document
    tree: RouteTree
    places: SplicePlaces
    airs: dict[str, tuple[Stretch, ...]]
    point_airs: dict[str, Air]
    slack_mm: float
    holds_two: Callable[[Terminal], bool]
    """Whether the contact at an end may hold two wires."""
    holds: Callable[[Terminal], int]
    """How many lugs the stud at an end takes beside each other; 0 where it is no stud."""
    sections: dict[str, Section] = field(default_factory=dict)
    splices: dict[str, Splice] = field(default_factory=dict)
    _laid: dict[tuple[str, str], _Laid] = field(default_factory=dict)
    """What was found between two points, by the points: many wires run alike."""
    _slack_between_mm: dict[tuple[str, str], float] = field(default_factory=dict)
    _slack_at_mm: dict[str, float] | None = None
    """Of the points where slack is kept; None until it is asked for."""

    def thread(
        self,
        circuit: str,
        terminals: list[Terminal],
        threading: Threading,
        hub: str | None,
        *,
        own: bool = False,
    ) -> list[Section]:
        """Sections of one circuit with at least two placed ends, in the order of their labels.

        Where the way is the program's ``own`` and a splice would be crowded, another way that has room is
        taken, if there is one.
        """
        before = len(self.sections)
        if own and len(terminals) > 2 and threading in ("cascade", "star"):
            self._where_there_is_room(circuit, terminals, threading, hub)
            return self._since(before)
        if len(terminals) == 2:
            a, b = terminals
            self._add(circuit, circuit, circuit, _pin(a), _pin(b), Spot(a.point), Spot(b.point))
        elif threading == "cascade":
            self._cascade(circuit, terminals)
        elif threading in ("star", "block"):
            self._star(circuit, terminals, hub, block=threading == "block")
        elif threading == "daisy chain":
            self._chain(circuit, terminals)
        else:
            self._home_runs(circuit, terminals, hub)
        return self._since(before)

    def _since(self, before: int) -> list[Section]:
        """The sections made since there were so many, in their order."""
        newest = itertools.islice(reversed(self.sections.values()), len(self.sections) - before)
        return list(newest)[::-1]

    def _where_there_is_room(
        self, circuit: str, terminals: list[Terminal], threading: Threading, hub: str | None
    ) -> None:
        """Thread as usual, else by one splice at the place of least wire that has room for it."""
        mark, sections, splices = self.places.mark(), len(self.sections), len(self.splices)
        self.thread(circuit, terminals, threading, hub)
        if self.places.mark()[1] == mark[1] or hub is not None:
            return
        given = self.places.go_back(mark)
        near = self._subtree(terminals)
        roomy = [p for p, around in near.items() if self.places.has_room([*around.values()], p)]
        if not roomy:
            self.places.go_on(given)
            return
        while len(self.sections) > sections:
            self.sections.popitem()
        while len(self.splices) > splices:
            self.splices.popitem()
        wire_mm = self._wire_from(near, terminals)
        self.thread(circuit, terminals, "star", min(roomy, key=lambda p: (wire_mm[p], p)))

    # Lengths along the tree

    def run(self, a: Spot, b: Spot) -> tuple[Spans, float]:
        """Stretches of branch passed, in order, and the length in mm between two spots."""
        path = [branch for branch, _ in self.tree.path(a.point, b.point) or ()]
        if a.branch is None and b.branch is None:
            whole = [(branch, 0.0, self.tree.branches[branch].length_mm) for branch in path]
            return tuple(whole), sum([length_mm for _, _, length_mm in whole])
        if a.branch is not None and a.branch == b.branch and path in ([], [a.branch]):
            spans = [self._span(a.branch, self._mark(a), self._mark(b))]
        else:
            spans = [(branch, 0.0, self.tree.branches[branch].length_mm) for branch in path]
            for spot, at in ((a, 0), (b, -1)):
                if spot.branch is None:
                    continue
                mark = self._mark(spot)
                own = self.tree.branches[spot.branch]
                if path and path[at] == spot.branch:
                    # The rest of the branch beyond the spot.
                    far = own.length_mm if own.from_point == spot.point else 0.0
                    spans[at] = self._span(spot.branch, mark, far)
                else:
                    near = 0.0 if own.from_point == spot.point else own.length_mm
                    spans.insert(0 if at == 0 else len(spans), self._span(spot.branch, mark, near))
        return tuple(spans), sum(high - low for _, low, high in spans)

    def _mark(self, spot: Spot) -> float:
        """Where a spot lies on its branch, in mm from the branch's first point."""
        assert spot.branch is not None
        branch = self.tree.branches[spot.branch]
        return spot.offset_mm if branch.from_point == spot.point else branch.length_mm - spot.offset_mm

    @staticmethod
    def _span(branch: str, one: float, other: float) -> tuple[str, float, float]:
        return branch, min(one, other), max(one, other)

    def _add(
        self, key: str, label: str, circuit: str, a: SectionEnd, b: SectionEnd, at_a: Spot, at_b: Spot
    ) -> None:
        laid = self._lay(at_a, at_b)
        self.sections[key] = Section(
            key, label, circuit, a, b, laid.branches, laid.length_mm, laid.slack_mm, laid.air.ambient_c,
            laid.air.zone, spans=laid.spans,
        )  # fmt: skip
        for end in (a, b):
            if end.kind in ("splice", "block"):
                self.splices[end.id].sections.append(key)

    def _lay(self, a: Spot, b: Spot) -> _Laid:
        """What a wire between two spots passes, and what is added to it."""
        if a.branch is not None or b.branch is not None:
            return self._lay_anew(a, b)
        ends = a.point, b.point
        if ends not in self._laid:
            self._laid[ends] = self._lay_anew(a, b)
        return self._laid[ends]

    def _lay_anew(self, a: Spot, b: Spot) -> _Laid:
        spans, length = self.run(a, b)
        branches = tuple(branch for branch, _, _ in spans)
        slack = 0.0
        for branch_id in branches:
            own = self.tree.branches[branch_id].slack_mm
            slack += self.slack_mm if own is None else own
        air = hottest_on(self.airs, spans) or self.point_airs[a.point]
        if not branches:
            slack = self.slack_mm
        return _Laid(spans, branches, length, slack + self._point_slack(a.point, b.point), air)

    def _point_slack(self, a: str, b: str) -> float:
        """Slack kept at the points passed, ends included."""
        if (a, b) not in self._slack_between_mm:
            if self._slack_at_mm is None:
                points = self.document.route.points
                self._slack_at_mm = {p: point.slack_mm for p, point in points.items() if point.slack_mm}
            kept = self._slack_at_mm
            passed = [a, *(p for _, p in self.tree.path(a, b) or ())] if kept else ()
            self._slack_between_mm[a, b] = sum([kept[p] for p in passed if p in kept], 0.0)
        return self._slack_between_mm[a, b]

    def _splice(self, splice_id: str, circuit: str, spot: Spot, *, block: bool = False) -> SectionEnd:
        kind: Literal["splice", "block"] = "block" if block else "splice"
        self.splices[splice_id] = Splice(splice_id, circuit, spot.point, spot.branch, spot.offset_mm, kind)
        return SectionEnd(kind, splice_id, spot.point)

    # Ways of threading

    def _cascade(self, circuit: str, terminals: list[Terminal]) -> None:
        near = self._subtree(terminals)
        at_point: dict[str, list[Terminal]] = {}
        for t in terminals:
            at_point.setdefault(t.point, []).append(t)
        spots: dict[str, Spot] = {}
        ends: dict[str, SectionEnd] = {}
        at_studs: set[str] = set()
        for point, others in near.items():
            at_this_point = at_point.get(point, [])
            if len(others) + len(at_this_point) < 3:
                continue
            stud = next(
                (t for t in at_this_point if len(others) + len(at_this_point) - 1 <= self.holds(t)), None
            )
            if stud is not None:  # what meets at a stud has a lug there, and wants no splice beside it
                spots[point], ends[point] = Spot(point), _pin(stud)
                at_studs.add(stud.ref)
                continue
            splice_id = f"{circuit}@{point}"
            around = others or {p: b for b, p in self._neighbours(point)}
            options = [around[p] for p in sorted(around, key=lambda p: (-self._length(around[p]), p))]
            spots[point] = self.places.place(splice_id, point, options)
            ends[point] = self._splice(splice_id, circuit, spots[point])
        label = _leaf_labels(circuit, terminals)
        for t in (terminal for terminal in terminals if terminal.ref not in at_studs):
            point = t.point if t.point in spots else self._follow(near, spots, t.point, None)
            self._add(
                f"{circuit}:{t.ref}", label[t.ref], circuit, _pin(t), ends[point], Spot(t.point), spots[point]
            )
        trunks = sorted(
            (point, end)
            for point in spots
            for first in near[point]
            if (end := self._follow(near, spots, point, first)) in spots and point < end
        )
        for a, b in trunks:
            self._add(
                f"{circuit}:{a}~{b}", f"{circuit}-{a}-{b}", circuit, ends[a], ends[b], spots[a], spots[b]
            )

    def _star(self, circuit: str, terminals: list[Terminal], hub: str | None, *, block: bool) -> None:
        near = self._subtree(terminals)
        point = hub if hub in self.tree.component and self._joined(hub, terminals) else None
        point = point or self._middle(near, terminals)
        splice_id = f"{circuit}@{point}"
        around = near.get(point) or {p: b for b, p in self._neighbours(point)}
        options = [around[p] for p in sorted(around, key=lambda p: (-self._length(around[p]), p))]
        spot = Spot(point) if block else self.places.place(splice_id, point, options)
        end = self._splice(splice_id, circuit, spot, block=block)
        label = _leaf_labels(circuit, terminals)
        for t in terminals:
            self._add(f"{circuit}:{t.ref}", label[t.ref], circuit, _pin(t), end, Spot(t.point), spot)

    def _chain(self, circuit: str, terminals: list[Terminal]) -> None:
        order = self._along(terminals)
        label = _leaf_labels(circuit, terminals)
        ends: list[tuple[SectionEnd, Spot]] = []
        stubs: list[tuple[Terminal, SectionEnd, Spot]] = []
        for position, t in enumerate(order):
            if position in (0, len(order) - 1) or self.holds_two(t):
                ends.append((_pin(t), Spot(t.point)))
                continue
            splice_id = f"{circuit}@{t.ref}"
            spot = self.places.place(splice_id, t.point, [b for b, _ in self._neighbours(t.point)])
            end = self._splice(splice_id, circuit, spot)
            ends.append((end, spot))
            stubs.append((t, end, spot))
        for n, ((a, at_a), (b, at_b)) in enumerate(itertools.pairwise(ends)):
            key = f"{circuit}:{order[n].ref}~{order[n + 1].ref}"
            onward = label[order[n + 1].ref].removeprefix(f"{circuit}-")
            self._add(key, f"{label[order[n].ref]}-{onward}", circuit, a, b, at_a, at_b)
        for t, end, spot in stubs:
            self._add(f"{circuit}:{t.ref}", label[t.ref], circuit, _pin(t), end, Spot(t.point), spot)

    def _home_runs(self, circuit: str, terminals: list[Terminal], hub: str | None) -> None:
        home = next((t for t in terminals if t.point == hub), terminals[0])
        label = _leaf_labels(circuit, terminals)
        for t in terminals:
            if t is not home:
                self._add(
                    f"{circuit}:{t.ref}",
                    label[t.ref],
                    circuit,
                    _pin(t),
                    _pin(home),
                    Spot(t.point),
                    Spot(home.point),
                )

    # The tree about a circuit

    def _length(self, branch_id: str) -> float:
        return self.tree.branches[branch_id].length_mm

    def _neighbours(self, point: str) -> list[tuple[str, str]]:
        return self.tree.near.get(point, [])

    def _joined(self, point: str, terminals: list[Terminal]) -> bool:
        return self.tree.component[point] == self.tree.component[terminals[0].point]

    def _subtree(self, terminals: list[Terminal]) -> dict[str, dict[str, str]]:
        """Point to its neighbours in the smallest subtree that holds the ends, each with its branch."""
        start = terminals[0].point
        near: dict[str, dict[str, str]] = {start: {}}
        for t in terminals:
            point = start
            for branch_id, reached in self.tree.path(start, t.point) or ():
                near.setdefault(point, {})[reached] = branch_id
                near.setdefault(reached, {})[point] = branch_id
                point = reached
        return near

    def _follow(
        self, near: dict[str, dict[str, str]], spots: dict[str, Spot], start: str, first: str | None
    ) -> str:
        """Along the subtree from a point until the next place with a splice (or a leaf)."""
        previous, point = start, first
        if point is None:
            (point,) = near[start]
        while point not in spots:
            onward = [p for p in near[point] if p != previous]
            if not onward:
                return point
            previous, point = point, onward[0]
        return point

    def _middle(self, near: dict[str, dict[str, str]], terminals: list[Terminal]) -> str:
        """The point with the least wire to every end."""
        wire_mm = self._wire_from(near, terminals)
        return min(sorted(near), key=lambda point: wire_mm[point])

    def _wire_from(self, near: dict[str, dict[str, str]], terminals: list[Terminal]) -> dict[str, float]:
        """Wire in mm from every point of the subtree to all the ends together.

        From one point to the next along a branch, the ends beyond come nearer by its length and all others go
        farther.
        """
        root = terminals[0].point
        up: dict[str, str] = {root: root}
        far: dict[str, float] = {root: 0.0}
        order = [root]
        for point in order:
            for other, branch in near[point].items():
                if other not in up:
                    up[other], far[other] = point, far[point] + self._length(branch)
                    order.append(other)
        beyond = dict.fromkeys(order, 0)
        for t in terminals:
            beyond[t.point] += 1
        for point in order[:0:-1]:
            beyond[up[point]] += beyond[point]
        wire_mm = {root: sum(far[t.point] for t in terminals)}
        for point in order[1:]:
            nearer = len(terminals) - 2 * beyond[point]
            wire_mm[point] = wire_mm[up[point]] + nearer * self._length(near[point][up[point]])
        return wire_mm

    def _along(self, terminals: list[Terminal]) -> list[Terminal]:
        """The ends in their order along the route, from one of the two farthest apart to the other."""

        def far(a: Terminal, b: Terminal) -> float:
            return self.run(Spot(a.point), Spot(b.point))[1]

        start = max(terminals, key=lambda t: far(terminals[0], t))
        other = max((t for t in terminals if t is not start), key=lambda t: far(start, t))
        if terminals.index(other) < terminals.index(start):
            start, other = other, start
        rank = {t.ref: n for n, t in enumerate(terminals)}
        main = self.run(Spot(start.point), Spot(other.point))[1]

        def station(t: Terminal) -> tuple[float, int]:
            # Half of (to start + main - to other) is where it leaves the run from start to other.
            return ((far(start, t) + main - far(t, other)) / 2, rank[t.ref])

        middle = sorted((t for t in terminals if t is not start and t is not other), key=station)
        return [start, *middle, other]


def _pin(t: Terminal) -> SectionEnd:
    return SectionEnd("open" if t.connector is None else "pin", t.ref, t.point, t.connector, t.cavity)


def _leaf_labels(circuit: str, terminals: list[Terminal]) -> dict[str, str]:
    """``C3-M1`` for each end; with its pin where a device has two ends in the circuit.

    Named after what it leads to, a wire keeps its label when others come and go.
    """
    devices = [device_of(t.ref) for t in terminals]
    return {
        t.ref: f"{circuit}-{d}" if devices.count(d) == 1 else f"{circuit}-{t.ref}"
        for t, d in zip(terminals, devices, strict=True)
    }
