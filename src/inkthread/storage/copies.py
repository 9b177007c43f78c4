"""Copies of the data file: one a day, one when asked for, and what of them is put back."""

from __future__ import annotations

import errno
import os
import re
import sqlite3
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from datetime import date, datetime
from pathlib import Path
from typing import Literal

from sqlalchemy import Engine, select
from sqlalchemy.orm import Session

from inkthread.core.record import record
from inkthread.storage.database import copy_online, open_database
from inkthread.storage.entries import StoredDesign
from inkthread.storage.models import (
    ConventionsRow,
    DesignRow,
    KindRow,
    NestRow,
    PartRow,
    PatternRow,
    StockRow,
    ToolRow,
)
from inkthread.storage.shelf import Shelf
from inkthread.storage.trouble import trouble_of

DAYS_KEPT = 7
_DAILY = re.compile(r"day-\d{4}-\d\d-\d\d\.db")
_COPY = re.compile(r"(day|asked|before-restore)-\d{4}-\d\d-\d\d(-\d{6})?\.db")

Here = Literal["same", "changed", "removed", "missing"]


@record
class Copied:
    """A copy in the folder of copies."""

    name: str
    made_at: datetime
    """UTC."""
    size_bytes: int


@record
class InCopy:
    """A harness as it stands in a copy, and how it stands here."""

    id: str
    name: str
    version: int
    changed_at: datetime
    here: Here
    """``same`` as in the copy, ``changed`` since, ``removed`` from the shelf, or ``missing`` altogether."""


def checked_copy(data: Path, target: Path) -> None:
    """Copy a data file while it is in use, open the copy and check it through.

    Raises OSError where that fails; then no copy is left under its name.
    """
    partial = target.with_name(f"{target.name}.part")
    try:
        copy_online(data, partial)
        copy = sqlite3.connect(partial)
        try:
            said = copy.execute("PRAGMA integrity_check(1)").fetchone()[0]
            copy.execute("SELECT count(*) FROM designs").fetchone()
            # One file, to be carried off: nothing of it may stand in a second one.
            copy.execute("PRAGMA journal_mode=DELETE")
        finally:
            copy.close()
        if said != "ok":
            raise sqlite3.DatabaseError(f"malformed: {said}")
        os.replace(partial, target)
    except sqlite3.DatabaseError as error:
        trouble = trouble_of(error)
        raise OSError(errno.EIO, f"{trouble.what}. {trouble.remedy}", str(data)) from None
    finally:
        partial.unlink(missing_ok=True)


def _sentence(error: OSError) -> str:
    """What the system or the database says, with a full stop."""
    said = error.strerror or str(error)
    return said if said.endswith(".") else f"{said}."


class Copies:
    """The copies kept beside a data file."""

    def __init__(self, data: Path) -> None:
        self.data = data
        self.folder = data.with_name("copies")
        self.trouble = ""
        """Why the last daily copy was not made, in words; empty where it was."""

    def all(self) -> list[Copied]:
        """Copies that are there, newest first."""
        copies = []
        with suppress(FileNotFoundError):
            for path in self.folder.iterdir():
                if _COPY.fullmatch(path.name):
                    seen = path.stat()
                    made_at = datetime.fromtimestamp(seen.st_mtime)
                    copies.append(Copied(path.name, made_at.astimezone(), seen.st_size))
        return sorted(copies, key=lambda c: (c.made_at, c.name), reverse=True)

    def path(self, name: str) -> Path:
        """Where a copy stands. Raises FileNotFoundError."""
        path = self.folder / name
        if not _COPY.fullmatch(name) or not path.is_file():
            raise FileNotFoundError(errno.ENOENT, "There is no such copy.", name)
        return path

    def make(self, now: datetime, why: str = "asked") -> Path:
        """Make a copy now. Raises OSError."""
        self.folder.mkdir(parents=True, exist_ok=True)
        target = self.folder / f"{why}-{now:%Y-%m-%d-%H%M%S}.db"
        checked_copy(self.data, target)
        return target

    def daily(self, today: date) -> bool:
        """Make the day's copy where it is not there yet, and let go of all but the newest seven days'.

        True where one was made. Where it fails the older ones stay, and ``trouble`` says why.
        """
        target = self.folder / f"day-{today.isoformat()}.db"
        if target.is_file():
            return False
        try:
            self.folder.mkdir(parents=True, exist_ok=True)
            checked_copy(self.data, target)
        except OSError as error:
            self.trouble = f"Today's copy could not be made. {_sentence(error)}"
            return False
        self.trouble = ""
        days = sorted((p for p in self.folder.iterdir() if _DAILY.fullmatch(p.name)), reverse=True)
        for path in days[DAYS_KEPT:]:
            path.unlink(missing_ok=True)
        return True


@contextmanager
def opened_copy(source: Path) -> Iterator[Engine]:
    """A data file of any earlier schema, opened without a change to it. Raises OSError."""
    if not source.is_file():
        raise OSError(errno.ENOENT, os.strerror(errno.ENOENT), str(source))
    with tempfile.TemporaryDirectory(prefix="inkthread-") as folder:
        copy = Path(folder) / "copy.db"
        try:
            copy_online(source, copy)
        except sqlite3.DatabaseError as error:
            trouble = trouble_of(error)
            raise OSError(errno.EIO, f"{trouble.what}. {trouble.remedy}", str(source)) from None
        try:
            engine = open_database(copy)
        except OSError as error:
            raise OSError(error.errno, error.strerror, str(source)) from None
        try:
            yield engine
        finally:
            engine.dispose()


def look(source: Engine, ours: Engine | None) -> list[InCopy]:
    """Harnesses on the shelf of a copy, newest change first, each with how it stands here."""
    row = DesignRow
    stands: dict[str, tuple[int, datetime, datetime | None]] = {}
    if ours is not None:
        with Session(ours) as session:
            asked = select(row.id, row.version, row.changed_at, row.deleted_at)
            stands = {i: (v, at, gone) for i, v, at, gone in session.execute(asked)}

    def how(design_id: str, version: int, changed_at: datetime) -> Here:
        stand = stands.get(design_id)
        if stand is None:
            return "missing"
        if stand[2] is not None:
            return "removed"
        return "same" if stand[:2] == (version, changed_at) else "changed"

    with Session(source) as session:
        wanted = (
            select(row.id, row.name, row.version, row.changed_at)
            .where(row.deleted_at.is_(None))
            .order_by(row.changed_at.desc())
        )
        return [InCopy(i, name, v, at, how(i, v, at)) for i, name, v, at in session.execute(wanted)]


def put_back(shelf: Shelf, source: Engine, design_id: str, label: str) -> StoredDesign:
    """Put a harness back as it stands in a copy: an edit like any other where it is known here, else with
    its whole history. Raises NotOnShelf where the copy has none of that id."""
    there = Shelf(source)
    if shelf.knows(design_id):
        return shelf.overwrite(design_id, there.get(design_id).document, label)
    return shelf.take_in(source, design_id)


def bring_in(shelf: Shelf, source: Engine, this_file: Engine) -> int:
    """Bring all harnesses of another data file in, and what its shop holds and this one does not.

    A harness that stands here already, otherwise, is put beside it. The number of harnesses brought in.
    """
    there = Shelf(source)
    brought = 0
    for item in reversed(look(source, this_file)):
        if item.here == "same":
            continue
        if item.here == "missing":
            shelf.take_in(source, item.id)
        elif item.here == "changed" and shelf.get(item.id).document == there.get(item.id).document:
            continue
        else:
            shelf.take_in(source, item.id, anew=True)
        brought += 1
    with Session(source) as theirs, Session(this_file) as ours:
        for table in (ConventionsRow, KindRow, PatternRow, PartRow, StockRow, ToolRow, NestRow):
            for row in theirs.scalars(select(table)):
                known = tuple(getattr(row, c.name) for c in table.__table__.primary_key)
                if ours.get(table, known) is None:
                    ours.add(table(**{c.name: getattr(row, c.name) for c in table.__table__.columns}))
        ours.commit()
    return brought


def _set_aside(data: Path, now: datetime) -> Path:
    """Keep a copy of a data file that is about to be replaced, or, where it is damaged, the file itself."""
    beside = [data.with_name(f"{data.name}{end}") for end in ("-wal", "-shm")]
    try:
        kept = Copies(data).make(now, "before-restore")
    except OSError:
        kept = data.with_name(f"{data.name}.damaged-{now:%Y-%m-%d-%H%M%S}")
        for path, end in ((data, ""), *zip(beside, ("-wal", "-shm"), strict=True)):
            with suppress(FileNotFoundError):
                os.replace(path, f"{kept}{end}")
        return kept
    with suppress(sqlite3.DatabaseError):
        file = sqlite3.connect(data)
        file.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        file.close()
    for path in beside:
        path.unlink(missing_ok=True)
    return kept


def restore(source: Path, data: Path, now: datetime) -> Path | None:
    """Put a copy in the place of the data file. Returns where the file that stood there is kept.

    The data file must be held. Raises OSError where the copy does not hold; nothing has changed then.
    """
    data.parent.mkdir(parents=True, exist_ok=True)
    fresh = data.with_name(f"{data.name}.restoring")
    for leftover in (fresh, Path(f"{fresh}-wal"), Path(f"{fresh}-shm")):
        leftover.unlink(missing_ok=True)
    try:
        checked_copy(source, fresh)
        open_database(fresh).dispose()
        checked_copy(fresh, fresh)
        kept = _set_aside(data, now) if data.exists() else None
        os.replace(fresh, data)
    finally:
        for leftover in (fresh, Path(f"{fresh}-wal"), Path(f"{fresh}-shm")):
            leftover.unlink(missing_ok=True)
    return kept
