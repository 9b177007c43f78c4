"""Ampacity by three methods, and bundles, against published tables.

Published figures were recalled without the documents at hand: read "from memory of" before each.
"""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from inkthread.catalogue import shipped_catalogue
from inkthread.core.physics.bundle import Bundles, bundle_heat, core_rise_k, outline_ratio
from inkthread.core.wire.ampacity import (
    Conditions,
    OutOfTable,
    aircraft_bundle_factor,
    ampacity,
    deciding_methods,
    marine_bundle_factor,
)

M_PER_FOOT = 0.3048
CATALOGUE = shipped_catalogue()

# FAA AC 43.13-1B table 11-9, copper, 70 C ambient, 33 or more wires (9 for 8 AWG and larger), 20 % of
# the harness's capacity used, 60,000 ft; at 105, 150 and 200 C. From memory.
TABLE_11_9 = {
    24: (2.5, 4, 5),
    22: (3, 5, 6),
    20: (4, 7, 9),
    18: (6, 9, 12),
    16: (7, 11, 14),
    14: (10, 14, 18),
    12: (13, 19, 25),
    10: (17, 26, 32),
    8: (38, 57, 71),
    6: (50, 76, 97),
    4: (68, 103, 133),
    2: (95, 141, 179),
    1: (113, 166, 210),
    0: (128, 192, 243),
    -1: (147, 222, 285),
    -2: (172, 262, 335),
    -3: (204, 310, 395),
}


def size_of(awg: int):
    """A size with this gauge; the aircraft rule reads by gauge alone."""
    code = "AS22759/16" if awg >= 8 else "J1127-SGX"
    name = f"{awg} AWG" if awg > 0 else f"{1 - awg}/0 AWG"
    family = CATALOGUE.wires[code]
    return family, family.size(name)


@pytest.mark.parametrize("column", range(3))
@pytest.mark.parametrize("awg", [24, 22, 20, 18, 16, 14, 12, 10])
def test_aircraft_rule_gives_table_11_9(awg, column):
    """Within one ampere or 8 %: the table is in whole amperes."""
    family, size = size_of(awg)
    limit = (105.0, 150.0, 200.0)[column]
    c = Conditions(70.0, limit, wires=35, loaded=0.2, altitude_m=60_000 * M_PER_FOOT)
    found = ampacity("aircraft", CATALOGUE, family, size, c).ampacity_a
    published = TABLE_11_9[awg][column]
    assert abs(found - published) <= max(1.0, 0.08 * published)


@pytest.mark.parametrize("awg", [8, 6, 4, 2, 1, 0, -1, -2, -3])
def test_larger_sizes_follow_the_table_and_are_marked_fitted(awg):
    family, size = size_of(awg)
    for limit, published in zip((105.0, 150.0, 200.0), TABLE_11_9[awg], strict=True):
        c = Conditions(70.0, limit, wires=9, loaded=0.2, altitude_m=60_000 * M_PER_FOOT)
        found = ampacity("aircraft", CATALOGUE, family, size, c)
        assert found.ampacity_a == pytest.approx(published, rel=0.08)
        assert found.interpolated
    row = next(s for s in CATALOGUE.aircraft.sizes if s.awg == awg)
    assert row.fitted
    assert "fitted" in row.source


def test_first_worked_example_step_by_step():
    """AC 43.13-1B para 11-69, 10 of 20 AWG and 25 of 22 AWG, 7 of 35 loaded, from memory.

    It rounds at each step, so about 1 % is to be allowed.
    """
    c = Conditions(60.0, 200.0, wires=35, loaded=0.2, altitude_m=60_000 * M_PER_FOOT)
    each = {}
    for awg, free, after_bundle, result in ((22, 16.2, 8.4, 6.6), (20, 21.5, 11.2, 8.8)):
        found = ampacity("aircraft", CATALOGUE, *size_of(awg), c)
        assert found.free_air_a == pytest.approx(free, rel=0.01)
        assert found.bundle_factor == pytest.approx(0.52)
        assert found.free_air_a * found.bundle_factor == pytest.approx(after_bundle, rel=0.01)
        assert found.altitude_factor == pytest.approx(0.79)
        assert found.ampacity_a == pytest.approx(result, rel=0.01)
        assert not found.interpolated
        each[awg] = found.ampacity_a
    assert (25 * each[22] + 10 * each[20]) * 0.20 == pytest.approx(50.6, rel=0.01)


def test_second_worked_example_step_by_step():
    """Same paragraph: 12 of 12 AWG, all loaded, at sea level in 25 C and at 20,000 ft in 60 C."""
    family, size = size_of(12)
    low = ampacity("aircraft", CATALOGUE, family, size, Conditions(25.0, 200.0, 12, 1.0))
    assert low.free_air_a == pytest.approx(68, rel=0.01)
    assert low.bundle_factor == pytest.approx(0.43)
    assert low.ampacity_a == pytest.approx(29.2, rel=0.01)
    high = ampacity(
        "aircraft", CATALOGUE, family, size, Conditions(60.0, 200.0, 12, 1.0, 20_000 * M_PER_FOOT)
    )
    assert high.free_air_a == pytest.approx(61, rel=0.01)
    assert high.altitude_factor == pytest.approx(0.91)
    assert high.ampacity_a == pytest.approx(23.8, rel=0.01)
    assert 12 * high.ampacity_a == pytest.approx(285.6, rel=0.01)


# FAA AC 43.13-1B table 11-3, wire gauge to (breaker A, fuse A), from memory: 57 C, 15 or more wires,
# 20 % of capacity, 30,000 ft.
PROTECTORS = {22: (5, 5), 20: (7.5, 5), 18: (10, 10), 16: (15, 10), 14: (20, 15), 12: (30, 20), 10: (40, 30)}


@pytest.mark.parametrize("awg", PROTECTORS)
def test_protector_chart_lies_at_what_the_wire_carries_in_a_bundle(awg):
    """The chart's fuse is no larger than the 105 C wire's current there, give or take a fuse size."""
    family, size = size_of(awg)
    c = Conditions(57.0, 105.0, wires=15, loaded=0.2, altitude_m=30_000 * M_PER_FOOT)
    allowed = ampacity("aircraft", CATALOGUE, family, size, c).ampacity_a
    fuses = [f.rating_a for f in CATALOGUE.fuses]
    breaker, fuse = PROTECTORS[awg]
    at = fuses.index(fuse)
    assert fuses[max(at - 2, 0)] <= allowed <= breaker * 1.35


def test_where_the_chart_ends_the_lower_neighbour_is_taken():
    rule = CATALOGUE.aircraft
    factor, between = aircraft_bundle_factor(
        rule, np.array([1.0, 35, 12, 20, 60, 200]), np.array([1.0, 0.2, 1, 0.5, 0.2, 1])
    )
    assert factor == pytest.approx([1, 0.52, 0.43, 0.43, 0.52, 0.43])
    assert between.tolist() == [0, 0, 0, 1, 1, 1]


@given(st.integers(1, 60), st.floats(0, 1))
def test_the_aircraft_factor_never_rises_with_count_or_loading(wires, loaded):
    rule = CATALOGUE.aircraft
    here, more, fuller = (
        float(aircraft_bundle_factor(rule, np.array([float(n)]), np.array([share]))[0][0])
        for n, share in ((wires, loaded), (wires + 1, loaded), (wires, min(loaded + 0.1, 1)))
    )
    if not (loaded > 0.2 and wires == rule.bundle[1].wires):
        assert more <= here + 1e-9 or (loaded > 0.2 and wires > 10)
    assert fuller <= here + 1e-9


# ABYC E-11 table VI, 105 C column, outside and inside an engine space, from memory.
ABYC_105 = {
    18: (20, 17.0),
    16: (25, 21.3),
    14: (35, 29.8),
    12: (45, 38.3),
    10: (60, 51),
    8: (80, 68),
    6: (120, 102),
    4: (160, 136),
    2: (210, 178.5),
    1: (245, 208.3),
    0: (285, 242.3),
    -1: (330, 280.5),
    -2: (385, 327.3),
    -3: (445, 378.3),
}


@pytest.mark.parametrize("awg", ABYC_105)
def test_marine_table_outside_and_inside(awg):
    family, size = size_of(awg)
    outside, inside = ABYC_105[awg]
    for space, expected in (("outside", outside), ("inside", inside)):
        c = Conditions(30.0, 105.0, insulation_rating_c=105.0, engine_space=space)
        assert ampacity("marine", CATALOGUE, family, size, c).ampacity_a == pytest.approx(expected, abs=0.06)


def test_marine_bundling_is_a_house_rule_below_50_v():
    """ABYC E-11, above 50 V: 3 conductors 0.7, 4 to 6 0.6, 7 to 24 0.5, more 0.4. From memory."""
    table = CATALOGUE.marine
    assert [marine_bundle_factor(table, n) for n in (2, 3, 4, 6, 7, 24, 25)] == [
        1,
        0.7,
        0.6,
        0.6,
        0.5,
        0.5,
        0.4,
    ]
    family, size = size_of(14)
    plain, ruled = (
        ampacity("marine", CATALOGUE, family, size, Conditions(30, 105, 8, marine_bundling=on))
        for on in (False, True)
    )
    assert (plain.bundle_factor, ruled.bundle_factor) == (1.0, 0.5)
    assert "above 50 V" in plain.source
    assert "house rule" in ruled.source


def test_a_table_says_where_it_ends():
    family = CATALOGUE.wires["AS22759/16"]
    with pytest.raises(OutOfTable, match="thinner"):
        ampacity("marine", CATALOGUE, family, family.size("24 AWG"), Conditions(30, 105))
    with pytest.raises(OutOfTable, match="50 °C"):
        ampacity("marine", CATALOGUE, family, family.size("12 AWG"), Conditions(70, 105))


@pytest.mark.parametrize(
    ("practice", "methods"),
    [
        ("aviation", ("heat-balance", "aircraft")),
        ("marine", ("marine",)),
        ("motorsport", ("heat-balance",)),
    ],
)
def test_which_method_decides(practice, methods):
    assert deciding_methods(practice) == methods


# IEC 60364-5-52 table B.52.17, circuits bunched in air, from memory.
GROUPING = {
    2: 0.80,
    3: 0.70,
    4: 0.65,
    5: 0.60,
    6: 0.57,
    7: 0.54,
    8: 0.52,
    9: 0.50,
    12: 0.45,
    16: 0.41,
    20: 0.38,
}


@pytest.mark.parametrize("count", GROUPING)
@pytest.mark.parametrize(
    ("code", "gauge"), [("IEC60228-5", "2.5 mm²"), ("IEC60228-5", "16 mm²"), ("AS22759/16", "20 AWG")]
)
def test_fully_loaded_bundles_against_the_grouping_factors(code, gauge, count):
    family = CATALOGUE.wires[code]
    c = Conditions(30.0, family.temperature_c, wires=count)
    found = ampacity("heat-balance", CATALOGUE, family, family.size(gauge), c)
    assert found.bundle_factor == pytest.approx(GROUPING[count], rel=0.08)


@pytest.mark.parametrize(
    ("wires", "loaded", "awg", "factor"), [(12, 12, 12, 0.43), (35, 7, 20, 0.52), (35, 7, 22, 0.52)]
)
def test_heat_balance_gives_both_published_bundle_factors(wires, loaded, awg, factor):
    """AC 43.13-1B para 11-69, from memory; within 5 %."""
    family = CATALOGUE.wires["AS22759/11"]
    c = Conditions(60.0, 200.0, wires, loaded / wires)
    found = ampacity("heat-balance", CATALOGUE, family, family.size(f"{awg} AWG"), c)
    assert found.bundle_factor == pytest.approx(factor, rel=0.05)


def one(outside, ambient=40.0):
    return Bundles(
        np.zeros(len(outside), dtype=np.intp),
        np.array(outside, dtype=float),
        np.array(outside, dtype=float) * 0.6,
        np.array([ambient]),
        np.zeros(1),
        np.zeros(1),
    )


diameters = st.lists(st.floats(0.8, 6.0), min_size=2, max_size=30)


@settings(deadline=None)
@given(diameters, st.data())
def test_more_current_never_cools_and_hotter_air_never_cools(outside, data):
    n = len(outside)
    currents = np.array(data.draw(st.lists(st.floats(0, 12), min_size=n, max_size=n)))
    which = data.draw(st.integers(0, n - 1))
    more = currents.copy()
    more[which] += data.draw(st.floats(0.01, 8))
    resistance = 0.03 / np.array(outside) ** 2
    cool = bundle_heat(one(outside), currents, resistance)
    warm = bundle_heat(one(outside), more, resistance)
    assert warm.core_c[0] >= cool.core_c[0] - 0.02
    assert warm.surface_c[0] >= cool.surface_c[0] - 0.02
    hot_air = bundle_heat(one(outside, 55.0), currents, resistance)
    assert hot_air.core_c[0] >= cool.core_c[0] - 0.02


@settings(deadline=None)
@given(st.integers(1, 40), st.floats(1.0, 4.0), st.floats(0.5, 10))
def test_one_more_wire_as_loaded_as_the_rest_never_cools(count, diameter, current):
    def core(n):
        return bundle_heat(one([diameter] * n), np.full(n, current), np.full(n, 0.02)).core_c[0]

    assert core(count + 1) >= core(count) - 0.02
    assert outline_ratio(np.array([count + 1]))[0] >= outline_ratio(np.array([count]))[0]


@given(diameters, st.data())
def test_clustered_heat_is_never_cooler_than_the_same_heat_spread_evenly(outside, data):
    n = len(outside)
    heat = np.array(data.draw(st.lists(st.floats(0, 5), min_size=n, max_size=n)))
    area = np.array(outside) ** 2
    even = heat.sum() * area / area.sum()
    assert core_rise_k(one(outside), heat)[0] >= core_rise_k(one(outside), even)[0] * (1 - 1e-9)


def test_even_heat_rises_as_in_a_solid_round_body():
    """q / (4 pi k) from centre to surface: textbook conduction with a heat source, from memory.

    Ours takes the worse of that and a hot core in a less conducting shell, at most a tenth more.
    """
    solid = 10 / (4 * math.pi * 0.22)
    found = core_rise_k(one([2.0] * 10), np.ones(10))[0]
    assert solid <= found <= solid * 1.15


def test_many_bundles_at_once_are_as_each_alone():
    rng = np.random.default_rng(3)
    parts = [rng.uniform(1, 4, n) for n in (1, 3, 12, 40)]
    currents = [rng.uniform(0, 8, len(p)) for p in parts]
    together = Bundles(
        np.repeat(np.arange(4), [len(p) for p in parts]),
        np.concatenate(parts),
        np.concatenate(parts) * 0.6,
        np.full(4, 40.0),
        np.zeros(4),
        np.zeros(4),
    )
    found = bundle_heat(together, np.concatenate(currents), np.full(56, 0.02)).core_c
    alone = [
        bundle_heat(one(p), c, np.full(len(p), 0.02)).core_c[0] for p, c in zip(parts, currents, strict=True)
    ]
    assert found == pytest.approx(alone, abs=0.02)


def test_ampacity_all_at_once_is_the_root_of_each_heat_balance():
    """Against scipy.optimize.brentq on the same balance, wire by wire, over all families shipped."""
    from scipy.optimize import brentq

    from inkthread.core.physics.heat import free_air_ampacity_a, heat_shed_w_per_m

    rows = [
        (s.conductor_diameter_mm, s.od_mm, s.resistance_ohm_per_km / 1000, ambient, f.temperature_c)
        for f in CATALOGUE.wires.values()
        for s in f.sizes
        for ambient in (-20.0, 60.0)
    ]
    columns = [np.array(c, dtype=float) for c in zip(*rows, strict=True)]
    found = free_air_ampacity_a(*columns)
    for (conductor, outside, ohm, ambient, limit), ours in list(zip(rows, found, strict=True))[::7]:
        through = math.log(outside / conductor) / (2 * math.pi * 0.24)

        def shed(t, outside=outside, ambient=ambient):
            return float(heat_shed_w_per_m(np.array([t]), np.array([ambient]), np.array([outside]))[0])

        surface = brentq(lambda t, k=through, f=shed, top=limit: t + f(t) * k - top, ambient + 1e-6, limit)
        warm = ohm * (1 + 0.00393 * (limit - 20))
        assert ours == pytest.approx(math.sqrt(shed(surface) / warm), rel=1e-4)
    assert free_air_ampacity_a(*(np.array([x]) for x in (1.0, 2.0, 0.02, 90.0, 80.0)))[0] == 0
