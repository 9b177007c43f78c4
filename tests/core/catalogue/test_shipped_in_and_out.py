"""Every family that ships, copied and written out, comes back as it was; and typed needs of all kinds."""

from __future__ import annotations

import csv
import io
import json
from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from inkthread.catalogue import shipped_catalogue
from inkthread.core.catalogue.own import (
    COLUMNS,
    OwnParts,
    check_family,
    copy_family,
    parts_to_csv,
    parts_to_plain,
    read_parts,
    with_own,
)
from inkthread.core.catalogue.search import KINDS, find_parts, need_in_words, part_rows, read_need
from inkthread.core.quantity import QuantityError

CODES = sorted(shipped_catalogue().connectors)


@pytest.mark.parametrize("code", CODES)
def test_a_copy_of_any_family_is_sound_and_comes_back_the_same(catalogue, code):
    family = copy_family(catalogue, code, "COPY-1", "A copy")
    assert not check_family(catalogue, family)
    plain = parts_to_plain(OwnParts(connectors={"COPY-1": family}))
    back = read_parts(catalogue, json.dumps(plain))
    assert parts_to_plain(back) == plain
    again = back.connectors["COPY-1"]
    shipped = catalogue.connectors[code]
    assert again.contacts == shipped.contacts
    assert again.seals == shipped.seals
    assert [h.ways for h in again.housings] == [h.ways for h in shipped.housings]
    assert again.turn == shipped.turn


@pytest.mark.parametrize("code", [c for c in CODES if shipped_catalogue().connectors[c].contacts])
def test_its_contacts_and_seals_go_through_a_table(catalogue, code):
    family = copy_family(catalogue, code, "COPY-2", "A copy")
    held = OwnParts(connectors={"COPY-2": family})
    text = parts_to_csv([family], [])
    rows = list(csv.DictReader(io.StringIO(text)))
    assert tuple(rows[0]) == COLUMNS
    assert [r["code"] for r in rows if r["kind"] == "contact"] == [c.code for c in family.contacts]
    assert [r["code"] for r in rows if r["kind"] == "seal"] == [s.code for s in family.seals]
    back = read_parts(with_own(catalogue, held, "x"), text, held).connectors["COPY-2"]
    for was, now in zip(family.contacts, back.contacts, strict=True):
        for field in (
            "gender",
            "conductor_min_mm2",
            "conductor_max_mm2",
            "insulation_min_mm",
            "strip_mm",
            "price",
        ):
            a, b = getattr(now, field), getattr(was, field)
            assert a == b or a == pytest.approx(b, rel=1e-6), (was.code, field)
    assert [(s.code, s.od_min_mm, s.od_max_mm) for s in back.seals] == [
        (s.code, s.od_min_mm, s.od_max_mm) for s in family.seals
    ]


@pytest.mark.parametrize("code", CODES)
def test_a_family_whose_figures_are_spoiled_is_not_sound(catalogue, code):
    family = copy_family(catalogue, code, "COPY-3", "A copy")
    contact = family.contacts[0]
    spoiled = [
        replace(contact, price=-1.0),
        replace(contact, conductor_min_mm2=contact.conductor_max_mm2 + 1.0),
        replace(contact, insulation_min_mm=contact.insulation_max_mm + 1.0),
        replace(contact, current_by_area=()),
        replace(contact, pull="no such table"),
        replace(contact, conductor_min_mm2=900.0, conductor_max_mm2=950.0),
    ]
    for bad in spoiled:
        found = check_family(catalogue, replace(family, contacts=(bad, *family.contacts[1:])))
        assert found
        assert all(p.path.startswith("/contacts/0") for p in found)
        assert all(p.remedy for p in found)


WORDS = (
    "sealed", "unsealed", "2 ways", "3 ways", "12 ways", "18 AWG", "20 AWG thin wall", "0.75 mm2", "125 C",
    "24 V", "13 A", "IP67", "IP69K", "owned tools only", "crimper", "ring", "M6", "tower",
    "socket", "J1128-TXL",
)  # fmt: skip


@settings(max_examples=60, deadline=None)
@given(st.lists(st.sampled_from(WORDS), min_size=1, max_size=4), st.sampled_from([None, *KINDS]))
def test_any_need_put_together_of_what_builders_type_is_answered(words, kind):
    catalogue = shipped_catalogue()
    try:
        need = read_need(catalogue, ", ".join(words), kind)
    except QuantityError:
        return
    found = find_parts(catalogue, need, limit=400)
    assert need_in_words(need) or not need.words
    assert found.count + found.rejected_count <= len(part_rows(catalogue))
    assert all(why for _, why in found.rejected)
    assert not {r.code for r in found.rows} & {r.code for r, _ in found.rejected if r.kind == kind}
    for row in found.rows:
        assert kind is None or row.kind == kind
        if need.ways is not None and row.ways is not None:
            assert row.ways >= need.ways
        if need.sealed and row.sealed is not None:
            assert row.sealed
        if need.temperature_c is not None and row.temperature_c is not None:
            assert row.temperature_c >= need.temperature_c
        if need.current_a is not None and row.current_a is not None:
            assert row.current_a >= need.current_a


@settings(max_examples=60, deadline=None)
@given(st.text(max_size=60))
def test_whatever_is_typed_as_a_need_is_answered_or_refused_in_words(text):
    catalogue = shipped_catalogue()
    try:
        need = read_need(catalogue, text, None)
    except QuantityError:
        return
    found = find_parts(catalogue, need)
    assert found.count >= len(found.rows)
