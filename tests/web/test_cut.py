"""Spools, ticks and the plan over the API: lengths go off and come back, and nothing is lost."""

from __future__ import annotations

import pytest

LARKSPUR = "/api/designs/larkspur"


@pytest.fixture
def stocked(client):
    """Two spools of every wire that Larkspur is cut of."""
    plan = client.get(f"{LARKSPUR}/cut-plan").json["plan"]
    lines = [f"{p['part']} {p['colour']} 40 m in drawer {n}" for n, p in enumerate(plan["parts"])]
    assert client.post("/api/shop/spools", json={"text": "\n".join(lines)}).status_code == 200
    return client


def spool_of(plan: dict, spool: str) -> dict:
    return next(s for p in plan["parts"] for s in p["spools"] if s["spool"] == spool)


def first(plan: dict) -> tuple[dict, dict]:
    spool = next(s for p in plan["parts"] for s in p["spools"] if any(not x["done"] for x in s["pieces"]))
    return spool, next(x for x in spool["pieces"] if not x["done"])


def left_of(client, spool: str) -> float:
    return next(s["length_mm"] for s in client.get("/api/shop/spools").json["spools"] if s["id"] == spool)


def act(client, piece: dict, act: str, spool: str | None = None):
    body = {"piece": piece["piece"], "number": piece["number"], "act": act}
    return client.post(f"{LARKSPUR}/cuts", json=body | ({"spool": int(spool)} if spool else {}))


def test_a_tick_takes_the_length_off_and_its_return_puts_it_back(stocked):
    plan = stocked.get(f"{LARKSPUR}/cut-plan").json["plan"]
    assert plan["done"] == 0
    spool, piece = first(plan)
    before = left_of(stocked, spool["spool"])
    after = act(stocked, piece, "cut", spool["spool"])
    assert after.status_code == 200
    assert after.json["plan"]["done"] == 1
    assert left_of(stocked, spool["spool"]) == pytest.approx(before - piece["length_mm"])
    assert spool_of(after.json["plan"], spool["spool"])["length_mm"] == pytest.approx(spool["length_mm"])
    # Twice it cannot be cut.
    assert act(stocked, piece, "cut", spool["spool"]).status_code == 409
    back = act(stocked, piece, "taken back")
    assert back.json["plan"]["done"] == 0
    assert left_of(stocked, spool["spool"]) == pytest.approx(before)
    assert act(stocked, piece, "taken back").status_code == 409


def test_a_spoiled_piece_is_cut_again(stocked):
    spool, piece = first(stocked.get(f"{LARKSPUR}/cut-plan").json["plan"])
    before = left_of(stocked, spool["spool"])
    act(stocked, piece, "cut", spool["spool"])
    spoiled = act(stocked, piece, "spoiled").json["plan"]
    assert spoiled["done"] == 0
    rows = [x for x in spool_of(spoiled, spool["spool"])["pieces"] if x["piece"] == piece["piece"]]
    assert [x["spoiled"] for x in rows].count(True) == 1
    act(stocked, piece, "cut", spool["spool"])
    assert left_of(stocked, spool["spool"]) == pytest.approx(before - 2 * piece["length_mm"])
    assert act(stocked, piece, "good after all").status_code == 409
    act(stocked, piece, "taken back")
    good = act(stocked, piece, "good after all")
    assert good.json["plan"]["done"] == 1
    assert left_of(stocked, spool["spool"]) == pytest.approx(before - piece["length_mm"])


def test_ticks_are_no_edit_and_outlive_one(stocked):
    version = stocked.get(LARKSPUR).json["version"]
    spool, piece = first(stocked.get(f"{LARKSPUR}/cut-plan").json["plan"])
    reply = act(stocked, piece, "cut", spool["spool"])
    assert reply.json["version"] == version
    assert stocked.get(LARKSPUR).json["version"] == version
    patch = [{"op": "replace", "path": "/brief/name", "value": "Larkspur II"}]
    edited = stocked.patch(LARKSPUR, json=patch, headers={"If-Match": f'"{version}"'})
    assert edited.status_code == 200, edited.json
    assert stocked.get(f"{LARKSPUR}/cut-plan").json["plan"]["done"] == 1


def test_without_a_spool_a_tick_is_kept_all_the_same(client):
    plan = client.get(f"{LARKSPUR}/cut-plan").json["plan"]
    assert plan["spools"] == 0
    piece = plan["parts"][0]["short"][0]
    assert act(client, piece, "cut").json["plan"]["done"] == 1


def test_what_cannot_be_is_said_and_changes_nothing(stocked):
    plan = stocked.get(f"{LARKSPUR}/cut-plan").json["plan"]
    spool, piece = first(plan)
    kept = stocked.get("/api/shop/spools").json
    nowhere = stocked.post(f"{LARKSPUR}/cuts", json={"piece": "nope", "number": 1, "act": "cut"})
    assert nowhere.status_code == 409
    assert "nope" in nowhere.json["detail"]
    assert act(stocked, piece, "cut", "99999").status_code == 404
    assert act(stocked, {**piece, "number": 2}, "cut", spool["spool"]).status_code == 409
    change = {"id": int(spool["spool"]), "length": "3 mm"}
    assert stocked.post("/api/shop/spools/change", json=change).status_code == 200
    short = act(stocked, piece, "cut", spool["spool"])
    assert short.status_code == 409
    assert "3 mm left" in short.json["detail"]
    for text in ("ten", "-3 m", "11 km"):
        wrong = stocked.post("/api/shop/spools/change", json={"id": int(spool["spool"]), "length": text})
        assert wrong.status_code == 422, text
    wrong = stocked.post("/api/shop/spools", json={"text": "AS22759/32 20 AWG RD 30 m\nnonsense"})
    assert wrong.status_code == 422
    assert "Line 2" in wrong.json["detail"]
    assert len(stocked.get("/api/shop/spools").json["spools"]) == len(kept["spools"])


def test_a_spool_is_taken_out_and_put_back(stocked):
    spools = stocked.get("/api/shop/spools").json["spools"]
    gone = stocked.delete(f"/api/shop/spools?id={spools[0]['id']}", json={})
    assert len(gone.json["spools"]) == len(spools) - 1
    assert stocked.delete(f"/api/shop/spools?id={spools[0]['id']}", json={}).status_code == 404
    back = stocked.post(f"/api/shop/spools/restore?id={spools[0]['id']}", json={})
    assert back.json["spools"] == spools


def test_a_spool_that_is_too_short_is_a_finding_of_the_plan(client):
    part = client.get(f"{LARKSPUR}/cut-plan").json["plan"]["parts"][0]
    client.post("/api/shop/spools", json={"text": f"{part['part']} {part['colour']} 100 mm remnant"})
    reply = client.get(f"{LARKSPUR}/cut-plan").json
    assert [f["code"] for f in reply["findings"]] == ["spool-short"]
    assert reply["findings"][0]["remedies"]


@pytest.mark.parametrize("number", ["0", "-1", "99999999999999999999999", "x"])
def test_a_number_that_no_row_has_is_refused_not_stumbled_over(client, number):
    assert client.delete(f"/api/shop/spools?id={number}", json={}).status_code == 422
    assert client.post(f"/api/shop/spools/restore?id={number}", json={}).status_code == 422
    assert client.post(f"{LARKSPUR}/prints/again?job={number}", json={}).status_code == 422
    assert client.delete(f"{LARKSPUR}/prints?job={number}", json={}).status_code == 422
