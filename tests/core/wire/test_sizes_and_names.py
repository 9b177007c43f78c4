"""Rules speak in names, physics in copper; contact ranges have gaps; no size grows past what it is for.

Names: 0.75 mm2 by ISO 6722-1 may hold 0.72 mm2 of copper and is 0.75 all the same (from memory).
"""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from inkthread.core.catalogue import WireSize
from inkthread.core.wire.families import candidate_table, named_area_mm2, rule_is_metric, strength_areas_mm2
from inkthread.core.wire.limits import WorstEnds, next_that_fits
from tests.conftest import HarnessBuilder


def ruled(least: float, family: str) -> HarnessBuilder:
    builder = (
        HarnessBuilder("vehicle")
        .feed("B1 battery > F1 fuse > E1 lamp 0.1 A > B1")
        .run("B1 100 > F1 400 > E1")
    )
    builder.set("wire/family", family)
    builder.set("brief/house_rules/least_area_mm2", {"order": 1, "value": least, "reason": "as we do"})
    for connector in builder.plain["ends"]["connectors"].values():
        connector.update(family="RING", shell="none", stud="M6")
    return builder


@pytest.mark.parametrize(
    ("least", "family", "gauge"),
    [
        (0.75, "ISO6722-THIN", "0.75 mm²"),  # nominal is nominal: its copper is 0.7223
        (0.76, "ISO6722-THIN", "1 mm²"),
        (0.5, "ISO6722-THIN", "0.5 mm²"),
        (0.823, "J1128-TXL", "18 AWG"),  # by rank, though SAE 18 holds less than AWG 18
        (0.75, "J1128-TXL", "18 AWG"),  # across systems by copper within 5 %
        (1.0, "J1128-TXL", "16 AWG"),
        (0.35, "J1128-TXL", "22 AWG"),
        (0.518, "ISO6722-THIN", "0.75 mm²"),
    ],
)
def test_least_sizes_compare_by_name_in_their_own_system(catalogue, least, family, gauge):
    made = ruled(least, family).evaluate().wire.wires.values()
    sizes = [s.gauge for s in catalogue.wires[family].sizes]
    chosen = {w.gauge for w in made}
    assert min(chosen, key=sizes.index) == gauge


def test_a_name_does_not_count_where_the_copper_is_far_off(catalogue):
    size = next(s for s in catalogue.wires["ISO6722-THIN"].sizes if s.gauge == "0.75 mm²")
    assert size.area_mm2 < 0.75
    assert named_area_mm2(size) == 0.75
    clad = replace(size, area_mm2=0.75 * 0.899)
    assert named_area_mm2(clad) == pytest.approx(0.75 * 0.899)
    assert named_area_mm2(replace(size, area_mm2=0.75 * 0.901)) == 0.75


@pytest.mark.parametrize(
    ("least", "metric"),
    [(0.32, False), (0.326, False), (0.75, True), (1.15, None), (0.5, True), (0.38, None)],
)
def test_a_rule_is_of_the_system_that_its_figure_is_a_size_of(least, metric):
    assert rule_is_metric(least) is metric


def test_across_systems_five_per_cent_of_copper_is_allowed_and_no_more(catalogue):
    family = catalogue.wires["J1128-TXL"]
    table = candidate_table((family,), ((40.0, 0.0),))
    counts = strength_areas_mm2(table, 0.75)
    assert counts == pytest.approx(table.area_mm2 / 0.95)


# Ranges with a gap


def gapped(builder: HarnessBuilder, *ranges: tuple[float, float]) -> HarnessBuilder:
    """The pump's connector in a family whose contacts take these ranges and nothing between."""
    family = builder.catalogue.connectors["SR16"]
    first = next(c for c in family.contacts if c.gender == "socket")
    contacts = tuple(
        replace(
            first, code=f"G-{n}", conductor_min_mm2=low, conductor_max_mm2=high, insulation_min_mm=0.5,
            insulation_max_mm=9.0,
        )
        for n, (low, high) in enumerate(ranges)
    )  # fmt: skip
    seals = tuple(replace(s, od_min_mm=0.5, od_max_mm=9.0) for s in family.seals)
    own = replace(family, code="GAP", contacts=contacts, seals=seals)
    builder.catalogue = replace(builder.catalogue, connectors={**builder.catalogue.connectors, "GAP": own})
    builder.plain["ends"]["connectors"]["M1"]["family"] = "GAP"
    return builder


def metric_pump(amps: float, *ranges: tuple[float, float], length: int = 900) -> HarnessBuilder:
    builder = HarnessBuilder("vehicle").feed(f"B1 battery > F1 fuse > M1 pump {amps} A > B1")
    builder.run(f"B1 100 > F1 {length} > M1").set("wire/family", "ISO6722-THIN")
    for device in ("B1", "F1"):
        builder.plain["ends"]["connectors"][device].update(family="RING", shell="none", stud="M6")
    return gapped(builder, *ranges)


def test_a_size_in_a_gap_between_two_contacts_is_not_chosen():
    """0.2 to 0.8 and 1.3 to 2.7 mm2: 1 mm2 fits neither, so it is 1.5 where 0.75 is too thin."""
    found = set()
    for amps in (1.0, 4.0, 7.0, 9.0, 11.0):
        e = metric_pump(amps, (0.2, 0.8), (1.3, 2.7)).evaluate()
        at_pump = [w for w in e.wire.wires.values() if "M1-" in w.from_text + w.to_text]
        found |= {w.gauge for w in at_pump}
        assert "conductor-outside-contact" not in [f.code for f in e.findings]
        for w in at_pump:
            assert 0.2 <= w.area_mm2 <= 0.8 or 1.3 <= w.area_mm2 <= 2.7
    assert "1.5 mm²" in found
    assert "1 mm²" not in found


def test_what_is_refused_names_the_ranges_and_their_gap():
    builder = metric_pump(1.0, (0.2, 0.8), (1.3, 2.7))
    key = next(k for k, w in builder.evaluate().wire.wires.items() if "M1" in w.to_text)
    builder.set(f"wire/fixed/{key}", {"order": 1, "reason": "on the shelf", "gauge": "1 mm²"})
    (told,) = [f.what for f in builder.evaluate().findings if f.code == "conductor-outside-contact"]
    assert "0.2 to 0.8 or 1.3 to 2.7 mm²" in told


def test_ranges_are_told_in_the_gauges_of_the_wire():
    builder = metric_pump(1.0, (0.2, 0.55), (1.3, 2.2)).set("wire/family", "AS22759/16")
    key = next(k for k, w in builder.evaluate().wire.wires.items() if "M1" in w.to_text)
    builder.set(f"wire/fixed/{key}", {"order": 1, "reason": "on the shelf", "gauge": "18 AWG"})
    (told,) = [f.what for f in builder.evaluate().findings if f.code == "conductor-outside-contact"]
    assert "24 to 20 or 16 to 14 AWG" in told


def test_the_next_size_that_fits_stands_in_for_a_gap():
    ratio = np.array([[1.2, 0.9, 1.1, 1.05, 0.95, 1.3, 1.3]])
    none = np.zeros_like(ratio, dtype=bool)
    ends = WorstEnds(ratio, none, none, ratio)
    assert next_that_fits(ends, np.array([7])).tolist() == [[1, 1, 4, 4, 4, 5, 6]]
    assert next_that_fits(ends, np.array([4])).tolist() == [[1, 1, 2, 3, 4, 5, 6]]


# Limits that cannot be met


def test_a_drop_that_no_size_holds_does_not_push_wires_past_their_ends():
    """60 m of pump lead into a contact for 1.5 mm2: what its ends take is kept, and one finding says why."""
    builder = metric_pump(5.0, (0.2, 1.6), length=60_000)
    e = builder.evaluate()
    codes = [f.code for f in e.findings]
    assert codes.count("drop-over-limit") == 1
    assert "conductor-outside-contact" not in codes
    assert "insulation-too-thick" not in codes
    for w in e.wire.wires.values():
        if "M1-" in w.from_text + w.to_text:
            assert w.area_mm2 <= 1.6
    told = next(f for f in e.findings if f.code == "drop-over-limit")
    words = " ".join(r.text for r in told.remedies)
    for way in ("shorter", "ends", "limit", "supply"):
        assert way in words


def test_copper_is_not_spent_on_what_a_contact_loses():
    """A contact of 60 mohm at 5 A loses 0.3 V of 0.396: no copper before it makes up for that."""
    builder = metric_pump(5.0, (0.2, 120.0), length=300)
    family = builder.catalogue.connectors["GAP"]
    own = replace(family, contact_resistance_mohm=60.0)
    builder.catalogue = replace(builder.catalogue, connectors={**builder.catalogue.connectors, "GAP": own})
    e = builder.evaluate()
    assert "drop-over-limit" in [f.code for f in e.findings]
    assert max(w.area_mm2 for w in e.wire.wires.values()) <= 4.0


def size_named(gauge: str, awg: int | None, area: float) -> WireSize:
    return WireSize(gauge, awg, area, 7, 0.2, 0.6, 1.0, 1.1, 1.2, 30.0, 5.0, 0.2, 10.0)


def test_a_name_that_cannot_be_read_is_the_copper():
    assert named_area_mm2(size_named("litz", None, 0.3)) == 0.3
    assert named_area_mm2(size_named("22 AWG", 22, 0.32)) == pytest.approx(0.3255, abs=1e-3)
