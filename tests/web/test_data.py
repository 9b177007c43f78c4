"""Copies and the drawer of removed harnesses, as the shelf asks for them."""

from __future__ import annotations

import sqlite3

import pytest

from inkthread.demo import demo_document
from inkthread.storage import Shelf
from inkthread.storage.database import open_database
from inkthread.web import create_app
from tests.program import client_of


@pytest.fixture
def client(tmp_path, monkeypatch):
    monkeypatch.chdir(tmp_path)
    app = create_app(tmp_path / "data.db")
    app.extensions["workshop"].shelf.create(demo_document("dawdler-sketch"), "boat")
    yield client_of(app)
    app.extensions["workshop"].shelf.engine.dispose()


def renamed(client, name: str):
    version = client.get("/api/designs/boat").json["version"]
    edit = [{"op": "replace", "path": "/brief/name", "value": name}]
    assert (
        client.patch("/api/designs/boat", json=edit, headers={"If-Match": f'"{version}"'}).status_code == 200
    )


def test_a_copy_is_made_looked_into_and_a_harness_put_back(client, tmp_path):
    made = client.post("/api/data/copies")
    assert made.status_code == 201
    assert made.json["file"] == str(tmp_path / "data.db")
    (copy,) = made.json["copies"]
    assert (tmp_path / "copies" / copy["name"]).stat().st_size == copy["size_bytes"]
    renamed(client, "spoilt")
    url = f"/api/data/copies/{copy['name']}"
    (seen,) = client.get(url).json["designs"]
    assert (seen["id"], seen["here"], seen["version"]) == ("boat", "changed", 1)
    assert client.post(f"{url}/put-back", json={"designs": ["boat"]}).status_code == 200
    assert client.get("/api/designs/boat").json["document"] == demo_document("dawdler-sketch")
    assert client.get("/api/designs/boat").json["undo_label"].startswith("put back")


def test_what_is_not_in_a_copy_changes_nothing(client):
    name = client.post("/api/data/copies").json["copies"][0]["name"]
    renamed(client, "mine")
    refused = client.post(f"/api/data/copies/{name}/put-back", json={"designs": ["boat", "ghost"]})
    assert refused.status_code == 422
    assert refused.json["errors"][0]["path"] == "/designs/1"
    assert client.get("/api/designs/boat").json["document"]["brief"]["name"] == "mine"
    for wrong in ("ghost.db", "..%2Fdata.db", "day-2026-01-01.db"):
        assert client.get(f"/api/data/copies/{wrong}").status_code == 404
        put = client.post(f"/api/data/copies/{wrong}/put-back", json={"designs": ["boat"]})
        assert put.status_code in (404, 405)


def test_the_whole_file_is_carried_off_checked(client, tmp_path):
    with client.get("/api/data/file") as reply:
        whole = reply.data
    assert reply.mimetype == "application/vnd.sqlite3"
    path = tmp_path / "carried.db"
    path.write_bytes(whole)
    with sqlite3.connect(path) as file:
        assert file.execute("SELECT id FROM designs").fetchall() == [("boat",)]
    file.close()


def test_a_removed_harness_lies_in_the_drawer_until_it_is_put_back(client):
    client.delete("/api/designs/boat")
    (item,) = client.get("/api/data").json["removed"]
    assert item["id"] == "boat"
    assert item["kept_until"] > item["removed_at"]
    assert client.post("/api/designs/boat/restore").status_code == 200
    assert client.get("/api/data").json["removed"] == []


def test_an_earlier_place_is_offered_once(client, tmp_path):
    assert client.get("/api/data").json["earlier_file"] == ""
    (tmp_path / "var").mkdir()
    engine = open_database(tmp_path / "var/inkthread.db")
    Shelf(engine).create(demo_document("glider"), "tray")
    engine.dispose()
    seen = client.get("/api/data").json
    assert (seen["earlier_file"], seen["earlier_count"]) == (str(tmp_path / "var/inkthread.db"), 1)
    brought = client.post("/api/data/earlier")
    assert brought.json["earlier_file"] == "", "there is nothing left to bring in"
    assert {d["id"] for d in client.get("/api/designs").json["designs"]} == {"boat", "tray"}
    (tmp_path / "var/inkthread.db").write_bytes(b"no data file" * 100)
    assert client.get("/api/data").json["earlier_file"] == ""
    assert client.post("/api/data/earlier").status_code == 409


def test_a_copy_that_cannot_be_made_says_why(client, tmp_path):
    (tmp_path / "copies").write_text("a file stands where the folder should")
    reply = client.post("/api/data/copies")
    assert reply.status_code == 503
    assert "Nothing was changed" in reply.json["detail"]
