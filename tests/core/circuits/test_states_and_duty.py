"""The most that any state asks, duties, and wire ahead of the first protection."""

from __future__ import annotations

import math

import numpy as np
import pytest
from scipy.optimize import brentq

from inkthread.core.physics.short_time import heat_capacity_j_per_m_k, settled_share
from tests.conftest import HarnessBuilder
from tests.oracles import HeatBalance, Nodal, loads_of

ORACLE = HeatBalance()


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
