"""Feeds without a fuse, fed twice, live pins; roles of the pins that meet, whatever flows in them."""

from __future__ import annotations

from itertools import permutations

import pytest

from tests.conftest import HarnessBuilder
from tests.core.scenarios import two_feeds


def severities(builder: HarnessBuilder, *codes: str) -> dict[str, str]:
    found = {f.code: f.severity for f in builder.evaluate().findings}
    return {c: found[c] for c in codes if c in found}


def sensor(order: tuple[str, str, str], through: bool) -> HarnessBuilder:
    """A three-wire sensor of which nobody says what it draws: its pins at the supply, input and return."""
    builder = HarnessBuilder("vehicle").feed(
        "B1 battery > F1 fuse > A1 controller 0.2 A > B1", "T1 three-wire sensor"
    )
    pins = builder.plain["circuits"]["devices"]["A1"]["pins"]
    pins["V5"] = {"order": 9, "role": "supply_out", "name": "5 V"}
    supply, signal, back = order
    if not through:
        return builder.feed(f"A1.V5 > T1.{supply}", f"A1.I1 > T1.{signal}", f"A1.N1 > T1.{back}")
    lines = zip(("A1.V5", "A1.I1", "A1.N1"), order, strict=True)
    return builder.feed(*(f"{a} > J1 inline > T1.{b}" for a, b in lines))


@pytest.mark.parametrize("through", [False, True])
@pytest.mark.parametrize("order", list(permutations(("1", "2", "3"))))
def test_of_six_orders_of_a_sensor_that_draws_nothing_one_passes(order, through):
    """Common practice, no source: a three-wire transistor sensor works in exactly one order."""
    builder = sensor(order, through)
    right = order == ("1", "2", "3")
    assert severities(builder, "sensor-miswired") == ({} if right else {"sensor-miswired": "stop"})


def test_a_miswired_sensor_is_put_right_by_its_remedy():
    from inkthread.core.document.complete import complete
    from inkthread.storage.patches import apply_with_inverse

    builder = sensor(("3", "1", "2"), False)
    finding = next(f for f in builder.evaluate().findings if f.code == "sensor-miswired")
    assert "T1" in finding.what
    operations = complete(builder.plain, list(finding.remedies[0].operations))
    builder.plain, _ = apply_with_inverse(builder.plain, operations)
    assert severities(builder, "sensor-miswired") == {}


def test_a_five_volt_output_is_kept_off_the_battery_feed():
    builder = sensor(("1", "2", "3"), False).feed("A1.V5 > B1.+")
    assert severities(builder, "outputs-joined") == {"outputs-joined": "stop"}
    behind = sensor(("1", "2", "3"), False).feed("A1.V5 > F1.out")
    assert severities(behind, "outputs-joined") == {"outputs-joined": "stop"}
    assert severities(sensor(("1", "2", "3"), False), "outputs-joined") == {}


@pytest.mark.parametrize(("plus", "says"), [("I1", {}), ("N1", {"sensor-miswired": "stop"})])
def test_a_polarised_switch_has_one_order_and_a_dry_contact_both(plus, says):
    other = "N1" if plus == "I1" else "I1"
    builder = HarnessBuilder("equipment").feed(
        "G1 power supply 2 A > A1 controller 0.2 A > G1", "S1 reed switch"
    )
    builder.feed(f"A1.{plus} > S1.1", f"A1.{other} > S1.2").run("G1 300 > A1 700 > S1")
    codes = ("sensor-miswired", "polarity-not-known", "polarity-demanded")
    assert severities(builder, *codes) == {}, "a dry contact works either way round"
    builder.set("circuits/devices/S1/polarised", True)
    assert severities(builder, *codes) == {"polarity-not-known": "fix"}
    builder.set("circuits/devices/S1/pins/1/role", "signal")
    builder.set("circuits/devices/S1/pins/2/role", "sensor_return")
    assert severities(builder, *codes) == says
    builder.set("circuits/devices/S1/polarised", False)
    assert severities(builder, "polarity-demanded") == {"polarity-demanded": "consider"}


@pytest.mark.parametrize("pin", ["G", "B", "O1"])
def test_data_lands_on_no_pin_of_power(pin):
    builder = HarnessBuilder("vehicle").feed(
        "B1 battery > F1 fuse > A1 dash node 0.2 A > B1", "A2 controller 0.1 A"
    )
    assert severities(builder.feed(f"A1.H > A2.{pin}"), "data-on-power") == {"data-on-power": "stop"}


def unfused(*lines: str, practice: str = "vehicle") -> HarnessBuilder:
    builder = HarnessBuilder(practice).feed(*lines)
    return builder.run("B1 30 > X1") if "X1" in builder.plain["circuits"]["devices"] else builder


def test_a_socket_that_says_nothing_of_its_current_wants_a_fuse_too():
    builder = unfused("B1 battery > X1 charging socket > B1")
    assert severities(builder, "feed-unprotected") == {"feed-unprotected": "stop"}
    assert severities(unfused("B1 battery > F1 fuse > X1 charging socket > B1"), "feed-unprotected") == {}


def test_a_switch_round_a_fuse_is_named_with_what_to_do_about_it():
    builder = HarnessBuilder("vehicle").feed(
        "B1 battery > F1 fuse > M1 pump 5 A > B1", "B1 > S1 switch > M1.+"
    )
    (found,) = [f for f in builder.evaluate().findings if f.code == "feed-unprotected"]
    assert found.severity == "stop"
    assert "by way of S1" in found.what
    assert any("S1" in r.text for r in found.remedies)


@pytest.mark.parametrize(
    ("line", "practice", "told"),
    [
        ("B1 receiver battery 2000 mAh > A1 receiver 0.1 A > B1", "model", False),
        ("B1 receiver battery 2000 mAh > A1 receiver 0.1 A > B1", "vehicle", True),
        ("B1 lithium battery > A1 receiver 0.1 A > B1", "model", True),
        ("B1 battery 10 Ah > A1 receiver 0.1 A > B1", "model", True),
        ("W1 machine feed fuse 5 A > E1 lamp 2 A > W1", "vehicle", False),
        ("G1 power supply 2 A > E1 lamp 0.5 A > G1", "equipment", False),
        ("B1 battery > M1 starter motor 120 A > B1", "vehicle", False),
    ],
)
def test_what_may_go_without_a_fuse_of_its_own(line, practice, told):
    """A limited supply or the machine's own fuse protects; ABYC E-11 exempts cranking motors, from memory;
    a receiver pack under model practice is common practice, no source."""
    assert ("feed-unprotected" in HarnessBuilder(practice).feed(line).codes()) == told


def test_two_fuses_behind_switches_feed_twice_and_diodes_keep_them_apart():
    builder = two_feeds("F1 > S1 switch > M1.+", "F2 > S2 switch > M1.+")
    assert severities(builder, "fed-twice") == {"fed-twice": "fix"}
    apart = two_feeds("F1 > D1 diode > M1.+", "F2 > D2 diode > M1.+")
    assert severities(apart, "fed-twice", "fuses-in-parallel") == {}


def test_a_switch_beside_a_feed_switches_nothing_and_two_switches_in_parallel_do():
    builder = two_feeds("F1 > S1 switch > M1.+", "F2 > M1.+")
    assert severities(builder, "switch-bypassed") == {"switch-bypassed": "fix"}
    one = HarnessBuilder("vehicle").feed("B1 battery > F1 fuse > S1 switch > E1 lamp 1 A > B1")
    either = one.feed("F1.out > S2 switch > E1.+")
    assert severities(either, "switch-bypassed") == {}


def swinging(gender: str) -> HarnessBuilder:
    builder = (
        HarnessBuilder("vehicle")
        .feed("B1 battery > F1 fuse > X1 charging socket > B1")
        .run("B1 100 > F1 900 > X1")
    )
    shell = "plug" if gender == "socket" else "receptacle"
    builder.plain["ends"]["connectors"]["X1"].update(shell=shell, contact_gender=gender)
    return builder


def test_live_pins_need_no_stated_load():
    assert severities(swinging("pin"), "live-pins-swing") == {"live-pins-swing": "fix"}
    assert severities(swinging("socket"), "live-pins-swing") == {}
    fixed = swinging("pin").set("ends/connectors/X1/panel", True)
    assert severities(fixed, "live-pins-swing") == {}
    # At the source's own end the harness is dead once it is unplugged.
    own = (
        HarnessBuilder("vehicle")
        .feed("B1 battery (SR16) > F1 fuse > E1 lamp 1 A > B1")
        .run("B1 100 > F1 900 > E1")
    )
    own.plain["ends"]["connectors"]["B1"].update(shell="receptacle", contact_gender="pin")
    assert severities(own, "live-pins-swing") == {}
