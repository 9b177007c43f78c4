"""The whole evaluation of a harness."""

from __future__ import annotations

import pytest

from tests.conftest import HarnessBuilder


def test_larkspur_changes_as_its_builder_raises_the_pump_from_4_to_11_amperes(chassis):
    before = chassis.evaluate()
    assert (before.tally.stops, before.tally.fixes, before.tally.considers) == (0, 0, 0)
    counts = [
        len(x)
        for x in (
            before.ends.connectors,
            before.circuits.circuits,
            before.route.branches,
            before.route.splices,
        )
    ]
    assert counts == [6, 15, 10, 1]
    chassis.set("circuits/loads/M1/current_a", 11.0)
    after = chassis.evaluate()
    assert (before.wire.wires["C2"].gauge, after.wire.wires["C2"].gauge) == ("16 AWG", "14 AWG")
    assert (before.circuits.fuses["F1.1"].rating_a, after.circuits.fuses["F1.1"].rating_a) == (5, 15)
    contact = [next(c.contact for c in e.ends.connectors["M1"].cavities) for e in (before, after)]
    assert contact == ["R16T-S-A", "R16T-S-B"]
    assert {x.code for x in before.parts.lines} != {x.code for x in after.parts.lines}
    assert after.tally.grams > before.tally.grams
    assert after.tally.stops > 0


def test_the_second_demo_has_one_finding_of_each_severity():
    from inkthread.demo import demo_document

    t = HarnessBuilder(plain=demo_document("dawdler-sketch")).evaluate().tally
    assert (t.stops, t.fixes, t.considers) == (1, 1, 3)


@pytest.mark.slow
def test_evaluation_never_fails_on_a_valid_document(chassis):
    """Take things out one by one, as a builder would in the middle of an edit."""
    import copy

    whole = chassis.plain
    for path in (("ends", "pinout"), ("route", "branches"), ("circuits", "loads"), ("circuits", "circuits")):
        for key in list(whole[path[0]][path[1]]):
            changed = copy.deepcopy(whole)
            del changed[path[0]][path[1]][key]
            if path[1] == "circuits":
                changed["circuits"].update(buses={}, groups={})
            assert HarnessBuilder(plain=changed).evaluate().rooms["brief"].progress == "full"
