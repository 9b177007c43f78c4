"""A fault hidden in the builder's own harness, to be found with a meter; and questions on its faces."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Sequence
from itertools import combinations
from typing import Literal, TypeVar

from inkthread.core.build import Rooms
from inkthread.core.catalogue import Proofs
from inkthread.core.prove.candidates import broken, joined
from inkthread.core.prove.faults import Built, Fault, Meter, Network, Way
from inkthread.core.prove.words import Sayer, differ
from inkthread.core.record import record

Chance = Callable[[int], int]
"""A whole number from 0 to below the one that is given; the same row of numbers hides the same fault."""
T = TypeVar("T")
_JOINT_OHM = 2.0
"""What a hidden poor joint has too much."""
_MOST_SUSPECTS, _CIRCUITS_TRIED = 14, 20
_EXACT_TO = 3
"""Sets of so many probes are tried one and all; beyond that the best probe is added, one after the other."""


@record
class Exercise:
    """What is told, where may be measured, and what it may be."""

    told: str
    """The circuits that do not do what they should."""
    places: tuple[str, ...]
    suspects: tuple[str, ...]
    hidden: int
    """Which of the suspects it is."""
    least: int
    """The fewest probes after which it can be nothing else."""


@record
class _Hidden:
    circuits: tuple[str, ...]
    suspects: tuple[Fault, ...]
    hidden: int
    places: tuple[str, ...]


def exercise_of(network: Network, proofs: Proofs, meter: Meter, chance: Chance) -> Exercise | None:
    """A fault hidden by chance; None where the harness has nothing to find."""
    hidden = _hide(network, meter, chance)
    if hidden is None:
        return None
    sayer = Sayer(network, proofs)
    return Exercise(
        ", ".join(hidden.circuits),
        hidden.places,
        tuple(sayer.words(fault) for fault in hidden.suspects),
        hidden.hidden,
        _fewest(network, meter, hidden),
    )


def probe(network: Network, meter: Meter, chance: Chance, a: str, b: str) -> float | None:
    """What the meter shows between two places of an exercise, in ohm; infinite where open, None where either
    is no place of it.
    """
    hidden = _hide(network, meter, chance)
    if hidden is None or a not in hidden.places or b not in hidden.places:
        return None
    if a == b:
        return 0.0
    way = Built(network, [hidden.suspects[hidden.hidden]]).way(a, b)
    return math.inf if way is None or meter.is_open(way.least) else (way.least + way.most) / 2


def _shuffled(items: Sequence[T], chance: Chance) -> list[T]:
    """All of them in an order by chance (Durstenfeld, CACM 7, 1964)."""
    order = list(items)
    for last in range(len(order) - 1, 0, -1):
        other = chance(last + 1)
        order[last], order[other] = order[other], order[last]
    return order


def _hide(network: Network, meter: Meter, chance: Chance) -> _Hidden | None:
    harness = network.harness
    circuits = sorted(c for c, places in harness.circuits.items() if len(places) > 1)
    for circuit in _shuffled(circuits, chance)[:_CIRCUITS_TRIED]:
        beside = [c for c in _beside(network, circuit) if len(harness.circuits[c]) > 1]
        others = _shuffled(beside, chance)[:2]
        places = tuple(sorted({p for c in (circuit, *others) for p in harness.circuits[c]}))
        suspects = _told_apart(network, meter, list(_suspects(network, circuit, others)), places)
        if len(suspects) < 3:
            continue
        suspects = _shuffled(suspects, chance)[:_MOST_SUSPECTS]
        return _Hidden((circuit, *others), tuple(suspects), chance(len(suspects)), places)
    return None


def _beside(network: Network, circuit: str) -> list[str]:
    """Circuits that have a way beside one of this one's on any face."""
    near = {
        network.points[other]
        for place in network.harness.circuits[circuit]
        for other in network.harness.neighbours.get(place, ())
        if other in network.points
    }
    return sorted(near - {circuit})


def _suspects(network: Network, circuit: str, others: list[str]) -> Iterator[Fault]:
    """What may be wrong: any wire open or with a poor joint, a neighbour that touches, two exchanged."""
    sound, harness = Built(network), network.harness
    for key, wire in harness.wires.items():
        if wire.circuit == circuit:
            yield broken(sound, key)
            if not wire.resistive and not wire.drain:
                yield Fault("high joint", wire=key, ohm=_JOINT_OHM)
    for other in others:
        yield joined(harness.circuits[circuit][0], harness.circuits[other][0], 0.0)
        for one, two in _neighbours(network, circuit, other):
            a, b = sorted((one, two))
            yield Fault("swapped", connector=harness.connector_of[a], moves=((a, b), (b, a)))


def _neighbours(network: Network, circuit: str, other: str) -> Iterator[tuple[str, str]]:
    for place in network.harness.circuits[circuit]:
        for near in network.harness.neighbours.get(place, ()):
            if network.points.get(near) == other:
                yield place, near


def _told_apart(
    network: Network, meter: Meter, suspects: list[Fault], places: tuple[str, ...]
) -> list[Fault]:
    """Of suspects that a meter cannot tell from each other at any two places, the first."""
    kept: list[tuple[Fault, Built]] = []
    pairs = list(combinations(places, 2))
    for fault in suspects:
        built = Built(network, [fault])
        if all(any(differ(built.way(*p), known.way(*p), meter) for p in pairs) for _, known in kept):
            kept.append((fault, built))
    return [fault for fault, _ in kept]


def _fewest(network: Network, meter: Meter, hidden: _Hidden) -> int:
    """The fewest probes that rule out every other suspect: a least set of pairs that hits them all."""
    true = Built(network, [hidden.suspects[hidden.hidden]])
    others = [Built(network, [f]) for n, f in enumerate(hidden.suspects) if n != hidden.hidden]
    rules_out: set[frozenset[int]] = set()
    for pair in combinations(hidden.places, 2):
        way: Way | None = true.way(*pair)
        rules_out.add(frozenset(n for n, b in enumerate(others) if differ(way, b.way(*pair), meter)))
    every = frozenset(range(len(others)))
    useful = [r for r in rules_out if r and not any(r < other for other in rules_out)]
    for count in range(1, _EXACT_TO + 1):
        if any(every <= frozenset().union(*some) for some in combinations(useful, count)):
            return count
    left, count = set(every), 0
    while left:
        best = max(useful, key=lambda r: len(r & left))
        left -= best
        count += 1
    return count


Side = Literal["wire", "mating"]


@record
class Question:
    """Which way is this, seen from that side?"""

    connector: str
    face: str
    """Key of its faces in the room's table of faces."""
    side: Side
    cavity: str
    choices: tuple[str, ...]


_QUESTIONS, _CHOICES = 10, 4


def drill_of(rooms: Rooms, chance: Chance) -> tuple[Question, ...]:
    """Ten questions on the connectors of a harness; none where no face has three ways or more."""
    families = rooms.context.catalogue.connectors
    faced = [
        end
        for end in rooms.ends.connectors.values()
        if len(end.cavities) > 2 and not families[end.family].loose and end.face in rooms.ends.faces
    ]
    questions = []
    for _ in range(_QUESTIONS if faced else 0):
        end = faced[chance(len(faced))]
        ways = list(rooms.ends.faces[end.face].wire_side.cavities)
        cavity = ways[chance(len(ways))]
        wrong = _shuffled([w for w in ways if w != cavity], chance)
        choices = _shuffled([cavity, *wrong[: _CHOICES - 1]], chance)
        side: Side = "wire" if chance(2) else "mating"
        questions.append(Question(end.id, end.face, side, cavity, tuple(choices)))
    return tuple(questions)
