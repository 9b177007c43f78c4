"""Typed lines: which kind a name means, which pins a line takes, which ids are given."""

from __future__ import annotations

import pytest

from inkthread.core.circuits.lines import guess_kind
from inkthread.core.document.draft import LineError
from tests.conftest import Bench


@pytest.mark.parametrize(
    ("name", "kind"),
    [
        ("battery", "battery"),
        ("lift pump", "motor"),
        ("two fans", "fan"),
        ("rain lamp", "lamp"),
        ("oil sensor", "sensor_two_wire"),
        ("throttle sensor", "sensor_three_wire"),
        ("main relay", "relay"),
        ("kill lanyard", "kill"),
        ("reed switch", "switch"),
        ("dry contact", "dry_switch"),
        ("lambda heater", "heater"),
        ("left coil", "coil"),
        ("engine controller", "controller"),
        ("dash display", "node"),
        ("frame ground", "ground"),
        ("mystery box", "other"),
    ],
)
def test_a_name_suggests_a_kind(catalogue, name, kind):
    assert guess_kind(catalogue, name) == kind


@pytest.mark.parametrize(
    ("given", "kind"), [("B7", "battery"), ("F2", "fuse"), ("M3", "motor"), ("Z9", "other")]
)
def test_an_id_alone_suggests_a_kind_by_its_letter(catalogue, given, kind):
    assert guess_kind(catalogue, "", given) == kind


def ends(bench: Bench) -> set[frozenset[str]]:
    return {frozenset(c["ends"]) for c in bench.plain["circuits"]["circuits"].values()}


JOINED = {
    "B1 battery > F1 fuse": ["B1.+ F1.in"],
    "B1 battery > S1 switch > E1 lamp 1 A": ["B1.+ S1.1", "S1.2 E1.+"],
    "B1 battery > K1 relay > M1 fan 5 A > G1 ground stud": ["B1.+ K1.30", "K1.87 M1.+", "M1.- G1.1"],
    "A1 controller 1 A; A1.I1 > T1 sensor > A1.N1": ["A1.I1 T1.1", "T1.2 A1.N1"],
    "A1 display 1 A; A2 display 1 A; A1.H > A2.H": ["A1.H A2.H"],
    "E1 lamp 1 A; E2 lamp 1 A; E1.+ > E2.+": ["E1.+ E2.+"],
    "B1 battery > E1 lamp 1 A > B1; B1.+ > E2 lamp 1 A > B1": ["B1.+ E1.+ E2.+", "B1.- E1.- E2.-"],
}


@pytest.mark.parametrize("lines", JOINED)
def test_lines_join_the_pins_that_current_takes(lines):
    made = ends(Bench("vehicle").feed(*(line.strip() for line in lines.split(";"))))
    assert made == {frozenset(joined.split()) for joined in JOINED[lines]}


def test_ids_are_given_where_none_is_typed_and_numbers_are_not_used_twice():
    bench = Bench("vehicle").feed("battery", "lift pump 5 A", "fan 3 A", "fuse", "M7 fan 1 A", "fan")
    assert list(bench.plain["circuits"]["devices"]) == ["B1", "M1", "M2", "F1", "M7", "M3"]
    draws = {k: x["current_a"] for k, x in bench.plain["circuits"]["loads"].items()}
    assert draws == {"M1": 5.0, "M2": 3.0, "M7": 1.0, "M3": 0.0}
    assert bench.plain["circuits"]["devices"]["M1"]["name"] == "lift pump"


def test_circuits_are_named_for_what_they_do():
    bench = Bench("vehicle").feed("B1 battery > F1 main fuse > M1 lift pump 5 A > B1", "A1 controller 1 A")
    bench.feed("A1.I1 > T1 oil sensor > A1.N1")
    names = [c["name"] for c in bench.plain["circuits"]["circuits"].values()]
    assert names == [
        "main fuse feed",
        "lift pump feed",
        "lift pump return",
        "oil sensor",
        "oil sensor signal return",
    ]


def test_every_new_device_brings_a_connector_that_meets_its_pins(catalogue):
    for kind_id, kind in catalogue.kinds.items():
        bench = Bench("vehicle").feed(f"{kind.prefix}5 {kind.words[0] if kind.words else 'thing'}")
        device = bench.plain["circuits"]["devices"][f"{kind.prefix}5"]
        placed = {r for r in bench.plain["ends"]["pinout"] if r.startswith(f"{kind.prefix}5.")}
        assert placed == {f"{kind.prefix}5.{p}" for p in device["pins"]}, kind_id
        bench.evaluate()


@pytest.mark.parametrize("amps", ["5 A", "5A", "5 amps", "5000 mA", "5,0 A"])
def test_amperes_at_the_end_of_a_name_are_read(amps):
    bench = Bench("vehicle").feed(f"M1 lift pump {amps}")
    assert bench.plain["circuits"]["loads"]["M1"]["current_a"] == 5.0
    assert bench.plain["circuits"]["devices"]["M1"]["name"] == "lift pump"


def test_a_run_names_points_takes_connectors_and_understands_every_length():
    bench = Bench("vehicle").feed("B1 battery > F1 fuse > M1 lift pump 5 A > B1")
    bench.run('B1 3/16" > F1 4 ft 2 > tail cone breakout 1.2 m > M1')
    route = bench.plain["route"]
    lengths = [b["length_mm"] for b in route["branches"].values()]
    assert lengths == pytest.approx([4.7625, 1270, 1200])
    assert route["points"]["tail"]["name"] == "cone breakout"
    assert route["points"]["M1"]["name"] == "lift pump"
    assert {c["point"] for c in bench.plain["ends"]["connectors"].values()} == {"B1", "F1", "M1"}


def test_bare_lengths_are_inches_where_the_harness_is_in_inches():
    bench = Bench("aviation").set("brief/units", "inch").run("a 10 > b 2 1/2 > c")
    assert [b["length_mm"] for b in bench.plain["route"]["branches"].values()] == pytest.approx([254, 63.5])


@pytest.mark.parametrize(
    "line", ["B1 > B1", "A1.O1", "B1 battery > A9.x", "B1 battery > M1 pump > E1 lamp > B1.zz"]
)
def test_nothing_of_a_refused_line_is_kept(line):
    bench = Bench("vehicle").feed("A1 controller 1 A")
    before = str(bench.plain)
    try:
        bench.feed(line)
    except LineError:
        assert str(bench.plain) == before
    else:
        bench.evaluate()


@pytest.mark.parametrize(
    ("typed", "amps"),
    [("21 W", 1.59), ("21W", 1.59), ("1.2 kW", 90.9), ("500 mW", 0.0379), ("2 A", 2.0), ("350 mA", 0.35)],
)
def test_a_load_is_typed_in_amperes_or_in_watts_at_the_working_supply(typed, amps):
    """13.2 V in the vehicle preset; to three digits."""
    bench = Bench("vehicle").feed(f"B1 battery > F1 fuse > E1 tail lamp {typed} > B1")
    assert bench.plain["circuits"]["loads"]["E1"]["current_a"] == pytest.approx(amps)
    assert bench.plain["circuits"]["devices"]["E1"]["name"] == "tail lamp"


def test_two_devices_with_a_comma_between_are_not_one_name():
    with pytest.raises(LineError, match="T1 and A1 are two devices"):
        Bench("vehicle").feed("T1 proximity sensor, A1 controller")
    Bench("vehicle").feed("E1 lamp, left")
