"""What the screens fetch when they are looked at: analysis, schematic, comparisons, pasted lists."""

from __future__ import annotations

import pytest

from tests.program import study, turn

LARKSPUR = "/api/designs/larkspur"


def stored(client):
    return client.get(LARKSPUR).get_json()


def test_loads_by_mode_follow_the_document(client):
    before = client.get(f"{LARKSPUR}/loads").get_json()
    assert before["modes"] == [""]
    (group,) = before["groups"]
    drawn = sum(x["current_a"] for x in stored(client)["document"]["circuits"]["loads"].values())
    assert group["demands"][0]["together_a"] == pytest.approx(drawn, rel=0.05)
    modes = {"a": {"order": 1, "name": "run"}, "b": {"order": 2, "name": "start"}}
    edit = [{"op": "add", "path": "/circuits/modes", "value": modes}]
    client.patch(LARKSPUR, json=edit, headers={"If-Match": '"1"'})
    after = client.get(f"{LARKSPUR}/loads").get_json()
    assert (after["version"], after["modes"]) == (2, ["run", "start"])


def test_the_schematic_names_every_load(client):
    drawn = client.get(f"{LARKSPUR}/schematic").get_json()["schematic"]
    loads = stored(client)["document"]["circuits"]["loads"]
    assert {f["load"] for f in drawn["feeds"]} == set(loads)


def test_comparisons_show_what_is_chosen_now(client):
    circuits = stored(client)["document"]["circuits"]["circuits"]
    wide = max(circuits, key=lambda c: len(circuits[c]["ends"]))
    ways = study(client, f"{LARKSPUR}/threading", id=wide).json["ways"]
    assert [w["threading"] for w in ways if w["chosen"]] == ["cascade"]
    families = study(client, f"{LARKSPUR}/families").json["families"]
    own = next(f for f in families if f["chosen"])
    assert own["grams"] == stored(client)["evaluation"]["tally"]["grams"]
    rows = study(client, f"{LARKSPUR}/headroom").json["rows"]
    assert {r["place"] for r in rows} == {"source", "fuse", "branch"}


def test_a_branch_cut_across_holds_its_wires(client):
    e = stored(client)["evaluation"]
    branch = max(e["route"]["wires"], key=lambda b: len(e["route"]["wires"][b]))
    circles = client.get(f"{LARKSPUR}/cross-section?id={branch}").get_json()["circles"]
    assert {c["thing"] for c in circles} == set(e["route"]["wires"][branch])
    for n, a in enumerate(circles):
        for b in circles[:n]:
            apart = ((a["x_mm"] - b["x_mm"]) ** 2 + (a["y_mm"] - b["y_mm"]) ** 2) ** 0.5
            assert apart >= (a["diameter_mm"] + b["diameter_mm"]) / 2 - 0.01


@pytest.mark.parametrize(
    "path", ["threading?id=C999", "cross-section?id=R999", "threading", "cross-section", "bench/none"]
)
def test_what_is_not_there_is_said(client, path):
    send = client.post if path.startswith("bench") else client.get
    kwargs = {"json": {"fields": {}}} if path.startswith("bench") else {}
    reply = send(f"{LARKSPUR}/{path}", **kwargs)
    assert reply.status_code in (404, 422)
    assert reply.get_json()["detail"]


LIST = "From\tTo\tColour\nA1-1\tZ9.1\tRD\nZ9.2\t\tBK\nA1-2\tZ9.3\tmauve"


def test_a_pasted_list_is_looked_at_then_put_in_as_one_edit(client):
    before = stored(client)
    look = client.post(f"{LARKSPUR}/paste/look", json={"text": LIST}).get_json()
    assert [c["meaning"] for c in look["columns"]] == ["from", "to", "colour"]
    assert [x["problem"] is None for x in look["lines"]] == [True, False, False]
    assert stored(client)["version"] == before["version"], "looking changes nothing"
    made = client.post(f"{LARKSPUR}/paste", json={"text": LIST}).get_json()
    assert made["version"] == before["version"] + 1
    assert made["undo_label"] == "a pasted list"
    assert "Z9" in made["document"]["circuits"]["devices"]
    back = turn(client, LARKSPUR).get_json()
    assert back["document"] == before["document"]


@pytest.mark.parametrize(
    "body",
    [
        {"text": ""},
        {"text": "nonsense"},
        {"text": LIST, "meanings": ["from", "from", "wrong"]},
        {"text": LIST, "meanings": ["leave out", "leave out", "leave out"]},
        {},
        {"text": LIST, "more": 1},
    ],
)
def test_a_list_that_cannot_be_put_in_changes_nothing(client, body):
    before = stored(client)
    reply = client.post(f"{LARKSPUR}/paste", json=body)
    assert reply.status_code == 422
    assert reply.get_json()["detail"]
    assert stored(client) == before


def test_route_acts_over_the_api_and_back(client):
    before = stored(client)
    branch = next(iter(before["document"]["route"]["branches"]))
    act = {"act": "insert_point", "text": "grommet 20", "about": branch}
    made = client.post(f"{LARKSPUR}/acts", json=act).get_json()
    cuts = {c["wire"]: c["cut_mm"] for c in made["evaluation"]["cut"]["cuts"]}
    assert cuts == {c["wire"]: c["cut_mm"] for c in before["evaluation"]["cut"]["cuts"]}
    act = {"act": "merge_point", "about": "grommet"}
    merged = client.post(f"{LARKSPUR}/acts", json=act).get_json()
    assert set(merged["document"]["route"]["branches"]) == set(before["document"]["route"]["branches"])


def test_a_bench_answer_is_put_in_as_one_edit(client):
    fields = {"practice": "vehicle", "amps": "3 A", "length": "1.5 m", "volts": "13.2 V"}
    before = stored(client)
    made = client.post(f"{LARKSPUR}/bench/wire", json={"fields": fields}).get_json()
    assert made["version"] == before["version"] + 1
    assert len(made["document"]["circuits"]["loads"]) == len(before["document"]["circuits"]["loads"]) + 1
    assert turn(client, LARKSPUR).get_json()["document"] == before["document"]
