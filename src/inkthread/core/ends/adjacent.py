"""Neighbouring ways: what happens where a bent pin or a water bridge joins two, and orders that do better.

A bridge is scored by what it does. The scores are ours (common practice, no source): they rank
pinouts of one connector against each other and mean nothing beyond that.
"""

from __future__ import annotations

from collections.abc import Mapping
from itertools import combinations

import numpy as np

from inkthread.core.catalogue import Catalogue
from inkthread.core.circuits import CircuitsResult
from inkthread.core.document.types import Document
from inkthread.core.ends.pairs import neighbour_pairs
from inkthread.core.physics.conductor import FloatArray, IntArray
from inkthread.core.record import record
from inkthread.core.tolerances import ROUNDING

SPLIT_PAIR = 12.0
"""For every pair or three whose ways do not lie together."""

Kind = str


@record
class Bridge:
    """Two neighbouring ways, what a bridge between them does, and its score."""

    a: str
    b: str
    score: float
    words: str


@record
class Standing:
    """How a pinout stands: its score, its bridges worst first, and groups that lie apart."""

    score: float
    bridges: tuple[Bridge, ...]
    split: tuple[str, ...]


@record
class Proposal:
    """Another order of the same pins: cavity by pin, and how it would stand."""

    cavities: dict[str, str]
    score: float
    moves: int


_CLASS = {
    "supply": "supply",
    "output": "supply",
    "ground": "ground",
    "sensor_return": "reference",
    "signal": "signal",
    "data": "data",
    "drain": "ground",
    "ignition": "ignition",
}

_WHAT: dict[frozenset[str], tuple[float, str]] = {
    frozenset(("supply", "ground")): (5, "a short: the fuse opens"),
    frozenset(("supply", "signal")): (9, "supply on an input: the device may be lost"),
    frozenset(("supply", "data")): (9, "supply on the bus: every node may be lost"),
    frozenset(("supply", "reference")): (8, "supply on the sensor return: every reading is wrong"),
    frozenset(("supply",)): (2, "one feeds the other: something runs that should not"),
    frozenset(("ground", "signal")): (3, "the reading is lost"),
    frozenset(("ground", "data")): (4, "the bus is down"),
    frozenset(("ground", "reference")): (2, "readings shift with the current in the ground"),
    frozenset(("signal",)): (2, "two readings run together"),
    frozenset(("signal", "data")): (3, "the bus is disturbed"),
    frozenset(("signal", "reference")): (1.5, "the reading is lost"),
    frozenset(("data",)): (2, "the bus is down"),
    frozenset(("reference", "data")): (3, "the bus is down"),
}
"""What a bridge between two roles does, and how bad it is; an order of ours, from common practice."""
_NO_FUSE = 10.0
"""How bad a short is that no fuse opens."""
_DRIVES = ("battery", "alternator", "charger")
"""Sources that drive a short until something burns; what a device makes inside is limited by it."""


@record
class Way:
    """What is on a way: its class, its circuit, whether a short of it is cut off or limited."""

    kind: Kind
    circuit: str
    fused: bool


def _ways(document: Document, circuits: CircuitsResult, connector_id: str) -> dict[str, tuple[str, Way]]:
    """Pin to its cavity and what it is."""
    circuit_of = {r: k for k, c in document.circuits.circuits.items() for r in c.ends}
    driven = {
        c
        for s in circuits.sources.values()
        if s.kind in _DRIVES
        for c, fuse in s.spread.items()
        if fuse is None
    }
    by_cavity: dict[str, tuple[str, Way]] = {}
    for ref, entry in document.ends.pinout.items():
        if entry.connector != connector_id or ref not in circuit_of:
            continue
        circuit = circuit_of[ref]
        facts = circuits.circuits.get(circuit)
        if facts is None:
            continue
        by_cavity[ref] = (entry.cavity, Way(_CLASS[facts.role], circuit, circuit not in driven))
    return by_cavity


def bridge(a: Way, b: Way) -> tuple[float, str]:
    """Score of a bridge between two ways, and what it does."""
    if a.circuit == b.circuit:
        return 0.0, ""
    if "ignition" in (a.kind, b.kind):
        return 10.0, "high tension goes over: what is beside it is lost"
    score, words = _WHAT.get(frozenset((a.kind, b.kind)), (1.0, "the two run together"))
    bare = [net for net in (a, b) if net.kind == "supply" and not net.fused]
    if bare and {a.kind, b.kind} == {"supply", "ground"}:
        return _NO_FUSE, "a short with no fuse before it: the wire burns"
    return score, words


def standing(
    document: Document, catalogue: Catalogue, circuits: CircuitsResult, connector_id: str
) -> Standing:
    """How the pinout of a connector stands. Empty for loose terminals."""
    ways = _ways(document, circuits, connector_id)
    near = _near(document, catalogue, connector_id)
    return _stand(ways, near, _groups(document, ways))


def _near(document: Document, catalogue: Catalogue, connector_id: str) -> tuple[tuple[str, str], ...]:
    connector = document.ends.connectors[connector_id]
    family = catalogue.connectors[connector.family]
    housing = family.housing(connector.ways)
    if housing is None or family.loose:
        return ()
    return tuple(sorted(p for p in neighbour_pairs(housing.face) if p[0] < p[1]))


def _groups(document: Document, ways: Mapping[str, tuple[str, Way]]) -> dict[str, list[str]]:
    """Pairs and threes with more than one pin here, by their name: pins."""
    groups: dict[str, list[str]] = {}
    for group_id, group in document.circuits.groups.items():
        if group.kind == "cable":
            continue
        members = {*group.members, *([group.shield] if group.shield else [])}
        refs = [ref for ref, (_, w) in ways.items() if w.circuit in members]
        if len(refs) > 1:
            groups[group.name or group_id] = refs
    return groups


def _stand(
    ways: Mapping[str, tuple[str, Way]],
    near: tuple[tuple[str, str], ...],
    groups: Mapping[str, list[str]],
) -> Standing:
    at = dict(ways.values())
    bridges = []
    for a, b in near:
        if a in at and b in at:
            score, words = bridge(at[a], at[b])
            if score:
                bridges.append(Bridge(a, b, score, words))
    bridges.sort(key=lambda bridge: (-bridge.score, bridge.a, bridge.b))
    linked = {frozenset(p) for p in near}
    split = tuple(name for name, refs in groups.items() if not _together([ways[r][0] for r in refs], linked))
    total = sum(b.score for b in bridges) + SPLIT_PAIR * len(split)
    return Standing(round(total, 2), tuple(bridges), split)


def _together(cavities: list[str], linked: set[frozenset[str]]) -> bool:
    reached, rest = {cavities[0]}, set(cavities[1:])
    while rest:
        step = {c for c in rest if any(frozenset((c, r)) in linked for r in reached)}
        if not step:
            return False
        reached |= step
        rest -= step
    return True


def propose(
    document: Document, catalogue: Catalogue, circuits: CircuitsResult, connector_id: str
) -> Proposal | None:
    """An order with a lower score, by exchanging ways two at a time; None where none is found.

    Locked ways stay. Free ways may be used, so that a spare comes between. It is a descent from
    where the pinout stands: what it finds is better, not proved the best.
    """
    ways = _ways(document, circuits, connector_id)
    near = _near(document, catalogue, connector_id)
    connector = document.ends.connectors[connector_id]
    housing = catalogue.connectors[connector.family].housing(connector.ways)
    if housing is None or not near or len(ways) < 2:
        return None
    kept = {c for c, s in connector.spares.items() if s.state == "reserved"}
    locked = {e.cavity for e in document.ends.pinout.values() if e.connector == connector_id and e.locked}
    movable = [c for c in housing.face.cavities if c not in kept | locked]
    descent = _Descent(tuple(housing.face.cavities), ways, near, _groups(document, ways))
    before = dict(descent.at)
    start = descent.score()
    for _ in range(4 * len(movable)):
        step = descent.best_exchange(movable)
        if step is None:
            break
        descent.exchange(*step)
    score = descent.score()
    if score >= start - ROUNDING:
        return None
    moves = sum(before.get(c) != r for c, r in descent.at.items())
    return Proposal({ref: cavity for cavity, ref in descent.at.items()}, round(score, 2), moves)


class _Descent:
    """A pinout under exchange, that knows what every exchange changes without scoring it all anew."""

    def __init__(
        self,
        cavities: tuple[str, ...],
        ways: Mapping[str, tuple[str, Way]],
        near: tuple[tuple[str, str], ...],
        groups: Mapping[str, list[str]],
    ) -> None:
        self.at: dict[str, str] = {cavity: ref for ref, (cavity, _) in ways.items()}
        self.linked = {frozenset(p) for p in near}
        self.place = {cavity: n for n, cavity in enumerate(cavities)}
        self.refs = list(ways)
        kinds = [way for _, way in ways.values()]
        # The last row and column stand for a way with nothing on it.
        self.scores = np.zeros((len(kinds) + 1, len(kinds) + 1))
        for (n, one), (m, other) in combinations(enumerate(kinds), 2):
            self.scores[n, m] = self.scores[m, n] = bridge(one, other)[0]
        self.beside = np.zeros((len(cavities), len(cavities)))
        for a, b in near:
            self.beside[self.place[a], self.place[b]] = self.beside[self.place[b], self.place[a]] = 1.0
        self.groups = list(groups.values())
        self.of_ref: dict[str, list[int]] = {}
        for n, refs in enumerate(self.groups):
            for ref in refs:
                self.of_ref.setdefault(ref, []).append(n)
        self.cavity_of = {ref: cavity for cavity, ref in self.at.items()}

    def _on(self) -> IntArray:
        """What is on every way, by its number; the last where nothing is."""
        on = np.full(len(self.place), len(self.refs), dtype=np.intp)
        for n, ref in enumerate(self.refs):
            on[self.place[self.cavity_of[ref]]] = n
        return on

    def score(self) -> float:
        """Of the order as it is now."""
        on = self._on()
        bridges = float((self.beside * self.scores[on][:, on]).sum()) / 2
        return bridges + SPLIT_PAIR * sum(self._apart(n) for n in range(len(self.groups)))

    def _apart(self, n: int) -> bool:
        return not _together([self.cavity_of[r] for r in self.groups[n]], self.linked)

    def gains(self) -> FloatArray:
        """What exchanging any two ways adds to the score of the bridges."""
        on = self._on()
        # What stands on the second way, put on the first, with all others where they are.
        moved = (self.beside @ self.scores[on])[:, on]
        stays = np.diag(moved)
        both = 2 * self.beside * self.scores[on][:, on]
        return np.asarray(moved + moved.T - stays[:, None] - stays[None, :] + both)

    def best_exchange(self, movable: list[str]) -> tuple[str, str] | None:
        """The exchange that lowers the score most, of equals the first; None where none lowers it."""
        apart = [self._apart(n) for n in range(len(self.groups))]
        rows = [self.place[c] for c in movable]
        gains = self.gains()[np.ix_(rows, rows)]
        taken = np.array([c in self.at for c in movable])
        first, second = np.triu_indices(len(movable), 1)
        useful = taken[first] | taken[second]
        first, second = first[useful], second[useful]
        change = gains[first, second]
        # A group that lies apart may come together, one that lies together may not: by that much at best.
        hopes = np.array([sum(apart[n] for n in self._groups_at(c)) for c in movable], dtype=float)
        least = change - SPLIT_PAIR * (hopes[first] + hopes[second])
        grouped = np.array([bool(self._groups_at(c)) for c in movable])
        asked = grouped[first] | grouped[second]
        best, step = -ROUNDING, len(change)
        plain = np.nonzero(~asked & (change < best))[0]
        if len(plain):
            step = int(plain[np.argmin(change[plain])])
            best = float(change[step])
        for k in np.nonzero(asked & (least <= best))[0].tolist():
            if least[k] > best:
                continue
            a, b = movable[first[k]], movable[second[k]]
            whole = float(change[k]) + self._regrouped(a, b, apart)
            if whole < best or (whole == best and k < step < len(change)):
                best, step = whole, k
        return (movable[first[step]], movable[second[step]]) if step < len(change) else None

    def _groups_at(self, cavity: str) -> list[int]:
        return self.of_ref.get(self.at.get(cavity, ""), [])

    def _regrouped(self, a: str, b: str, apart: list[bool]) -> float:
        """What exchanging two ways adds to the score of the groups."""
        touched = {*self._groups_at(a), *self._groups_at(b)}
        self.exchange(a, b)
        change = sum(self._apart(n) - apart[n] for n in touched)
        self.exchange(a, b)
        return SPLIT_PAIR * change

    def exchange(self, a: str, b: str) -> None:
        """Exchange what is on two ways."""
        x, y = self.at.pop(a, None), self.at.pop(b, None)
        for ref, cavity in ((x, b), (y, a)):
            if ref is not None:
                self.at[cavity] = ref
                self.cavity_of[ref] = cavity
