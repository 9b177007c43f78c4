"""The plan of tests: every pair covered, bands from handbook figures, what each practice asks."""

from __future__ import annotations

import itertools
import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from inkthread.core.ends.detail import pull_force_n
from inkthread.core.prove import plan_tests
from inkthread.core.prove.faults import Meter
from inkthread.core.reckoning.wires import gauge
from inkthread.demo import DEMOS, demo_document
from tests.conftest import HarnessBuilder
from tests.core.scenarios import ignition, pump, ruled, zoned

WORKED = {name: HarnessBuilder(plain=demo_document(name)).workings() for name in DEMOS}


@pytest.mark.parametrize("name", DEMOS)
@pytest.mark.parametrize("by", ["hand", "tester"])
def test_every_circuit_is_shown_apart_from_every_other(name, by):
    """Counted pair by pair: some row has the one in its first group and the other in its second."""
    plan = plan_tests(WORKED[name].rooms, by=by)
    circuit_of = plan.network.points
    covered: set[frozenset[str]] = set()
    for row in plan.rows:
        if row.kind == "isolation":
            for a, b in itertools.product(row.a, row.b):
                if a in circuit_of and b in circuit_of:
                    covered.add(frozenset((circuit_of[a], circuit_of[b])))
    assert covered == {frozenset(pair) for pair in itertools.combinations(plan.harness.circuits, 2)}
    probes = sum(row.kind == "isolation" for row in plan.rows)
    least = math.ceil(math.log2(len(plan.harness.circuits)))
    assert probes == (least if by == "hand" else len(plan.harness.terminals))


@pytest.mark.parametrize("name", DEMOS)
def test_every_end_of_every_circuit_is_reached(name):
    plan = plan_tests(WORKED[name].rooms)
    lines = [row for row in plan.rows if row.kind in ("continuity", "resistive lead", "shield")]
    reached = {place for row in lines for place in (*row.a, *row.b)}
    alone = {places[0] for places in plan.harness.circuits.values() if len(places) == 1}
    assert reached | alone == set(plan.harness.terminals)
    assert len(lines) == len(plan.harness.terminals) - len(plan.harness.circuits)


@pytest.mark.parametrize(("bench_c", "times"), [(20.0, 1.0), (0.0, 0.9214), (35.0, 1.05895), (-10.0, 0.8821)])
def test_copper_reads_more_when_it_is_warm(bench_c, times):
    """IEC 60028: 0.00393 a kelvin from 20 deg C."""
    cool, warm = (plan_tests(WORKED["larkspur"].rooms, c) for c in (20.0, bench_c))
    for key, wire in warm.harness.wires.items():
        if not wire.resistive:
            before = cool.harness.wires[key]
            copper, at_20 = wire.ohms.minus(wire.joints), before.ohms.minus(before.joints)
            assert copper.most == pytest.approx(at_20.most * times, rel=1e-9)


def test_bands_are_those_of_the_standard():
    """0.75 mm2 class 5, plain copper: at most 26.0 ohm/km at 20 deg C (IEC 60228 table 3, from memory)."""
    builder = ruled(pump(), test_reads_mohm=1)
    plan = plan_tests(builder.workings().rooms)
    for wire in plan.harness.wires.values():
        size = builder.workings().wire.families[wire.family].size(wire.gauge)
        most = size.resistance_ohm_per_km / 1000 * wire.length_m
        assert wire.ohms.most == pytest.approx(most * 1.03 + wire.joints.most, rel=1e-9)
        assert wire.ohms.least == pytest.approx(most * 0.88, rel=1e-9)


@pytest.mark.parametrize(("inches", "least", "most"), [(36, 120, 150), (10.75, 36, 45), (9.25, 31, 39)])
def test_ohms_of_a_resistive_lead(inches, least, most):
    """Forty to fifty ohm a foot: 36 in is 120 to 150 ohm (common practice, a workshop's own figures)."""
    family = WORKED["larkspur"].catalogue.wires["IGNITION-8"]
    assert family.lead_ohm(inches * 0.0254) == pytest.approx((least, most), abs=0.8)
    plan = plan_tests(ignition().workings().rooms)
    rows = [row for row in plan.rows if row.kind == "resistive lead"]
    assert rows
    for row in rows:
        wire = next(w for w in plan.harness.wires.values() if {w.a, w.b} == {*row.a, *row.b})
        low, high = family.lead_ohm(wire.length_m)
        assert row.low_ohm == pytest.approx(low / 1.02, rel=1e-3)
        assert row.high_ohm == pytest.approx((high + wire.joints.most) / 0.98, rel=1e-3)


@given(st.floats(0, 1e4), st.floats(0, 1e4), st.floats(0, 1e4))
def test_a_band_is_what_is_judged_by(one, other, ohm):
    """What a row shows as its band, and whether a reading holds, are one and the same."""
    meter, least, most = Meter(), min(one, other), max(one, other)
    low, high = meter.band(least, most)
    assert low <= least <= most <= high
    assert meter.within(ohm, least, most) == (low <= ohm <= high)
    off = meter.reads_ohm + ohm * meter.share
    if abs(least - off - ohm) > 1e-6 and abs(most + off - ohm) > 1e-6:
        assert meter.within(ohm, least, most) == (least - off <= ohm <= most + off)


def kinds(builder: HarnessBuilder) -> list[str]:
    return [row.kind for row in plan_tests(builder.workings().rooms).rows]


def test_house_rules_say_what_is_tested():
    still = kinds(pump())
    assert "motion" not in still
    assert kinds(zoned(pump(), vibration=True)).count("motion") == still.count("continuity")
    assert kinds(ruled(pump(), test_motion=2)).count("motion") == still.count("continuity")
    assert "motion" not in kinds(ruled(zoned(pump(), vibration=True), test_motion=3))
    assert "isolation" not in kinds(ruled(pump(), test_isolation=2))
    assert "resistive lead" not in kinds(ruled(ignition(), test_leads=2))
    assert "looks" not in kinds(ruled(pump(), test_looks=2))
    assert "pull" not in kinds(ruled(pump(), test_pulls=0))
    assert "insulation" not in still
    volts = ruled(pump(), test_insulation_v=500)
    assert kinds(volts).count("insulation") == len(plan_tests(volts.workings().rooms).harness.circuits)
    assert "insulation" in kinds(pump("aviation"))


def test_what_nothing_in_the_plan_would_find_is_said():
    every, few = (
        plan_tests(b.workings().rooms).uncaught
        for b in (ruled(pump(), test_insulation_v=500, test_motion=2), ruled(pump(), test_isolation=2))
    )
    assert "insulation that gives way at voltage" not in every
    assert {"two circuits that touch", "a contact that lets go when it shakes"} <= set(few)
    assert set(every) < set(few)


def test_what_cannot_happen_here_is_not_said_to_be_missed():
    missed = set(plan_tests(pump().workings().rooms).uncaught)
    assert "a harness that rubs where it lies" in missed, "that can happen to any"
    assert not missed & {
        "the core of a resistive lead pulled or broken at an end",
        "a shield that is not landed",
        "a pair crossed at one end",
        "a half that does not mate",
    }
    untested = ruled(ignition(), test_leads=2)
    assert (
        "the core of a resistive lead pulled or broken at an end"
        in plan_tests(untested.workings().rooms).uncaught
    )
    whole = plan_tests(WORKED["larkspur"].rooms, by="tester")
    assert "two plugs alike, exchanged on the machine" in whole.uncaught


@pytest.mark.parametrize(("area_mm2", "force_n"), [(0.518, 57.8), (0.823, 89.0), (2.081, 222.4)])
def test_samples_are_pulled_by_the_published_force(area_mm2, force_n):
    """UL 486A, from memory: 13, 20 and 50 lbf for 20, 18 and 14 AWG."""
    table = WORKED["larkspur"].catalogue.pull["UL 486A"]
    assert table.force_n(area_mm2) == pytest.approx(force_n, abs=0.1)
    sae = WORKED["larkspur"].catalogue.wires["J1127-SGX"].size("4 AWG")
    assert sae.area_mm2 < 0.93 * 21.15, "SAE wire has less copper than its name says"
    assert pull_force_n(table, sae) == pytest.approx(622.8, abs=1), "140 lbf for 4 AWG, by its name"
    rows = [row for row in plan_tests(WORKED["larkspur"].rooms).rows if row.kind == "pull"]
    assert rows
    assert all(row.least_n and row.least_n > 0 and "samples of" in row.words for row in rows)
    assert len({row.words for row in rows}) == len(rows)


def test_a_pair_is_tested_at_both_ends():
    """Each wire of a pair stands apart from the far end of the other."""
    rows = [row for row in plan_tests(WORKED["larkspur"].rooms).rows if row.kind == "pair order"]
    assert {row.circuit for row in rows} == {"C48 × C50", "C49 × C51", "C60 × C61"}
    assert all(row.low_ohm == 1e6 and row.high_ohm is None for row in rows)


@pytest.mark.parametrize("name", DEMOS)
def test_lengths_are_those_of_the_cut_list(name):
    """One truth: what a lead should read is what the cut list and its why card say, lay and bends with it."""
    w = WORKED[name]
    wires = plan_tests(w.rooms).harness.wires
    for cut in w.cut.cuts:
        assert wires[cut.wire].length_m == pytest.approx(cut.finished_mm / 1000)
        if cut.lead_ohm is not None:
            own = wires[cut.wire].ohms.minus(wires[cut.wire].joints)
            assert (own.least, own.most) == pytest.approx(cut.lead_ohm, abs=0.01)
            steps = gauge(w, cut.wire).steps
            said = next(step.result for step in steps if step.label == "resistance")
            assert said == "{:.0f} to {:.0f} Ω".format(*cut.lead_ohm)
