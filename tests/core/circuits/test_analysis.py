"""Load analysis against sums done by hand: means, peaks, what is given, and how long a battery lasts."""

from __future__ import annotations

import pytest

from inkthread.core.circuits import analyse_loads
from tests.conftest import HarnessBuilder

# A boat: anchor light 0.9 A all night, bilge pump 4 A at 5 %, radio 0.5 A with 5 A to transmit.
LOADS = {
    "E1": {"current_a": 0.9},
    "M1": {"current_a": 4.0, "duty_percent": 5.0},
    "A1": {"current_a": 0.5, "peak_a": 5.0, "peak_s": 20.0},
}
MODES = {"sea": {"order": 1, "name": "at sea"}, "moored": {"order": 2, "name": "moored"}}


def boat(*, solar_a: float | None = None, capacity_ah: float | None = 60.0) -> HarnessBuilder:
    builder = HarnessBuilder("marine").feed(
        "B1 battery > F1 fuse > E1 anchor lamp 1 A > B1",
        "F1.out > M1 bilge pump 1 A > B1",
        "F1.out > A1 radio 1 A > B1",
    )
    builder.run("B1 150 > F1 1.2 m > mid 800 > E1", "mid 900 > M1", "mid 400 > A1").set(
        "circuits/modes", MODES
    )
    for load, values in LOADS.items():
        for field, value in values.items():
            builder.set(f"circuits/loads/{load}/{field}", value)
    builder.set("circuits/loads/A1/modes", {"moored": {"order": 1, "percent": 0.0}})
    builder.set("circuits/sources/B1/capacity_ah", capacity_ah)
    if solar_a is not None:
        builder.feed("G1 solar panel", "G1.+ > F2 fuse > B1.+", "G1.- > B1.-").run("F1 2 m > G1")
        builder.set("ends/connectors/F2/point", "F1").set("circuits/sources/G1/limit_a", solar_a)
        builder.set("circuits/sources/G1/modes", {"moored": {"order": 1, "percent": 50.0}})
    return builder


def demands(builder: HarnessBuilder):
    w = builder.workings()
    (group,) = analyse_loads(w.document, w.circuits)
    assert group.capacity_ah == builder.plain["circuits"]["sources"]["B1"]["capacity_ah"]
    return group, dict(zip(w.circuits.modes, group.demands, strict=True))


def test_means_are_currents_by_share_and_duty():
    _, by = demands(boat())
    # Resistive lamps and motors as constant current are both stated at the working supply.
    assert by["sea"].continuous_a == pytest.approx(0.9 + 4.0 * 0.05 + 0.5, rel=1e-3)
    assert by["moored"].continuous_a == pytest.approx(0.9 + 4.0 * 0.05, rel=1e-3)


def test_all_at_once_and_the_one_largest_peak_on_top():
    _, by = demands(boat())
    assert by["sea"].together_a == pytest.approx(0.9 + 4.0 + 0.5, rel=1e-3)
    largest = max(5.0 - 0.5, 0.0)
    assert by["sea"].peak_a >= by["sea"].together_a + largest - 1e-6
    assert by["moored"].peak_a < by["sea"].peak_a, "no radio, no transmitting"


def test_a_battery_lasts_its_capacity_over_the_mean():
    _, by = demands(boat())
    assert by["sea"].endurance_h == pytest.approx(60.0 / (0.9 + 0.2 + 0.5), rel=1e-3)
    assert by["moored"].endurance_h == pytest.approx(60.0 / 1.1, rel=1e-3)


def test_without_a_capacity_nothing_is_said_of_how_long():
    _, by = demands(boat(capacity_ah=None))
    assert by["sea"].endurance_h is None


def test_what_the_sun_gives_is_taken_off_first():
    _, by = demands(boat(solar_a=1.2))
    assert by["sea"].charged_a == pytest.approx(1.2)
    assert by["sea"].endurance_h == pytest.approx(60.0 / (1.6 - 1.2), rel=1e-2)
    assert by["moored"].charged_a == pytest.approx(0.6), "half in this mode"
    assert by["moored"].endurance_h == pytest.approx(60.0 / (1.1 - 0.6), rel=1e-2)


def test_where_more_is_given_than_taken_the_battery_does_not_run_down():
    _, by = demands(boat(solar_a=5.0))
    assert by["sea"].endurance_h is None
    assert by["sea"].short_a == 0


def test_shares_of_the_loads_add_up_to_the_mean():
    group, by = demands(boat())
    for m, mode in enumerate(by):
        assert sum(x.by_mode[m] for x in group.loads) == pytest.approx(by[mode].continuous_a, rel=1e-3)


def test_a_limited_supply_that_is_asked_for_too_much_is_short():
    """24 V, 5 A, and 7 A of humidifier and lamps: 2 A are missing, and no battery makes them up."""
    builder = HarnessBuilder("equipment").feed(
        "G1 power supply > F1 fuse > E1 lamp 3 A > G1", "F1.out > M1 humidifier motor 4 A > G1"
    )
    builder.run("G1 100 > F1 500 > E1", "F1 500 > M1").set("circuits/sources/G1/limit_a", 5.0)
    w = builder.workings()
    (group,) = analyse_loads(w.document, w.circuits)
    assert group.demands[0].short_a == pytest.approx(2.0, rel=0.01)
    assert group.demands[0].endurance_h is None
