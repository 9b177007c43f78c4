"""A connector family of one's own, changed field by field over the API."""

from __future__ import annotations

import pytest

MINE = "/api/shop/families/MINE16"


@pytest.fixture
def mine(client):
    made = client.post("/api/shop/parts/copy", json={"code": "SR16", "new_code": "MINE16", "name": "Mine"})
    assert made.status_code == 200, made.json
    return client


def put(path: str, value: object) -> dict[str, object]:
    return {"op": "replace", "path": path, "value": value}


def test_it_is_shown_as_it_stands(mine):
    found = mine.get(MINE).json
    assert (found["code"], found["name"]) == ("MINE16", "Mine")
    assert found["turn"] == "any way round"
    assert len(found["contacts"]) == 8
    assert {"code", "gender", "conductor_min_mm2", "strip_mm", "tool", "nest"} <= found["contacts"][0].keys()
    assert found["seals"]


@pytest.mark.parametrize(
    ("path", "typed", "is_now"),
    [
        ("/contacts/0/conductor_min_mm2", "20 AWG", 0.5176),
        ("/contacts/0/conductor_min_mm2", "0.5 mm2", 0.5),
        ("/contacts/0/strip_mm", "1/4 in", 6.35),
        ("/contacts/0/insulation_max_mm", "2.8", 2.8),
        ("/contacts/0/price", "0.95", 0.95),
        ("/temperature_c", "150 C", 150.0),
        ("/voltage_v", "60 V", 60.0),
    ],
)
def test_figures_are_typed_with_their_units(mine, path, typed, is_now):
    changed = mine.patch(MINE, json=[put(path, typed)])
    assert changed.status_code == 200, changed.json
    node = changed.json
    for part in path.split("/")[1:]:
        node = node[int(part)] if part.isdigit() else node[part]
    assert node == pytest.approx(is_now, rel=1e-3)
    assert mine.get(MINE).json == changed.json, "and it is kept"


@pytest.mark.parametrize(
    ("operation", "path", "says"),
    [
        (put("/contacts/0/conductor_max_mm2", 0.1), "/contacts/0/conductor_min_mm2", "no window"),
        (put("/contacts/0/price", -1), "/contacts/0/price", "below zero"),
        (put("/contacts/0/gender", "male"), "/contacts/0/gender", ""),
        (put("/contacts/0/strip_mm", "long"), "/contacts/0/strip_mm", ""),
        (put("/seals/0/od_min_mm", 9), "/seals/0/od_min_mm", "no window"),
        (put("/code", "OTHER"), "/code", "keeps its code"),
        (put("/contacts/99/price", 1), "/contacts/99/price", ""),
        (put("/wheels", 4), "/wheels", ""),
        ({"op": "remove", "path": "/contacts/0/code"}, "/contacts/0/code", ""),
        ({"op": "replace", "path": "/contacts/0", "value": 3}, "/contacts/0", ""),
    ],
)
def test_what_does_not_hold_is_refused_with_its_field_and_nothing_changes(mine, operation, path, says):
    before = mine.get(MINE).json
    refused = mine.patch(MINE, json=[operation])
    assert refused.status_code == 422, refused.json
    assert says in refused.json["detail"]
    assert any(path in e["path"] for e in refused.json["errors"]) or path in str(refused.json)
    assert mine.get(MINE).json == before


def test_a_contact_begins_as_another_and_is_chosen_where_it_fits(mine):
    count = len(mine.get(MINE).json["contacts"])
    made = mine.patch(
        MINE,
        json=[
            {"op": "copy", "from": f"/contacts/{count - 1}", "path": "/contacts/-"},
            put(f"/contacts/{count}/code", "MINE-S-20"),
            put(f"/contacts/{count}/gender", "socket"),
        ],
    )
    assert made.status_code == 200, made.json
    assert made.json["contacts"][-1]["code"] == "MINE-S-20"
    rows = mine.get("/api/catalogue/parts", query_string={"need": "MINE-S-20"}).json["rows"]
    assert [r["code"] for r in rows] == ["MINE-S-20"]
    assert rows[0]["own"]


def test_a_change_reaches_the_harnesses_that_use_it(mine):
    larkspur = "/api/designs/larkspur"
    tag = mine.get(larkspur).headers["ETag"]
    edited = mine.patch(
        larkspur, json=[put("/ends/connectors/M1/family", "MINE16")], headers={"If-Match": tag}
    )
    assert edited.status_code == 200, edited.json
    used = {
        c["contact"]
        for c in edited.json["evaluation"]["ends"]["connectors"]["M1"]["cavities"]
        if c["contact"]
    }
    contacts = mine.get(MINE).json["contacts"]
    at = next(n for n, c in enumerate(contacts) if c["code"] in used)
    assert mine.patch(MINE, json=[put(f"/contacts/{at}/strip_mm", 9.9)]).status_code == 200
    now = mine.get(larkspur)
    assert now.headers["ETag"] != edited.headers["ETag"]
    strips = {
        c["strip_mm"]
        for c in now.json["evaluation"]["ends"]["connectors"]["M1"]["cavities"]
        if c["contact"] == contacts[at]["code"]
    }
    assert strips == {9.9}


@pytest.mark.parametrize("code", ["SR16", "NONE"])
def test_only_a_family_of_ones_own_is_changed(mine, code):
    for answer in (mine.get(f"/api/shop/families/{code}"), mine.patch(f"/api/shop/families/{code}", json=[])):
        assert answer.status_code == 404
        assert "of your own" in answer.json["detail"]
