"""The data file in trouble while the program runs: a sentence with its remedy, and nothing is lost."""

from __future__ import annotations

import sqlite3

import pytest
from sqlalchemy import event

import inkthread.storage.database as database
from inkthread.demo import demo_document
from inkthread.web import create_app
from tests.program import client_of

EDIT = [{"op": "replace", "path": "/brief/name", "value": "renamed"}]


@pytest.fixture
def running(tmp_path, monkeypatch):
    """A client, the address of a harness, and its file; a lock is waited for only a moment."""
    quick = ("busy_timeout=100", *database._PRAGMAS[1:])
    monkeypatch.setattr(database, "_PRAGMAS", quick)
    path = tmp_path / "data.db"
    app = create_app(path)
    client = client_of(app)
    made = client.post("/api/designs", json={"document": demo_document("dawdler-sketch")}).json
    yield client, f"/api/designs/{made['id']}", path, app.extensions["workshop"].shelf.engine
    app.extensions["workshop"].shelf.engine.dispose()


def edited(client, url):
    return client.patch(url, json=EDIT, headers={"If-Match": '"1"'})


def told(reply, status: int, *words: str) -> None:
    assert reply.status_code == status, reply.get_data(as_text=True)
    assert reply.content_type == "application/problem+json"
    for w in (*words, "Nothing was changed"):
        assert w in reply.json["detail"]


def each_connection(engine, pragma: str) -> None:
    @event.listens_for(engine, "connect")
    def say(connection, _record):
        connection.execute(f"PRAGMA {pragma}")

    engine.dispose()


def test_a_file_that_another_program_holds(running):
    client, url, path, _ = running
    other = sqlite3.connect(path, isolation_level=None)
    other.execute("BEGIN IMMEDIATE")
    told(edited(client, url), 503, "in use", "Close the other program")
    assert client.get(url).status_code == 200, "reading goes on"
    assert client.get(f"{url}/file").status_code == 200
    other.execute("ROLLBACK")
    other.close()
    assert edited(client, url).status_code == 200


def test_a_disk_that_is_full(running):
    client, url, path, engine = running
    pages = sqlite3.connect(path).execute("PRAGMA page_count").fetchone()[0]
    each_connection(engine, f"max_page_count={pages}")
    told(edited(client, url), 507, "disk is full", "Make room")
    assert client.get(url).json["document"] == demo_document("dawdler-sketch")
    each_connection(engine, "max_page_count=1000000")
    assert edited(client, url).status_code == 200


def test_a_file_that_may_only_be_read(running):
    client, url, _, engine = running
    each_connection(engine, "query_only=ON")
    told(edited(client, url), 503, "cannot be written")
    assert client.get(url).status_code == 200
    assert client.get("/api/designs").status_code == 200


def test_a_file_that_is_damaged_in_the_middle(running):
    client, url, path, engine = running
    engine.dispose()
    with sqlite3.connect(path) as file:
        file.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        (root,) = file.execute("SELECT rootpage FROM sqlite_master WHERE name = 'revisions'").fetchone()
    file.close()
    with path.open("r+b") as raw:
        raw.seek((root - 1) * 4096)
        raw.write(b"\xff" * 4096)
    reply = edited(client, url)
    assert reply.status_code == 500
    assert "damaged" in reply.json["detail"]
    assert "Traceback" not in reply.get_data(as_text=True)
    assert client.get("/api/designs").json["designs"][0]["name"], "the shelf is listed all the same"
