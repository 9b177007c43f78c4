"""Physics and wire data against published figures and reference libraries.

Published figures were recalled without the documents at hand: read "from memory of" before each.
"""

from __future__ import annotations

import math

import numpy as np
import pytest
from fluids.piping import gauge_from_t, t_from_gauge
from ht.conv_free_immersed import Nu_horizontal_cylinder_Churchill_Chu
from hypothesis import given
from hypothesis import strategies as st

from inkthread.core.brief.rules import table_drop_v
from inkthread.core.physics import air
from inkthread.core.physics.conductor import (
    awg_area_mm2,
    awg_diameter_mm,
    resistance_at_temperature,
    strand_area_mm2,
)
from inkthread.core.physics.heat import (
    ampacity_a,
    conductor_temperature_c,
    heat_at_limit_w_per_m,
    heat_curves,
    heat_shed_w_per_m,
    nusselt_horizontal_cylinder,
)
from tests.oracles import resistance_from_strands_ohm_per_m


@pytest.mark.parametrize("number", range(1, 37))
def test_awg_diameter_against_fluids(number):
    """fluids.piping, schedule AWG; its diameters are rounded to three digits."""
    assert awg_diameter_mm(number) == pytest.approx(
        t_from_gauge(number, SI=True, schedule="AWG") * 1000, rel=4e-3
    )
    assert gauge_from_t(awg_diameter_mm(number) / 1000, SI=True, schedule="AWG") == number


@pytest.mark.parametrize(
    ("number", "area"),
    [
        (10, 5.26),
        (12, 3.31),
        (14, 2.08),
        (16, 1.31),
        (18, 0.823),
        (20, 0.518),
        (22, 0.326),
        (24, 0.205),
        (26, 0.129),
        (28, 0.081),
    ],
)
def test_awg_area(number, area):
    """ASTM B258, from memory."""
    assert awg_area_mm2(number) == pytest.approx(area, rel=6e-3)


def test_awg_ends_of_the_scale_are_exact():
    """ASTM B258 defines 36 AWG as 5 mil and 4/0 as 460 mil."""
    assert awg_diameter_mm(36) == pytest.approx(0.005 * 25.4)
    assert awg_diameter_mm(-3) == pytest.approx(0.460 * 25.4)


# SAE AS22759 maximum resistance, tin coated, ohm/1000 ft at 20 deg C; stranding. From memory.
AS22759_TIN = {
    26: (19, 38, 41.3),
    24: (19, 36, 26.2),
    22: (19, 34, 16.2),
    20: (19, 32, 9.88),
    18: (19, 30, 6.23),
    16: (19, 29, 4.81),
    14: (19, 27, 3.06),
    12: (37, 28, 2.02),
    10: (37, 26, 1.26),
    8: (133, 29, 0.701),
    6: (133, 27, 0.445),
    4: (133, 25, 0.280),
    2: (665, 30, 0.183),
    1: (817, 30, 0.149),
    0: (1045, 30, 0.116),
    -1: (1330, 30, 0.091),
    -2: (1665, 30, 0.071),
    -3: (2109, 30, 0.056),
}
# ASTM B33: least conductivity of tinned soft strand by diameter, from memory.
TINNED = 0.9315


@pytest.mark.parametrize("number", AS22759_TIN)
def test_strand_geometry_and_plating_explain_the_as22759_table(number):
    """Strand area, tinned conductivity, 3 % lay: the table's maximum lies above by its tolerance."""
    strands, strand_awg, published = AS22759_TIN[number]
    reckoned = resistance_from_strands_ohm_per_m(strands, awg_diameter_mm(strand_awg), TINNED, 1.03) * 304.8
    assert 1.0 <= published / reckoned <= 1.10


@pytest.mark.parametrize("code", ["AS22759/16", "AS22759/32"])
def test_shipped_aircraft_wire_has_the_published_resistance(catalogue, code):
    """SAE AS22759, from memory; data against the table above."""
    for size in catalogue.wires[code].sizes:
        strands, strand_awg, published = AS22759_TIN[size.awg]
        assert size.resistance_ohm_per_km == pytest.approx(published / 0.3048, rel=1e-3)
        assert size.area_mm2 == pytest.approx(
            strand_area_mm2(strands, awg_diameter_mm(strand_awg)), rel=0.015
        )


# ISO 6722-1 (2011) maximum resistance, plain copper, mohm/m; largest diameter thin wall. From memory.
ISO_6722 = {
    0.22: (84.8, 1.2),
    0.35: (54.4, 1.4),
    0.5: (37.1, 1.6),
    0.75: (24.7, 1.9),
    1: (18.5, 2.1),
    1.5: (12.7, 2.4),
    2.5: (7.6, 3.0),
    4: (4.71, 3.7),
    6: (3.14, 4.3),
}
# IEC 60228 class 5 maximum resistance, plain, ohm/km. From memory.
IEC_60228_CLASS_5 = {0.5: 39, 0.75: 26, 1: 19.5, 1.5: 13.3, 2.5: 7.98, 4: 4.95, 6: 3.30}


def test_road_vehicle_wire_has_copper_enough_for_its_published_limits(catalogue):
    """The strands' own area must meet the resistance that ISO 6722-1 and IEC 60228 allow."""
    for size in catalogue.wires["ISO6722-THIN"].sizes:
        nominal = float(size.gauge.removesuffix(" mm²"))
        limit, largest = ISO_6722[nominal]
        from_strands = (
            resistance_from_strands_ohm_per_m(size.strands, size.strand_diameter_mm, 1.0, 1.02) * 1000
        )
        assert from_strands <= limit
        assert from_strands >= limit * 0.88, "not more copper than the size's name says"
        assert size.resistance_ohm_per_km <= limit
        assert size.od_max_mm <= largest
        if nominal in IEC_60228_CLASS_5:
            assert from_strands <= IEC_60228_CLASS_5[nominal]


def test_automotive_copper_is_sae_copper_not_awg(catalogue):
    """SAE conductors are 0.90 to 0.97 of AWG area (ABYC E-11 table VI, from memory), strandings vary."""
    for size in catalogue.wires["J1128-TXL"].sizes:
        if size.awg and 8 <= size.awg <= 18:
            assert 0.89 <= size.area_mm2 / awg_area_mm2(size.awg) <= 0.99


@pytest.mark.parametrize(
    ("code", "gauge", "od"),
    [("AS22759/32", "18 AWG", 1.52), ("J1128-TXL", "18 AWG", 1.98), ("PVC-GENERAL", "18 AWG", 2.82)],
)
def test_insulation_diameters_as_the_trade_measures_them(catalogue, code, gauge, od):
    """Common practice, measured samples, no source."""
    assert catalogue.wires[code].size(gauge).od_mm == pytest.approx(od, abs=0.02)


def test_general_wire_is_1_85_times_the_diameter_of_light_aircraft_wire(catalogue):
    """111 / 60 thou at 18 AWG (common practice, no source)."""
    general, light = (catalogue.wires[c].size("18 AWG").od_mm for c in ("PVC-GENERAL", "AS22759/32"))
    assert general / light == pytest.approx(1.85, abs=0.01)


@given(st.floats(1e-3, 1e6), st.floats(0.6, 0.75))
def test_nusselt_against_ht(rayleigh, prandtl):
    """ht.Nu_horizontal_cylinder_Churchill_Chu takes Grashof: Ra / Pr."""
    ours = float(nusselt_horizontal_cylinder(np.array(rayleigh), np.array(prandtl)))
    assert ours == pytest.approx(
        Nu_horizontal_cylinder_Churchill_Chu(Pr=prandtl, Gr=rayleigh / prandtl), rel=1e-9
    )


# AC 43.13-1B figure 11-4a, free air, 200 deg C wire in 60 deg C air (para 11-69, example 1). From memory.
@pytest.mark.parametrize(("gauge", "published"), [("22 AWG", 16.2), ("20 AWG", 21.5), ("12 AWG", 61.0)])
def test_free_air_current_against_the_aircraft_chart(catalogue, gauge, published):
    """Tinned conductor, the outside diameter of AS22759/16: within -8 and +3 % of the chart."""
    size = catalogue.wires["AS22759/16"].size(gauge)
    curves = heat_curves(
        np.array([size.conductor_diameter_mm]),
        np.array([size.od_mm]),
        np.array([size.resistance_ohm_per_km / 1000]),
        np.array([60.0]),
    )
    ours = ampacity_a(curves, np.array([200.0]))[0]
    assert -0.08 <= ours / published - 1 <= 0.03


def test_heat_balance_closes_at_its_own_answer(catalogue):
    """At its ampacity a wire is at its limit; at half the current it is cooler than half the rise."""
    size = catalogue.wires["J1128-TXL"].size("16 AWG")
    curves = heat_curves(
        np.array([size.conductor_diameter_mm]),
        np.array([size.od_mm]),
        np.array([size.resistance_ohm_per_km / 1000]),
        np.array([40.0]),
    )
    amps = ampacity_a(curves, np.array([125.0]))
    assert conductor_temperature_c(curves, 0, amps)[0] == pytest.approx(125.0, abs=0.05)
    half = conductor_temperature_c(curves, 0, amps / 2)[0]
    assert 40 < half < 40 + 85 / 2
    temperatures = conductor_temperature_c(curves, 0, np.linspace(0, 40, 50))
    assert (np.diff(temperatures) >= 0).all()


@pytest.mark.parametrize("radiant_w_per_m2", [0.0, 800.0, 4000.0])
def test_heat_at_a_limit_is_the_root_that_halving_finds(radiant_w_per_m2):
    """Bodies from a thin wire to a thick bundle, 0.1 to 250 K of room, thin and thick cover."""
    outside, room, through = (
        a.ravel()
        for a in np.meshgrid(np.geomspace(0.5, 40, 9), np.geomspace(0.1, 250, 12), [1e-4, 0.1, 3.0, 30.0])
    )
    ambient = np.linspace(-50, 85, len(outside))
    limit = ambient + room
    found = heat_at_limit_w_per_m(outside, through, ambient, limit, radiant_w_per_m2=radiant_w_per_m2)
    falls = radiant_w_per_m2 * outside / 1000 * np.pi
    low, high = ambient.copy(), limit + falls * through
    for _ in range(100):
        middle = (low + high) / 2
        over = middle + (heat_shed_w_per_m(middle, ambient, outside) - falls) * through - limit
        low, high = np.where(over > 0, low, middle), np.where(over > 0, middle, high)
    assert found == pytest.approx(
        np.maximum(heat_shed_w_per_m(low, ambient, outside) - falls, 0), rel=1e-5, abs=1e-6
    )


def test_altitude_lowers_ampacity_less_than_the_aircraft_chart_says(catalogue):
    """AC 43.13-1B: 0.91 at 20,000 ft, 0.79 at 60,000 ft (from memory); physics is kinder."""
    size = catalogue.wires["AS22759/16"].size("20 AWG")
    arrays = [
        np.array([x])
        for x in (size.conductor_diameter_mm, size.od_mm, size.resistance_ohm_per_km / 1000, 60.0)
    ]

    def at(feet: float) -> float:
        pressure = air.pressure_at_altitude_pa(feet * 0.3048)
        return float(ampacity_a(heat_curves(*arrays, pressure_pa=pressure), np.array([200.0]))[0])

    assert 0.91 <= at(20_000) / at(0) <= 0.96
    assert 0.79 <= at(60_000) / at(0) <= 0.87


def test_copper_warms_by_its_published_coefficient():
    """IEC 60028: 0.00393 per kelvin at 20 deg C. NEC chapter 9 table 8: 10.371 to 12.613 at 75."""
    assert resistance_at_temperature(10.371, 75.0) == pytest.approx(12.613, abs=0.001)


@pytest.mark.parametrize(
    ("nominal", "service", "volts"),
    [
        (14, "continuous", 0.5),
        (14, "intermittent", 1),
        (28, "continuous", 1),
        (28, "intermittent", 2),
        (115, "continuous", 4),
        (115, "intermittent", 8),
        (200, "continuous", 7),
        (200, "intermittent", 14),
        (12, "continuous", 0.5),
    ],
)
def test_aircraft_drop_limits(catalogue, nominal, service, volts):
    """AC 43.13-1B table 11-6, from memory; up to 16 V the 14 V row (house rule)."""
    assert table_drop_v(nominal, service, catalogue)[0] == volts


def test_air_properties_at_room_temperature():
    """Handbook values at 300 K, from memory: 1.846e-5 Pa s, 0.0263 W/(m K), 1.177 kg/m3, Pr 0.707."""
    t = np.array([300.0])
    assert air.dynamic_viscosity_pa_s(t)[0] == pytest.approx(1.846e-5, rel=0.01)
    assert air.thermal_conductivity_w_per_m_k(t)[0] == pytest.approx(0.0263, rel=0.015)
    assert air.density_kg_per_m3(t, 101_325)[0] == pytest.approx(1.177, rel=0.005)
    conducts = air.thermal_conductivity_w_per_m_k(t)
    prandtl = air.dynamic_viscosity_pa_s(t) * air.HEAT_CAPACITY_J_PER_KG_K / conducts
    assert prandtl[0] == pytest.approx(0.707, rel=0.02)


def test_every_figure_shipped_has_a_source(catalogue):
    """A figure without a source is not trusted in a garage."""
    from dataclasses import fields

    from inkthread.core.catalogue import ConnectorFamily, Contact, Face, Seal, WireFamily, WireSize

    def numeric(kind: type) -> set[str]:
        return {f.name for f in fields(kind) if str(f.type).startswith(("float", "int", "tuple[tuple[float"))}

    for family in catalogue.wires.values():
        wanted = (numeric(WireSize) | numeric(WireFamily)) - {"awg", "cores", "cable_od_mm"}
        if family.resistance_min_ohm_per_m is None:
            wanted -= {"resistance_min_ohm_per_m", "resistance_max_ohm_per_m"}
        if family.cores > 1:
            wanted.add("cable_od_mm")
        assert wanted <= set(family.sources), family.code
        assert all(family.sources.values())
    for connector in catalogue.connectors.values():
        wanted = (
            numeric(ConnectorFamily)
            | numeric(Contact)
            | numeric(Face)
            | (numeric(Seal) if connector.seals else set())
        )
        if all(c.torque_nm is None for c in connector.contacts):
            wanted -= {"torque_nm"}
        if connector.least_c is None:
            wanted -= {"least_c"}
        assert wanted <= set(connector.sources), (connector.code, wanted - set(connector.sources))
    assert math.isfinite(sum(f.rating_a for f in catalogue.fuses))
