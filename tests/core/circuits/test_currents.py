"""Currents and volts in every state of the supply, against nodal analysis and cases worked by hand.

``tests.oracles.Nodal`` solves Kirchhoff's equations of the whole network and shares no code with the core.
"""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import brentq

from inkthread.core.physics.short_time import heat_capacity_j_per_m_k, settled_share
from tests.conftest import HarnessBuilder
from tests.oracles import HeatBalance, Nodal, loads_of

ORACLE = HeatBalance()

LOOSE = {"order": 1, "value": 50.0, "reason": "drop is not what is tried"}


def stated(builder: HarnessBuilder, **source: object) -> HarnessBuilder:
    builder.set("brief/supply_working_v", 13.2)
    base = {"order": 1, "device": "B1", "supply_pin": "+", "return_pin": "-", "kind": "battery"}
    return builder.set("circuits/sources/B1", {**base, **source})


def fix_all(builder: HarnessBuilder, gauge: str) -> HarnessBuilder:
    for key in builder.evaluate().wire.wires:
        builder.set(f"wire/fixed/{key}", {"order": 1, "reason": "tried", "gauge": gauge})
    return builder


def load(builder: HarnessBuilder, device: str, **values: object) -> HarnessBuilder:
    for name, value in values.items():
        builder.set(f"circuits/loads/{device}/{name}", value)
    return builder


def carries(evaluation, *devices: str) -> float:
    return next(
        w.carries_a for w in evaluation.wire.wires.values()
        if all(any(f"{d}-" in t for t in (w.from_text, w.to_text)) for d in devices)
    )  # fmt: skip


# Peaks


def winch(**source: float) -> HarnessBuilder:
    """A winch that stalls at 8 A beside a receiver that needs 6 V, on one battery and one trunk."""
    builder = HarnessBuilder("model").feed(
        "B1 battery > F1 fuse > M1 winch 1.5 A > B1", "F1.out > A1 radio 0.3 A > B1"
    )
    builder.run("B1 200 > F1 800 > mid 300 > M1", "mid 300 > A1")
    for name, value in (("nominal", 7.4), ("working", 7.4), ("least", 7.0)):
        builder.set(f"brief/supply_{name}_v", value)
    builder.set("circuits/sources/B1", {
        "order": 1, "device": "B1", "supply_pin": "+", "return_pin": "-", "kind": "battery", **source,
    })  # fmt: skip
    load(builder, "M1", kind="constant current", peak_a=8.0, peak_s=1.0)
    return load(builder, "A1", kind="constant current", least_v=6.0)


@pytest.mark.parametrize("kind", ["constant current", "constant power", "resistive"])
@pytest.mark.parametrize("internal_mohm", [0.0, 45.0])
def test_a_stall_pulls_down_its_neighbour_through_shared_wire_and_source(kind, internal_mohm):
    builder = fix_all(winch(internal_mohm=internal_mohm), "22 AWG")
    load(builder, "A1", kind=kind, rated_v=7.4)
    w = builder.workings()
    rest = Nodal(w, {"B1": 7.0})
    loads = loads_of(w, 7.4)
    _, at_rest = rest.settle(loads)
    given_a = sum(abs(a) for k, a in at_rest.items() if k == "F1.1")
    # The least supply is what the terminals give at rest current.
    peak = Nodal(w, {"B1": 7.0 + given_a * internal_mohm / 1000}, {"B1": internal_mohm / 1000})
    across, _ = peak.settle(loads, {"M1": 8.0})
    assert across["A1"] < 6.0
    (found,) = [b for b in w.wire.brown_outs if b.load == "A1"]
    assert found.peaks == ("M1",)
    assert found.gets_v == pytest.approx(across["A1"], abs=2e-3)
    told = [f.what for f in w.evaluation.findings if f.code == "brown-out-at-peak"]
    assert any(f"{across['A1']:.2f} V" in t and "M1 winch" in t and "A1 radio" in t for t in told)


def test_a_load_is_held_against_its_own_least_volts_at_its_own_start():
    """A start of 300 A from 11.88 V through 10.27 mohm: 11.88 - 300 x 0.01027 = 8.8 V of the 9 it needs."""
    builder = HarnessBuilder("vehicle").feed("B1 battery > M1 motor 100 A > B1").run("B1 50 > M1")
    for device in ("B1", "M1"):
        builder.plain["ends"]["connectors"][device].update(family="RING", shell="none", stud="M8")
    builder.set("brief/supply_least_v", 11.88).set("wire/family", "J1127-SGX")
    stated(builder, internal_mohm=1.0)
    load(builder, "M1", kind="constant current", current_a=0.0, inrush_a=300.0, inrush_s=0.2, least_v=9.0)
    fix_all(builder, "2/0 AWG")
    w = builder.workings()
    ohm = sum(float(w.wire.tables.row_ohm[i]) for i in range(len(w.wire.tables.keys)))
    more = (11.88 - 8.8) / 300 - ohm
    assert more > 0
    stated(builder, internal_mohm=more * 1000)
    (found,) = builder.workings().wire.brown_outs
    assert (found.load, found.peaks) == ("M1", ("M1",))
    assert found.gets_v == pytest.approx(8.8, abs=2e-3)
    load(builder, "M1", least_v=8.7)
    assert not builder.workings().wire.brown_outs


def test_starts_that_coincide_are_reckoned_together():
    builder = fix_all(winch(internal_mohm=20.0), "18 AWG")
    builder.feed("F1.out > M2 servo 0.5 A > B1").run("mid 100 > M2")
    fix_all(builder, "18 AWG")
    for device in ("M1", "M2"):
        load(builder, device, kind="constant current", peak_a=4.0, peak_s=1.0)
    alone = {b.peaks for b in builder.workings().wire.brown_outs}
    assert not alone
    load(builder, "A1", least_v=6.35)
    for device in ("M1", "M2"):
        load(builder, device, starts_with="hoist")
    found = builder.workings().wire.brown_outs
    assert {b.peaks for b in found} == {("M1", "M2")}
    assert "together take 8 A" in " ".join(f.what for f in builder.evaluate().findings)


def test_a_peak_behind_a_regulator_is_felt_before_it():
    """5 A more at 5 V through a converter of 80 %: 5 x 5 / 0.8 / 12 = 2.60 A more at its input."""
    builder = HarnessBuilder("equipment").feed("B1 battery > F1 fuse > V1 converter", "V1.g > B1.-")
    builder.feed("V1.out > A1 radio 1 A", "A1.- > V1.g", "F1.out > A2 radio 0.2 A > B1")
    builder.run("B1 100 > F1 6000 > V1 100 > A1", "V1 100 > A2")
    for name in ("nominal", "working", "least"):
        builder.set(f"brief/supply_{name}_v", 12.0)
    inner = next(iter(builder.plain["circuits"]["devices"]["V1"]["paths"].values()))
    inner.update(out_v=5.0, efficiency_percent=80.0)
    for device in ("A1", "A2"):
        load(builder, device, kind="constant current", rated_v=5.0 if device == "A1" else 12.0)
    load(builder, "A1", peak_a=6.0, peak_s=1.0)
    fix_all(builder, "1 mm²")
    load(builder, "A2", least_v=11.99)
    w = builder.workings()
    rest = w.wire.loops["A2"].least_gets_v
    load(builder, "A2", least_v=rest - 0.01)
    (found,) = [b for b in builder.workings().wire.brown_outs if b.load == "A2"]
    shared = [
        k for k, s in w.route.sections.items()
        if k in w.wire.loops["V1~1"].wires and k in w.wire.loops["A2"].wires
    ]  # fmt: skip
    ohm = sum(float(w.wire.tables.row_ohm[w.wire.tables.at[k]]) for k in shared) + w.wire.tables.path_ohm.get(
        "F1.1", 0.0
    )
    assert rest - found.gets_v == pytest.approx(5.0 * 5.0 / 0.8 / 12.0 * ohm, rel=0.1)


# Structure


def test_the_structure_carries_the_sum_of_what_comes_to_a_stud():
    """Two 15 A loads on one stud of 10 mohm lose 0.3 V there, not 0.15."""
    builder = HarnessBuilder("vehicle").feed("B1 battery > F1 fuse > R1 heater 15 A > G1 ground stud")
    builder.feed("G2 ground stud", "B1.- > G2.1", "B1.+ > F2 fuse > R2 heater 15 A > G1.1")
    builder.run("B1 100 > F1 400 > R1 100 > G1", "B1 100 > F2", "R1 100 > R2", "B1 200 > G2")
    builder.plain["circuits"]["devices"]["G1"]["structure_mohm"] = 10.0
    for device in ("R1", "R2"):
        load(builder, device, kind="constant current")
    stated(builder)
    w = builder.workings()
    across, _ = Nodal(w, {"B1": 13.2}).settle(loads_of(w, 13.2))
    for device in ("R1", "R2"):
        assert w.wire.loops[device].drop_v == pytest.approx(13.2 - across[device], abs=2e-5)
    assert w.wire.through_a["stud G1.1"] == pytest.approx(30.0)
    before = w.wire.loops["R1"].drop_v
    builder.plain["circuits"]["devices"]["G1"]["structure_mohm"] = 0.0
    again = fix_as(builder, w).workings()
    assert before - again.wire.loops["R1"].drop_v == pytest.approx(0.3, abs=1e-4)


def fix_as(builder: HarnessBuilder, w) -> HarnessBuilder:
    for key, made in w.evaluation.wire.wires.items():
        builder.set(f"wire/fixed/{key}", {"order": 1, "reason": "as before", "gauge": made.gauge})
    return builder


# Ways side by side


def two_fuses(long_mm: float = 900.0) -> HarnessBuilder:
    """One load fed over two fuses whose far ends are joined."""
    builder = HarnessBuilder("vehicle").feed("B1 battery > F1 fuse > R1 heater 20 A > B1", "B1.+ > F2 fuse")
    builder.feed("F2.out > R1.+")
    builder.run("B1 100 > F1 600 > R1", f"B1 {long_mm} > F2")
    load(builder, "R1", kind="constant current")
    return stated(builder)


@pytest.mark.parametrize("long_mm", [100.0, 900.0, 4000.0])
def test_current_divides_between_ways_side_by_side_as_in_the_real_network(long_mm):
    w = two_fuses(long_mm).workings()
    across, currents = Nodal(w, {"B1": 13.2}).settle(loads_of(w, 13.2))
    assert w.wire.loops["R1"].drop_v == pytest.approx(13.2 - across["R1"], abs=2e-4)
    assert currents["F1.1"] + currents["F2.1"] == pytest.approx(20.0, abs=1e-3)
    for fuse in ("F1.1", "F2.1"):
        assert w.wire.through_a[fuse] == pytest.approx(abs(currents[fuse]), abs=0.02)
        assert w.circuits.fuses[fuse].load_a == pytest.approx(10.0), "alike, until the wires are known"
    for key, made in w.evaluation.wire.wires.items():
        assert made.carries_a == pytest.approx(abs(currents[key]), abs=0.02), key


def test_two_fuses_side_by_side_stop_unless_they_are_meant():
    builder = two_fuses()
    (told,) = [f for f in builder.evaluate().findings if f.code == "fuses-in-parallel"]
    assert told.severity == "stop"
    assert "F1" in told.what
    assert "F2" in told.what
    for device in ("F1", "F2"):
        builder.plain["circuits"]["devices"][device]["paths"]["1"]["parallel"] = "heater"
    assert "fuses-in-parallel" not in builder.codes()
    builder.plain["circuits"]["devices"]["F2"]["paths"]["1"]["parallel"] = "other"
    assert "fuses-in-parallel" in builder.codes()


def test_a_fuse_that_gets_more_than_its_share_of_a_load_is_told():
    """Alike each would carry 10 A and be 15 A; the short way carries more than 80 % of that."""
    builder = two_fuses(4000.0)
    w = builder.workings()
    assert w.wire.through_a["F1.1"] > 12.0
    told = [f for f in w.evaluation.findings if f.code == "fuse-below-load"]
    assert any("F1" in f.what for f in told)


def test_two_switches_side_by_side_each_carry_all_of_it():
    """Either may be the one that is closed: nothing is halved."""
    builder = HarnessBuilder("vehicle").feed("B1 battery > F1 fuse > S1 switch > E1 lamp 6 A > B1")
    builder.feed("F1.out > S2 switch", "S2.2 > E1.+")
    builder.run("B1 100 > F1 300 > S1 300 > E1", "F1 300 > S2")
    e = load(builder, "E1", kind="constant current").evaluate()
    for switch in ("S1", "S2"):
        here = [w.carries_a for w in e.wire.wires.values() if f"{switch}-" in w.from_text + w.to_text]
        assert max(here) == pytest.approx(6.0), switch
    assert "fuses-in-parallel" not in [f.code for f in e.findings]


@pytest.mark.slow
@settings(max_examples=25, deadline=None)
@given(st.data())
def test_random_networks_with_ways_side_by_side_agree_with_nodal_analysis(data):
    """Feeds joined downstream, links between ground blocks, studs beside wires: to the millivolt."""
    n = data.draw(st.integers(2, 4), "loads")
    builder = (
        HarnessBuilder("vehicle")
        .feed("B1 battery > F1 fuse > R1 heater 5 A > B1")
        .run("B1 150 > F1 500 > R1")
    )
    for k in range(2, n + 1):
        source = data.draw(st.sampled_from(["B1.+", f"F{k - 1}.out"]))
        builder.feed(f"{source} > F{k} fuse > R{k} heater {data.draw(st.integers(1, 9))} A > B1")
        at = data.draw(st.sampled_from(["B1", f"R{k - 1}"]))
        builder.run(f"{at} {data.draw(st.integers(100, 900))} > F{k} 300 > R{k}")
    if data.draw(st.booleans(), "joined downstream"):
        builder.feed(f"F{n}.out > R1.+")
    if data.draw(st.booleans(), "structure beside the return"):
        builder.feed("G1 ground stud", "R1.- > G1.1", "G2 ground stud", "B1.- > G2.1")
        builder.run("R1 100 > G1", "B1 100 > G2")
        builder.plain["circuits"]["devices"]["G1"]["structure_mohm"] = float(data.draw(st.integers(1, 40)))
    for k in range(1, n + 1):
        load(
            builder, f"R{k}", kind=data.draw(st.sampled_from(["constant current", "resistive"])), rated_v=13.2
        )
    w = stated(builder).workings()
    across, currents = Nodal(w, {"B1": 13.2}).settle(loads_of(w, 13.2))
    for name, loop in w.wire.loops.items():
        if name in across:
            assert loop.drop_v == pytest.approx(13.2 - across[name], abs=1e-3), name
    row = {k: i for i, k in enumerate(w.wire.tables.keys)}
    drawn = np.array([[w.wire.loops[x.load].drawn_a] for x in w.circuits.loops])
    solved = w.wire.tables.flow.currents_a(drawn)[:, 0]
    for key, i in row.items():
        assert abs(solved[i]) == pytest.approx(abs(currents[key]), abs=2e-3), key


# The most that any state asks


def test_a_resistive_load_is_wired_and_fused_for_the_most_volts():
    """8 A at 12.8 V is 9.13 A at 14.6 V: 80 % of a 10 A fuse is not enough, so 15 A."""
    builder = (
        HarnessBuilder("vehicle")
        .feed("B1 battery > F1 fuse > R1 heater 8 A > B1")
        .run("B1 100 > F1 900 > R1")
    )
    builder.set("brief/supply_working_v", 12.8).set("brief/supply_most_v", 14.6)
    e = load(builder, "R1", kind="resistive", rated_v=12.8).evaluate()
    assert e.circuits.fuses["F1.1"].load_a == pytest.approx(8.0 * 14.6 / 12.8)
    assert e.circuits.fuses["F1.1"].load_a == pytest.approx(9.125)
    assert e.circuits.fuses["F1.1"].rating_a == 15.0
    assert carries(e, "F1", "R1") == pytest.approx(9.125)


def test_what_charges_a_battery_sets_its_most_volts():
    builder = (
        HarnessBuilder("vehicle")
        .feed("B1 battery > F1 fuse > R1 heater 8 A > B1")
        .run("B1 100 > F1 900 > R1")
    )
    builder.set("brief/supply_working_v", 12.8)
    load(builder, "R1", kind="resistive", rated_v=12.8)
    assert builder.evaluate().circuits.fuses["F1.1"].load_a == pytest.approx(8.0)
    builder.feed("G1 alternator", "G1.- > B1.-", "G1.+ > F2 fuse > B1.+").run("B1 300 > F2 200 > G1")
    source = next(s for s in builder.plain["circuits"]["sources"].values() if s["device"] == "G1")
    source["nominal_v"] = 14.4
    assert builder.evaluate().circuits.fuses["F1.1"].load_a == pytest.approx(8.0 * 14.4 / 12.8)


def test_constant_power_is_reckoned_at_its_own_volts_at_the_least_supply():
    """100 W from 12.6 V at least: 7.94 A at the source's volts. Behind wires that lose 1.4 V it draws
    100 / 11.2 = 8.93 A, and with that they lose a little more."""
    builder = (
        HarnessBuilder("vehicle")
        .feed("B1 battery > F1 fuse > A1 radio 8 A > B1")
        .run("B1 100 > F1 6000 > A1")
    )
    builder.set("brief/supply_working_v", 14.0).set("brief/supply_least_v", 12.6)
    for kind in ("continuous", "intermittent"):
        builder.set(f"brief/house_rules/drop_limit_{kind}_percent", {"order": 1, "value": 10.0, "reason": ""})
    load(builder, "A1", kind="constant power", current_a=100 / 12.6, rated_v=12.6)
    w = builder.workings()
    stated(builder)
    loads = loads_of(w, 12.6)
    across, _ = Nodal(stated(builder).set("brief/supply_working_v", 14.0).workings(), {"B1": 12.6}).settle(
        loads
    )
    real = 100 / across["A1"]
    assert real > 8.3
    fuse = w.circuits.fuses["F1.1"]
    assert fuse.load_a >= 8.93, "more than 80 % of a 10 A fuse"
    assert fuse.load_a >= real * 0.999, "never less than what its own volts ask"
    assert fuse.load_a <= real * 1.06
    assert fuse.rating_a == 15.0
    assert carries(w.evaluation, "F1", "A1") == pytest.approx(fuse.load_a)


def test_modes_that_exclude_each_other_are_never_added():
    """Two heaters of 8.43 A that never run together: switch, fuse and circuit carry 8.43 A, not 16.86."""
    builder = HarnessBuilder("vehicle").feed("B1 battery > F1 fuse > S1 switch > R1 heater 8.43 A > B1")
    builder.feed("S1.2 > R2 heater 8.43 A > B1").run("B1 100 > F1 300 > S1 500 > R1", "S1 500 > R2")
    for n, mode in enumerate(("one", "two"), 1):
        builder.set(f"circuits/modes/{mode}", {"order": n, "name": mode})
    for device, mode in (("R1", "two"), ("R2", "one")):
        load(builder, device, kind="constant current", modes={mode: {"order": 1, "percent": 0.0}})
    builder.plain["circuits"]["devices"]["S1"]["paths"]["1"]["contact_a"] = 10.0
    e = builder.evaluate()
    assert e.circuits.fuses["F1.1"].load_a == pytest.approx(8.43)
    assert max(c.carries_a for c in e.circuits.circuits.values()) == pytest.approx(8.43)
    assert "switch-underrated" not in [f.code for f in e.findings]
    builder.plain["circuits"]["devices"]["S1"]["paths"]["1"]["contact_a"] = 8.4
    assert "switch-underrated" in builder.codes()


def test_drops_that_never_come_together_ask_for_no_copper():
    """A 12 A motor and a 5 A lamp on one return: only where both run at once do their drops add up in it."""

    def copper_mm2_m(apart: bool) -> float:
        builder = HarnessBuilder("vehicle").feed("B1 battery > F1 fuse > E1 lamp 5 A > B1")
        builder.feed("B1.+ > F2 fuse > M1 motor 12 A > B1").run("B1 100 > F1 100 > F2 2500 > E1 200 > M1")
        for held in builder.plain["ends"]["connectors"].values():
            held.update(family="RING", shell="none", stud="M6")
        for n, mode in enumerate(("start", "run"), 1):
            builder.set(f"circuits/modes/{mode}", {"order": n, "name": mode})
        load(builder, "M1", kind="constant current", modes={"run": {"order": 1, "percent": 0.0}})
        if apart:
            load(builder, "E1", modes={"start": {"order": 1, "percent": 0.0}})
        w = builder.workings()
        assert all(x.drop_v <= x.limit_v * 1.0005 for x in w.wire.loops.values())
        return sum(x.area_mm2 * w.route.sections[k].length_mm / 1000 for k, x in w.wire.wires.items())

    assert copper_mm2_m(apart=True) < 0.97 * copper_mm2_m(apart=False)


def test_the_worst_of_each_wire_is_not_added_up_where_it_never_comes_together():
    """A lamp shares its feed with a motor that runs at the start and its return with one that runs later."""
    builder = HarnessBuilder("vehicle").feed(
        "B1 battery > F1 fuse > E1 lamp 2 A > B1", "F1.out > M1 motor 8 A > G1 ground stud"
    )
    builder.feed("G2 ground stud", "B1.- > G2.1", "B1.+ > F2 fuse > M2 motor 8 A > B1")
    builder.run(
        "B1 100 > F1 100 > F2 3000 > mid 200 > E1", "mid 200 > M1 50 > G1", "mid 300 > M2", "B1 150 > G2"
    )
    for held in builder.plain["ends"]["connectors"].values():
        held.update(family="RING", shell="none", stud="M6")
    for n, mode in enumerate(("start", "run"), 1):
        builder.set(f"circuits/modes/{mode}", {"order": n, "name": mode})
    builder.shaded()
    rest = {"kind": "constant current", "service": "intermittent"}
    load(builder, "M1", **rest, modes={"run": {"order": 1, "percent": 0.0}})
    load(builder, "M2", **rest, modes={"start": {"order": 1, "percent": 0.0}})
    load(builder, "E1", kind="constant current")
    w = builder.workings()
    assert all(x.drop_v <= x.limit_v * 1.0005 for x in w.wire.loops.values())
    table, chains = w.wire.tables.free.table, w.wire.tables.free.chains
    tried = 0
    for i, (key, made) in enumerate(w.wire.wires.items()):
        if made.governs != "drop":
            continue
        thinner = table.sizes[int(chains.index[i, int(w.wire.tables.chosen[i]) - 1])].gauge
        others = {k: {"order": 1, "reason": "", "gauge": x.gauge} for k, x in w.wire.wires.items()}
        builder.set("wire/fixed", {**others, key: {"order": 1, "reason": "", "gauge": thinner}})
        again = builder.evaluate()
        crossing = [x for x in again.wire.loops.values() if key in x.wires]
        assert any(x.drop_v > 0.98 * x.limit_v for x in crossing), (key, thinner)
        tried += 1
    assert tried >= 2


# Duty


@pytest.mark.parametrize(
    ("duty", "cycle_s", "tau_s", "share"),
    [
        (0.25, 1.0, 600.0, 0.25),  # short beside the time constant: the mean
        (0.25, 3600.0, 50.0, 1.0),  # long: all of it
        (0.5, 100.0, 50.0, (1 - math.exp(-1)) / (1 - math.exp(-2))),  # between: by hand
        (1.0, 60.0, 50.0, 1.0),
    ],
)
def test_on_and_off_heat_by_the_peak_of_what_settles(duty, cycle_s, tau_s, share):
    found = float(settled_share(duty, cycle_s, np.array([tau_s]))[0])
    assert found == pytest.approx(share, abs=2e-3)
    # The same by stepping a body of one time constant from its mean through thirty turns.
    rise, peak, steps = duty, 0.0, 4000
    step = cycle_s / steps
    for n in range(30 * steps):
        rise += step / tau_s * ((1.0 if n % steps < duty * steps else 0.0) - rise)
        peak = max(peak, rise) if n >= 29 * steps else 0.0
    assert found == pytest.approx(peak, abs=0.01)


def seldom(cycle_s: float | None) -> HarnessBuilder:
    builder = (
        HarnessBuilder("vehicle")
        .feed("B1 battery > F1 fuse > M1 pump 20 A (SR16) > B1")
        .run("B1 100 > F1 900 > M1")
    )
    load(builder, "M1", kind="constant current", duty_percent=25.0)
    if cycle_s is not None:
        load(builder, "M1", cycle_s=cycle_s)
    builder.plain["ends"]["connectors"]["M1"].update(family="SR16")
    builder.plain["circuits"]["devices"]["F1"]["paths"]["1"]["rating_a"] = 5.0
    return builder


def test_a_duty_is_averaged_only_where_its_cycle_is_short():
    """20 A a quarter of the time: 10 A of heat in each second, 20 A in each hour, 20 A where not said."""
    heats = {}
    for cycle in (1.0, 3600.0, None):
        w = seldom(cycle).workings()
        at = next(i for i, k in enumerate(w.wire.tables.keys) if "M1" in w.wire.wires[k].to_text)
        heats[cycle] = float(w.wire.tables.heating_a[at])
        assert w.wire.wires[w.wire.tables.keys[at]].carries_a == pytest.approx(20.0)
        overloaded = "contact-overloaded" in [f.code for f in w.evaluation.findings]
        assert overloaded is (cycle != 1.0), "the contact holds 13 A"
        assert ("duty-without-cycle" in [f.code for f in w.evaluation.findings]) is (cycle is None)
    assert heats[1.0] == pytest.approx(10.0, rel=0.02)
    assert heats[3600.0] == pytest.approx(20.0, rel=1e-3)
    assert heats[None] == pytest.approx(20.0)


@pytest.mark.parametrize("cycle_s", [20.0, 60.0, 180.0])
def test_between_the_two_the_wires_own_time_constant_decides(cycle_s):
    """Tau is the heat it holds over the heat it makes at its rating: capacity x rise / I2 R, all by hand;
    the current at its rating by the independent balance."""
    builder = fix_all(seldom(cycle_s), "16 AWG")
    w = builder.workings()
    at = next(i for i, k in enumerate(w.wire.tables.keys) if "M1" in w.wire.wires[k].to_text)
    family = builder.catalogue.wires[w.wire.wires[w.wire.tables.keys[at]].family]
    size, ambient = family.size("16 AWG"), 40.0
    amps = brentq(lambda a: ORACLE.conductor_temperature(size, a, ambient) - family.temperature_c, 1.0, 200.0)
    hot = size.resistance_ohm_per_km / 1000 * (1 + 0.00393 * (family.temperature_c - 20))
    held = heat_capacity_j_per_m_k(size.area_mm2, size.conductor_diameter_mm, size.od_mm)
    tau = held * (family.temperature_c - ambient) / (amps**2 * hot)
    assert 20 < tau < 120
    share = (1 - math.exp(-0.25 * cycle_s / tau)) / (1 - math.exp(-cycle_s / tau))
    assert float(w.wire.tables.heating_a[at]) == pytest.approx(20.0 * math.sqrt(share), rel=0.01)


@pytest.mark.parametrize(
    ("typed", "duty", "cycle"),
    [("25 % of 60 s", 25.0, 60.0), ("15 min in every hour", 25.0, 3600.0), ("10 s on in 40 s", 25.0, 40.0)],
)
def test_a_duty_is_typed_with_its_cycle(typed, duty, cycle):
    builder = HarnessBuilder("vehicle").feed(f"B1 battery > F1 fuse > M1 pump 5 A, {typed} > B1")
    made = next(iter(builder.plain["circuits"]["loads"].values()))
    assert made["duty_percent"] == pytest.approx(duty)
    assert made["cycle_s"] == pytest.approx(cycle)


# Ahead of the first protection


def ahead(rating_a: float = 15.0) -> HarnessBuilder:
    builder = (
        HarnessBuilder("aviation")
        .feed("B1 battery > F1 breaker > A1 radio 8.4 A > B1")
        .run("B1 0.4 m > F1 2 m > A1")
    )
    load(builder, "A1", kind="constant current")
    builder.plain["circuits"]["devices"]["F1"]["paths"]["1"]["rating_a"] = rating_a
    return builder


def test_a_wire_ahead_of_the_first_protection_stands_what_that_lets_through():
    """A lead to a 15 A breaker stands 16.5 A for good and 20.25 A alone, whatever its load is."""
    w = ahead().workings()
    i = next(
        n
        for n, k in enumerate(w.wire.tables.keys)
        if "B1" in w.wire.wires[k].from_text and "F1" in w.wire.wires[k].to_text
    )
    n = int(w.wire.tables.chosen[i])
    assert w.wire.tables.asked.ahead[i]
    assert float(w.wire.tables.judgement.allowed_a[i, n]) >= 1.10 * 15.0
    assert float(w.wire.tables.free.free_a[i, n]) >= 1.35 * 15.0
    made = w.wire.wires[w.wire.tables.keys[i]]
    smaller = [s for s in w.wire.families[made.family].sizes if s.area_mm2 < made.area_mm2]
    assert smaller
    assert w.wire.tables.judgement.fuse[i, n - 1] > 1 or w.wire.tables.drop_ratio[i, n - 1] > 1


def test_the_ratings_behind_it_add_up_where_they_can_run_together():
    builder = ahead().feed("B1.+ > F2 breaker > A2 radio 2 A > B1", "B1.+ > F3 breaker > A3 radio 2 A > B1")
    builder.run("F1 0.1 m > F2 1 m > A2", "F1 0.1 m > F3 1 m > A3")
    for device, rating in (("F2", 5.0), ("F3", 7.5)):
        builder.plain["circuits"]["devices"][device]["paths"]["1"]["rating_a"] = rating
    single = most_ahead(builder)
    assert single == pytest.approx(15.0 + 5.0 + 7.5)
    for n, mode in enumerate(("one", "two"), 1):
        builder.set(f"circuits/modes/{mode}", {"order": n, "name": mode})
    for device, mode in (("A2", "two"), ("A3", "one")):
        load(builder, device, modes={mode: {"order": 1, "percent": 0.0}})
    assert most_ahead(builder) == pytest.approx(15.0 + 7.5), "A2 and A3 never run together"


def most_ahead(builder: HarnessBuilder) -> float:
    w = builder.workings().wire
    return max(
        float(a) for a, held in zip(w.tables.asked.fuse_single_a, w.tables.asked.ahead, strict=True) if held
    )


def test_a_limited_source_lets_through_no_more_than_its_limit():
    builder = ahead(15.0)
    builder.set("circuits/sources/B1", {
        "order": 1, "device": "B1", "supply_pin": "+", "return_pin": "-", "kind": "limited supply",
        "limit_a": 10.0,
    })  # fmt: skip
    w = builder.workings()
    i = next(n for n, k in enumerate(w.wire.tables.keys) if "F1" in w.wire.wires[k].to_text)
    assert float(w.wire.tables.asked.fuse_single_a[i]) * 1.10 == pytest.approx(10.0)
