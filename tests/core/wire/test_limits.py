"""Gauges by their limits, drops, colours and heat."""

from __future__ import annotations

import itertools

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from inkthread.core.wire import LIMITS
from inkthread.core.wire.drop import DropProblem, EndToEnd, least_copper, loop_volts
from tests.conftest import HarnessBuilder


def wire(evaluation, text):
    """The wire one of whose ends begins with the text."""
    return next(
        w
        for w in evaluation.wire.wires.values()
        if w.from_text.startswith(text) or w.to_text.startswith(text)
    )


def test_governing_limit_is_one_that_the_next_smaller_size_fails(chassis):
    from inkthread.core.reckoning import candidates_of
    from inkthread.core.wire import LIMITS

    workings = chassis.workings()
    for key, made in workings.evaluation.wire.wires.items():
        candidates = candidates_of(workings, key)
        n = next(i for i, c in enumerate(candidates) if c.chosen)
        assert not candidates[n].fails
        if n:
            below = candidates[n - 1]
            assert made.governs in below.fails
            worst = max(below.limits[LIMITS.index(f)] for f in below.fails)
            assert below.limits[LIMITS.index(made.governs)] == worst


def brute_force(problem: DropProblem) -> float:
    best = np.inf
    ranges = [range(a, b + 1) for a, b in zip(problem.lowest, problem.highest, strict=True)]
    for sizes in itertools.product(*ranges):
        chosen = np.array(sizes)
        if (loop_volts(problem, chosen) <= problem.limits_v + 1e-12).all():
            best = min(best, problem.copper[np.arange(len(chosen)), chosen].sum())
    return float(best)


@given(st.integers(1, 6), st.integers(0, 2**32 - 1), st.booleans())
@settings(max_examples=40, deadline=None)
def test_volts_around_loops_laid_end_to_end_are_those_of_each_by_itself(count, seed, whole):
    """Against one loop after another, added up in plain numbers."""
    rng = np.random.default_rng(seed)
    volts = rng.random(12)
    loops = [rng.integers(0, 12, rng.integers(1, 20)) for _ in range(count)]
    parts = None if whole else [rng.random(len(loop)) for loop in loops]
    expected = [
        sum(float(volts[i]) * (1.0 if parts is None else float(parts[k][n])) for n, i in enumerate(loop))
        for k, loop in enumerate(loops)
    ]
    assert EndToEnd.of(loops, parts).summed(volts).tolist() == pytest.approx(expected, rel=1e-12)


def test_no_loop_loses_nothing():
    assert EndToEnd.of([], None).summed(np.ones(3)).tolist() == []


@pytest.mark.slow
@given(st.data())
@settings(max_examples=60, deadline=None)
def test_least_copper_holds_every_loop_and_is_near_the_true_least(data):
    """Against trying everything: feasible where anything is, at most 12 % above, seldom 1 %."""
    n = data.draw(st.integers(2, 5))
    area = np.array([0.35, 0.56, 0.81, 1.23, 1.94])
    length = np.array([data.draw(st.floats(0.2, 4)) for _ in range(n)])
    amps = np.array([data.draw(st.floats(0.5, 10)) for _ in range(n)])
    volts = amps[:, None] * length[:, None] * 0.0185 / area[None, :]
    copper = length[:, None] * area[None, :] * 1000
    loops = [
        np.array(sorted(data.draw(st.sets(st.integers(0, n - 1), min_size=1, max_size=n))))
        for _ in range(data.draw(st.integers(1, 3)))
    ]
    least_possible = np.array([volts[loop, -1].sum() for loop in loops])
    limits = least_possible * data.draw(st.floats(1.02, 4))
    problem = DropProblem(
        volts, copper, np.zeros(n, dtype=np.intp), np.full(n, 4, dtype=np.intp), loops, limits
    )
    chosen = least_copper(problem)
    assert (loop_volts(problem, chosen) <= limits + 1e-9).all()
    found = copper[np.arange(n), chosen].sum()
    assert found <= brute_force(problem) * 1.12 + 1e-9


def test_every_loop_holds_its_drop_limit_and_uses_each_sections_own_current(chassis):
    w = chassis.workings()
    for loop in w.evaluation.wire.loops.values():
        assert loop.drop_v <= loop.limit_v
        assert loop.drop_v == pytest.approx(
            sum(w.evaluation.wire.wires[k].loss_v for k in loop.wires) + loop.devices_v, abs=1e-5
        )
    pump_loop = w.evaluation.wire.loops["M1"]
    trunk = [w.evaluation.wire.wires[k].carries_a for k in pump_loop.wires]
    assert max(trunk) == pytest.approx(5.2), "the trunk drops by its own current, not the pump's"


def test_where_nothing_fits_the_largest_is_kept_and_a_stop_says_so():
    builder = (
        HarnessBuilder("vehicle")
        .feed("B1 battery > F1 fuse > M1 winch 90 A > B1")
        .run("B1 200 > F1 3000 > M1")
    )
    e = builder.evaluate()
    assert all(w.gauge == "8 AWG" for w in e.wire.wires.values())
    assert "nothing-fits" in [f.code for f in e.findings]
    assert e.parts.lines


def test_a_fixed_gauge_is_judged_as_strictly_as_the_programs_own(pump):
    key = next(k for k, w in pump.evaluate().wire.wires.items() if w.to_text.startswith("M1"))
    pump.set(f"wire/fixed/{key}", {"order": 1, "reason": "spool at hand", "gauge": "22 AWG"})
    e = pump.evaluate()
    assert e.wire.wires[key].gauge == "22 AWG"
    assert e.wire.wires[key].fixed
    finding = next(f for f in e.findings if f.code == "fixed-fails")
    assert finding.remedies[0].operations[0]["op"] == "remove"


def test_colours_do_not_repeat_inside_a_connector(chassis):
    e = chassis.evaluate()
    for connector in e.ends.connectors.values():
        circuits = {}
        for c in connector.cavities:
            if c.wire:
                made = e.wire.wires[c.wire]
                circuits.setdefault(made.colour, set()).add(made.circuit)
        assert all(len(x) == 1 for x in circuits.values()), connector.id


@pytest.mark.slow
@given(st.floats(0.1, 12), st.floats(0.1, 6))
@settings(max_examples=25, deadline=None)
def test_more_current_never_asks_for_less_copper(low, more):
    def copper(amps: float) -> float:
        builder = HarnessBuilder("vehicle").feed(f"B1 battery > F1 fuse > M1 pump {amps:.3f} A > B1")
        # One fuse for all: a larger one loses less, and leaves more of the drop to the wires.
        builder.set("circuits/devices/F1/paths/1/rating_a", 25.0)
        e = builder.run("B1 200 > F1 1500 > M1").evaluate()
        return sum(w.area_mm2 * c.finished_mm for c in e.cut.cuts for w in [e.wire.wires[c.wire]])

    assert copper(low + more) >= copper(low) / 1.06, "in all; single wires may trade places"


def test_air_above_the_rating_is_told_once_and_everything_else_is_still_worked_out(pump):
    pump.shaded()
    cool = pump.evaluate()
    pump.set("brief/zones", {"hot": {"order": 1, "name": "Exhaust", "ambient_c": 130}})
    pump.plain["route"]["branches"][next(reversed(pump.plain["route"]["branches"]))]["zone"] = "hot"
    found = pump.evaluate()
    told = [f for f in found.findings if f.code == "zone-too-hot" and f.places[0].room == "brief"]
    assert len(told) == 1
    assert "rated 125 °C" in told[0].what
    # It says what would do: the least heat-proof family that stands it.
    named = told[0].remedies[0].text.partition("such as ")[2].partition(",")[0]
    assert pump.catalogue.wires[named].temperature_c > 130
    # No size helps there: none is made larger than its hot copper loses volts, and nothing is said twice.
    assert {f.code for f in found.findings} - {f.code for f in cool.findings} <= {"zone-too-hot"}
    for hot, before in zip(found.wire.wires.values(), cool.wire.wires.values(), strict=True):
        assert hot.area_mm2 <= 1.7 * before.area_mm2
        assert hot.limits[LIMITS.index("drop")] <= 1
    ambient_above_rating = [w for w in found.wire.wires.values() if w.temperature_c >= 130]
    assert ambient_above_rating
    assert all(w.limits[LIMITS.index("current")] > 1 for w in ambient_above_rating if w.carries_a)


def test_wires_that_stand_the_air_are_sized_there_as_if_the_others_were_not(pump):
    pump.set("brief/zones", {"hot": {"order": 1, "name": "Exhaust", "ambient_c": 130}})
    for branch in pump.plain["route"]["branches"].values():
        branch["zone"] = "hot"
    circuits = pump.plain["circuits"]["circuits"]
    for c in circuits.values():
        c["family"] = "AS22759/11"
    proof = {w.circuit: w.gauge for w in pump.evaluate().wire.wires.values()}
    last = list(circuits)[-1]
    circuits[last]["family"] = None
    mixed = pump.evaluate()
    assert {w.circuit: w.gauge for w in mixed.wire.wires.values() if w.circuit != last} == {
        k: v for k, v in proof.items() if k != last
    }
    assert "branch-too-hot" not in {f.code for f in mixed.findings}
