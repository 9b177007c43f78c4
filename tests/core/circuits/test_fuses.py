"""Fuses and what goes with them: the ladder that is made, holders, warm places, limits by insulation."""

from __future__ import annotations

import pytest

from inkthread.core.physics.short_time import adiabatic_k
from inkthread.core.wire.protection import faults
from tests.conftest import HarnessBuilder

# ISO 8820-3 types C and F, from memory: every rating that blade fuses are made in.
BLADE = (1, 2, 3, 4, 5, 7.5, 10, 15, 20, 25, 30, 35, 40)


def pump(amps: float, practice: str = "vehicle") -> HarnessBuilder:
    return (
        HarnessBuilder(practice)
        .feed(f"B1 battery > F1 fuse > M1 pump {amps} A > B1")
        .run("B1 100 > F1 900 > M1")
    )


def test_blade_fuses_are_held_in_every_rating_that_is_made(catalogue):
    made = [f.rating_a for f in catalogue.fuses if f.curve == "blade"]
    assert made == list(BLADE)
    loss = [f.rating_a * f.resistance_mohm for f in catalogue.fuses if f.curve == "blade"]
    assert all(75 <= mv <= 110 for mv in loss), "about 100 mV at rating, typical"


def test_a_load_between_two_ratings_gets_the_one_between():
    """27.8 A at 80 % asks for 34.75 A: 35, not 40, and its wires stand 110 % of it."""
    builder = pump(27.8).set("circuits/loads/M1/kind", "constant current")
    builder.shaded()
    for device in ("F1", "M1"):
        builder.plain["ends"]["connectors"][device].update(family="RING", shell="none", stud="M6")
    w = builder.workings()
    assert w.circuits.fuses["F1.1"].rating_a == 35.0
    codes = [f.code for f in w.evaluation.findings]
    assert "fuse-above-weakest" not in codes
    for i, key in enumerate(w.wire.tables.keys):
        if w.wire.tables.asked.fuse_single_a[i] > 0:
            assert w.wire.tables.judgement.fuse[i, w.wire.tables.chosen[i]] <= 1.0005, key


@pytest.mark.parametrize(("ambient", "rating"), [(40.0, 5.0), (40.2, 7.5), (85.0, 7.5)])
def test_a_fuse_in_a_warm_place_is_loaded_less(ambient, rating):
    """4 A is 80 % of 5 A; 0.15 % of the rating is lost for each kelvin above 40 deg C (house rule)."""
    builder = pump(4.0).set("circuits/loads/M1/kind", "constant current")
    builder.set("brief/zones/z", {"order": 1, "name": "Bay", "ambient_c": ambient})
    for branch in builder.plain["route"]["branches"].values():
        branch["zone"] = "z"
    fuse = builder.workings().circuits.fuses["F1.1"]
    assert fuse.rating_a == rating
    assert fuse.left == pytest.approx(1 - 0.0015 * (ambient - 40.0))


def test_a_fuse_that_is_in_no_block_has_its_holder_on_the_bill():
    def holders(builder: HarnessBuilder) -> list[tuple[str, float]]:
        return [(x.code, x.quantity) for x in builder.evaluate().parts.lines if x.code.startswith("FH-")]

    assert holders(pump(5.0)) == [("FH-B", 1.0)]
    assert holders(pump(60.0)) == [("FH-HC", 1.0)]
    block = pump(5.0)
    block.plain["ends"]["connectors"]["F1"].update(family="FBLK", shell="plug", ways=2)
    cavities = list(block.catalogue.connectors["FBLK"].housing(2).face.cavities)
    for pin, cavity in zip(("F1.in", "F1.out"), cavities, strict=True):
        block.plain["ends"]["pinout"][pin]["cavity"] = cavity
    assert holders(block) == []


@pytest.mark.parametrize(
    ("family", "final_c"), [("PVC-GENERAL", 160.0), ("J1128-TXL", 250.0), ("AS22759/16", 250.0)]
)
def test_insulation_stands_a_fault_by_its_kind(catalogue, family, final_c):
    """IEC 60364-5-54 table A.54: PVC 160 deg C, XLPE 250, from memory; ETFE 100 K above its 150 (house)."""
    assert catalogue.fault_limits.of(catalogue.wires[family])[0] == final_c


def test_k_of_pvc_and_xlpe_are_the_published_ones():
    """IEC 60364-4-43 table 43A, copper: PVC 70 to 160 deg C 115, XLPE 90 to 250 deg C 143; from memory."""
    assert adiabatic_k(70, 160) == pytest.approx(115, abs=1)
    assert adiabatic_k(90, 250) == pytest.approx(143, abs=1)


def test_a_short_that_xlpe_stands_melts_pvc():
    """The same copper and fuse: what opens in time for 250 deg C is too slow for 160."""
    found = {}
    for family in ("J1128-TXL", "PVC-GENERAL"):
        builder = pump(5.0).set("wire/family", family)
        builder.plain["ends"]["connectors"]["M1"]["family"] = "TAB63"
        builder.plain["ends"]["connectors"]["M1"]["shell"] = "none"
        w = builder.workings()
        found[family] = faults(w.document, w.catalogue, w.circuits, w.wire)["M1"]
        fault = found[family]
        made = w.wire.wires[fault.wire]
        start = min(made.temperature_c, w.wire.families[family].temperature_c)
        k = adiabatic_k(start, 250.0 if family == "J1128-TXL" else 160.0)
        assert fault.stands_s == pytest.approx((k * made.area_mm2 / fault.current_a) ** 2, rel=1e-6)


def test_a_rating_that_is_the_programs_own_sits_out_its_loads_at_the_start(catalogue):
    """ISO 8820-3, from memory: 200 % may open in 0.15 s, 135 % holds 0.75 s, 110 % for 100 h.

    1.5 A for 2 s: on 1 A that is 150 %, on 2 A 75 %. A rating fixed by the builder stays, and is told.
    """
    builder = HarnessBuilder("equipment").feed(
        "B1 battery 12 V > F1 fuse > A2 radio 0.1 A, peak 1.5 A for 2 s > B1"
    )
    builder.run("B1 100 > F1 600 > A2")
    w = builder.workings()
    fuse = w.circuits.fuses["F1.1"]
    assert fuse.rating_a == min(f.rating_a for f in catalogue.fuses if f.rating_a * 1.1 >= 1.5)
    assert "1.5 A" in fuse.sits_out
    assert "fuse-opens-at-inrush" not in {f.code for f in w.evaluation.findings}
    fixed = builder.set("circuits/devices/F1/paths/1/rating_a", 1.0)
    assert "fuse-opens-at-inrush" in fixed.codes()


def test_a_rating_is_not_raised_over_what_its_contacts_are_made_for():
    """A sealed size 16 carries 13 A: what asks for a 20 A fuse at its start is told, not fed by one."""
    builder = HarnessBuilder("vehicle").feed("B1 battery > F1 fuse > M1 fan 7 A peak 24 A for 1 s > B1")
    builder.run("B1 100 > F1 600 > M1")
    w = builder.workings()
    assert w.circuits.fuses["F1.1"].rating_a <= 13
    assert "fuse-opens-at-inrush" in {f.code for f in w.evaluation.findings}
    assert "fuse-above-weakest" not in {f.code for f in w.evaluation.findings}
