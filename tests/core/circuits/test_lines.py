"""Typed lines: which kind a name means, which pins a line takes, which ids are given."""

from __future__ import annotations

import pytest

from inkthread.core.circuits.kind_of_name import guess_kind
from inkthread.core.document.draft import LineError
from tests.conftest import HarnessBuilder


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
        ("reed switch", "dry_switch"),
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


def ends(builder: HarnessBuilder) -> set[frozenset[str]]:
    return {frozenset(c["ends"]) for c in builder.plain["circuits"]["circuits"].values()}


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
    made = ends(HarnessBuilder("vehicle").feed(*(line.strip() for line in lines.split(";"))))
    assert made == {frozenset(joined.split()) for joined in JOINED[lines]}


def test_ids_are_given_where_none_is_typed_and_numbers_are_not_used_twice():
    builder = HarnessBuilder("vehicle").feed(
        "battery", "lift pump 5 A", "fan 3 A", "fuse", "M7 fan 1 A", "fan"
    )
    assert list(builder.plain["circuits"]["devices"]) == ["B1", "M1", "M2", "F1", "M7", "M3"]
    draws = {k: x["current_a"] for k, x in builder.plain["circuits"]["loads"].items()}
    assert draws == {"M1": 5.0, "M2": 3.0, "M7": 1.0, "M3": 0.0}
    assert builder.plain["circuits"]["devices"]["M1"]["name"] == "lift pump"


def test_circuits_are_named_for_what_they_do():
    builder = HarnessBuilder("vehicle").feed(
        "B1 battery > F1 main fuse > M1 lift pump 5 A > B1", "A1 controller 1 A"
    )
    builder.feed("A1.I1 > T1 oil sensor > A1.N1")
    names = [c["name"] for c in builder.plain["circuits"]["circuits"].values()]
    assert names == [
        "main fuse feed",
        "lift pump feed",
        "lift pump return",
        "oil sensor",
        "oil sensor signal return",
    ]


def test_every_new_device_brings_a_connector_that_meets_its_pins(catalogue):
    for kind_id, kind in catalogue.kinds.items():
        builder = HarnessBuilder("vehicle").feed(f"{kind.prefix}5 {kind.words[0] if kind.words else 'thing'}")
        device = builder.plain["circuits"]["devices"][f"{kind.prefix}5"]
        placed = {r for r in builder.plain["ends"]["pinout"] if r.startswith(f"{kind.prefix}5.")}
        assert placed == {f"{kind.prefix}5.{p}" for p in device["pins"]}, kind_id
        builder.evaluate()


@pytest.mark.parametrize("amps", ["5 A", "5A", "5 amps", "5000 mA", "5,0 A"])
def test_amperes_at_the_end_of_a_name_are_read(amps):
    builder = HarnessBuilder("vehicle").feed(f"M1 lift pump {amps}")
    assert builder.plain["circuits"]["loads"]["M1"]["current_a"] == 5.0
    assert builder.plain["circuits"]["devices"]["M1"]["name"] == "lift pump"


def test_a_run_names_points_takes_connectors_and_understands_every_length():
    builder = HarnessBuilder("vehicle").feed("B1 battery > F1 fuse > M1 lift pump 5 A > B1")
    builder.run('B1 3/16" > F1 4 ft 2 > tail cone breakout 1.2 m > M1')
    route = builder.plain["route"]
    lengths = [b["length_mm"] for b in route["branches"].values()]
    assert lengths == pytest.approx([4.7625, 1270, 1200])
    assert route["points"]["tail"]["name"] == "cone breakout"
    assert route["points"]["M1"]["name"] == "lift pump"
    assert {c["point"] for c in builder.plain["ends"]["connectors"].values()} == {"B1", "F1", "M1"}


def test_bare_lengths_are_inches_where_the_harness_is_in_inches():
    builder = HarnessBuilder("aviation").set("brief/units", "inch").run("a 10 > b 2 1/2 > c")
    assert [b["length_mm"] for b in builder.plain["route"]["branches"].values()] == pytest.approx([254, 63.5])


@pytest.mark.parametrize(
    "line", ["B1 > B1", "A1.O1", "B1 battery > A9.x", "B1 battery > M1 pump > E1 lamp > B1.zz"]
)
def test_nothing_of_a_refused_line_is_kept(line):
    builder = HarnessBuilder("vehicle").feed("A1 controller 1 A")
    before = str(builder.plain)
    try:
        builder.feed(line)
    except LineError:
        assert str(builder.plain) == before
    else:
        builder.evaluate()


@pytest.mark.parametrize(
    ("typed", "amps"),
    [("21 W", 1.59), ("21W", 1.59), ("1.2 kW", 90.9), ("500 mW", 0.0379), ("2 A", 2.0), ("350 mA", 0.35)],
)
def test_a_load_is_typed_in_amperes_or_in_watts_at_the_working_supply(typed, amps):
    """13.2 V in the vehicle preset; to three digits."""
    builder = HarnessBuilder("vehicle").feed(f"B1 battery > F1 fuse > E1 tail lamp {typed} > B1")
    assert builder.plain["circuits"]["loads"]["E1"]["current_a"] == pytest.approx(amps)
    assert builder.plain["circuits"]["devices"]["E1"]["name"] == "tail lamp"


def test_two_devices_with_a_comma_between_are_not_one_name():
    with pytest.raises(LineError, match="T1 and A1 are two devices"):
        HarnessBuilder("vehicle").feed("T1 proximity sensor, A1 controller")
    HarnessBuilder("vehicle").feed("E1 lamp, left")


@pytest.mark.parametrize(
    ("typed", "name", "stated"),
    [
        ("water pump 7 A", "water pump", {"current_a": 7}),
        ("7 A water pump", "water pump", {"current_a": 7}),
        ("water pump 7 A peak 14 A for 2 s", "water pump", {"current_a": 7, "peak_a": 14, "peak_s": 2}),
        ("water pump 7 A, stalled 21 A", "water pump", {"current_a": 7, "peak_a": 21, "peak_s": None}),
        ("pump 7 A, 14 A peak for 500 ms", "pump", {"current_a": 7, "peak_a": 14, "peak_s": 0.5}),
        ("lamp 4 A inrush 40 A for 20 ms", "lamp", {"current_a": 4, "inrush_a": 40, "inrush_s": 0.02}),
        (
            "diesel heater 10 A for 90 s then 2 A",
            "diesel heater",
            {"current_a": 2, "peak_a": 10, "peak_s": 90},
        ),
        ("tail lamps 2x21 W", "tail lamps", {"current_a": 3.5}),
        ("tail lamps 2 x 21 W", "tail lamps", {"current_a": 3.5}),
        ("fan 11 A at 30 %", "fan", {"current_a": 11, "duty_percent": 30}),
        ("fan 11 A, 30 % duty", "fan", {"current_a": 11, "duty_percent": 30}),
        ("winch 80 A intermittent", "winch", {"current_a": 80, "service": "intermittent"}),
        ("pump 350 mA, peak 0.9 A for 3 s, 25 % duty", "pump",
         {"current_a": 0.35, "peak_a": 0.9, "peak_s": 3, "duty_percent": 25}),
    ],
)  # fmt: skip
def test_what_a_load_draws_is_read_from_its_name(typed, name, stated):
    builder = HarnessBuilder("vehicle").set("brief/supply_working_v", 12.0).feed(f"M1 {typed}")
    assert builder.plain["circuits"]["devices"]["M1"]["name"] == name
    load = builder.plain["circuits"]["loads"]["M1"]
    for field, value in stated.items():
        assert load.get(field) == (None if value is None else pytest.approx(value)), field


def test_what_is_typed_of_other_devices_goes_where_it_belongs():
    builder = HarnessBuilder("vehicle").feed(
        "F1 10 A fuse", "F2 breaker 15 A", "S1 switch 16 A", "K1 relay 40 A", "K2 relay 150 mA",
        "K3 contactor 200 A", "G1 alternator 55 A", "B1 battery 12 Ah", "V1 24 V to 5 V converter 3 A",
    )  # fmt: skip
    c = builder.plain["circuits"]
    path = {k: next(iter(d["paths"].values()), {}) for k, d in c["devices"].items()}
    assert (path["F1"]["rating_a"], path["F2"]["rating_a"]) == (10, 15)
    assert path["F1"]["reason"]
    assert [path[k]["contact_a"] for k in ("S1", "K1", "K3")] == [16, 40, 200]
    # What a coil can draw is the coil's.
    assert (c["loads"]["K1"]["current_a"], c["loads"]["K2"]["current_a"]) == (0, 0.15)
    assert (c["sources"]["G1"]["limit_a"], c["sources"]["B1"]["capacity_ah"]) == (55, 12)
    assert (path["V1"]["out_v"], path["V1"]["limit_a"]) == (5, 3)
    assert builder.evaluate().circuits.fuses["F1.1"].rating_a == 10


@pytest.mark.parametrize(
    ("typed", "said"),
    [
        ("M1 horn 5 A 2 A", "'5 A' stands in the name"),
        ("M1 5 A horn 2 A loud", "'5 A' stands in the name"),
        ("M1 fan 5 A 20 % 30 %", "'20 %' stands in the name"),
        ("B2 battery 100 A", "draws nothing"),
        ("S1 switch 5 A 30 %", "no load of its own"),
        ("M1 pump 7 Ah", "holds no 7 Ah"),
        ("X1 spark plug 4 A", "draws nothing"),
    ],
)
def test_what_has_no_place_is_refused_in_words(typed, said):
    with pytest.raises(LineError, match=said):
        HarnessBuilder("vehicle").feed(typed)


def test_a_fuse_block_gives_every_feed_a_fuse_of_its_own():
    builder = HarnessBuilder("vehicle").feed(
        "B1 battery > F1 fuse block > E1 lamp 2 A > B1",
        "F1 > M1 pump 7 A > B1",
        "F1.out2 > M2 pump 3 A > B1",
        "F1.out4 > E2 lamp 1 A > B1",
        "F1 > E3 lamp 4 A > B1",
    )
    builder.run(
        "B1 300 > F1 500 > mid 300 > E1", "mid 200 > M1", "mid 300 > M2", "mid 400 > E2", "mid 100 > E3"
    )
    device = builder.plain["circuits"]["devices"]["F1"]
    assert list(device["pins"]) == ["in", "out1", "out2", "out4", "out3"]
    fuses = builder.evaluate().circuits.fuses
    joined = {f.path: (device["paths"][f.path]["to_pin"], round(f.load_a, 6)) for f in fuses.values()}
    # Two pumps share the second; the next feed takes the first place that was free.
    assert sorted(joined.values()) == [("out1", 2), ("out2", 10), ("out3", 4), ("out4", 1)]
    with pytest.raises(LineError, match="no pin 'out'"):
        builder.feed("F1.out > M3 pump 1 A > B1")


def test_a_fuse_block_takes_more_terminals_as_it_grows_and_all_of_them_lie_where_it_lies():
    builder = HarnessBuilder("vehicle").feed("B1 battery > F1 fuse block > E1 lamp 1 A > B1")
    for n in range(2, 9):
        builder.feed(f"F1 > E{n} lamp 1 A > B1")
    builder.run("B1 300 > F1 500 > mid 400 > E1", *(f"mid {100 * n} > E{n}" for n in range(2, 9)))
    builder.feed("F1 > E9 lamp 1 A > B1").run("mid 150 > E9")
    found = builder.evaluate()
    ends = builder.plain["ends"]["connectors"]
    assert {c["point"] for k, c in ends.items() if k.startswith("F1")} == {"F1"}
    assert len([k for k in found.ends.connectors if k.startswith("F1")]) > 1
    codes = {f.code for f in found.findings}
    assert not codes & {"connector-not-placed", "cavity-used-twice", "pin-unconnected"}
    assert len(found.circuits.fuses) == 9


def test_a_fuse_block_that_can_grow_no_more_says_so():
    builder = HarnessBuilder("vehicle").feed("B1 battery > F1 fuse block > E1 lamp 1 A > B1")
    for n in range(2, 5):
        builder.feed(f"F1 > E{n} lamp 1 A > B1")
    connectors = builder.plain["ends"]["connectors"]
    for letter in "bcdefghijklmnopqrstuvwxyz":
        connectors[f"F1{letter}"] = {**connectors["F1"], "order": 100.0 + ord(letter)}
    with pytest.raises(LineError, match="Put in a second device"):
        builder.feed("F1 > E5 lamp 1 A > B1")


@pytest.mark.parametrize(
    ("line", "amps", "volts"),
    [
        ("M1 fan 12 V 5 W", 0.417, 12.0),
        ("M1 fan 5 W 12 V", 0.417, 12.0),
        ("E1 lamp 250 W 14 V", 17.9, 14.0),
        ("E1 24 V lamp 2x21 W", 1.75, 24.0),
        ("M1 pump 66 W", 5.0, None),
        ("M1 12 V pump 7 A", 7.0, 12.0),
    ],
)
def test_watts_are_drawn_at_the_volts_that_are_said_with_them(line, amps, volts):
    """P = U I, whatever the supply of the brief is, here 13.2 V."""
    builder = HarnessBuilder("motorsport").set("brief/supply_working_v", 13.2).feed(line)
    (load,) = builder.plain["circuits"]["loads"].values()
    assert load["current_a"] == pytest.approx(amps, rel=1e-3)
    assert load.get("rated_v") == volts


def test_a_battery_says_its_volts_and_its_capacity():
    builder = HarnessBuilder("marine").feed("B1 battery 12 V 50 Ah")
    (source,) = builder.plain["circuits"]["sources"].values()
    assert source["capacity_ah"] == 50.0
    assert builder.plain["circuits"]["devices"]["B1"]["kind"] == "battery"


def test_a_device_of_an_unknown_name_that_draws_current_is_fed_and_led_back():
    builder = HarnessBuilder("vehicle").feed("B1 battery > F1 fuse > M1 froth maker 5 A > B1")
    device = builder.plain["circuits"]["devices"]["M1"]
    assert (device["kind"], device["name"]) == ("other", "froth maker")
    assert [p["role"] for p in device["pins"].values()] == ["supply_in", "ground"]
    (load,) = builder.plain["circuits"]["loads"].values()
    assert (load["device"], load["current_a"]) == ("M1", 5.0)
    assert {frozenset(c["ends"]) for c in builder.plain["circuits"]["circuits"].values()} == {
        frozenset({"B1.+", "F1.in"}),
        frozenset({"F1.out", "M1.1"}),
        frozenset({"M1.2", "B1.-"}),
    }
