"""Constants and edges that a small slip would move, each against a figure from outside or by hand."""

from __future__ import annotations

import dataclasses
import math
from types import SimpleNamespace

import numpy as np
import pytest

from inkthread.core.catalogue import ProtectionCurve
from inkthread.core.circuits.curve import holds_at_least_s, opens_within_s
from inkthread.core.ends.fit import choose_seal
from inkthread.core.physics import air
from inkthread.core.physics.short_time import heat_capacity_j_per_m_k
from inkthread.core.route.placing import SplicePlaces
from inkthread.core.wire.limits import Asked, WorstEnds, judge
from tests.conftest import HarnessBuilder


@pytest.mark.parametrize(
    ("metres", "pascals"),
    [(0, 101_325), (1_000, 89_875), (5_000, 54_020), (11_000, 22_632), (15_000, 12_045), (20_000, 5_475)],
)
def test_pressure_falls_with_height_as_in_the_standard_atmosphere(metres, pascals):
    """ICAO Doc 7488 (US Standard Atmosphere 1976), geopotential metres, from memory of the tables."""
    assert air.pressure_at_altitude_pa(metres) == pytest.approx(pascals, rel=0.001)


def test_a_metre_of_wire_takes_up_the_heat_of_its_copper_and_half_its_insulation():
    """Copper 385 J/kg K at 8,960 kg/m3; ETFE 1,050 J/kg K at 1,730 kg/m3 (handbook figures, from memory)."""
    area, conductor, outside = 0.6, 1.0, 1.4
    copper = 385 * 8_960 * area * 1e-6
    ring = math.pi / 4 * (outside**2 - conductor**2) * 1e-6
    by_hand = copper + 1_050 * 1_730 * ring / 2
    assert heat_capacity_j_per_m_k(area, conductor, outside) == pytest.approx(by_hand, rel=0.02)
    # The insulation alone, so that it is not lost in the copper.
    bare = heat_capacity_j_per_m_k(area, conductor, conductor)
    assert bare == pytest.approx(copper, rel=0.005)
    assert heat_capacity_j_per_m_k(area, conductor, outside) - bare == pytest.approx(
        1_050 * 1_730 * ring / 2, rel=0.06
    )


def test_beyond_its_last_point_a_curve_lets_the_same_energy_through(catalogue):
    """I2t is constant where no heat leaves (IEC 60269-1): twice the current, a quarter of the time."""
    for curve in catalogue.curves.values():
        for edge, column in ((holds_at_least_s, 1), (opens_within_s, 2)):
            last, seconds = next((p[0], p[column]) for p in reversed(curve.points) if p[column] is not None)
            assert edge(curve, last / 100, 1.0) == pytest.approx(seconds)
            assert edge(curve, 2 * last / 100, 1.0) == pytest.approx(seconds / 4)
            assert edge(curve, 10 * last / 100, 1.0) == pytest.approx(seconds / 100)


def test_between_two_points_a_curve_is_straight_in_logarithms():
    curve = ProtectionCurve(source="by hand", points=((100.0, 10.0, 1_000.0), (400.0, 1.0, 10.0)))
    assert opens_within_s(curve, 2.0, 1.0) == pytest.approx(100.0), "half-way in both logarithms"
    assert holds_at_least_s(curve, 2.0, 1.0) == pytest.approx(math.sqrt(10.0))
    assert math.isinf(opens_within_s(curve, 0.999, 1.0))


def places(length_mm: float) -> SplicePlaces:
    branch = SimpleNamespace(from_point="a", to_point="b", length_mm=length_mm)
    tree = SimpleNamespace(branches={"r": branch})
    return SplicePlaces(tree, {"a"}, cover_mm=40, gap_mm=5, from_connector_mm=100, from_breakout_mm=20)


def test_splices_stand_clear_of_connector_and_breakout_with_a_gap_between_covers():
    """By hand: 100 to the cover's edge from a connector, 40 of cover, 5 of gap, 20 to the breakout."""
    p = places(1_000)
    assert p.place("s1", "a", ["r"]).offset_mm == 120.0
    assert p.place("s2", "a", ["r"]).offset_mm == 165.0, "half a cover, the gap, half a cover on"
    assert p.place("s3", "b", ["r"]).offset_mm == 40.0, "from the other end"
    assert p.place("s4", "b", ["r"]).offset_mm == 85.0
    assert not p.crowded


@pytest.mark.parametrize(("length_mm", "fit"), [(204.9, 1), (205.0, 2), (249.9, 2), (250.0, 3)])
def test_a_branch_takes_as_many_covers_as_it_is_long(length_mm, fit):
    """100 + 40 + 5 + 40 + 20 = 205 for two, 45 more for each further one."""
    p = places(length_mm)
    for n in range(4):
        p.place(f"s{n}", "a", ["r"])
    assert len(p.crowded) == 4 - fit


def test_a_gap_between_two_covers_is_taken_where_a_third_just_fits():
    for between, used in ((50.0, True), (49.9, False)):  # 5 + 40 + 5
        p = places(1_000)
        p.taken["r"] = [(100.0, 140.0), (140.0 + between, 180.0 + between)]
        spot = p.place("s", "a", ["r"])
        assert (spot.offset_mm < 200) is used


def test_a_seal_is_judged_by_the_widest_wire_that_may_be_delivered(catalogue):
    """A wire's own tolerance counts: what is wider than the window at its largest tears the lips."""
    family = next(f for f in catalogue.connectors.values() if f.seals)
    seal = family.seals[0]
    alone = dataclasses.replace(family, seals=(seal,))
    size = catalogue.wires["J1128-TXL"].size("20 AWG")
    at = {
        "od_mm": (seal.od_min_mm + seal.od_max_mm) / 2,
        "od_min_mm": seal.od_min_mm,
        "od_max_mm": seal.od_max_mm,
    }
    assert choose_seal(alone, dataclasses.replace(size, **at))[1]
    for field, by in (("od_max_mm", 0.02), ("od_min_mm", -0.02)):
        assert not choose_seal(alone, dataclasses.replace(size, **{**at, field: at[field] + by}))[1], field


def judged(single: float, total: float, allowed: float, free: float) -> float:
    one = np.ones((1, 1))
    ends = WorstEnds(one, one < 0, one < 0, one * 1_000.0)
    asked = Asked(one * 1.0, np.array([single]), np.array([total]), np.array([0.1]), np.array([False]))
    return float(judge(asked, one * allowed, one * free, one, ends).fuse[0, 0])


def test_one_fuse_is_held_to_110_per_cent_where_it_lies_and_135_alone():
    """ISO 8820-3 blade fuse, from memory: 110 % for 100 h, 135 % for up to 600 s."""
    assert judged(10.0, 0.0, allowed=11.0, free=100.0) == pytest.approx(1.0)
    assert judged(10.0, 0.0, allowed=100.0, free=13.5) == pytest.approx(1.0)
    assert judged(10.0, 0.0, allowed=11.0, free=13.0) == pytest.approx(13.5 / 13.0)
    assert judged(10.0, 0.0, allowed=10.0, free=13.5) == pytest.approx(1.1)


def test_a_shared_return_stands_all_its_fuses_in_free_air():
    assert judged(0.0, 30.0, allowed=15.0, free=30.0) == pytest.approx(1.0)
    assert judged(0.0, 33.0, allowed=100.0, free=30.0) == pytest.approx(1.1)
    assert judged(10.0, 0.0, allowed=1_000.0, free=1_000.0) < 0.02


def test_a_shared_return_is_asked_for_the_sum_of_the_fuses_that_feed_it():
    """Two pumps on 7.5 A fuses and one return: 15 A of fuses on it, whatever the pumps draw."""
    builder = (
        HarnessBuilder()
        .feed("B1 battery > F1 fuse 7.5 > M1 pump 5 A > B1", "B1.+ > F2 fuse 7.5 > M2 pump 5 A > B1")
        .run("B1 100 > F1 50 > F2 900 > M1 100 > M2")
    )
    w = builder.workings()
    sums = w.wire.tables.asked.fuse_sum_a[w.wire.tables.asked.fuse_sum_a > 0]
    assert len(sums) >= 1
    assert sums.max() == pytest.approx(15.0)


def test_what_comes_along_is_listed_weighed_and_costs_nothing():
    """Included parts are on the bill, so that none is missed, and are paid with what they come with."""
    builder = (
        HarnessBuilder("vehicle").feed("B1 battery > F1 fuse > M1 pump 5 A > B1").run("B1 100 > F1 900 > M1")
    )
    builder.plain["ends"]["connectors"]["M1"].update(family="SR16", shell="plug", ways=2)
    family = builder.catalogue.connectors["SR16"]
    priced = dataclasses.replace(
        family,
        seals=tuple(dataclasses.replace(s, included=True, price=0.3, mass_g=0.4) for s in family.seals),
    )
    lines = {}
    for name, used in (
        ("included", priced),
        (
            "bought",
            dataclasses.replace(
                priced, seals=tuple(dataclasses.replace(s, included=False) for s in priced.seals)
            ),
        ),
    ):
        builder.catalogue = dataclasses.replace(
            builder.catalogue, connectors={**builder.catalogue.connectors, "SR16": used}
        )
        e = builder.evaluate()
        lines[name] = (e.parts, [x for x in e.parts.lines if x.code in {s.code for s in family.seals}])
    (with_it, held), (without, bought) = lines["included"], lines["bought"]
    assert sum(x.quantity for x in held) == sum(x.quantity for x in bought) == 2
    assert all(x.included and x.cost == 0 for x in held)
    assert [x.spares for x in (*held, *bought)] == [0, 1], "a spare is bought of what is bought"
    assert sum(x.cost for x in bought) == pytest.approx(0.9)
    assert without.cost_total - with_it.cost_total == pytest.approx(0.9)
    assert without.mass_each_g == pytest.approx(with_it.mass_each_g)


def test_a_block_is_weighed_by_the_stud():
    """Four loads on one feed, joined in a block: five studs of 12 g (catalogue data)."""
    builder = HarnessBuilder().feed("B1 battery > F1 fuse > E1 lamp 2 A > B1")
    for n in (2, 3, 4):
        builder.feed(f"F1.out > E{n} lamp 2 A > B1")
    builder.run("B1 100 > F1 900 > mid 100 > E1", "mid 150 > E2", "mid 200 > E3", "mid 250 > E4")
    for circuit in builder.plain["circuits"]["circuits"].values():
        circuit["threading"] = "block"
    w = builder.workings()
    studs = sorted(w.ends.blocks.values())
    assert studs == [5, 5]
    (line,) = (x for x in w.evaluation.parts.lines if x.group == "block")
    assert line.code == "GB-5"
    assert line.mass_g == pytest.approx(5 * 12.0 * 2)


def test_a_bundle_bends_by_its_largest_wire():
    """NASA-STD-8739.4A and AC 43.13-1B par. 11-96: ten times along a run, three where held at a breakout."""
    builder = (
        HarnessBuilder("vehicle").feed("B1 battery > F1 fuse > M1 pump 5 A > B1").run("B1 100 > F1 900 > M1")
    )
    w = builder.workings()
    last = w.evaluation.dress.bundles[list(builder.plain["route"]["branches"])[-1]]
    inside = w.evaluation.route.wires[list(builder.plain["route"]["branches"])[-1]]
    largest = max(w.wire.wires[k].od_mm for k in inside)
    assert last.bend_run_mm == pytest.approx(10 * largest, abs=0.06)
    assert last.bend_held_mm == pytest.approx(3 * largest, abs=0.06)
