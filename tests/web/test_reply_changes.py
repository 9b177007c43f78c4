"""What a window is sent after an edit: by the changes it comes to the very reply that would be sent whole."""

from __future__ import annotations

import gzip
import json
from typing import Any

import pytest
from tools.harnesses import synthetic

from inkthread.catalogue import shipped_catalogue
from inkthread.core.document import parse_document
from inkthread.core.evaluate import work_out
from inkthread.demo import demo_document
from inkthread.web.reply_changes import changes, plainly
from inkthread.web.schemas import DesignReply
from inkthread.web.views import as_json

DEMOS = ("larkspur", "dawdler", "glider", "mushroom")


def in_order(value: Any) -> Any:
    """The keys of all that is within, in their order; a figure is one however it is written."""
    if isinstance(value, dict):
        return [(key, in_order(v)) for key, v in value.items()]
    return [in_order(v) for v in value] if isinstance(value, list) else value


def applied(reply: dict[str, Any], operations: list[dict[str, Any]]) -> dict[str, Any]:
    """The operations done to a copy of plain data, the plainest way."""
    reply = json.loads(json.dumps(reply))
    for operation in operations:
        *way, last = operation["at"]
        parent: Any = reply
        for step in way:
            parent = parent[step]
        if "take" in operation:
            for key in operation["take"]:
                del parent[last][key]
        elif "arrange" in operation:
            before = parent[last]
            parent[last] = []
            for stretch in operation["arrange"]:
                own = [stretch["new"]] if isinstance(stretch, dict) else before[stretch[0] : sum(stretch)]
                parent[last] += own
        else:
            parent[last] = operation["put"]
    return reply


@pytest.mark.parametrize("name", DEMOS)
def test_plain_data_is_what_is_sent(name):
    w = work_out(parse_document(demo_document(name)), shipped_catalogue())
    model = DesignReply.model_construct(
        id=name,
        version=1,
        etag="",
        document=w.stated,
        evaluation=w.evaluation,
        undo_label=None,
        redo_label=None,
    )
    sent = json.loads(as_json(DesignReply, model))
    assert in_order(plainly(w.evaluation)) == in_order(sent["evaluation"])
    assert in_order(plainly(w.stated)) == in_order(sent["document"])


def put(path: str, value: object) -> list[dict[str, Any]]:
    return [{"op": "replace", "path": path, "value": value}]


@pytest.fixture
def larkspur_id(client) -> str:
    made: str = client.post("/api/designs", json={"document": demo_document("larkspur")}).json["id"]
    return made


def test_edits_one_after_another_bring_a_window_to_the_whole_reply(client, larkspur_id):
    held = client.get(f"/api/designs/{larkspur_id}").json
    loads, branches = held["document"]["circuits"]["loads"], held["document"]["route"]["branches"]
    load, branch = next(iter(loads)), next(iter(branches))
    device = loads[load]["device"]
    taken = next(iter(held["document"]["ends"]["pinout"]))
    edits = [
        put(f"/circuits/loads/{load}/current_a", loads[load]["current_a"] + 3),
        put(f"/circuits/devices/{device}/name", "another name"),
        put(f"/circuits/devices/{device}/order", 900.0),
        put("/brief/quantity", 3),
        put(f"/route/branches/{branch}/length_mm", 4321.0),
        [{"op": "remove", "path": f"/ends/pinout/{taken}"}],
        put("/wire/objective", "lightest"),
    ]
    for operations in edits:
        headers = {"If-Match": f'"{held["etag"]}"', "X-Holds": f'"{held["etag"]}"'}
        sent = client.patch(f"/api/designs/{larkspur_id}", json=operations, headers=headers).json
        assert sent["held"] == held["etag"], operations
        now = {
            **applied(held, sent["changes"]),
            **{k: sent[k] for k in ("version", "etag", "undo_label", "redo_label")},
        }
        held = client.get(f"/api/designs/{larkspur_id}").json
        assert in_order(now) == in_order(held), operations
    headers = {"If-Match": f'"{held["etag"]}"', "X-Holds": f'"{held["etag"]}"'}
    sent = client.post(f"/api/designs/{larkspur_id}/undo", json={}, headers=headers).json
    assert (
        applied(held, sent["changes"])["evaluation"]
        == client.get(f"/api/designs/{larkspur_id}").json["evaluation"]
    )


@pytest.mark.parametrize("said", ["", '"nonsense"', '"1-000000"', '"99-{catalogue}"', "-"])
def test_a_window_that_holds_what_nobody_knows_is_sent_the_whole(client, larkspur_id, said):
    held = client.get(f"/api/designs/{larkspur_id}").json
    catalogue = held["etag"].partition("-")[2]
    headers = {"If-Match": f'"{held["etag"]}"', "X-Holds": said.replace("{catalogue}", catalogue)}
    sent = client.patch(f"/api/designs/{larkspur_id}", json=put("/brief/name", "x"), headers=headers).json
    assert sent["document"]["brief"]["name"] == "x"
    assert "changes" not in sent


def test_of_an_edit_at_300_wires_little_is_sent(client):
    held = client.post("/api/designs", json={"document": synthetic(300)}).json
    load, stated = next(iter(held["document"]["circuits"]["loads"].items()))
    headers = {"If-Match": f'"{held["etag"]}"', "X-Holds": f'"{held["etag"]}"'}
    operations = put(f"/circuits/loads/{load}/current_a", stated["current_a"] + 0.1)
    sent = client.patch(f"/api/designs/{held['id']}", json=operations, headers=headers)
    assert len(gzip.compress(sent.data)) < 6_000


def test_a_window_fetches_only_what_another_one_changed(client, larkspur_id):
    url = f"/api/designs/{larkspur_id}"
    held = client.get(url).json
    same = client.get(url, headers={"X-Holds": f'"{held["etag"]}"'})
    assert same.json["changes"] == []
    connector = next(iter(held["document"]["ends"]["connectors"]))
    act = {"connector": connector, "act": "clear"}
    by_other = client.post(f"{url}/ends/pinout", json=act, headers={"X-Holds": f'"{held["etag"]}"'})
    sent = client.get(url, headers={"X-Holds": f'"{held["etag"]}"'})
    assert sent.json == by_other.json
    assert sent.headers["Cache-Control"] == "no-store", "under its ETag a browser keeps the whole reply"
    whole = client.get(url).json
    now = applied(held, sent.json["changes"])
    assert (now["document"], now["evaluation"]) == (whole["document"], whole["evaluation"])


def test_lists_are_arranged_of_what_stood_there():
    w = work_out(parse_document(demo_document("larkspur")), shipped_catalogue())
    findings = w.evaluation.findings
    assert len(findings) >= 5
    turned = (*findings[3:], *findings[1:3])
    (operation,) = changes(findings, turned, ("findings",))
    assert operation["arrange"] == [[3, len(findings) - 3], [1, 2]]
    assert list(changes(findings, tuple(findings), ("findings",))) == []
