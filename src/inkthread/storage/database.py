"""Opening the database: SQLite in WAL mode, foreign keys on, migrated to the newest schema.

Every commit is on the disk before it is answered (``synchronous=FULL``): an edit acknowledged is an edit
that a power cut does not take.
"""

from __future__ import annotations

import errno
import os
import sqlite3
import time
from pathlib import Path
from typing import Any

from pydantic_core import from_json, to_json
from sqlalchemy import Engine, create_engine, event, inspect, text
from sqlalchemy.exc import DatabaseError

from inkthread.storage.models import SCHEMA_HEAD, Base
from inkthread.storage.trouble import trouble_of

PRAGMAS = ("busy_timeout=5000", "foreign_keys=ON", "synchronous=FULL")
_PATIENCE_S, _PAUSE_S = 5.0, 0.02
"""While another process makes the same file's journal a write-ahead log, SQLite waits for none."""


def open_database(path: Path) -> Engine:
    """Open (or make) the database file and bring it to the newest schema.

    Raises OSError where the file cannot be opened, written, or is no database of this program.
    """
    path.parent.mkdir(parents=True, exist_ok=True)
    engine = create_engine(
        f"sqlite:///{path}",
        json_serializer=lambda value: to_json(value).decode(),
        json_deserializer=from_json,
    )

    @event.listens_for(engine, "connect")
    def _pragmas(connection: Any, _record: Any) -> None:
        _prepare(connection)

    try:
        schema = _schema_of(engine)
        if schema is not None and schema > SCHEMA_HEAD:
            said = (
                "It was made by a newer version of this program. Start that one; the file is left as it is."
            )
            raise OSError(errno.EIO, said, str(path))
        copy = _copy_of(path)
        if schema != SCHEMA_HEAD:
            if schema is not None:
                copy_online(path, copy)
            migrate(path)
        if copy.exists():
            # Kept until what came of it has been read.
            _read_through(engine)
            copy.unlink()
    except (DatabaseError, sqlite3.DatabaseError) as error:
        engine.dispose()
        trouble = trouble_of(error)
        raise OSError(errno.EIO, f"{trouble.what}. {trouble.remedy}", str(path)) from None
    except OSError:
        engine.dispose()
        raise
    return engine


def _prepare(connection: sqlite3.Connection) -> None:
    """Set up a connection that was just made."""
    cursor = connection.cursor()
    for pragma in PRAGMAS:
        cursor.execute(f"PRAGMA {pragma}")
    until = time.monotonic() + _PATIENCE_S
    while True:
        try:
            cursor.execute("PRAGMA journal_mode=WAL")
            break
        except sqlite3.OperationalError as error:
            if "is locked" not in str(error) or time.monotonic() > until:
                raise
            time.sleep(_PAUSE_S)
    cursor.close()


def _schema_of(engine: Engine) -> str | None:
    with engine.connect() as connection:
        if not inspect(connection).has_table("alembic_version"):
            return None
        version = connection.execute(text("SELECT version_num FROM alembic_version")).scalar()
    return str(version) if version is not None else None


def _copy_of(path: Path) -> Path:
    """Where a data file is copied to before its schema changes."""
    return path.with_name(f"{path.name}.before-{SCHEMA_HEAD}")


def copy_online(path: Path, copy: Path) -> None:
    """Copy a data file as it stands, whoever reads it meanwhile; whole under its name, or not at all.

    Raises OSError where there is none, sqlite3.DatabaseError where it cannot be read.
    """
    if not path.is_file():
        raise OSError(errno.ENOENT, os.strerror(errno.ENOENT), str(path))
    partial = copy.with_name(f"{copy.name}.part")
    partial.unlink(missing_ok=True)
    source, target = sqlite3.connect(path), sqlite3.connect(partial)
    try:
        source.backup(target)
        target.close()
        os.replace(partial, copy)
    finally:
        source.close()
        target.close()
        partial.unlink(missing_ok=True)


def _read_through(engine: Engine) -> None:
    """Read a row of every table as it is now declared. Raises DatabaseError where one does not hold."""
    with engine.connect() as connection:
        for table in Base.metadata.sorted_tables:
            connection.execute(table.select().limit(1)).all()


def migrate(path: Path) -> None:
    """Run all migrations that the file lacks, in one transaction: all of them are there afterwards, or
    none. Imports Alembic only here, so that starts are quick."""
    from alembic import command
    from alembic.config import Config

    engine = create_engine(f"sqlite:///{path}")

    @event.listens_for(engine, "connect")
    def _own_transactions(connection: Any, _record: Any) -> None:
        # The driver would end the transaction at every change of a table.
        connection.isolation_level = None
        _prepare(connection)

    @event.listens_for(engine, "begin")
    def _immediately(connection: Any) -> None:
        connection.exec_driver_sql("BEGIN IMMEDIATE")

    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
    config.set_main_option("path_separator", "os")
    try:
        with engine.begin() as connection:
            config.attributes["connection"] = connection
            command.upgrade(config, "head")
    finally:
        engine.dispose()
