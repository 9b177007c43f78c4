"""The order of work: nothing before what it waits for, then by the shop's habits, then fewest settings."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence

from inkthread.core.build.operations import Operation, Rooms
from inkthread.core.document.types import Document
from inkthread.core.record import record

START = "start"
"""Before every step: what is moved after it comes first."""
BY_WIRE, INNER_FIRST, BY_SETTING = 2, 2, 1
"""What the house rules on who comes first, and on crimps of one setting, mean."""
_BEFORE_ENDS, _FILLING = 42, 50
"""The stages of what loose ends wait for, and at which connectors are filled."""
_OF_AN_END = frozenset(
    (
        "thread-label",
        "thread-barrel",
        "thread-seal",
        "strip",
        "crimp",
        "solder",
        "solder-sleeve",
        "weld",
        "tug",
        "shrink-barrel",
    )
)
_OVER_BUNDLES = frozenset(
    ("thread-cover", "thread-piece", "thread-accessory", "thread-connector-label", "open-lock")
)
_CARD_AT_MOST = 12
"""Steps on one card: what can be read at two metres (common practice, no source)."""
Rank = tuple[object, ...]


@record
class Card:
    """What is done in one go: one wire's end, or one batch."""

    id: str
    kind: str
    """``end``, or what its batch is: ``cut``, ``crimp``, ``connector``, ``branch``, ``splice``."""
    title: str
    place: str
    steps: tuple[str, ...]
    minutes: float


@record
class Broken:
    """A step that is done before what it waits for, or without it."""

    step: str
    waits_for: str
    left_out: bool
    """What it waits for is left out; else it comes later."""


@record
class BuildPlan:
    """The work in order, on cards."""

    operations: dict[str, Operation]
    """Every step that is done, by id."""
    order: tuple[str, ...]
    cards: tuple[Card, ...]
    broken: tuple[Broken, ...]
    left_out: tuple[str, ...]
    """Steps that the builder leaves out."""
    lost: tuple[str, ...]
    """Steps that the builder moved or left out, and that are no more."""
    settings: int
    """How often a tool is set anew."""

    @property
    def minutes(self) -> float:
        """Standard minutes of all that is done."""
        return round(sum(o.minutes for o in self.operations.values()), 2)


def plan_build(rooms: Rooms, steps: Mapping[str, Operation]) -> BuildPlan:
    """The order of steps: by what waits for what and the house rules, then moved as the builder has it.

    Topological: of all that can be done, what the habits rank first. Raises ValueError where steps wait for
    each other in a circle, naming one.
    """
    document = rooms.context.document
    chosen = document.build.steps
    known = {*steps, START}
    lost = tuple(s for s, c in chosen.items() if s not in steps or (c.after or START) not in known)
    left_out = tuple(s for s in chosen if s in steps and chosen[s].left_out)
    ranks = _Ranks(rooms, steps)
    order = _sorted(steps, {step: ranks.of(own) for step, own in steps.items()})
    out = frozenset(left_out)
    moved = [s for s in order if s not in out]
    for step, choice in chosen.items():
        if choice.after is None or step in out or step not in steps:
            continue
        if choice.after == START or choice.after in moved:
            moved.remove(step)
            moved.insert(0 if choice.after == START else moved.index(choice.after) + 1, step)
    done = {step: steps[step] for step in moved}
    return BuildPlan(
        done, tuple(moved), _cards(rooms, done, moved, ranks), _broken(steps, moved, out), left_out, lost,
        _settings(done.values()),
    )  # fmt: skip


def _sorted(steps: Mapping[str, Operation], ranks: Mapping[str, Rank]) -> list[str]:
    import networkx as nx  # heavy: only where work is planned

    graph = nx.DiGraph()
    graph.add_nodes_from(steps)
    graph.add_edges_from((before, step) for step, own in steps.items() for before in own.after)
    try:
        return list(nx.lexicographical_topological_sort(graph, key=ranks.__getitem__))
    except nx.NetworkXUnfeasible as error:
        (a, b) = nx.find_cycle(graph)[0]
        raise ValueError(f"{a} and {b} wait for each other") from error


def _broken(steps: Mapping[str, Operation], order: Sequence[str], out: frozenset[str]) -> tuple[Broken, ...]:
    at = {step: n for n, step in enumerate(order)}
    breaks: list[Broken] = []
    for step in order:
        for before in steps[step].after:
            if before in out:
                breaks.append(Broken(step, before, True))
            elif at[before] > at[step]:
                breaks.append(Broken(step, before, False))
    return tuple(breaks)


def _settings(order: Iterable[Operation]) -> int:
    """How often a crimper is set anew, working down the order."""
    count, now = 0, ("", "")
    for own in order:
        if own.kind in ("crimp", "splice") and own.tool and (own.tool, own.setting) != now:
            count, now = count + 1, (own.tool, own.setting)
    return count


class _Ranks:
    """Where a step stands among those that nothing binds, by the shop's habits."""

    def __init__(self, rooms: Rooms, steps: Mapping[str, Operation]) -> None:
        brief = rooms.context.brief
        self._by_wire = int(brief.value("work_by")) == BY_WIRE
        self.by_setting = int(brief.value("crimps_together")) == BY_SETTING
        self._connector = _far_first(rooms, inner=int(brief.value("branch_first")) == INNER_FIRST)
        self._wire = {piece.wire: n for n, piece in enumerate(rooms.cut.cuts)}
        self._cavity = {
            (end.id, cavity.cavity): n
            for end in rooms.ends.connectors.values()
            for n, cavity in enumerate(end.cavities)
        }
        self._made = {step: n for n, step in enumerate(steps)}
        self.begins = self._begun_with(steps)
        """Of what is led over bundles: who waits for it first, at which connector, and whether to be made."""

    def _begun_with(self, steps: Mapping[str, Operation]) -> dict[str, tuple[int, str, bool]]:
        begins: dict[str, tuple[int, str, bool]] = {}
        # Backwards, for what is led over a bundle first may itself be waited for by what is led over it next.
        for own in reversed(list(steps.values())):
            waiting = begins.get(own.id)
            if waiting is None and own.work not in _OVER_BUNDLES and own.place in self._connector:
                waiting = (self._who(own)[0], own.place, own.work in _OF_AN_END)
            if waiting is None:
                continue
            for before in own.after:
                if steps[before].work in _OVER_BUNDLES:
                    known = begins.get(before, waiting)
                    begins[before] = (*min(known[:2], waiting[:2]), known[2] or waiting[2])
        return begins

    def _who(self, own: Operation) -> tuple[int, int, int]:
        connector = self._connector.get(own.place, len(self._connector))
        cavity = self._cavity.get((own.place, own.cavity), -1)
        wire = self._wire.get(own.wires[0], len(self._wire)) if own.wires else len(self._wire)
        return (wire, connector, cavity) if self._by_wire else (connector, cavity, wire)

    def of(self, own: Operation) -> Rank:
        """Smaller is sooner."""
        nth, who = self._made[own.id], self._who(own)
        if own.id in self.begins:
            first, _, before_ends = self.begins[own.id]
            return (_BEFORE_ENDS if before_ends and self.by_setting else _FILLING, "", "", first, -2, 0, nth)
        if own.work == "cut-wire":
            return (own.stage, own.card, "", *who, nth)
        if self.by_setting and own.work in _OF_AN_END:
            # All of one setting, then all of the next; look and tug right after each crimp.
            return (own.stage, own.tool, own.setting, *who, nth)
        if own.cavity:
            return (_FILLING, "", "", *who, nth)
        if own.stage == _FILLING:
            # A lock is opened before the first cavity is filled, and the rest is done after the last.
            return (_FILLING, "", "", who[0], -1 if own.work == "open-lock" else 10**6, 0, nth)
        return (own.stage, "", "", *who, nth)


def _far_first(rooms: Rooms, *, inner: bool) -> dict[str, int]:
    """Connectors by how far they lie from the source, the furthest first, or the nearest."""
    document, tree = rooms.context.document, rooms.route.tree
    root = _root(document)
    connectors = document.ends.connectors

    def far_mm(connector_id: str) -> float:
        point = connectors[connector_id].point
        if point is None or root is None or point not in tree.component:
            return 0.0
        path = tree.path(root, point)
        return sum(document.route.branches[b].length_mm for b, _ in path) if path else 0.0

    away = {c: far_mm(c) for c in connectors}
    ordered = sorted(connectors, key=lambda c: away[c], reverse=not inner)
    return {connector_id: n for n, connector_id in enumerate(ordered)}


def _root(document: Document) -> str | None:
    """The point of the first source, else the first point."""
    for source in document.circuits.sources.values():
        for ref, entry in document.ends.pinout.items():
            if ref.startswith(f"{source.device}."):
                point = document.ends.connectors[entry.connector].point
                if point is not None:
                    return point
    return next(iter(document.route.points), None)


def _cards(
    rooms: Rooms, steps: Mapping[str, Operation], order: Sequence[str], ranks: _Ranks
) -> tuple[Card, ...]:
    """Steps that follow each other on one card, in pieces that can be read."""
    runs: list[tuple[str, list[str]]] = []
    for step in order:
        name = (
            f"begin {ranks.begins[step][1]}"
            if step in ranks.begins
            else _card_of(steps[step], by_setting=ranks.by_setting)
        )
        if runs and runs[-1][0] == name and len(runs[-1][1]) < _CARD_AT_MOST:
            runs[-1][1].append(step)
        else:
            runs.append((name, [step]))
    times: dict[str, int] = {}
    cards: list[Card] = []
    for name, run in runs:
        times[name] = times.get(name, 0) + 1
        first = steps[run[0]]
        cards.append(
            Card(
                name if times[name] == 1 else f"{name} {times[name]}",
                name.split(" ", 1)[0],
                _title(rooms, name, [steps[s] for s in run]),
                first.place,
                tuple(run),
                round(sum(steps[s].minutes for s in run), 2),
            )
        )
    return tuple(cards)


def _title(rooms: Rooms, name: str, steps: Sequence[Operation]) -> str:
    """What a card is about: an end by its wire's label and its cavity, anything else by its own name."""
    kind, _, of = name.partition(" ")
    own = next((s for s in steps if s.cavity and s.wires), next((s for s in steps if s.wires), None))
    if kind != "end" or own is None:
        return of or kind
    label = rooms.wire.wires[own.wires[0]].label
    return f"{label} at {own.place}-{own.cavity}" if own.cavity else f"{label} at {own.place}"


def _card_of(own: Operation, *, by_setting: bool) -> str:
    if by_setting and own.work in _OF_AN_END:
        if own.work == "strip":
            return f"strip {own.setting}"
        if own.work in ("crimp", "tug"):
            return f"crimp {own.tool} {own.setting}".strip()
        return f"thread {own.place}" if own.kind == "thread" else own.card
    return own.card
