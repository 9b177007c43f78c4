"""Every shipped connector family is whole: contacts, seals, plugs, tools and faces for all it claims."""

from __future__ import annotations

import itertools
import math

import pytest

from inkthread.catalogue import shipped_catalogue
from inkthread.core.catalogue.check_family import check_family
from inkthread.core.ends.faces import face_view, marks_view

FAMILIES = sorted(shipped_catalogue().connectors)
SINGLES = [
    (w, s)
    for w in shipped_catalogue().wires.values()
    if w.construction in ("single", "solid")
    for s in w.sizes
]


def test_there_are_at_least_thirty_families_of_every_group(catalogue):
    assert len(FAMILIES) >= 30
    assert len({f.group for f in catalogue.connectors.values()}) == 16


@pytest.mark.parametrize("code", FAMILIES)
def test_what_a_contact_takes_a_seal_a_plug_and_a_tool_are_there_for(catalogue, code):
    family = catalogue.connectors[code]
    taken = 0
    for contact in family.contacts:
        assert contact.tools or contact.factory, contact.code
        assert all(t.tool in catalogue.tools for t in contact.tools), contact.code
        assert not contact.extraction or contact.extraction in catalogue.tools
        for _, size in SINGLES:
            held = contact.conductor_min_mm2 <= size.area_mm2 <= contact.conductor_max_mm2
            if not held or not contact.insulation_min_mm <= size.od_mm <= contact.insulation_max_mm:
                continue
            taken += 1
            if contact.factory:
                continue
            assert contact.tool_row(size.area_mm2) is not None, (contact.code, size.gauge)
            if family.seals:
                window = any(
                    s.od_min_mm <= size.od_min_mm and size.od_max_mm <= s.od_max_mm for s in family.seals
                )
                assert window, (contact.code, size.gauge, size.od_mm)
    assert taken or family.group in ("coax", "ignition"), "it takes no wire that is shipped"
    if family.sealed and family.seals:
        assert family.cavity_plug is not None


@pytest.mark.parametrize("code", FAMILIES)
def test_both_genders_are_there_where_a_shell_carries_them(catalogue, code):
    family = catalogue.connectors[code]
    wanted = set(family.genders.values())
    assert wanted <= {c.gender for c in family.contacts}
    for contact in family.contacts:
        assert contact.pull == "" or contact.pull in catalogue.pull
        assert contact.copper_least_mm <= contact.copper_most_mm


@pytest.mark.parametrize("code", FAMILIES)
def test_a_face_has_a_place_for_each_way_and_its_two_sides_are_mirror_images(catalogue, code):
    family = catalogue.connectors[code]
    assert check_family(catalogue, family) == []
    for housing in family.housings:
        face = housing.face
        assert len(face.cavities) == housing.ways
        for shell, other in (("plug", "receptacle"), ("receptacle", "plug")):
            wire, mating = (face_view(face, shell, side) for side in ("wire", "mating"))
            for name, (x, y) in wire.cavities.items():
                assert mating.cavities[name] == (pytest.approx(-x), y)
            # What meets it sees the same ways in the same places: way n faces way n.
            assert mating.cavities == face_view(face, other, "wire").cavities
            marks = marks_view(face, shell, "wire")
            assert [m.x_mm for m in marks_view(face, shell, "mating")] == [-m.x_mm + 0.0 for m in marks]
        gaps = [math.dist(a, b) for a, b in itertools.combinations(face.cavities.values(), 2)]
        assert min(gaps, default=math.inf) >= face.cavity_diameter_mm * 0.9, (code, housing.ways)


def test_accessories_say_whether_they_come_along_and_fit_a_housing(catalogue):
    for family in catalogue.connectors.values():
        ways = {h.ways for h in family.housings}
        for a in family.accessories:
            assert not a.ways or set(a.ways) <= ways, a.code
            assert (a.cable_min_mm is None) == (a.cable_max_mm is None)
            assert a.price == 0 or not a.included, a.code


def test_current_falls_with_loaded_ways_and_with_heat(catalogue):
    for family in catalogue.connectors.values():
        shares = [family.current_share(n, 20) for n in range(1, 80)]
        assert shares == sorted(shares, reverse=True)
        assert all(0 < s <= 1 for s in shares)
        top = family.temperature_c
        hot = [
            family.current_share(1, t) for t in (20, family.full_to_c, (family.full_to_c + top) / 2, top - 1)
        ]
        assert hot == sorted(hot, reverse=True)
        # Half of the rise left carries the square root of a half: heat goes with the square.
        assert hot[2] == pytest.approx(hot[1] * math.sqrt(0.5))


def test_splices_of_every_kind_cover_small_wires_without_gaps(catalogue):
    for kind in ("overlap", "butt", "sleeve"):
        made = sorted((s.area_min_mm2, s.area_max_mm2) for s in catalogue.splices if s.kind == kind)
        reach = made[0][1]
        for low, high in made:
            assert low <= reach * 1.05, kind
            reach = max(reach, high)
    forms = {s.form for s in catalogue.splices}
    assert forms == {
        "open barrel",
        "closed barrel",
        "insulated butt",
        "lined butt",
        "sub-miniature",
        "solder sleeve",
    }
    assert all(s.tool in catalogue.tools for s in catalogue.splices)
