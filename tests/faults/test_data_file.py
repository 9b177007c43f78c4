"""The data file in trouble while the program runs: a sentence with its remedy, and nothing is lost."""

from __future__ import annotations

import sqlite3
import subprocess
import sys
from datetime import date

import pytest
from sqlalchemy import event

import inkthread.storage.database as database
from inkthread.demo import demo_document
from inkthread.storage.copies import Copies
from inkthread.storage.database import open_database
from inkthread.web import create_app
from tests.program import client_of

EDIT = [{"op": "replace", "path": "/brief/name", "value": "renamed"}]


@pytest.fixture
def running(tmp_path, monkeypatch):
    """A client, the address of a harness, and its file; a lock is waited for only a moment."""
    quick = ("busy_timeout=100", *database.PRAGMAS[1:])
    monkeypatch.setattr(database, "PRAGMAS", quick)
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


def started(path) -> subprocess.CompletedProcess:
    return subprocess.run(
        [sys.executable, "-m", "inkthread.cli", "serve", "--port", "0", "--data", str(path)],
        capture_output=True,
        text=True,
        check=False,
        timeout=60,
    )


def spoil(path, how: str):
    """A data file in trouble, and what holds it so."""
    open_database(path).dispose()
    if how == "damaged":
        with path.open("r+b") as raw:
            raw.seek(100)
            raw.write(b"\xff" * 8000)
    elif how == "not one":
        path.write_text("a letter, not a data file " * 200)
    elif how == "newer":
        with sqlite3.connect(path) as file:
            file.execute("UPDATE alembic_version SET version_num = '9999'")
        file.close()
    elif how == "held":
        holder = sqlite3.connect(path, isolation_level=None)
        holder.execute("PRAGMA locking_mode=EXCLUSIVE")
        holder.execute("BEGIN EXCLUSIVE")
        holder.execute("CREATE TABLE held (x)")
        return holder
    return None


@pytest.mark.parametrize(
    ("how", "words", "remedy"),
    [
        ("damaged", "damaged", "copy"),
        ("not one", "damaged", "copy"),
        ("newer", "newer version", "Start that one"),
        ("held", "in use", "Close the other program"),
    ],
)
def test_a_start_on_a_file_in_trouble_is_a_sentence_with_its_remedy(tmp_path, how, words, remedy):
    path = tmp_path / "data.db"
    holder = spoil(path, how)
    # Reading the file here would let go of what this process holds it by.
    kept = path.read_bytes() if holder is None else b""
    try:
        done = started(path)
    finally:
        if holder is not None:
            holder.close()
    assert done.returncode == 2
    assert done.stdout == ""
    (line,) = done.stderr.splitlines()
    assert str(path) in line
    assert words in line
    assert remedy in line
    if holder is None:
        assert path.read_bytes() == kept, "it is left as it is"


def test_a_start_on_a_damaged_file_names_its_newest_copy(tmp_path):
    path = tmp_path / "data.db"
    open_database(path).dispose()
    copies = Copies(path)
    copies.daily(date(2026, 5, 4))
    spoil(path, "not one")
    done = started(path)
    assert f"inkthread restore {copies.folder / 'day-2026-05-04.db'}" in done.stderr
    copy = str(copies.folder / "day-2026-05-04.db")
    again = subprocess.run(
        [sys.executable, "-m", "inkthread.cli", "restore", copy, "--yes", "--data", str(path)],
        capture_output=True,
        text=True,
        check=False,
        timeout=60,
    )
    assert again.returncode == 0, again.stderr
    open_database(path).dispose()


def test_a_start_where_nothing_may_be_written_says_so(tmp_path):
    (tmp_path / "place").write_text("a file stands where the folder should be")
    done = started(tmp_path / "place" / "data.db")
    assert done.returncode == 2
    assert len(done.stderr.splitlines()) == 1
    assert "Traceback" not in done.stderr
