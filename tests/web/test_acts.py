"""Typed lines and one-step acts through the API, and reading by more than one hand."""

from __future__ import annotations

import threading

import pytest

from inkthread.web import create_app
from tests.program import client_of, turn


@pytest.fixture
def harness(tmp_path):
    app = create_app(tmp_path / "acts.db")
    client = client_of(app)
    made = client.post("/api/designs", json={"name": "acts", "practice": "vehicle"}).json
    yield Hand(client, made["id"])
    app.extensions["workshop"].shelf.engine.dispose()


class Hand:
    """One client of one harness, always editing the version it saw last."""

    def __init__(self, client, design_id):
        self.client, self.url, self.version = client, f"/api/designs/{design_id}", 1

    def keep(self, reply):
        if reply.status_code == 200:
            self.version = reply.json["version"]
        return reply

    def act(self, act, text="", about=""):
        body = {"act": act, "text": text, "about": about}
        return self.keep(self.client.post(f"{self.url}/acts", json=body))

    def patch(self, *operations):
        return self.keep(
            self.client.patch(self.url, json=list(operations), headers={"If-Match": f'"{self.version}"'})
        )

    def document(self):
        return self.client.get(self.url).json["document"]


def test_a_new_pin_gets_the_next_free_cavity_and_the_connector_grows(harness):
    harness.act("feed", "M1 pump 2 A")
    assert harness.document()["ends"]["connectors"]["M1"]["ways"] == 2
    reply = harness.act("pin", "T tacho", "M1")
    assert reply.status_code == 200
    document = reply.json["document"]
    assert document["circuits"]["devices"]["M1"]["pins"]["T"]["name"] == "tacho"
    assert document["ends"]["pinout"]["M1.T"]["cavity"] == "3"
    assert document["ends"]["connectors"]["M1"]["ways"] == 3
    assert harness.act("pin", "T again", "M1").status_code == 422
    assert harness.act("pin", "x", "M9").status_code == 422


def test_a_connector_that_cannot_grow_says_what_to_do(harness):
    harness.act("feed", "E1 lamp 1 A")
    for n in range(4):
        assert harness.act("pin", f"p{n}", "E1").status_code == 200
    full = harness.act("pin", "p9", "E1")
    assert full.status_code == 422
    assert "no way free" in full.json["detail"]
    assert "larger family" in full.json["detail"]


def test_pins_that_lost_their_place_are_placed_again(harness):
    harness.act("feed", "B1 battery > F1 fuse > M1 pump 2 A > B1")
    harness.act("run", "B1 100 > F1 300 > M1")
    harness.patch({"op": "remove", "path": "/ends/pinout/M1.+"})
    reply = harness.act("place", "", "M1")
    assert reply.json["document"]["ends"]["pinout"]["M1.+"]["cavity"] == "1"
    assert reply.json["evaluation"]["tally"]["wires"] == 3
    assert harness.act("place", "", "nobody").status_code == 422


def test_joining_two_circuits_makes_them_one(harness):
    harness.act("feed", "B1 battery > F1 fuse")
    harness.act("feed", "E1 lamp 1 A")
    harness.act("feed", "E2 lamp 1 A")
    harness.act("feed", "E1.+ > E2.+")
    reply = harness.act("feed", "F1.out > E1.+")
    joined = [set(c["ends"]) for c in reply.json["document"]["circuits"]["circuits"].values()]
    assert {"F1.out", "E1.+", "E2.+"} in joined
    harness.act("feed", "E1.- > E2.-")
    harness.act("feed", "B1.- > F1.in")
    merged = harness.act("feed", "E1.- > B1.-").json["document"]["circuits"]["circuits"]
    assert sum("E2.-" in c["ends"] for c in merged.values()) == 1


def test_an_act_is_worked_out_on_the_newest_version(harness):
    harness.act("feed", "E1 lamp 1 A")
    other = Hand(harness.client, harness.url.rsplit("/", 1)[1])
    reply = other.act("feed", "E2 lamp 1 A")
    assert reply.status_code == 200
    assert set(reply.json["document"]["circuits"]["devices"]) == {"E1", "E2"}


def test_many_hands_at_once_lose_nothing(harness):
    """Eight threads each put in a lamp and rename nothing of the others."""
    failures = []

    def put(n: int) -> None:
        client = client_of(harness.client.application)
        reply = client.post(f"{harness.url}/acts", json={"act": "feed", "text": f"E{n} lamp 1 A"})
        if reply.status_code != 200:
            failures.append((n, reply.json))

    threads = [threading.Thread(target=put, args=(n,)) for n in range(1, 9)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert failures == []
    document = harness.document()
    assert set(document["circuits"]["devices"]) == {f"E{n}" for n in range(1, 9)}
    orders = [d["order"] for d in document["circuits"]["devices"].values()]
    assert len(set(orders)) == len(orders)


def test_undo_goes_all_the_way_back_and_redo_all_the_way_forward(harness):
    lines = ["B1 battery > F1 fuse > M1 pump 5 A > B1", "F1.out > E1 lamp 2 A > B1", "A1 controller 1 A"]
    states = [harness.document()]
    for line in lines:
        harness.act("feed", line)
        states.append(harness.document())
    for state in reversed(states[:-1]):
        assert turn(harness.client, harness.url).json["document"] == state
    assert turn(harness.client, harness.url).status_code == 409
    for state in states[1:]:
        assert turn(harness.client, harness.url, "redo").json["document"] == state
    assert turn(harness.client, harness.url, "redo").status_code == 409


def test_an_edit_that_changes_nothing_makes_no_version(harness):
    harness.act("feed", "E1 lamp 1 A")
    before = harness.version
    test = {"op": "test", "path": "/brief/name", "value": "acts"}
    assert harness.patch(test).json["version"] == before
    assert harness.patch({**test, "value": "else"}).status_code == 422


def test_what_is_taken_out_goes_with_all_that_names_it_and_comes_back_whole(harness):
    harness.act("feed", "B1 battery > F1 fuse > M1 pump 2 A > B1")
    harness.act("run", "B1 100 > F1 300 > mid 200 > M1")
    harness.act("zone", "Engine bay 85 C")
    harness.patch({"op": "replace", "path": "/route/branches/R2/zone", "value": "engine-bay"})
    for act, about, gone in (
        ("take_out_device", "M1", ("circuits", "devices")),
        ("take_out_branch", "R3", ("route", "branches")),
        ("take_out_zone", "engine-bay", ("brief", "zones")),
    ):
        before = harness.document()
        reply = harness.act(act, "", about)
        assert reply.status_code == 200, reply.json
        assert about not in reply.json["document"][gone[0]][gone[1]]
        assert reply.json["undo_label"].startswith(f"take out {about}")
        assert turn(harness.client, harness.url).json["document"] == before
        assert harness.act(act, "", "nothing").status_code == 422
    document = harness.act("take_out_device", "", "M1").json["document"]
    assert set(document["ends"]["connectors"]) == {"B1", "F1"}
    assert document["circuits"]["loads"] == {}
    left = {ref for c in document["circuits"]["circuits"].values() for ref in c["ends"]}
    assert left == {"B1.+", "F1.in"}, "no circuit of one end is left"
    document = harness.act("take_out_branch", "", "R3").json["document"]
    assert set(document["route"]["points"]) == {"B1", "F1", "mid"}


def test_with_a_load_goes_its_way_in_the_fuse_block_and_the_edit_names_it(harness):
    harness.act("feed", "B1 battery > F1 fuse block > E1 lamp 2 A > B1")
    harness.act("feed", "F1 > E2 lamp 3 A > B1")
    harness.act("run", "B1 100 > F1 300 > mid 200 > E1")
    reply = harness.act("take_out_device", "", "E2").json
    block = reply["document"]["circuits"]["devices"]["F1"]
    assert set(block["pins"]) == {"in", "out1"}
    assert [p["to_pin"] for p in block["paths"].values()] == ["out1"]
    assert "F1.out2" not in reply["document"]["ends"]["pinout"]
    assert all(len(c["ends"]) > 1 for c in reply["document"]["circuits"]["circuits"].values())
    assert reply["undo_label"].startswith("take out E2, with ")
    assert "F1.out2" in reply["undo_label"]
    last = harness.act("take_out_device", "", "E1").json["document"]["circuits"]["devices"]["F1"]
    assert set(last["pins"]) == {"in", "out1"}, "a block of one way is a fuse, and stays"


@pytest.mark.parametrize(
    ("text", "zone", "ambient"),
    [
        ("Exhaust 130 C", "exhaust", 130),
        ("tail", "tail", 40),
        ("Cold room -20", "cold-room", -20),
        ("oven 212 F", "oven", 100),
    ],
)
def test_a_typed_zone_has_a_name_and_its_air(harness, text, zone, ambient):
    zones = harness.act("zone", text).json["document"]["brief"]["zones"]
    assert zones[zone]["ambient_c"] == pytest.approx(ambient)
    again = harness.act("zone", text).json["document"]["brief"]["zones"]
    assert set(again) - {"bay", "cabin", "road"} == {zone, f"{zone}-1"}, "beside those of its practice"
    assert harness.act("zone", "  ").status_code == 422


def test_a_line_is_looked_at_and_nothing_is_changed(client):
    before = client.get("/api/designs/larkspur").json["version"]
    look = client.post(
        "/api/designs/larkspur/acts/look", json={"act": "feed", "text": "F1 > M9 pump 2 A red > B1"}
    )
    assert look.status_code == 200
    assert look.json["problem"]["says"].startswith("'red' is not understood")
    assert any(x.startswith("M9 pump: motor or pump, 2 A") for x in look.json["says"])
    sound = client.post("/api/designs/larkspur/acts/look", json={"act": "feed", "text": "M9 gizmo 2 A"}).json
    assert sound["problem"] is None
    kind = next(g for g in sound["guesses"] if g["what"] == "is")
    assert all(c["line"].startswith("M9 gizmo 2 A (") for c in kind["choices"])
    # Every choice says what it names, and no more.
    for guess in sound["guesses"]:
        for choice in guess["choices"]:
            again = client.post(
                "/api/designs/larkspur/acts/look", json={"act": "feed", "text": choice["line"]}
            ).json
            now = next(g for g in again["guesses"] if g["what"] == guess["what"])
            assert now["chosen"] == choice["label"], choice
    assert client.get("/api/designs/larkspur").json["version"] == before


def test_a_harness_is_written_as_text_and_made_of_text_as_one_edit(client):
    whole = client.get("/api/designs/larkspur").json
    text = client.get("/api/designs/larkspur/text").json["text"]
    assert text.startswith("[brief]")
    looked = client.post("/api/designs/larkspur/text/look", json={"text": text}).json
    assert (looked["problems"], len(looked["made"]) > 20) == ([], True)
    smaller = (
        "[brief]\nname lamp\n[circuits]\nB1 battery > F1 fuse > E1 lamp 2 A > B1\n"
        "[route]\nB1 300 > F1 900 > E1"
    )
    made = client.put("/api/designs/larkspur/text", json={"text": smaller})
    assert made.status_code == 200
    assert list(made.json["document"]["circuits"]["devices"]) == ["B1", "F1", "E1"]
    refused = client.put("/api/designs/larkspur/text", json={"text": "[circuits]\nM1 pump 5 A wobbly"})
    assert refused.status_code == 422
    assert "wobbly" in refused.json["detail"] + str(refused.json["errors"])
    back = client.post("/api/designs/larkspur/undo", headers={"If-Match": f'"{made.json["etag"]}"'})
    assert back.json["document"] == whole["document"]


def test_one_more_of_a_device_is_like_it_and_joined_to_nothing(harness):
    harness.act("feed", "B1 battery > F1 fuse > M1 pump 2 A, peak 5 A for 1 s > B1")
    harness.act("run", "B1 100 > F1 300 > mid 200 > M1")
    before = harness.document()
    reply = harness.act("copy_device", "", "M1")
    document = reply.json["document"]
    first, second = (document["circuits"]["devices"][d] for d in ("M1", "M2"))
    assert {k: v for k, v in first.items() if k != "order"} == {
        k: v for k, v in second.items() if k != "order"
    }
    loads = [load for load in document["circuits"]["loads"].values() if load["device"] == "M2"]
    assert [(load["current_a"], load["peak_a"]) for load in loads] == [(2.0, 5.0)]
    assert document["ends"]["connectors"]["M2"]["family"] == document["ends"]["connectors"]["M1"]["family"]
    assert document["ends"]["connectors"]["M2"]["point"] is None
    assert document["ends"]["pinout"]["M2.+"]["cavity"] == document["ends"]["pinout"]["M1.+"]["cavity"]
    assert document["circuits"]["circuits"] == before["circuits"]["circuits"]
    assert "M3" in harness.act("copy_device", "", "M1").json["document"]["circuits"]["devices"]
    assert harness.act("copy_device", "", "Z9").status_code == 422


def test_one_more_of_a_branch_leaves_from_the_same_point(harness):
    harness.act("feed", "B1 battery > F1 fuse > M1 pump 2 A > B1")
    harness.act("run", "B1 100 > F1 300 > mid 200 > M1")
    before = harness.document()["route"]["branches"]
    last = list(before)[-1]
    branches = harness.act("copy_branch", "", last).json["document"]["route"]["branches"]
    (new,) = set(branches) - set(before)
    assert branches[new]["from_point"] == before[last]["from_point"]
    assert branches[new]["to_point"] not in {b["to_point"] for b in before.values()}
    assert branches[new]["length_mm"] == before[last]["length_mm"]
    assert harness.act("copy_branch", "", "R99").status_code == 422


def volts(reply) -> tuple[float, float]:
    brief = reply.json["document"]["brief"]
    return brief["supply_nominal_v"], brief["supply_working_v"]


def test_a_harness_begins_on_the_supply_that_is_typed(harness):
    typed = (("vehicle", ""), ("vehicle", "24 V"), ("aviation", "28"), ("motorsport", "16.8 V"))
    begun = [
        volts(harness.client.post("/api/designs", json={"name": "x", "practice": practice, "supply": supply}))
        for practice, supply in typed
    ]
    assert begun == [(12, 13.2), (24, 26.4), (28, 27.5), (16.8, 18.48)]
    refused = harness.client.post("/api/designs", json={"name": "x", "supply": "twelve"})
    assert refused.status_code == 422
    assert refused.json["errors"][0]["path"] == "/supply"


def test_the_working_supply_follows_the_nominal_one_until_it_is_set_apart(harness):
    nominal = {"op": "replace", "path": "/brief/supply_nominal_v", "value": "24 V"}
    first = harness.document()["brief"]
    assert volts(harness.patch(nominal)) == (
        24,
        round(24 * first["supply_working_v"] / first["supply_nominal_v"], 2),
    )
    assert volts(harness.keep(turn(harness.client, harness.url))) == (
        first["supply_nominal_v"],
        first["supply_working_v"],
    )
    harness.patch({"op": "replace", "path": "/brief/supply_working_v", "value": "12.6 V"})
    assert volts(harness.patch(nominal)) == (24, 12.6)
