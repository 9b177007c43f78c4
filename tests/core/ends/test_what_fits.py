"""Contacts, seals and faces at every cavity."""

from __future__ import annotations

from inkthread.core.ends import face_view
from tests.conftest import HarnessBuilder


def test_a_face_and_its_mate_agree_way_by_way(catalogue):
    """Way n faces way n across a mated pair, though the numbers run opposite ways round."""
    for family in catalogue.connectors.values():
        for housing in family.housings:
            plug_wire = face_view(housing.face, "plug", "wire").cavities
            plug_mating = face_view(housing.face, "plug", "mating").cavities
            other_mating = face_view(housing.face, "receptacle", "mating").cavities
            for way, (x, y) in plug_mating.items():
                assert plug_wire[way] == (-x + 0.0, y), "two sides of one half are mirror images"
                assert other_mating[way] == (-x + 0.0, y), "the mate, turned to face it, meets way by way"


def test_contact_and_seal_hold_the_wire_they_are_given(chassis, catalogue):
    w = chassis.workings()
    checked = 0
    for connector in w.evaluation.ends.connectors.values():
        for c in connector.cavities:
            if c.wire is None:
                continue
            made = w.evaluation.wire.wires[c.wire]
            size = w.wire.size(made.key)
            low, high = c.conductor_window_mm2
            assert low <= made.area_mm2 <= high
            if c.seal_window_mm:
                assert c.seal_window_mm[0] <= size.od_min_mm
                assert size.od_max_mm <= c.seal_window_mm[1]
            checked += 1
    assert checked == 32


def test_insulation_is_judged_from_both_sides():
    thin = HarnessBuilder("aviation").set("wire/family", "AS22759/32")
    thin.feed("B1 battery > F1 fuse > M1 pump 0.5 A > B1").run("B1 100 > F1 200 > M1")
    key = next(k for k, w in thin.evaluate().wire.wires.items() if w.to_text.startswith("M1"))
    thin.set(f"wire/fixed/{key}", {"order": 1, "reason": "light", "gauge": "20 AWG"})
    assert "insulation-too-thin" in thin.codes()
    thick = (
        HarnessBuilder("equipment")
        .set("wire/family", "PVC-GENERAL")
        .feed("T1 level sensor", "A1 controller 0.1 A", "A1.I1 > T1 > A1.N1")
    )
    thick.run("A1 400 > T1")
    assert "insulation-too-thick" in thick.codes()


def test_a_gauge_that_fits_its_ends_is_taken_before_a_thinner_one_that_does_not(catalogue):
    """22 AWG is too thin for the seal; whatever is taken instead must fit as a whole."""
    builder = (
        HarnessBuilder("motorsport")
        .feed("B1 battery > F1 fuse > E1 lamp 1 A > B1")
        .run("B1 200 > F1 400 > E1")
    )
    e = builder.evaluate()
    assert all(c.fits for c in e.ends.connectors["E1"].cavities)
    assert not [f for f in e.findings if f.places[0].room == "ends"]


def test_the_weakest_link_of_a_fuse_is_named(chassis):
    chassis.set("circuits/loads/M1/current_a", 11.0)
    finding = next(f for f in chassis.evaluate().findings if f.code == "fuse-above-weakest")
    assert "15 A" in finding.what
    assert "contact in M1-1" in finding.what


def test_a_cavity_used_twice_a_pin_left_and_an_overloaded_contact_are_found(pump):
    pump.set("ends/pinout/M1.-/cavity", "1")
    pump.set("circuits/loads/M1/current_a", 16.0)
    pump.set("circuits/devices/M1/pins/x", {"order": 9, "role": "signal", "name": "tacho"})
    assert {"cavity-used-twice", "pin-unconnected", "contact-overloaded"} <= set(pump.codes())


def test_a_zone_hotter_than_wire_or_connector_is_found(pump):
    pump.set("brief/zones", {"hot": {"order": 1, "name": "Exhaust", "ambient_c": 130}})
    for branch in pump.plain["route"]["branches"].values():
        branch["zone"] = "hot"
    found = [f for f in pump.evaluate().findings if f.code == "zone-too-hot"]
    assert {f.places[0].room for f in found} == {"brief", "ends"}
