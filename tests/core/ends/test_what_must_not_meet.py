"""What must not meet: data lines, kilovolts, volts above a rating, halves that are alike."""

from __future__ import annotations

import pytest

from inkthread.core.circuits.pin_roles import bus_line
from inkthread.core.document import parse_document
from tests.conftest import HarnessBuilder
from tests.core.scenarios import bus, crossed, half, ignition, primary, pump, source


def severity(builder: HarnessBuilder, code: str) -> list[str]:
    return [f.severity for f in builder.evaluate().findings if f.code == code]


def test_a_data_high_on_a_data_low_stops_and_the_right_way_is_quiet():
    assert severity(crossed(), "data-crossed") == ["stop", "stop"]
    assert severity(bus("ISO11898-1M", 900.0), "data-crossed") == []


@pytest.mark.parametrize(
    ("pin", "name", "line"),
    [
        ("H", "data high", "high"), ("L", "data low", "low"), ("2", "bus A", "high"), ("4", "bus B", "low"),
        ("1", "CAN_H", "high"), ("CANL", "", "low"), ("D+", "", "high"), ("3", "D-", "low"),
        ("7", "data", None), ("1", "lamp", None), ("5", "channel", None),
    ],
)  # fmt: skip
def test_a_line_is_known_by_its_name_or_its_mark(pin, name, line):
    builder = bus("ISO11898-1M", 900.0)
    pins = {pin: {"order": 1, "role": "data", "name": name}}
    builder.set("circuits/devices/Z1", {"order": 9, "name": "node", "pins": pins})
    devices = parse_document(builder.plain).circuits.devices
    assert bus_line(devices, f"Z1.{pin}") == line


def test_an_ignition_lead_is_made_of_ignition_lead_unless_somebody_says_otherwise():
    made = ignition().evaluate().wire.wires
    leads = [w for w in made.values() if w.circuit in ("I1", "I2")]
    assert {w.family for w in leads} == {"IGNITION-8"}
    assert severity(ignition(), "ignition-in-primary") == []
    assert severity(primary(ignition()), "ignition-in-primary") == ["stop"]


@pytest.mark.parametrize("how", ["strap", "bolted bare"])
def test_how_an_engine_is_joined_to_its_frame_is_asked_for(how):
    """Common practice, no source: a starter's current finds its way home through whatever conducts."""
    builder = HarnessBuilder("vehicle").feed("B1 battery > F1 fuse 200 A > M1 starter motor 120 A > B1")
    builder.run("B1 100 > F1 500 > M1")
    assert severity(builder, "engine-bond-not-said") == ["consider"]
    assert severity(builder.set("brief/engine", how), "engine-bond-not-said") == []
    without = (
        HarnessBuilder("vehicle").feed("B1 battery > F1 fuse > M1 pump 5 A > B1").run("B1 100 > F1 500 > M1")
    )
    assert severity(without, "engine-bond-not-said") == []


def test_kilovolts_are_kept_out_of_low_voltage_connectors():
    assert set(severity(ignition(), "ignition-in-low-voltage")) == {"stop"}
    own = ignition()
    for device in ("Q1", "Q2", "P1", "P2"):
        own.plain["ends"]["connectors"][device]["family"] = "IGN8"
    assert severity(own, "ignition-in-low-voltage") == []


def test_a_connector_is_held_to_the_volts_of_what_it_holds():
    """A 48 V feed in a connector for 24; the same connector on a 12 V feed beside it is quiet."""
    builder = source(half(family="SN06"), nominal_v=48.0)
    rated = builder.catalogue.connectors["SN06"].voltage_v
    told = severity(builder, "connector-voltage")
    assert told == (["stop"] if rated < 48 else [])
    assert severity(source(half(family="SN06"), nominal_v=rated), "connector-voltage") == []
    assert severity(source(half(family="SN06"), nominal_v=rated + 0.1), "connector-voltage") == ["stop"]


def test_wire_is_held_to_the_volts_of_its_own_circuit():
    rated = pump().catalogue.wires["J1128-TXL"].voltage_v
    assert severity(source(pump(), nominal_v=rated), "insulation-voltage") == []
    assert severity(source(pump(), nominal_v=rated + 0.1), "insulation-voltage") == ["stop"]


def test_two_halves_that_are_alike_do_not_meet():
    builder = pump()
    alike = dict(builder.plain["ends"]["connectors"]["M1"], meets="M1", point="M1")
    builder.set("ends/connectors/X1", {**alike, "order": 99})
    assert severity(builder, "halves-do-not-mate") == ["stop"]
    builder.plain["ends"]["connectors"]["X1"].update(shell="receptacle", contact_gender="pin")
    assert severity(builder, "halves-do-not-mate") == []


def test_what_a_sensor_draws_itself_is_no_power_in_its_return():
    """0.012 A over 5 m and back is the sensor's own; a lamp on the same return is not, nor half an ampere."""

    def probe(amps: float, *more: str) -> HarnessBuilder:
        builder = HarnessBuilder("equipment").feed(
            "G1 power supply 5 A > F1 fuse block > A1 controller 0.3 A > G1"
        )
        builder.feed(f"F1 > T1 humidity sensor {amps} A > A1", "T1.2 > A1.I1", *more)
        return builder.run("G1 200 > F1 400 > A1 5 m > T1", *("T1 100 > E1" for _ in more))

    assert severity(probe(0.012), "sensor-return-shared") == []
    assert severity(probe(0.5), "sensor-return-shared") == ["fix"]
    assert severity(probe(0.012, "F1 > E1 lamp 1 A > T1.3"), "sensor-return-shared") == ["fix"]
