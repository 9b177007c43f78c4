"""Harnesses with faults in them, read by the simulated tester: what the diagnosis is tried on.

What a spoiled harness reads is worked out by the stand-in, by nodal analysis: nothing of the diagnosis is in
it.
"""

from __future__ import annotations

import random
from collections.abc import Callable, Iterable, Sequence

from inkthread.core.prove import FaultSet
from inkthread.core.prove.faults import JOINED, Fault, FaultKind
from inkthread.core.prove.harness import MeasuredHarness
from inkthread.core.prove.plan import ProofPlan
from inkthread.core.prove.readings import Reading
from inkthread.exchange.tester import plugged_lines, read_rows
from inkthread.standins.tester import CableTester


class Plugged:
    """The tester's questions answered without a line between."""

    def __init__(self, harness: MeasuredHarness, faults: Sequence[str], seed: int = 1) -> None:
        tester = CableTester(tuple(faults), seed=seed)
        answer = tester.plug(plugged_lines(harness)[1:-1])
        assert answer.startswith("PLUGGED"), answer
        assert tester.harness is not None
        self.made = tester.harness

    def read(self, a: tuple[str, ...], b: tuple[str, ...], *, moved: bool = False) -> float:
        """Ohm between two groups of places."""
        return self.made.read(a, b, moved=moved)

    def links(self, place: str) -> dict[str, float]:
        """Everything that a place is joined with."""
        return self.made.links(place)


def readings_of(plan: ProofPlan, faults: Sequence[str], seed: int = 1) -> list[Reading]:
    """All rows of a plan, read on a harness with faults."""
    return list(read_rows(Plugged(plan.harness, faults, seed), list(plan.rows)))


Case = tuple[list[str], set[Fault]]
"""What the tester is told, and what that is called."""
One = tuple[str, Fault, set[str]]
"""One fault as it is told, as it is called, and the circuits and places it is about."""
Maker = Callable[[MeasuredHarness, random.Random], One | None]


def spoil(plan: ProofPlan, chance: random.Random, count: int) -> Case:
    """So many faults that have nothing to do with each other: as the tester is told them, and by name."""
    used: set[str] = set()
    told: list[str] = []
    named: set[Fault] = set()
    kinds = list(_MAKERS)
    shaken = {row.circuit for row in plan.rows if row.moved}
    while len(told) < count:
        kind = chance.choice(kinds)
        made = _MAKERS[kind](plan.harness, chance)
        if made is None:
            continue
        word, fault, about = made
        if used & about or (kind == "loose" and not about & shaken):
            continue
        used |= about
        told.append(word)
        named.add(fault)
    return told, named


def _circuits(harness: MeasuredHarness, places: Iterable[str]) -> set[str]:
    return {harness.terminals[p].circuit for p in places if p in harness.terminals}


def _open(harness: MeasuredHarness, chance: random.Random) -> One | None:
    wire = chance.choice(list(harness.wires.values()))
    kind: FaultKind = "drain missing" if wire.drain else "open"
    return f"open:{wire.key}", Fault(kind, wire=wire.key), {wire.circuit}


def _loose(harness: MeasuredHarness, chance: random.Random) -> One | None:
    wire = chance.choice(list(harness.wires.values()))
    return f"loose:{wire.key}", Fault("loose when moved", wire=wire.key), {wire.circuit}


def _high(harness: MeasuredHarness, chance: random.Random) -> One | None:
    wire = chance.choice([w for w in harness.wires.values() if not w.resistive])
    ohm = round(chance.uniform(0.3, 3.0), 2)
    return f"high:{wire.key}/{ohm}", Fault("high joint", wire=wire.key), {wire.circuit}


def _gauge(harness: MeasuredHarness, chance: random.Random) -> One | None:
    wire = chance.choice(list(harness.wires.values()))
    # One that shows: more than all bands of its circuit together.
    band = sum(w.ohms.most - w.ohms.least for w in harness.wires.values() if w.circuit == wire.circuit)
    copper = wire.ohms.usual - wire.joints.usual
    sizes = [(g, t) for g, t in harness.sizes[wire.key] if abs(t - 1) * copper > band + 0.003 and t < 12]
    if not sizes:
        return None
    gauge, times = chance.choice(sizes)
    return f"gauge:{wire.key}/{times}", Fault("wrong gauge", wire=wire.key, gauge=gauge), {wire.circuit}


def _pair(harness: MeasuredHarness, chance: random.Random) -> list[str] | None:
    place = chance.choice(list(harness.terminals))
    near = [p for p in harness.neighbours.get(place, ()) if p in harness.terminals]
    near = [p for p in near if harness.terminals[p].circuit != harness.terminals[place].circuit]
    return sorted((place, chance.choice(near))) if near else None


def _swap(harness: MeasuredHarness, chance: random.Random) -> One | None:
    pair = _pair(harness, chance)
    if pair is None:
        return None
    one, other = pair
    fault = Fault("swapped", connector=harness.connector_of[one], moves=((one, other), (other, one)))
    return f"swap:{one}/{other}", fault, _circuits(harness, pair)


def _move(harness: MeasuredHarness, chance: random.Random) -> One | None:
    place = chance.choice(list(harness.terminals))
    empty = [p for p in harness.neighbours.get(place, ()) if p not in harness.terminals]
    if not empty:
        return None
    other = chance.choice(empty)
    fault = Fault("moved", connector=harness.connector_of[place], moves=((place, other),))
    return f"move:{place}/{other}", fault, _circuits(harness, (place,)) | {other}


def _touching(harness: MeasuredHarness, chance: random.Random) -> One | None:
    pair = _pair(harness, chance)
    if pair is None:
        return None
    firsts = sorted(harness.circuits[harness.terminals[p].circuit][0] for p in pair)
    return f"short:{pair[0]}/{pair[1]}", Fault("short", a=firsts[0], b=firsts[1]), _circuits(harness, pair)


def _leak(harness: MeasuredHarness, chance: random.Random) -> One | None:
    pair = _pair(harness, chance)
    if pair is None:
        return None
    ohm = round(10 ** chance.uniform(3.5, 5.5))
    firsts = sorted(harness.circuits[harness.terminals[p].circuit][0] for p in pair)
    fault = Fault("leakage", a=firsts[0], b=firsts[1])
    return f"leak:{pair[0]}/{pair[1]}/{ohm}", fault, _circuits(harness, pair)


def _whole(word: str, kinds: tuple[FaultKind, ...]) -> Maker:
    def make(harness: MeasuredHarness, chance: random.Random) -> One | None:
        able = [k for k, ways in harness.rearranged.items() if any(how in kinds for how, _ in ways)]
        if not able:
            return None
        connector = chance.choice(able)
        ways = harness.rearranged[connector]
        how, moves = next(way for kind in kinds for way in ways if way[0] == kind)
        places = {p for move in moves for p in move}
        return (
            f"{word}:{connector}",
            Fault(how, connector=connector, moves=moves),
            _circuits(harness, places) | places,
        )

    return make


_MAKERS: dict[str, Maker] = {
    "open": _open,
    "loose": _loose,
    "high": _high,
    "gauge": _gauge,
    "swap": _swap,
    "move": _move,
    "short": _touching,
    "leak": _leak,
    "mirror": _whole("mirror", ("mirrored", "reversed")),
    "turn": _whole("turn", ("turned by 180 degrees",)),
    "rows": _whole("rows", ("rows turned", "shifted by one")),
}


def same_fault(told: Fault, named: Fault) -> bool:
    """Whether a fault that was named is the one that was made: how many ohm apart."""
    if told.kind in ("mirrored", "reversed", "turned by 180 degrees", "rows turned", "shifted by one",
                     "rows exchanged"):  # fmt: skip
        return dict(told.moves) == dict(named.moves)
    near = told.gauge == named.gauge or not told.gauge
    return (told.kind, told.wire, told.moves, told.a, told.b) == (
        named.kind, named.wire, named.moves, named.a, named.b,
    ) and near  # fmt: skip


def said_as_faults(said: FaultSet) -> list[Fault]:
    """A set that was said, as faults again."""
    faults: list[Fault] = []
    for f in said.faults:
        a, b = f.places[:2] if f.kind in JOINED else ("", "")
        faults.append(Fault(f.kind, f.wire, f.connector, f.moves, a, b, f.ohm, f.gauge))
    return faults


def same_set(told: set[Fault], named: Sequence[Fault]) -> bool:
    """Whether a set that was named is the set that was made."""
    left = list(named)
    for fault in told:
        match = next((n for n in left if same_fault(fault, n)), None)
        if match is None:
            return False
        left.remove(match)
    return not left
