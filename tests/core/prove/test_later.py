"""When it fails later: causes found again from volts that a nodal solution gives, and what is typed."""

from __future__ import annotations

import numpy as np
import pytest

from inkthread.core.prove import BadComplaint, expected_volts, failed_later, read_complaint
from tests.conftest import HarnessBuilder


def lamps() -> HarnessBuilder:
    """Two lamps behind fuses of their own, one battery, returns joined in a splice."""
    builder = (
        HarnessBuilder("vehicle")
        .feed("B1 battery > F1 fuse > E1 lamp 2 A > B1", "B1 > F2 fuse > E2 lamp 3 A > B1")
        .run("B1 200 > F1 1500 > mid 400 > E1", "F1 100 > F2", "mid 300 > E2")
    )
    for load in builder.plain["circuits"]["loads"].values():
        load["kind"] = "resistive"
    return builder


W = lamps().workings()
SHEET = expected_volts(W.rooms, W.circuits)
PLACES = {row.place for row in SHEET.rows}
FUSE_OUT = next(loop for loop in W.circuits.loops if loop.device == "E1").feed[1].from_pin
SYMPTOMS = W.catalogue.proofs.later.symptoms


def ask(text: str, w=W):
    return failed_later(w.rooms, w.circuits, read_complaint(text, w.document, PLACES, SYMPTOMS))


def volts_by_hand(extra_ohm: float) -> dict[str, float]:
    """A nodal solution of both lamps with so much more in E1's own feed: conductances from the wires'
    resistances, lamps as resistors of rated volts over rated amperes.
    """
    tables = W.wire.tables
    nodes: dict[str, int] = {}

    def node(name: str) -> int:
        return nodes.setdefault(name, len(nodes))

    edges: list[tuple[int, int, float]] = []
    for key, section in W.route.sections.items():
        a, b = (
            end.id if end.kind == "pin" else f"{section.circuit} {end.id}" for end in (section.a, section.b)
        )
        ohm = float(tables.row_ohm[tables.at[key]])
        if section.circuit == W.circuits.circuit_of["E1.+"]:
            ohm += extra_ohm
        edges.append((node(a), node(b), ohm))
    for device_id, device in W.document.circuits.devices.items():
        for path in device.paths.values():
            name = f"{device_id}.{path.from_pin}", f"{device_id}.{path.to_pin}"
            row = tables.flow.sections + tables.flow.inner.index(f"{device_id}.{next(iter(device.paths))}")
            edges.append((node(name[0]), node(name[1]), max(float(tables.row_ohm[row]), 1e-9)))
    for loop in W.circuits.loops:
        edges.append((node(loop.feed[-1].to_pin), node(loop.back[0].from_pin), loop.rated_v / loop.current_a))
    count = len(nodes)
    g = np.zeros((count, count))
    for a, b, ohm in edges:
        g[a, a] += 1 / ohm
        g[b, b] += 1 / ohm
        g[a, b] -= 1 / ohm
        g[b, a] -= 1 / ohm
    known = {nodes["B1.+"]: W.circuits.loops[0].supply_v, nodes["B1.-"]: 0.0}
    free = [n for n in range(count) if n not in known]
    fixed = list(known)
    right = -g[np.ix_(free, fixed)] @ np.array([known[n] for n in fixed])
    solved = np.linalg.solve(g[np.ix_(free, free)], right)
    at = dict(zip(free, solved, strict=True)) | known
    return {name: float(at[n]) for name, n in nodes.items()}


def place_of(pin: str) -> str:
    entry = W.document.ends.pinout[pin]
    return f"{entry.connector}-{entry.cavity}"


def test_by_hand_nothing_added_is_what_the_sheet_expects():
    by_hand = volts_by_hand(0.0)
    shown = {row.place: row.volts[0] for row in SHEET.rows}
    for pin in ("E1.+", "E1.-", "E2.+"):
        assert shown[place_of(pin)] == pytest.approx(by_hand[pin], abs=0.01)


@pytest.mark.parametrize("extra_ohm", [0.5, 1.5, 4.0])
def test_a_wire_that_has_grown_poor_is_named_with_its_resistance(extra_ohm):
    """Volts before and behind it part it from everything else."""
    by_hand = volts_by_hand(extra_ohm)
    text = f"E1 dim, {by_hand['E1.+']:.2f} V at {place_of('E1.+')}, {by_hand[FUSE_OUT]:.2f} V at {place_of(FUSE_OUT)}"
    later = ask(text)
    first = later.causes[0]
    assert later.explained
    assert W.wire.wires[first.wire].circuit == W.circuits.circuit_of["E1.+"]
    assert first.share > (0.8 if extra_ohm > 1 else 0.4)
    assert first.ohm == pytest.approx(extra_ohm, rel=0.2)


def test_what_two_lamps_share_is_left_out_where_one_works():
    shared = [c for c in ask("E1 dead; E2 works").causes if "B1" in c.words]
    assert shared == []
    both = ask("E1 dead; E2 dead").causes
    assert all(c.sort not in ("fuse", "load") and place_of("E1.+") not in c.words for c in both)
    assert any("B1" in c.words for c in both)


def test_a_dead_lamp_speaks_first_of_its_fuse_and_itself_a_dim_one_of_a_poor_joint():
    """Common practice, no source: look at the fuse and the lamp before a connector is opened."""
    dead, dim, moving = (ask(f"E1 {word}").causes for word in ("dead", "dim", "comes and goes"))
    assert {dead[0].sort, dead[1].sort} == {"fuse", "load"}
    assert dead[0].ohm is None
    assert all(c.sort not in ("fuse", "load") for c in (dim[0], moving[0]))


def test_a_fuse_in_a_block_is_named_by_the_way_that_it_feeds():
    block = HarnessBuilder("vehicle").feed(
        "B1 battery > F1 fuse block > E1 lamp 2 A > B1", "F1 > E2 lamp 3 A > B1"
    )
    w = block.run("B1 200 > F1 1500 > mid 400 > E1", "mid 300 > E2").workings()
    later = failed_later(w.rooms, w.circuits, read_complaint("E2 dead", w.document, set(), SYMPTOMS))
    assert next(c.words for c in later.causes if c.sort == "fuse").startswith(
        "Fuse F1 fuse block out2: blown"
    )
    assert [fuse.called for fuse in w.circuits.fuses.values()] == ["F1 fuse block out1", "F1 fuse block out2"]
    assert [fuse.called for fuse in W.circuits.fuses.values()] == ["F1 fuse", "F2 fuse"]


def test_the_next_measurement_parts_the_likeliest():
    """Its volts for the first cause and for the other lie apart by more than the meter is unsure."""
    later = ask("E1 dim")
    assert "Measure at " in later.next
    place = later.next.split("Measure at ")[1].split(" ")[0]
    assert place in PLACES


def test_a_lamp_that_has_its_volts_and_does_nothing_has_itself_failed():
    normal = {row.place: row.volts[0] for row in SHEET.rows}
    plus, minus = place_of("E1.+"), place_of("E1.-")
    later = ask(f"E1 dead, {normal[plus]:.2f} V at {plus}, {normal[minus]:.2f} V at {minus}; E2 works")
    assert later.causes[0].sort == "load" or "E1" in later.causes[0].words
    assert {"load"} & {c.sort for c in later.causes[:3]}


def test_an_open_return_floats_up_to_the_supply():
    minus = place_of("E1.-")
    later = ask(f"E1 dead, {W.circuits.loops[0].supply_v} V at {minus}")
    first = later.causes[0]
    assert first.ohm is None or first.ohm > 50
    assert first.wire == "" or W.wire.wires[first.wire].circuit == W.circuits.circuit_of["E1.-"]


def test_readings_that_nothing_explains_are_said_to_be():
    plus, fuse = place_of("E1.+"), place_of(FUSE_OUT)
    later = ask(f"E1 dead, 13 V at {plus}, 2 V at {fuse}, 7 V at {place_of('E1.-')}")
    assert not later.explained
    assert later.causes == ()
    assert "two faults" in later.next


def test_what_comes_and_goes_is_sought_where_it_shakes():
    builder = lamps()
    zone = {"order": 1, "name": "frame", "ambient_c": 30.0, "vibration": True}
    builder.plain["brief"].setdefault("zones", {})["shaky"] = zone
    branch = next(
        k for k, b in builder.plain["route"]["branches"].items() if "E1" in (b["to_point"], b["from_point"])
    )
    builder.plain["route"]["branches"][branch]["zone"] = "shaky"
    w = builder.workings()
    still, moving = (
        {c.words: c.share for c in ask(f"E1 {how}", w).causes} for how in ("dim", "comes and goes")
    )
    at = next(words for words in moving if place_of("E1.+") in words and "meets" in words)
    assert moving[at] > still.get(at, 0.0)


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("", "Say what fails"),
        ("E1 purple", "not understood"),
        ("E9 dim", "no device 'E9'"),
        ("lamp dim", "may be E1"),
        ("dim", "no device ''"),
        ("9.8 V at E9-1", "no place 'E9-1'"),
        ("9.8.1 V at E1-1", "no figure"),
    ],
)
def test_what_is_not_understood_is_named(text, says):
    with pytest.raises(BadComplaint, match=says):
        ask(text)


def test_a_comma_decimal_is_a_figure_and_one_reading_alone_names_its_circuit():
    assert ask(f"9,8 V at {place_of('E1.+')}").load == next(
        loop.load for loop in W.circuits.loops if loop.device == "E1"
    )


def test_it_is_judged_in_the_mode_in_which_it_runs():
    builder = lamps()
    for n, name in enumerate(("parked", "night")):
        builder.plain["circuits"].setdefault("modes", {})[name] = {"order": n + 1, "name": name}
    for load in builder.plain["circuits"]["loads"].values():
        load["modes"] = {"parked": {"order": 1, "percent": 0.0}, "night": {"order": 2, "percent": 100.0}}
    w = builder.workings()
    complaint = read_complaint(f"E1 dim, 11 V at {place_of('E1.+')}", w.document, PLACES, SYMPTOMS)
    named = failed_later(w.rooms, w.circuits, complaint, w.circuits.modes.index("night"))
    assert failed_later(w.rooms, w.circuits, complaint) == named
    with pytest.raises(BadComplaint, match="does not run"):
        failed_later(w.rooms, w.circuits, complaint, w.circuits.modes.index("parked"))
