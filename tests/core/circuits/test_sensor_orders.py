"""Trade arithmetic of ends: which orders pass, what six plugs take, how a face meets its mate."""

from __future__ import annotations

from itertools import permutations

import pytest

from inkthread.core.ends.faces import face_view
from tests.conftest import HarnessBuilder
from tests.core.scenarios import sensor_on


def swapped(builder: HarnessBuilder) -> bool:
    return "polarity-swapped" in {f.code for f in builder.evaluate().findings}


@pytest.mark.parametrize("order", list(permutations(("1", "3", "4"))))
def test_of_six_orders_of_a_three_wire_sensor_one_passes(order):
    """IEC 60947-5-2, from memory: 1 supply, 3 return, 4 output; common practice: one of six passes."""
    supply, ground, signal = order
    builder = sensor_on("M12S", 4, supply=supply, ground=ground, signal=signal)
    assert swapped(builder) == (order != ("1", "3", "4"))


@pytest.mark.parametrize("order", [("1", "4"), ("4", "1"), ("3", "4"), ("4", "3")])
def test_both_orders_of_a_two_wire_dry_contact_pass(order):
    """Common practice, no source."""
    builder = HarnessBuilder("equipment").feed(
        "B1 battery > F1 fuse > A1 controller 0.1 A > B1", "S1 dry contact"
    )
    pins = list(builder.plain["circuits"]["devices"]["S1"]["pins"])
    builder.feed(f"A1.I1 > S1.{pins[0]}", f"S1.{pins[1]} > A1.N1").run("B1 100 > F1 300 > A1 300 > S1")
    builder.plain["ends"]["connectors"]["S1"].update(family="M12S", ways=4)
    for pin, way in zip(pins, order, strict=True):
        builder.plain["ends"]["pinout"][f"S1.{pin}"]["cavity"] = way
    assert not swapped(builder)


def test_six_three_way_sealed_plugs_take_eighteen_contacts_and_eighteen_seals():
    """Common practice, no source: 18 contacts, 18 seals."""
    builder = HarnessBuilder("vehicle").feed("B1 battery > F1 fuse > A1 controller 0.2 A > B1")
    for n in range(1, 7):
        builder.feed(f"T{n} three-wire", f"F1.out > T{n}.1", f"T{n}.3 > A1.N1")
        device = builder.plain["circuits"]["devices"][f"T{n}"]["pins"]
        loose = next(p for p in device if p not in ("1", "3"))
        device_pin = f"T{n}.{loose}"
        builder.plain["circuits"]["devices"]["A1"]["pins"][f"I{n + 1}"] = {
            "order": 20 + n,
            "role": "signal",
            "name": "",
        }
        ends = {device_pin: {"order": 1}, f"A1.I{n + 1}": {"order": 2}}
        builder.set(f"circuits/circuits/S{n}", {"order": 50 + n, "name": f"signal {n}", "ends": ends})
        entry = {"order": 50 + n, "connector": "A1", "cavity": str(n + 5)}
        builder.set(f"ends/pinout/A1.I{n + 1}", entry)
    builder.set("ends/connectors/A1/ways", 12)
    builder.run("B1 100 > F1 300 > A1", *(f"F1 {200 + 50 * n} > T{n}" for n in range(1, 7)))
    e = builder.evaluate()
    at_plugs = [c for n in range(1, 7) for c in e.ends.connectors[f"T{n}"].cavities]
    assert len(at_plugs) == 18
    assert sum(c.contact is not None for c in at_plugs) == 18
    assert sum(c.seal is not None for c in at_plugs) == 18
    assert sum(c.cavity_plug is not None for c in at_plugs) == 0


def test_three_servo_leads_grouped_are_nine_ways_a_side(catalogue):
    """Common practice, no source: 3 leads of 3 are 9 ways; sizes 6, 9, 12; 6 loose plugs become 2."""
    grouped = [h.ways for h in catalogue.connectors["SV3"].housings]
    assert {3, 6, 9, 12} <= set(grouped)
    assert catalogue.connectors["SV3"].housing(3 * 3) is not None


@pytest.mark.parametrize("shell", ["plug", "receptacle"])
def test_way_n_faces_way_n_though_the_numbers_run_opposite_ways_round(catalogue, shell):
    """Laid on its mate, every way of every housing meets the way of its own name."""
    other = "receptacle" if shell == "plug" else "plug"
    for family in catalogue.connectors.values():
        if family.loose:
            continue
        for housing in family.housings:
            mine = face_view(housing.face, shell, "mating").cavities
            its = face_view(housing.face, other, "mating").cavities
            # Face to face, the mate is seen from behind: left and right change places.
            for name, (x, y) in mine.items():
                ox, oy = its[name]
                assert (x, y) == pytest.approx((-ox, oy)), (family.code, housing.ways, name)
            wires = face_view(housing.face, shell, "wire").cavities
            for name, (x, y) in mine.items():
                assert wires[name] == pytest.approx((-x, y)), "the two sides are each other's mirror"


def test_general_wire_is_nearly_twice_as_thick_as_thin_walled_at_one_gauge(catalogue):
    """Common practice, measured samples: 0.111 in over 0.060 in at 18 AWG is 1.85."""
    thin = catalogue.wires["AS22759/32"].size("18 AWG")
    general = max(
        (s for w in catalogue.wires.values() if w.construction == "single" for s in [w.size("18 AWG")] if s),
        key=lambda s: s.od_mm,
    )
    assert thin is not None
    assert general.od_mm / thin.od_mm == pytest.approx(1.85, rel=0.12)
