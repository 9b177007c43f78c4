"""Connectors as things: typed, refitted, copied, split, renamed, taken out."""

from __future__ import annotations

import re

import pytest

from inkthread.core.circuits.new_device import HALVES
from inkthread.core.document import parse_document
from inkthread.core.document.draft import LineError
from inkthread.core.ends.grouped import grouped_plugs
from inkthread.core.ends.lines import connector_line, refit
from inkthread.core.typed.grammar import TypedError
from tests.conftest import HarnessBuilder


def connectors(builder: HarnessBuilder) -> dict[str, dict[str, object]]:
    return builder.plain["ends"]["connectors"]


def ways(builder: HarnessBuilder, connector: str) -> dict[str, str]:
    return {r: e["cavity"] for r, e in builder.plain["ends"]["pinout"].items() if e["connector"] == connector}


def controller() -> HarnessBuilder:
    builder = HarnessBuilder("motorsport").feed("B1 battery > F1 fuse > A1 controller 1 A > B1")
    return builder.run("B1 100 > F1 300 > tail rear breakout 500 > A1")


def plugs() -> HarnessBuilder:
    """A controller with three sensor plugs side by side on a panel of its own."""
    builder = HarnessBuilder("vehicle").feed("B1 battery > F1 fuse > A1 controller 1 A > B1")
    for n in (1, 2, 3):
        builder.feed(f"A1.I{n} > S{n} switch > A1.N1")
    builder.run("B1 100 > F1 300 > A1", *(f"A1 {n}00 > S{n}" for n in (4, 5, 6)))
    for n in (1, 2, 3):
        builder._act("connector", f"J{n} SS15 1 way at A1 1=A1.I{n}")
    return builder


def test_loose_plugs_are_priced_against_one_keyed_connector_and_made_one_by_a_line():
    builder = plugs()
    w = builder.workings()
    found = grouped_plugs(w.context, w.route, w.wire, "J1")
    assert (found.connectors, found.plugs) == (("J1", "J2", "J3"), 3)
    assert found.one.ways >= 3
    billed = sum(x.cost for x in w.evaluation.parts.lines if x.used_at in ("J1", "J2", "J3", "J1, J2, J3"))
    assert found.parts_cost == pytest.approx(billed, abs=0.02)
    builder._act("connector", found.line)
    held = builder.plain["ends"]["connectors"]
    assert not {"J2", "J3"} & set(held)
    assert held["J1"]["family"] == found.one.family
    at = {r: e["connector"] for r, e in builder.plain["ends"]["pinout"].items()}
    assert {at[f"A1.I{n}"] for n in (1, 2, 3)} == {"J1"}
    builder.evaluate()


def test_a_plug_that_lies_alone_is_left_alone():
    w = plugs().workings()
    assert grouped_plugs(w.context, w.route, w.wire, "S1") is None
    assert grouped_plugs(w.context, w.route, w.wire, "A1") is None


@pytest.mark.parametrize("line", ["J1 takes", "J1 takes J1", "J1 takes J9", "J1 takes J2 J9"])
def test_what_is_no_connector_is_not_taken(line):
    with pytest.raises(LineError):
        plugs()._act("connector", line)


def test_a_connector_is_typed_with_all_that_is_said_of_it():
    builder = controller()
    builder._act("connector", "J3 SR16 6 way at tail receptacle pins keyed B (rear port) panel marked red")
    assert {k: connectors(builder)["J3"][k] for k in (
        "family", "ways", "point", "shell", "contact_gender", "key", "name", "panel", "mark")} == {
        "family": "SR16", "ways": 6, "point": "tail", "shell": "receptacle", "contact_gender": "pin",
        "key": "B",
        "name": "rear port", "panel": True, "mark": "red",
    }  # fmt: skip
    parse_document(builder.plain)
    builder._act("connector", "J4 SR20 3=A1.O1 1=A1.I1")
    assert ways(builder, "J4") == {"A1.O1": "3", "A1.I1": "1"}
    # Several lines at once, all or none.
    with pytest.raises(LineError, match="Line 2"):
        builder._act("connector", "J5 SR16 2 way\nJ6 SR16 5000 way")
    assert "J5" not in connectors(builder)


@pytest.mark.parametrize(
    ("line", "said", "meant"),
    [
        ("J3 6 way at tail", "no J3 yet", "J3 6 way at tail"),
        ("J3 SR16 7 way", "is made with", None),
        ("J3 SR16 at attic", "no point 'attic'", "at attic"),
        ("J3 SR16 shiny", "'shiny' is not understood", "shiny"),
        ("J3 SR16 2 way 9=A1.B", "no way '9'", "9=A1.B"),
        ("J3 SR16 2 way 1=A1.zz", "no device pin A1.zz", "1=A1.zz"),
        ("A1 2=A1.B", "has A1.G already", "2=A1.B"),
    ],
)
def test_what_a_connector_cannot_be_is_refused_in_words(line, said, meant):
    builder = controller()
    with pytest.raises(LineError, match=said) as refused:
        connector_line(builder.plain, builder.catalogue, line)
    if meant is not None:
        assert isinstance(refused.value, TypedError)
        assert line[refused.value.start : refused.value.end] == meant


def test_another_family_keeps_what_is_on_it():
    builder = controller()
    before = ways(builder, "A1")
    builder._act("connector", "A1 SR20")
    assert ways(builder, "A1") == before
    assert connectors(builder)["A1"]["family"] == "SR20"
    # Fewer ways than pins: refused by what is made, never a phantom way.
    builder._act("connector", "A1 SR20 12 way")
    builder._act("connector", "A1 SR20 6 way")
    assert len(set(ways(builder, "A1").values())) == 5


def test_pins_without_a_place_are_taken_off_and_named():
    from inkthread.core.document.complete import whole
    from inkthread.core.document.draft import Draft

    builder = controller()
    draft = Draft(whole(builder.plain))
    left = refit(draft, builder.catalogue, "A1", "SR16", 2)
    assert left == ("A1.O1", "A1.I1", "A1.N1")
    assert {r for r, e in draft.plain["ends"]["pinout"].items() if e["connector"] == "A1"} == {"A1.B", "A1.G"}


def test_ways_with_a_meaning_take_the_pins_that_mean_it(catalogue):
    """Servo plug: signal, supply, ground; M12 four-way: 1 supply, 3 ground, 4 signal (IEC 60947-5-2)."""
    builder = HarnessBuilder("model").feed("X1 widget (servo, SS15)")
    builder._act("connector", "X1 SV3")
    housing = catalogue.connectors["SV3"].housings[0]
    pins = builder.plain["circuits"]["devices"]["X1"]["pins"]
    for ref, way in ways(builder, "X1").items():
        if way in housing.roles:
            assert housing.roles[way] == pins[ref.partition(".")[2]]["role"]
    assert "role-swapped" not in builder.codes()


def test_a_connector_is_copied_split_and_taken_out():
    builder = controller()
    builder._act_about("copy_connector", "", "A1")
    assert connectors(builder)["A1b"]["family"] == connectors(builder)["A1"]["family"]
    builder._act_about("move_pins", "A1.I1, A1.N1", "A1b")
    assert set(ways(builder, "A1b")) == {"A1.I1", "A1.N1"}
    assert set(ways(builder, "A1")) == {"A1.B", "A1.G", "A1.O1"}
    builder.set("ends/connectors/A1/meets", "A1b")
    builder._act_about("take_out_connector", "", "A1b")
    assert connectors(builder)["A1"]["meets"] is None
    assert "A1.I1" not in builder.plain["ends"]["pinout"]
    builder.evaluate()


def test_halves_are_of_opposite_shells_and_contacts_of_any_family_that_has_them(catalogue):
    made = 0
    for code, family in catalogue.connectors.items():
        if family.loose or family.group in ("fuse and relay", "ignition", "flying lead"):
            continue
        builder = HarnessBuilder("vehicle").feed("B1 battery")
        try:
            builder.feed(f"B1 > J1 joint (in-line connector, {code}) > E1 lamp 1 A > B1")
        except LineError:
            continue
        a, b = (connectors(builder)[f"J1{side}"] for side in HALVES)
        if family.genderless:
            continue
        made += 1
        assert a["shell"] != b["shell"], code
        assert a["contact_gender"] != b["contact_gender"], code
    assert made > 10


@pytest.mark.parametrize("demo", ["larkspur", "mushroom", "glider"])
def test_what_is_renamed_is_renamed_everywhere(demo):
    from inkthread.demo import demo_document

    builder = HarnessBuilder(plain=demo_document(demo))
    before = builder.evaluate()
    for what, room in (
        ("devices", "circuits"), ("connectors", "ends"), ("points", "route"), ("circuits", "circuits"),
        ("branches", "route"), ("zones", "brief"),
    ):  # fmt: skip
        for n, old in enumerate(list(builder.plain[room][what])[:12]):
            if old in builder.plain[room][what]:
                builder._act_about("rename", f"Zz{what[:2]}{n}", f"{what}/{old}")
    after = builder.evaluate()
    assert len(after.wire.wires) == len(before.wire.wires)
    # Labels are as long as the names on them.
    assert after.tally.grams == pytest.approx(before.tally.grams, rel=0.005)
    assert after.tally.metres == pytest.approx(before.tally.metres)
    assert sorted(w.gauge for w in after.wire.wires.values()) == sorted(
        w.gauge for w in before.wire.wires.values()
    )
    assert {f.code for f in after.findings} == {f.code for f in before.findings}


def test_a_renamed_device_takes_its_connector_its_place_and_its_fixed_wires_along():
    builder = controller().feed("F1 > E1 lamp 1 A > B1").run("tail 200 > E1")
    key = next(k for k in builder.evaluate().wire.wires if "A1.B" in k)
    builder.set(f"wire/fixed/{key}", {"order": 1, "reason": "one spool", "gauge": "16 AWG"})
    builder._act_about("rename", "U7", "devices/A1")
    assert "U7" in connectors(builder)
    assert connectors(builder)["U7"]["point"] == "U7"
    assert "U7" in builder.plain["circuits"]["loads"]
    assert "fixed-orphan" not in builder.codes()
    for wrong, said in (("B1", "There is B1"), ("a b", "cannot be an id"), ("", "cannot be an id")):
        with pytest.raises(LineError, match=said):
            builder._act_about("rename", wrong, "devices/U7")


def test_a_lead_is_said_by_its_ways_without_devices():
    builder = HarnessBuilder("vehicle").feed(
        "lead P1 SR16 > P2: 1 supply 5 A 12 V fuse 10 A, 2 return, 3 signal"
    )
    builder.run("P1 2 m > P2")
    near, far = (connectors(builder)[k] for k in ("P1", "P2"))
    # What stays live when it is unplugged carries the sockets.
    assert (near["contact_gender"], far["contact_gender"]) == ("pin", "socket")
    assert far["same_as"] == "P1"
    found = builder.evaluate()
    assert {round(w.carries_a, 3) for w in found.wire.wires.values()} == {5.0, 0.0}
    assert not [f for f in found.findings if f.severity != "consider"]


def test_an_adapter_maps_ways_by_their_names():
    builder = HarnessBuilder("equipment").feed(
        "lead P1 M12S > P2 SR16: 1 supply 0.1 A fuse 1 A, 3 return, 4 signal"
    )
    assert ways(builder, "P1") == {"P1.1": "1", "P1.3": "3", "P1.4": "4"}
    assert ways(builder, "P2") == {"P2.1": "1", "P2.3": "3", "P2.4": "4"}
    assert "same_as" not in connectors(builder)["P2"] or connectors(builder)["P2"]["same_as"] is None


@pytest.mark.parametrize(
    ("line", "said", "meant"),
    [
        ("lead P1 > P2: 1 supply 5 A, 2 return", "Say what it plugs in by", "P1"),
        ("lead P1 SR99 > P2: 1 supply", "no connector family SR99", "SR99"),
        ("lead P1 SR16 > P2: 1 supply 5 A", "needs one that returns", "1"),
        ("lead P1 SR16 > A1: 1 signal", "There is A1 already", "A1"),
        ("lead P1 SR16 > P2: 1 wobbly", "cannot stand here", "wobbly"),
    ],
)
def test_a_lead_that_is_not_understood_names_the_word(line, said, meant):
    from inkthread.core.circuits.statements import circuits_line

    with pytest.raises(TypedError, match=said) as refused:
        circuits_line(controller().plain, controller().catalogue, line)
    assert line[refused.value.start : refused.value.end] == meant


def test_statements_are_typed_on_the_add_line_too():
    builder = controller().feed('pin A1.X9 signal "speed"', "path A1: B to X9 link")
    assert builder.plain["circuits"]["devices"]["A1"]["pins"]["X9"]["name"] == "speed"
    # A device whose name begins with such a word is a device.
    builder.feed("load cell 20 mA", "source follower box", "pin board")
    assert len([d for d in builder.plain["circuits"]["devices"].values() if d["name"] in (
        "load cell", "source follower box", "pin board")]) == 3  # fmt: skip


def test_a_line_through_a_full_connector_that_is_not_made_larger_names_one_that_is():
    builder = HarnessBuilder("vehicle").feed(
        "B1 battery > F1 fuse block > J1 inline (COIL3) > M1 lamp 0.2 A > B1"
    )
    for n in (2, 3, 4):
        builder.feed(f"F1 > J1 > M{n} lamp 0.2 A > B1")
    assert connectors(builder)["J1a"]["ways"] == connectors(builder)["J1b"]["ways"] == 4
    with pytest.raises(LineError, match=r"J1a ([A-Z0-9]+)\.$") as refused:
        builder.feed("F1 > J1 > M5 lamp 0.2 A > B1")
    code = re.search(r"as J1a (\S+)\.$", str(refused.value))[1]
    assert max(h.ways for h in builder.catalogue.connectors[code].housings) > 4
    builder._act("connector", f"J1a {code}\nJ1b {code}")
    builder.feed("F1 > J1 > M5 lamp 0.2 A > B1")
    assert "halves-do-not-mate" not in builder.codes()


def test_a_connector_is_copied_renamed_split_and_taken_out_by_typed_lines():
    builder = controller()
    builder._act("connector", "J2 like A1 at tail marked red")
    held = connectors(builder)
    assert {k: held["J2"][k] for k in ("family", "ways", "shell", "point", "mark")} == {
        "family": held["A1"]["family"], "ways": held["A1"]["ways"], "shell": held["A1"]["shell"],
        "point": "tail", "mark": "red",
    }  # fmt: skip
    builder._act("connector", "J2 takes A1.O1 A1.I1")
    assert set(ways(builder, "J2")) == {"A1.O1", "A1.I1"}
    assert not {"A1.O1", "A1.I1"} & set(ways(builder, "A1"))
    builder._act("connector", "J2 is called rear-port")
    assert set(ways(builder, "rear-port")) == {"A1.O1", "A1.I1"}
    builder._act("connector", "take out rear-port")
    assert "rear-port" not in connectors(builder)
    assert "A1.O1" not in builder.plain["ends"]["pinout"]
    for line in ("take out Q9", "Q9 called Q8", "J7 like Q9", "A1 called F1", "A1 takes A1.zz"):
        with pytest.raises(LineError):
            builder._act("connector", line)
