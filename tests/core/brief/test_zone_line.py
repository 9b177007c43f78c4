"""Zones as they are typed: all of it is used, or the word is named and refused."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from inkthread.core.brief.zone_line import SAID_OF_ZONES, SUN_W_PER_M2, UNSAID_C, read_zone
from inkthread.core.document.draft import LineError
from tests.conftest import HarnessBuilder

FLUIDS = ("fuel", "oil", "brake fluid", "coolant")


def said(text: str) -> dict[str, object]:
    """What differs from a dry quiet zone of the usual air."""
    usual = {"ambient_c": UNSAID_C, "wet": False, "vibration": False}
    return {k: v for k, v in read_zone(text, FLUIDS).items() if usual.get(k) != v}


@pytest.mark.parametrize(
    ("text", "fields"),
    [
        ("bay", {"name": "bay"}),
        ("engine bay 85 C", {"name": "engine bay", "ambient_c": 85.0}),
        ("engine bay 85", {"name": "engine bay", "ambient_c": 85.0}),
        ("exhaust 150 C wet", {"name": "exhaust", "ambient_c": 150.0, "wet": True}),
        ("loom 105 °C vibration", {"name": "loom", "ambient_c": 105.0, "vibration": True}),
        (
            "bay, 85 C, wet, vibration, fuel",
            {"name": "bay", "ambient_c": 85.0, "wet": True, "vibration": True, "fluids": "fuel"},
        ),
        ("mast −20 C salt water", {"name": "mast", "least_c": -20.0, "salt": True, "wet": True}),
        ("ice room -25 C", {"name": "ice room", "ambient_c": -25.0, "least_c": -25.0}),
        ("deck 140 F in the sun", {"name": "deck", "ambient_c": 60.0, "radiant_w_per_m2": SUN_W_PER_M2}),
        ("sump oil and brake fluid 90C", {"name": "sump", "ambient_c": 90.0, "fluids": "oil, brake fluid"}),
        ("keel under water", {"name": "keel", "immersed": True}),
        ("wing 35 C wood noisy", {"name": "wing", "ambient_c": 35.0, "no_structure": True, "noisy": True}),
        ("tail dry", {"name": "tail"}),
        ("hold 2 55 C", {"name": "hold 2", "ambient_c": 55.0}),
        ("wet locker 30 C", {"name": "wet locker", "ambient_c": 30.0, "wet": True}),
        ("engine space 60 C", {"name": "engine space", "ambient_c": 60.0, "engine_space": True}),
        ("under seat 40 C", {"name": "under seat"}),
        ("mast -20 C to 60 C", {"name": "mast", "least_c": -20.0, "ambient_c": 60.0}),
        ("bay, -40 to 85 °C, dust", {"name": "bay", "least_c": -40.0, "ambient_c": 85.0, "dust": True}),
        (
            "hut 30 C down to -25 C rubbing",
            {"name": "hut", "ambient_c": 30.0, "least_c": -25.0, "abrasion": True},
        ),
        (
            "keel under water 2 m 90 min",
            {"name": "keel", "immersed": True, "immersed_m": 2.0, "immersed_min": 90.0},
        ),
        ("arm 50 C flex washed down", {"name": "arm", "ambient_c": 50.0, "flex": True, "jets": True}),
    ],
)
def test_a_zone_is_what_is_said_of_it(text, fields):
    assert said(text) == fields


@pytest.mark.parametrize(
    ("text", "word"),
    [
        ("bay 85 C wett", "wett"),
        ("bay 85 C, wet, sticky", "sticky"),
        ("bay 85 C 90 C", "two temperatures"),
        ("keel 2 m wet", "under water"),
        ("mast 60 C to 20 C", "coldest is warmer"),
        ("bay 85 C lemonade", "lemonade"),
        ("", "has a name"),
        ("85 C", "has a name"),
    ],
)
def test_a_word_that_is_not_understood_is_named(text, word):
    with pytest.raises(LineError, match=word):
        read_zone(text, FLUIDS)


PIECES = "bay,wet,salt,85 C,85C,fuel,oil,and,under water,sticky,-40,vibration,in the sun,2,F"
WORDS = st.sampled_from([*PIECES.split(","), ","])


@given(st.lists(WORDS, max_size=8).map(" ".join))
def test_no_word_vanishes(text):
    """Whatever stands after the name comes back as a field, or is refused."""
    try:
        zone = read_zone(text, FLUIDS)
    except LineError:
        return
    left = set(text.replace(",", " ").split()) - set(str(zone["name"]).split()) - {"and", "with"}
    if "wet" in left:
        assert zone["wet"]
    if "salt" in left:
        assert zone["salt"]
    if "vibration" in left:
        assert zone["vibration"]
    if "sun" in left:
        assert zone["radiant_w_per_m2"] == SUN_W_PER_M2
    for fluid in ("fuel", "oil"):
        if fluid in left:
            assert fluid in zone["fluids"].split(", ")
    assert "sticky" not in left


def test_the_act_puts_it_in_and_the_wire_there_is_judged_by_it(pump):
    builder: HarnessBuilder = pump
    builder._act("zone", "exhaust 190 C wet")
    zone = builder.plain["brief"]["zones"]["exhaust"]
    assert (zone["ambient_c"], zone["wet"]) == (190.0, True)
    for branch in builder.plain["route"]["branches"].values():
        branch["zone"] = "exhaust"
    assert "zone-too-hot" in builder.codes() or any("hot" in c or "rating" in c for c in builder.codes())


def zoned(line: str, wire: str | None = None) -> HarnessBuilder:
    builder = (
        HarnessBuilder("vehicle").feed("B1 battery > F1 fuse > M1 pump 5 A > B1").run("B1 100 > F1 900 > M1")
    )
    builder._act("zone", line)
    for branch in builder.plain["route"]["branches"].values():
        branch["zone"] = next(iter(builder.plain["brief"]["zones"]))
    return builder.set("wire/family", wire) if wire else builder


@pytest.mark.parametrize(
    ("line", "wire", "set_off"),
    [
        # TXL stands -40 °C, AS22759 -65 °C (SAE J1128 and AS22759, from memory); 22759/16 is general wire.
        ("yard -40 to 30 C", "J1128-TXL", False),
        ("yard -41 to 30 C", "J1128-TXL", True),
        ("yard -60 to 30 C", "AS22759/16", False),
        ("yard 30 C", "PVC-GENERAL", False),
    ],
)
def test_wire_is_held_to_the_coldest_of_its_zones(line, wire, set_off):
    cold = [f for f in zoned(line, wire).evaluate().findings if f.code == "zone-too-cold" and wire in f.what]
    assert bool(cold) == set_off


@pytest.mark.parametrize(
    ("line", "code", "set_off"),
    [
        # IPX7 is up to 1 m for half an hour (IEC 60529, from memory): SR16 is IP67.
        ("keel under water", "not-tight-enough", False),
        ("keel under water 1 m 30 min", "not-tight-enough", False),
        ("keel under water 1.1 m", "not-tight-enough", True),
        ("keel under water 31 min", "not-tight-enough", True),
        ("hut -40 to 20 C", "zone-too-cold", False),
        ("hut -42 to 20 C", "zone-too-cold", True),
    ],
)
def test_connectors_are_held_to_depth_time_and_cold(line, code, set_off):
    found = [f for f in zoned(line).evaluate().findings if f.code == code and f.what.startswith("M1 ")]
    assert bool(found) == set_off


def test_dust_asks_for_a_class_and_rubbing_for_a_wall():
    dusty = zoned("mill dust")
    dusty.set("ends/connectors/M1/family", "LN21")
    assert any(f.code == "not-tight-enough" and "dust" in f.what for f in dusty.evaluate().findings)
    assert "rubs-on-thin-wall" in zoned("sill rubbing", "J1128-TXL").codes()
    assert "rubs-on-thin-wall" not in zoned("sill rubbing", "J1128-SXL").codes()
    assert "rubs-on-thin-wall" not in zoned("sill", "J1128-TXL").codes()


def test_what_is_so_in_a_zone_is_typed_anew_as_a_whole():
    builder = zoned("bay 85 C wet dust fuel")
    builder._act_about("zone_is", "under water 2 m, vibration, oil", "bay")
    zone = builder.plain["brief"]["zones"]["bay"]
    assert (zone["ambient_c"], zone["wet"], zone["dust"], zone["fluids"]) == (85.0, False, False, "oil")
    assert (zone["immersed"], zone["immersed_m"], zone["vibration"]) == (True, 2.0, True)
    builder._act_about("zone_is", "dry", "bay")
    assert not any(builder.plain["brief"]["zones"]["bay"].get(f) for f in SAID_OF_ZONES)
    with pytest.raises(LineError, match="sticky"):
        builder._act_about("zone_is", "sticky", "bay")


@pytest.mark.parametrize(
    ("line", "length_mm", "slack_mm"),
    [
        ("B1 400 in oven > M1", 400.0, None),
        ("B1 400 in the Oven > M1", 400.0, None),
        ("B1 400 mm slack 50 in oven > M1", 400.0, 50.0),
        ("B1 12 in > M1", 304.8, None),
        ("B1 12 in in oven > M1", 304.8, None),
        ("B1 12 in slack 2 in > M1", 304.8, 50.8),
    ],
)
def test_in_before_a_zone_is_no_inch(line, length_mm, slack_mm):
    builder = HarnessBuilder("vehicle")
    builder._act("zone", "Oven, 90 C")
    builder.run(line)
    (branch,) = builder.plain["route"]["branches"].values()
    assert branch["length_mm"] == pytest.approx(length_mm)
    assert branch["slack_mm"] == (pytest.approx(slack_mm) if slack_mm is not None else None)
    assert branch["zone"] == ("oven" if "oven" in line.lower() else None)


def test_a_run_says_its_edges_clamps_and_covers_and_is_written_back(catalogue):
    from inkthread.core.text import read_text, write_text

    lines = (
        "[brief]\npractice vehicle\n[route]\n"
        "B1 400 held every 250 > hole grommet 20 mm 300 kept apart 120 sheathed"
        " > wall bare hole 15 mm 90 enclosed > M1\n"
    )
    read = read_text(lines, catalogue)
    assert read.problems == ()
    points, branches = read.document["route"]["points"], list(read.document["route"]["branches"].values())
    assert (points["hole"]["edge"], points["wall"]["edge"]) == ("grommet", "bare metal")
    assert (points["hole"]["opening_mm"], points["wall"]["opening_mm"]) == (20, 15)
    assert branches[0]["support_mm"] == 250
    assert (branches[1]["apart_mm"], branches[1]["sheath"], branches[2]["sheath"]) == (
        120,
        "sheath",
        "enclosure",
    )
    again = read_text(write_text(read.document, catalogue), catalogue)
    assert again.document["route"] == read.document["route"]
