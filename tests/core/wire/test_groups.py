"""Pairs, shields and cables: carried through connectors, landed by rule, cut in one piece, billed once."""

from __future__ import annotations

import pytest

from inkthread.core.ends.pairs import neighbours
from tests.conftest import HarnessBuilder

ROLES = {"S": "signal", "R": "sensor_return", "D": "drain"}


def shielded(**groups: dict[str, object]) -> HarnessBuilder:
    """A sensor pair in shielded cable from a controller, through a bulkhead connector, shield and all."""
    builder = HarnessBuilder("vehicle").feed("B1 battery > F1 fuse > A1 controller 1 A > B1")
    builder.feed("J1 bulkhead connector", "T9 mystery pickup")
    builder.run("B1 100 > F1 300 > A1 600 > J1 500 > T9")
    for device, pins in (
        ("A1", {f"c{k}": r for k, r in ROLES.items()}),
        ("J1", {f"{side}{k}": "signal" for side in "ab" for k in ROLES}),
        ("T9", {f"c{k}": r for k, r in ROLES.items()}),
    ):
        entry = builder.plain["circuits"]["devices"][device]
        if device != "A1":
            entry["pins"], entry["paths"] = {}, {}
            for ref in [r for r in builder.plain["ends"]["pinout"] if r.startswith(f"{device}.")]:
                del builder.plain["ends"]["pinout"][ref]
        for n, (pin, role) in enumerate(pins.items(), 20):
            entry["pins"][pin] = {"order": n, "role": role, "name": ""}
            connector = f"{device}x{pin[0]}"
            builder.set(
                f"ends/connectors/{connector}",
                {"order": 50, "family": "SR16", "ways": 4, "shell": "plug", "point": device},
            )
            cavity = str("SRD".index(pin[1]) + 1)
            builder.set(f"ends/pinout/{device}.{pin}", {"order": n, "connector": connector, "cavity": cavity})
        if device != "A1":
            connectors = builder.plain["ends"]["connectors"]
            for half in [c for c in connectors if c in (device, f"{device}a", f"{device}b")]:
                del connectors[half]
    for k in ROLES:
        builder.set(
            f"circuits/devices/J1/paths/{k}",
            {"order": 1, "from_pin": f"a{k}", "to_pin": f"b{k}", "kind": "link"},
        )
        builder.set(f"circuits/circuits/{k}1", joins(f"A1.c{k}", f"J1.a{k}"))
        builder.set(f"circuits/circuits/{k}2", joins(f"J1.b{k}", f"T9.c{k}"))
    for n, name in enumerate(("tub", "bay"), 1):
        group = {
            "order": n,
            "kind": "shielded pair",
            "name": f"{name} pair",
            "members": {f"S{n}": {"order": 1}, f"R{n}": {"order": 2}},
            "shield": f"D{n}",
            "shield_rule": "one end",
            "family": "SHIELDED-PAIR",
        }
        builder.set(f"circuits/groups/{name}", {**group, **groups.get(name, {})})
    return builder


def joins(*ends: str) -> dict[str, object]:
    return {"order": 90, "name": "", "ends": {e: {"order": n} for n, e in enumerate(ends)}}


SHIELDS = ("shield-broken", "shield-landing", "shield-missing", "cable-too-few-cores")


def about_shields(builder: HarnessBuilder) -> list[tuple[str, str]]:
    return [(f.code, f.what) for f in builder.evaluate().findings if f.code in SHIELDS]


def test_a_shield_carried_through_and_landed_once_is_sound():
    assert about_shields(shielded()) == []


def test_a_shield_not_carried_over_the_bulkhead_is_found():
    builder = shielded()
    del builder.plain["circuits"]["devices"]["J1"]["paths"]["D"]
    codes = dict(about_shields(builder))
    assert "J1" in codes["shield-broken"]
    assert "is not carried over" in codes["shield-broken"]


def test_a_pair_that_goes_on_without_a_shield_is_found():
    builder = shielded()
    del builder.plain["circuits"]["groups"]["bay"]
    assert "ends there" in dict(about_shields(builder))["shield-broken"]


@pytest.mark.parametrize(
    ("rule", "sensor_grounded", "sound"),
    [
        ("one end", False, True),
        ("one end", True, False),
        ("both ends", False, False),
        ("both ends", True, True),
        ("each section", False, False),
    ],
)
def test_a_shield_is_grounded_where_its_rule_says(rule, sensor_grounded, sound):
    """One point for low frequencies and J1939-11, both ends for radio, else section by section."""
    builder = shielded(tub={"shield_rule": rule}, bay={"shield_rule": rule})
    if sensor_grounded:
        builder.set("circuits/devices/T9/pins/g", {"order": 99, "role": "ground", "name": ""})
    assert ("shield-landing" not in dict(about_shields(builder))) == sound


def test_a_cable_is_cut_in_one_piece_and_billed_once():
    builder = shielded()
    w = builder.workings()
    e = w.evaluation
    tub = next(c for c in e.cut.cables if c.group == "tub")
    assert {e.wire.wires[x].circuit for x in tub.wires} == {"S1", "R1"}
    assert e.wire.wires[tub.shield].circuit == "D1"
    cores = [c for c in e.cut.cuts if c.cable == tub.id]
    assert {c.cut_mm for c in cores} == {tub.cut_mm}
    assert tub.cut_mm >= max(c.finished_mm for c in cores)
    line = next(x for x in e.parts.lines if x.group == "wire" and x.code.startswith("SHIELDED-PAIR"))
    assert line.quantity == pytest.approx(sum(c.cut_mm for c in e.cut.cables) / 1000)
    size = w.wire.size(tub.wires[0])
    assert line.mass_g == pytest.approx(line.quantity * size.mass_g_per_m * 2, abs=2e-3)
    singles = sum(c.cut_mm for c in e.cut.cuts if not c.cable) / 1000
    assert e.tally.metres == pytest.approx(singles + line.quantity, abs=2e-3)


def test_cores_left_over_are_bought_with_the_rest():
    """A circuit alone in a two-core cable: the cable is bought whole."""
    builder = shielded(tub={"members": {"S1": {"order": 1}}})
    e = builder.evaluate()
    tub = next(c for c in e.cut.cables if c.group == "tub")
    bay = next(c for c in e.cut.cables if c.group == "bay")
    assert (len(tub.wires), tub.cores) == (1, 2)
    assert tub.mass_g / tub.cut_mm == pytest.approx(bay.mass_g / bay.cut_mm, rel=1e-4)


def test_a_piece_of_cable_weighs_as_much_as_its_cores():
    w = shielded().workings()
    for cable in w.evaluation.cut.cables:
        assert cable.id == cable.group, "one piece of each: no number"
        grams = cable.cut_mm / 1000 * w.wire.size(cable.wires[0]).mass_g_per_m
        assert cable.mass_g == pytest.approx(2 * grams, abs=2e-3)
        held = {c.wire: c for c in w.evaluation.cut.cuts if c.cable == cable.id}
        assert set(held) == {*cable.wires, cable.shield}
        assert held[cable.shield].mass_g == 0, "the braid is weighed with the cable"
        assert all(held[x].mass_g == pytest.approx(grams, abs=5.1e-3) for x in cable.wires)


def test_a_circuit_that_runs_twice_between_two_places_makes_two_pieces():
    """The signal goes on to a second pin of the same device: two cores, in a cable each."""
    builder = shielded()
    builder.set("circuits/devices/J1/pins/aS2", {"order": 40, "role": "signal", "name": ""})
    builder.set("ends/pinout/J1.aS2", {"order": 40, "connector": "J1xa", "cavity": "4"})
    builder.set("circuits/circuits/S1/ends/J1.aS2", {"order": 9})
    builder.plain["circuits"]["circuits"]["S1"].update(threading="home runs", hub="A1")
    e = builder.evaluate()
    pieces = {c.id: c for c in e.cut.cables if c.group == "tub"}
    assert set(pieces) == {"tub", "tub/2"}
    assert [len(pieces[k].wires) for k in ("tub", "tub/2")] == [2, 1]
    assert pieces["tub"].shield is not None
    assert pieces["tub/2"].shield is None, "one drain, in the first"
    assert pieces["tub"].cores == pieces["tub/2"].cores == 2
    assert pieces["tub"].cut_mm == pieces["tub/2"].cut_mm


def test_only_a_shielded_cable_holds_the_shield():
    """A drain beside a twisted pair without a braid is a wire of its own, cut and weighed as one."""
    e = shielded(tub={"family": "TWISTED-PAIR"}).evaluate()
    tub = next(c for c in e.cut.cables if c.group == "tub")
    assert tub.shield is None
    (drain,) = [c for c in e.cut.cuts if e.wire.wires[c.wire].circuit == "D1"]
    assert drain.cable == ""
    assert drain.mass_g > 0


def test_the_shield_of_a_cable_takes_no_room_of_its_own_in_the_bundle():
    with_shield = shielded().evaluate()
    builder = shielded(tub={"shield": None}, bay={"shield": None})
    for k in ("D1", "D2"):
        del builder.plain["circuits"]["circuits"][k]
    without = builder.evaluate()
    for branch, seen in without.dress.bundles.items():
        assert with_shield.dress.bundles[branch].tight_mm == seen.tight_mm


@pytest.mark.parametrize(("cavity", "split"), [("2", False), ("4", True)])
def test_a_pair_keeps_together_in_its_connectors(cavity, split):
    """Way one of four in a row, its partner beside it or at the far end."""
    builder = shielded()
    entry = builder.plain["ends"]["pinout"]["A1.cR"]
    builder.set("ends/connectors/A1xc/family", "SS15").set("ends/connectors/A1xc/ways", 4)
    taken = {e["cavity"]: r for r, e in builder.plain["ends"]["pinout"].items() if e["connector"] == "A1xc"}
    if cavity in taken and taken[cavity] != "A1.cR":
        builder.plain["ends"]["pinout"][taken[cavity]]["cavity"] = entry["cavity"]
    entry["cavity"] = cavity
    found = [f for f in builder.evaluate().findings if f.code == "pair-split" and "A1xc" in f.what]
    assert bool(found) == split


def test_neighbours_are_by_the_face_not_by_the_number(catalogue):
    """Six ways in two rows of three: 4 lies below 1, and 4 beside 3 in number only."""
    six = catalogue.connectors["SR16"].housing(6)
    assert neighbours(six, "1", "2")
    assert neighbours(six, "1", "4")
    assert neighbours(six, "1", "5"), "slantwise"
    assert not neighbours(six, "1", "3")
    assert not neighbours(six, "3", "4")


def test_a_pair_over_two_connectors_of_one_device_is_split():
    builder = shielded()
    assert "pair-split" not in builder.codes()
    other = {**builder.plain["ends"]["connectors"]["A1xc"], "ways": 2}
    builder.set("ends/connectors/A1y", other).set("ends/pinout/A1.cR/connector", "A1y")
    builder.set("ends/pinout/A1.cR/cavity", "1")
    (what,) = [f.what for f in builder.evaluate().findings if f.code == "pair-split"]
    assert "A1xc" in what
    assert "A1y" in what


def test_a_backshell_lands_a_shield_where_a_pin_would():
    both = {"shield_rule": "both ends"}
    builder = shielded(bay=both, tub=both)
    assert "shield-landing" in builder.codes()
    builder.set("ends/connectors/T9xc/shield", "D2")
    assert "shield-landing" not in builder.codes()
