"""A kill at any statement of the first start or of a migration leaves a file that opens."""

from __future__ import annotations

import multiprocessing
import os
import signal
import sqlite3
import threading
from collections.abc import Callable
from pathlib import Path

import pytest
from alembic import command
from alembic.config import Config
from sqlalchemy import Engine, create_engine, event

import inkthread.storage
from inkthread.core.document import parse_document
from inkthread.demo import demo_document
from inkthread.storage import Shelf, Shop
from inkthread.storage.database import _copy_of, open_database
from inkthread.storage.models import SCHEMA_HEAD, Base

MIGRATIONS = Path(inkthread.storage.__file__).parent / "migrations"
OLDER = ["0001", "0002", "0003"]
FORK = multiprocessing.get_context("fork")


def brought_to(path: Path, schema: str, go: Callable[[Config, str], None] = command.upgrade) -> None:
    """Bring a file to a schema."""
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    config.set_main_option("path_separator", "os")
    engine = create_engine(f"sqlite:///{path}")
    with engine.begin() as connection:
        config.attributes["connection"] = connection
        go(config, schema)
    engine.dispose()


def made_at(path: Path, schema: str) -> None:
    """A file of an older schema with a harness on its shelf."""
    brought_to(path, schema)
    with sqlite3.connect(path) as file:
        file.execute("PRAGMA journal_mode=WAL")
        file.execute(
            "INSERT INTO designs VALUES ('old', 'old one', 3, ?, '2026-01-01', '2026-01-02', NULL)",
            ('{"brief": {"name": "old one"}}',),
        )
    file.close()


def opened_until(path: Path, statement: int) -> None:
    """Open the file in this process, and die by a kill just before a statement is run."""
    seen = 0

    def count(*_: object) -> None:
        nonlocal seen
        seen += 1
        if seen > statement:
            os.kill(os.getpid(), signal.SIGKILL)

    event.listen(Engine, "before_cursor_execute", count)
    event.listen(Engine, "commit", count)
    open_database(path).dispose()
    os._exit(0)


def holds(path: Path, *, old: bool) -> None:
    """The file opens at the newest schema with what was in it, and no copy is left."""
    engine = open_database(path)
    shelf = Shelf(engine)
    assert [e.id for e in shelf.entries()] == (["old"] if old else [])
    made = shelf.create(demo_document("dawdler-sketch"))
    assert shelf.get(made.id).version == 1
    Shop(engine).keep_kind("mine", {})
    with sqlite3.connect(path) as file:
        assert file.execute("PRAGMA integrity_check").fetchone() == ("ok",)
        tables = {r[0] for r in file.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
        assert file.execute("SELECT version_num FROM alembic_version").fetchall() == [(SCHEMA_HEAD,)]
    file.close()
    assert tables >= set(Base.metadata.tables)
    assert not _copy_of(path).exists()
    engine.dispose()


@pytest.mark.parametrize("schema", [None, *OLDER])
def test_a_kill_at_any_statement_leaves_a_file_that_opens(tmp_path, schema):
    statement = 0
    while True:
        path = tmp_path / f"{statement}.db"
        if schema is not None:
            made_at(path, schema)
        child = FORK.Process(target=opened_until, args=(path, statement))
        child.start()
        child.join(30)
        assert child.exitcode in (0, -signal.SIGKILL)
        holds(path, old=schema is not None)
        if child.exitcode == 0:
            break
        statement += 1
    assert statement > 8, "it was killed again and again"


def test_a_harness_of_the_first_format_number_keeps_its_edits_and_what_undoes_them(tmp_path):
    path = tmp_path / "first.db"
    engine = open_database(path)
    shelf = Shelf(engine)
    made = shelf.create(demo_document("dawdler-sketch"))
    change = [{"op": "replace", "path": "/wire/objective", "value": "lightest"}]
    shelf.edit(made.id, lambda _: change, "the lightest", lambda *_: None)
    whole = {**shelf.get(made.id).document, "brief": demo_document("larkspur")["brief"]}
    shelf.overwrite(made.id, whole, "another brief")
    newest = shelf.get(made.id).document
    family = {"code": "MINE", "cavity_plug": {"code": "MINE-B"}}
    Shop(engine).keep_parts({"connectors": [family]})
    engine.dispose()
    brought_to(path, "0006", command.downgrade)
    with sqlite3.connect(path) as file:
        (before,) = file.execute("SELECT document FROM designs").fetchone()
    assert '"choice":"lightest"' in before
    assert '"format_number":1' in before
    with sqlite3.connect(path) as file:
        assert '"plug"' in file.execute("SELECT data FROM parts").fetchone()[0]
    shelf = Shelf(open_database(path))
    assert shelf.get(made.id).document == newest
    assert Shop(shelf.engine).parts()["connectors"] == [family]
    for objective in ("lightest", "least copper"):
        shelf.undo(made.id, shelf.get(made.id).version)
        document = shelf.get(made.id).document
        assert (document["format_number"], document["wire"]["objective"]) == (2, objective)
    parse_document(document)


def test_two_that_start_at_once_make_one_schema(tmp_path):
    path = tmp_path / "both.db"
    failed: list[BaseException] = []

    def start() -> None:
        try:
            open_database(path).dispose()
        except BaseException as error:
            failed.append(error)

    for _ in range(5):
        path.unlink(missing_ok=True)
        both = [threading.Thread(target=start) for _ in range(4)]
        for t in both:
            t.start()
        for t in both:
            t.join()
        assert failed == []
        holds(path, old=False)


def test_the_copy_stays_while_the_new_schema_cannot_be_read(tmp_path, monkeypatch):
    """Should a migration leave a table as the program does not know it, the file before it is there."""
    path = tmp_path / "old.db"
    made_at(path, "0003")
    before = sqlite3.connect(path).execute("SELECT * FROM designs").fetchall()

    def refuse(_engine: Engine) -> None:
        raise OSError("not readable")

    monkeypatch.setattr("inkthread.storage.database._read_through", refuse)
    with pytest.raises(OSError, match="not readable"):
        open_database(path)
    with sqlite3.connect(_copy_of(path)) as file:
        assert file.execute("SELECT version_num FROM alembic_version").fetchone() == ("0003",)
        assert file.execute("SELECT * FROM designs").fetchall() == before
    monkeypatch.undo()
    holds(path, old=True)


def test_a_file_of_a_newer_program_is_left_alone(tmp_path):
    path = tmp_path / "newer.db"
    open_database(path).dispose()
    with sqlite3.connect(path) as file:
        file.execute("UPDATE alembic_version SET version_num = '0999'")
    held = path.read_bytes()
    with pytest.raises(OSError, match="newer version"):
        open_database(path)
    assert path.read_bytes() == held
