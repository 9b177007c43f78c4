"""Opening the database: SQLite in WAL mode, foreign keys on, migrated to the newest schema."""

from __future__ import annotations

import errno
from pathlib import Path
from typing import Any

from pydantic_core import from_json, to_json
from sqlalchemy import Engine, create_engine, event, inspect, text
from sqlalchemy.exc import DatabaseError

from inkthread.storage.models import SCHEMA_HEAD


def open_database(path: Path) -> Engine:
    """Open (or make) the database file and bring it to the newest schema.

    Raises OSError where the file cannot be opened, written, or is no database.
    """
    path.parent.mkdir(parents=True, exist_ok=True)
    engine = create_engine(
        f"sqlite:///{path}",
        json_serializer=lambda value: to_json(value).decode(),
        json_deserializer=from_json,
    )

    @event.listens_for(engine, "connect")
    def _pragmas(connection: Any, _record: Any) -> None:
        cursor = connection.cursor()
        for pragma in ("journal_mode=WAL", "foreign_keys=ON", "synchronous=NORMAL", "busy_timeout=5000"):
            cursor.execute(f"PRAGMA {pragma}")
        cursor.close()

    try:
        if _schema_of(engine) != SCHEMA_HEAD:
            migrate(engine)
    except DatabaseError as error:
        engine.dispose()
        raise OSError(errno.EIO, f"cannot be used as a database ({error.orig})", str(path)) from None
    return engine


def _schema_of(engine: Engine) -> str | None:
    if not inspect(engine).has_table("alembic_version"):
        return None
    with engine.connect() as connection:
        found = connection.execute(text("SELECT version_num FROM alembic_version")).scalar()
    return str(found) if found is not None else None


def migrate(engine: Engine) -> None:
    """Run all migrations that the database lacks. Imports Alembic only here, so that starts are quick."""
    from alembic import command
    from alembic.config import Config

    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
    config.set_main_option("path_separator", "os")
    with engine.begin() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, "head")
