"""The demo harnesses are sound, and what each is there to catch is caught when it is done wrong."""

from __future__ import annotations

import copy

import pytest

from inkthread.demo import demo_document
from tests.conftest import HarnessBuilder

pytestmark = pytest.mark.slow


@pytest.fixture
def glider() -> HarnessBuilder:
    return HarnessBuilder(plain=copy.deepcopy(demo_document("glider")))


def codes(builder: HarnessBuilder) -> set[str]:
    return {f.code for f in builder.evaluate().findings}


def move(builder: HarnessBuilder, pin: str, circuit: str) -> HarnessBuilder:
    """Take a device pin out of its circuit and into another, or a new one."""
    circuits = builder.plain["circuits"]["circuits"]
    for c in circuits.values():
        c["ends"].pop(pin, None)
    builder.set(f"circuits/circuits/{circuit}/ends/{pin}", {"order": 99})
    circuits[circuit].setdefault("order", 999)
    return builder


def test_the_demos_have_no_stop(larkspur, glider):
    for builder in (larkspur, glider):
        assert builder.evaluate().tally.stops == 0


def test_larkspur_is_grown_to_its_list(larkspur):
    e = larkspur.evaluate()
    assert e.tally.wires > 90
    families = {w.family for w in e.wire.wires.values()}
    assert {"SHIELDED-PAIR", "SHIELDED-THREE", "TWISTED-PAIR", "IGNITION-8"} <= families
    assert len(e.route.splices) >= 8, "trunk splices"
    loads = larkspur.plain["circuits"]["loads"]
    starter = next(x for x in loads.values() if x["device"] == "M2")
    assert (starter["current_a"], starter["peak_a"], starter["peak_s"]) == (120.0, 180.0, 10.0)


def test_an_alternator_behind_the_main_relay_keeps_the_engine_alive(larkspur):
    assert "kill-leaves-alive" not in codes(larkspur)
    assert "kill-leaves-alive" in codes(move(larkspur, "F3.in", "C3"))


def test_a_shield_left_off_the_bulkhead_is_caught(larkspur):
    assert not {"shield-broken", "shield-landing"} & codes(larkspur)
    paths = larkspur.plain["circuits"]["devices"]["J2"]["paths"]
    through = next(k for k, p in paths.items() if {p["from_pin"], p["to_pin"]} == {"a7", "b7"})
    del paths[through]
    found = [f.what for f in larkspur.evaluate().findings if f.code == "shield-broken"]
    assert found
    assert all("J2" in what for what in found)


def test_the_bulkhead_must_pass_its_opening(larkspur):
    larkspur.set("route/points/bulk/opening_mm", 12.0)
    assert "bundle-cannot-pass" in codes(larkspur)


def test_wood_returns_nothing(glider):
    glider.set("circuits/devices/E1/pins/-/role", "ground")
    assert "structure-absent" not in codes(glider)
    glider.feed("G9 ground stud", "G8 ground stud", "G8.1 > B1.-").run("E1 100 > G9", "B1 100 > G8")
    for branch in glider.plain["route"]["branches"].values():
        if branch["to_point"] in ("G9", "G8"):
            branch["zone"] = "tail"
    move(glider, "E1.-", "stud")
    glider.set("circuits/circuits/stud/ends/G9.1", {"order": 100})
    assert "structure-absent" in codes(glider)


def test_batteries_paralleled_at_the_changeover_are_caught(glider):
    assert "sources-in-parallel" not in codes(glider)
    for path in glider.plain["circuits"]["devices"]["S1"]["paths"].values():
        path["throw"] = ""
    assert "sources-in-parallel" in codes(glider)


def test_automotive_wire_is_refused_in_an_aircraft_unless_a_reason_is_given(glider):
    glider.set("wire/family", "J1128-TXL")
    assert "no-burn-rating" in codes(glider)
    glider.set("wire/burn_reason", "bench rig, never flown")
    assert "no-burn-rating" not in codes(glider)


def test_a_return_sent_another_way_past_the_compass_is_a_loop(glider):
    assert "loop-near-instrument" not in codes(glider)
    glider.run("fus 500 > E9").feed("E9 lamp 2 A")
    for ref, circuit in (("E9.+", "C10"), ("E9.-", "C13")):
        glider.set(f"circuits/circuits/{circuit}/ends/{ref}", {"order": 50})
    # Its return comes back through the block by the turn indicator.
    glider.set("circuits/circuits/C13/threading", "daisy chain")
    glider.set("route/branches/R11/zone", "compass")
    glider.set("circuits/circuits/C10/threading", "home runs").set("circuits/circuits/C15/threading", None)
    move(glider, "E1.-", "C12")
    assert "loop-near-instrument" in codes(glider)


def test_radio_noise_reaches_the_variometer_only_unshielded(glider):
    glider.feed("T8 pressure sensor").run("vario 300 > T8")
    for n, (a, b) in enumerate((("A5.s", "T8.1"), ("A5.sr", "T8.2"))):
        glider.set(f"circuits/devices/A5/pins/{a[3:]}", {"order": 20 + n, "role": "signal", "name": ""})
        glider.set(
            f"circuits/circuits/V{n}",
            {"order": 90 + n, "name": "variometer", "ends": {a: {"order": 1}, b: {"order": 2}}},
        )
        glider.set(f"ends/pinout/{a}", {"order": 300 + n, "connector": "A5s", "cavity": str(n + 1)})
    glider.set("ends/connectors/A5s", {**glider.plain["ends"]["connectors"]["A5"], "ways": 2})
    assert "signal-in-noise" not in codes(glider)
    glider.set("brief/zones/tray/noisy", True)
    assert "signal-in-noise" in codes(glider)
    glider.set(
        "circuits/groups/vario",
        {
            "order": 9,
            "kind": "shielded pair",
            "members": {"V0": {"order": 1}, "V1": {"order": 2}},
            "family": "SHIELDED-PAIR",
        },
    )
    what = [f.what for f in glider.evaluate().findings if f.code == "signal-in-noise"]
    assert not any("V0" in w for w in what)


def test_wire_through_the_stick_must_bend(glider):
    assert "solid-in-motion" not in codes(glider)
    glider.set("circuits/circuits/C23/family", "SOLID-HOOKUP").set("wire/burn_reason", "to see")
    assert "solid-in-motion" in codes(glider)


def test_the_hinged_tray_has_slack(glider):
    """Every wire that passes the tray's hinge is longer by the slack kept there."""
    points = glider.plain["route"]["points"]
    kept = [p for p, x in points.items() if x.get("slack_mm")]
    assert kept
    before = {c.wire: c.finished_mm for c in glider.evaluate().cut.cuts}
    for p in kept:
        points[p]["slack_mm"] = 0.0
    after = {c.wire: c.finished_mm for c in glider.evaluate().cut.cuts}
    assert any(before[w] > after[w] for w in before)


def test_six_equal_loads_tapped_in_pairs():
    """A shared feed of six 1.2 A lamps in pairs, 1 m from pair to pair and 1 m of tail each, thin-wall
    road-vehicle wire, 4.7 % of 13.2 V around the loop: 0.75 in the tails, then 1.0, 1.5 and 2.5 mm2.
    Common practice, no source.
    """
    amps = 1.2
    builder = HarnessBuilder("motorsport").set("wire/family", "ISO6722-THIN").feed("B1 battery > F1 fuse")
    builder.set(
        "brief/house_rules/drop_limit_continuous_percent", {"order": 1, "value": 4.7, "reason": "stated"}
    )
    for n in range(1, 7):
        builder.feed(f"F1.out > E{n} lamp {amps} A > B1")
    builder.run("B1 100 > F1 1 m > t1 1 m > t2 1 m > t3")
    for n in range(1, 7):
        builder.run(f"t{(n + 1) // 2} 1 m > E{n}")
    e = builder.evaluate()
    feed = next(w.circuit for w in e.wire.wires.values() if w.from_text.startswith("F1-2"))
    by_loads: dict[int, set[str]] = {}
    for w in e.wire.wires.values():
        if w.circuit == feed:
            by_loads.setdefault(round(w.carries_a / amps), set()).add(w.gauge)
    assert by_loads == {1: {"0.75 mm²"}, 2: {"1 mm²"}, 4: {"1.5 mm²"}, 6: {"2.5 mm²"}}
    assert all(x.drop_v <= x.limit_v for x in e.wire.loops.values())
    assert "drop-over-limit" not in {f.code for f in e.findings}


@pytest.fixture
def mushroom() -> HarnessBuilder:
    return HarnessBuilder(plain=copy.deepcopy(demo_document("mushroom")))


@pytest.fixture
def dawdler() -> HarnessBuilder:
    return HarnessBuilder(plain=copy.deepcopy(demo_document("dawdler")))


def device(builder: HarnessBuilder, name: str) -> dict:
    return builder.plain["circuits"]["devices"][name]


def test_the_climate_rig_is_what_it_should_be(mushroom):
    e = mushroom.evaluate()
    assert e.findings == ()
    families = {c.family for c in e.ends.connectors.values()}
    assert {"M12S", "SPL"} <= families
    ferrules = [line for line in e.parts.lines if line.code.startswith("FE-")]
    assert sum(line.quantity for line in ferrules) >= 55 * mushroom.plain["brief"]["quantity"]
    # Every probe's gland was chosen for its cable.
    assert all(
        "M12S-G" in {a.code for a in x} for k, x in mushroom.workings().ends.accessories.items() if k == "T1"
    )


def test_steam_is_too_hot_for_general_pvc(mushroom):
    mushroom.plain["circuits"]["circuits"]["C5"]["family"] = None
    found = [f for f in mushroom.evaluate().findings if f.code == "zone-too-hot"]
    assert "70 °C" in found[0].what


def test_a_fuse_that_a_limited_supply_can_never_clear_is_caught(mushroom):
    path = device(mushroom, "F1")["paths"]["5"]
    path["rating_a"], path["reason"] = 10.0, "it was in the drawer"
    assert "fuse-never-clears" in codes(mushroom)


def test_a_bus_joined_in_splices_makes_stubs(mushroom):
    circuits = mushroom.plain["circuits"]["circuits"]
    bus = next(k for k, c in circuits.items() if c["name"] == "bus A")
    other = next(k for k, c in circuits.items() if c["name"] == "bus B")
    assert not any(c.startswith("bus") for c in codes(mushroom))
    for k in (bus, other):
        circuits[k].update(threading="star", hub="box")
    assert any(c.startswith("bus-") for c in codes(mushroom))


def test_washing_down_with_jets_wants_another_class(mushroom):
    mushroom.plain["brief"]["zones"]["wash"]["jets"] = True
    found = [f.what for f in mushroom.evaluate().findings if f.code == "not-tight-enough"]
    assert found
    assert all("IP69K" in what for what in found)


def test_probes_that_look_alike_are_told_apart_by_their_rings(mushroom):
    assert "look-alikes" not in codes(mushroom)
    for k in ("T1", "T2"):
        mushroom.plain["ends"]["connectors"][k]["mark"] = ""
    assert "look-alikes" in codes(mushroom)


def test_a_cable_too_thin_for_its_gland_is_caught(mushroom):
    mushroom.plain["ends"]["connectors"]["T1"]["cable_mm"] = 3.0
    assert "cable-outside-entry" in codes(mushroom)
    mushroom.plain["ends"]["connectors"]["T1"]["cable_mm"] = 7.0
    assert "cable-outside-entry" not in codes(mushroom)
    assert mushroom.workings().ends.accessories["T1"][0].code == "M12S-G8"


def test_relay_feeds_whose_old_wires_were_one_colour_are_caught_without_their_tags(mushroom):
    assert "old-wires-alike" not in codes(mushroom)
    red = [c for c in mushroom.plain["circuits"]["circuits"].values() if c["old_colour"] == "red"]
    assert len(red) == 5
    for circuit in red[1:3]:
        circuit["old_mark"] = ""
    found = [f.what for f in mushroom.evaluate().findings if f.code == "old-wires-alike"]
    assert len(found) == 1
    assert "red" in found[0]


def test_a_sinking_sensor_at_the_rigs_sourcing_input_is_caught(mushroom):
    assert "switching-differs" not in codes(mushroom)
    device(mushroom, "T8")["pins"]["4"]["switching"] = "sinking"
    assert "switching-differs" in codes(mushroom)


def test_the_yacht_says_what_its_motors_do(dawdler):
    e = dawdler.evaluate()
    assert sorted(f.code for f in e.findings) == ["brown-out-at-peak"] * 3
    # The panel's 1.2 A never opens its 2 A fuse; the battery behind it does, so that is not blamed.
    dawdler.plain["circuits"]["sources"]["B1"]["limit_a"] = 3.0
    assert "fuse-never-clears" in codes(dawdler)
    dawdler.plain["circuits"]["sources"]["B1"]["limit_a"] = None
    assert dawdler.plain["brief"]["mass_budget_g"] == 260
    assert e.tally.grams < 260
    for splice in dawdler.workings().ends.joints.values():
        assert splice.cover is None or splice.cover.lined, "salt wicks along strands"


def test_a_yacht_that_grows_too_heavy_is_told_by_how_much_and_by_what(dawdler):
    dawdler.plain["brief"]["mass_budget_g"] = 200
    (found,) = [f.what for f in dawdler.evaluate().findings if f.code == "over-mass-budget"]
    over = dawdler.evaluate().tally.grams - 200
    assert f"{over:.0f} g too much" in found
    heaviest = max(dawdler.evaluate().parts.lines, key=lambda line: line.mass_g)
    assert heaviest.code in found


def test_a_stiffer_pack_and_heavier_wire_keep_the_six_volts_up_when_the_winch_stalls(dawdler):
    winch = next(f for f in dawdler.evaluate().findings if "As M1 sail winch takes 8 A" in f.what)
    assert winch.code == "brown-out-at-peak"
    assert "V1 6 V regulator gets" in winch.what
    assert "it gets" in winch.what
    hit = {(b.peaks, b.load): b.gets_v for b in dawdler.workings().wire.brown_outs}
    source = next(iter(dawdler.plain["circuits"]["sources"].values()))
    before = source["internal_mohm"]
    source["internal_mohm"] = 15.0
    stiffer = {(b.peaks, b.load): b.gets_v for b in dawdler.workings().wire.brown_outs}
    # 8 A instead of 1.5 A over 30 milliohm less: 0.2 V more, where it still falls short.
    for key, volts in stiffer.items():
        if key[0] != ("M1",):
            continue
        assert volts - hit[key] == pytest.approx(6.5 * (before - 15.0) / 1000, rel=0.35)
    assert len(stiffer) < len(hit)


def test_the_rudder_plug_turned_round_is_caught(dawdler):
    connector = dawdler.plain["ends"]["connectors"]["M2"]
    connector.update(family="SV3", shell="plug", contact_gender="socket")
    assert "polarity-swapped" not in codes(dawdler)
    pinout = dawdler.plain["ends"]["pinout"]
    pinout["M2.s"]["cavity"], pinout["M2.-"]["cavity"] = "3", "1"
    found = [f.what for f in dawdler.evaluate().findings if f.code == "polarity-swapped"]
    assert "wrong way round" in found[0]
    # And a servo plug in the wet is not tight.
    assert "not-tight-enough" in codes(dawdler)


def test_the_tub_bulkhead_meets_way_for_way_and_a_slip_is_named(larkspur):
    assert "pair-differs" not in codes(larkspur)
    pinout = larkspur.plain["ends"]["pinout"]
    pinout["J1.b1"]["cavity"], pinout["J1.b2"]["cavity"] = "2", "1"
    found = [f.what for f in larkspur.evaluate().findings if f.code == "pair-differs"]
    assert "J1a" in found[0]
    assert "way 1 meets way 2" in found[0]


def test_coils_that_look_alike_and_elbows_not_clocked_are_caught(larkspur):
    for k in ("Q1", "Q2", "Q3", "Q4"):
        larkspur.plain["ends"]["connectors"][k].update(mark="", key="")
    assert "look-alikes" in codes(larkspur)
    assert "elbows-not-clocked" not in codes(larkspur)
    for entry in larkspur.plain["ends"]["pinout"].values():
        entry["clock_deg"] = None
    assert "elbows-not-clocked" in codes(larkspur)


def test_a_balance_tap_without_a_fuse_is_caught(dawdler):
    device(dawdler, "B1")["pins"]["b1"] = {"order": 9, "role": "supply_out", "name": "balance tap"}
    device(dawdler, "A1")["pins"]["bt"] = {"order": 99, "role": "supply_in", "name": "cell voltage"}
    dawdler.set("ends/connectors/B1/ways", 4)
    dawdler.set("ends/pinout/B1.b1", {"order": 900, "connector": "B1", "cavity": "3"})
    free = next(c.cavity for c in dawdler.evaluate().ends.connectors["A1"].cavities if c.pin is None)
    dawdler.set("ends/pinout/A1.bt", {"order": 901, "connector": "A1", "cavity": free})
    ends = {"B1.b1": {"order": 1}, "A1.bt": {"order": 2}}
    dawdler.set("circuits/circuits/TAP", {"order": 900, "name": "balance tap", "ends": ends})
    load = {"order": 900, "device": "A1", "supply_pin": "bt", "return_pin": "G", "current_a": 0.01}
    dawdler.set("circuits/loads/TAP", load)
    assert "feed-unprotected" in codes(dawdler)
