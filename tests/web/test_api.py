"""The API as its screen uses it, and as a careless client would."""

from __future__ import annotations

import gzip
import json
import subprocess
from pathlib import Path

import pytest
from openapi_spec_validator import validate

from tests.conftest import harness
from tests.program import turn

ROOT = Path(__file__).parent.parent.parent
LARKSPUR = "/api/designs/larkspur"


def stored(client):
    return client.get(LARKSPUR).json


def patch(client, operations, version=1, **more):
    return client.patch(LARKSPUR, json=operations, headers={"If-Match": f'"{version}"'}, **more)


def test_an_edit_gives_the_new_version_and_a_fresh_evaluation(client):
    before = client.get(LARKSPUR)
    etag = before.headers["ETag"]
    reply = client.patch(
        LARKSPUR,
        json=[{"op": "replace", "path": "/circuits/loads/M1/current_a", "value": "11 A"}],
        headers={"If-Match": etag, "X-Label": "pump%20draws%2011"},
    )
    assert reply.status_code == 200
    assert reply.json["version"] == 2
    assert reply.headers["ETag"] != etag
    assert reply.json["undo_label"] == "pump draws 11"
    assert reply.json["document"]["circuits"]["loads"]["M1"]["current_a"] == 11.0
    assert reply.json["evaluation"]["wire"]["wires"]["C2"]["gauge"] == "14 AWG"
    assert client.get(LARKSPUR, headers={"If-None-Match": reply.headers["ETag"]}).status_code == 304
    back = turn(client, LARKSPUR).json
    assert back["document"] == before.json["document"]
    assert back["evaluation"] == before.json["evaluation"]
    assert turn(client, LARKSPUR, "redo").json["document"]["circuits"]["loads"]["M1"]["current_a"] == 11.0


def test_typed_text_is_read_in_the_documents_units(client):
    at = "/route/branches/R1/length_mm"
    assert (
        patch(client, [{"op": "replace", "path": at, "value": "9 1/4 in"}]).json["document"]["route"][
            "branches"
        ]["R1"]["length_mm"]
        == 234.95
    )
    patch(client, [{"op": "replace", "path": "/brief/units", "value": "inch"}], 2)
    assert (
        patch(client, [{"op": "replace", "path": at, "value": "10"}], 3).json["document"]["route"][
            "branches"
        ]["R1"]["length_mm"]
        == 254.0
    )
    rule = {
        "op": "add",
        "path": "/brief/house_rules/least_area_mm2",
        "value": {"order": 1, "value": "20 AWG", "reason": "hands"},
    }
    assert patch(client, [rule], 4).json["document"]["brief"]["house_rules"]["least_area_mm2"][
        "value"
    ] == pytest.approx(0.518, rel=1e-2)


def test_stale_edits_merge_or_are_refused_with_the_newer_document(client):
    patch(client, [{"op": "replace", "path": "/circuits/loads/M1/current_a", "value": 11}])
    merged = patch(client, [{"op": "replace", "path": "/brief/name", "value": "II"}])
    assert merged.status_code == 200
    assert merged.json["version"] == 3
    clash = patch(client, [{"op": "replace", "path": "/circuits/loads/M1/current_a", "value": 5}])
    assert clash.status_code == 412
    assert clash.json["current"]["version"] == 3
    assert clash.json["current"]["document"]["circuits"]["loads"]["M1"]["current_a"] == 11
    assert client.patch(LARKSPUR, json=[]).status_code == 428


def op(path, value, kind="replace"):
    return {"op": kind, "path": path, "value": value}


CARELESS = {
    "text that is no number": (
        [op("/circuits/loads/M1/current_a", "elephant")],
        422,
        "/circuits/loads/M1/current_a",
    ),
    "negative length": ([op("/route/branches/R1/length_mm", "-4")], 422, "/route/branches/R1/length_mm"),
    "absurd length": ([op("/route/branches/R1/length_mm", "900 km")], 422, "/route/branches/R1/length_mm"),
    "unknown field": ([op("/brief/colour", 1, "add")], 422, "/brief/colour"),
    "wrong format number": ([op("/format_number", 7)], 422, "/format_number"),
    "2 MB name": ([op("/brief/name", "x" * 2_000_000)], 422, "/brief/name"),
    "loop in the route": (
        [
            op(
                "/route/branches/R99",
                {"order": 99, "from_point": "T1", "to_point": "M1", "length_mm": 5},
                "add",
            )
        ],
        422,
        "/route/branches/R99",
    ),
    "circuit to no pin": (
        [op("/circuits/circuits/C1/ends/M1.zz", {"order": 9}, "add")],
        422,
        "/circuits/circuits/C1/ends/M1.zz",
    ),
    "more wires than cavities": (
        [op("/ends/pinout/A1.B/connector", "M1"), op("/ends/pinout/A1.B/cavity", "3")],
        422,
        "/ends/pinout/A1.B/cavity",
    ),
    "unknown part": ([op("/ends/connectors/M1/family", "X")], 422, "/ends/connectors/M1/family"),
    "unknown operation": ([{"op": "explode", "path": "/brief"}], 422, None),
    "path to nowhere": ([op("/nowhere/at/all", 1)], 422, "/nowhere/at/all"),
    "half a person": ([op("/brief/quantity", "1.5")], 422, "/brief/quantity"),
    "not a list": ({"op": "add"}, 422, None),
}


@pytest.mark.parametrize("case", CARELESS)
def test_bad_input_is_refused_by_field_and_remedy_and_nothing_changes(client, case):
    operations, status, path = CARELESS[case]
    before = stored(client)
    reply = patch(client, operations)
    assert reply.status_code == status
    assert reply.content_type == "application/problem+json"
    assert reply.json["detail"]
    assert reply.json["errors"][0]["message"]
    if path is not None:
        assert reply.json["errors"][0]["path"] == path
        assert reply.json["errors"][0]["remedy"]
    assert len(reply.data) < 4000
    assert stored(client) == before


@pytest.mark.parametrize("body", ["{nope", '[{"op":"add","path":"/brief/x","value":NaN}]', "[" * 50_000])
def test_malformed_json_is_refused(client, body):
    reply = client.patch(LARKSPUR, data=body, content_type="application/json", headers={"If-Match": '"1"'})
    assert reply.status_code == 400
    assert reply.json["title"] == "Malformed JSON"
    assert stored(client)["version"] == 1


def test_a_foreign_file_and_a_body_over_the_limit_are_refused(client):
    foreign = client.post("/api/designs", json={"document": {"format": "spreadsheet"}})
    assert foreign.status_code == 422
    assert foreign.json["errors"][0]["path"] == "/format"
    big = client.post("/api/designs", data=b" " * 9_000_000, content_type="application/json")
    assert big.status_code == 413
    assert "8 MB" in big.json["detail"]
    assert len(client.get("/api/designs").json["designs"]) == 2


def test_shelf_new_duplicate_remove_restore_export_import(client):
    made = client.post("/api/designs", json={"name": "lamp", "practice": "vehicle"})
    assert made.status_code == 201
    assert client.post("/api/designs", json={"name": "  "}).status_code == 422
    copied = client.post(f"{LARKSPUR}/duplicate").json
    assert copied["document"]["brief"]["name"] == "Larkspur copy"
    assert client.delete(f"/api/designs/{copied['id']}").status_code == 204
    assert client.get(f"/api/designs/{copied['id']}").status_code == 404
    assert client.post(f"/api/designs/{copied['id']}/restore").status_code == 200
    file = client.get(f"{LARKSPUR}/file")
    assert "larkspur.inkthread.json" in file.headers["Content-Disposition"]
    assert json.loads(file.data) == harness("chassis").plain
    again = client.post("/api/designs", json={"document": json.loads(file.data)})
    assert again.json["document"] == harness("chassis").plain
    names = [d["name"] for d in client.get("/api/designs").json["designs"]]
    assert sorted(names) == ["Dawdler, first sketch", "Larkspur", "Larkspur", "Larkspur copy", "lamp"]


def test_typed_lines_are_one_edit_each(client):
    made = client.post("/api/designs", json={"name": "lamp", "practice": "vehicle"}).json
    url = f"/api/designs/{made['id']}"
    first = client.post(
        f"{url}/acts", json={"act": "feed", "text": "B1 battery > F1 fuse > E1 lamp 2 A > B1"}
    )
    assert first.status_code == 200
    second = client.post(f"{url}/acts", json={"act": "run", "text": "B1 1 ft > F1 2.5 m > E1"})
    assert second.json["evaluation"]["tally"]["wires"] == 3
    wrong = client.post(f"{url}/acts", json={"act": "run", "text": "B1 > "})
    assert wrong.status_code == 422
    assert "nothing between" in wrong.json["detail"]
    assert turn(client, url).json["evaluation"]["tally"]["wires"] == 0


def test_reckonings_and_tables_are_fetched_when_asked_for(client):
    reply = client.get(f"{LARKSPUR}/reckoning?kind=gauge&id=C2").json
    assert reply["reckoning"]["title"] == "Why 16 AWG?"
    assert client.get(f"{LARKSPUR}/reckoning?kind=gauge&id=zz").status_code == 404
    assert client.get(f"{LARKSPUR}/reckoning?kind=zz&id=C2").status_code == 422
    table = client.get(f"{LARKSPUR}/tables/cut")
    assert table.data.decode().splitlines()[0].startswith("wire,part")
    assert client.get(f"{LARKSPUR}/tables/zz").status_code == 422


def test_what_travels_is_small_and_only_this_machine_is_answered(client):
    asked = {"Accept-Encoding": "gzip"}
    reply = client.get(LARKSPUR, headers=asked, environ_base={"REMOTE_ADDR": "192.0.2.1"})
    assert reply.headers["Content-Encoding"] == "gzip"
    # Ninety house rules and ten rooms with their sentences are the most of it.
    assert len(reply.data) < 12_250
    assert json.loads(gzip.decompress(reply.data))["id"] == "larkspur"
    # Packing takes longer than passing it on to a browser on this machine.
    near = client.get(LARKSPUR, headers=asked)
    assert "Content-Encoding" not in near.headers
    assert near.data == gzip.decompress(reply.data)
    assert "default-src 'self'" in reply.headers["Content-Security-Policy"]
    assert client.get("/api/designs", headers={"Host": "example.com"}).status_code == 421
    assert client.get("/api/nothing").status_code == 404


def test_published_contracts_are_current(client, tmp_path):
    from tools.contracts import contracts

    made = contracts()
    validate(json.loads(made["src/inkthread/web/openapi.json"]))
    assert json.loads(made["src/inkthread/web/openapi.json"]) == client.get("/api/openapi.json").json
    for name, text in made.items():
        assert (ROOT / name).read_text() == text, f"{name} is stale: run make types"
    fresh = tmp_path / "schema.ts"
    script = json.loads((ROOT / "frontend/package.json").read_text())["scripts"]["types"]
    command = script.replace("generated/schema.ts", str(fresh)).split()
    subprocess.run(
        ["node_modules/.bin/" + command[0], *command[1:]],
        cwd=ROOT / "frontend",
        check=True,
        capture_output=True,
    )
    assert (ROOT / "frontend/generated/schema.ts").read_text() == fresh.read_text(), "run make types"


def test_the_bench_answers_and_names_the_field_at_fault(client):
    asks = {c["name"]: c for c in client.get("/api/bench").json["calculators"]}
    assert set(asks) == {
        "wire",
        "drop",
        "ampacity",
        "fuse",
        "bus",
        "short-time",
        "fit",
        "splice",
        "kit",
        "lead",
        "cut",
        "bundle",
        "lay",
        "sleeve",
        "tape",
        "shrink",
        "label",
        "convert",
    }
    for calculator in asks.values():
        fields = {f["name"]: f["default"] or f["example"] for f in calculator["fields"] if f["required"]}
        reply = client.post(f"/api/bench/{calculator['name']}", json={"fields": fields})
        assert reply.status_code == 200, calculator["name"]
        assert reply.json["sentence"]
        assert reply.json["lines"]
        assert reply.json["sources"]
        for name in fields:
            if (calculator["name"], name) == ("label", "text"):
                continue  # a label may say anything
            wrong = client.post(f"/api/bench/{calculator['name']}", json={"fields": {**fields, name: "blue"}})
            assert wrong.status_code == 422
            if calculator["name"] != "convert":
                assert wrong.json["errors"][0]["path"] == f"/fields/{name}"
    assert client.post("/api/bench/nope", json={"fields": {}}).status_code == 404
    assert client.post("/api/bench/wire", json={"fields": {"amps": "3"}}).status_code == 422
