"""Tools, hands, records and recall over the API: gauges, pulled samples, batches, and which pieces have what."""

from __future__ import annotations

import csv
import io

import pytest

from inkthread.storage import Shelf
from inkthread.storage.database import open_database
from inkthread.web import create_app
from tests.core.prove.test_diagnose import motors
from tests.core.scenarios import ruled, zoned
from tests.program import client_of
from tests.web.test_proving import URL, by_hand

LOG = "/api/designs/motors/tools"


@pytest.fixture
def client(tmp_path):
    path = tmp_path / "tools.db"
    engine = open_database(path)
    builder = ruled(zoned(motors(), vibration=True), hands_percent=90)
    for load in builder.plain["circuits"]["loads"].values():
        load["critical"] = True
    Shelf(engine).create(builder.plain, "motors")
    engine.dispose()
    app = create_app(path)
    yield client_of(app)
    app.extensions["workshop"].shelf.engine.dispose()


@pytest.fixture
def piece(client):
    """Posts about a piece that was begun."""
    client.post(f"{URL}/pieces", json={"serial": "N1"})

    def send(act: str, **body: object):
        reply = client.post(f"{URL}/pieces/N1/{act}", json=body)
        return reply.status_code, reply.json

    return send


def crimper(client) -> str:
    return next(t["code"] for t in client.get(f"{LOG}/log").json["tools"] if t["kind"] == "crimper")


def tool_of(reply, code: str) -> dict:
    return next(t for t in reply.json["tools"] if t["code"] == code)


def crimp_of(client, tool: str) -> str:
    steps = client.get("/api/designs/motors/work").json["steps"]
    return next(s["id"] for s in steps if s["work"] == "crimp" and s["tool"] == tool)


def test_a_gauge_stands_in_the_log_and_for_the_tool_in_every_design(client):
    code = crimper(client)
    assert tool_of(client.get(f"{LOG}/log"), code)["gauges"] == []
    client.post(f"{LOG}/gauges", json={"tool": code, "day": "2026-01-10", "result": "passed"})
    reply = client.post(
        f"{LOG}/gauges", json={"tool": code, "day": "2026-02-10", "result": "failed", "who": "Ada"}
    )
    tool = tool_of(reply, code)
    assert [(g["day"], g["result"]) for g in tool["gauges"]] == [
        ("2026-02-10", "failed"),
        ("2026-01-10", "passed"),
    ]
    assert tool["status"] == "worn"
    design = client.get("/api/designs/motors").json
    assert any(f["code"] == "tool-worn" for f in design["evaluation"]["findings"])
    again = client.delete(f"{LOG}/gauges?id={tool['gauges'][0]['id']}")
    assert tool_of(again, code)["status"] == "gauged"
    design = client.get("/api/designs/motors").json
    assert not any(f["code"] == "tool-worn" for f in design["evaluation"]["findings"])


def test_a_gauge_is_good_for_as_long_as_the_house_rule_says(client):
    """Motorsport: one year (house rule tool_gauge_years)."""
    code = crimper(client)
    reply = client.post(f"{LOG}/gauges", json={"tool": code, "day": "2020-03-01", "result": "passed"})
    tool = tool_of(reply, code)
    assert tool["overdue"]
    assert tool["due"] == "2021-03-01"


def test_what_was_crimped_since_the_last_good_gauge_is_named(client, piece):
    code = crimper(client)
    step = crimp_of(client, code)
    work = "/api/designs/motors/work/steps"
    client.post(work, json={"number": 1, "bench": "b", "who": "Ada", "steps": [step], "done": True})
    since = tool_of(client.get(f"{LOG}/log"), code)["since"]
    assert [(p["design"], p["serial"]) for p in since] == [("motors", "N1")]
    old = client.post(f"{LOG}/gauges", json={"tool": code, "day": "2020-03-01", "result": "passed"})
    assert len(tool_of(old, code)["since"]) == 1
    today = tool_of(old, code)["since"][0]["why"][0].split()[-1]
    new = client.post(f"{LOG}/gauges", json={"tool": code, "day": today, "result": "passed"})
    assert tool_of(new, code)["since"] == []


@pytest.mark.parametrize(
    ("body", "field"),
    [
        ({"tool": "T-NONE", "day": "2026-01-01"}, "/tool"),
        ({"tool": "T-OB-S", "day": "2026-02-30"}, "/day"),
        ({"tool": "T-OB-S", "day": "2999-01-01"}, "/day"),
    ],
)
def test_a_gauge_that_cannot_be_is_refused_by_field(client, body, field):
    reply = client.post(f"{LOG}/gauges", json={"result": "passed", **body})
    assert reply.status_code == 422
    assert reply.json["errors"][0]["path"] == field


def test_pulled_samples_show_a_hand_and_the_house_rule_asks_for_it(client, piece):
    setup = client.get(f"{LOG}/log").json["setups"][0]
    body = {k: setup[k] for k in ("contact", "wire", "tool")} | {"who": "Ada"}
    least = setup["least_n"]
    reply = client.post(f"{LOG}/pulls", json=body | {"forces": f"{least} {least - 0.1:.1f}, {least + 20} N"})
    assert [p["holds"] for p in reply.json["pulls"]] == [True, False, True]
    (hand,) = reply.json["hands"]
    assert (hand["who"], hand["held"], hand["tried"]) == ("Ada", 2, 3)
    bad = client.post(f"{LOG}/pulls", json=body | {"forces": "82 strong"})
    assert bad.status_code == 422
    assert bad.json["errors"][0]["path"] == "/forces"
    failed = next(p["id"] for p in reply.json["pulls"] if not p["holds"])
    reply = client.delete(f"{LOG}/pulls?id={failed}")
    assert reply.json["hands"][0]["tried"] == 2
    unknown = client.post(f"{LOG}/pulls", json=body | {"contact": "X-1", "forces": "80"})
    assert unknown.json["errors"][0]["path"] == "/contact"


def test_a_crimp_of_a_hand_that_has_shown_nothing_is_told_where_one_relies_on_it(client):
    code = crimper(client)
    steps = client.get("/api/designs/motors/work").json["steps"]
    crimps = [s["id"] for s in steps if s["work"] == "crimp" and s["tool"] == code]
    body = {"number": 1, "bench": "b", "who": "Ada", "steps": crimps, "done": True}
    state = client.post("/api/designs/motors/work/steps", json=body).json
    assert {f["code"] for f in state["findings"]} == {"hand-not-shown"}
    for setup in client.get(f"{LOG}/log").json["setups"]:
        forces = " ".join([f"{setup['least_n'] + 1:.1f}"] * 22)
        lot = {k: setup[k] for k in ("contact", "wire", "tool")} | {"who": "Ada", "forces": forces}
        assert client.post(f"{LOG}/pulls", json=lot).status_code == 200
    assert client.get("/api/designs/motors/work/state").json["findings"] == []


def test_tests_without_ohms_are_kept_judged_and_stand_in_the_way_of_signing(client, piece):
    rows = client.get(f"{URL}/plan").json["rows"]
    pull = next(r for r in rows if r["kind"] == "pull")
    status, state = piece("checks", row=pull["id"], text=f"{pull['least_n'] - 0.1} N", who="Ada")
    assert status == 200
    assert [(c["fine"], c["who"]) for c in state["checks"]] == [(False, "Ada")]
    assert "did not hold" in state["not_signed"]
    _, state = piece("checks", row=pull["id"], text=str(pull["least_n"]))
    assert [c["fine"] for c in state["checks"]] == [True]
    drop = next(r for r in rows if r["kind"] == "drop")
    _, state = piece("checks", row=drop["id"], text=str(drop["high_v"] + 0.01))
    assert [c["fine"] for c in state["checks"] if c["test"].startswith("drop")] == [False]
    _, state = piece("checks", row=drop["id"])
    assert len(state["checks"]) == 1
    assert piece("checks", row=drop["id"], text="bright")[0] == 422
    assert piece("checks", row=by_hand(client)[0]["id"], text="1")[0] == 422


def test_a_signed_record_has_batches_tests_gauges_and_can_be_recalled_by_each(client, piece):
    code = crimper(client)
    client.post(f"{LOG}/gauges", json={"tool": code, "day": "2026-01-10", "result": "passed"})
    part = client.get(f"{LOG}/log").json["setups"][0]["contact"]
    assert piece("batches", part="X-1", batch="B7")[0] == 422
    assert piece("batches", part=part, batch="B7", who="Ada")[0] == 200
    pull = next(r for r in client.get(f"{URL}/plan").json["rows"] if r["kind"] == "pull")
    piece("checks", row=pull["id"], text="900")
    assert client.get(f"{URL}/pieces/N1/record.csv").status_code == 409
    rows = by_hand(client)
    texts = [str(r["expected_ohm"]) if r["high_ohm"] is not None else "OL" for r in rows]
    readings = [
        {"a": "&".join(r["a"]), "b": "&".join(r["b"]), "moved": r["moved"], "text": text}
        for r, text in zip(rows, texts, strict=True)
    ]
    _, state = piece("readings", readings=readings, who="Ben")
    assert state["not_signed"] == ""
    assert piece("sign", who="Cleo")[0] == 200
    assert piece("batches", part=part, batch="B8")[0] == 409
    assert piece("checks", row=pull["id"], fine=False)[0] == 409
    table = list(csv.DictReader(io.StringIO(client.get(f"{URL}/pieces/N1/record.csv").text)))
    assert {"of": "batch", "what": part, "value": "B7", "unit": "", "holds": "", "who": "Ada"} in table
    assert any(line["of"] == "gauge" and line["what"] == code and line["holds"] == "yes" for line in table)
    assert sum(line["of"] == "reading" for line in table) == len(rows)
    assert any(line["of"] == "test" and line["value"] == "900.0" for line in table)
    assert client.get(f"{URL}/pieces/N1/record.pdf").status_code == 200
    for what, why in (
        ("B7", "of batch B7"),
        (code, "made with"),
        ("Ben", "measured by"),
        ("Cleo", "signed by"),
    ):
        (found,) = client.get(f"/api/recall?what={what}").json["pieces"]
        assert found["serial"] == "N1"
        assert any(why in words for words in found["why"])
    assert client.get("/api/recall?what=B99").json["pieces"] == []
    # Taken off the shelf, its pieces are still out there.
    assert client.delete("/api/designs/motors").status_code in (200, 204)
    (found,) = client.get("/api/recall?what=B7").json["pieces"]
    assert (found["serial"], found["design"]) == ("N1", "motors")
