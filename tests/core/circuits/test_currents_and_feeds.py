"""Currents, feeds and returns on small harnesses written as a builder would type them."""

from __future__ import annotations

import pytest

from inkthread.core.document.draft import LineError
from inkthread.core.opening import spoken
from tests.conftest import HarnessBuilder


def wire(evaluation, text):
    """The wire one of whose ends begins with the text."""
    return next(
        w
        for w in evaluation.wire.wires.values()
        if w.from_text.startswith(text) or w.to_text.startswith(text)
    )


def test_currents_are_summed_from_the_loads_back_to_the_source():
    e = (
        HarnessBuilder()
        .feed("B1 battery > F1 fuse > M1 pump 5 A > B1", "F1.out > E1 lamp 2 A > B1")
        .run("B1 200 > F1 500 > mid 300 > M1", "mid 200 > E1")
        .evaluate()
    )
    carries = {k: c.carries_a for k, c in e.circuits.circuits.items()}
    assert wire(e, "F1-1").carries_a == pytest.approx(7.0)
    assert wire(e, "M1-1").carries_a == pytest.approx(5.0)
    assert wire(e, "E1-1").carries_a == pytest.approx(2.0)
    assert wire(e, "B1-2").carries_a == pytest.approx(7.0), "the shared return carries the sum"
    assert max(carries.values()) == pytest.approx(7.0)


def test_current_crosses_a_device_only_along_a_declared_path():
    builder = HarnessBuilder().feed("B1 battery > F1 fuse > M1 pump 5 A > B1").run("B1 200 > F1 300 > M1")
    assert "no-feed" not in builder.codes()
    builder.set("circuits/devices/F1/paths", {})
    assert "no-feed" in builder.codes()


def test_a_feed_without_a_fuse_stops():
    builder = HarnessBuilder().feed("B1 battery > M1 pump 5 A > B1").run("B1 300 > M1")
    finding = next(f for f in builder.evaluate().findings if f.code == "feed-unprotected")
    assert finding.severity == "stop"
    assert "M1" in finding.what
    assert finding.remedies


def test_a_line_may_stop_at_a_load_and_go_on_from_it():
    whole = HarnessBuilder().feed("B1 battery > F1 fuse > M1 pump 5 A > B1")
    parts = HarnessBuilder().feed("B1 battery > F1 fuse", "F1 > M1 pump 5 A", "M1 > B1")
    joined = [
        {frozenset(c["ends"]) for c in b.plain["circuits"]["circuits"].values()} for b in (whole, parts)
    ]
    assert joined[0] == joined[1] == {
        frozenset({"B1.+", "F1.in"}), frozenset({"F1.out", "M1.+"}), frozenset({"M1.-", "B1.-"})
    }  # fmt: skip


def test_a_feed_joined_to_its_return_stops():
    builder = HarnessBuilder().feed("B1 battery > F1 fuse > M1 pump 5 A > B1")
    assert "short-circuit" not in builder.codes()
    builder.feed("F1.out > B1.-")
    finding = next(f for f in builder.evaluate().findings if f.code == "short-circuit")
    assert finding.severity == "stop"
    assert "B1.+" in finding.what


def test_a_load_that_draws_nothing_is_asked_about():
    assert "load-not-stated" in HarnessBuilder().feed("B1 battery > F1 fuse > M1 pump > B1").codes()


def test_a_low_side_output_cannot_feed():
    builder = HarnessBuilder().feed("B1 battery > F1 fuse > A1 controller 0.5 A > B1", "E1 lamp 1 A")
    builder.feed("A1.O1 > E1.+", "E1.- > B1.-")
    assert "low-side-as-supply" in builder.codes()


def test_a_low_side_output_returns_a_load():
    builder = HarnessBuilder().feed(
        "B1 battery > F1 fuse > A1 controller 0.5 A > B1", "F1.out > E1 lamp 1 A > A1.O1"
    )
    builder.run("B1 200 > F1 300 > A1 250 > E1")
    e = builder.evaluate()
    assert not {"no-return", "low-side-as-supply"} & {f.code for f in e.findings}
    assert e.wire.loops["E1"].drop_v > 0


def test_structure_returns_a_load_where_the_source_is_tied_to_it():
    builder = HarnessBuilder().feed("B1 battery > F1 fuse > E1 lamp 3 A > G1 ground stud")
    builder.run("B1 200 > F1 300 > E1 100 > G1")
    assert "no-return" in builder.codes(), "the battery is not tied to the structure yet"
    builder.feed("G2 ground stud", "B1.- > G2.1").run("B1 400 > G2")
    e = builder.evaluate()
    assert "no-return" not in [f.code for f in e.findings]
    strap = wire(e, "G2-1")
    assert strap.carries_a == pytest.approx(3.0), "the strap carries what comes back through the structure"
    assert strap.key in e.wire.loops["E1"].wires


def test_derived_fuse_is_the_smallest_that_its_load_keeps_within_its_share():
    fuse = HarnessBuilder().feed("B1 battery > F1 fuse > M1 pump 8 A > B1").evaluate().circuits.fuses["F1.1"]
    assert (fuse.load_a, fuse.rating_a, fuse.fixed) == (8.0, 10.0, False)
    fuse = (
        HarnessBuilder().feed("B1 battery > F1 fuse > M1 pump 8.1 A > B1").evaluate().circuits.fuses["F1.1"]
    )
    assert fuse.rating_a == 15.0


@pytest.mark.parametrize(
    ("line", "says"),
    [
        ("M9.x > B1", "no device"),
        ("M1.q > B1", "no pin"),
        ("M1 fan > B1", "there already"),
        ("B1 > > M1", "nothing between"),
    ],
)
def test_a_feed_that_is_not_understood_says_what_to_type(pump, line, says):
    with pytest.raises(LineError, match=says):
        pump.feed(line)


def test_a_circuit_with_one_end_and_a_load_without_return_are_found(pump):
    pump.plain["circuits"]["circuits"]["C9"] = {"order": 9, "name": "stray", "ends": {}}
    pump.set("circuits/devices/M1/pins/x", {"order": 9, "role": "signal", "name": "tacho"})
    pump.set("circuits/circuits/C9/ends", {"M1.x": {"order": 1}})
    back = next(c for c in pump.plain["circuits"]["circuits"].values() if "B1.-" in c["ends"])
    del back["ends"]["B1.-"]
    assert {"circuit-one-end", "no-return"} <= set(pump.codes())


def test_a_feed_without_a_fuse_is_named_and_leads_to_its_device():
    bare = HarnessBuilder().feed("B1 battery > M1 pump 5 A > B1").run("B1 300 > M1")
    sentence = bare.evaluate().rooms["circuits"].sentence
    assert "**1** feed has no fuse: that of **@circuits?at=M1|M1 pump**." in sentence
    assert spoken(sentence).endswith("1 feed has no fuse: that of M1 pump.")
    two = bare.feed("B1 > E1 lamp 2 A > B1")
    assert "**2** feeds have no fuse: those of " in two.evaluate().rooms["circuits"].sentence
    fused = HarnessBuilder().feed("B1 battery > F1 fuse > M1 pump 5 A > B1").run("B1 300 > F1 100 > M1")
    assert "no fuse" not in fused.evaluate().rooms["circuits"].sentence
