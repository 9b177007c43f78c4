"""The shipped data hang together: what is offered can be made, drawn, bought and spoken of."""

from __future__ import annotations

import itertools
import re
from dataclasses import fields
from typing import Any

import pytest

from inkthread.core.catalogue import Contact
from inkthread.core.document.values import PinRole
from inkthread.core.ends import choose_contact, choose_seal
from inkthread.core.quantity import parse_gauge

WIRES = [
    "J1128-TXL",
    "J1128-GXL",
    "J1128-SXL",
    "J1127-SGX",
    "AS22759/11",
    "AS22759/16",
    "AS22759/32",
    "AS22759/34",
    "ISO6722-THIN",
    "ISO6722-THICK",
    "IEC60228-5",
    "PVC-GENERAL",
    "SILICONE",
    "SOLID-HOOKUP",
    "RIBBON",
    "JACKETED-2",
    "JACKETED-4",
    "JACKETED-2-125",
    "JACKETED-4-125",
    "JACKETED-2-OIL",
    "JACKETED-4-OIL",
    "TWISTED-PAIR",
    "TWISTED-THREE",
    "SHIELDED-PAIR",
    "SHIELDED-THREE",
    "SERVO-3",
    "JACKETED-5",
    "BOAT-5",
]
NOT_BY_GAUGE = ["IGNITION-8", "COAX"]
"""Bought by outside diameter."""
CONNECTORS = ["RING", "SR16", "SS15", "TAB63"]


def test_the_codes_promised_are_there(catalogue):
    assert {*WIRES, *NOT_BY_GAUGE} == set(catalogue.wires)
    assert set(CONNECTORS) <= set(catalogue.connectors)


@pytest.mark.parametrize("code", WIRES)
def test_sizes_run_from_thin_to_thick_in_every_figure(catalogue, code):
    family = catalogue.wires[code]
    for thin, thick in itertools.pairwise(family.sizes):
        assert thin.area_mm2 < thick.area_mm2
        assert thin.od_mm < thick.od_mm
        assert thin.mass_g_per_m < thick.mass_g_per_m
        assert thin.resistance_ohm_per_km > thick.resistance_ohm_per_km
        assert thin.price_per_m < thick.price_per_m
    for size in family.sizes:
        assert size.od_min_mm < size.od_mm < size.od_max_mm
        assert size.conductor_diameter_mm < size.od_min_mm
        assert parse_gauge(size.gauge).name == size.gauge
        copper_g = size.area_mm2 * 8.89
        assert copper_g < size.mass_g_per_m < copper_g * 2.6 + 5, "copper and its insulation, no more"
        assert size.bend_radius_mm >= 4 * size.od_mm
        assert (size.cable_od_mm is not None) == (family.cores > 1)
        assert size.cable_od_mm is None or size.cable_od_mm >= 2 * size.od_mm


def test_burn_evidence_is_claimed_for_aircraft_wire_only(catalogue):
    """ETFE and PTFE to SAE AS22759, singly or laid up; vehicle and panel wire holds none."""
    for w in catalogue.wires.values():
        assert w.burn_rated == ("ETFE" in w.insulation or "PTFE" in w.insulation)


def test_colours_made_are_known_and_only_single_wire_makes_a_harness(catalogue):
    for w in catalogue.wires.values():
        assert {part for c in w.colours for part in c.split("/")} <= set(catalogue.colours)
        assert w.general == (w.construction in ("single", "solid"))
        assert (w.construction == "solid") == all(size.strands == 1 for size in w.sizes) or not w.general


@pytest.mark.parametrize("code", CONNECTORS)
def test_contacts_of_a_family_leave_no_gap_between_their_ranges(catalogue, code):
    family = catalogue.connectors[code]
    groups: dict[tuple[str, str | None], list[Contact]] = {}
    for c in family.contacts:
        groups.setdefault((c.gender, c.stud), []).append(c)
    for group in groups.values():
        group.sort(key=lambda c: c.conductor_min_mm2)
        for a, b in itertools.pairwise(group):
            assert a.conductor_max_mm2 >= b.conductor_min_mm2, f"{a.code} to {b.code}"
        for c in group:
            amps = [current for _, current in c.current_by_area]
            assert amps == sorted(amps)
            assert c.strip_mm > c.strip_tolerance_mm
    for a, b in itertools.pairwise(sorted(family.seals, key=lambda s: s.od_min_mm)):
        assert a.od_max_mm - b.od_min_mm >= 0.15, "a wire's own tolerance must not fall between two seals"


@pytest.mark.parametrize("code", CONNECTORS)
def test_faces_hold_their_cavities_without_overlap(catalogue, code):
    for housing in catalogue.connectors[code].housings:
        face = housing.face
        assert list(face.cavities) == [str(n + 1) for n in range(housing.ways)]
        for x, y in face.cavities.values():
            assert abs(x) + face.cavity_diameter_mm / 2 <= face.width_mm / 2
            assert abs(y) + face.cavity_diameter_mm / 2 <= face.height_mm / 2
        for (xa, ya), (xb, yb) in itertools.combinations(face.cavities.values(), 2):
            assert ((xa - xb) ** 2 + (ya - yb) ** 2) ** 0.5 > face.cavity_diameter_mm


@pytest.mark.parametrize("code", ["SR16", "SS15"])
def test_sealed_families_offer_all_that_is_needed_to_seal_them(catalogue, code):
    family = catalogue.connectors[code]
    assert family.sealed
    assert family.seals
    assert family.cavity_plug is not None
    for housing in family.housings:
        assert set(housing.shells) == set(housing.locks) == {"plug", "receptacle"}


@pytest.mark.parametrize(
    ("code", "gauge", "family", "fits"),
    [
        ("J1128-TXL", "18 AWG", "SR16", True),
        ("J1128-TXL", "16 AWG", "SS15", True),
        ("AS22759/32", "18 AWG", "SR16", True),
        ("AS22759/32", "22 AWG", "SR16", False),
        ("PVC-GENERAL", "18 AWG", "SS15", False),
        ("J1128-TXL", "10 AWG", "RING", True),
        ("J1128-TXL", "8 AWG", "TAB63", False),
        ("ISO6722-THIN", "0.75 mm²", "SS15", True),
        ("ISO6722-THIN", "1 mm²", "TAB63", True),
    ],
)
def test_which_wires_go_in_which_families(catalogue, code, gauge, family, fits):
    size = catalogue.wires[code].size(gauge)
    connector = catalogue.connectors[family]
    _, contact_fits = choose_contact(connector, "socket", connector.usual_stud, size)
    _, seal_fits = choose_seal(connector, size)
    assert (contact_fits and seal_fits) is fits


def test_kinds_of_device_name_real_pins_families_and_roles(catalogue):
    roles = set(PinRole.__args__)
    for kind_id, kind in catalogue.kinds.items():
        pins = {p.id for p in kind.pins}
        assert len(pins) == len(kind.pins), kind_id
        assert {p.role for p in kind.pins} <= roles
        assert all({p.from_pin, p.to_pin} <= pins for p in kind.paths)
        assert kind.load is None or set(kind.load) <= pins
        family = catalogue.connectors[kind.connector]
        apart = family.group == "ignition"  # each of its towers has an end of its own
        assert apart or max(h.ways for h in family.housings) >= len(pins)
        assert kind.stud is None or kind.stud in family.studs


def test_colours_have_a_name_and_an_ink_and_every_role_has_several(catalogue):
    assert set(catalogue.colours) == set(catalogue.colour_names)
    for scheme in catalogue.colour_schemes.values():
        for role, codes in scheme.roles.items():
            assert len(codes) == len(set(codes)), role
            assert any("/" not in c for c in codes), "something for families without tracers"
            assert {part for code in codes for part in code.split("/")} <= set(catalogue.colours)
            assert scheme.repeats or role in ("drain", "ignition") or len(codes) >= 3
    assert set(catalogue.preset_schemes.values()) <= set(catalogue.colour_schemes)
    assert all(re.fullmatch(r"#[0-9a-f]{6}", ink) for ink in catalogue.colours.values())


def test_fuses_and_splices_run_upward_without_gaps(catalogue):
    ratings = [f.rating_a for f in catalogue.fuses]
    assert ratings == sorted(set(ratings))
    # ISO 8820-3 blade ratings, from memory.
    assert {1, 2, 3, 4, 5, 7.5, 10, 15, 20, 25, 30, 40} <= set(ratings)
    for a, b in itertools.pairwise([s for s in catalogue.splices if s.kind == "overlap"]):
        assert a.area_max_mm2 >= b.area_min_mm2


def test_codes_are_unique_within_what_is_bought(catalogue):
    parts: list[Any] = [*catalogue.fuses, *catalogue.splices, *catalogue.covers, *catalogue.tools.values()]
    for family in catalogue.connectors.values():
        parts += [*family.contacts, *family.seals, *family.accessories]
        parts += [p for h in family.housings for p in (*h.shells.values(), *h.locks.values())]
        parts += [family.cavity_plug] if family.cavity_plug else []
    named: dict[str, Any] = {}
    for part in parts:
        # Families of one system share contacts and seals: one code, one and the same part.
        assert named.setdefault(part.code, part) == part, part.code
    codes = list(named)
    assert all(re.fullmatch(r"[A-Z0-9][A-Z0-9.\-]+", c) for c in codes)


def test_every_check_wording_is_whole(catalogue):
    for code, check in catalogue.checks.items():
        assert check.title[0].isupper(), code
        assert check.remedies, code
        for text in (check.what, check.why, *check.remedies):
            assert not re.search(r"[!]|\bOops\b|\berror\b", text), code
    assert {f.name for f in fields(type(next(iter(catalogue.checks.values()))))} >= {"severity", "why"}
