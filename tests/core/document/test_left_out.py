"""What is left out takes its parts and findings along; a trial lead is asked for less."""

from __future__ import annotations

from tests.conftest import HarnessBuilder


def later(laid: bool) -> HarnessBuilder:
    """A second lamp for later, with its fuse."""
    builder = (
        HarnessBuilder("vehicle").feed("B1 battery > F1 fuse > E1 lamp 1 A > B1").run("B1 80 > F1 900 > E1")
    )
    known = set(builder.plain["circuits"]["circuits"])
    builder.feed("F2 fuse", "E2 lamp 1 A", "F2 > E2", "B1 > F2")
    circuits = builder.plain["circuits"]["circuits"]
    for circuit in (c for c in circuits if c not in known):
        circuits[circuit] |= {"optional": True, "laid": laid}
    # The feed of the fuse joined what is there: it is kept.
    return builder


def test_optional_circuits_left_out_take_their_connectors_and_findings_with_them():
    """The second lamp's return is never made: a stop while it is laid, nothing when it is not."""
    laid, out = later(True), later(False)
    without = (
        HarnessBuilder("vehicle").feed("B1 battery > F1 fuse > E1 lamp 1 A > B1").run("B1 80 > F1 900 > E1")
    )
    assert "E2" in laid.evaluate().ends.connectors
    found = out.evaluate()
    assert "E2" not in found.ends.connectors
    assert not any("E2" in place.id for f in found.findings for place in f.places)
    bought = {x.code: x.quantity for x in found.parts.lines if x.group != "wire"}
    housings = {k: v for k, v in bought.items() if "SS15" in k}
    plain = {x.code: x.quantity for x in without.evaluate().parts.lines if "SS15" in x.code}
    assert housings == plain
    # The document keeps it all.
    assert "E2" in out.workings().stated.ends.connectors


def test_one_switch_leaves_them_out_too():
    builder = later(True)
    builder.set("circuits/future_in", False)
    assert "E2" not in builder.evaluate().ends.connectors


def test_a_trial_lead_is_asked_for_less():
    lines = ("A1 controller 0.1 A", "A1.I1 > T1 sensor > A1.N1")
    real = HarnessBuilder("aviation").feed(*lines).run("A1 4000 guess > T1")
    trial = HarnessBuilder("aviation").set("brief/job", "trial lead").feed(*lines).run("A1 4000 guess > T1")
    asked = {f.code for f in real.evaluate().findings}
    assert {"pin-source-missing", "measure-unsure"} <= asked
    left = {f.code for f in trial.evaluate().findings}
    assert not left & {"pin-source-missing", "measure-unsure"}
    rule = trial.evaluate().brief.rules["least_area_mm2"]
    assert (rule.value, rule.origin) == (0.05, "trial lead")
    # The builder's own rule still stands.
    trial.set("brief/house_rules", {"least_area_mm2": {"order": 1, "value": 0.5, "reason": ""}})
    assert trial.evaluate().brief.rules["least_area_mm2"].origin == "house"
