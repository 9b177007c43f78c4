"""Which piece comes off which spool, against another solver and against plain counting."""

from __future__ import annotations

import itertools
import random

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from ortools.sat.python import cp_model

from inkthread.core.cut.plan import CutPlan, Length, Piece, plan_cuts


def _checked(plan: CutPlan, lengths: list[float], pieces: list[float], keep: float) -> CutPlan:
    """What any plan must be: every piece once, nothing longer than what it comes off, sums that add up."""
    placed = [p.id for c in plan.lengths for p in c.pieces]
    assert sorted(placed + [p.id for p in plan.short]) == sorted(f"p{n}" for n in range(len(pieces)))
    for c in plan.lengths:
        assert c.pieces
        assert c.length_mm == lengths[int(c.id[1:])]
        assert sum(p.length_mm for p in c.pieces) + c.left_mm == pytest.approx(c.length_mm)
        assert c.kept == (c.left_mm >= keep)
        assert [p.length_mm for p in c.pieces] == sorted((p.length_mm for p in c.pieces), reverse=True)
    assert plan.waste_mm == pytest.approx(sum(c.left_mm for c in plan.lengths if not c.kept))
    assert plan.lower_bound_mm <= plan.waste_mm
    return plan


def _planned(lengths: list[float], pieces: list[float], keep: float) -> CutPlan:
    plan = plan_cuts(
        [Length(f"s{n}", mm) for n, mm in enumerate(lengths)],
        [Piece(f"p{n}", mm) for n, mm in enumerate(pieces)],
        keep,
        patience_s=120.0,  # how well it plans is tried here, not how fast; the bench measures that
    )
    return _checked(plan, lengths, pieces, keep)


def _least(lengths: list[int], pieces: list[int], keep: int) -> tuple[int, int]:
    """Least that is short in mm, and then least waste: each piece off a bar or short, by CP-SAT."""

    def model() -> tuple[cp_model.CpModel, cp_model.LinearExpr, cp_model.LinearExpr]:
        m = cp_model.CpModel()
        takes = [[m.new_bool_var("") for _ in lengths] for _ in pieces]
        for row in takes:
            m.add_at_most_one(row)
        wasted = []
        for b, length in enumerate(lengths):
            used = sum(takes[p][b] * mm for p, mm in enumerate(pieces))
            m.add(used <= length)
            begun, kept = m.new_bool_var(""), m.new_bool_var("")
            waste = m.new_int_var(0, length, "")
            m.add_max_equality(begun, [takes[p][b] for p in range(len(pieces))])
            m.add(length - used >= keep).only_enforce_if(kept)
            m.add(waste >= length - used).only_enforce_if(begun, kept.negated())
            wasted.append(waste)
        short = sum(pieces) - sum(
            takes[p][b] * mm for p, mm in enumerate(pieces) for b in range(len(lengths))
        )
        return m, short, sum(wasted)

    solver = cp_model.CpSolver()
    solver.parameters.num_workers = 1
    m, short, _ = model()
    m.minimize(short)
    assert solver.solve(m) == cp_model.OPTIMAL
    missing = round(solver.objective_value)
    m, short, waste = model()
    m.add(short == missing)
    m.minimize(waste)
    assert solver.solve(m) == cp_model.OPTIMAL
    return missing, round(solver.objective_value)


@pytest.mark.parametrize("seed", range(40))
def test_a_plan_is_as_good_as_an_exact_solver_makes_it(seed):
    """Random sets against CP-SAT of OR-tools: what is short is the same; waste is the same, and said to be."""
    chance = random.Random(seed)
    pieces = [5 * chance.randint(40, 400) for _ in range(chance.randint(2, 8))]
    lengths: list[int] = []
    reach = chance.choice([0.8, 1.0, 1.1, 1.4])
    while sum(lengths) < sum(pieces) * reach or not lengths:
        lengths.append(chance.choice([5 * chance.randint(60, 700), chance.randint(300, 3500)]))
    missing, waste = _least(lengths, pieces, 300)
    plan = _planned([float(x) for x in lengths], [float(x) for x in pieces], 300)
    assert plan.short_mm == missing
    assert plan.lower_bound_mm <= waste + 0.05
    assert plan.waste_mm == pytest.approx(waste, abs=0.05) or not plan.proved
    if not plan.short:
        assert plan.proved
        assert plan.waste_mm == pytest.approx(waste, abs=0.05)


def test_a_piece_that_leaves_too_little_is_waste_and_proved_so():
    """One spool of 4 m, three pieces of 1.25 m: 250 mm are left, too short to keep (counted by hand)."""
    plan = _planned([4000], [1250] * 3, 300)
    assert (plan.waste_mm, plan.kept_mm, plan.proved) == (250, 0, True)


def test_at_the_edge_of_what_is_kept():
    assert _planned([4000], [3700], 300).kept_mm == 300
    assert _planned([4000], [3700.1], 300).waste_mm == pytest.approx(299.9)


def test_waste_is_avoided_by_leaving_one_remnant_that_is_kept():
    """Off 3 m and 3 m, pieces of 2.8, 1.5 and 0.4 m: with 2.8 alone 200 mm are lost, and no way avoids it."""
    by_hand = 200
    assert _planned([3000, 3000], [2800, 1500, 400], 300).waste_mm == by_hand
    # With 200 mm more to cut nothing is.
    assert _planned([3000, 3000], [2800, 1500, 400, 200], 300).waste_mm == 0


def test_what_no_spool_holds_is_named_short():
    plan = _planned([2000], [2500, 1500], 300)
    assert [p.length_mm for p in plan.short] == [2500]
    assert [p.length_mm for c in plan.lengths for p in c.pieces] == [1500]


def test_without_spools_all_is_short_and_without_pieces_nothing_is_begun():
    assert _planned([], [1000], 300).short_mm == 1000
    assert _planned([1000], [], 300).lengths == ()


def test_whole_spools_are_left_whole():
    """Two pieces go off one of three spools, the shortest that holds them."""
    plan = _planned([100_000, 5000, 25_000], [1000, 1200], 300)
    assert [c.length_mm for c in plan.lengths] == [5000]


def test_every_way_of_a_small_set_tried_by_hand():
    """All 3^5 ways of cutting five pieces off two bars, or leaving them: none is better."""
    lengths, pieces, keep = [2100.0, 1800.0], [900.0, 700.0, 650.0, 500.0, 350.0], 300.0
    best = None
    for places in itertools.product((0, 1, None), repeat=len(pieces)):
        used = [sum(mm for mm, at in zip(pieces, places, strict=True) if at == b) for b in (0, 1)]
        if any(u > length for u, length in zip(used, lengths, strict=True)):
            continue
        short = sum(mm for mm, at in zip(pieces, places, strict=True) if at is None)
        left = [length - u for u, length in zip(used, lengths, strict=True) if u]
        worth = (short, sum(x for x in left if x < keep))
        best = worth if best is None else min(best, worth)
    plan = _planned(lengths, pieces, keep)
    assert (plan.short_mm, plan.waste_mm) == best


@settings(max_examples=80, deadline=None)
@given(
    st.lists(st.floats(50, 20_000), max_size=6),
    st.lists(st.floats(5, 3000), min_size=1, max_size=25),
    st.sampled_from([1.0, 100.0, 300.0, 1500.0]),
)
def test_whatever_is_asked_a_plan_can_be_cut(lengths, pieces, keep):
    plan = plan_cuts(
        [Length(f"s{n}", mm) for n, mm in enumerate(lengths)],
        [Piece(f"p{n}", mm) for n, mm in enumerate(pieces)],
        keep,
        patience_s=0.05,
    )
    for c in plan.lengths:
        assert sum(p.length_mm for p in c.pieces) <= c.length_mm + 0.05 * len(c.pieces)
    assert len(plan.short) + sum(len(c.pieces) for c in plan.lengths) == len(pieces)


@pytest.mark.parametrize("wrong", [0.0, -5.0, float("nan"), float("inf")])
def test_a_length_that_is_none_is_refused(wrong):
    with pytest.raises(ValueError, match="above nought"):
        plan_cuts([Length("s", wrong)], [Piece("p", 100)], 300)
    with pytest.raises(ValueError, match="p is"):
        plan_cuts([Length("s", 1000)], [Piece("p", wrong)], 300)
