"""Contacts, terminals, ferrules, studs, pull-out forces and M12 against published tables.

All from memory of the sources named, as the program's own data are: a slip in one shows here.
"""

from __future__ import annotations

import itertools
import math

import pytest

from inkthread.core.ends.fit import choose_contact, choose_seal


def awg_mm2(gauge: int) -> float:
    """ASTM B258: 0.005 in at 36 AWG, 0.46 in at 4/0, in 39 equal steps of ratio."""
    return math.pi / 4 * (0.127 * 92 ** ((36 - gauge) / 39)) ** 2


# SAE AS39029 test currents by contact size and wire, from memory.
AS39029 = {
    ("MC22", "22D"): {22: 5.0, 24: 3.0, 26: 2.0, 28: 1.5},
    ("CM20", "20"): {20: 7.5, 22: 5.0, 24: 3.0},
    ("CM16", "16"): {16: 13.0, 18: 10.0, 20: 7.5},
    ("SR12", "12"): {12: 23.0, 14: 17.0},
    ("CM8", "8"): {8: 46.0},
}


@pytest.mark.parametrize(("family", "size"), AS39029)
def test_machined_contacts_take_the_wires_and_currents_of_their_size(catalogue, family, size):
    table = AS39029[family, size]
    for contact in catalogue.connectors[family].contacts:
        if contact.kind != "machined":
            continue
        assert contact.size == size
        for gauge, amps in table.items():
            assert contact.conductor_min_mm2 <= awg_mm2(gauge) <= contact.conductor_max_mm2
            assert contact.current_a(awg_mm2(gauge)) == amps
        beyond = [g for g in range(6, 32, 2) if g not in table]
        assert not any(contact.conductor_min_mm2 <= awg_mm2(g) <= contact.conductor_max_mm2 for g in beyond)


# MIL-DTL-24308, from memory: ways by shell size, standard and high density.
@pytest.mark.parametrize(("family", "ways"), [("DSTD", (9, 15, 25, 37, 50)), ("DHIGH", (15, 26, 44, 62, 78))])
def test_d_shells_hold_the_ways_of_their_size(catalogue, family, ways):
    assert tuple(h.ways for h in catalogue.connectors[family].housings) == ways
    widths = [h.face.width_mm for h in catalogue.connectors["DSTD"].housings][:4]
    # Shells E, A, B, C grow; the high-density kind uses the same shells.
    assert widths == sorted(widths)
    assert [h.face.width_mm for h in catalogue.connectors["DHIGH"].housings][:4] == widths


# Insulated terminals, from memory: red 22 to 16 AWG (0.5 to 1.5 mm2), blue 16 to 14, yellow 12 to 10.
@pytest.mark.parametrize(
    ("gauge", "colours"),
    [(22, {"RD"}), (18, {"RD"}), (16, {"RD", "BU"}), (14, {"BU"}), (12, {"YE"}), (10, {"YE"})],
)
def test_insulated_terminals_have_the_colour_of_their_range(catalogue, gauge, colours):
    rings = [c for c in catalogue.connectors["RINGI"].contacts if c.stud == "M5"]
    held = {c.colour for c in rings if c.conductor_min_mm2 <= awg_mm2(gauge) <= c.conductor_max_mm2}
    assert held == colours
    butts = [s for s in catalogue.splices if s.form == "insulated butt"]
    assert {s.colour for s in butts if s.area_min_mm2 <= awg_mm2(gauge) <= s.area_max_mm2} == colours


# DIN 46228-4, from memory: colour by area, barrels of 8 mm among its lengths.
@pytest.mark.parametrize(
    ("mm2", "colour"), [(0.5, "WH"), (0.75, "GY"), (1.0, "RD"), (1.5, "BK"), (2.5, "BU")]
)
def test_ferrules_have_the_colour_of_their_area(catalogue, mm2, colour):
    family = catalogue.connectors["SPL"]
    ferrule = next(c for c in family.contacts if c.size == f"{mm2:g} mm²")
    assert ferrule.colour == colour
    assert ferrule.description.endswith("8 mm")
    # A longer barrel of the same area: 10 mm, and 12 mm from 2.5 mm2 on.
    longer = next(c for c in family.contacts if c.size == ferrule.size and c is not ferrule)
    assert longer.description.endswith("12 mm" if mm2 >= 2.5 else "10 mm")
    assert longer.strip_mm - ferrule.strip_mm == (4 if mm2 >= 2.5 else 2)
    size = next((s for s in catalogue.wires["IEC60228-5"].sizes if s.gauge == f"{mm2:g} mm²"), None)
    if size is not None:
        assert choose_contact(family, "socket", None, size) == (ferrule, True)


# Unified studs by .060 + .013 N in (exact), metric by their name; clearance holes from memory.
@pytest.mark.parametrize("number", [4, 6, 8, 10])
def test_numbered_studs_by_their_formula(catalogue, number):
    assert catalogue.studs.studs[f"#{number}"][0] == pytest.approx((0.060 + 0.013 * number) * 25.4, abs=0.01)


@pytest.mark.parametrize(
    ("stud", "hole"),
    [
        ("M3", 3.2),
        ("M3.5", 3.7),
        ("M4", 4.3),
        ("M5", 5.3),
        ("M6", 6.4),
        ("M8", 8.4),
        ("M10", 10.5),
        ("M12", 13.0),
    ],
)
def test_metric_studs_and_holes(catalogue, stud, hole):
    assert catalogue.studs.studs[stud] == (float(stud[1:]), hole)
    assert any(c.stud == stud for c in catalogue.connectors["RING"].contacts)


@pytest.mark.parametrize("stud", ["1/4 in", "5/16 in", "3/8 in", "1/2 in"])
def test_inch_studs(catalogue, stud):
    over, _, under = stud.removesuffix(" in").partition("/")
    assert catalogue.studs.studs[stud][0] == pytest.approx(int(over) / int(under) * 25.4, abs=0.01)


def test_at_most_four_lugs_go_on_a_stud(catalogue):
    # AC 43.13-1B, from memory.
    assert catalogue.studs.most_lugs == 4
    assert {c.most_wires for c in catalogue.connectors["RING"].contacts} == {4}


# Pull-out forces, from memory: IEC 60352-2 in N by mm2, UL 486A and AS7928 in lbf by AWG.
@pytest.mark.parametrize(
    ("table", "area", "newton"),
    [
        ("IEC 60352-2", 0.22, 28),
        ("IEC 60352-2", 0.5, 60),
        ("IEC 60352-2", 1.5, 150),
        ("IEC 60352-2", 6.0, 360),
        ("UL 486A", awg_mm2(18), 20 * 4.4482),
        ("UL 486A", awg_mm2(4), 140 * 4.4482),
        ("AS7928", awg_mm2(20), 19 * 4.4482),
        ("AS7928", awg_mm2(10), 150 * 4.4482),
        ("AS39029", awg_mm2(22), 12 * 4.4482),
        ("AS39029", awg_mm2(18), 32 * 4.4482),
    ],
)
def test_pull_out_forces(catalogue, table, area, newton):
    assert catalogue.pull[table].force_n(area) == pytest.approx(newton, rel=0.002)


def test_no_pull_out_force_asks_more_than_annealed_copper_holds(catalogue):
    # About 250 MPa at most; a row above it would be a slip (or a high-strength alloy).
    for table in catalogue.pull.values():
        forces = [f for _, f in table.rows]
        assert forces == sorted(forces)
        assert all(f / a < 250 for a, f in table.rows)


# IEC 60947-5-2 DC, from memory: pin 1 supply, 3 return, 4 output; 1 and 2 beside the key, and on
# the wiring side the pins run clockwise, the sockets counter-clockwise.
@pytest.mark.parametrize("family", ["M12S", "M12C"])
def test_m12_pins_and_the_way_they_run(catalogue, family):
    from inkthread.core.ends.faces import face_view

    housing = catalogue.connectors[family].housing(4)
    assert housing.roles == {"1": "supply_in", "3": "ground", "4": "signal"}

    def turning(shell: str) -> float:
        at = face_view(housing.face, shell, "wire").cavities
        around = [math.atan2(at[n][1], at[n][0]) for n in ("1", "2", "3", "4")]
        return sum(math.remainder(b - a, math.tau) for a, b in itertools.pairwise(around))

    assert turning("plug") < 0  # pins, clockwise
    assert turning("receptacle") > 0
    at = face_view(housing.face, "plug", "wire").cavities
    assert at["1"][1] == at["2"][1] > 0  # either side of the key, which is up


def test_scheme_colours_of_cores_and_bands(catalogue):
    # M81824/1, from memory: red 26 to 20, blue 20 to 16, yellow 16 to 12.
    bands = {s.colour: s for s in catalogue.splices if s.form == "sub-miniature"}
    for colour, thin, thick in (("RD", 26, 20), ("BU", 20, 16), ("YE", 16, 12)):
        assert bands[colour].area_min_mm2 < awg_mm2(thin)
        assert bands[colour].area_max_mm2 > awg_mm2(thick)
    # IEC 60757, from memory.
    names = {
        "BK": "black", "BN": "brown", "RD": "red", "OG": "orange", "YE": "yellow", "GN": "green",
        "BU": "blue", "VT": "violet", "GY": "grey", "WH": "white", "PK": "pink",
    }  # fmt: skip
    assert names.items() <= catalogue.colour_names.items()
    # MIL-STD-681, from memory: the ten digits, black to white, are all colours that wire is made in here.
    digits = ("black", "brown", "red", "orange", "yellow", "green", "blue", "violet", "grey", "white")
    codes = {name: code for code, name in catalogue.colour_names.items()}
    offered = {
        c for scheme in catalogue.colour_schemes.values() for row in scheme.roles.values() for c in row
    }
    assert {codes[d] for d in digits} <= {part for c in offered for part in c.split("/")}


# Common practice, no source: 18 AWG at 1.52 mm passes a small module seal, at 2.82 mm it does not.
@pytest.mark.parametrize(("od_mm", "passes"), [(1.52, True), (2.82, False)])
def test_the_same_gauge_passes_a_small_seal_only_where_its_wall_is_thin(catalogue, od_mm, passes):
    from dataclasses import replace

    size = catalogue.wires["AS22759/32"].size("18 AWG")
    wire = replace(size, od_mm=od_mm, od_min_mm=od_mm - 0.05, od_max_mm=od_mm + 0.05)
    for family in ("SN06", "SR20"):
        _, sealed = choose_seal(catalogue.connectors[family], wire)
        assert sealed is passes


# Common practice, no source: 20 AWG warns in a 22-24 contact and passes in an 18-20 one.
def test_twenty_gauge_in_a_contact_for_thinner_wire_is_refused_and_in_its_own_passes(catalogue):
    from inkthread.core.bench import calculate

    small = calculate(catalogue, "fit", {"wire": "AS22759/32 20 AWG", "connector": "LT25"})
    assert not small.holds
    assert "copper" in small.figures["reasons"][0]
    own = calculate(catalogue, "fit", {"wire": "AS22759/16 20 AWG", "connector": "TW25"})
    assert own.holds
    assert own.figures["tool"].endswith("20-18")


# Common practice, no source: a 60 A blade on 10 AWG is judged by the wire, not by the blade.
def test_a_heavy_contact_carries_what_its_wire_does(catalogue):
    heavy = catalogue.connectors["GL175"].contacts[-1]
    light = catalogue.connectors["GL50"].contacts
    ten = next(c for c in light if c.conductor_min_mm2 <= awg_mm2(10) <= c.conductor_max_mm2)
    assert ten.current_a(awg_mm2(10)) == 30 < 50
    assert heavy.current_by_area[-1][1] == 175


# Common practice, no source: a kit of 80 ways with 62 contacts of a gender is 18 short.
def test_a_kit_of_eighty_ways_and_sixty_two_contacts_is_eighteen_short(catalogue):
    from inkthread.core.bench import calculate

    answer = calculate(catalogue, "kit", {"housings": "10x6, 5x4", "contacts": "62"})
    assert (answer.figures["ways"], answer.figures["short"], answer.holds) == (80, 18, False)
    # One spare in 18 contacts is a bare minimum: 62 for 60 ways is two short of 64.
    spared = calculate(catalogue, "kit", {"housings": "10x6", "contacts": "62", "one_spare_in": "18"})
    assert (spared.figures["spares"], spared.figures["short"]) == (4, 2)
