"""The fewest parts against trying every choice, and against a set cover solved by enumeration."""

from __future__ import annotations

from itertools import combinations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from inkthread.core.wire.choose import cover, fewest_parts
from inkthread.core.wire.families import Chains


@st.composite
def feasible_sets(draw: st.DrawFn) -> np.ndarray:
    """What each of a few wires may be made as; every wire has something."""
    wires, parts = draw(st.integers(1, 8)), draw(st.integers(1, 7))
    rows = [
        sorted(draw(st.sets(st.integers(0, parts - 1), min_size=1, max_size=parts))) for _ in range(wires)
    ]
    table = np.zeros((wires, parts), dtype=bool)
    for n, row in enumerate(rows):
        table[n, row] = True
    return table


def fewest_by_trying(table: np.ndarray) -> int:
    parts = table.shape[1]
    for count in range(1, parts + 1):
        if any(table[:, list(held)].any(axis=1).all() for held in combinations(range(parts), count)):
            return count
    raise AssertionError("every wire has something")


@settings(max_examples=60, deadline=None)
@given(feasible_sets())
def test_a_cover_is_the_smallest_there_is(table):
    taken, bound = cover(table)
    assert table[:, taken].any(axis=1).all(), "every wire is made"
    assert int(taken.sum()) == fewest_by_trying(table) == bound


def test_without_time_for_a_proof_the_bound_is_still_one():
    rng = np.random.default_rng(4)
    table = rng.random((60, 30)) < 0.12
    table[~table.any(axis=1), 0] = True
    taken, bound = cover(table, time_limit_s=1e-9)
    assert table[:, taken].any(axis=1).all()
    assert 1 <= bound <= int(taken.sum())


@st.composite
def chains_and_limits(draw: st.DrawFn):
    """Wires whose chains are runs of one table, thinnest first, and which of their candidates pass."""
    wires, width = draw(st.integers(1, 6)), draw(st.integers(1, 5))
    table = width + draw(st.integers(0, 3))
    index = np.array([[min(draw(st.just(s)) + k, table - 1) for k in range(width)] for s in [
        draw(st.integers(0, table - width)) for _ in range(wires)
    ]])  # fmt: skip
    length = np.array([draw(st.integers(1, width)) for _ in range(wires)])
    chosen = np.array([draw(st.integers(0, int(n) - 1)) for n in length])
    passes = np.array([[draw(st.booleans()) for _ in range(width)] for _ in range(wires)])
    fixed = {n for n in range(wires) if draw(st.integers(0, 5)) == 0}
    return index, length, chosen, passes, fixed


@settings(max_examples=80, deadline=None)
@given(chains_and_limits())
def test_the_fewest_parts_are_as_few_as_any_choice_that_holds(made):
    index, length, chosen, passes, fixed = made
    wires, width = index.shape
    spent = np.arange(width, dtype=float)[None, :] + np.zeros((wires, 1))
    found = fewest_parts(Chains(index, length, length), chosen, passes, fixed, spent)

    # What each wire may be: thicker or the same, passing by itself, not if it is fixed.
    may = []
    for i in range(wires):
        places = {int(chosen[i])}
        if i not in fixed:
            places |= {k for k in range(int(chosen[i]), int(length[i])) if passes[i, k]}
        may.append(places)
    assert all(int(found.chosen[i]) in may[i] for i in range(wires))
    picked = {int(index[i, found.chosen[i]]) for i in range(wires)}
    assert found.parts == len(picked)

    sets = np.zeros((wires, int(index.max()) + 1), dtype=bool)
    for i, places in enumerate(may):
        sets[i, [int(index[i, k]) for k in places]] = True
    assert found.parts == fewest_by_trying(sets)
    assert found.proved


def test_of_the_parts_taken_each_wire_gets_the_one_that_spends_least():
    index = np.array([[0, 1, 2], [1, 2, 3], [2, 3, 4]])
    length = np.array([3, 3, 3])
    passes = np.ones((3, 3), dtype=bool)
    spent = np.array([[1.0, 2.0, 4.0], [2.0, 4.0, 8.0], [4.0, 8.0, 16.0]])
    found = fewest_parts(Chains(index, length, length), np.zeros(3, dtype=int), passes, set(), spent)
    assert found.parts == 1
    assert index[np.arange(3), found.chosen].tolist() == [2, 2, 2]
    # A wire that is fixed stays, and the others come to it where they can.
    found = fewest_parts(Chains(index, length, length), np.array([0, 0, 1]), passes, {2}, spent)
    assert index[2, found.chosen[2]] == 3
    assert found.parts == 2


@pytest.mark.parametrize("practice", ["motorsport", "vehicle", "equipment"])
def test_choosing_the_fewest_never_adds_a_part_and_never_thins_a_wire(chassis, practice):
    chassis.set("brief/practice", practice)
    least = chassis.evaluate()
    chassis.set("wire/objective", "fewest parts")
    fewest = chassis.evaluate()
    parts = {(w.family, w.gauge) for w in least.wire.wires.values()}
    fewer = {(w.family, w.gauge) for w in fewest.wire.wires.values()}
    assert len(fewer) <= len(parts)
    for key, wire in fewest.wire.wires.items():
        assert wire.area_mm2 >= least.wire.wires[key].area_mm2 - 1e-9
    stops = {f.code for f in fewest.findings if f.severity == "stop"}
    assert stops <= {f.code for f in least.findings if f.severity == "stop"}
