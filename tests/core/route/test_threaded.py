"""Where splices go, what has no place, and runs as typed."""

from __future__ import annotations

import pytest

from inkthread.core.document.draft import LineError
from tests.conftest import HarnessBuilder


def wire(evaluation, text):
    """The wire one of whose ends begins with the text."""
    return next(
        w
        for w in evaluation.wire.wires.values()
        if w.from_text.startswith(text) or w.to_text.startswith(text)
    )


def test_a_circuit_with_more_than_two_ends_gets_a_splice_at_each_branching_place():
    builder = HarnessBuilder().feed(
        "B1 battery > F1 fuse > M1 pump 3 A > B1",
        "F1.out > E1 lamp 2 A > B1",
        "F1.out > E2 lamp 1 A > B1",
    )
    builder.run("B1 100 > F1 500 > near 400 > far 300 > M1", "near 200 > E1", "far 250 > E2")
    e = builder.evaluate()
    feed = wire(e, "F1-2").circuit
    splices = {s.point for s in e.route.splices.values() if s.circuit == feed}
    assert splices == {"near", "far"}
    sections = {w.key: w.carries_a for w in e.wire.wires.values() if w.circuit == feed}
    assert sections[f"{feed}:far~near"] == pytest.approx(4.0)
    assert sections[f"{feed}:F1.out"] == pytest.approx(6.0)
    lengths = {c.wire: c.route_mm for c in e.cut.cuts}
    # Each splice lies on the longest branch about its place, clear of it: 20 mm and half a cover.
    assert {s.point: (s.branch, s.offset_mm) for s in e.route.splices.values() if s.circuit == feed} == {
        "near": ("R2", 40),
        "far": ("R3", 40),
    }
    assert lengths[f"{feed}:far~near"] == 400
    assert lengths[f"{feed}:F1.out"] == 460


def test_a_splice_of_two_pins_of_one_connector_is_kept_clear_of_it():
    builder = HarnessBuilder().feed("B1 battery > F1 fuse > M1 pump 3 A > B1", "F1.out > E1 lamp 2 A > B1")
    builder.run("B1 100 > F1 600 > M1")
    builder.set("ends/connectors/E1/point", "M1")
    e = builder.evaluate()
    splice = next(s for s in e.route.splices.values() if s.point == "M1")
    assert splice.offset_mm == 70, "50 clear of the connector and half of its cover"
    lengths = sorted(c.route_mm for c in e.cut.cuts if c.wire.startswith(f"{splice.circuit}:"))
    assert lengths[:2] == [70, 70]
    assert sum(lengths) == pytest.approx(600 - 70 + 140)


def test_what_has_no_place_is_a_finding_and_the_rest_is_evaluated(pump):
    pump.feed("F1.out > E1 lamp 1 A > B1")
    codes = pump.codes()
    assert "connector-not-placed" in codes
    assert pump.evaluate().tally.wires >= 2
    pump.run("E1 100 > island")
    assert "route-broken" in pump.codes()


@pytest.mark.parametrize(
    ("line", "says"),
    [
        ("B1 300", "two points"),
        ("B1 > M1", "How far"),
        ("B1 300 > M1 200", "leads nowhere"),
        ("B1 x300 > M1", "How far"),
        ("B1 300 parsecs > M1", "not a length"),
        ("B1 300 > M1 > ", "nothing between"),
        ("B1 100 > M1", "loop"),
    ],
)
def test_a_run_that_is_not_understood_says_what_to_type(pump, line, says):
    with pytest.raises(LineError, match=says):
        pump.run(line)


def test_a_run_typed_again_measures_anew(pump):
    pump.run("mid 450 > M1")
    assert sorted(b["length_mm"] for b in pump.plain["route"]["branches"].values()) == [100, 450, 900]
