"""What is done at the machine over the API: fitting, the book of the harness, the machine's book, found ends."""

from __future__ import annotations

import io

import pypdf
import pytest

from inkthread.storage import Shelf
from inkthread.storage.database import open_database
from inkthread.web import create_app
from tests.core.prove.test_diagnose import motors
from tests.core.scenarios import zoned
from tests.program import client_of

DESIGN = "/api/designs/motors"
BOOK = f"{DESIGN}/prove/pieces/N1/machine"


@pytest.fixture
def client(tmp_path):
    path = tmp_path / "machine.db"
    engine = open_database(path)
    Shelf(engine).create(zoned(motors(), vibration=True).plain, "motors")
    engine.dispose()
    app = create_app(path)
    client = client_of(app)
    client.post(f"{DESIGN}/prove/pieces", json={"serial": "N1"})
    yield client
    app.extensions["workshop"].shelf.engine.dispose()


def test_fitting_and_first_power_are_told(client):
    reply = client.get(f"{DESIGN}/fitting").json
    assert next(s["kind"] for s in reply["fitting"]) == "begin"
    assert any(step["fuse"] for step in reply["power"])
    assert all(len(step["amperes"]) in (0, len(reply["modes"])) for step in reply["power"])


def test_the_book_comes_whole_or_by_section_and_a_wrong_one_is_named(client):
    listed = client.get(f"{DESIGN}/book").json
    assert listed["making"] is None
    assert {s["room"] for s in listed["sections"]} == {
        "brief", "circuits", "route", "wire", "ends", "cut", "dress", "parts", "build", "prove"
    }  # fmt: skip
    whole = client.get(f"{DESIGN}/book.pdf")
    assert len(pypdf.PdfReader(io.BytesIO(whole.data)).outline) == len(listed["sections"])
    one = client.get(f"{DESIGN}/book.pdf?sections=cut,tests&paper=Letter")
    reader = pypdf.PdfReader(io.BytesIO(one.data))
    assert [entry.title for entry in reader.outline] == ["Cut list", "Test sheet"]
    assert float(reader.pages[0].mediabox.width) == 792
    assert client.get(f"{DESIGN}/book.pdf?sections=nothing").json["errors"][0]["path"] == "sections"
    assert client.get(f"{DESIGN}/book.pdf?paper=A9").json["errors"][0]["path"] == "paper"


def test_why_it_fails_is_ranked_and_nonsense_is_named(client):
    load = next(iter(client.get(DESIGN).json["document"]["circuits"]["loads"].values()))
    reply = client.post(f"{DESIGN}/prove/later", json={"text": f"{load['device']} dead"}).json
    assert reply["explained"]
    assert sum(c["share"] for c in reply["causes"]) <= 1.01
    assert reply["device"].startswith(load["device"])
    refused = client.post(f"{DESIGN}/prove/later", json={"text": "Z9 dead"})
    assert refused.status_code == 422
    assert "Z9" in refused.json["detail"]


def test_the_machine_s_book_is_written_and_says_what_is_due(client):
    def write(**line: object):
        return client.post(BOOK, json={"day": "2020-01-01", **line})

    assert client.get(BOOK).json["fitted_at"] == ""
    reply = write(kind="fitted", place="cart 7", who="Ada").json
    assert reply["fitted_at"] == "cart 7"
    assert all(z["overdue"] for z in reply["zones"])
    reply = write(kind="inspected", place="all", day="2020-02-01").json
    assert [e["kind"] for e in reply["entries"]] == ["inspected", "fitted"]
    connector = reply["connectors"][0]
    assert write(kind="joined", place=connector, times=3).status_code == 200
    struck = client.delete(f"{BOOK}?id={reply['entries'][0]['id']}").json
    assert "inspected" not in [e["kind"] for e in struck["entries"]]
    assert write(kind="taken out", place="cart 7", day="2020-03-01").json["fitted_at"] == ""


@pytest.mark.parametrize(
    ("line", "field"),
    [
        ({"kind": "fitted", "place": ""}, "/place"),
        ({"kind": "joined", "place": "J99"}, "/place"),
        ({"kind": "inspected", "place": "moon"}, "/place"),
        ({"kind": "noted", "day": "2026-02-30"}, "/day"),
        ({"kind": "noted", "day": "2999-01-01"}, "/day"),
    ],
)
def test_a_line_that_cannot_be_is_refused_by_field(client, line, field):
    reply = client.post(BOOK, json={"day": "2020-01-01", **line})
    assert reply.status_code == 422
    assert reply.json["errors"][0]["path"] == field
    assert client.get(BOOK).json["entries"] == []


def test_an_end_is_found_by_what_its_label_says(client):
    design = client.get(DESIGN).json
    connector = next(iter(design["document"]["ends"]["connectors"]))
    name = design["document"]["brief"]["name"]
    for text in (connector, f"{name} {connector}", connector.lower()):
        (harness,) = client.get("/api/find", query_string={"text": text}).json["harnesses"]
        assert harness["design"] == "motors"
        assert harness["ends"][0]["id"] == connector
    assert client.get("/api/find?text=Z99").json["harnesses"] == []


def test_a_hidden_fault_answers_the_meter_and_the_score_tells_the_fewest(client):
    root = f"{DESIGN}/practice"
    told = client.get(f"{root}/fault?seed=5").json
    a, b = told["places"][:2]
    shows = client.get(f"{root}/probe", query_string={"seed": 5, "a": a, "b": b}).json["shows"]
    assert shows == "open" or "Ω" in shows
    answers = [
        client.get(f"{root}/answer?seed=5&suspect={n}&probes=3").json for n in range(len(told["suspects"]))
    ]
    assert sum(answer["right"] for answer in answers) == 1
    assert all(
        answer["words"] == told["suspects"][[x["right"] for x in answers].index(True)] for answer in answers
    )
    assert answers[0]["least"] >= 1
    assert client.get(f"{root}/probe", query_string={"seed": 5, "a": a, "b": "X9-9"}).status_code == 422
    assert client.get(f"{root}/drill?seed=5").status_code == 200
