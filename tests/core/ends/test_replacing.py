"""Jobs that meet an old harness, sensors that source or sink, ports, turned contacts, mixed-up fields."""

from __future__ import annotations

from dataclasses import replace

import pytest

from inkthread.catalogue import shipped_catalogue
from inkthread.core.catalogue.names import what_is
from inkthread.core.catalogue.own import PartsError, read_parts
from inkthread.core.circuits.kinds import kind_from_device
from inkthread.core.document import DocumentError, parse_document
from inkthread.core.document.against_catalogue import require_known_parts
from tests.conftest import HarnessBuilder
from tests.core.scenarios import (
    fanned,
    fixed,
    half,
    no_turn,
    ports,
    pump,
    replacing,
    sensor,
    switching,
    turned,
)

pytestmark = pytest.mark.slow


def said(builder: HarnessBuilder, code: str) -> list[str]:
    return [f.what for f in builder.evaluate().findings if f.code == code]


# Old wires of one colour


def marked(builder: HarnessBuilder, *marks: str) -> HarnessBuilder:
    held = [c for c in builder.plain["circuits"]["circuits"].values() if c.get("old_colour")]
    for circuit, mark in zip(held, marks, strict=True):
        circuit["old_mark"] = mark
    return builder


def test_old_wires_of_two_colours_tell_themselves_apart():
    assert not said(replacing("brown", "blue"), "old-wires-alike")


@pytest.mark.parametrize("second", ["Brown", " brown ", "BROWN"])
def test_a_colour_is_a_colour_however_it_is_written(second):
    assert said(replacing("brown", second), "old-wires-alike")


@pytest.mark.parametrize(
    ("marks", "apart"),
    [
        (("", ""), False),
        (("one ring", ""), True),
        (("one ring", "two rings"), True),
        (("ring", "ring"), False),
        (("ring", "Ring "), False),
    ],
)
def test_marks_tell_them_apart_where_no_two_are_the_same(marks, apart):
    found = said(marked(replacing("brown", "brown"), *marks), "old-wires-alike")
    assert bool(found) != apart


def test_it_names_the_circuits_the_colour_and_the_connector_once():
    found = said(replacing("brown", "brown"), "old-wires-alike")
    assert len(found) == 1
    assert "brown" in found[0]
    assert "M1" in found[0]


def test_circuits_that_share_no_connector_may_be_of_one_colour():
    builder = pump().feed("F1.out > E1 lamp 1 A > B1").run("F1 300 > E1")
    circuits = builder.plain["circuits"]["circuits"]
    pins = {k: set(c["ends"]) for k, c in circuits.items()}
    feed = next(k for k, p in pins.items() if "B1.+" in p)
    back = next(k for k, p in pins.items() if "B1.-" in p)
    for key in (feed, back):
        circuits[key]["old_colour"] = "red"
    shared = {r.partition(".")[0] for r in pins[feed]} & {r.partition(".")[0] for r in pins[back]}
    assert shared == {"B1"}
    assert said(builder, "old-wires-alike"), "both end at the battery's rings"
    builder.plain["ends"]["connectors"]["B9"] = dict(builder.plain["ends"]["connectors"]["B1"], order=30)
    builder.plain["ends"]["pinout"]["B1.-"]["connector"] = "B9"
    assert not said(builder, "old-wires-alike")


# Mates and evidence


@pytest.mark.parametrize("job", ["new", "trial lead"])
def test_a_new_job_asks_for_no_mate(job):
    assert not said(pump().set("brief/job", job), "mate-not-known")


@pytest.mark.parametrize("job", ["replacement", "extension", "adapter"])
def test_a_job_that_meets_what_is_there_asks_how_the_mates_are_known(job):
    builder = pump().set("brief/job", job)
    found = said(builder, "mate-not-known")
    assert len(found) == 1
    assert job in found[0]
    assert "M1" in found[0]
    assert "B1" not in found[0], "rings under a nut meet no half"


@pytest.mark.parametrize("how", ["marking", "document", "tried"])
def test_a_mate_that_was_looked_at_is_known(how):
    builder = half(pump().set("brief/job", "adapter"), mate_from=how)
    assert not said(builder, "mate-not-known")


@pytest.mark.parametrize("both", [True, False])
def test_halves_that_meet_each_other_in_the_harness_need_no_looking_at(both):
    """Whether each names the other, or only one of them does."""
    builder = half(pump().set("brief/job", "extension"), mate_from="marking")
    plug = builder.plain["ends"]["connectors"]["M1"]
    pins = {p: {"order": 1, "role": "signal", "name": ""} for p in "ab"}
    builder.set("circuits/devices/J9", {"order": 9, "name": "joint", "kind": "inline", "pins": pins})
    for key, other in (("JA", "JB"), ("JB", "JA" if both else None)):
        builder.set(f"ends/connectors/{key}", {**plug, "order": 9, "meets": other, "mate_from": "not said"})
    for pin, at in (("a", "JA"), ("b", "JB")):
        builder.set(f"ends/pinout/J9.{pin}", {"order": 9, "connector": at, "cavity": "1"})
    assert not said(builder, "mate-not-known")


def test_a_replacement_with_nothing_noted_says_all_that_is_missing():
    builder = pump().set("brief/job", "replacement")
    for branch in builder.plain["route"]["branches"].values():
        branch["measured"] = "guess"
    (found,) = said(builder, "nothing-to-go-by")
    for words in ("old colours", "measured lengths", "pins are known from"):
        assert words in found


def test_a_replacement_that_was_looked_at_is_let_be():
    builder = pump().set("brief/job", "replacement")
    for circuit in builder.plain["circuits"]["circuits"].values():
        circuit["old_colour"] = f"colour {circuit['order']}"
    for device in builder.plain["circuits"]["devices"].values():
        device["pin_data"] = "measured"
    assert not said(builder, "nothing-to-go-by")


def test_an_extension_need_not_know_old_colours():
    assert not said(pump().set("brief/job", "extension"), "nothing-to-go-by")


# Sourcing and sinking: IEC 60947-5-2 calls them PNP and NPN; a dry contact is neither


@pytest.mark.parametrize(
    ("output", "takes", "fits"),
    [
        ("sourcing", "sourcing", True),
        ("sinking", "sinking", True),
        ("sourcing", "either", True),
        ("sinking", "either", True),
        ("sourcing", "sinking", False),
        ("sinking", "sourcing", False),
        ("not said", "sinking", True),
        ("sourcing", "not said", True),
    ],
)
def test_an_input_sees_only_its_own_kind(output, takes, fits):
    assert (not said(switching(output, takes), "switching-differs")) == fits


def test_the_words_say_both_names():
    (found,) = said(switching(), "switching-differs")
    assert "sourcing (PNP)" in found
    assert "sinking (NPN)" in found
    assert "S1.4" in found
    assert "A1.I1" in found


def test_a_dry_contact_goes_with_either():
    builder = switching()
    builder.set("circuits/devices/S1/pins/4/switching", "not said").set(
        "circuits/devices/S1/pins/4/role", "dry_contact"
    )
    assert not said(builder, "switching-differs")


def test_an_output_that_draws_to_the_return_needs_an_input_for_that():
    builder = (
        pump().feed("A1 controller 0.2 A", "A2 controller 0.2 A", "A1.O1 > A2.I1").run("M1 300 > A1 300 > A2")
    )
    assert not said(builder, "switching-differs"), "nobody said what the input takes"
    builder.set("circuits/devices/A2/pins/I1/switching", "sinking")
    assert not said(builder, "switching-differs")
    builder.set("circuits/devices/A2/pins/I1/switching", "sourcing")
    assert said(builder, "switching-differs")


def test_kinds_of_sensors_bring_how_they_switch(catalogue):
    for words, switching_of in (("T7 proximity 0.02 A", "sourcing"), ("T7 npn 0.02 A", "sinking")):
        builder = HarnessBuilder("equipment").feed(words)
        assert builder.plain["circuits"]["devices"]["T7"]["pins"]["4"]["switching"] == switching_of


def test_a_kind_of_ones_own_keeps_how_it_switches(catalogue):
    builder = HarnessBuilder("equipment").feed("T7 npn 0.02 A")
    _, data = kind_from_device(builder.plain, catalogue, "T7", "flow switch", "")
    assert {p["id"]: p["switching"] for p in data["pins"]} == {
        "1": "not said",
        "3": "not said",
        "4": "sinking",
    }


# What a kind is fitted with


def test_a_proximity_sensor_comes_on_the_ways_that_its_standard_names():
    """IEC 60947-5-2, from memory: 1 supply, 3 return, 4 output."""
    builder = HarnessBuilder("equipment").feed("B1 battery > F1 fuse > T1 proximity 0.05 A > B1")
    builder.run("B1 100 > F1 300 > T1")
    assert builder.plain["ends"]["connectors"]["T1"]["family"] == "M12S"
    ways = {r: e["cavity"] for r, e in builder.plain["ends"]["pinout"].items() if r.startswith("T1.")}
    assert ways == {"T1.1": "1", "T1.3": "3", "T1.4": "4"}
    assert not said(builder, "polarity-swapped")


def test_a_servo_comes_on_a_three_way_servo_plug_with_its_feed_in_the_middle():
    builder = (
        HarnessBuilder("vehicle")
        .feed("B1 battery > F1 fuse > M1 servo 0.4 A > B1")
        .run("B1 100 > F1 300 > M1")
    )
    assert builder.plain["ends"]["connectors"]["M1"]["family"] == "SV3"
    assert builder.plain["ends"]["pinout"]["M1.+"]["cavity"] == "2"
    assert not said(builder, "polarity-swapped")


def test_every_kind_of_device_comes_with_a_connector_that_can_be_bought(catalogue):
    """Whatever is typed first, shell and contacts go together and nothing lands on another's way."""
    for kind in catalogue.kinds.values():
        builder = HarnessBuilder("vehicle").feed(f"X1 {kind.words[0]}" if kind.words else f"X1 {kind.label}")
        wrong = {"gender-muddle", "polarity-swapped", "part-gone", "cavity-used-twice"} & set(builder.codes())
        assert not wrong, (kind.label, wrong)


# Ports of one device


def test_ports_that_are_named_apart_are_fine():
    assert not said(ports("front", "rear"), "port-not-named")


@pytest.mark.parametrize("names", [("", ""), ("front", ""), ("front", "front"), ("front", "Front ")])
def test_ports_without_names_of_their_own_are_said(names):
    (found,) = said(ports(*names), "port-not-named")
    assert "A1" in found
    assert "PX" in found


@pytest.mark.parametrize("values", [{"key": "B"}, {"mark": "red sleeve"}, {"ways": 6}])
def test_ports_that_are_told_apart_otherwise_need_no_name(values):
    builder = ports("", "")
    half(builder, "PX", **values)
    assert not said(builder, "port-not-named")


# How contacts are turned


@pytest.mark.parametrize(
    ("degrees", "apart"),
    [
        ((None, None), False),
        ((0.0, 0.0), False),
        ((90.0, 90.0), False),
        ((0.0, None), False),
        ((0.0, 90.0), True),
        ((90.0, None), True),
        ((45.0, 225.0), True),
    ],
)
def test_contacts_of_one_cable_are_turned_alike(degrees, apart):
    assert bool(said(turned(*degrees), "contacts-turned-apart")) == apart


def test_round_contacts_may_lie_anyhow():
    assert shipped_catalogue().connectors["SR16"].turn == "any way round"
    assert not said(turned(0.0, 90.0, family="SR16"), "contacts-turned-apart")


def test_wires_that_are_in_no_cable_may_be_turned_one_by_one():
    builder = sensor()
    for n, turn in ((1, 0.0), (2, 90.0)):
        builder.plain["ends"]["pinout"][f"T1.{n}"]["clock_deg"] = turn
    assert not said(builder, "contacts-turned-apart")


def test_a_turn_that_was_tried_on_a_scrap_is_known():
    builder = no_turn()
    assert said(builder, "contact-turn-not-known")
    for n in (1, 2):
        builder.plain["ends"]["pinout"][f"T1.{n}"]["clock_deg"] = 0.0
    assert not said(builder, "contact-turn-not-known")


def test_every_family_with_crimped_contacts_that_ships_says_how_they_lie(catalogue):
    for family in catalogue.connectors.values():
        if any(c.kind in ("stamped", "machined") for c in family.contacts):
            assert family.turn, family.code


# One field holding what belongs in another


@pytest.mark.parametrize(
    ("text", "is_what"),
    [
        ("SR16", "a connector family"),
        ("sr16", "a connector family"),
        ("AS22759/32", "a wire family"),
        ("20 AWG", "a gauge"),
        ("1/0 AWG", "a gauge"),
        ("0.75mm2", "a gauge"),
        ("0,75 mm²", "a gauge"),
        ("12 ways", "a number of ways"),
        ("12 pins", "a number of ways"),
        ("M6", "a stud size"),
        ("16", "a contact size"),
        ("nothing of the kind", ""),
        ("", ""),
    ],
)
def test_what_a_name_is(catalogue, text, is_what):
    found = what_is(catalogue, text)
    assert found == (f"{text} is {is_what}." if is_what else "")


def test_every_code_that_ships_is_known_for_what_it_is(catalogue):
    for family in catalogue.connectors.values():
        for contact in family.contacts:
            assert "a contact of" in what_is(catalogue, contact.code)
        for seal in family.seals:
            assert "a seal of" in what_is(catalogue, seal.code)
    for tool in catalogue.tools:
        assert what_is(catalogue, tool)


@pytest.mark.parametrize(
    ("field", "value", "says"),
    [
        ("contact", "SR16", "SR16 is a connector family."),
        ("contact", "16", "16 is a contact size."),
        ("contact", "18 AWG", "18 AWG is a gauge."),
    ],
)
def test_a_contact_field_that_holds_something_else_says_what(catalogue, field, value, says):
    builder = pump().set(f"ends/pinout/M1.+/{field}", value)
    with pytest.raises(DocumentError) as refused:
        require_known_parts(parse_document(builder.plain), catalogue)
    (problem,) = refused.value.problems
    assert problem.path == f"/ends/pinout/M1.+/{field}"
    assert says in problem.message
    assert "Choose one of" in problem.remedy


def test_a_wire_family_in_the_place_of_a_connector_family_is_said(catalogue):
    builder = half(pump(), family="J1128-TXL")
    with pytest.raises(DocumentError) as refused:
        require_known_parts(parse_document(builder.plain), catalogue)
    assert "J1128-TXL is a wire family." in refused.value.problems[0].message


def test_gauges_put_down_for_areas_are_found_by_their_copper(catalogue):
    """18 to 20 mm2 would be 4.8 mm of copper in insulation of 2.2 mm: these are gauges."""
    family = catalogue.connectors["SR16"]
    contact = replace(
        family.contacts[0], conductor_min_mm2=18.0, conductor_max_mm2=20.0, insulation_max_mm=2.2
    )
    own = replace(family, code="MY16", contacts=(contact, *family.contacts[1:]))
    from inkthread.core.catalogue.check_family import check_family

    found = [p for p in check_family(catalogue, own) if "AWG" in p.remedy]
    assert found
    assert found[0].path == "/contacts/0/conductor_min_mm2"
    assert "4.8 mm thick" in found[0].message


def test_a_wire_family_in_the_family_column_of_a_table_is_said(catalogue):
    from inkthread.core.catalogue.own import COLUMNS

    row = dict.fromkeys(COLUMNS, "") | {
        "kind": "contact",
        "code": "MINE-1",
        "family": "J1128-TXL",
        "gender": "socket",
        "price": "0.4",
        "mass_g": "0.3",
    }
    text = ",".join(COLUMNS) + "\n" + ",".join(row[c] for c in COLUMNS) + "\n"
    with pytest.raises(PartsError) as refused:
        read_parts(catalogue, text)
    assert any("J1128-TXL is a wire family." in p.message for p in refused.value.problems)


# Colours of the other pole


@pytest.mark.parametrize(
    ("end", "colour", "against"),
    [("B1", "RD", True), ("B1", "BK", False), ("B1", "VT", False), ("M1", "BK", True), ("M1", "RD", False)],
)
def test_a_fixed_colour_is_held_against_the_scheme_only_for_the_other_pole(end, colour, against):
    """Red for feeds and black for returns: common practice, no source."""
    builder = fixed(pump(), end, colour=colour)
    assert bool(said(builder, "colour-against-scheme")) == against


def test_a_colour_that_the_builder_gave_the_role_is_his_scheme():
    builder = fixed(pump(), "B1", colour="RD")
    assert said(builder, "colour-against-scheme")
    builder.set("wire/role_colours/ground", {"order": 1, "colours": "RD"})
    assert not said(builder, "colour-against-scheme")


# Mass


@pytest.mark.parametrize(("budget", "told"), [(None, False), (1e5, False), (5.0, True)])
def test_a_budget_of_mass_is_kept_or_told(budget, told):
    assert bool(said(pump().set("brief/mass_budget_g", budget), "over-mass-budget")) == told


def test_mass_is_judged_for_one_harness_however_many_are_made():
    builder = pump()
    grams = builder.evaluate().tally.grams
    builder.set("brief/mass_budget_g", grams + 1.0)
    for quantity in (1, 7, 100):
        assert not said(builder.set("brief/quantity", quantity), "over-mass-budget")


# Fan-out


@pytest.mark.parametrize(
    ("length_mm", "long", "short"),
    [(None, False, False), (19, False, False), (25, False, False), (13, False, True), (25.5, True, False)],
)
def test_the_jacket_of_a_circular_four_way_must_reach_its_gland(length_mm, long, short):
    """Common practice, no source: 19 to 25 mm passes, 13 mm warns, above 25 mm fails."""
    builder = fanned(None if length_mm is None else float(length_mm))
    assert bool(said(builder, "fan-out-too-long")) == long
    assert bool(said(builder, "fan-out-short")) == short


def test_a_connector_without_a_gland_asks_for_no_fan_out():
    assert not said(half(pump(), fan_out_mm=90.0), "fan-out-too-long")
