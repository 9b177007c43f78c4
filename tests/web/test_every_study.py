"""Every study of every demo over the API: whole, of this version, and with figures that can be used."""

from __future__ import annotations

import csv
import io
import json
import math

import pytest

from inkthread.demo import demo_document
from tests.program import client_of, study

DEMOS = ("larkspur", "dawdler", "glider", "mushroom")
STUDIES = ("loads", "schematic", "families", "future", "headroom", "weakest")


@pytest.fixture(scope="module")
def shelved(tmp_path_factory):
    """A client, and the id under which each demo stands on its shelf."""
    from inkthread.web import create_app

    app = create_app(tmp_path_factory.mktemp("studies") / "s.db")
    client = client_of(app)
    made = {n: client.post("/api/designs", json={"document": demo_document(n)}).json["id"] for n in DEMOS}
    return client, made


def figures(value: object) -> list[float]:
    if isinstance(value, dict):
        return [n for v in value.values() for n in figures(v)]
    if isinstance(value, list):
        return [n for v in value for n in figures(v)]
    return [float(value)] if isinstance(value, (int, float)) and not isinstance(value, bool) else []


def get(shelved, name: str, path: str, **query: str):
    client, made = shelved
    answer = study(client, f"/api/designs/{made[name]}{path}", **query)
    assert answer.status_code == 200, (name, path, query, answer.data[:300])
    return answer


@pytest.mark.parametrize("which", STUDIES)
@pytest.mark.parametrize("name", DEMOS)
def test_a_study_is_whole_and_its_figures_are_numbers(shelved, name, which):
    found = get(shelved, name, f"/{which}").json
    assert found["version"] == 1
    assert len(found) > 1
    assert all(math.isfinite(n) for n in figures(found))


@pytest.mark.parametrize("name", DEMOS)
def test_every_circuit_can_be_joined_in_five_ways(shelved, name):
    document = demo_document(name)
    for circuit_id, circuit in document["circuits"]["circuits"].items():
        if len(circuit["ends"]) < 3:
            continue
        ways = get(shelved, name, "/threading", id=circuit_id).json["ways"]
        assert {w["threading"] for w in ways} == {"cascade", "star", "daisy chain", "block", "home runs"}
        assert sum(bool(w["chosen"]) for w in ways) == 1
        assert all(w["metres"] > 0 for w in ways)


@pytest.mark.parametrize("name", DEMOS)
def test_every_branch_can_be_cut_across(shelved, name):
    evaluation = get(shelved, name, "").json["evaluation"]
    for branch in evaluation["route"]["branches"]:
        circles = get(shelved, name, "/cross-section", id=branch).json["circles"]
        if evaluation["dress"]["bundles"][branch]["estimated"]:
            continue
        radius = evaluation["dress"]["bundles"][branch]["tight_mm"] / 2
        for n, c in enumerate(circles):
            assert math.hypot(c["x_mm"], c["y_mm"]) + c["diameter_mm"] / 2 <= radius * 1.01 + 0.02
            for d in circles[:n]:
                apart = math.hypot(c["x_mm"] - d["x_mm"], c["y_mm"] - d["y_mm"])
                assert apart >= (c["diameter_mm"] + d["diameter_mm"]) / 2 - 0.02, "no wire lies in another"


@pytest.mark.parametrize("name", DEMOS)
def test_every_connector_has_choices_neighbours_and_ends(shelved, name):
    evaluation = get(shelved, name, "").json["evaluation"]
    for connector, ends in evaluation["ends"]["connectors"].items():
        ranking = get(shelved, name, "/ends/choices", id=connector).json["ranking"]
        assert ranking["choices"] or ranking["rejected"]
        standing = get(shelved, name, "/ends/neighbours", id=connector).json
        if standing["proposal"] is not None:
            assert standing["proposal"]["score"] < standing["standing"]["score"]
        for cavity in ends["cavities"]:
            if cavity["contact"] and cavity["pin"]:
                end = get(shelved, name, "/ends/end", ref=cavity["pin"], wire=cavity["wire"]).json["end"]
                assert end["contact"] == cavity["contact"]
                assert (end["connector"], end["cavity"]) == (connector, cavity["cavity"])
                assert end["turn"]


@pytest.mark.parametrize("table", ["wires", "bom", "cut"])
@pytest.mark.parametrize("name", DEMOS)
def test_tables_have_a_row_for_everything_on_screen(shelved, name, table):
    evaluation = get(shelved, name, "").json["evaluation"]
    text = get(shelved, name, f"/tables/{table}").data.decode("utf-8-sig")
    rows = list(csv.DictReader(io.StringIO(text)))
    wanted = {
        "wires": len(evaluation["wire"]["wires"]),
        "bom": len(evaluation["parts"]["lines"]),
        # A cable has a row of its own, and its cores theirs.
        "cut": len(evaluation["cut"]["cuts"]) + len(evaluation["cut"]["cables"]),
    }[table]
    assert len(rows) == wanted
    assert all(None not in r for r in rows), "no row has more fields than the header"


@pytest.mark.parametrize("name", DEMOS)
def test_the_design_file_comes_back_as_the_same_harness(shelved, name):
    client, _ = shelved
    file = json.loads(get(shelved, name, "/file").data)
    again = client.post("/api/designs", json={"document": file})
    assert again.status_code == 201, again.json
    before, after = (x["evaluation"] for x in (get(shelved, name, "").json, again.json))
    assert after == before


def test_what_a_relay_or_a_fuse_may_be_made_as_is_asked_for(shelved):
    client, made = shelved
    for device, names in (("K3", {"RBLK", "RBLKW", "TAB63"}), ("F2", {"fuse", "breaker"}), ("M1", set())):
        ways = get(shelved, "larkspur", "/alternatives", id=device).json["ways"]
        assert {w["name"].split(",")[0] for w in ways} == names
        assert all(math.isfinite(n) for n in figures(ways))
        assert sum(bool(w["chosen"]) for w in ways) == bool(ways)
        assert all(bool(w["operations"]) != w["chosen"] for w in ways)
    gone = client.get(f"/api/designs/{made['larkspur']}/alternatives?id=Q9")
    assert gone.status_code == 404


@pytest.mark.parametrize("name", DEMOS)
def test_every_bill_is_held_against_what_is_at_hand(shelved, name):
    found = get(shelved, name, "/stock").json["coverage"]
    bill = get(shelved, name, "").json["evaluation"]["parts"]["lines"]
    assert len(found["lines"]) == sum(not x["included"] for x in bill)
    assert all(x["to_buy"] >= x["needed"] - 1e-9 for x in found["lines"])
