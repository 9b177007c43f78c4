"""Every figure that ships for wire, contacts and covers, held to copper, to geometry and to its own kind.

Figures of copper: IEC 60028 (annealed copper 0.017241 ohm mm2/m at 20 deg C, 8.89 g/cm3); gauges: ASTM
B258; both from memory. Densities of insulation: handbook values, from memory.
"""

from __future__ import annotations

import math
from dataclasses import replace

import pytest

from inkthread.catalogue import shipped_catalogue
from inkthread.core.bench import calculate
from inkthread.core.wire.ampacity import Conditions, ampacity

COPPER_OHM_MM2_PER_KM = 17.241
COPPER_G_PER_CM3 = 8.89
DENSEST_INSULATION_G_PER_CM3 = 2.25
"""Fluorocarbon; PVC and polyethylene are lighter."""

CATALOGUE = shipped_catalogue()
SIZES = [(w, s) for w in CATALOGUE.wires.values() for s in w.sizes]
CONDUCTORS = [(w, s) for w, s in SIZES if w.construction != "ignition"]
PLAIN = [(w, s) for w, s in SIZES if w.construction in ("single", "solid")]
CONTACTS = [(f, c) for f in CATALOGUE.connectors.values() for c in f.contacts if f.group != "flying lead"]


def named(items):
    return [f"{a.code} {getattr(b, 'gauge', getattr(b, 'code', ''))}" for a, b in items]


def b258_mm2(gauge: int) -> float:
    """ASTM B258: 0.127 mm at 36 AWG, growing by the 39th root of 92 a step."""
    return math.pi / 4 * (0.127 * 92 ** ((36 - gauge) / 39)) ** 2


@pytest.mark.parametrize(("family", "size"), CONDUCTORS, ids=named(CONDUCTORS))
def test_no_wire_conducts_better_than_its_copper_or_much_worse(family, size):
    """Strands lie askew, and thin ones are a good part tin: up to a fifth more than solid annealed copper.

    The middle of a thin coaxial cable is copper over steel, at 40 % or more of copper's conductivity.
    """
    of_copper = COPPER_OHM_MM2_PER_KM / size.area_mm2
    most = 2.5 if family.construction == "coax" else 1.21
    assert 0.995 * of_copper <= size.resistance_ohm_per_km <= most * of_copper


@pytest.mark.parametrize(("family", "size"), CONDUCTORS, ids=named(CONDUCTORS))
def test_the_copper_goes_into_the_conductor(family, size):
    """Round strands fill a bundle to 0.6 at the loosest; solid copper fills it whole."""
    round_mm2 = math.pi / 4 * size.conductor_diameter_mm**2
    fill = size.area_mm2 / round_mm2
    assert fill <= 1.001
    assert fill >= (0.98 if family.construction == "solid" else 0.55)


@pytest.mark.parametrize(("family", "size"), SIZES, ids=named(SIZES))
def test_insulation_goes_over_the_conductor_and_its_limits_enclose_it(family, size):
    wall = (size.od_mm - size.conductor_diameter_mm) / 2
    assert wall >= 0.09, "thinner than any wall that is made"
    assert size.od_min_mm <= size.od_mm <= size.od_max_mm
    assert size.od_max_mm - size.od_min_mm <= 0.35 * size.od_mm
    if size.cable_od_mm is not None:
        assert size.cable_od_mm >= 1.5 * size.od_mm or family.cores == 1


@pytest.mark.parametrize(("family", "size"), PLAIN, ids=named(PLAIN))
def test_a_wire_weighs_its_copper_and_its_insulation(family, size):
    copper = size.area_mm2 * COPPER_G_PER_CM3
    insulation_mm2 = math.pi / 4 * (size.od_mm**2 - size.conductor_diameter_mm**2)
    assert size.mass_g_per_m >= 0.97 * copper
    assert size.mass_g_per_m <= 1.15 * (copper + insulation_mm2 * DENSEST_INSULATION_G_PER_CM3)


GAUGED = [(w, s) for w, s in CONDUCTORS if s.gauge.endswith(" AWG") and "/" not in s.gauge]


@pytest.mark.parametrize(("family", "size"), GAUGED, ids=named(GAUGED))
def test_a_gauge_has_about_the_copper_of_its_number(family, size):
    """Stranded gauges differ by class and standard: road-vehicle wire has 0.90 to 0.97, aircraft more."""
    share = size.area_mm2 / b258_mm2(int(size.gauge.removesuffix(" AWG")))
    assert 0.88 <= share <= 1.20


METRIC = [(w, s) for w, s in CONDUCTORS if s.gauge.endswith(" mm²")]


@pytest.mark.parametrize(("family", "size"), METRIC, ids=named(METRIC))
def test_a_metric_size_has_about_the_copper_of_its_name(family, size):
    """Named after a nominal area; it is the resistance that the standards hold to a limit."""
    assert 0.85 <= size.area_mm2 / float(size.gauge.removesuffix(" mm²")) <= 1.06


@pytest.mark.parametrize("family", CATALOGUE.wires.values(), ids=lambda w: w.code)
def test_more_copper_is_heavier_thicker_and_dearer(family):
    for thin, thick in zip(family.sizes, family.sizes[1:], strict=False):
        assert thick.mass_g_per_m > thin.mass_g_per_m
        assert thick.price_per_m >= thin.price_per_m
        assert thick.od_mm >= thin.od_mm
        if family.construction != "ignition":
            assert thick.area_mm2 > thin.area_mm2
            assert thick.resistance_ohm_per_km < thin.resistance_ohm_per_km


@pytest.mark.parametrize(("family", "contact"), CONTACTS, ids=named(CONTACTS))
def test_a_contact_is_made_for_wire_that_there_is(family, contact):
    assert 0 < contact.conductor_min_mm2 <= contact.conductor_max_mm2 <= 120
    assert 0 < contact.insulation_min_mm < contact.insulation_max_mm
    # The copper that it grips is thinner than the insulation it closes on.
    thinnest = 2 * math.sqrt(contact.conductor_min_mm2 / math.pi)
    assert thinnest < contact.insulation_max_mm


@pytest.mark.parametrize(("family", "contact"), CONTACTS, ids=named(CONTACTS))
def test_a_contact_carries_no_less_on_more_copper_and_no_more_than_copper_can(family, contact):
    currents = [a for _, a in contact.current_by_area]
    assert currents == sorted(currents)
    for area, current in contact.current_by_area:
        # 60 A/mm2 is far beyond what any contact carries for good (common practice, no source).
        assert current <= 60 * max(area, contact.conductor_min_mm2) + 1


@pytest.mark.parametrize(("family", "contact"), CONTACTS, ids=named(CONTACTS))
def test_a_strip_is_as_long_as_fingers_and_tools_can_make_it(family, contact):
    """Common practice, no source: 2 to 30 mm, to a twentieth of a millimetre at best."""
    if contact.strip_mm == 0:
        assert contact.joint == "clamp" or contact.kind in ("end", "screw"), "nothing to strip"
        return
    assert 1.5 <= contact.strip_mm <= 30
    assert 0.05 <= contact.strip_tolerance_mm <= contact.strip_mm / 4
    assert 0 <= contact.copper_least_mm <= contact.copper_most_mm <= 3.5


@pytest.mark.parametrize(("family", "contact"), CONTACTS, ids=named(CONTACTS))
def test_its_tools_are_held_and_their_rows_are_for_wire_that_it_takes(family, contact):
    for row in contact.tools:
        assert row.tool in CATALOGUE.tools
        # A tool's own selector goes by gauge, and may reach beyond the contact on either side.
        assert row.area_min_mm2 <= contact.conductor_max_mm2
        assert row.area_max_mm2 >= contact.conductor_min_mm2
        assert row.area_min_mm2 <= row.area_max_mm2
    if contact.extraction:
        assert contact.extraction in CATALOGUE.tools


@pytest.mark.parametrize("cover", CATALOGUE.covers, ids=lambda c: c.code)
def test_shrink_recovers_to_a_half_a_third_or_a_quarter(cover):
    """Common practice, no source: 2:1, 3:1, 4:1; lined tube recovers most."""
    ratio = cover.supplied_mm / cover.recovered_mm
    assert 1.9 <= ratio <= 4.3
    assert cover.price > 0


@pytest.mark.parametrize("table", CATALOGUE.pull.values(), ids=list(CATALOGUE.pull))
def test_more_copper_holds_more(table):
    areas = [0.05 * 1.3**n for n in range(28)]
    forces = [f for a in areas if (f := table.force_n(a)) is not None]
    assert len(forces) > 3
    assert forces == sorted(forces)


# AC 43.13-1B table 11-9, from memory: maximum resistance, ohm per 1000 ft at 20 deg C, and circular mils.
TABLE_11_9 = {
    8: (0.70, 16_983), 6: (0.44, 26_818), 4: (0.28, 42_615), 2: (0.18, 66_500), 1: (0.15, 81_700),
    0: (0.12, 104_500), -1: (0.09, 133_000), -2: (0.07, 166_500), -3: (0.06, 210_900),
}  # fmt: skip


@pytest.mark.parametrize("code", ["AS22759/16", "AS22759/34"])
@pytest.mark.parametrize("awg", TABLE_11_9)
def test_aircraft_wire_goes_on_to_four_aught(code, awg):
    """Resistance within the table's rounding of two decimals, copper by its circular mils within 2 %."""
    family = shipped_catalogue().wires[code]
    size = next(s for s in family.sizes if s.awg == awg)
    ohm, cmil = TABLE_11_9[awg]
    assert size.resistance_ohm_per_km * 0.3048 == pytest.approx(ohm, abs=0.0055)
    assert size.area_mm2 == pytest.approx(cmil * 5.067075e-4, rel=0.02)
    assert size.conductor_diameter_mm < size.od_min_mm < size.od_mm < size.od_max_mm


@pytest.mark.parametrize("awg", [*range(8, 25, 2), 6, 4, 2, 1, 0, -1, -2, -3])
def test_every_row_of_the_aircraft_table_is_answered(awg):
    """The aircraft method has a figure for every gauge of table 11-9 in aircraft wire."""
    catalogue = shipped_catalogue()
    family = catalogue.wires["AS22759/16"]
    size = next(s for s in family.sizes if s.awg == awg)
    found = ampacity("aircraft", catalogue, family, size, Conditions(70.0, 150.0, 33 if awg > 8 else 9, 0.2))
    assert found.ampacity_a > 0


def test_where_a_family_ends_the_next_that_does_is_named():
    """100 A over 4 m at 12 V, 3 %: more copper than thin wall is made in."""
    catalogue = shipped_catalogue()
    asked = {"amps": "100 A", "length": "4 m", "volts": "12 V"}
    found = calculate(catalogue, "wire", {**asked, "practice": "vehicle"})
    assert not found.holds
    assert "J1127-SGX" in found.sentence or "AS22759" in found.sentence
    marine = calculate(catalogue, "wire", {**asked, "practice": "marine", "family": ""})
    assert marine.holds or " of " in marine.sentence


def test_a_boat_goes_on_in_battery_cable():
    """Where even 4/0 of the practice's own family is left behind, nothing is named that does not hold."""
    catalogue = shipped_catalogue()
    small = replace(
        catalogue,
        wires={**catalogue.wires, "AS22759/16": replace(
            catalogue.wires["AS22759/16"],
            sizes=tuple(s for s in catalogue.wires["AS22759/16"].sizes if (s.awg or 0) >= 8),
        )},
    )  # fmt: skip
    asked = {"amps": "100 A", "length": "4 m", "volts": "12 V", "practice": "marine"}
    found = calculate(small, "wire", asked)
    assert found.holds
    assert "is not made so thick" in found.sentence
