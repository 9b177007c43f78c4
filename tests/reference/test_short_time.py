"""Short-time heating, protective curves and data buses against published figures (from memory)."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import solve_ivp

from inkthread.catalogue import shipped_catalogue
from inkthread.core.bench import calculate
from inkthread.core.circuits.curve import holds_at_least_s, opens_within_s
from inkthread.core.physics.conductor import awg_area_mm2, awg_diameter_mm
from inkthread.core.physics.heat import conductor_temperature_c, heat_curves
from inkthread.core.physics.short_time import (
    Pulse,
    adiabatic_k,
    heat_capacity_j_per_m_k,
    peak_temperature_c,
    withstand_s,
)
from tests.oracles import onderdonk_a, preece_a

CATALOGUE = shipped_catalogue()


@pytest.mark.parametrize(
    ("initial", "final", "metal", "k"),
    [
        (70, 160, "copper", 115),
        (70, 160, "aluminium", 76),
        (70, 140, "copper", 103),
        (90, 250, "copper", 143),
        (90, 250, "aluminium", 94),
        (60, 200, "copper", 141),
        (85, 220, "copper", 134),
        (180, 350, "copper", 132),
        (30, 160, "copper", 143),
        (30, 160, "steel", 52),
        (30, 250, "copper", 176),
        (30, 200, "copper", 159),
        (30, 150, "copper", 138),
        (30, 500, "copper", 228),
    ],
)
def test_k_of_iec_60364_5_54(initial, final, metal, k):
    """IEC 60364-5-54 and IEC 60949, from memory; printed to whole numbers."""
    assert adiabatic_k(initial, final, metal) == pytest.approx(k, abs=0.8)


@pytest.mark.parametrize(
    ("awg", "preece", "one_second", "tenth"),
    [(24, 29.2, 59.1, 330), (20, 58.5, 149.4, 835), (10, 333.2, 1519, 8491)],
)
def test_fusing_currents_as_sanity_bounds(awg, preece, one_second, tenth):
    """Preece's and Onderdonk's formulas, printed check values from memory (1 s, 32 ms)."""
    assert preece_a(awg_diameter_mm(awg)) == pytest.approx(preece, rel=0.005)
    assert onderdonk_a(awg_area_mm2(awg), 1.0) == pytest.approx(one_second, rel=0.005)
    assert onderdonk_a(awg_area_mm2(awg), 0.032) == pytest.approx(tenth, rel=0.005)
    # Onderdonk from 25 to 1083 C is k = 289; IEC 60949 gives 288.
    assert onderdonk_a(1.0, 1.0) == pytest.approx(adiabatic_k(25, 1083), rel=0.005)


def wire(code="AS22759/16", gauge="12 AWG", ambient=40.0):
    size = CATALOGUE.wires[code].size(gauge)
    one = np.ones(1)
    ohm = size.resistance_ohm_per_km / 1000
    curves = heat_curves(
        one * size.conductor_diameter_mm, one * size.od_mm, one * ohm, one * ambient, top_c=900.0
    )
    capacity = heat_capacity_j_per_m_k(size.area_mm2, size.conductor_diameter_mm, size.od_mm)
    return size, curves, ohm, capacity


def test_a_short_pulse_comes_near_the_adiabatic_figure_and_never_above_it():
    """I2t = k2 S2 with no heat leaving (IEC 60949); insulation takes a little of it up."""
    size, curves, ohm, capacity = wire()
    amps = 600.0
    seconds = withstand_s(amps, size.area_mm2, 40.0, 150.0)
    # The family's resistance lies above ideal copper of its strands: compare at equal heat.
    ideal = 17.241e-6 * 1000 / size.area_mm2
    reached = peak_temperature_c(curves, 0, ideal, capacity, 40.0, Pulse(amps, seconds))
    assert 110 < reached <= 150.5
    assert ohm > ideal


def test_a_long_pulse_comes_to_the_steady_temperature():
    _, curves, ohm, capacity = wire()
    steady = float(conductor_temperature_c(curves, 0, np.array([30.0]))[0])
    reached = peak_temperature_c(curves, 0, ohm, capacity, 40.0, Pulse(30.0, 7200))
    assert reached == pytest.approx(steady, abs=1.0)


@pytest.mark.parametrize(("amps", "seconds"), [(60.0, 100.0), (120.0, 10.0), (250.0, 3.0)])
def test_a_pulse_follows_the_differential_equation(amps, seconds):
    """C dT/dt = R20 (1 + 0.00393 (T - 20)) I2 - what leaves it, by a stiff solver of another library."""
    _, curves, ohm, capacity = wire()
    steady_c, squared = curves.conductor_c[0], curves.current_squared_a2[0]

    def warms(_: float, t: np.ndarray) -> np.ndarray:
        return ohm * (1 + 0.00393 * (t - 20)) * (amps**2 - np.interp(t, steady_c, squared)) / capacity

    exact = solve_ivp(warms, (0, seconds), [40.0], method="LSODA", rtol=1e-8, atol=1e-6).y[0, -1]
    assert exact > 90
    assert peak_temperature_c(curves, 0, ohm, capacity, 40.0, Pulse(amps, seconds)) == pytest.approx(
        exact, abs=0.02 * (exact - 40)
    )


@pytest.mark.parametrize("days", [1, 10, 100])
def test_however_long_a_pulse_it_is_never_hotter_than_steady(days):
    """Steps grow with the pulse; one that is longer than the wire's time constant must not overshoot."""
    _, curves, ohm, capacity = wire(gauge="24 AWG")
    steady = float(conductor_temperature_c(curves, 0, np.array([5.0]))[0])
    for repeats in (1, 3):
        pulse = Pulse(5.0, days * 86_400.0, repeats, days * 86_400.0)
        assert peak_temperature_c(curves, 0, ohm, capacity, 40.0, pulse) == pytest.approx(steady, abs=0.05)


@settings(deadline=None, max_examples=40)
@given(st.floats(20, 200), st.floats(1, 60), st.integers(1, 4))
def test_more_current_longer_or_oftener_is_never_cooler(amps, seconds, repeats):
    _, curves, ohm, capacity = wire()

    def peak(pulse):
        return peak_temperature_c(curves, 0, ohm, capacity, 40.0, pulse)

    here = peak(Pulse(amps, seconds, repeats, 20))
    assert peak(Pulse(amps * 1.1, seconds, repeats, 20)) >= here - 0.3
    assert peak(Pulse(amps, seconds * 1.2, repeats, 20)) >= here - 0.3
    assert peak(Pulse(amps, seconds, repeats + 1, 20)) >= here - 0.3


def test_three_cranks_are_hotter_than_one_and_cooler_than_one_long_one():
    _, curves, ohm, capacity = wire("J1127-SGX", "4 AWG")
    one, three, long = (
        peak_temperature_c(curves, 0, ohm, capacity, 40.0, p)
        for p in (Pulse(500, 10), Pulse(500, 10, 3, 20), Pulse(500, 30))
    )
    assert one < three < long


# ISO 8820-3 types C and F, per cent of rating to (least, most) seconds, from memory.
BLADE = {135: (0.75, 600), 160: (0.25, 50), 200: (0.15, 5), 350: (0.04, 0.5)}


@pytest.mark.parametrize("percent", BLADE)
def test_blade_fuse_band(percent):
    curve = CATALOGUE.curves["blade"]
    assert (
        holds_at_least_s(curve, percent / 10, 10),
        opens_within_s(curve, percent / 10, 10),
    ) == pytest.approx(BLADE[percent])
    assert holds_at_least_s(curve, 11, 10) >= 360_000 * 0.99, "110 % for 100 h"
    assert math.isinf(opens_within_s(curve, 12, 10)), "at 120 % it may never open"


@pytest.mark.parametrize("name", ["blade", "high-current blade", "thermal breaker"])
def test_both_edges_fall_with_current_and_never_cross(name):
    curve = CATALOGUE.curves[name]
    currents = np.geomspace(1.2, 40, 60)
    fast = [holds_at_least_s(curve, float(c), 1.0) for c in currents]
    slow = [opens_within_s(curve, float(c), 1.0) for c in currents]
    assert fast == sorted(fast, reverse=True)
    assert slow == sorted(slow, reverse=True)
    assert all(f < s for f, s in zip(fast, slow, strict=True))


@pytest.mark.parametrize(
    ("code", "metres", "fits"),
    [
        ("ISO11898-1M", 40, True),  # ISO 11898-2
        ("ISO11898-1M", 41, False),
        ("ISO11898-500K", 100, True),  # CiA 301
        ("ISO11898-250K", 250, True),
        ("ISO11898-125K", 501, False),
        ("J1939-11", 40, True),  # SAE J1939-11
        ("RS-485", 1200, True),  # TIA-485
        ("RS-232", 16, False),  # TIA-232
    ],
)
def test_bus_lengths(code, metres, fits):
    found = calculate(CATALOGUE, "bus", {"standard": code, "length": f"{metres} m"})
    assert found.figures["fits"] is fits


def test_bus_stubs_and_terminators():
    """ISO 11898-2: stubs to 0.3 m at 1 Mbit/s, 120 ohm at each end. From memory."""
    short, long = (
        calculate(CATALOGUE, "bus", {"standard": "ISO11898-1M", "length": "10 m", "stubs": stubs})
        for stubs in ("0.3 m, 100 mm", "310 mm")
    )
    assert short.holds
    assert not long.holds
    assert short.figures["termination_ohm"] == 120
    assert calculate(CATALOGUE, "bus", {"standard": "J1939-11", "length": "2 m", "nodes": "30"}).figures[
        "reasons"
    ] == ["nodes stand closer than 0.1 m"]


def test_the_fuse_calculator_judges_wire_fault_and_inrush():
    asked = {"amps": "7.5", "family": "AS22759/32", "gauge": "18", "fault": "800 A"}
    good = calculate(CATALOGUE, "fuse", asked)
    assert good.holds
    assert good.figures["rating_a"] == 10
    assert 25 < good.figures["conductor_110_c"] < good.figures["conductor_135_c"] < 150
    beyond = calculate(CATALOGUE, "fuse", {**asked, "fault": "1500 A"})
    assert beyond.figures["interrupts"] is False
    never = calculate(CATALOGUE, "fuse", {"amps": "4", "fault": "5 A"})
    assert never.figures["opens_within_s"] is None
    assert not never.holds
    lamp = calculate(CATALOGUE, "fuse", {"amps": "4", "inrush": "40 A", "inrush_time": "50 ms"})
    assert not lamp.holds
