"""A cable is one piece: cores of one gauge, coloured, cut, bought and finished together."""

from __future__ import annotations

import copy
import itertools

import pytest

from inkthread.catalogue import shipped_catalogue
from inkthread.core.document.draft import LineError
from tests.conftest import HarnessBuilder


def probe(*order: str, family: str = "JACKETED-4", amps: float = 0.1, end: str = "SR16") -> HarnessBuilder:
    """A heated probe at the end of a cable: feed, return, signal and signal return, grouped in an order."""
    builder = HarnessBuilder("equipment").feed(
        f"G1 power supply 5 A > F1 fuse > T1 lambda sensor ({end}) {amps} A > G1",
        "A1 controller 0.1 A",
        "A1.I1 > T1.1/2 > A1.N1",
        "G1 > A1 > G1",
    )
    builder.run("A1 6000 > T1")
    # All of it in one box.
    builder._act("connector", "G1 at A1\nF1 at A1")
    circuits = builder.plain["circuits"]["circuits"]
    named = {ref: c for c, x in circuits.items() for ref in x["ends"] if ref.startswith("T1.")}
    members = [named[f"T1.{pin}"] for pin in order or ("H", "h", "1", "2")]
    return builder.set(
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
    builder = probe()
    key = next(k for k, w in builder.evaluate().wire.wires.items() if w.cable == "probe")
    builder.set(f"wire/fixed/{key}", {"order": 1, "reason": "on the shelf", "gauge": "18 AWG"})
    cores = [w for w in builder.evaluate().wire.wires.values() if w.cable == "probe"]
    assert {w.gauge for w in cores} == {"18 AWG"}


@pytest.mark.parametrize("order", [("H", "h", "1", "2"), ("2", "1", "h", "H"), ("1", "H", "2", "h")])
def test_cores_at_a_four_way_m12_have_the_colours_of_its_ways(order):
    """IEC 60947-5-2, from memory: 1 brown, 2 white, 3 blue, 4 black, whatever the order of grouping."""
    builder = probe(*order, end="M12S")
    found = builder.evaluate()
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
    builder = probe().feed("F1 > E1 lamp 0.2 A > G1").run("T1 700 > E1")
    found = builder.evaluate()
    onward = [w for w in found.wire.wires.values() if "E1" in w.from_text + w.to_text]
    assert onward
    assert {(w.family, w.cable) for w in onward} == {(found.brief.family, None)}


def test_cores_that_leave_for_different_places_are_asked_about():
    builder = probe()
    builder._act("connector", "F1 at T1")
    codes = {f.code for f in builder.evaluate().findings}
    assert "cable-parts-ways" in codes
    assert "cable-parts-ways" not in probe().codes()


def test_a_cable_with_a_part_is_taken_where_none_is_named():
    builder = probe()
    builder.plain["circuits"]["groups"]["probe"]["family"] = None
    (finding,) = [f for f in builder.evaluate().findings if f.code == "cable-without-part"]
    (operation,) = finding.remedies[0].operations
    builder.plain["circuits"]["groups"]["probe"]["family"] = operation["value"]
    found = builder.evaluate()
    assert "cable-without-part" not in {f.code for f in found.findings}
    assert len(found.cut.cables) == 1


@pytest.mark.parametrize(
    ("zone", "family"), [("oven 110 C", "JACKETED-4-125"), ("shop 80 C", "JACKETED-4-OIL")]
)
def test_there_are_jackets_for_heat_and_for_oil(zone, family):
    builder = probe(family=family)
    builder._act("zone", zone)
    for branch in builder.plain["route"]["branches"].values():
        branch["zone"] = zone.split()[0]
    hot = [f.what for f in builder.evaluate().findings if f.code == "zone-too-hot"]
    assert not any(family in what for what in hot)


def lamps(first_mm: int = 4000, other_mm: int = 4200) -> HarnessBuilder:
    """Two lamps of one kind at about one distance, on one fuse."""
    builder = HarnessBuilder("vehicle").feed(
        "B1 battery > F1 fuse > E1 lamp 4 A > B1", "F1 > E2 lamp 4 A > B1"
    )
    return builder.run(f"B1 80 > F1 300 > mid {first_mm} > E1", f"mid {other_mm} > E2")


def gauges(builder: HarnessBuilder, device: str) -> list[str]:
    wires = builder.evaluate().wire.wires.values()
    return sorted(w.gauge for w in wires if device in f"{w.from_text} {w.to_text}")


def test_equal_loads_get_equal_wires():
    for first, other in ((4000, 4000), (4000, 4200), (3000, 3700)):
        builder = lamps(first, other)
        assert gauges(builder, "E1") == gauges(builder, "E2"), (first, other)
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
    builder = lamps(3000, 3700)
    builder.set("brief/house_rules", {"equal_loads": {"order": 1, "value": 0.0, "reason": "weight"}})
    assert builder.evaluate().tally.grams <= lamps(3000, 3700).evaluate().tally.grams


def servo(*ends: str, family: str = "SERVO-3") -> HarnessBuilder:
    """A servo on its receiver: signal first in the grouping, then return and feed."""
    builder = HarnessBuilder("vehicle").feed("B1 battery > F1 fuse 5 A > A1 controller 1 A > B1")
    builder.feed("F1 > M1 servo 1.5 A > B1", "A1.I1 > M1.s")
    builder.run("A1 300 > M1")
    builder._act("connector", "F1 at A1\nB1 at A1")
    circuits = builder.plain["circuits"]["circuits"]
    named = {ref: c for c, x in circuits.items() for ref in x["ends"] if ref.startswith("M1.")}
    pins = ends or tuple(named)
    return builder.feed(f"cable ch1: {', '.join(named[p] for p in pins)}, family {family}")


@pytest.mark.parametrize("ends", list(itertools.permutations(("M1.s", "M1.+", "M1.-"))))
def test_unequal_cores_are_as_they_are_sold(ends):
    """Two of 22 and one of 26: what carries the motor's current is 22 and the signal is 26, in any order."""
    found = servo(*ends).evaluate()
    gauges = {w.circuit: w.gauge for w in found.wire.wires.values() if w.cable == "ch1"}
    role = {c: found.circuits.circuits[c].role for c in gauges}
    assert {role[c]: g for c, g in gauges.items()} == {
        "supply": "22 AWG", "ground": "22 AWG", "signal": "26 AWG",
    }  # fmt: skip
    colours = {role[w.circuit]: w.colour for w in found.wire.wires.values() if w.cable == "ch1"}
    assert colours["signal"] == "WH"
    assert {colours["supply"], colours["ground"]} == {"RD", "BK"}
    (piece,) = found.cut.cables
    assert piece.part == "SERVO-3"
    (line,) = [x for x in found.parts.lines if x.code == "SERVO-3"]
    sizes = {s.gauge: s.mass_g_per_m for s in shipped_catalogue().wires["SERVO-3"].sizes}
    assert piece.mass_g == pytest.approx(
        piece.cut_mm / 1000 * (2 * sizes["22 AWG"] + sizes["26 AWG"]), abs=1e-3
    )
    assert line.mass_g == pytest.approx(piece.mass_g, rel=1e-3)


def test_a_core_of_an_unequal_cable_that_is_too_thin_is_said():
    builder = servo()
    assert "nothing-fits" not in builder.codes()
    builder.set("circuits/loads/M1/current_a", 14.0).shaded()
    said = [f.what for f in builder.evaluate().findings if f.code == "nothing-fits"]
    cores = [what for what in said if "SERVO-3" in what]
    assert len(cores) == 2
    assert all("22 AWG" in what for what in cores)


def test_a_gauge_that_its_core_has_not_cannot_be_fixed():
    builder = servo()
    key = next(k for k, w in builder.evaluate().wire.wires.items() if w.gauge == "26 AWG" and w.cable)
    builder.set(f"wire/fixed/{key}", {"order": 1, "reason": "on the shelf", "gauge": "22 AWG"})
    found = builder.evaluate()
    assert "fixed-unknown" in {f.code for f in found.findings}
    assert found.wire.wires[key].gauge == "26 AWG"


def test_a_ribbon_is_one_strip_whose_cores_peel_off():
    builder = HarnessBuilder("equipment").feed(
        "A1 controller 0.1 A", "A1.I1 > S1 switch > A1.N1", "A1.I2 > S2 switch > A1.N1"
    )
    builder.run("A1 400 > fork 100 > S1", "fork 250 > S2")
    signals = [c for c, x in builder.plain["circuits"]["circuits"].items() if "A1.N1" not in x["ends"]]
    builder.feed(f"cable keys: {', '.join(signals)}, family RIBBON")
    found = builder.evaluate()
    (strip,) = found.cut.cables
    assert (strip.cores, len(strip.wires)) == (2, 2)
    assert {w.colour for w in found.wire.wires.values() if w.cable == "keys"} == {"GY", "BN"}
    assert len(strip.peels) == 1
    assert "peels off after 400 mm and goes on 100 mm" in strip.peels[0]
    assert "cable-parts-ways" not in {f.code for f in found.findings}
    assert len({c.cut_mm for c in found.cut.cuts if c.cable == "keys"}) == 1


def test_what_runs_in_no_strip_with_another_is_no_ribbon():
    """A circuit that is spliced at its end: one of its wires is in the strip, the others are wire."""
    builder = HarnessBuilder("equipment").feed(
        "A1 controller 0.1 A", "A1.I1 > S1 switch > A1.N1", "A1.I2 > S2 switch > A1.N1"
    )
    builder.run("A1 400 > fork 100 > S1", "fork 250 > S2")
    circuits = builder.plain["circuits"]["circuits"]
    common = next(c for c, x in circuits.items() if "A1.N1" in x["ends"])
    signal = next(c for c, x in circuits.items() if "S2.a" in x["ends"] or "A1.I2" in x["ends"])
    builder.feed(f"cable keys: {common}, {signal}, family RIBBON")
    found = builder.evaluate()
    (strip,) = found.cut.cables
    assert len({found.wire.wires[w].circuit for w in strip.wires}) == len(strip.wires) == 2
    assert not any(" 0 mm" in said for said in strip.peels)
    alone = [w for k, w in found.wire.wires.items() if w.circuit == common and k not in strip.wires]
    assert alone
    assert "RIBBON" not in {w.family for w in alone}


def shielded(line: str) -> HarnessBuilder:
    builder = HarnessBuilder("motorsport").feed(
        "B1 battery > F1 fuse > A1 controller 1 A > B1", "F1 > G1 pressure sensor 10 mA > A1", "G1.2 > A1.I1"
    )
    builder.run("B1 100 > F1 500 > A1 1500 > G1")
    return builder.feed(line)


def test_what_a_sensor_gives_back_comes_to_the_controllers_signal_return():
    builder = shielded("pair prs: C4, C5")
    ends = [set(c["ends"]) for c in builder.plain["circuits"]["circuits"].values()]
    assert {"G1.3", "A1.N1"} in ends
    assert "no-return" not in builder.codes()


def test_a_shield_is_landed_by_words_and_is_quiet():
    said = "shielded pair prs: C4, C5, family SHIELDED-PAIR, drain to A1.SH, open at G1"
    found = shielded(said).evaluate()
    assert not {f.code for f in found.findings} & {
        "shield-landing", "shield-missing", "shield-broken", "circuit-one-end", "cable-without-part",
        "end-not-placed",
    }  # fmt: skip
    (piece,) = found.cut.cables
    assert piece.shield is not None
    shield = found.wire.wires[piece.shield]
    assert "A1" in shield.from_text
    assert shield.to_text == "cut back at G1"
    at_a1 = {c.wire for c in found.ends.connectors["A1"].cavities if c.wire}
    assert piece.shield in at_a1
    assert piece.shield not in {c.wire for c in found.ends.connectors["G1"].cavities}
    assert "shield-landing" in shielded("shielded pair prs: C4, C5, shield C2, family SHIELDED-PAIR").codes()


@pytest.mark.parametrize(
    ("line", "word"),
    [
        ("shielded pair prs: C4, C99", "C99"),
        ("shielded pair prs: C4, A1.Z", "A1.Z"),
        ("shielded pair prs: C4, A1.O1", "no circuit yet"),
        ("shielded pair prs: C4, C5, open at G1", "landed"),
        ("shielded pair prs: C4, C5, drain to A9.SH", "A9"),
        ("shielded pair prs: C4, C5, drain to A1", "which pin"),
        ("shielded pair prs: C4, C5, drain to A1.SH, open at Q7", "Q7"),
    ],
)
def test_a_shield_that_goes_nowhere_is_refused_by_name(line, word):
    with pytest.raises(LineError, match=word):
        shielded(line)


def test_a_cable_may_name_the_pins_that_its_circuits_join():
    by_pin = shielded("shielded pair prs: G1.3, A1.I1, family SHIELDED-PAIR")
    by_id = shielded("shielded pair prs: C4, C5, family SHIELDED-PAIR")
    groups = [b.plain["circuits"]["groups"]["prs"]["members"] for b in (by_pin, by_id)]
    assert groups[0] == groups[1]


def test_the_connector_a_shield_ends_at_may_be_renamed_or_taken_out():
    builder = shielded("shielded pair prs: C4, C5, family SHIELDED-PAIR, drain to A1.SH, open at G1")
    builder._act_about("rename", "J9", "connectors/G1")
    assert builder.plain["circuits"]["groups"]["prs"]["shield_open"] == "J9"
    found = builder.evaluate().wire.wires
    assert "cut back at J9" in {w.to_text for w in found.values()}
    for act, about in (("take_out_connector", "J9"), ("take_out_device", "G1")):
        other = HarnessBuilder(plain=copy.deepcopy(builder.plain))
        other._act_about(act, "", about)
        assert other.plain["circuits"]["groups"]["prs"]["shield_open"] is None
        other.evaluate()


def test_what_met_a_connector_that_went_with_its_device_meets_nothing():
    builder = HarnessBuilder("motorsport").feed("B1 battery > F1 fuse > M1 pump 5 A > B1")
    builder.set("ends/connectors/F1/same_as", "M1")
    builder.set("ends/connectors/F1/meets", "M1")
    builder._act_about("take_out_device", "", "M1")
    kept = builder.plain["ends"]["connectors"]["F1"]
    assert (kept["same_as"], kept["meets"]) == (None, None)
    builder.evaluate()
