"""Connectors that could be swapped are told in groups that are whole, and each in one group only."""

from __future__ import annotations

import itertools
import random

import networkx as nx
import pytest

from inkthread.catalogue import shipped_catalogue
from inkthread.core.document import parse_document
from inkthread.core.document.starter import new_document
from inkthread.core.evaluate import evaluate

REACH_MM = 300.0


def scattered(
    places: dict[str, float], marks: dict[str, str], circuits: dict[str, str], meets: dict[str, str]
):
    """Connectors that look alike at places along a run, each with a mark, a circuit and what it meets."""
    plain = new_document("row", "vehicle")
    along = sorted({*places.values(), 0.0})
    plain["route"]["points"] = {f"P{n}": {"order": n, "name": ""} for n in range(len(along))}
    plain["route"]["branches"] = {
        f"R{n}": {
            "order": n,
            "from_point": f"P{n}",
            "to_point": f"P{n + 1}",
            "length_mm": b - a,
            "measured": "tape",
        }
        for n, (a, b) in enumerate(itertools.pairwise(along))
    }
    for n, (name, at) in enumerate(places.items()):
        device = f"D{name}"
        pins = {"1": {"order": 1, "role": "signal", "name": ""}}
        plain["circuits"]["devices"][device] = {
            "order": n,
            "name": "",
            "kind": "other",
            "pins": pins,
            "paths": {},
        }
        plain["ends"]["connectors"][name] = {
            "order": n, "family": "SR16", "ways": 2, "name": "", "point": f"P{along.index(at)}", "shell": "plug",
            "contact_gender": "socket", "mark": marks.get(name, ""), "meets": meets.get(name),
        }  # fmt: skip
        plain["ends"]["pinout"][f"{device}.1"] = {"order": n, "connector": name, "cavity": "1"}
    for n, circuit in enumerate(sorted(set(circuits.values()))):
        on = [f"D{name}.1" for name in places if circuits[name] == circuit]
        ends = {ref: {"order": i} for i, ref in enumerate(on)}
        plain["circuits"]["circuits"][circuit] = {"order": n, "name": "", "ends": ends}
    plain["brief"]["house_rules"]["lookalike_reach_mm"] = {"order": 1, "value": REACH_MM, "reason": "test"}
    return plain


def told(plain) -> list[set[str]]:
    findings = evaluate(parse_document(plain), shipped_catalogue()).findings
    return [{p.id for p in f.places} for f in findings if f.code == "look-alikes"]


def test_four_in_a_row_are_one_group_whichever_comes_first():
    at = {"J1": 0.0, "J2": 500.0, "J3": 750.0, "J4": 250.0}
    circuits = {name: f"C{name}" for name in at}
    assert told(scattered(at, {}, circuits, {})) == [{"J1", "J2", "J3", "J4"}]


def test_at_the_edge_of_the_reach():
    circuits = {"J1": "C1", "J2": "C2"}
    assert told(scattered({"J1": 0.0, "J2": REACH_MM}, {}, circuits, {})) == [{"J1", "J2"}]
    assert told(scattered({"J1": 0.0, "J2": REACH_MM + 0.5}, {}, circuits, {})) == []


@pytest.mark.parametrize("seed", range(12))
def test_groups_are_those_of_all_pairs(seed):
    """Against every pair held against every other, joined by a library for graphs."""
    rng = random.Random(seed)
    names = [f"J{n}" for n in range(7)]
    at = {name: rng.choice([0.0, 120.0, 300.0, 420.0, 730.0, 1200.0, 1500.0]) for name in names}
    marks = {name: rng.choice(["red sleeve", "blue sleeve"]) for name in names if rng.random() < 0.5}
    circuits = {name: f"C{rng.randrange(4)}" for name in names}
    meets = {names[0]: names[1]} if rng.random() < 0.3 else {}
    graph = nx.Graph()
    for a, b in itertools.combinations(names, 2):
        marked_apart = a in marks and b in marks and marks[a] != marks[b]
        mated = meets.get(a) == b or meets.get(b) == a
        if not marked_apart and not mated and circuits[a] != circuits[b] and abs(at[a] - at[b]) <= REACH_MM:
            graph.add_edge(a, b)
    expected = sorted(sorted(group) for group in nx.connected_components(graph))
    assert sorted(sorted(group) for group in told(scattered(at, marks, circuits, meets))) == expected
