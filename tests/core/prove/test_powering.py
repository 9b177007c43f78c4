"""First power: order of fuses, their amperes by hand and against the drops, when one is taken out again."""

from __future__ import annotations

import pytest

from inkthread.core.prove import first_power
from inkthread.demo import DEMOS, demo_document
from tests.conftest import HarnessBuilder

WORKED = {name: HarnessBuilder(plain=demo_document(name)).workings() for name in DEMOS}


def of(w):
    return first_power(w.rooms, w.circuits)


def two_fuses() -> HarnessBuilder:
    """A main fuse, behind it a fuse of its own for each of two lamps."""
    return (
        HarnessBuilder("vehicle")
        .feed("B1 battery > F0 main fuse > F1 fuse > E1 lamp 2 A > B1", "F0 > F2 fuse > E2 lamp 3 A > B1")
        .run("B1 200 > F0 200 > F1 1000 > E1", "F1 100 > F2", "E1 300 > E2")
        .set("circuits/loads/E1/kind", "constant current")
        .set("circuits/loads/E2/kind", "constant current")
    )


def fuses(sheet):
    return {step.fuse: step for step in sheet.steps if step.fuse}


def test_the_main_fuse_comes_first_and_carries_what_those_behind_it_do():
    """Constant current: 2 A and 3 A, five together."""
    steps = fuses(of(two_fuses().workings()))
    assert list(steps) == ["F0.1", "F1.1", "F2.1"]
    assert steps["F1.1"].amperes == (2.0,)
    assert steps["F2.1"].amperes == (3.0,)
    assert steps["F0.1"].amperes == (5.0,)
    assert "carries nothing" in " ".join(steps["F0.1"].words)
    assert "F1.1 and F2.1 behind it" in " ".join(steps["F0.1"].words)


@pytest.mark.parametrize(("draws_a", "stop_a"), [(0.5, 0.7), (0.8, 1.0), (2.0, 2.5)])
def test_a_fuse_comes_out_a_quarter_above_what_it_should_carry_and_never_under_a_fifth_of_an_ampere(
    draws_a, stop_a
):
    """Common practice, no source: at 0.8 A both rules give the same."""
    w = two_fuses().set("circuits/loads/E1/current_a", draws_a).workings()
    assert fuses(of(w))["F1.1"].stop_a == pytest.approx(stop_a)


def test_it_never_carries_more_than_its_rating():
    w = two_fuses().set("circuits/loads/E1/current_a", 4.5).set("circuits/devices/F1/paths/1/rating_a", 5.0)
    assert fuses(of(w.workings()))["F1.1"].stop_a == pytest.approx(5.0)


@pytest.mark.parametrize("name", DEMOS)
def test_amperes_of_fuses_without_a_fuse_behind_are_what_their_loads_draw(name):
    """Added up from the drops' own figures, in the mode where each load loses most."""
    w = WORKED[name]
    sheet = of(w)
    assert set(fuses(sheet)) == {
        f for loop in w.circuits.loops if not loop.charging and loop.alternative == 0 for f in loop.fuses
    }
    checked = 0
    for fuse, step in fuses(sheet).items():
        loads = [
            loop
            for loop in w.circuits.loops
            if fuse in loop.fuses and not loop.charging and loop.alternative == 0
        ]
        alone = len(loads) == 1 and len({loop.load for loop in loads}) == 1
        if not alone or any(loop.alternative for loop in w.circuits.loops) or "~" in loads[0].load:
            continue
        drawn = w.wire.loops[loads[0].load].drawn_a
        assert max(step.amperes) == pytest.approx(drawn, rel=0.02, abs=0.002)
        checked += 1
    assert checked or name != "larkspur"


def test_a_load_without_a_fuse_is_named_before_any_goes_in():
    w = HarnessBuilder("vehicle").feed("B1 battery > E1 lamp 2 A > B1").run("B1 500 > E1").workings()
    assert any("No fuse protects E1" in " ".join(step.words) for step in of(w).steps)
    assert not any("No fuse" in " ".join(step.words) for step in of(two_fuses().workings()).steps)


def test_nothing_fed_is_nothing_to_power():
    assert of(HarnessBuilder("vehicle").workings()).steps == ()
