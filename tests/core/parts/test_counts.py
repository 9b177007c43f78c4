"""What is counted for the bill."""

from __future__ import annotations

import pytest


def test_bill_counts_what_the_ends_use_times_the_quantity(chassis):
    chassis.set("brief/quantity", 3)
    e = chassis.evaluate()
    quantity = {(line.group, line.code): line.quantity for line in e.parts.lines if line.group != "wire"}
    assert quantity["housing", "SR16-P12"] == 6
    assert quantity["contact", "R16T-S-A"] == 3 * (12 + 9 + 2)
    assert quantity["cavity plug", "SR16-B"] == 9, "three ways of the dash node are spare"
    assert quantity["seal", "SR16-G"] == 3 * 23
    assert quantity["lock", "SR16-WP02"] == 3
    assert quantity["splice", "OB-4"] == 3, "16 and three of 18 AWG: 4.1 mm² under the same wings"
    metres = sum(line.quantity for line in e.parts.lines if line.group == "wire")
    assert metres == pytest.approx(3 * e.cut.total_m)
    assert e.tally.cost == pytest.approx(e.parts.cost_total / 3, abs=0.01), "the tag is of one harness"
    assert all(line.cost == 0 for line in e.parts.lines if line.included)
