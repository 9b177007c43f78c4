"""Chains of devices as builders type them: which pins a line takes, what it repeats, what it refuses."""

from __future__ import annotations

import pytest

from inkthread.core.circuits.lines import feed_line
from inkthread.core.document.draft import LineError
from inkthread.core.route.lines import route_line
from inkthread.core.typed.grammar import TypedError
from tests.conftest import HarnessBuilder
from tests.core.scenarios import distributor, made_at


def ends(builder: HarnessBuilder) -> set[frozenset[str]]:
    return {frozenset(c["ends"]) for c in builder.plain["circuits"]["circuits"].values()}


def joined(text: str) -> set[frozenset[str]]:
    return {frozenset(x.split()) for x in text.split(",")}


CHAINS = {
    # One more of a row, like the one before: an output with its path, an input, a way out of a fuse block.
    "A1 controller 1 A; B1 battery > Y1 valve 1 A > A1.O2": "B1.+ Y1.+, Y1.- A1.O2",
    "A1 controller 1 A; A1.I2 > T1 sensor > A1.N1": "A1.I2 T1.1, T1.2 A1.N1",
    "B1 battery > F1 fuse block > E1 lamp 1 A > B1; B1 > F1.out3 > E2 lamp 1 A > B1":
        "B1.+ F1.in, F1.out1 E1.+, E1.- E2.- B1.-, F1.out3 E2.+",
    # A pin of no row is made where its brackets say so.
    "A1 controller 1 A; A1.temp (new signal pin) > T1 sensor > A1.N1": "A1.temp T1.1, T1.2 A1.N1",
    # What has one pin never asks for it.
    "M1 pump 1 A > X1 spark plug": "M1.- X1.1",
    # A relay in a feed goes by its contacts; its coil has its own words.
    "B1 battery > K1 relay > M1 fan 5 A > B1; B1 > S1 switch > K1 coil > B1":
        "B1.+ K1.30 S1.1, K1.87 M1.+, M1.- K1.85 B1.-, S1.2 K1.86",
    "B1 battery > K1 fan relay coil > B1": "B1.+ K1.86, K1.85 B1.-",
    # The two pins of a step can be named.
    "B1 battery > M1.-/+ pump 5 A > B1": "B1.+ M1.-, M1.+ B1.-",
    # Bare words for what is there: the battery, the ground, a supply by its volts.
    "battery > fuse > M1 pump 5 A > battery; battery > fuse > M2 pump 5 A > GND":
        "B1.+ F1.in F2.in, F1.out M1.+, F2.out M2.+, M1.- M2.- B1.-",
    "B1 battery > F1 fuse > M1 pump 5 A > chassis; +12 > F2 fuse > E1 lamp 1 A > ground":
        "B1.+ F1.in F2.in, F1.out M1.+, M1.- G1.1, F2.out E1.+, E1.- G1.2",
    "B1 battery > V1 5 V regulator > A1 display 0.2 A > B1; +5 V > T1 throttle sensor 10 mA > GND":
        "B1.+ V1.in, V1.out A1.B T1.1, A1.G T1.3 B1.-",
    # Wires meet at a ground block or bus bar; the way on to the source is there already.
    "B1 battery > M1 pump 5 A > G1 ground block > B1; B1 > M2 fan 3 A > G1 > B1":
        "B1.+ M1.+ M2.+, M1.- G1.1, G1.2 B1.-, M2.- G1.3",
    "B1 battery > G1 bus bar > M1 pump 5 A > B1; B1 > G1 > M2 fan 3 A > B1":
        "B1.+ G1.1, G1.2 M1.+, M1.- M2.- B1.-, G1.3 M2.+",
    # Feed and return through connectors that meet: way by way, whichever way current goes.
    "B1 battery > F1 fuse > J1 inline > M1 pump 5 A > J1 > B1":
        "B1.+ F1.in, F1.out J1.a1, J1.b1 M1.+, M1.- J1.b2, J1.a2 B1.-",
    # A switch between two that are joined goes into that circuit.
    "B1 battery > F1 fuse > M1 pump 5 A > B1; F1 > E1 lamp 1 A > B1; F1 > S1 switch (between) > M1":
        "B1.+ F1.in, F1.out E1.+ S1.1, S1.2 M1.+, M1.- E1.- B1.-",
    "B1 battery > M1 pump 5 A > B1; B1 > F1 fuse (between) > M1": "B1.+ F1.in, F1.out M1.+, M1.- B1.-",
    # A sensor with a supply current stands between a source and its return.
    "G1 power supply 5 A > T1 position sensor 20 mA > G1": "G1.+ T1.1, T1.3 G1.-",
}  # fmt: skip


@pytest.mark.parametrize("lines", CHAINS)
def test_a_chain_joins_what_a_builder_means(lines):
    assert ends(HarnessBuilder("vehicle").feed(*(x.strip() for x in lines.split(";")))) == joined(
        CHAINS[lines]
    )


def test_ignition_leads_go_from_tower_to_tower_in_ends_of_their_own():
    """40 to 50 ohm/ft of spiral core (common practice): one foot of it measures as much."""
    builder = distributor()
    ends = [set(c["ends"]) for c in builder.plain["circuits"]["circuits"].values()]
    for lead in ({"Y1.h", "X1.c"}, {"X1.1", "X2.1"}, {"X1.2", "X3.1"}):
        assert lead in ends
    family_of = {k: c["family"] for k, c in builder.plain["ends"]["connectors"].items()}
    assert {family_of[k] for k in ("Y1h", "X1-c", "X1-1", "X1-2")} == {"IGT8"}
    assert {family_of[k] for k in ("X2", "X3")} == {"IGN8"}
    found = builder.evaluate()
    assert not [f.code for f in found.findings if f.severity in ("stop", "fix")]
    foot = next(c for c in found.cut.cuts if "X3" in c.to_text)
    assert (foot.part, foot.finished_mm) == ("IGNITION-8 8 mm", 325)
    assert foot.lead_ohm == pytest.approx((325 / 304.8 * 40, 325 / 304.8 * 50), abs=0.1)
    assert {c.lead_ohm for c in found.cut.cuts if "IGNITION" not in c.part} == {None}


def test_a_full_distributor_says_how_it_gets_another_tower():
    builder = distributor().feed("X1 > X4 spark plug", "X1 > X5 spark plug")
    with pytest.raises(LineError, match=r"X1\.5 \(new ignition pin\)"):
        builder.feed("X1 > X6 spark plug")
    builder.feed("X1.5 (new ignition pin) > X6 spark plug")
    assert builder.plain["circuits"]["devices"]["X1"]["pins"]["5"]["role"] == "ignition"


def test_an_end_made_at_the_works_is_not_cut_and_all_correction_falls_on_the_other():
    whole = next(c for c in distributor().evaluate().cut.cuts if "X3" in c.to_text)
    builder = made_at(distributor(), "X3.1", "IG8-M")
    found = builder.evaluate()
    made = next(c for c in found.cut.cuts if "X3" in c.to_text)
    assert (made.b.allowance_mm, made.b.strip_mm) == (0, 0)
    assert whole.cut_mm - made.cut_mm == pytest.approx(whole.b.allowance_mm, abs=5)
    assert not [f.code for f in found.findings if f.severity in ("stop", "fix")]
    assert "both-ends-made" not in {f.code for f in found.findings}
    assert "IG8-M" not in {c.code for c in distributor().evaluate().parts.lines}
    (line,) = [x for x in found.parts.lines if x.code == "IG8-M"]
    assert line.cost == 0


def test_an_output_of_a_row_has_the_path_of_the_one_before():
    builder = HarnessBuilder("vehicle").feed(
        "A1 controller 1 A", "B1 battery > Y1 valve 1 A > A1.O2", "A1 > B1"
    )
    device = builder.plain["circuits"]["devices"]["A1"]
    assert device["pins"]["O2"]["role"] == "output_low"
    paths = [(p["from_pin"], p["to_pin"]) for p in device["paths"].values()]
    assert paths == [("O1", "G"), ("N1", "G"), ("O2", "G")]
    assert builder.plain["ends"]["pinout"]["A1.O2"]["connector"] == "A1"


def test_current_crosses_connectors_and_blocks_either_way_and_each_wire_carries_its_own():
    builder = HarnessBuilder("vehicle").feed(
        "B1 battery > F1 fuse > J1 bulkhead > M1 pump 5 A > J1 > G1 ground block > B1",
        "B1 > F2 fuse > J1 > M2 fan 3 A > J1 > G1 > B1",
    )
    builder.run("B1 300 > F1 200 > J1 800 > M1", "F1 50 > F2", "J1 400 > M2", "B1 100 > G1")
    found = builder.evaluate()
    assert {x.load for x in builder.workings().circuits.loops} == {"M1", "M2"}
    carried = {w.label: round(w.carries_a, 6) for w in found.wire.wires.values()}
    by_ends = {
        frozenset(builder.plain["circuits"]["circuits"][w.circuit]["ends"]): round(w.carries_a, 6)
        for w in found.wire.wires.values()
    }
    assert carried
    assert by_ends[frozenset({"M1.-", "J1.b2"})] == 5
    assert by_ends[frozenset({"J1.a4", "G1.3"})] == 3
    assert by_ends[frozenset({"G1.2", "B1.-"})] == 8
    assert not {"no-return", "no-feed", "current-against-path"} & set(builder.codes())


def test_connectors_that_meet_come_as_two_halves_and_grow_together():
    builder = HarnessBuilder("vehicle").feed("B1 battery > J1 inline > E1 lamp 1 A > J1 > B1")
    for n in range(2, 5):
        builder.feed(f"B1 > J1 > E{n} lamp 1 A > J1 > B1")
    halves = {k: builder.plain["ends"]["connectors"][k] for k in ("J1a", "J1b")}
    assert halves["J1a"]["ways"] == halves["J1b"]["ways"] >= 8
    assert {(h["shell"], h["contact_gender"]) for h in halves.values()} == {
        ("plug", "socket"),
        ("receptacle", "pin"),
    }
    assert halves["J1a"]["meets"] == "J1b"
    pinout = builder.plain["ends"]["pinout"]
    for n in range(1, 9):
        assert pinout[f"J1.a{n}"]["cavity"] == pinout[f"J1.b{n}"]["cavity"]
    bought = [x for x in builder.evaluate().parts.lines if "SR16" in x.code]
    assert bought


@pytest.mark.parametrize(
    ("before", "line", "said", "meant", "offer"),
    [
        ("", "M6 fuel cell pump 5 A red", "'red' is not understood", "red", None),
        ("", "E1 lamp 2 A left front", "'left' is not understood", "left", None),
        ("B1 battery > F1 fuse > M1 pump 5 A > B1", "F1 > S1 switch > M1", "fed from there already",
         "S1 switch", "S1 switch (between)"),
        ("B1 battery > F1 fuse > M1 pump 5 A > B1", "B1 > S1 switch > M1", "fed from there already",
         "S1 switch", None),
        ("A1 controller 1 A", "A1.temp > T1 sensor > A1.N1", "A1 has no pin 'temp'", "A1.temp",
         "A1.temp (new pin)"),
        ("B1 battery", "B1 > F1 > M1 pump 5 A lamp left > B1", "'left' is not understood", "left", None),
        ("B1 battery; B2 battery", "battery > E1 lamp 1 A > B1", "could be B1 or B2", "battery", None),
        ("B1 battery", "+24 > E1 lamp 1 A > B1", "Nothing here makes 24 V", "+24", None),
        ("B1 battery", "B1 > > E1 lamp > B1", "nothing between two >", ">", None),
    ],
)  # fmt: skip
def test_what_is_not_understood_is_named_where_it_stands(before, line, said, meant, offer):
    builder = HarnessBuilder("vehicle").feed(*(x.strip() for x in before.split(";") if x.strip()))
    with pytest.raises(TypedError, match=said) as refused:
        feed_line(builder.plain, builder.catalogue, line)
    error = refused.value
    assert line[error.start : error.end].strip() == meant
    assert error.offer == offer


def test_a_feed_that_comes_protected_is_no_alarm_and_its_wires_stand_its_fuse():
    builder = HarnessBuilder("vehicle").feed("W1 machine feed fuse 15 A fault 400 A > E1 lamp 2 A > W1")
    builder.run("W1 2500 > E1")
    source = builder.plain["circuits"]["sources"]["W1"]
    assert (source["kind"], source["fuse_a"], source["fault_a"]) == ("protected feed", 15, 400)
    found = builder.evaluate()
    codes = {f.code for f in found.findings}
    assert not codes & {"feed-unprotected", "unprotected-too-long"}
    # 2 A alone would be content with less: feed and return both stand the 15 A that protects them.
    assert builder.workings().wire.tables.asked.fuse_single_a.tolist() == [15, 15]
    bare = HarnessBuilder("vehicle").feed("B1 battery > E1 lamp 2 A > B1").run("B1 2500 > E1")
    assert "feed-unprotected" in bare.codes()


@pytest.mark.parametrize(
    ("amps", "told"),
    # 80 % of 15 A is 12 A: what a fuse is loaded with for good (common practice, no source).
    [("12.0", False), ("12.1", True), ("14.9", True)],
)
def test_what_hangs_on_a_protected_feed_is_held_to_the_fuse_it_is_behind(amps, told):
    builder = HarnessBuilder("vehicle").feed(f"W1 machine feed fuse 15 A > E1 lamp {amps} A > W1")
    found = [f for f in builder.evaluate().findings if f.code == "feed-over-its-fuse"]
    assert bool(found) is told
    assert all("W1 machine feed" in f.what and f"{amps.rstrip('.0')} A" in f.what for f in found)


def test_loads_on_a_protected_feed_add_up_and_what_goes_on_and_off_counts_as_it_heats():
    two = HarnessBuilder("vehicle").feed(
        "W1 machine feed fuse 15 A > E1 lamp 6.5 A > W1", "W1 > E2 lamp 6.5 A > W1"
    )
    assert "feed-over-its-fuse" in two.codes()
    # 13 A half of the time in a fast cycle heats as 13 / sqrt 2 = 9.2 A does.
    going = HarnessBuilder("vehicle").feed(
        "W1 machine feed fuse 15 A > E1 lamp 13 A, 50 % duty of 0.1 s > W1"
    )
    assert "feed-over-its-fuse" not in going.codes()
    other = HarnessBuilder("vehicle").feed("B1 battery > F1 fuse 15 A > E1 lamp 13 A > B1")
    assert "feed-over-its-fuse" not in other.codes()


FIGURES = {
    "K1 starter relay coil 0.2 A, contact 40 A": ({"current_a": 0.2}, {"contact_a": 40}),
    "K1 relay coil 90 ohm": ({"current_a": 0.133}, {}),
    "R1 heater 6 ohm": ({"current_a": 2.0, "kind": "resistive"}, {}),
    "Y1 coil 2 amps": ({"current_a": 2}, {}),
    "H1 horn 4 amp": ({"current_a": 4}, {}),
    "H1 speaker 2 ampere": ({"current_a": 2}, {}),
    "T1 throttle sensor 15 mA": ({"current_a": 0.015}, {}),
    "M1 60 mm fan 12 V 6 W": ({"current_a": 0.5, "rated_v": 12}, {}),
    "V1 10 s timer relay 0.1 A": ({"current_a": 0.1}, {}),
}


@pytest.mark.parametrize("line", FIGURES)
def test_figures_are_understood_wherever_they_stand(line):
    """Ohm's law and P = U I at 12 V."""
    load, path = dict(FIGURES[line][0]), FIGURES[line][1]
    builder = HarnessBuilder("vehicle").set("brief/supply_working_v", 12.0).feed(line)
    (stated,) = builder.plain["circuits"]["loads"].values()
    kind = load.pop("kind", None)
    assert {k: stated[k] for k in load} == pytest.approx(load)
    assert kind is None or stated["kind"] == kind
    device = next(iter(builder.plain["circuits"]["devices"].values()))
    for field, value in path.items():
        assert next(iter(device["paths"].values()))[field] == value
    assert not any(c.isdigit() and "A" in device["name"] for c in device["name"])


def test_leads_have_a_gauge_and_a_length():
    builder = HarnessBuilder("vehicle").feed(
        "E1 lamp 2 A with 20 AWG leads 300 mm", "M1 pump 5 A, leads 0.75 mm2 6 in"
    )
    devices = builder.plain["circuits"]["devices"]
    assert [(d["fitted"], d["lead_gauge"], d["lead_mm"]) for d in devices.values()] == [
        ("flying leads", "20 AWG", 300),
        ("flying leads", "0.75 mm²", pytest.approx(152.4)),
    ]
    assert [d["name"] for d in devices.values()] == ["lamp", "pump"]


def test_brackets_say_what_a_name_does_not():
    builder = HarnessBuilder("vehicle").feed("M1 kraken (fan, SR16) 5 A", "X2 gubbins (left) 1 A")
    devices = builder.plain["circuits"]["devices"]
    assert (devices["M1"]["kind"], devices["M1"]["name"]) == ("fan", "kraken")
    assert builder.plain["ends"]["connectors"]["M1"]["family"] == "SR16"
    assert devices["X2"]["name"] == "gubbins (left)"


RUNS: dict[str, dict[str, object]] = {
    "B1 1 m slack 150 > M1": {"length_mm": 1000, "slack_mm": 150},
    "B1 1 m + 150 mm > M1": {"length_mm": 1000, "slack_mm": 150},
    "B1 800 +-20 laid in place > M1": {"length_mm": 800, "uncertainty_mm": 20, "measured": "laid in place"},
    "B1 800 ± 1/4 in old part > M1": {"length_mm": 800, "uncertainty_mm": 6.35, "measured": "old part"},
    "B1 7 5/8 in in engine bay, laid in place > M1":
        {"length_mm": 193.675, "zone": "engine-bay", "measured": "laid in place"},
    "B1 1.2 m guess bay > M1": {"length_mm": 1200, "zone": "engine-bay", "measured": "guess"},
    "B1 300 tape on 2026-03-31 > M1": {"length_mm": 300, "measured": "tape", "measured_on": "2026-03-31"},
}  # fmt: skip


@pytest.mark.parametrize("line", RUNS)
def test_a_run_says_slack_how_it_was_measured_and_where_it_lies(line):
    builder = HarnessBuilder("vehicle").feed("B1 battery > M1 pump 1 A > B1")
    builder._act("zone", "engine bay 85 C")
    builder.run(line)
    (branch,) = builder.plain["route"]["branches"].values()
    for field, value in RUNS[line].items():
        assert branch[field] == (pytest.approx(value) if isinstance(value, float) else value)


def test_a_grommet_is_an_opening():
    builder = HarnessBuilder("vehicle").run(
        "a 300 > wall grommet 12 mm 400 > b 100 > floor opening 3/4 in > c clip 50 > d"
    )
    points = builder.plain["route"]["points"]
    assert [(p["kind"], p.get("opening_mm")) for k, p in points.items() if k in ("wall", "floor", "c")] == [
        ("opening", 12.0),
        ("opening", None),
        ("clamp", None),
    ]
    lengths = [b["length_mm"] for b in builder.plain["route"]["branches"].values()]
    assert lengths == pytest.approx([300, 400, 100, 19.05, 50])


@pytest.mark.parametrize(
    ("line", "said", "meant"),
    [
        ("B1 800 mm wobbly > M1", "'wobbly' is not understood", "wobbly"),
        ("B1 800 in the attic > M1", "'attic' is not understood", "attic"),
        ("B1 800 900 > M1", "Two lengths stand", "B1 800 900"),
        ("B1 > M1", "How far is it", "B1"),
        ("B1 300 > M1 400", "leads nowhere", "M1 400"),
        ("B1 12 parsecs > M1", "not a length", "12 parsecs"),
    ],
)
def test_a_run_names_the_word_that_is_not_understood(line, said, meant):
    with pytest.raises(TypedError, match=said) as refused:
        route_line(HarnessBuilder("vehicle").plain, line)
    assert line[refused.value.start : refused.value.end].strip() == meant


def test_a_device_of_two_halves_is_placed_with_both():
    builder = HarnessBuilder("vehicle").feed("B1 battery > J1 bulkhead > E1 lamp 1 A > J1 > B1")
    builder.run("B1 300 > J1 200 > E1")
    assert {k: c["point"] for k, c in builder.plain["ends"]["connectors"].items()} == {
        "B1": "B1", "J1a": "J1", "J1b": "J1", "E1": "E1",
    }  # fmt: skip
    assert "connector-not-placed" not in builder.codes()


def test_separators_quiet_ignition_leads_side_by_side_and_are_bought():
    builder = HarnessBuilder("vehicle").feed("Y1 ignition coil 4 A", "Y2 ignition coil 4 A")
    builder.feed("Y1.h > X1 spark plug", "Y2.h > X2 spark plug")
    builder._act("connector", "Y1h")
    builder.run("Y1 200 > rail 600 > head 250 > X1", "Y2 220 > rail", "head 300 > X2")
    assert "ignition-together" in builder.codes()
    builder.run("rail 600 separators > head")
    found = builder.evaluate()
    assert "ignition-together" not in {f.code for f in found.findings}
    # One at each end and one each 150 mm between.
    (line,) = [x for x in found.parts.lines if x.code == "IGN8-SEP"]
    assert line.quantity == 5


def test_a_battery_of_another_sort_is_the_battery_and_what_charges_it_is_no_other_ground():
    builder = HarnessBuilder("vehicle").feed(
        "B1 lithium battery > F1 fuse > M1 pump 5 A > B1", "G1 alternator 40 A > B1"
    )
    builder.feed("battery > F2 fuse > E1 lamp 2 A > ground", "F2 > S1 switch > K1 relay coil > ground")
    devices = builder.plain["circuits"]["devices"]
    assert [d for d, x in devices.items() if "battery" in x["kind"]] == ["B1"]
    minus = next(
        set(c["ends"]) for c in builder.plain["circuits"]["circuits"].values() if "B1.-" in c["ends"]
    )
    assert {"E1.-", "K1.85"} <= minus
    # Two batteries are two grounds, and two that a bare word could mean.
    two = HarnessBuilder("vehicle").feed(
        "B1 battery > F1 fuse > M1 pump 5 A > B1", "B2 lithium battery > F2 fuse > E1 lamp 1 A > B2"
    )
    with pytest.raises(LineError, match="could be B1 or B2"):
        two.feed("battery > F3 fuse > E2 lamp 1 A > ground")
    with pytest.raises(LineError, match="return of B1 or B2"):
        two.feed("F2 > E3 lamp 1 A > ground")


@pytest.mark.parametrize(
    "line",
    [
        "F1 > K9 relay coil 0.15 A > ground",
        "F1 > S1 switch > K9 fan relay > B1",
        "F1 > K9 fan relay > ground",
    ],
)
def test_a_relay_that_is_led_to_ground_is_meant_by_its_coil(line):
    builder = HarnessBuilder("vehicle").feed("B1 battery > F1 fuse block > M1 pump 3 A > B1", line)
    ends = [set(c["ends"]) for c in builder.plain["circuits"]["circuits"].values()]
    assert any({"K9.85", "B1.-"} <= e for e in ends)
    builder.run("B1 100 > F1 300 > M1", "F1 200 > K9")
    assert "short-circuit" not in builder.codes()
    again = HarnessBuilder("vehicle").feed(
        "B1 battery > F1 fuse block > K9 relay > M1 pump 3 A > B1", "F1 > K9 > B1"
    )
    ends = [set(c["ends"]) for c in again.plain["circuits"]["circuits"].values()]
    assert any({"K9.86", "F1.out2"} == e for e in ends)


def test_a_relay_behind_a_load_switches_it_to_ground():
    builder = HarnessBuilder("vehicle").feed("B1 battery > F1 fuse > M1 pump 3 A > K1 relay > B1")
    ends = [set(c["ends"]) for c in builder.plain["circuits"]["circuits"].values()]
    assert any({"K1.87", "B1.-"} <= e for e in ends)


def test_a_ground_block_with_pins_of_its_own_is_asked_about(larkspur):
    with pytest.raises(LineError, match=r"N1.*N1\.6"):
        larkspur.feed("F1 > M8 horn 4 A > ground")
    larkspur.feed("F1 > M8 horn 4 A > N1.6")
    paths = larkspur.plain["circuits"]["devices"]["N1"]["paths"].values()
    assert ("6", "b") in {(p["from_pin"], p["to_pin"]) for p in paths}
    ends = [set(c["ends"]) for c in larkspur.plain["circuits"]["circuits"].values()]
    assert {"M8.-", "N1.6"} in ends


@pytest.mark.parametrize(
    "name", ["three-wire sensor 12 mA", "level sensor 12 mA", "sensor 0.16 W", "powered sensor 12 mA"]
)
def test_a_sensor_that_draws_is_one_with_a_supply_of_its_own(name):
    builder = HarnessBuilder("vehicle").feed(f"G1 battery 12 V > T1 {name} > G1")
    assert builder.plain["circuits"]["devices"]["T1"]["kind"] == "sensor_three_wire"
    assert builder.plain["circuits"]["loads"]["T1"]["current_a"] == pytest.approx(0.012, rel=0.12)
    still = HarnessBuilder("vehicle").feed("T1 level sensor", "T2 three-wire sensor", "T3 two-wire sensor")
    kinds = {d: x["kind"] for d, x in still.plain["circuits"]["devices"].items()}
    assert kinds == {"T1": "sensor_two_wire", "T2": "sensor_three_wire", "T3": "sensor_two_wire"}


def test_each_way_out_of_a_block_has_a_terminal_for_what_it_carries():
    """A block begun for a winch has thick blades; a controller of 0.5 A does not get 10 AWG for it."""
    builder = HarnessBuilder("vehicle").feed(
        "B1 battery > F1 fuse block > M1 winch 30 A > B1",
        "F1 > A1 controller 0.5 A > B1",
        "F1 > E1 lamp 2 A > B1",
    )
    at = {r: e["connector"] for r, e in builder.plain["ends"]["pinout"].items() if r.startswith("F1.")}
    family = {r: builder.plain["ends"]["connectors"][c]["family"] for r, c in at.items()}
    assert family == {"F1.in": "BLADE95", "F1.out1": "BLADE95", "F1.out2": "TAB63", "F1.out3": "TAB63"}
    assert at["F1.out2"] == at["F1.out3"] != at["F1.out1"]
    builder.run("B1 100 > F1 400 > M1", "F1 300 > A1", "F1 500 > E1")
    builder.shaded()
    assert "conductor-outside-contact" not in builder.codes()
    small = HarnessBuilder("vehicle").feed(
        "B1 battery > F1 fuse block > E1 lamp 2 A > B1", "F1 > M1 winch 30 A > B1"
    )
    held = small.plain["ends"]["connectors"]
    assert held[small.plain["ends"]["pinout"]["F1.out2"]["connector"]]["family"] == "BLADE95"
