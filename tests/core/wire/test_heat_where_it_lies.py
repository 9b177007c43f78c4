"""A wire is as hot as its own current, its own air and its own neighbours make it, wherever it lies.

Held against a heat balance that shares no code with the core (``tests.oracles.HeatBalance``), within
3 % of the rise, which is how far the two air tables differ.
"""

from __future__ import annotations

import math

import numpy as np
import pytest
from scipy.optimize import brentq

from inkthread.core.physics.bundle import core_rise_k
from inkthread.core.physics.heat import heat_shed_w_per_m
from inkthread.core.reckoning import reckon
from tests.conftest import HarnessBuilder
from tests.core.scenarios import pump
from tests.oracles import HeatBalance

ORACLE = HeatBalance()
LOOSE = {"order": 1, "value": 50.0, "reason": "drop is not what is tried"}


def zone(builder: HarnessBuilder, **values: object) -> HarnessBuilder:
    return builder.set("brief/zones/z", {"order": 1, "name": "Bay", "ambient_c": 40.0, **values})


def everywhere(builder: HarnessBuilder) -> HarnessBuilder:
    for branch in builder.plain["route"]["branches"].values():
        branch["zone"] = "z"
    return builder


def ends_of(evaluation, *devices: str):
    """The wire between these devices."""
    return next(
        w for w in evaluation.wire.wires.values()
        if all(any(f"{d}-" in t for t in (w.from_text, w.to_text)) for d in devices)
    )  # fmt: skip


def fix_gauge(builder: HarnessBuilder, key: str, gauge: str, family: str | None = None) -> HarnessBuilder:
    return builder.set(f"wire/fixed/{key}", {"order": 1, "reason": "tried", "gauge": gauge, "family": family})


def at_one_point(ambient_c: float, **flags: object) -> HarnessBuilder:
    """Battery and fuse block at one point, 15 A through both, in a zone; the load 900 mm away."""
    builder = HarnessBuilder("vehicle").feed("B1 battery > F1 fuse > M1 pump 15 A > B1").run("B1 900 > M1")
    builder.plain["ends"]["connectors"]["F1"]["point"] = "B1"
    zone(builder, ambient_c=ambient_c, **flags)
    return everywhere(builder)


def test_a_wire_that_stays_at_a_point_lies_in_its_air_and_heats_itself():
    """20 AWG thin wall at 15 A in 85 deg C air: about 149 deg C, over its 125."""
    builder = at_one_point(85.0)
    key = ends_of(builder.evaluate(), "B1", "F1").key
    builder = fix_gauge(builder, key, "20 AWG")
    made = builder.evaluate()
    w = made.wire.wires[key]
    size = builder.catalogue.wires[w.family].size(w.gauge)
    expected = ORACLE.conductor_temperature(size, 15.0, 85.0)
    assert expected == pytest.approx(149, abs=3)
    assert w.ambient_c == 85.0
    assert w.temperature_c - 85.0 == pytest.approx(expected - 85.0, rel=0.03)
    assert "fixed-fails" in [f.code for f in made.findings]


def test_a_wire_that_stays_at_a_point_is_sized_for_its_air():
    made = at_one_point(85.0).evaluate()
    w = ends_of(made, "B1", "F1")
    size = HarnessBuilder("vehicle").catalogue.wires[w.family].size(w.gauge)
    assert ORACLE.conductor_temperature(size, 15.0, 85.0) <= 125.0 * 1.01
    assert w.limits[0] <= 1


def test_wires_that_stay_at_one_point_heat_each_other_by_rule():
    """Six feeds between two blocks at one point: as one bundle, or each by itself where so ruled."""
    builder = HarnessBuilder("vehicle").feed("B1 battery > F1 fuse > M1 pump 10 A > B1").run("B1 900 > M1")
    for n in range(2, 7):
        builder.feed(f"B1.+ > F{n} fuse > M{n} pump 10 A > B1").run(f"M1 100 > M{n}")
    for n in range(1, 7):
        builder.plain["ends"]["connectors"][f"F{n}"]["point"] = "B1"
    for kind in ("continuous", "intermittent"):
        builder.set(f"brief/house_rules/drop_limit_{kind}_percent", dict(LOOSE))
    for k in [
        k for k, w in builder.evaluate().wire.wires.items() if "F" in w.to_text and "B1" in w.from_text
    ]:
        fix_gauge(builder, k, "16 AWG")
    together = builder.evaluate()
    stay = [w for w in together.wire.wires.values() if "B1" in w.from_text and "F" in w.to_text]
    apart = builder.set(
        "brief/house_rules/point_bundles", {"order": 3, "value": 0.0, "reason": "clipped apart"}
    ).evaluate()
    for w in stay:
        alone = apart.wire.wires[w.key].temperature_c
        size = builder.catalogue.wires[w.family].size(w.gauge)
        carried = apart.wire.wires[w.key].carries_a
        expected = ORACLE.conductor_temperature(size, carried, 40.0)
        assert alone - 40.0 == pytest.approx(expected - 40.0, rel=0.03)
        assert w.temperature_c > alone + 5


def test_a_point_may_name_the_zone_it_lies_in():
    builder = at_one_point(85.0)
    for branch in builder.plain["route"]["branches"].values():
        branch["zone"] = None
    builder.shaded()
    key = ends_of(builder.evaluate(), "B1", "F1").key
    assert builder.evaluate().wire.wires[key].ambient_c == 40.0
    builder.plain["route"]["points"]["B1"]["zone"] = "z"
    assert builder.evaluate().wire.wires[key].ambient_c == 85.0


def test_where_zones_meet_at_a_point_the_hotter_holds():
    builder = at_one_point(85.0)
    builder.run("B1 300 > E1")
    key = ends_of(builder.evaluate(), "B1", "F1").key
    assert builder.evaluate().wire.wires[key].ambient_c == 85.0


@pytest.mark.parametrize("company", [1, 2])
def test_what_shines_on_a_wire_heats_it_alone_or_not(company):
    """5,000 W/m2 on 12 AWG SXL at 10 A in 40 deg C air: about 210 deg C."""
    builder = HarnessBuilder("vehicle").feed("B1 battery > F1 fuse > M1 pump 10 A > G1 ground stud")
    builder.feed("G2 ground stud", "B1.- > G2.1").run("B1 100 > F1 900 > M1 400 > G1", "B1 300 > G2")
    zone(builder, radiant_w_per_m2=5000.0)
    builder.plain["route"]["branches"]["R2"]["zone"] = "z"
    if company == 2:
        builder.feed("F1.out > E1 lamp 0.1 A > G1").run("M1 100 > E1")
    key = (
        ends_of(builder.evaluate(), "F1", "M1" if company == 1 else "splice").key
        if company == 1
        else next(k for k, w in builder.evaluate().wire.wires.items() if "F1-2" in w.from_text + w.to_text)
    )
    fix_gauge(builder, key, "12 AWG", "J1128-SXL")
    w = builder.evaluate().wire.wires[key]
    size = builder.catalogue.wires[w.family].size("12 AWG")
    expected = ORACLE.conductor_temperature(size, 10.0, 40.0, 5000.0)
    assert expected == pytest.approx(210, abs=2)
    if company == 1:
        assert w.temperature_c - 40.0 == pytest.approx(expected - 40.0, rel=0.03)
    else:
        assert w.temperature_c > 190.0


def test_a_zone_that_shines_too_hot_is_told_of_the_zone():
    builder = (
        HarnessBuilder("vehicle").feed("B1 battery > F1 fuse > M1 pump 1 A > B1").run("B1 100 > F1 900 > M1")
    )
    everywhere(zone(builder, radiant_w_per_m2=5000.0))
    told = [f for f in builder.evaluate().findings if f.code == "zone-too-hot"]
    assert any("5000 W/m²" in f.what for f in told)
    assert "nothing-fits" not in builder.codes()


def test_drop_is_reckoned_at_the_mean_temperature_along_the_way():
    """Nine metres in 20 deg C air and one in 120: copper is not at 120 all the way.

    By hand: R = R20 l (1 + 0.00393 (T - 20)), stretch by stretch, T by the independent balance.
    """
    builder = HarnessBuilder("motorsport").feed("B1 battery > F1 fuse > M1 pump 4 A > G1 ground stud")
    builder.feed("G2 ground stud", "B1.- > G2.1")
    builder.run("B1 0.1 m > F1 10 m > M1 0.1 m > G1", "B1 0.1 m > G2")
    builder.set("brief/zones/cool", {"order": 1, "name": "Tub", "ambient_c": 20.0})
    builder.set("brief/zones/hot", {"order": 2, "name": "Bay", "ambient_c": 120.0})
    for branch in builder.plain["route"]["branches"].values():
        branch.update(zone="cool", slack_mm=0.0)
    long = next(b for b in builder.plain["route"]["branches"].values() if b["length_mm"] > 5000)
    long["stretches"] = {"s": {"order": 1, "zone": "hot", "from_mm": 4000.0, "to_mm": 5000.0}}
    e = builder.evaluate()
    w = ends_of(e, "F1", "M1")
    size = builder.catalogue.wires[w.family].size(w.gauge)
    joints = 2 * builder.catalogue.connectors["SR16"].contact_resistance_mohm / 1000
    ends = builder.workings().wire.tables
    joints = float(ends.termination_ohm[ends.keys.index(w.key)])
    volts = 0.0
    for metres, air in ((9.0, 20.0), (1.0, 120.0)):
        hot = ORACLE.conductor_temperature(size, w.carries_a, air)
        per_m = size.resistance_ohm_per_km / 1000 * (1 + 0.00393 * (hot - 20))
        volts += w.carries_a * metres * per_m
    assert w.loss_v == pytest.approx(volts + w.carries_a * joints, rel=0.005)
    assert w.temperature_c == pytest.approx(ORACLE.conductor_temperature(size, w.carries_a, 120.0), abs=1.0)


def test_a_wire_that_leaves_the_branch_before_its_hot_stretch_stays_cool():
    """A splice 300 mm along; the hot stretch is at the branch's other end."""
    builder = HarnessBuilder("vehicle").feed(
        "B1 battery > F1 fuse > M1 pump 4 A > B1", "F1.out > E1 lamp 1 A > B1"
    )
    builder.run("B1 100 > F1 2000 > mid 300 > M1", "mid 300 > E1")
    zone(builder, ambient_c=100.0).shaded()
    (branch,) = [b for b in builder.plain["route"]["branches"].values() if b["length_mm"] == 2000]
    branch["stretches"] = {"s": {"order": 1, "zone": "z", "from_mm": 0.0, "to_mm": 500.0}}
    e = builder.evaluate()
    leaves = [w for w in e.wire.wires.values() if "E1" in w.from_text + w.to_text]
    assert leaves
    assert all(w.ambient_c == 40.0 for w in leaves), "their splice lies near mid, far from the hot stretch"
    trunk = next(w for w in e.wire.wires.values() if "F1-2" in w.from_text + w.to_text)
    assert trunk.ambient_c == 100.0


def covered(kind: str, amps: float = 9.0) -> HarnessBuilder:
    """A pump whose two wires lie in a cover all along."""
    builder = pump(amps=amps)
    for branch in builder.plain["route"]["branches"]:
        builder.set(f"dress/covers/{branch}", {"order": 1, "kind": kind})
    return builder


def hottest(builder: HarnessBuilder) -> float:
    return max(w.temperature_c for w in builder.evaluate().wire.wires.values())


def test_a_cover_keeps_heat_in_by_its_gap_and_its_wall():
    bare, braid, conduit = (hottest(covered(kind)) for kind in ("none", "braid", "conduit"))
    assert bare < braid < conduit
    air_c = covered("none").workings().brief.value("default_ambient_c")
    assert conduit - air_c < 3 * (bare - air_c)


@pytest.mark.parametrize("kind", ["braid", "conduit", "tape", "shrink"])
def test_the_rise_over_a_cover_is_its_resistance_times_all_the_heat(kind):
    """The surface solved by bisection from the heat it sheds; the two hollow cylinders written out."""
    w = covered(kind).workings()
    heat, table = w.wire.tables.in_bundles.rough, w.wire.tables.free.table
    bundles, over = heat.bundles, w.catalogue.coverings.insulates[kind]
    along = [b for b, branch in enumerate(w.wire.tables.placement.branch) if branch is not None]
    assert along
    for b in along:
        outline, core = float(bundles.diameter_mm[b]), float(heat.heat.core_c[b])
        inside = outline + 2 * over.gap_mm
        through = math.log(inside / outline) / (2 * math.pi * over.gap_w_per_m_k)
        through += math.log(1 + 2 * over.wall_mm / inside) / (2 * math.pi * over.wall_w_per_m_k)
        assert bundles.sleeve_k_m_per_w[b] == pytest.approx(through, rel=1e-9)
        ohm = table.resistance_20c_ohm_per_m[heat.row_pick] * (1 + 0.00393 * (core - 20))
        made = heat.current_a**2 * ohm
        total = float(made[bundles.bundle == b].sum())
        air_c = bundles.ambient_c[b : b + 1]

        def left(surface_c: float, air_c=air_c, outline=outline, total=total) -> float:
            shed = heat_shed_w_per_m(np.array([surface_c]), air_c, np.array([outline]))
            return float(shed[0]) - total

        surface_c = brentq(left, float(air_c[0]), 400.0)
        expected = surface_c + total * through + float(core_rise_k(bundles, made)[b])
        assert core == pytest.approx(expected, abs=0.3)


def test_a_covered_wire_may_carry_less_and_its_card_says_why():
    bare, kept = covered("none").workings(), covered("conduit").workings()
    for key, wire in bare.wire.wires.items():
        assert kept.wire.wires[key].limits[0] >= wire.limits[0], key
    along = next(k for k, w in kept.wire.wires.items() if "M1" in w.from_text + w.to_text)
    assert any("conduit" in s.working for s in reckon(kept, "ampacity", along).steps)
    assert not any("conduit" in s.working for s in reckon(bare, "ampacity", along).steps)
