"""A cable is one piece: cores of one gauge, coloured, cut, bought and finished together."""

from __future__ import annotations

import pytest

from tests.conftest import Bench


def probe(*order: str, family: str = "JACKETED-4", amps: float = 0.1, end: str = "SR16") -> Bench:
    """A heated probe at the end of a cable: feed, return, signal and signal return, grouped in an order."""
    bench = Bench("equipment").feed(
        f"G1 power supply 5 A > F1 fuse > T1 lambda sensor ({end}) {amps} A > G1",
        "A1 controller 0.1 A",
        "A1.I1 > T1.1/2 > A1.N1",
        "G1 > A1 > G1",
    )
    bench.run("A1 6000 > T1")
    # All of it in one box.
    bench._act("connector", "G1 at A1\nF1 at A1")
    circuits = bench.plain["circuits"]["circuits"]
    named = {ref: c for c, x in circuits.items() for ref in x["ends"] if ref.startswith("T1.")}
    members = [named[f"T1.{pin}"] for pin in order or ("H", "h", "1", "2")]
    return bench.set(
        "circuits/groups/probe",
        {
            "order": 1,
            "kind": "cable",
            "name": "",
            "family": family,
            "members": {c: {"order": n} for n, c in enumerate(members)},
        },
    )


def test_all_cores_are_of_the_gauge_that_the_fullest_needs():
    """4.5 A over 6 m and back at 24 V wants more copper than a signal: the cable is bought in one gauge."""
    thin, thick = probe(amps=0.05).evaluate(), probe(amps=4.5).evaluate()
    for found in (thin, thick):
        cores = [w for w in found.wire.wires.values() if w.cable == "probe"]
        assert len(cores) >= 3
        assert len({w.gauge for w in cores}) == 1
        (piece,) = found.cut.cables
        assert piece.part == f"JACKETED-4 {cores[0].gauge}"
        bought = [x for x in found.parts.lines if x.code.startswith("JACKETED-4")]
        assert [x.code for x in bought] == [piece.part]
    areas = [min(w.area_mm2 for w in x.wire.wires.values() if w.cable == "probe") for x in (thin, thick)]
    assert areas[1] > areas[0]


def test_a_core_that_is_fixed_fixes_its_cable():
    bench = probe()
    key = next(k for k, w in bench.evaluate().wire.wires.items() if w.cable == "probe")
    bench.set(f"wire/fixed/{key}", {"order": 1, "reason": "on the shelf", "gauge": "18 AWG"})
    cores = [w for w in bench.evaluate().wire.wires.values() if w.cable == "probe"]
    assert {w.gauge for w in cores} == {"18 AWG"}


@pytest.mark.parametrize("order", [("H", "h", "1", "2"), ("2", "1", "h", "H"), ("1", "H", "2", "h")])
def test_cores_at_a_four_way_m12_have_the_colours_of_its_ways(order):
    """IEC 60947-5-2, from memory: 1 brown, 2 white, 3 blue, 4 black, whatever the order of grouping."""
    bench = probe(*order, end="M12S")
    found = bench.evaluate()
    standard = {"1": "BN", "2": "WH", "3": "BU", "4": "BK"}
    wires = found.wire.wires
    cavities = found.ends.connectors["T1"].cavities
    by_way = {c.cavity: wires[c.wire].colour for c in cavities if c.wire}
    assert by_way == {way: standard[way] for way in by_way}
    assert len(by_way) == 4


def test_a_core_that_is_no_wire_is_named():
    found = probe("H", "1", "2", end="M12S").evaluate()
    (piece,) = found.cut.cables
    assert (piece.cores, len(piece.wires), len(piece.unused)) == (4, 3, 1)
    used = {found.wire.wires[w].colour for w in piece.wires}
    assert not used & set(piece.unused)


def test_what_goes_on_alone_from_a_cable_is_wire():
    """The feed branches behind the cable's end: what goes on is no cable of one core."""
    bench = probe().feed("F1 > E1 lamp 0.2 A > G1").run("T1 700 > E1")
    found = bench.evaluate()
    onward = [w for w in found.wire.wires.values() if "E1" in w.from_text + w.to_text]
    assert onward
    assert {(w.family, w.cable) for w in onward} == {(found.brief.family, None)}


def test_cores_that_leave_for_different_places_are_asked_about():
    bench = probe()
    bench._act("connector", "F1 at T1")
    codes = {f.code for f in bench.evaluate().findings}
    assert "cable-parts-ways" in codes
    assert "cable-parts-ways" not in probe().codes()


def test_a_cable_with_a_part_is_taken_where_none_is_named():
    bench = probe()
    bench.plain["circuits"]["groups"]["probe"]["family"] = None
    (finding,) = [f for f in bench.evaluate().findings if f.code == "cable-without-part"]
    (operation,) = finding.remedies[0].operations
    bench.plain["circuits"]["groups"]["probe"]["family"] = operation["value"]
    found = bench.evaluate()
    assert "cable-without-part" not in {f.code for f in found.findings}
    assert len(found.cut.cables) == 1


@pytest.mark.parametrize(
    ("zone", "family"), [("oven 110 C", "JACKETED-4-125"), ("shop 80 C", "JACKETED-4-OIL")]
)
def test_there_are_jackets_for_heat_and_for_oil(zone, family):
    bench = probe(family=family)
    bench._act("zone", zone)
    for branch in bench.plain["route"]["branches"].values():
        branch["zone"] = zone.split()[0]
    hot = [f.what for f in bench.evaluate().findings if f.code == "zone-too-hot"]
    assert not any(family in what for what in hot)


def lamps(first_mm: int = 4000, other_mm: int = 4200) -> Bench:
    """Two lamps of one kind at about one distance, on one fuse."""
    bench = Bench("vehicle").feed("B1 battery > F1 fuse > E1 lamp 4 A > B1", "F1 > E2 lamp 4 A > B1")
    return bench.run(f"B1 80 > F1 300 > mid {first_mm} > E1", f"mid {other_mm} > E2")


def gauges(bench: Bench, device: str) -> list[str]:
    wires = bench.evaluate().wire.wires.values()
    return sorted(w.gauge for w in wires if device in f"{w.from_text} {w.to_text}")


def test_equal_loads_get_equal_wires():
    for first, other in ((4000, 4000), (4000, 4200), (3000, 3700)):
        bench = lamps(first, other)
        assert gauges(bench, "E1") == gauges(bench, "E2"), (first, other)
    # Twice as far is no equal: it may have more.
    far = lamps(2000, 6000)
    assert far.evaluate().tally.stops == 0
    # Feeds are alike and returns are alike, each by its own.
    wires = lamps().evaluate().wire.wires.values()
    for end in ("E1-1", "E1-2"):
        (one,) = [w.gauge for w in wires if end in f"{w.from_text} {w.to_text}"]
        (two,) = [w.gauge for w in wires if end.replace("E1", "E2") in f"{w.from_text} {w.to_text}"]
        assert one == two


def test_the_builder_may_let_each_have_its_own():
    bench = lamps(3000, 3700)
    bench.set("brief/house_rules", {"equal_loads": {"order": 1, "value": 0.0, "reason": "weight"}})
    assert bench.evaluate().tally.grams <= lamps(3000, 3700).evaluate().tally.grams
