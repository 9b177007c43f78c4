"""The shelf: designs with versions, edits with undo and redo across restarts."""

from __future__ import annotations

import threading
import uuid
from collections import OrderedDict
from collections.abc import Callable
from contextlib import nullcontext, suppress
from datetime import datetime, timedelta
from typing import Any, Literal, cast

from sqlalchemy import Connection, CursorResult, Engine, delete, select, update
from sqlalchemy.exc import DatabaseError
from sqlalchemy.orm import Session, defer

from inkthread.storage.entries import (
    Conflict,
    NothingToUndo,
    NotOnShelf,
    RemovedEntry,
    ShelfEntry,
    StoredDesign,
)
from inkthread.storage.models import DesignRow, RevisionRow, SummaryRow, utc_now
from inkthread.storage.patches import Operation, apply_with_inverse, disjoint, touched
from inkthread.storage.versions import (
    LABEL_AT_MOST,
    Outrun,
    Step,
    Version,
    labels_of,
    name_of,
    number_of,
    put_back,
    read_version,
    to_redo,
    to_undo,
    touched_since,
    write_edit,
    write_turn,
)

Validate = Callable[[Any, Any, tuple[str, int]], None]
"""Raises unless a document, the first argument, is valid.

The second is what stood before, the third the design and version that it stood in.
"""


_KEPT = 12
REMOVED_DAYS = 30
"""How long a removed design is kept in the drawer."""
_TRIES = 3
"""How often an edit is made with nothing held, before it is made with the lock held."""


def _columns(row: DesignRow | RevisionRow) -> dict[str, Any]:
    """What a row holds, by column."""
    return {c.name: getattr(row, c.name) for c in row.__table__.columns}


class Shelf:
    """All designs of one database."""

    def __init__(self, engine: Engine) -> None:
        self.engine = engine
        self._lock = threading.Lock()
        self._keeping = threading.Lock()
        self._newest: OrderedDict[str, Version] = OrderedDict()
        """Designs read or written last."""

    def entries(self, stamp: str = "") -> list[ShelfEntry]:
        """Designs that are not deleted, newest change first, with what was kept of them under a stamp.

        No document is read: one that is damaged does not hide the others.
        """
        row, kept = DesignRow, SummaryRow
        wanted = (
            select(row.id, row.name, row.version, row.changed_at, kept.version, kept.stamp, kept.data)
            .outerjoin(kept, kept.design_id == row.id)
            .where(row.deleted_at.is_(None))
            .order_by(row.changed_at.desc())
        )
        with Session(self.engine) as session:
            return [
                ShelfEntry(
                    design_id,
                    name,
                    version,
                    changed_at,
                    dict(data) if data is not None and (at, by) == (version, stamp) else None,
                )
                for design_id, name, version, changed_at, at, by, data in session.execute(wanted)
            ]

    def keep_summary(self, design_id: str, version: int, stamp: str, data: dict[str, Any]) -> None:
        """Keep what the shelf shows of a design at a version, in place of what was kept before.

        Where the file cannot be written it is not kept, and is worked out anew next time.
        """
        with suppress(DatabaseError), self._lock, Session(self.engine) as session:
            if session.get(DesignRow, design_id, options=[defer(DesignRow.document)]) is None:
                return
            row = session.get(SummaryRow, design_id)
            if row is None:
                session.add(SummaryRow(design_id=design_id, version=version, stamp=stamp, data=data))
            else:
                row.version, row.stamp, row.data = version, stamp, data
            session.commit()

    def create(self, document: dict[str, Any], design_id: str | None = None) -> StoredDesign:
        """Put a new design on the shelf."""
        with self._lock, Session(self.engine, expire_on_commit=False) as session:
            row = DesignRow(
                id=design_id or uuid.uuid4().hex[:12],
                name=name_of(document),
                version=1,
                document=document,
                created_at=utc_now(),
                changed_at=utc_now(),
                deleted_at=None,
            )
            session.add(row)
            session.commit()
            return StoredDesign(row.id, row.version, dict(document), None, None)

    def get(self, design_id: str) -> StoredDesign:
        """A design at its newest version. Raises NotOnShelf."""
        with self.engine.connect() as connection:
            return self._stored(connection, self._newest_of(connection, design_id))

    def version(self, design_id: str) -> int:
        """The newest version of a design, and nothing else read. Raises NotOnShelf."""
        with self.engine.connect() as connection:
            version = number_of(connection, design_id)
        if version is None:
            raise NotOnShelf(design_id)
        return version

    def remove(self, design_id: str) -> None:
        """Take a design off the shelf; ``restore`` puts it back. Raises NotOnShelf."""
        there = DesignRow.id == design_id, DesignRow.deleted_at.is_(None)
        with self._lock, Session(self.engine) as session:
            taken = session.execute(update(DesignRow).where(*there).values(deleted_at=utc_now()))
            if cast("CursorResult[Any]", taken).rowcount == 0:
                raise NotOnShelf(design_id)
            session.commit()

    def restore(self, design_id: str) -> StoredDesign:
        """Put a removed design back. Raises NotOnShelf."""
        with self._lock, self.engine.begin() as connection:
            put_back(connection, design_id)
        return self.get(design_id)

    def removed(self) -> list[RemovedEntry]:
        """Designs that were taken off the shelf and are kept still, the last first."""
        row = DesignRow
        wanted = select(row.id, row.name, row.deleted_at).where(row.deleted_at.is_not(None))
        with Session(self.engine) as session:
            return [
                RemovedEntry(i, name, at)
                for i, name, at in session.execute(wanted.order_by(row.deleted_at.desc()))
                if at is not None
            ]

    def empty_drawer(self, now: datetime) -> int:
        """Let go of designs removed more than thirty days before ``now`` (UTC). Returns how many."""
        before = now - timedelta(days=REMOVED_DAYS)
        with self._lock, Session(self.engine) as session:
            old = list(session.scalars(select(DesignRow.id).where(DesignRow.deleted_at < before)))
            session.execute(delete(DesignRow).where(DesignRow.id.in_(old)))
            session.commit()
            return len(old)

    def take_in(self, source: Engine, design_id: str, *, anew: bool = False) -> StoredDesign:
        """Take a design in from another database, with its history; ``anew`` beside the one of its id.

        Raises NotOnShelf where there is none, or where one of its id is here already.
        """
        with self._lock, Session(source) as theirs, Session(self.engine) as session:
            there = theirs.get(DesignRow, design_id)
            own_id = uuid.uuid4().hex[:12] if anew else design_id
            if there is None or session.get(DesignRow, own_id) is not None:
                raise NotOnShelf(design_id)
            row = DesignRow(**{**_columns(there), "id": own_id, "deleted_at": None})
            session.add(row)
            wanted = select(RevisionRow).where(RevisionRow.design_id == design_id)
            for revision in theirs.scalars(wanted.order_by(RevisionRow.version)):
                plain = _columns(revision)
                del plain["id"]
                session.add(RevisionRow(**{**plain, "design_id": own_id}))
            session.commit()
        return self.get(own_id)

    def knows(self, design_id: str) -> bool:
        """True where the design was ever on the shelf, even if removed since."""
        with Session(self.engine) as session:
            return session.scalar(select(DesignRow.id).where(DesignRow.id == design_id)) is not None

    def overwrite(self, design_id: str, document: dict[str, Any], label: str) -> StoredDesign:
        """Make a design this document, back on the shelf if it was removed; an edit like any other.

        Versions go on counting, so that a version never names two documents. Raises NotOnShelf.
        """
        operations: list[Operation] = [{"op": "replace", "path": "", "value": document}]
        with self._lock, self.engine.begin() as connection:
            put_back(connection, design_id)
            before = self._newest_of(connection, design_id)
            changed, inverse = apply_with_inverse(before.document, operations)
            now = write_edit(connection, before, Step(changed, operations, inverse, label))
        self._keep(now)
        return StoredDesign(design_id, now.number, dict(now.document), label[:LABEL_AT_MOST], None)

    def patch(
        self,
        design_id: str,
        base_version: int,
        operations: list[Operation],
        label: str,
        validate: Validate,
        read: Callable[[dict[str, Any], list[Operation]], list[Operation]] | None = None,
    ) -> StoredDesign:
        """Apply a patch made against a version. ``read`` may make values of what was typed in it first.

        A stale patch is rebased where it touches nothing that newer versions touched, else
        ``Conflict``. Raises PatchError, NotOnShelf, and whatever ``validate`` raises; nothing stored
        changes then.
        """

        def meant_now(connection: Connection, before: Version) -> list[Operation]:
            meant = read(before.document, operations) if read is not None else operations
            if base_version != before.number:
                theirs = touched_since(connection, before, base_version)
                if theirs is None or not disjoint(touched(meant), theirs):
                    raise Conflict(self._stored(connection, before))
            return meant

        return self._edited(design_id, meant_now, label, validate)

    def edit(
        self,
        design_id: str,
        make: Callable[[dict[str, Any]], list[Operation]],
        label: str | Callable[[list[Operation]], str],
        validate: Validate,
    ) -> StoredDesign:
        """Apply what ``make`` comes to on the newest document; made anew where somebody else was first.

        Raises PatchError, NotOnShelf, and whatever ``make`` and ``validate`` raise; nothing stored
        changes then.
        """
        return self._edited(design_id, lambda _, before: make(before.document), label, validate)

    def _edited(
        self,
        design_id: str,
        make: Callable[[Connection, Version], list[Operation]],
        label: str | Callable[[list[Operation]], str],
        validate: Validate,
    ) -> StoredDesign:
        """Make, apply and validate an edit with nothing held, then put it in if its version is still the
        newest, else once more on the one that is. One that is outrun again and again has its turn at last.
        """
        for turn in range(_TRIES + 1):
            with self._lock if turn == _TRIES else nullcontext():
                with self.engine.connect() as connection:
                    before = self._newest_of(connection, design_id)
                    operations = make(connection, before)
                changed, inverse = apply_with_inverse(before.document, operations)
                validate(changed, before.document, (design_id, before.number))
                called = label if isinstance(label, str) else label(operations)
                with self._lock if turn < _TRIES else nullcontext():
                    stored = self._put_in(before, Step(changed, operations, inverse, called))
            if stored is not None:
                return stored
        raise AssertionError("nobody else edits while the lock is held")

    def _put_in(self, before: Version, step: Step) -> StoredDesign | None:
        """Store an edit of a version. None where that is not the newest any more; the lock is held."""
        if not step.inverse:
            same = self.get(before.design_id)
            return same if same.version == before.number else None
        try:
            with self.engine.begin() as connection:
                now = write_edit(connection, before, step)
        except Outrun:
            return None
        self._keep(now)
        # What undo takes back is this edit, and there is nothing to bring back.
        return StoredDesign(now.design_id, now.number, dict(now.document), step.label[:LABEL_AT_MOST], None)

    def undo(self, design_id: str, meant_for: int) -> StoredDesign:
        """Take back the newest edit of the version it is meant for.

        Raises Conflict where the design has gone on since, NothingToUndo.
        """
        return self._turned(design_id, meant_for, "undo")

    def redo(self, design_id: str, meant_for: int) -> StoredDesign:
        """Bring back the edit that was undone last, at the version it is meant for.

        Raises Conflict where the design has gone on since, NothingToUndo.
        """
        return self._turned(design_id, meant_for, "redo")

    def _turned(self, design_id: str, meant_for: int, act: Literal["undo", "redo"]) -> StoredDesign:
        with self.engine.connect() as connection:
            before = self._newest_of(connection, design_id)
            edit = to_undo(connection, design_id) if act == "undo" else to_redo(connection, design_id)
            if before.number != meant_for:
                raise Conflict(self._stored(connection, before))
        if edit is None:
            raise NothingToUndo
        operations = edit.inverse if act == "undo" else edit.operations
        changed, inverse = apply_with_inverse(before.document, operations)
        step = Step(changed, operations, inverse, edit.label)
        try:
            with self._lock, self.engine.begin() as connection:
                now = write_turn(connection, before, step, edit, act)
                stored = self._stored(connection, now)
        except Outrun:
            raise Conflict(self.get(design_id)) from None
        self._keep(now)
        return stored

    def mend(self, design_id: str, reads: Callable[[dict[str, Any]], bool]) -> StoredDesign:
        """Take edits back until the document reads. Raises NothingToUndo where none does; nothing changes."""
        with self.engine.connect() as connection:
            before = self._newest_of(connection, design_id)
        document, version, taken = before.document, before.number, 0
        while not reads(document):
            with self.engine.connect() as connection:
                edit = to_undo(connection, design_id, after=taken)
            if edit is None:
                raise NothingToUndo
            document, _ = apply_with_inverse(document, edit.inverse)
            taken += 1
        for _ in range(taken):
            version = self.undo(design_id, version).version
        return self.get(design_id)

    def _newest_of(self, connection: Connection, design_id: str) -> Version:
        """A design with its newest version: as seen last, or read in one look. Raises NotOnShelf."""
        seen = self._newest.get(design_id)
        if seen is not None and number_of(connection, design_id) == seen.number:
            return seen
        newest = read_version(connection, design_id)
        if newest is None:
            raise NotOnShelf(design_id)
        self._keep(newest)
        return newest

    def _keep(self, version: Version) -> None:
        with self._keeping:
            self._newest[version.design_id] = version
            self._newest.move_to_end(version.design_id)
            while len(self._newest) > _KEPT:
                self._newest.popitem(last=False)

    @staticmethod
    def _stored(connection: Connection, version: Version) -> StoredDesign:
        labels = labels_of(connection, version.design_id)
        return StoredDesign(version.design_id, version.number, dict(version.document), *labels)
