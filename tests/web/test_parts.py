"""Parts and ends over the API and the command line."""

from __future__ import annotations

import copy
import json

import pytest

from inkthread.cli import main
from inkthread.core.catalogue.own import COLUMNS
from tests.program import turn
from tests.web.test_api import LARKSPUR, stored


def test_what_is_at_hand_is_kept_and_held_against_a_harness(client):
    assert client.get("/api/shop/stock").json["entries"] == []
    nothing = client.get("/api/designs/larkspur/stock").json["coverage"]["lines"]
    code = next(x["code"] for x in nothing if x["group"] == "contact")
    kept = client.post("/api/shop/stock", json={"text": f"{code} 60 keep 20\nJ1128-TXL 18 AWG RD 30 m"}).json
    assert {e["id"]: (e["quantity"], e["unit"]) for e in kept["entries"]} == {
        code: (60, "pcs"), "J1128-TXL 18 AWG RD": (30, "m"),
    }  # fmt: skip
    refused = client.post("/api/shop/stock", json={"text": f"{code} 3\nS15-S-Z 3"})
    assert refused.status_code == 422
    assert "Line 2" in refused.json["detail"]
    assert client.get("/api/shop/stock").json["entries"][0]["quantity"] == 60
    covered = client.get("/api/designs/larkspur/stock").json["coverage"]
    line = next(x for x in covered["lines"] if x["code"] == code)
    assert line["at_hand"] == min(60, line["needed"])
    gone = client.delete(f"/api/shop/stock?id={code}").json["entries"]
    assert [e["code"] for e in gone] == ["J1128-TXL 18 AWG"]
    assert len(client.post(f"/api/shop/stock/restore?id={code}").json["entries"]) == 2
    assert client.delete("/api/shop/stock?id=nothing").status_code == 404


def test_parts_are_found_by_a_typed_need_and_rejected_ones_say_why(client):
    found = client.get("/api/catalogue/parts", query_string={"need": "sealed, 2 ways, 18 AWG thin wall"}).json
    assert "sealed" in found["understood"]
    assert found["count"] == len(found["rows"]) > 0
    assert all(r["reason"] for r in found["rejected"])
    assert client.get("/api/catalogue/parts", query_string={"need": "", "kind": "wheel"}).status_code == 422
    odd = client.get("/api/catalogue/parts", query_string={"need": "40 AWG thin wall"})
    assert odd.status_code == 422
    assert "40 AWG" in odd.json["detail"]
    assert len(client.get("/api/catalogue/parts", query_string={"limit": 3}).json["rows"]) == 3


def test_own_parts_are_copied_changed_taken_out_and_put_back(client):
    copied = client.post("/api/shop/parts/copy", json={"code": "SS15", "new_code": "MINE15", "name": "Mine"})
    assert copied.json["connectors"] == ["MINE15 Mine"]
    again = client.post("/api/shop/parts/copy", json={"code": "SS15", "new_code": "MINE15"})
    assert again.status_code == 422
    assert client.post("/api/shop/parts/copy", json={"code": "NO", "new_code": "X"}).status_code == 404
    file = client.get("/api/shop/parts.json").json
    file["connectors"][0]["name"] = "Mine, better"
    taken = client.post("/api/shop/parts", json={"text": json.dumps(file)})
    assert taken.json["connectors"] == ["MINE15 Mine, better"]
    table = client.get("/api/shop/parts.csv").data.decode()
    assert table.splitlines()[0] == ",".join(COLUMNS)
    assert client.post("/api/shop/parts", json={"text": table}).status_code == 200
    # A harness may use it; when it has gone, the rest is still evaluated and can be edited.
    tag = client.get(LARKSPUR).headers["ETag"]
    operations = [{"op": "replace", "path": "/ends/connectors/M1/family", "value": "MINE15"}]
    edited = client.patch(LARKSPUR, json=operations, headers={"If-Match": tag})
    assert edited.status_code == 200, edited.json
    assert client.delete("/api/shop/parts?kind=connectors&code=MINE15").json["connectors"] == []
    now = client.get(LARKSPUR)
    assert "part-gone" in [f["code"] for f in now.json["evaluation"]["findings"]]
    assert now.headers["ETag"] != edited.headers["ETag"]
    amps = [{"op": "replace", "path": "/circuits/loads/M1/current_a", "value": 3}]
    assert client.patch(LARKSPUR, json=amps, headers={"If-Match": now.headers["ETag"]}).status_code == 200
    back = client.post("/api/shop/parts/restore?kind=connectors&code=MINE15")
    assert back.json["connectors"] == ["MINE15 Mine, better"]
    assert "part-gone" not in [f["code"] for f in client.get(LARKSPUR).json["evaluation"]["findings"]]
    assert client.delete("/api/shop/parts?kind=connectors&code=NONE").status_code == 404


def test_a_bad_file_of_parts_takes_nothing(client):
    client.post("/api/shop/parts/copy", json={"code": "SS15", "new_code": "MINE15"})
    before = client.get("/api/shop/parts.json").json
    bad = copy.deepcopy(before)
    bad["connectors"][0]["contacts"][1]["price"] = -2
    bad["tools"] = [{"code": "GOOD", "description": "good", "kind": "crimper", "price": 3}]
    refused = client.post("/api/shop/parts", json={"text": json.dumps(bad)})
    assert refused.status_code == 422
    assert refused.json["errors"][0]["path"] == "/connectors/0/contacts/1/price"
    assert "Nothing was taken" in refused.json["detail"]
    assert client.get("/api/shop/parts.json").json == before


def test_an_unknown_family_is_still_refused_when_it_is_typed(client):
    tag = client.get(LARKSPUR).headers["ETag"]
    operations = [{"op": "replace", "path": "/ends/connectors/M1/family", "value": "NOPE"}]
    refused = client.patch(LARKSPUR, json=operations, headers={"If-Match": tag})
    assert refused.status_code == 422
    assert refused.json["errors"][0]["path"] == "/ends/connectors/M1/family"


def test_tools_are_owned_gauged_and_given_up(client):
    tools = client.get("/api/shop/tools").json["tools"]
    assert not any(t["owned"] for t in tools)
    body = {
        "certified": False,
        "gauged_on": "2026-03-01",
        "result": "failed",
        "note": "second hand",
        "borrowed": True,
    }
    mine = client.put("/api/shop/tools?code=T-OB-M", json=body).json["tools"]
    assert next(t for t in mine if t["code"] == "T-OB-M")["status"] == "worn"
    findings = [f["code"] for f in stored(client)["evaluation"]["findings"]]
    assert "tool-worn" in findings
    client.put("/api/shop/tools?code=T-OB-M", json={**body, "result": "passed"})
    findings = [f["code"] for f in stored(client)["evaluation"]["findings"]]
    assert "tool-worn" not in findings
    parts = stored(client)["evaluation"]["parts"]
    assert next(t for t in parts["tools"] if t["code"] == "T-OB-M")["owned"]
    before = parts["tooling_total"]
    client.delete("/api/shop/tools?code=T-OB-M")
    assert stored(client)["evaluation"]["parts"]["tooling_total"] > before
    assert client.put("/api/shop/tools?code=HAMMER", json=body).status_code == 404
    assert client.put("/api/shop/tools?code=T-OB-M", json={**body, "gauged_on": "soon"}).status_code == 422


def test_a_nest_is_noted_and_forgotten(client):
    end = client.get(f"{LARKSPUR}/ends/end", query_string={"ref": "M1.+"}).json["end"]
    nest = {
        "contact": end["contact"],
        "wire": end["wire"],
        "tool": end["tool"],
        "nest": "16-14",
        "note": "proven",
    }
    noted = client.put("/api/shop/nests", json=nest).json["proven"]
    assert noted[0]["nest"] == "16-14"
    again = client.get(f"{LARKSPUR}/ends/end", query_string={"ref": "M1.+"}).json["end"]
    assert (again["nest"], again["proven"]) == ("16-14", "proven")
    for wrong, said in (
        ({"tool": "HAMMER"}, "no tool 'HAMMER'"),
        ({"nest": "banana"}, "has no nest 'banana'"),
        ({"contact": "R16-Q-99"}, "no contact 'R16-Q-99'"),
        ({"wire": "AS22759/32 26 AWG"}, "has 0.15"),
        ({"wire": "STRING 3"}, "no wire 'STRING 3'"),
    ):
        refused = client.put("/api/shop/nests", json={**nest, **wrong})
        assert (refused.status_code, said in refused.json["detail"]) == (422, True), refused.json["detail"]
    assert client.put("/api/shop/nests", json={**nest, "nest": ""}).json["proven"] == []
    assert client.get(f"{LARKSPUR}/ends/end", query_string={"ref": "M1.zz"}).status_code == 404


def test_families_are_ranked_neighbours_scored_and_links_named(client):
    ranking = client.get(f"{LARKSPUR}/ends/choices?id=M1").json["ranking"]
    assert ranking["choices"][0]["grade"] in ("best", "better", "good")
    assert {c["family"] for c in ranking["choices"]} >= {"SR16"}
    near = client.get(f"{LARKSPUR}/ends/neighbours?id=A1").json
    assert near["standing"]["score"] >= 0
    links = client.get(f"{LARKSPUR}/weakest").json["links"]
    used = [x["carries_a"] / x["holds_a"] for x in links]
    assert used == sorted(used, reverse=True)
    assert max(used) <= 1
    for path in ("choices", "neighbours"):
        assert client.get(f"{LARKSPUR}/ends/{path}?id=NONE").status_code == 404


def ways_of(client, connector: str) -> dict[str, str]:
    pinout = stored(client)["document"]["ends"]["pinout"]
    return {r: e["cavity"] for r, e in pinout.items() if e["connector"] == connector}


def test_ways_are_given_out_exchanged_and_cleared_each_as_one_edit(client):
    before = ways_of(client, "A1")
    given = client.post(
        f"{LARKSPUR}/ends/pinout", json={"connector": "A1", "act": "give out", "rule": "by name"}
    )
    assert given.status_code == 200
    after = ways_of(client, "A1")
    assert set(before) <= set(after)
    assert turn(client, LARKSPUR).status_code == 200
    assert ways_of(client, "A1") == before
    a, b = list(before.values())[:2]
    swapped = client.post(f"{LARKSPUR}/ends/pinout", json={"connector": "A1", "act": "swap", "a": a, "b": b})
    assert swapped.json["undo_label"] == f"A1: {a} and {b} exchanged"
    client.post(f"{LARKSPUR}/ends/pinout", json={"connector": "A1", "act": "clear"})
    assert ways_of(client, "A1") == {}
    turn(client, LARKSPUR)
    assert len(ways_of(client, "A1")) == len(before)
    refused = [
        {"connector": "A1", "act": "give out", "rule": "at random"},
        {"connector": "A1", "act": "swap", "a": "1", "b": "99"},
    ]
    for body in refused:
        assert client.post(f"{LARKSPUR}/ends/pinout", json=body).status_code == 422
    assert client.post(f"{LARKSPUR}/ends/pinout", json={"connector": "ZZ", "act": "clear"}).status_code == 404


def test_what_was_worked_out_from_an_older_harness_is_not_put_in(client):
    from inkthread.web.parts_api import put_as_seen

    app = client.application
    with app.test_request_context():
        seen = app.extensions["workshop"].shelf.get("larkspur")
        tag = client.get(LARKSPUR).headers["ETag"]
        renamed = [{"op": "replace", "path": "/brief/machine", "value": "another"}]
        assert client.patch(LARKSPUR, json=renamed, headers={"If-Match": tag}).status_code == 200
        late = put_as_seen(seen, [{"op": "replace", "path": "/brief/name", "value": "late"}], "late")
    assert late.status_code == 409
    assert "repeat" in late.json["detail"]
    assert stored(client)["document"]["brief"]["name"] == "Larkspur"


def test_saying_what_is_on_the_device_gives_the_half_that_meets_it(client):
    body = {
        "connector": "M1",
        "family": "SR16",
        "ways": 2,
        "shell": "receptacle",
        "contact_gender": "pin",
        "key": "B",
    }
    made = client.post(f"{LARKSPUR}/ends/mate", json=body)
    assert made.status_code == 200, made.json
    connector = made.json["document"]["ends"]["connectors"]["M1"]
    assert (connector["shell"], connector["contact_gender"], connector["key"]) == ("plug", "socket", "B")
    assert client.post(f"{LARKSPUR}/ends/mate", json={**body, "family": "NOPE"}).status_code == 422
    assert client.post(f"{LARKSPUR}/ends/mate", json={**body, "connector": "ZZ"}).status_code == 404
    assert client.post(f"{LARKSPUR}/ends/mate", json={**body, "ways": 5}).status_code == 422
    itself = client.post(f"{LARKSPUR}/ends/mate", json={**body, "itself": True})
    assert itself.json["document"]["ends"]["connectors"]["M1"]["shell"] == "receptacle"
    # A shell carries what its family says it must.
    shelled = client.post(
        f"{LARKSPUR}/ends/mate",
        json={
            **body,
            "family": "DSTD",
            "ways": 9,
            "shell": "plug",
            "contact_gender": "socket",
            "key": "",
            "itself": True,
        },
    )
    assert shelled.json["document"]["ends"]["connectors"]["M1"]["contact_gender"] == "pin"
    # Ways that are named otherwise there: each pin goes to the way of its rank.
    lettered = client.post(f"{LARKSPUR}/ends/mate", json={**body, "family": "TW25", "key": ""})
    pinout = lettered.json["document"]["ends"]["pinout"]
    assert (pinout["M1.+"]["cavity"], pinout["M1.-"]["cavity"]) == ("A", "B")


def run(capsys, *arguments: str) -> tuple[int, str, str]:
    status = main(list(arguments))
    out = capsys.readouterr()
    return status, out.out, out.err


def test_search_fit_and_splice_on_the_command_line(capsys):
    status, out, _ = run(
        capsys, "catalogue", "search", "--kind", "connector", "--ways", "3", "--sealed", "--json"
    )
    rows = json.loads(out)
    assert status == 0
    assert rows
    assert all(r["ways"] == 3 and r["sealed"] for r in rows)
    status, out, _ = run(capsys, "catalogue", "search", "--kind", "tool", "--limit", "2", "--json")
    assert len(json.loads(out)) == 2
    status, out, _ = run(
        capsys, "reckon", "fit", "--wire", "AS22759/32 18 AWG", "--connector", "SR16", "--json"
    )
    fit = json.loads(out)
    assert status == 0
    assert set(fit) == {"fits", "contact", "seal", "plug", "strip_mm", "tool", "reasons"}
    assert fit["fits"] is True
    assert fit["strip_mm"] == 6.5
    status, out, _ = run(
        capsys, "reckon", "fit", "--wire", "J1128-SXL 14 AWG", "--connector", "SN06-P3", "--json"
    )
    assert (status, json.loads(out)["fits"]) == (1, False)
    status, out, _ = run(capsys, "reckon", "splice", "--in", "0.75mm2x2", "--out", "1.0mm2", "--json")
    joint = json.loads(out)
    assert (joint["total_mm2"], joint["larger_side_mm2"], joint["part"]) == (2.5, 1.5, "OB-2")
    assert joint["cover"]
    args = ("--in", "18 AWG", "--in", "20 AWG", "--out", "AS22759/16 16 AWG", "--kind", "sleeve")
    status, out, _ = run(capsys, "reckon", "splice", *args, "--json")
    assert json.loads(out)["kind"] == "sleeve"


@pytest.mark.parametrize(
    ("arguments", "says"),
    [
        (("reckon", "fit", "--wire", "18 AWG", "--connector", "SR16"), "name a family"),
        (("reckon", "fit", "--wire", "J1128-TXL 40 AWG", "--connector", "SR16"), "not made in 40 AWG"),
        (("reckon", "fit", "--wire", "J1128-TXL 18 AWG", "--connector", "XX9"), "not held here"),
        (("reckon", "fit", "--wire", "J1128-TXL 18 AWG", "--connector", "RING", "--stud", "M7"), "M7"),
        (("reckon", "splice", "--in", "lots", "--out", "1mm2"), "--in"),
        (("reckon", "splice", "--in", "1mm2x99", "--out", "1mm2"), "one to twelve"),
        (("reckon", "kit", "--housings", "many", "--contacts", "3"), "like 20x4"),
    ],
)
def test_bad_input_names_the_option_and_a_remedy(capsys, arguments, says):
    status, out, err = run(capsys, *arguments)
    assert (status, out) == (2, "")
    assert says in err


def test_parts_of_ones_own_on_the_command_line(capsys, tmp_path, client):
    data = tmp_path / "own.db"
    client.post("/api/shop/parts/copy", json={"code": "TW25", "new_code": "MINE25"})
    file = tmp_path / "parts.json"
    file.write_text(client.get("/api/shop/parts.json").data.decode())
    status, out, _ = run(capsys, "catalogue", "add", str(file), "--data", str(data))
    assert (status, out) == (0, "Taken: MINE25.\n")
    status, out, _ = run(capsys, "catalogue", "search", "MINE25", "--data", str(data), "--json")
    assert {r["family"] for r in json.loads(out)} == {"MINE25"}
    again = tmp_path / "again.json"
    assert run(capsys, "catalogue", "export", str(again), "--data", str(data))[0] == 0
    assert json.loads(again.read_text()) == json.loads(file.read_text())
    bad = tmp_path / "bad.csv"
    bad.write_text("code,price\nX,1\n")
    status, out, err = run(capsys, "catalogue", "add", str(bad), "--data", str(data))
    assert (status, out) == (2, "")
    assert "row 1" in err
    assert "nothing was taken" in err


def test_a_pattern_of_ones_own_is_kept_taken_out_and_put_back(client):
    shipped = client.get("/api/shop/patterns").json["patterns"]
    assert len(shipped) >= 4
    assert not any(p["own"] for p in shipped)
    body = {
        "label": "winch on a contactor",
        "why": "heavy",
        "lines": ["battery > F1 fuse > M1 winch 40 A > ground"],
    }
    kept = client.post("/api/shop/patterns", json=body).json["patterns"][0]
    assert (kept["label"], kept["own"], kept["lines"]) == (body["label"], True, body["lines"])
    put = client.post("/api/designs/larkspur/acts", json={"act": "pattern", "text": "\n".join(kept["lines"])})
    assert put.status_code == 200
    assert any(d["name"] == "winch" for d in put.json["document"]["circuits"]["devices"].values())
    gone = client.delete(f"/api/shop/patterns/{kept['id']}").json["patterns"]
    assert not any(p["own"] for p in gone)
    back = client.post(f"/api/shop/patterns/{kept['id']}/restore").json["patterns"]
    assert back[0]["id"] == kept["id"]
    refused = client.post("/api/shop/patterns", json={**body, "lines": ["M1 pump 5 A wobbly"]})
    assert (refused.status_code, "wobbly" in refused.json["detail"]) == (422, True)
    assert client.post("/api/shop/patterns", json={**body, "label": "7"}).status_code == 422
    assert client.delete("/api/shop/patterns/nothing").status_code == 404


def test_the_shops_conventions_are_kept_and_a_new_harness_begins_with_them(client):
    assert client.get("/api/shop/conventions").json == {"text": ""}
    refused = client.put("/api/shop/conventions", json={"text": "colours supply: VT\npaint it"})
    assert refused.status_code == 422
    assert "Line 2" in refused.json["detail"]
    lines = 'colours supply: VT\ncolours "horn": OG\nends fan: SS15\nunits inch, F, Letter\nmoney £ before'
    assert client.put("/api/shop/conventions", json={"text": lines}).json == {"text": lines}
    made = client.post("/api/designs", json={"name": "cart", "practice": "vehicle"}).json
    assert made["document"]["wire"]["role_colours"]["supply"]["colours"] == "VT"
    brief = made["document"]["brief"]
    assert (brief["units"], brief["mass_unit"], brief["temperature_unit"]) == ("inch", "g", "F")
    assert (brief["paper"], brief["currency"], brief["currency_first"]) == ("Letter", "£", True)
    fan = client.post(
        f"/api/designs/{made['id']}/acts",
        json={"act": "feed", "text": "M1 fan 2 A"},
        headers={"If-Match": "*"},
    ).json
    assert fan["document"]["ends"]["connectors"]["M1"]["family"] == "SS15"
    stands = client.get("/api/designs/larkspur").json
    assert "horn" not in stands["document"]["wire"]["circuit_colours"]
    assert stands["document"]["brief"]["units"] == "metric"
    took = client.post("/api/designs/larkspur/acts", json={"act": "house_colours", "text": ""}).json
    assert took["document"]["wire"]["circuit_colours"]["horn"]["colours"] == "OG"
    client.put("/api/shop/conventions", json={"text": ""})


def test_what_the_device_has_is_the_half_that_a_connector_meets(client):
    there = client.get(f"{LARKSPUR}/ends/mate?id=M1").json["half"]
    connector = client.get(LARKSPUR).json["document"]["ends"]["connectors"]["M1"]
    assert there["family"] == connector["family"]
    assert there["contact_gender"] != connector["contact_gender"] or connector["shell"] == "none"
    other = client.get(f"{LARKSPUR}/ends/mate?id=M1&family=SR16").json["half"]
    assert other["family"] == "SR16"
    assert other["ways"] >= connector["ways"]
    assert client.get(f"{LARKSPUR}/ends/mate?id=NONE").status_code == 404
    assert client.get(f"{LARKSPUR}/ends/mate?id=M1&family=NONE").status_code == 404
